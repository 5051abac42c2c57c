"""Stage 2, allocate: block and way, helm position, return bus and screw for every circuit."""

import dataclasses
from collections import Counter
from collections.abc import Iterator
from functools import partial
from typing import NamedTuple

from vivid_loom.boat import (
    SIGNAL_LEADS,
    Boat,
    CircuitRequest,
    ContactRequest,
    Load,
    ReturnBus,
    Supply,
    SwitchRequest,
)
from vivid_loom.catalogue import INTERLOCK, Catalogue
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.kept import Plain
from vivid_loom.drafting.patterns import PATTERNS, Places, Point, PointKind, held
from vivid_loom.drafting.places.branching import joined_to
from vivid_loom.drafting.places.feeders import (
    holder_end,
    planned_feeder,
    sits_in_a_way,
    stands_on_a_stud,
    way_point,
)
from vivid_loom.drafting.places.numbers import Numbers
from vivid_loom.drafting.places.offers import offers
from vivid_loom.drafting.places.placing import Where, placing, read_by
from vivid_loom.drafting.places.planned import Planned, Shortage
from vivid_loom.drafting.places.positions import helm_positions
from vivid_loom.drafting.places.protect import WantedRating
from vivid_loom.drafting.places.route import RouteMap
from vivid_loom.drafting.places.strips import Strip, with_strips
from vivid_loom.drafting.places.taps import tapped
from vivid_loom.quantities import computed

__all__ = ["Allocation", "allocate", "switch_place"]


_PLACED = ("supply", "return_bus", "helm_position")
_INNER = frozenset({"offers", "circuit", "feeders", "strip"})  # stages asked in between
IN_LINE_M = 0.1  # from a stud to a device in line, where nobody says otherwise; our choice


@computed
class Allocation:
    """All circuits, feeders first, the strips they pass, and what ran short."""

    feeders: tuple[Planned, ...]
    circuits: tuple[Planned, ...]
    positions: dict[str, int]
    shortages: tuple[Shortage, ...]
    strips: tuple[Strip, ...] = ()


def switch_place(switch: SwitchRequest, position: int) -> str:
    """Return a switch's place: 'SW3' on a panel, its id at a station of its own."""
    if switch.station:
        return switch.id
    return f"SW{position}" if position else f"SW {switch.id}"


class _Counters:
    """Ways and screws handed out so far."""

    def __init__(self, aboard: Aboard) -> None:
        network = aboard.boat.network
        in_ways = [f for f in network.feeders.values() if sits_in_a_way(f.feed, aboard.boat)]
        self.feeders = {f.id: network.supplies[network.source_of(f.id)] for f in in_ways}
        """Blocks in whose ways feeders' devices sit, by feeder."""
        self.kept_free = Counter(supply.id for supply in self.feeders.values())
        drafted = {*(request.id for request in aboard.circuits), *self.feeders}
        issued = aboard.order.landings
        self.ways = Numbers("way", issued, drafted.__contains__)
        self.screws = Numbers("screw", issued, drafted.__contains__)
        self.screws.reserve(one for one in issued if one.kind == "lamp screw")

    def is_new(self, circuit: str) -> bool:
        """Tell whether no sheets were issued with a circuit."""
        return self.ways.issued(circuit) is None and self.screws.issued(circuit) is None

    def has_way(self, supply: Supply) -> bool:
        """Tell whether a block has a way left for a circuit; its feeders have theirs."""
        return self.ways.has_room(supply.id, supply.ways - self.kept_free[supply.id])

    def feeder_ways(self) -> Iterator[tuple[str, int]]:
        """Yield a way for every feeder whose device sits in one, once circuits have theirs."""
        for name, supply in self.feeders.items():
            yield name, self.ways.take(supply.id, name, supply.ways)


def _choose_supply(
    request: CircuitRequest, aboard: Aboard, routes: RouteMap, used: _Counters
) -> tuple[Supply | None, WantedRating | None, int]:
    loads = tuple(aboard.loads[name] for name in request.loads)
    forced = aboard.order.override(request.id, "supply")
    made_from = Plain((request, loads, forced, aboard.boat, aboard.profile, routes))
    offered = aboard.kept.take(
        "offers", request.id, made_from, lambda: offers(request, aboard, routes)
    )
    signals = request.lead in SIGNAL_LEADS
    unknown = not signals and any(load.running_a is None for load in loads)
    for supply, wanted in used.ways.where_issued(request.id, offered, lambda one: one[0].id):
        bears = wanted is None or wanted.rating_a <= supply.lead_max_a
        bare = not supply.ways_protected
        if not supply.ways and (wanted or unknown):
            return supply, wanted, 0
        if bears and (wanted or unknown or bare) and used.has_way(supply):
            return supply, wanted, used.ways.take(supply.id, request.id, supply.ways)
    return (*offered[0], 0) if offered else (None, None, 0)


def _choose_bus(
    station: str, request: CircuitRequest, supply: Supply, seen: "_Seen"
) -> tuple[ReturnBus, int]:
    aboard, used = seen.aboard, seen.used
    places, buses = aboard.boat.returns_by_id, aboard.boat.return_buses
    forced = aboard.order.override(request.id, "return_bus")
    beside = places.get(aboard.boat.network.next_home(supply.id))
    if forced and forced.value in places:
        order = [places[forced.value]]
    elif beside and supply.kind == "bus":
        # what a heavy bus feeds goes home beside it, not through an area's negative
        order = [beside]
    elif aboard.profile.negatives == "main" and not request.cable:
        order = list(buses[:1])
    else:
        order = seen.buses_near(station)
    order = used.screws.where_issued(request.id, order, lambda bus: bus.id)
    order = order or [places[aboard.boat.battery.id]]
    bus = next((b for b in order if used.screws.has_room(b.id, b.screws)), None)
    if bus is None:
        return order[0], 0
    return bus, used.screws.take(bus.id, request.id, bus.screws)


def _contact_points(contact: ContactRequest, supply: Supply, seen: "_Seen") -> tuple[Point, ...]:
    """Return a contact's common, then one terminal per throw used."""
    switch = seen.aboard.switches[contact.switch]
    part = seen.catalogue.switch(switch.part)
    station = _switch_station(contact, supply, seen)
    place = switch_place(switch, seen.positions.get(switch.id, 0))
    throws = ["U" if throw == "up" else "D" for throw in contact.throws]
    names = [f"{contact.pole}{name}" for name in ("C", *throws)]
    if part and part.is_pair:
        names = [name for name in names if name in part.terminals]
    return tuple(Point(place, n, station, part.lands_on(n) if part else "tab") for n in names)


def _interlock(request: CircuitRequest, seen: "_Seen") -> tuple[tuple[Point, Point], ...]:
    """Return where the coils of a pair are fed through its break contacts: up, then down."""
    for switch in seen.aboard.switches.values():
        part = seen.catalogue.switch(switch.part)
        if part and part.interlock == "contacts" and switch.coil in request.loads:
            station = switch.station or seen.aboard.loads[switch.coil].station
            place = switch_place(switch, seen.positions.get(switch.id, 0))
            ends = (
                (Point(place, a, station, "screw"), Point(place, b, station, "screw"))
                for a, b in INTERLOCK.values()
            )
            return tuple(ends)
    return ()


class _Seen(NamedTuple):
    """What is looked at while circuits get their places.

    Attributes:
        controlled: loads whose control lead has a circuit of its own.
        near: return buses by how near they are, of the stations that were asked about.
    """

    aboard: Aboard
    routes: RouteMap
    catalogue: Catalogue
    positions: dict[str, int]
    used: _Counters
    controlled: frozenset[str]
    near: dict[str, list[ReturnBus]]

    def buses_near(self, station: str) -> list[ReturnBus]:
        """Return the return buses, the nearest to a station first."""
        if station not in self.near:
            distance_m, boat = self.routes.distance_m, self.aboard.boat
            buses = (b for b in boat.return_buses if b.id not in boat.network.engine_blocks)
            self.near[station] = sorted(
                buses, key=lambda bus: (distance_m(station, bus.station), bus.id)
            )
        return self.near[station]


def _switch_station(contact: ContactRequest, supply: Supply, seen: _Seen) -> str:
    """Return where a switch stands; its supply's station without a panel."""
    boat, switch = seen.aboard.boat, seen.aboard.switches[contact.switch]
    if switch.station:
        return switch.station
    position = seen.positions.get(switch.id, 0)
    panel = boat.panel_at(position) or next(iter(boat.panels), None)
    return panel.station if panel else supply.station


def _landing(bus: ReturnBus, screw: int, supply: Supply, boat: Boat) -> Point:
    if bus.id in boat.network.batteries:
        return Point(bus.id, "minus post", bus.station, "post")
    heavy = supply.kind == "bus" or not supply.ways
    kind: PointKind = "stud" if heavy else "screw"
    return Point(bus.id, f"{kind} {screw}", bus.station, kind)


def _start(supply: Supply, way: int, boat: Boat) -> Point:
    if supply.id in boat.network.batteries:
        return Point(supply.id, "plus post", supply.station, "post")
    if not supply.ways:
        return Point(supply.id, "output stud", supply.station, "stud")
    return way_point(supply, way)


class _Hung(NamedTuple):
    """What a circuit got: its place in the supply, its loads in the order met, its return.

    Attributes:
        feed: station it is fed to the loads from: its switch's, or its supply's.
        bus: None where nothing comes home by itself.
    """

    request: CircuitRequest
    supply: Supply
    wanted: WantedRating | None
    way: int
    feed: str
    loads: tuple[Load, ...]
    bus: ReturnBus | None
    screw: int


def _hung(request: CircuitRequest, seen: _Seen) -> _Hung | None:
    """Give a circuit its way, bus and screw; None where no supply has its level."""
    aboard, routes = seen.aboard, seen.routes
    supply, wanted, way = _choose_supply(request, aboard, routes, seen.used)
    if supply is None:
        return None
    feed = _switch_station(request.contact, supply, seen) if request.contact else supply.station
    ordered = sorted(
        (aboard.loads[name] for name in request.loads),
        key=lambda load: (routes.distance_m(feed, load.station), load.id),
    )
    # a cable brings its negative back to where it is fed
    several = len(PATTERNS[request.pattern].plus_leads) > 1  # then one of them leaves the block
    landing = ordered[0].station
    if request.cable:
        landing = supply.station if several else feed
    if request.pattern == "reversing":  # its return leaves the switch
        landing = feed
    bus, screw = None, 0
    if request.lead not in SIGNAL_LEADS:
        bus, screw = _choose_bus(landing, request, supply, seen)
    return _Hung(request, supply, wanted, way, feed, tuple(ordered), bus, screw)


def _plan_circuit(hung: _Hung, seen: _Seen) -> Planned:
    """Lay a circuit's conductors by its pattern, from where it hangs."""
    request, supply, bus = hung.request, hung.supply, hung.bus
    boat, contact = seen.aboard.boat, request.contact
    home = _landing(bus, hung.screw, supply, boat) if bus else None
    stations = tuple(load.station for load in hung.loads)
    places = Places(
        way=_start(supply, hung.way, boat),
        contact=_contact_points(contact, supply, seen) if contact else (),
        also=tuple(_contact_points(other, supply, seen) for other in request.also),
        loads=tuple(load.id for load in hung.loads),
        stations=stations,
        home=home,
        lead=request.lead,
        lead_name=request.lead_name,
        interlock=_interlock(request, seen),
        joined_to=joined_to(
            stations,
            hung.feed,
            home.station if home else hung.feed,
            seen.routes,
            seen.aboard.profile,
        ),
    )
    position = seen.positions.get(contact.switch, 0) if contact else 0
    where = Where(request, supply, hung.way, bus, home.name if home else "", position)
    plan = tapped(PATTERNS[request.pattern].plan(places), seen.aboard.loads, seen.controlled)
    stub_m, mount = 0.0, None
    if not supply.ways and hung.wanted and stands_on_a_stud(supply.family):
        mount = places.way
        above = mount._replace(name=f"{request.id} fuse", kind="stud")
        legs = (leg._replace(start=above) if leg.start == mount else leg for leg in plan.legs)
        plan = plan._replace(legs=tuple(legs))
    elif not supply.ways and hung.wanted:
        stub_m = supply.way_distance_mm / 1000 or IN_LINE_M
        plan = held(plan, places.way, f"{request.id} holder", holder_end(supply.family))
    return Planned(
        id=request.id,
        label=request.label,
        pattern=request.pattern,
        source=supply.id,
        way=hung.way,
        loads=places.loads,
        plan=plan,
        stub_m=stub_m,
        bus=bus.id if bus else "",
        wanted=hung.wanted,
        family=supply.family,
        request=request,
        position=position,
        mount=mount,
        places=placing(where, seen.aboard, seen.routes),
    )


def _depends_on(hung: _Hung, seen: _Seen) -> Plain:
    """Return everything that a circuit's plan follows from."""
    aboard, request = seen.aboard, hung.request
    named = [contact.switch for contact in request.contacts]
    return Plain(
        (
            (request, hung.supply, hung.way, hung.feed, hung.loads, hung.bus, hung.screw),
            tuple((aboard.switches[name], seen.positions.get(name, 0)) for name in named),
            tuple(
                o
                for o in aboard.order.overrides
                if o.subject in (request.id, *named) and o.field in _PLACED
            ),
            tuple(load.id in seen.controlled for load in hung.loads),
            (aboard.boat, aboard.profile, seen.routes, seen.catalogue),
        )
    )


def _shortages(request: CircuitRequest, hung: _Hung | None) -> Iterator[Shortage]:
    if hung is None:
        yield Shortage("way", request.id, f"{request.level.replace('_', ' ')} level")
        return
    if not hung.way and hung.supply.ways:
        yield Shortage("way", request.id, hung.supply.id)
    if hung.bus and not hung.screw:
        yield Shortage("screw", request.id, hung.bus.id)


def _plan_sensor(request: CircuitRequest, instrument: Planned, seen: _Seen) -> Planned:
    """Return a sensor's pair of conductors: it hangs on what feeds its instrument."""
    loads = seen.aboard.loads
    at, (sensor,) = loads[request.instrument], request.loads
    places = Places(
        way=Point(at.id, "sense", at.station, "lead"),
        contact=(),
        also=(),
        loads=(sensor,),
        stations=(loads[sensor].station,),
        home=Point(at.id, "minus", at.station, "lead"),
    )
    plan = PATTERNS[request.pattern].plan(places)
    assert instrument.request is not None
    feeds = next(leg for leg in instrument.plan.legs if leg.end.place == at.id)
    plus = (leg._replace(live=feeds.live) if leg.live == "source" else leg for leg in plan.legs)
    return Planned(
        id=request.id,
        label=request.label,
        pattern=request.pattern,
        source=instrument.source,
        way=0,
        loads=(sensor,),
        plan=plan._replace(legs=tuple(plus)),
        bus=instrument.bus,
        wanted=None,
        family=instrument.family,
        request=dataclasses.replace(request, level=instrument.request.level),
        position=instrument.position,
        places=(("Read by", read_by(at, instrument.id)),),
        guard=instrument,
    )


def _in_priority(aboard: Aboard, used: _Counters) -> list[CircuitRequest]:
    """Return the circuits in the order they choose: what is new takes what the others leave."""

    def rank(request: CircuitRequest) -> tuple[bool, int, str]:
        rank = aboard.switches[request.contact.switch].rank if request.contact else 9
        return used.is_new(request.id), rank, request.id

    return sorted(aboard.circuits, key=rank)


def allocate(aboard: Aboard, routes: RouteMap, catalogue: Catalogue) -> Allocation:
    """Give every circuit its block, way, helm position, bus and screw; as before where none of
    what decides that is other.

    Raises:
        DraftError: a station that cannot be reached.
    """
    order = aboard.order
    made_from = (
        (aboard.circuits, tuple(aboard.loads.values()), tuple(aboard.switches.values())),
        tuple(o for o in order.overrides if o.field in (*_PLACED, "strip")),
        (order.landings, order.built_with),
        (aboard.boat, aboard.profile, routes, catalogue),
    )
    return aboard.kept.take(
        "allocation", "", made_from, lambda: _allocated(aboard, routes, catalogue), _INNER
    )


def _allocated(aboard: Aboard, routes: RouteMap, catalogue: Catalogue) -> Allocation:
    """Emergency circuits choose first; then navigation, working, comfort; ties by id. Nothing is
    handed out twice: what runs short is reported, never doubled.
    """
    positions, short = helm_positions(aboard, catalogue)
    controlled = {name for c in aboard.circuits if c.lead == "control" for name in c.loads}
    used = _Counters(aboard)
    seen = _Seen(aboard, routes, catalogue, positions, used, frozenset(controlled), {})
    circuits: list[Planned] = []
    ordered, kept = _in_priority(aboard, used), aboard.kept
    for request in (r for r in ordered if not r.instrument):
        hung = _hung(request, seen)
        short += _shortages(request, hung)
        if hung:
            made_from = _depends_on(hung, seen)
            plan = partial(_plan_circuit, hung, seen)
            circuits.append(kept.take("circuit", request.id, made_from, plan))
    feeding = {name: c for c in circuits if not c.signals for name in c.loads}
    for request in (r for r in ordered if r.instrument in feeding):
        ends = (aboard.loads[request.instrument], aboard.loads[request.loads[0]])
        beside = (request, feeding[request.instrument], ends)
        plan = partial(_plan_sensor, request, feeding[request.instrument], seen)
        circuits.append(kept.take("circuit", request.id, beside, plan))
    ways = dict(used.feeder_ways())
    short += [Shortage("way", n, used.feeders[n].id) for n, number in ways.items() if not number]
    feeders = kept.take(
        "feeders",
        "",
        (aboard.boat, tuple(ways.items())),
        lambda: tuple(
            planned_feeder(f, aboard.boat, ways.get(f.id, 0))
            for f in aboard.boat.network.feeders.values()
        ),
    )
    led, strips = with_strips(sorted(circuits, key=lambda c: c.id), aboard)
    return Allocation(
        feeders=feeders,
        circuits=led,
        strips=strips,
        positions=positions,
        shortages=tuple(short),
    )
