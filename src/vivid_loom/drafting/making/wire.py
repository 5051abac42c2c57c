"""A piece of wire to cut, with what is on both its ends."""

from functools import cached_property
from typing import Final, NamedTuple

from vivid_loom.boat import SIGNAL_LEADS
from vivid_loom.drafting.making.terminate import FORKED, Termination
from vivid_loom.netlist import Conductor, Role, TerminalId
from vivid_loom.quantities import Gauge, computed
from vivid_loom.standards.colours import InsulationColour

__all__ = ["End", "Wire"]

_ROLES: Final[dict[str, Role]] = {"source": "feed", "switched": "switched", "return": "return"}


class End(NamedTuple):
    """One end of a wire."""

    place: str
    point: str
    kind: str  # of the point: way, tab, lead, screw, stud, post or plug
    station: str
    termination: Termination
    label: str
    device_lead: str
    lead_colour: str = ""

    @property
    def is_joint(self) -> bool:
        """Whether it is crimped into one joint with whatever else ends there."""
        kind = self.termination.kind
        return "butt" in kind or "closed-end" in kind or FORKED in kind or kind.endswith(" post")

    @property
    def words(self) -> str:
        """Place and point, as 'HFB way 3'."""
        return f"{self.place} {self.point}"

    def terminal(self, harness: str) -> TerminalId:
        """Return the terminal it lands on; a plug has one a side, told by its harness."""
        side = f" {harness}" if self.kind == "plug" else ""
        return TerminalId(f"{self.words}{side}")


@computed
class Wire:
    """One piece of wire to cut.

    Attributes:
        leg: of the circuit's plan; ``jumper`` where it joins two tabs of one switch, ``stub`` where
            it leads from a source's terminal to its device.
        cable, core: the cable it is a core of and its number; '' and 0 for a single wire.
        cable_runs: those of its runs in which it lies under the jacket.
        sleeve: letter code of a sleeve at both ends; '' for none.
        live: 'source', 'switched' or 'return'.
        lead: the function of the load's lead that it serves.
        for_lamp: it serves a lamp of a switch, whatever its circuit feeds.
        routed_m: along its runs; ``cut_mm`` with service loop, tails and strips, rounded up.
    """

    id: str
    circuit: str
    leg: str
    jumper: bool
    stub: bool
    harness: str
    gauge: Gauge
    colour: InsulationColour
    sleeve: str
    start: End
    end: End
    runs: tuple[str, ...]
    stations: tuple[str, ...]
    routed_m: float
    cut_mm: float
    current_a: float
    live: str
    lead: str = "plus"
    cable: str = ""
    core: int = 0
    cable_runs: tuple[str, ...] = ()
    for_lamp: bool = False

    @property
    def exact(self) -> bool:
        """Whether it is cut without service loop and tails: a jumper, or the stub to a device."""
        return self.jumper or self.stub

    @cached_property
    def taken(self) -> tuple[tuple[str, str, str], ...]:
        """Place, point and kind of each terminal it takes room on, a load's own tab among them."""
        ends = (self.start, self.end)
        own = [e for e in ends if e.kind == "lead" and "push-on" in e.termination.kind]
        return (
            *[(e.place, e.point, e.kind) for e in ends if e.kind not in ("lead", "tail", "plug")],
            *[(e.place, e.point, "tab") for e in own],
        )

    @cached_property
    def conductor(self) -> Conductor:
        """It in the net list, from the terminal it starts at to the one it ends on."""
        role: Role = "jumper" if self.jumper else _ROLES[self.live]
        if self.lead in SIGNAL_LEADS:
            role = self.lead  # type: ignore[assignment]
        return Conductor(
            self.id,
            self.circuit,
            (self.start.terminal(self.harness), self.end.terminal(self.harness)),
            role,
            self.gauge,
            self.colour,
            self.routed_m,
            self.current_a,
        )
