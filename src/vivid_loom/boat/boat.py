"""A boat model: geography, supply, standard fit and options."""

from collections.abc import Iterable
from functools import cached_property
from typing import Annotated, Literal

from annotated_types import Gt

from vivid_loom.boat.geography import Area, Hull, Run, Station
from vivid_loom.boat.loads import CircuitRequest, Load, SwitchRequest
from vivid_loom.boat.supply import Battery, HelmPanel, ReturnBus, Supply
from vivid_loom.quantities import OptionalGaugeText, record
from vivid_loom.standards.colours import ColourText

__all__ = ["Assembly", "Boat", "Bond", "Fit", "Option", "Recorded"]


@record
class Assembly:
    """A harness that is built on one board: hull, deck, hardtop, console."""

    id: str
    name: str


@record
class Fit:
    """What is aboard: consumers, the circuits that feed them, their switches."""

    loads: tuple[Load, ...] = ()
    circuits: tuple[CircuitRequest, ...] = ()
    switches: tuple[SwitchRequest, ...] = ()


@record
class Option:
    """Something a customer may tick.

    Attributes:
        adds: loads, circuits and switches that come with it; an id already aboard is replaced.
        removes: ids of loads, circuits and switches that go.
        joins: loads that hang on circuits already there, as (circuit id, load id).
        requires, excludes: other options.
    """

    id: str
    name: str
    group: str
    text: str = ""
    adds: Fit = Fit()
    removes: tuple[str, ...] = ()
    joins: tuple[tuple[str, str], ...] = ()
    requires: tuple[str, ...] = ()
    excludes: tuple[str, ...] = ()


@record
class Bond:
    """A metal part joined to the bonding bus.

    Attributes:
        gauge: '' for the smallest allowed.
        stud: on the part.
    """

    id: str
    name: str
    station: str
    gauge: OptionalGaugeText = ""
    stud: str = "M8"


@record
class Recorded:
    """A cable that others size: mains, coax, data, an engine maker's loom.

    Attributes:
        colour: of its jacket; it is never re-coloured.
    """

    id: str
    name: str
    kind: Literal["mains", "coax", "data", "engine loom"]
    start: str
    end: str
    diameter_mm: Annotated[float, Gt(0)]
    colour: ColourText = "BK"


@record
class Boat:
    """A model as the builder offers it.

    Attributes:
        bonding_station: where the bonding bus stands; '' for beside the battery.
        hull_joins: stations at which DC negative is joined to a metal hull.
        ac_aboard: whose mains colours lie aboard beside ours; 'none' for a boat without.
    """

    id: str
    name: str
    nominal_v: Annotated[float, Gt(0)]
    hull: Hull
    areas: tuple[Area, ...]
    assemblies: tuple[Assembly, ...]
    stations: tuple[Station, ...]
    runs: tuple[Run, ...]
    battery: Battery
    supplies: tuple[Supply, ...]
    return_buses: tuple[ReturnBus, ...]
    helm: HelmPanel
    fit: Fit
    options: tuple[Option, ...] = ()
    ac_aboard: Literal["none", "US", "Europe"] = "none"
    bonds: tuple[Bond, ...] = ()
    bonding_station: str = ""
    hull_joins: tuple[str, ...] = ()
    recorded: tuple[Recorded, ...] = ()

    def supply_chain(self, supply_id: str) -> tuple[str, ...]:
        """Return the supplies from ``supply_id`` back to the battery, the battery left out."""
        if supply_id not in self._chains:
            chain: list[str] = []
            at = supply_id
            while at in self.supplies_by_id and at not in chain:
                chain.append(at)
                at = self.supplies_by_id[at].fed_from
            self._chains[supply_id] = tuple(chain)
        return self._chains[supply_id]

    @cached_property
    def _chains(self) -> dict[str, tuple[str, ...]]:
        return {}

    @cached_property
    def stations_by_id(self) -> dict[str, Station]:
        """Stations by id."""
        return {station.id: station for station in self.stations}

    @cached_property
    def areas_by_id(self) -> dict[str, Area]:
        """Areas by id."""
        return {area.id: area for area in self.areas}

    @cached_property
    def area_at(self) -> dict[str, Area]:
        """The area each station lies in, by the station's id."""
        return {s.id: self.areas_by_id[s.area] for s in self.stations}

    @cached_property
    def runs_by_id(self) -> dict[str, Run]:
        """Runs by id."""
        return {run.id: run for run in self.runs}

    @cached_property
    def supplies_by_id(self) -> dict[str, Supply]:
        """Blocks, buses and panels by id."""
        return {supply.id: supply for supply in self.supplies}

    @cached_property
    def buses_by_id(self) -> dict[str, ReturnBus]:
        """Return buses by id."""
        return {bus.id: bus for bus in self.return_buses}

    @cached_property
    def bus_beside(self) -> dict[str, ReturnBus]:
        """Return bus beside each block that has one, by the block's id."""
        return {bus.paired_with: bus for bus in self.return_buses}

    def option(self, option_id: str) -> Option | None:
        """Return the option with this id."""
        return next((option for option in self.options if option.id == option_id), None)


def duplicates(ids: Iterable[str]) -> list[str]:
    """Return the ids that occur more than once, in order of their second appearance."""
    seen: set[str] = set()
    twice: list[str] = []
    for name in ids:
        if name in seen:
            twice.append(name)
        seen.add(name)
    return twice
