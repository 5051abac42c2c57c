"""Wires of one kind cut to a few common lengths, with the least extra wire."""

import dataclasses
from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping
from typing import NamedTuple

from vivid_loom.drafting.making.wire import Wire
from vivid_loom.order import Profile

__all__ = ["Batch", "Common", "batch_of", "common_lengths", "in_few_lengths"]


Batch = tuple[object, ...]
"""What wires are cut together for."""


class Common(NamedTuple):
    """Lengths that take the place of others.

    Attributes:
        instead: the length that each length is cut to.
        extra_mm: what that costs in all.
    """

    instead: dict[float, float]
    extra_mm: float


def common_lengths(counts: Mapping[float, int], most: int) -> Common:
    """Return at most so many lengths that serve for all, none shorter than asked.

    Sorted lengths fall into runs of neighbours, each cut to its longest; which runs, dynamic
    programming finds exactly.

    Args:
        counts: how many wires of each length in mm.
        most: how many different lengths there may be.

    Raises:
        ValueError: ``most`` below one.
    """
    if most < 1:
        raise ValueError(f"found {most} lengths, expected at least one")
    lengths = sorted(counts)
    if not lengths:
        return Common({}, 0.0)
    # least[k][j]: extra for the first j lengths in k runs, and where the last run begins
    least: list[list[tuple[float, int]]] = [[(0.0, 0)] + [(float("inf"), 0)] * len(lengths)]
    for k in range(1, most + 1):
        row = [(0.0, 0)]
        for j in range(1, len(lengths) + 1):
            extra, best = 0.0, (float("inf"), 0)
            for i in range(j - 1, -1, -1):
                extra += counts[lengths[i]] * (lengths[j - 1] - lengths[i])
                best = min(best, (least[k - 1][i][0] + extra, i))
            row.append(best)
        least.append(row)
    instead: dict[float, float] = {}
    j = len(lengths)
    for k in range(most, 0, -1):
        i = least[k][j][1]
        instead.update({lengths[m]: lengths[j - 1] for m in range(i, j)})
        j = i
    return Common(dict(sorted(instead.items())), least[most][len(lengths)][0])


def in_few_lengths(wires: Iterable[Wire], profile: Profile) -> tuple[Wire, ...]:
    """Return the wires, those of one batch cut to no more lengths than the profile has."""
    every = tuple(wires)
    if not (profile.jumper_lengths or profile.feed_lengths):
        return every
    kinds: dict[tuple[Batch, int], Counter[float]] = defaultdict(Counter)
    for wire in every:
        batch, most = batch_of(wire, profile)
        if most:
            kinds[batch, most][wire.cut_mm] += 1
    common = {key: common_lengths(counts, key[1]).instead for key, counts in kinds.items()}

    def cut(wire: Wire) -> Wire:
        batch, most = batch_of(wire, profile)
        cut_mm = common[batch, most][wire.cut_mm] if most else wire.cut_mm
        return wire if cut_mm == wire.cut_mm else dataclasses.replace(wire, cut_mm=cut_mm)

    return tuple(map(cut, every))


def batch_of(wire: Wire, profile: Profile) -> tuple[Batch, int]:
    """Return what a wire is cut together with, and in how many lengths; 0 for each its own.

    Jumpers go by gauge and colour; what leads to a panel's tabs by gauge and harness: it is cut at
    one setting of the machine, colour by colour.
    """
    if wire.jumper:
        return ("jumper", wire.gauge, wire.colour), profile.jumper_lengths
    if "tab" in (wire.start.kind, wire.end.kind) and not wire.cable:
        return ("feed", wire.gauge, wire.harness), profile.feed_lengths
    return (), 0
