"""More branches at a node than there are ways to leave it: some leave a little further on.

A board has eight ways to leave a point. What is one too many goes along a short stem with others,
and parts from them at its end: so does the loom.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from typing import Final, TypeVar

from vivid_loom.workshop.harness.limb import Limb

__all__ = ["STEM_MM", "joined", "with_stems"]

WAYS: Final = 8
FILLED: Final = 6
"""So many leave a node that has more than its ways: all eight are hardly ever free."""

STEM_MM: Final = 400.0
"""A stem, by which its end is clear of what leaves the node itself; our choice."""

SPARE_MM: Final = 60.0  # a branch goes on so far at least
P = TypeVar("P")


def with_stems(limbs: Sequence[Limb], root: str) -> tuple[tuple[Limb, ...], dict[str, str]]:
    """Return limbs of which no more leave a node than it has ways, and the stem of each moved one.

    The longest move: they have most to spare. Where too few are long enough all stay.
    """
    leaving: dict[str, list[Limb]] = defaultdict(list)
    for limb in limbs:
        leaving[limb.near].append(limb)
    found: dict[str, Limb] = {limb.id: limb for limb in limbs}
    stems: dict[str, str] = {}
    for node, here in leaving.items():
        slots = FILLED - (node != root)
        if len(here) + (node != root) <= WAYS:
            continue
        count = min(slots, -(-(len(here) - slots) // (FILLED - 2)))
        movable = [x for x in here if not x.straight and x.length_mm > STEM_MM + SPARE_MM]
        movable.sort(key=lambda limb: -limb.length_mm)
        moved = movable[: len(here) - slots + count]
        for turn in range(count):
            group = moved[turn::count]
            name = f"{node} stem {turn + 1}"
            found[name] = Limb(name, node, name, STEM_MM, straight=True)
            for limb in group:
                found[limb.id] = limb._replace(near=name, length_mm=limb.length_mm - STEM_MM)
                stems[limb.id] = name
    return (_in_order(found.values(), root) if stems else tuple(limbs)), stems


def _in_order(limbs: Iterable[Limb], root: str) -> tuple[Limb, ...]:
    """Return limbs each after the one it hangs on."""
    beside: dict[str, list[Limb]] = defaultdict(list)
    for limb in limbs:
        beside[limb.near].append(limb)
    found: list[Limb] = []
    waiting = [root]
    while waiting:
        here = beside[waiting.pop(0)]
        found += here
        waiting += [limb.far for limb in here]
    return tuple(found)


def joined(
    name: str, points: Mapping[str, tuple[P, ...]], stems: Mapping[str, str]
) -> tuple[P, ...]:
    """Return a limb's corners with those of the stem it came along."""
    if name not in stems:
        return points[name]
    return (*points[stems[name]], *points[name][1:])
