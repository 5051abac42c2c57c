"""The draft: everything computed from one order."""

from dataclasses import field
from functools import cached_property

from vivid_loom.boat import Load
from vivid_loom.catalogue import Catalogue
from vivid_loom.drafting.beside.bonds import DraftedBond
from vivid_loom.drafting.beside.existing import NOTHING_LIES, Reuse
from vivid_loom.drafting.beside.lying import Beside, beside
from vivid_loom.drafting.beside.occupants import Occupants, occupants
from vivid_loom.drafting.beside.recorded import DraftedRecord
from vivid_loom.drafting.beside.spares import DraftedSpare
from vivid_loom.drafting.findings import Finding
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.kept import Kept
from vivid_loom.drafting.making.assemble import Assembled
from vivid_loom.drafting.making.colour import Colours
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.drafting.places.allocate import Allocation
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.coordination import Fault
from vivid_loom.drafting.sizing.exposed import Exposed
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.drafting.sizing.outcome import Sized
from vivid_loom.order import Acceptance
from vivid_loom.quantities import computed

__all__ = ["Draft", "DraftedCircuit"]


@computed
class DraftedCircuit:
    """One protected feed with everything decided about it.

    Attributes:
        sized: None while a current is unknown.
        fault: what shorts and stalls do; None without a device.
        exposed: what a short does ahead of its device; None where nothing lies there.
    """

    planned: Planned
    paths: tuple[Path, ...]
    sized: Sized | None
    colours: Colours
    wires: tuple[Wire, ...] = ()
    fault: Fault | None = None
    exposed: Exposed | None = None

    @property
    def id(self) -> str:
        """Circuit id."""
        return self.planned.id

    @property
    def device(self) -> tuple[str, float]:
        """Family and rating of its device, A; '' and 0 without one."""
        held = self.sized.protection if self.sized else None
        return (self.planned.family, held.value) if held else ("", 0.0)

    @property
    def letters(self) -> tuple[str, str]:
        """Colours of its positive and of its negative; '' for what it has not."""
        home = {leg.live == "return" for leg in self.planned.plan.legs}
        plus, minus = self.colours.positive.value, self.colours.negative.value
        return str(plus) if False in home else "", str(minus) if True in home else ""


@computed
class Draft:
    """Everything computed from one order; never edited.

    Attributes:
        findings: those that stand open, errors first.
        accepted: those somebody answers for, with the reason.
        kept: what the stages made, for the draft after the next edit.
    """

    aboard: Aboard
    catalogue: Catalogue
    allocation: Allocation
    feeders: tuple[DraftedCircuit, ...]
    circuits: tuple[DraftedCircuit, ...]
    needs: dict[str, FeederNeed]
    switches: tuple[HelmSwitch, ...]
    assembled: Assembled
    spares: tuple[DraftedSpare, ...] = ()
    bonds: tuple[DraftedBond, ...] = ()
    recorded: tuple[DraftedRecord, ...] = ()
    reuse: Reuse = NOTHING_LIES
    findings: tuple[Finding, ...] = ()
    accepted: tuple[tuple[Finding, Acceptance], ...] = ()
    kept: Kept = field(default_factory=Kept, compare=False, repr=False)

    @property
    def rows(self) -> tuple[DraftedCircuit, ...]:
        """Feeders, then circuits."""
        return (*self.feeders, *self.circuits)

    def circuit(self, circuit_id: str) -> DraftedCircuit | None:
        """Return the circuit or feeder with this id."""
        return self._by_id.get(circuit_id)

    @cached_property
    def breaker_levers(self) -> dict[str, HelmSwitch]:
        """The levers that are the breaker of a circuit, by its id."""
        return {
            row.id: switch
            for switch in self.switches
            if switch.part.breaker
            for use in switch.uses
            if (row := self._by_id.get(use.circuit)) and row.planned.pattern == "breaker"
        }

    @cached_property
    def lever_ratings_a(self) -> dict[str, float]:
        """What the breaker in a lever is rated at, by its switch's id."""
        return {
            lever.request.id: sized.protection.value
            for name, lever in self.breaker_levers.items()
            if (sized := self._by_id[name].sized) and sized.protection
        }

    @cached_property
    def occupants(self) -> Occupants:
        """What lies in each run, thickest first."""
        return occupants(self.catalogue, self.assembled, self.spares, self.bonds, self.recorded)

    @cached_property
    def beside(self) -> Beside:
        """Which bonds and spares are to be made, and which of those that lie there come off."""
        built = self.aboard.order.built_beside
        return beside(self.bonds, self.spares, self.aboard.boat.bonded_at, built)

    @cached_property
    def drawing(self) -> dict[str, tuple[Load, ...]]:
        """The loads of every circuit and feeder as they draw through it, by its id."""
        loads = self.aboard.loads
        return {row.id: row.planned.drawing(loads) for row in self.rows}

    @cached_property
    def _by_id(self) -> dict[str, DraftedCircuit]:
        return {row.id: row for row in self.rows}
