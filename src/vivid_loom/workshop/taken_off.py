"""Why each conductor of a built boat comes off, and what asks for it."""

from collections.abc import Iterator
from typing import Literal, NamedTuple

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.order import BuiltWire

__all__ = ["Reason", "Taken", "taken_off"]

Reason = Literal["circuit", "switch", "tab", "gauge", "colour", "way", "ends", "spare"]


class Taken(NamedTuple):
    """A conductor that comes off, or is landed anew.

    Attributes:
        reason: its 'circuit' is left out; a 'switch' it ends on is, or nothing else lands on its
            'tab' any more; another 'gauge', 'colour' or 'way' is asked for; it 'ends' elsewhere;
            'spare' where nothing needs it any more.
        asked: what is asked for instead, or the switch or tab.
        rule: of a gauge, the limit that asks for it.
    """

    wire: BuiltWire
    reason: Reason
    asked: str = ""
    rule: str = ""


class _Now:
    """A draft's wires as what lies there is compared with them."""

    def __init__(self, draft: Draft) -> None:
        wires = draft.assembled.wires
        self.rows: dict[str, DraftedCircuit] = {row.id: row for row in draft.rows}
        self.wires = {wire.id: wire for wire in wires}
        self.by_ends: dict[tuple[str, frozenset[str]], list[Wire]] = {}
        for wire in wires:
            key = (wire.circuit, frozenset((wire.start.words, wire.end.words)))
            self.by_ends.setdefault(key, []).append(wire)
        self.landed = {end.words for wire in wires for end in (wire.start, wire.end)}
        self.places = {end.place for wire in wires for end in (wire.start, wire.end)}
        self.switches = {switch.place for switch in draft.switches}

    def why(self, lies: BuiltWire) -> Taken:
        """Return why a conductor comes off."""
        row = self.rows.get(lies.circuit)
        if row is None:
            return Taken(lies, "circuit", lies.circuit)
        same = self.by_ends.get((lies.circuit, frozenset((lies.start, lies.end))), [])
        if same:
            return self._differs(lies, same[0], row)
        if not lies.runs and (left := next(self._left(lies), None)):
            return left
        wire = self.wires.get(lies.id)
        gauges = {str(w.gauge) for w in row.wires}
        if lies.gauge not in gauges and row.sized:
            return Taken(lies, "gauge", str(row.sized.gauge.value), row.sized.gauge.governed_by)
        if wire is None:
            return Taken(lies, "spare")
        now = {wire.start.words, wire.end.words} - {lies.start, lies.end}
        return Taken(lies, "ends", " and ".join(sorted(now)))

    def _left(self, lies: BuiltWire) -> Iterator[Taken]:
        """Yield the switches, then the tabs, of a jumper that nothing ends on any more."""
        ends = [(point, point.partition(" ")[0]) for point in (lies.start, lies.end)]
        for _, place in ends:
            if place not in self.places:
                yield Taken(lies, "switch", place)
        for point, place in ends:
            if place in self.switches and point not in self.landed:
                yield Taken(lies, "tab", point)

    def _differs(self, lies: BuiltWire, wire: Wire, row: DraftedCircuit) -> Taken:
        if lies.gauge != str(wire.gauge):
            rule = row.sized.gauge.governed_by if row.sized else ""
            return Taken(lies, "gauge", str(wire.gauge), rule)
        if lies.colour != str(wire.colour):
            return Taken(lies, "colour", str(wire.colour))
        return Taken(lies, "way", ", ".join(wire.runs))


def taken_off(draft: Draft) -> tuple[Taken, ...]:
    """Return every conductor that comes off or is landed anew, and what asks for it."""
    now = _Now(draft)
    return tuple(now.why(lies) for lies in draft.reuse.freed)
