"""Which wires of a draft are finished on the bench."""

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.order import Tick

__all__ = ["lying_wires", "tick_of", "ticked_wires"]


def tick_of(wire: Wire) -> Tick:
    """Return what a tick of a wire says."""
    return Tick(wire=wire.id, gauge=str(wire.gauge), colour=str(wire.colour), cut_mm=wire.cut_mm)


def lying_wires(draft: Draft) -> frozenset[str]:
    """Return wires that lay in the boat before this order, and stay; none of a new boat."""
    order = draft.aboard.order
    if not order.based_on:
        return frozenset()
    return frozenset(w for w, lies in draft.reuse.kept.items() if lies.made_in != order.hull)


def ticked_wires(draft: Draft) -> frozenset[str]:
    """Return wires ticked as built and still asked for as they were built."""
    ticks = set(draft.aboard.order.ticks)
    if not ticks:  # asked for at every edit
        return frozenset()
    return frozenset(wire.id for wire in draft.assembled.wires if tick_of(wire) in ticks)
