"""A boat model: geography, supply, standard fit and options."""

from collections.abc import Iterable
from functools import cached_property
from typing import Annotated, Final, Literal

from annotated_types import Ge, Gt

from vivid_loom.boat.feeders import Network, numbered
from vivid_loom.boat.geography import Area, Hull, Run, Station
from vivid_loom.boat.loads import CircuitRequest, Load, SwitchRequest
from vivid_loom.boat.supply import Battery, HelmPanel, ReturnBus, Supply
from vivid_loom.quantities import Id, OptionalGaugeText, record
from vivid_loom.standards.colours import ColourText
from vivid_loom.standards.terminals import MAX_RINGS_PER_STUD

__all__ = ["Assembly", "Boat", "Bond", "Fit", "Option", "Recorded"]

POST_MAX_A: Final = 1000.0  # a battery post bears what its battery gives; our choice


@record
class Assembly:
    """A harness that is built on one board: hull, deck, hardtop, console."""

    id: Id
    name: str


@record
class Fit:
    """What is aboard: consumers, the circuits that feed them, their switches.

    Attributes:
        supplies: blocks, relays and so on that come with an option.
    """

    loads: tuple[Load, ...] = ()
    circuits: tuple[CircuitRequest, ...] = ()
    switches: tuple[SwitchRequest, ...] = ()
    supplies: tuple[Supply, ...] = ()


@record
class Option:
    """Something a customer may tick.

    Attributes:
        adds: loads, circuits and switches that come with it; an id already aboard is replaced.
        removes: ids of loads, circuits and switches that go.
        joins: loads that hang on circuits already there, as (circuit id, load id).
        requires, excludes: other options.
    """

    id: Id
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

    id: Id
    name: str
    station: str
    gauge: OptionalGaugeText = ""
    stud: str = "M8"


@record
class Recorded:
    """A cable that others size: mains, coax, data, an engine maker's loom.

    Attributes:
        colour: of its jacket; it is never re-coloured.
        comes_m: length it comes with, its plugs on; 0 for one that is cut where it lies.
        comes_from: the end that it comes from, with the device there.
        parts: it comes apart where harnesses meet; else it goes through whole.
    """

    id: Id
    name: str
    kind: Literal["mains", "coax", "data", "engine loom"]
    start: str
    end: str
    diameter_mm: Annotated[float, Gt(0)]
    colour: ColourText = "BK"
    comes_m: Annotated[float, Ge(0)] = 0.0
    comes_from: Literal["start", "end"] = "end"
    parts: bool = False


@record
class Boat:
    """A model as the builder offers it.

    Attributes:
        panels: places with switch positions, numbered through from one to the next.
        bonding_station: where the bonding bus stands; '' for beside the battery.
        hull_joins: stations at which DC negative is joined to a metal hull.
        profile: id of the profile its orders are usually drafted under; '' for none.
        ac_aboard: whose mains colours lie aboard beside ours; 'none' for a boat without.
    """

    id: Id
    name: str
    nominal_v: Annotated[float, Gt(0)]
    hull: Hull
    areas: tuple[Area, ...]
    assemblies: tuple[Assembly, ...]
    stations: tuple[Station, ...]
    runs: tuple[Run, ...]
    batteries: tuple[Battery, ...]
    supplies: tuple[Supply, ...]
    return_buses: tuple[ReturnBus, ...]
    panels: tuple[HelmPanel, ...]
    fit: Fit
    options: tuple[Option, ...] = ()
    ac_aboard: Literal["none", "US", "Europe"] = "none"
    bonds: tuple[Bond, ...] = ()
    bonding_station: str = ""
    hull_joins: tuple[str, ...] = ()
    recorded: tuple[Recorded, ...] = ()
    profile: str = ""

    @property
    def battery(self) -> Battery:
        """The first battery, which the boat is named and marked by."""
        return self.batteries[0]

    @property
    def helm_station(self) -> str:
        """Where the first panel stands; the battery's station on a boat without a panel."""
        return self.panels[0].station if self.panels else self.battery.station

    @property
    def positions(self) -> int:
        """Switch positions of all panels together."""
        return sum(panel.positions for panel in self.panels)

    def panel_at(self, position: int) -> HelmPanel | None:
        """Return the panel a position is on; positions are numbered through from panel to panel."""
        last = 0
        for panel in self.panels:
            last += panel.positions
            if last - panel.positions < position <= last:
                return panel
        return None

    def first_position(self, panel: HelmPanel) -> int:
        """Return the number of a panel's first position."""
        before = self.panels[: [p.id for p in self.panels].index(panel.id)]
        return 1 + sum(other.positions for other in before)

    @cached_property
    def network(self) -> Network:
        """What feeds what, and what goes home where, every feeder numbered."""
        supplies, buses = numbered(self.supplies, self.return_buses)
        return Network(self.batteries, supplies, buses, self.nominal_v)

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
    def places_by_id(self) -> dict[str, Supply]:
        """What circuits can be fed from, by id: every supply, and every battery's plus post."""
        posts = {
            battery.id: Supply(
                id=battery.id,
                name=battery.name,
                station=battery.station,
                kind="stud",
                level="battery_direct",
                way_max_a=POST_MAX_A,
                total_max_a=POST_MAX_A,
            )
            for battery in self.batteries
        }
        return {**posts, **self.supplies_by_id}

    @cached_property
    def returns_by_id(self) -> dict[str, ReturnBus]:
        """Where circuits return to, by id: every return bus, and every battery's minus post."""
        posts = {
            battery.id: ReturnBus(
                id=battery.id,
                name=f"{battery.name}, minus post",
                station=battery.station,
                screws=MAX_RINGS_PER_STUD,
                max_a=POST_MAX_A,
            )
            for battery in self.batteries
        }
        return {**posts, **self.buses_by_id}

    @cached_property
    def buses_by_id(self) -> dict[str, ReturnBus]:
        """Return buses by id."""
        return {bus.id: bus for bus in self.return_buses}

    @property
    def bonded_at(self) -> str:
        """Station of the bonding bus; at the battery where none is named."""
        return self.bonding_station or self.battery.station

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
