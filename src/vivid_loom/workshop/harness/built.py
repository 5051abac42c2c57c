"""Which wires of a draft are finished on the bench, and what a revision changes about those."""

from collections.abc import Iterator
from typing import Literal, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import End, Wire
from vivid_loom.order import Tick

__all__ = ["BoardChange", "board_changes", "lying_wires", "tick_of", "ticked_wires"]


class BoardChange(NamedTuple):
    """A wire that was ticked as built and is asked for otherwise since.

    Attributes:
        kind: it is 'pull out', or 'make anew' where gauge, colour or length are others, or 'land
            anew' where only an end is.
        was: as it was ticked.
        now: as it is asked for; None where it is not.
    """

    kind: Literal["pull out", "make anew", "land anew"]
    was: Tick
    now: Wire | None


def _end(end: End) -> str:
    return f"{end.words}, {end.termination.kind}"


def tick_of(wire: Wire, by: str = "", date: str = "") -> Tick:
    """Return what a tick of a wire says.

    Args:
        by, date: who has built it, and on what day.
    """
    return Tick(
        wire=wire.id,
        gauge=str(wire.gauge),
        colour=str(wire.colour),
        cut_mm=wire.cut_mm,
        start=_end(wire.start),
        end=_end(wire.end),
        harness=wire.harness,
        by=by,
        date=date,
    )


def _still(tick: Tick, wire: Wire) -> bool:
    """Tell whether a wire is asked for as it was ticked; an old tick knows nothing of ends."""
    now = tick_of(wire)
    ends = not tick.start or (tick.start, tick.end) == (now.start, now.end)
    return tick.conductor == now.conductor and ends


def lying_wires(draft: Draft) -> frozenset[str]:
    """Return wires that lay in the boat before this order, and stay; none of a new boat."""
    order = draft.aboard.order
    if not order.based_on:
        return frozenset()
    return frozenset(w for w, lies in draft.reuse.kept.items() if lies.made_in != order.hull)


def ticked_wires(draft: Draft) -> frozenset[str]:
    """Return wires ticked as built and still asked for as they were built."""
    ticks = {tick.wire: tick for tick in draft.aboard.order.ticks}
    if not ticks:  # asked for at every edit
        return frozenset()
    wires = draft.assembled.wires
    return frozenset(w.id for w in wires if w.id in ticks and _still(ticks[w.id], w))


def board_changes(draft: Draft) -> tuple[BoardChange, ...]:
    """Return what a revision changes about wires that are ticked, in the order of their ids."""
    return tuple(_changes(draft))


def _changes(draft: Draft) -> Iterator[BoardChange]:
    wires = {wire.id: wire for wire in draft.assembled.wires}
    for tick in sorted(draft.aboard.order.ticks, key=lambda tick: tick.wire):
        wire = wires.get(tick.wire)
        if wire is None:
            yield BoardChange("pull out", tick, None)
        elif not _still(tick, wire):
            alike = tick.conductor == tick_of(wire).conductor
            yield BoardChange("land anew" if alike else "make anew", tick, wire)
