"""What of a built boat can stay: drafted wires matched to the conductors that lie in it."""

from typing import Final, NamedTuple

from vivid_loom.drafting.making.assemble import Assembled
from vivid_loom.drafting.making.wire import End, Wire
from vivid_loom.order import BuiltWire, Order

__all__ = ["NOTHING_LIES", "Reuse", "built_wires", "reuse"]


class Reuse(NamedTuple):
    """Wires of a change order against what lies in the boat.

    Attributes:
        kept: drafted wire id → conductor that already lies there and fits.
        moved: drafted wire id → conductor that is landed anew as it: it has the size, colour, way
            and one of the ends, and is long enough.
        comes_off: conductors that the draft has no use for.
        unknown: conductors of which a survey does not know gauge or colour: they stay where they
            are until somebody has looked.
        places, runs: where something of the boat is landed or lies already.
    """

    kept: dict[str, BuiltWire]
    moved: dict[str, BuiltWire]
    comes_off: tuple[BuiltWire, ...]
    unknown: tuple[BuiltWire, ...]
    places: frozenset[str]
    runs: frozenset[str]

    @property
    def freed(self) -> tuple[BuiltWire, ...]:
        """Conductors that do not stay as they lie: those that come off and those that move."""
        return (*self.comes_off, *self.moved.values())

    def is_new(self, wire: Wire) -> bool:
        """Tell whether a drafted wire is cut: nothing that lies in the boat serves as it."""
        return wire.id not in self.kept and wire.id not in self.moved

    def new_ends(self, wire: Wire) -> tuple[End, ...]:
        """Return the ends of a drafted wire that are made now: of a moved one those that move."""
        ends = (wire.start, wire.end)
        if wire.id in self.kept:
            return ()
        lies = self.moved.get(wire.id)
        return tuple(e for e in ends if e.words not in (lies.start, lies.end)) if lies else ends


NOTHING_LIES: Final = Reuse({}, {}, (), (), frozenset(), frozenset())
"""Of a new boat."""


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


def _moves(new: list[Wire], off: list[BuiltWire]) -> dict[str, BuiltWire]:
    """Return the new wires that a freed lead makes: same copper, way and one end, long enough."""
    left, found = list(off), dict[str, BuiltWire]()
    for wire in sorted(new, key=lambda w: -w.cut_mm):
        ends = {wire.start.words, wire.end.words}
        fits = [
            lies
            for lies in left
            if (lies.gauge, lies.colour) == (str(wire.gauge), str(wire.colour))
            and lies.runs == wire.runs
            and {lies.start, lies.end} & ends
            and lies.length_mm >= wire.cut_mm
        ]
        if fits:
            found[wire.id] = min(fits, key=lambda lies: lies.length_mm)
            left.remove(found[wire.id])
    return found


def reuse(assembled: Assembled, order: Order) -> Reuse:
    """Match drafted wires to built ones, each at most once; a new boat keeps nothing."""
    if not order.built:
        return NOTHING_LIES
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
    freed = [b for b in lies if b.gauge and b.colour]
    unknown = tuple(b for b in lies if not (b.gauge and b.colour))
    moved = _moves([wire for wire in assembled.wires if wire.id not in kept], freed)
    used = {b.id for b in moved.values()}
    points = {point for b in order.built if b.is_connected for point in (b.start, b.end)}
    ends = (end for wire in assembled.wires for end in (wire.start, wire.end))
    places = frozenset(end.place for end in ends if end.words in points)
    runs = frozenset(run for b in order.built if b.state != "removed" for run in b.runs)
    off = tuple(b for b in freed if b.id not in used)
    return Reuse(kept, moved, off, unknown, places, runs)
