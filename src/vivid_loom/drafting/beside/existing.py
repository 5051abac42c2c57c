"""What of a built boat can stay: drafted wires matched to the conductors that lie in it."""

from typing import NamedTuple

from vivid_loom.drafting.making.assemble import Assembled
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.order import BuiltWire, Order

__all__ = ["Reuse", "built_wires", "reuse"]


class Reuse(NamedTuple):
    """Wires of a change order against what lies in the boat.

    Attributes:
        kept: drafted wire id → conductor that already lies there and fits.
        comes_off: conductors that the draft has no use for.
        unknown: conductors of which a survey does not know gauge or colour: they stay where they
            are until somebody has looked.
    """

    kept: dict[str, BuiltWire]
    comes_off: tuple[BuiltWire, ...]
    unknown: tuple[BuiltWire, ...] = ()


def built_wires(assembled: Assembled) -> tuple[BuiltWire, ...]:
    """Return a draft's wires as conductors that lie in the boat as drawn."""
    return tuple(
        BuiltWire(
            id=wire.id,
            circuit=wire.circuit,
            start=wire.start.words,
            end=wire.end.words,
            gauge=str(wire.gauge),
            colour=str(wire.colour),
            length_mm=wire.cut_mm,
            runs=wire.runs,
        )
        for wire in assembled.wires
    )


def _fits(wire: Wire, built: BuiltWire) -> bool:
    """Same circuit, ends, way, gauge and colour: nothing about it has to be touched.

    A jumper between two tabs is the same whichever of their circuits it belongs to.
    """
    ends, lies = (wire.start.words, wire.end.words), (built.start, built.end)
    jumper = (wire.start.kind, wire.end.kind, wire.runs) == ("tab", "tab", ())
    return (
        built.is_connected
        and (set(lies) == set(ends) if jumper else lies == ends)
        and (jumper or built.circuit == wire.circuit)
        and built.gauge == str(wire.gauge)
        and built.colour == str(wire.colour)
        and built.runs == wire.runs
    )


def reuse(assembled: Assembled, order: Order) -> Reuse:
    """Match drafted wires to built ones, each at most once; a new boat keeps nothing."""
    if not order.built:
        return Reuse({}, ())
    by_id = {built.id: built for built in order.built}
    left = dict(by_id)
    kept: dict[str, BuiltWire] = {}
    for wire in assembled.wires:
        match = left.get(wire.id)
        if match is None or not _fits(wire, match):
            match = next((b for b in left.values() if _fits(wire, b)), None)
        if match:
            kept[wire.id] = match
            del left[match.id]
    lies = [b for b in left.values() if b.is_connected]
    off = tuple(b for b in lies if b.gauge and b.colour)
    return Reuse(kept, off, tuple(b for b in lies if not (b.gauge and b.colour)))
