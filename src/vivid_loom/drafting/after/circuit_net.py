"""What a circuit or feeder adds to the net list: its conductors, its device, its holders."""

from collections.abc import Mapping
from typing import NamedTuple

from vivid_loom.drafting.after.collected import BAR, Collected, terminal_id
from vivid_loom.drafting.drafted import DraftedCircuit
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.making.wire import End
from vivid_loom.drafting.patterns import Point
from vivid_loom.netlist import (
    Actuator,
    Conductor,
    Contact,
    Device,
    Part,
    Terminal,
    TerminalId,
)

__all__ = ["circuit_net"]


class Added(NamedTuple):
    """What a circuit or feeder adds, by id."""

    parts: dict[str, Part]
    terminals: dict[TerminalId, Terminal]
    actuators: dict[str, Actuator]
    contacts: dict[str, Contact]
    conductors: dict[str, Conductor]


def circuit_net(row: DraftedCircuit, aboard: Aboard, fixed: Mapping[TerminalId, Terminal]) -> Added:
    """Return what a circuit or feeder adds.

    Args:
        fixed: terminals of the batteries, the supply and the buses, on which it may begin and end.
    """
    net = _CircuitNet(row, aboard, fixed)
    net.holders()
    net.wires()
    return Added(net.parts, net.terminals, net.actuators, net.contacts, net.conductors)


class _CircuitNet(Collected):
    """Collects what one circuit or feeder adds."""

    def __init__(
        self, row: DraftedCircuit, aboard: Aboard, fixed: Mapping[TerminalId, Terminal]
    ) -> None:
        super().__init__(aboard)
        self.row, self.fixed = row, fixed

    def wires(self) -> None:
        """Add wires; a device without a holder stands between them and where they start."""
        row = self.row
        start = row.planned.plan.start
        by_device = () if row.planned.stub_m else (start.place, start.name)
        for wire in row.wires:
            conductor = wire.conductor
            first, last = conductor.ends
            by_it = wire.start[:2] == by_device and wire.live != "return"
            if by_it and row.planned.mount:
                self._on_mount(row.planned.mount, wire.start)
                by_it = False
            self._landing(wire.start)
            self._landing(wire.end)
            if by_it:
                conductor = conductor._replace(ends=(self._behind_device(first), last))
            self.conductors[wire.id] = conductor

    def _landing(self, end: End) -> None:
        """Add what a wire's end lands on; a way, screw or stud of a bar is joined to it."""
        if end.kind != "plug":
            self._joined(end.place, end.point, end.kind)

    def _joined(self, place: str, name: str, kind: str) -> TerminalId:
        at = terminal_id(place, name)
        if at not in self.fixed and at not in self.terminals:
            self.terminal(place, name, kind)
            bar = terminal_id(place, BAR)
            if bar in self.fixed:
                self.contact(place, bar, at)
        return at

    def _on_mount(self, mount: Point, end: End) -> None:
        """Add a device that stands on a post or stud, between it and a stud of its own."""
        below = self._joined(mount.place, mount.name, mount.kind)
        above = self.terminal(end.place, end.point, end.kind)
        self.contact(mount.place, below, above, device=self._device)

    def _behind_device(self, at: TerminalId) -> TerminalId:
        """Put the device between a terminal and the conductors."""
        row, device = self.row, self._device
        if device is None:
            return at
        out = TerminalId(f"{row.id} device")
        place = row.planned.plan.start.place
        if out not in self.terminals:
            form = (self.terminals.get(at) or self.fixed[at]).form
            self.terminals[out] = Terminal(out, place, f"{row.id} device", "way", form)
            by: tuple[str, tuple[str, ...]] = ("", ())
            if row.planned.pattern == "breaker" and place == row.planned.source:  # by hand
                name = self.actuator(f"{row.id} breaker", place, ("on", "off"))
                by = (name, ("on",))
            self.contact(place, at, out, by=by, device=device)
        return out

    def holders(self) -> None:
        """Add the holders of devices that stand by themselves."""
        planned = self.row.planned
        if planned.stub_m:
            self._holder(f"{planned.id} holder", planned.plan.start.station, self._device)
        for leg in planned.plan.legs:
            if leg.fuse_a and leg.start.kind == "tail":
                device = Device("blade fuse", leg.fuse_a, planned.id)
                self._holder(leg.start.place, leg.start.station, device)

    def _holder(self, name: str, station: str, device: Device | None) -> None:
        self.part(name, "holder", name, station)
        into, out = (self.terminal(name, side, "stud") for side in ("in", "out"))
        self.contact(name, into, out, device=device)

    @property
    def _device(self) -> Device | None:
        held = self.row.sized.protection if self.row.sized else None
        return Device(self.row.planned.family, held.value, self.row.id) if held else None
