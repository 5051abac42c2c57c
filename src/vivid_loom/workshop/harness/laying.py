"""Branches laid on a form board one after another, each where it makes what is used grow least.

What is in the way is taken up and laid again.
"""

import math
import random
from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise
from typing import Final, NamedTuple

import numpy as np

from vivid_loom.workshop.harness.grid import CELL_MM, Cells, Grid, Point
from vivid_loom.workshop.harness.limb import Limb, Note
from vivid_loom.workshop.harness.ways import CLEAR_MM, FOLDED, Ways

__all__ = ["Box", "LaidBlock", "Laying", "NoRoomError"]

Box = tuple[float, float, float, float]

KEPT_MM: Final = (0.0, 120.0, 180.0, 220.0, 250.0)  # around a node that so many branches leave
NEARBY_MM: Final = 700.0  # what is taken up lies so near
CROSSED: Final = 1e8  # what a leader over something costs; only where there is no other seat
SEATED: Final = 6  # ways of laying a branch beside whose end its note is tried
MOVED: Final = 0.15  # how often the branch that a limb hangs on is taken up instead
PATIENCE: Final = 28  # limbs taken up and laid again


class LaidBlock(NamedTuple):
    """A note on the board, and the point that it tells about."""

    id: str
    x: float
    y: float
    width_mm: float
    height_mm: float
    about: Point


class NoRoomError(Exception):
    """A limb, or the note of one, fits nowhere any more."""

    def __init__(self, limb: str) -> None:
        super().__init__(limb)
        self.limb = limb


def _course(points: Sequence[Point]) -> int:
    """Return which of the eight ways the last stretch goes."""
    (ax, ay), (bx, by) = points[-2], points[-1]
    return round(math.atan2(by - ay, bx - ax) / (math.pi / 4)) % 8


class _Laid(NamedTuple):
    """A limb where it lies, and the cells that it takes."""

    limb: Limb
    points: tuple[Point, ...]
    cells: Cells
    block: LaidBlock | None


class Laying:
    """Lays limbs on a board in one order; what is in the way is taken up and laid again."""

    def __init__(
        self, board: Grid, limbs: Sequence[Limb], root: str, at: Point, chance: random.Random
    ) -> None:
        self.board, self.chance, self.root = board, chance, root
        self.ways = Ways(board, chance)
        self.limbs = limbs
        self.beside: dict[str, list[Limb]] = {}
        for limb in limbs:
            self.beside.setdefault(limb.near, []).append(limb)
        self.tight = chance.choice((0.3, 1.0, 1.0))
        self.laid: dict[str, _Laid] = {}
        self.nodes: dict[str, Point] = {root: at}
        self.arrives: dict[str, Limb] = {limb.far: limb for limb in limbs}
        self.blocks: list[LaidBlock] = []

    def lay_all(self, ahead: Mapping[str, float]) -> None:
        """Lay every limb, those with most ahead of them first, then their notes.

        Raises:
            NoRoomError: something finds no room, however often others are laid again.
        """
        patience = PATIENCE
        urgent: list[str] = []
        while len(self.laid) < len(self.limbs):
            ready = [x for x in self.limbs if x.near in self.nodes and x.id not in self.laid]
            asked = [x for x in ready if x.id in urgent]
            weight = self.chance.uniform
            limb = max(asked or ready, key=lambda x: ahead[x.id] * weight(0.5, 1.0))
            laid = self._best(limb, self.nodes[limb.near])
            if laid is not None:
                self.board.taken[laid.cells] += 1
                self.laid[limb.id] = laid
                self.nodes[limb.far] = laid.points[-1]
                continue
            patience -= 1
            if patience < 0 or not self._make_room(limb):
                raise NoRoomError(limb.id)
            urgent = [limb.id, *urgent[:3]]
        for limb in self.limbs:
            if limb.side_note:
                spots = _along(self.laid[limb.id].points)
                block = self._seat(limb.side_note, spots, self.box, None)
                if block is None:
                    raise NoRoomError(limb.id)
                self.board.taken[self._under(block)] += 1
                self.blocks.append(block)

    def _make_room(self, limb: Limb) -> bool:
        """Take up a limb near where another must begin, or the one it hangs on, and all behind."""
        ancestors: list[Limb] = []
        node = limb.near
        while node in self.arrives:
            ancestors.append(self.arrives[node])
            node = self.arrives[node].near
        if ancestors and self.chance.random() < MOVED:
            self._take_up(ancestors[0])
            return True
        here = np.zeros(len(self.board.taken), dtype=bool)
        here[self.board.around(self.nodes[limb.near], NEARBY_MM)] = True
        near = [
            laid.limb
            for laid in self.laid.values()
            if laid.limb not in ancestors and here[laid.cells].any()
        ]
        if not near:
            return False
        self._take_up(self.chance.choice(near))
        return True

    def _take_up(self, limb: Limb) -> None:
        laid = self.laid.pop(limb.id, None)
        if laid is None:
            return
        self.board.taken[laid.cells] -= 1
        for behind in self.beside.get(limb.far, ()):
            self._take_up(behind)
        del self.nodes[limb.far]

    def _courses(self, node: str) -> list[int]:
        """Return the courses on which a node is left already, or reached."""
        found = [
            _course(self.laid[limb.id].points[:2])
            for limb in self.beside.get(node, ())
            if limb.id in self.laid
        ]
        if node in self.arrives:
            found.append((_course(self.laid[self.arrives[node].id].points) + 4) % 8)
        return found

    def _best(self, limb: Limb, near: Point) -> _Laid | None:
        """Return a limb with its note where the board grows least; None where it fits nowhere."""
        taken = self._courses(limb.near)
        leave = len(self.beside.get(limb.far, ()))
        room_mm = KEPT_MM[min(leave, len(KEPT_MM) - 1)]
        box = self.box
        found: list[tuple[float, list[Point]]] = []
        courses = [course for course in range(8) if course not in taken]
        for course, ways in ((c, n) for n in FOLDED for c in courses):
            if found and ways > FOLDED[0]:
                break
            sharp = any((course - other) % 8 in (1, 7) for other in taken)
            for points in self.ways.of(limb, near, course, ways):
                if leave and not self.board.is_free_around(points[-1], room_mm):
                    continue
                cost = self.tight * _growth(box, points) * (0.8 + 0.4 * self.chance.random())
                cost += 12_000.0 * (len(points) - 2) + 15_000.0 * sharp
                cost += 30.0 * limb.length_mm * (course % 2)  # slanting ones cut the board up
                found.append((cost, points))
        for _, points in sorted(found)[:SEATED]:
            cells = self.board.spread(self.board.along(points), CLEAR_MM)
            if limb.end_note is None:
                return _Laid(limb, tuple(points), cells, None)
            block = self._seat(limb.end_note, points[-1:], box, cells)
            if block:
                both = self.board.each_once(cells, self._under(block))
                return _Laid(limb, tuple(points), both, block)
        return None

    @property
    def all_blocks(self) -> list[LaidBlock]:
        """Notes at the ends of limbs, then those beside them."""
        return [laid.block for laid in self.laid.values() if laid.block] + self.blocks

    @property
    def box(self) -> Box:
        """The smallest upright rectangle around what is laid: left, top, right, bottom."""
        points = [p for laid in self.laid.values() for p in laid.points] or [self.nodes[self.root]]
        xs, ys = [x for x, _ in points], [y for _, y in points]
        blocks = self.all_blocks
        xs += [x for b in blocks for x in (b.x, b.x + b.width_mm)]
        ys += [y for b in blocks for y in (b.y, b.y + b.height_mm)]
        return min(xs), min(ys), max(xs), max(ys)

    def _seat(
        self, note: Note, spots: Sequence[Point], box: Box, own: Cells | None
    ) -> LaidBlock | None:
        """Return a note beside one of some points, where it costs least; None where nowhere.

        Args:
            own: cells of the branch that it ends, if that is not laid yet.
        """
        board = self.board
        best: tuple[float, LaidBlock] | None = None
        if own is not None:
            board.taken[own] += 1
        for about in spots:
            for x, y, away in _seats(note, about):
                right, low = x + note.width_mm, y + note.height_mm
                if not (board.inside(x, y) and board.inside(right, low)):
                    continue
                cost = self.tight * _growth(box, [(x, y), (right, low)]) + 400.0 * away
                if best is not None and cost >= best[0]:
                    continue
                if not board.is_free_under(x, y, note.width_mm, note.height_mm):
                    continue
                at = min(max(about[0], x), right), min(max(about[1], y), low)
                if not board.is_free(board.along([about, at], CLEAR_MM + 2 * CELL_MM)):
                    cost += CROSSED  # its leader would cross something
                    if own is not None or (best is not None and cost >= best[0]):
                        continue
                best = cost, LaidBlock(note.id, x, y, note.width_mm, note.height_mm, about)
        if own is not None:
            board.taken[own] -= 1
        return best[1] if best else None

    def _under(self, block: LaidBlock) -> Cells:
        """Return the cells that a block takes, with what is kept clear of it."""
        inside = self.board.under(block.x, block.y, block.width_mm, block.height_mm)
        return self.board.spread(inside, CELL_MM)


def _growth(box: Box, points: Sequence[Point]) -> float:
    """Return by how much a box would grow around some points, in mm²."""
    xs, ys = zip(*points, strict=True)
    left, top, right, low = min(box[0], *xs), min(box[1], *ys), max(box[2], *xs), max(box[3], *ys)
    return float((right - left) * (low - top) - (box[2] - box[0]) * (box[3] - box[1]))


def _along(points: Sequence[Point]) -> list[Point]:
    """Return points along a polyline beside which its note may stand."""
    return [
        (a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1]))
        for a, b in pairwise(points)
        for share in (0.5, 0.25, 0.75, 0.1, 0.9)
    ]


NEAR_MM: Final = CLEAR_MM + CELL_MM
AWAY_MM: Final = (0.0, 40.0, 110.0, 220.0, 400.0, 700.0, 1100.0, 1700.0)


def _seats(note: Note, about: Point) -> Iterator[tuple[float, float, float]]:
    """Yield (left, top, how far away) of places for a note, the nearest first."""
    w, h = note.width_mm, note.height_mm
    x, y = about
    for away in AWAY_MM:
        gap = NEAR_MM + away
        for across, down in (
            (gap, -h / 2),
            (-gap - w, -h / 2),
            (-w / 2, gap),
            (-w / 2, -gap - h),
            (gap, gap),
            (-gap - w, gap),
            (gap, -gap - h),
            (-gap - w, -gap - h),
        ):
            yield x + across, y + down, gap
