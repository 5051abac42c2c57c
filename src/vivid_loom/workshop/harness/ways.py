"""The ways in which one branch may lie on a form board: straight, or folded past what is there."""

import random
from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import Final

import numpy as np
from numpy.typing import NDArray

from vivid_loom.workshop.harness.grid import COURSES, MARGIN_MM, Grid, Point
from vivid_loom.workshop.harness.limb import Limb

__all__ = ["CLEAR_MM", "FOLDED", "Ways"]

Floats = NDArray[np.float64]

CLEAR_MM: Final = 36.0  # between what is laid side by side
LANE_MM: Final = 90.0  # between the folds of one branch, and least length of a fold
FOLDS: Final = (1.0, 1.0, 0.75, 0.5, 0.25)  # shares of the free way after which a branch turns
TURNS: Final = (2, -2, 2, -2, 1, -1)  # eighths
FOLDED: Final = (5, 30)  # ways tried on each course, and more where none of them fits
MOST_FOLDS: Final = 6


class Ways:
    """Looks for ways on a board as it is laid out now, some of them by chance."""

    def __init__(self, board: Grid, chance: random.Random) -> None:
        self.board, self.chance = board, chance

    def of(self, limb: Limb, near: Point, course: int, ways: int) -> Iterator[list[Point]]:
        """Yield ways to lay a limb that sets out on a course: straight, then folded by chance."""
        free = self._free_mm(near, course, limb.length_mm, min(limb.length_mm, 2 * CLEAR_MM), ())
        if free >= limb.length_mm:
            yield [near, _ahead_of(near, course, limb.length_mm)]
        if limb.straight or limb.length_mm < 4 * LANE_MM:
            return
        for _ in range(ways):
            folded = self._folded(limb.length_mm, near, course, free)
            if folded:
                yield folded

    def _folded(
        self, length_mm: float, near: Point, course: int, free_mm: float
    ) -> list[Point] | None:
        """Return a way that turns before what stops it; None where it came to nothing."""
        points, left = [near], length_mm
        for _ in range(MOST_FOLDS):
            go = min(free_mm, left) * FOLDS[int(self.chance.random() * len(FOLDS))]
            if go < LANE_MM or left - go < LANE_MM:
                return None
            points.append(_ahead_of(points[-1], course, go))
            left -= go
            course = (course + TURNS[int(self.chance.random() * len(TURNS))]) % 8
            own = [*pairwise(points)][:-1]
            free_mm = self._free_mm(points[-1], course, left, 0.0, own)
            if free_mm >= left:
                return [*points, _ahead_of(points[-1], course, left)]
        return None

    def _free_mm(
        self,
        start: Point,
        course: int,
        length_mm: float,
        skip_mm: float,
        own: Sequence[tuple[Point, Point]],
    ) -> float:
        """Return how far a branch may go on a course before it meets something, or the edge.

        Args:
            skip_mm: in which it may pass what leaves the same node.
            own: earlier stretches of the same branch.
        """
        board = self.board
        dx, dy = COURSES[course]
        for at, d, size in ((start[0], dx, board.width), (start[1], dy, board.height)):
            if d:
                edge = (size - MARGIN_MM - at if d > 0 else at - MARGIN_MM) / abs(d)
                length_mm = min(length_mm, max(0.0, edge))
        if length_mm <= skip_mm:
            return length_mm
        free = board.free_mm(start, course, length_mm, skip_mm)
        if own and free >= LANE_MM:
            t = np.arange(LANE_MM * 0.5, free, LANE_MM * 0.5)
            near = _apart_mm(start[0] + t * dx, start[1] + t * dy, own) < LANE_MM
            if near.any():
                return max(0.0, float(t[int(near.argmax())]) - LANE_MM)
        return free


def _ahead_of(start: Point, course: int, length_mm: float) -> Point:
    """Return the point so far ahead on a course."""
    dx, dy = COURSES[course]
    return start[0] + dx * length_mm, start[1] + dy * length_mm


def _apart_mm(x: Floats, y: Floats, stretches: Sequence[tuple[Point, Point]]) -> Floats:
    """Return how far points are from the nearest of some stretches, shape (n,)."""
    best = np.full(len(x), np.inf)
    for (ax, ay), (bx, by) in stretches:
        dx, dy = bx - ax, by - ay
        t = np.clip(((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy), 0.0, 1.0)
        best = np.minimum(best, np.hypot(x - ax - t * dx, y - ay - t * dy))
    return best
