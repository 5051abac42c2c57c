"""A tree of branches laid flat on a board at full size: 45 and 90° only, nothing over another.

Branches are laid one after another, each where it makes the used board grow least; a branch that
meets an edge or another one is folded. Several orders are tried from a fixed seed and the smallest
board is kept: the same input gives the same picture.
"""

import math
import random
from collections.abc import Mapping, Sequence
from functools import lru_cache
from itertools import pairwise
from typing import Final, NamedTuple

from vivid_loom.workshop.harness.grid import CELL_MM, MARGIN_MM, Grid, Point
from vivid_loom.workshop.harness.laying import Box, LaidBlock, Laying, NoRoomError
from vivid_loom.workshop.harness.limb import Limb
from vivid_loom.workshop.harness.stems import joined, with_stems
from vivid_loom.workshop.harness.ways import CLEAR_MM

__all__ = [
    "BoardPlan",
    "LaidBlock",
    "LaidBranch",
    "NoBoardError",
    "Point",
    "lay_out",
]

TRIES: Final = 14  # orders tried on a board
ENOUGH, SOON = 3, 6  # so many plans are compared, while no more than so many were tried
SEED: Final = 86
GROWN: Final = (1.0, 1.3, 1.7, 2.3, 3.2, 4.5, 7.0, 12.0)  # of the board, where it is too small
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


def _tried(
    limbs: Sequence[Limb],
    root: str,
    size: Point,
    chance: random.Random,
    ahead: Mapping[str, float],
) -> Laying:
    """Lay all limbs once, from somewhere on the board.

    Raises:
        NoRoomError: one finds no room.
    """
    width, height = size
    at = (
        chance.uniform(0.1, 0.9) * (width - 2 * MARGIN_MM) + MARGIN_MM,
        chance.uniform(0.35, 0.65) * (height - 2 * MARGIN_MM) + MARGIN_MM,
    )
    laying = Laying(Grid(width, height), limbs, root, at, chance)
    laying.lay_all(ahead)
    return laying


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
        done: list[tuple[float, int, Laying]] = []
        ahead = _ahead(limbs)
        for turn in range(TRIES):
            if len(done) == ENOUGH or (done and turn >= SOON):
                break
            try:
                laying = _tried(limbs, root, size, random.Random(SEED + turn), ahead)
            except NoRoomError as error:
                ahead[error.limb] *= 1.15  # its turn comes earlier from now on
                continue
            left, top, right, low = laying.box
            done.append(((right - left) * (low - top), turn, laying))
        if done:
            laying = min(done)[2]
            points = {name: laid.points for name, laid in laying.laid.items()}
            laid = (LaidBranch(limb.id, joined(limb.id, points, stems)) for limb in asked)
            board = size if grown > 1.0 else size_mm
            return BoardPlan(
                *board, tuple(laid), tuple(laying.all_blocks), laying.nodes, laying.box
            )
    metres = sum(limb.length_mm for limb in limbs) / 1000
    raise NoBoardError(f"found {metres:.0f} m of branches, more than a board takes")
