"""A tree of branches laid flat on a board at full size: 45 and 90° only, nothing over another.

Branches are laid one after another, each where it makes the used board grow least; a branch that
meets an edge or another one is folded. Several orders are tried from a fixed seed and the smallest
board is kept: the same input gives the same picture.
"""

import math
import random
from collections.abc import Iterator, Mapping, Sequence
from functools import lru_cache
from itertools import pairwise
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.workshop.harness.grid import CELL_MM, COURSES, MARGIN_MM, Cells, Grid, Point
from vivid_loom.workshop.harness.limb import Limb, Note
from vivid_loom.workshop.harness.stems import joined, with_stems

__all__ = [
    "BoardPlan",
    "LaidBlock",
    "LaidBranch",
    "NoBoardError",
    "Point",
    "lay_out",
]

Box = tuple[float, float, float, float]
Floats = NDArray[np.float64]

CLEAR_MM: Final = 36.0  # between what is laid side by side
KEPT_MM: Final = (0.0, 120.0, 180.0, 220.0, 250.0)  # around a node that so many branches leave
NEARBY_MM: Final = 700.0  # what is taken up lies so near
CROSSED: Final = 1e8  # what a leader over something costs; only where there is no other seat
SEATED: Final = 6  # ways of laying a branch beside whose end its note is tried
MOVED: Final = 0.15  # how often the branch that a limb hangs on is taken up instead
PATIENCE: Final = 28  # limbs taken up and laid again
TRIES: Final = 14  # orders tried on a board
ENOUGH, SOON = 3, 6  # so many plans are compared, while no more than so many were tried
SEED: Final = 86
GROWN: Final = (1.0, 1.3, 1.7, 2.3, 3.2, 4.5, 7.0, 12.0)  # of the board, where it is too small
LANE_MM: Final = 90.0  # between the folds of one branch, and least length of a fold
FOLDS: Final = (1.0, 1.0, 0.75, 0.5, 0.25)  # shares of the free way after which a branch turns
TURNS: Final = (2, -2, 2, -2, 1, -1)  # eighths
FOLDED: Final = (5, 30)  # ways tried on each course, and more where none of them fits
MOST_FOLDS: Final = 6
FULL: Final = 0.45  # of a board: where more is needed, trying is in vain


class NoBoardError(ValueError):
    """A harness that fits on no board a shop could have."""


class LaidBranch(NamedTuple):
    """A limb on the board: its corners, the first at its near node."""

    id: str
    points: tuple[Point, ...]

    @property
    def length_mm(self) -> float:
        """Length along its corners."""
        return sum(math.dist(a, b) for a, b in pairwise(self.points))


class LaidBlock(NamedTuple):
    """A note on the board, and the point that it tells about."""

    id: str
    x: float
    y: float
    width_mm: float
    height_mm: float
    about: Point


class BoardPlan(NamedTuple):
    """Everything of one harness on its board; x to the right, y down, in mm.

    Attributes:
        width_mm, height_mm: of the board that is needed: the one asked for where it is enough.
        used: left, top, right, bottom of what is laid.
    """

    width_mm: float
    height_mm: float
    branches: tuple[LaidBranch, ...]
    blocks: tuple[LaidBlock, ...]
    nodes: dict[str, Point]
    used: Box

    @property
    def used_m2(self) -> float:
        """Area of the smallest upright rectangle around all of it."""
        left, top, right, bottom = self.used
        return (right - left) * (bottom - top) / 1e6


class _NoRoomError(Exception):
    """A limb, or the note of one, fits nowhere any more."""

    def __init__(self, limb: str) -> None:
        super().__init__(limb)
        self.limb = limb


def _ahead_of(start: Point, course: int, length_mm: float) -> Point:
    """Return the point so far ahead on a course."""
    dx, dy = COURSES[course]
    return start[0] + dx * length_mm, start[1] + dy * length_mm


def _course(points: Sequence[Point]) -> int:
    """Return which of the eight ways the last stretch goes."""
    (ax, ay), (bx, by) = points[-2], points[-1]
    return round(math.atan2(by - ay, bx - ax) / (math.pi / 4)) % 8


def _apart_mm(x: Floats, y: Floats, stretches: Sequence[tuple[Point, Point]]) -> Floats:
    """Return how far points are from the nearest of some stretches, shape (n,)."""
    best = np.full(len(x), np.inf)
    for (ax, ay), (bx, by) in stretches:
        dx, dy = bx - ax, by - ay
        t = np.clip(((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy), 0.0, 1.0)
        best = np.minimum(best, np.hypot(x - ax - t * dx, y - ay - t * dy))
    return best


class _Laid(NamedTuple):
    """A limb where it lies, and the cells that it takes."""

    limb: Limb
    points: tuple[Point, ...]
    cells: Cells
    block: LaidBlock | None


class _Layer:
    """Lays limbs on a board in one order; what is in the way is taken up and laid again."""

    def __init__(
        self, board: Grid, limbs: Sequence[Limb], root: str, at: Point, chance: random.Random
    ) -> None:
        self.board, self.chance, self.root = board, chance, root
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
            _NoRoomError: something finds no room, however often others are laid again.
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
                raise _NoRoomError(limb.id)
            urgent = [limb.id, *urgent[:3]]
        for limb in self.limbs:
            if limb.side_note:
                spots = _along(self.laid[limb.id].points)
                block = self._seat(limb.side_note, spots, self.box, None)
                if block is None:
                    raise _NoRoomError(limb.id)
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
            for points in self._ways(limb, near, course, ways):
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

    def _ways(self, limb: Limb, near: Point, course: int, ways: int) -> Iterator[list[Point]]:
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


def _tried(
    limbs: Sequence[Limb],
    root: str,
    size: Point,
    chance: random.Random,
    ahead: Mapping[str, float],
) -> _Layer:
    """Lay all limbs once, from somewhere on the board.

    Raises:
        _NoRoomError: one finds no room.
    """
    width, height = size
    at = (
        chance.uniform(0.1, 0.9) * (width - 2 * MARGIN_MM) + MARGIN_MM,
        chance.uniform(0.35, 0.65) * (height - 2 * MARGIN_MM) + MARGIN_MM,
    )
    layer = _Layer(Grid(width, height), limbs, root, at, chance)
    layer.lay_all(ahead)
    return layer


def _needed_mm2(limb: Limb) -> float:
    """Return what a limb takes of a board with its notes and what is kept clear."""
    notes = [note for note in (limb.end_note, limb.side_note) if note]
    words = sum((n.width_mm + 2 * CELL_MM) * (n.height_mm + 2 * CELL_MM) for n in notes)
    return limb.length_mm * 2 * CLEAR_MM + words


def _ahead(limbs: Sequence[Limb]) -> dict[str, float]:
    """Return how much hangs on each limb: its own length, its note, and all behind it."""
    found: dict[str, float] = {}
    behind: dict[str, float] = {}
    for limb in reversed(limbs):
        note = limb.end_note
        own = limb.length_mm + (note.width_mm + note.height_mm if note else 0.0)
        found[limb.id] = own + behind.get(limb.far, 0.0)
        behind[limb.near] = behind.get(limb.near, 0.0) + found[limb.id]
    return found


@lru_cache(maxsize=64)
def lay_out(limbs: tuple[Limb, ...], root: str, size_mm: Point) -> BoardPlan:
    """Return a harness laid out flat at full size.

    Of more than eight that leave one node some go along a stem first: their corners begin with it.

    Args:
        limbs: each after the one it hangs on.
        root: the node that the first limbs leave.
        size_mm: width and height of the board; where nothing fits on it, a larger one is taken.

    Raises:
        NoBoardError: it does not fit on a board twelve times as large.
    """
    asked = limbs
    limbs, stems = with_stems(asked, root)
    needed = sum(map(_needed_mm2, limbs))
    for grown in GROWN:
        if needed > FULL * grown * size_mm[0] * size_mm[1] and grown < GROWN[-1]:
            continue
        size = (size_mm[0] * math.sqrt(grown), size_mm[1] * math.sqrt(grown))
        done: list[tuple[float, int, _Layer]] = []
        ahead = _ahead(limbs)
        for turn in range(TRIES):
            if len(done) == ENOUGH or (done and turn >= SOON):
                break
            try:
                layer = _tried(limbs, root, size, random.Random(SEED + turn), ahead)
            except _NoRoomError as error:
                ahead[error.limb] *= 1.15  # its turn comes earlier from now on
                continue
            left, top, right, low = layer.box
            done.append(((right - left) * (low - top), turn, layer))
        if done:
            layer = min(done)[2]
            points = {name: laid.points for name, laid in layer.laid.items()}
            laid = (LaidBranch(limb.id, joined(limb.id, points, stems)) for limb in asked)
            board = size if grown > 1.0 else size_mm
            return BoardPlan(*board, tuple(laid), tuple(layer.all_blocks), layer.nodes, layer.box)
    metres = sum(limb.length_mm for limb in limbs) / 1000
    raise NoBoardError(f"found {metres:.0f} m of branches, more than a board takes")
