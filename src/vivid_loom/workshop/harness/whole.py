"""Heavy conductors that pass from one harness into the next uncut, through a gland each."""

from itertools import pairwise
from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import Wire

__all__ = ["PassesWhole", "passing_whole"]


class PassesWhole(NamedTuple):
    """A wire at a border that it passes uncut: assemblies on both sides by id."""

    wire: Wire
    station: str
    between: tuple[str, str]


def passing_whole(draft: Draft) -> tuple[PassesWhole, ...]:
    """Return every wire at every border that it passes uncut."""
    runs = draft.aboard.boat.runs_by_id
    found: list[PassesWhole] = []
    for wire in draft.assembled.wires:
        inside = (runs[name].harness for name in wire.runs)
        for station, (before, after) in zip(wire.stations[1:], pairwise(inside), strict=False):
            if before != after:
                found.append(PassesWhole(wire, station, (before, after)))
    return tuple(found)
