"""Heavy conductors that pass from one harness into the next uncut, through a gland each."""

from itertools import pairwise
from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import End, Wire

__all__ = ["PassesWhole", "crimped_aboard", "passing_whole"]


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


def crimped_aboard(draft: Draft) -> dict[str, End]:
    """Return the end of each such wire that lies in another harness, by the wire's id.

    No lug passes a gland: it is crimped when the wire lies.
    """
    runs = draft.aboard.boat.runs_by_id
    found: dict[str, End] = {}
    for wire in dict.fromkeys(passing.wire for passing in passing_whole(draft)):
        is_last = runs[wire.runs[-1]].harness != wire.harness
        found[wire.id] = wire.end if is_last else wire.start
    return found
