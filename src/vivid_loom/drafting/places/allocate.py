"""Stage 2, allocate: block and way, helm position, return bus and screw for every circuit."""

from collections import Counter
from collections.abc import Iterable
from typing import NamedTuple

from vivid_loom.boat import Boat, CircuitRequest, ReturnBus, Supply
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.patterns import PATTERNS, Places, Point
from vivid_loom.drafting.patterns.feeder import feeder_plan
from vivid_loom.drafting.places.placing import placing
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.protect import WantedRating, one_fuse, wanted_rating
from vivid_loom.drafting.places.route import RouteMap
from vivid_loom.drafting.places.strips import Strip, with_strips
from vivid_loom.quantities import computed

__all__ = ["Allocation", "Shortage", "allocate", "switch_place"]


class Shortage(NamedTuple):
    """Something there was not enough of: 'way', 'position' or 'screw'."""

    kind: str
    subject: str
    where: str


@computed
class Allocation:
    """All circuits, feeders first, the strips they pass, and what ran short."""

    feeders: tuple[Planned, ...]
    circuits: tuple[Planned, ...]
    positions: dict[str, int]
    shortages: tuple[Shortage, ...]
    strips: tuple[Strip, ...] = ()


def switch_place(position: int, switch_id: str) -> str:
    """Return the place name of a helm switch: 'SW3', or its id where it got no position."""
    return f"SW{position}" if position else f"SW {switch_id}"


def helm_positions(aboard: Aboard) -> tuple[dict[str, int], list[Shortage]]:
    """Give switches their positions: overridden ones first, then by rank from position 1."""
    count = aboard.boat.helm.positions
    fixed: dict[str, int] = {}
    for switch_id in aboard.switches:
        override = aboard.order.override(switch_id, "helm_position")
        if override and override.value.isdigit() and 1 <= int(override.value) <= count:
            fixed[switch_id] = int(override.value)
    free = [p for p in range(1, count + 1) if p not in fixed.values()]
    waiting = sorted(
        (s for s in aboard.switches.values() if s.id not in fixed), key=lambda s: (s.rank, s.id)
    )
    short = [Shortage("position", s.id, aboard.boat.helm.id) for s in waiting[len(free) :]]
    taken = {s.id: p for s, p in zip(waiting, free, strict=False)}
    return {**fixed, **taken}, short


def _supplies_for(request: CircuitRequest, aboard: Aboard) -> list[Supply]:
    forced = aboard.order.override(request.id, "supply")
    named = forced.value if forced else request.supply
    if named:
        return [s for s in aboard.boat.supplies if s.id == named]
    kinds = PATTERNS[request.pattern].supply_kinds
    return [
        s for s in aboard.boat.supplies if s.level == request.level and s.kind in kinds and s.ways
    ]


class _Counters:
    """Ways and screws handed out so far."""

    def __init__(self) -> None:
        self.ways: Counter[str] = Counter()
        self.screws: Counter[str] = Counter()


def _shares_one_fuse(supply: Supply, aboard: Aboard) -> bool:
    """Tell whether the profile describes this block as one panel behind one fuse."""
    if aboard.profile.helm_protection != "one_fuse":
        return False
    areas = aboard.boat.area_at
    at_helm = areas[supply.station] == areas[aboard.boat.helm.station]
    return at_helm and supply.kind == "fuse_block" and supply.level == "unswitched"


def _choose_supply(
    request: CircuitRequest, aboard: Aboard, routes: RouteMap, used: _Counters
) -> tuple[Supply | None, WantedRating | None, int]:
    loads = tuple(aboard.loads[name] for name in request.loads)
    first = loads[0].station
    best: tuple[Supply, WantedRating | None] | None = None
    candidates = sorted(
        _supplies_for(request, aboard),
        # a bare bus only where no fuse block bears the rating
        key=lambda s: (
            not all(load.allows(s.family) for load in loads),
            s.kind == "bus",
            routes.distance_m(s.station, first),
            s.id,
        ),
    )
    for supply in candidates:
        wanted = wanted_rating(loads, supply.family)
        if not supply.ways_protected:
            wanted = None
        if wanted and _shares_one_fuse(supply, aboard):
            wanted = one_fuse(aboard.profile.one_fuse_a)
        best = best or (supply, wanted)
        bears = wanted is None or wanted.rating_a <= supply.way_max_a
        unknown = any(load.running_a is None for load in loads)
        bare = not supply.ways_protected
        if bears and (wanted or unknown or bare) and used.ways[supply.id] < supply.ways:
            used.ways[supply.id] += 1
            return supply, wanted, used.ways[supply.id]
    return (best[0], best[1], 0) if best else (None, None, 0)


def _choose_bus(
    station: str,
    request: CircuitRequest,
    supply: Supply,
    aboard: Aboard,
    routes: RouteMap,
    used: _Counters,
) -> tuple[ReturnBus, int]:
    buses = aboard.boat.buses_by_id
    forced = aboard.order.override(request.id, "return_bus")
    beside = home_bus(aboard.boat, supply) if supply.kind == "bus" else None
    if forced and forced.value in buses:
        order = [buses[forced.value]]
    elif beside:  # what a heavy bus feeds goes home beside it, not through an area's negative
        order = [beside]
    elif aboard.profile.negatives == "main" and not request.cable:
        order = list(buses.values())[:1]
    else:
        order = sorted(buses.values(), key=lambda b: (routes.distance_m(station, b.station), b.id))
    bus = next((b for b in order if used.screws[b.id] < b.screws), None)
    if bus is None:
        return order[0], 0
    used.screws[bus.id] += 1
    return bus, used.screws[bus.id]


def _contact_points(request: CircuitRequest, position: int, station: str) -> tuple[Point, ...]:
    if request.contact is None:
        return ()
    place = switch_place(position, request.contact.switch)
    names = ["C", *("U" if throw == "up" else "D" for throw in request.contact.throws)]
    return tuple(Point(place, f"{request.contact.pole}{name}", station, "tab") for name in names)


def _plan_circuit(
    request: CircuitRequest,
    aboard: Aboard,
    routes: RouteMap,
    used: _Counters,
    positions: dict[str, int],
) -> tuple[Planned | None, list[Shortage]]:
    supply, wanted, way = _choose_supply(request, aboard, routes, used)
    if supply is None:
        return None, [Shortage("way", request.id, request.level.replace("_", " "))]
    short = [] if way else [Shortage("way", request.id, supply.id)]
    helm = aboard.boat.helm.station
    feed = helm if request.contact else supply.station
    ordered = sorted(
        request.loads, key=lambda n: (routes.distance_m(feed, aboard.loads[n].station), n)
    )
    stations = tuple(aboard.loads[name].station for name in ordered)
    # a cable brings its negative back to where it is fed
    several = len(PATTERNS[request.pattern].plus_leads) > 1  # then one of them leaves the block
    landing = (supply.station if several else feed) if request.cable else stations[0]
    bus, screw = _choose_bus(landing, request, supply, aboard, routes, used)
    if not screw:
        short.append(Shortage("screw", request.id, bus.id))
    position = positions.get(request.contact.switch, 0) if request.contact else 0
    places = Places(
        way=Point(
            supply.id, f"way {way}", supply.station, "stud" if supply.kind == "bus" else "way"
        ),
        contact=_contact_points(request, position, helm),
        loads=tuple(ordered),
        stations=stations,
        home=(
            Point(bus.id, f"stud {screw}", bus.station, "stud")
            if supply.kind == "bus"
            else Point(bus.id, f"screw {screw}", bus.station, "screw")
        ),
        lead=request.lead,
    )
    planned = Planned(
        id=request.id,
        label=request.label,
        pattern=request.pattern,
        source=supply.id,
        way=way,
        loads=tuple(ordered),
        plan=PATTERNS[request.pattern].plan(places),
        bus=bus.id,
        wanted=wanted,
        family=supply.family,
        request=request,
        position=position,
        places=placing(request, supply, way, bus, screw, position, aboard, routes),
    )
    return planned, short


def home_bus(boat: Boat, supply: Supply) -> ReturnBus | None:
    """Return the bus that the return beside a supply's feeder goes home to; None: battery."""
    paired = {bus.paired_with: bus for bus in boat.return_buses}
    for name in boat.supply_chain(supply.id)[1:]:
        if name in paired:
            return paired[name]
    return None


def _plan_feeder(index: int, supply: Supply, boat: Boat) -> Planned:
    stations = {s.id: s.station for s in boat.supplies}
    stations[boat.battery.id] = boat.battery.station
    at_battery = supply.fed_from == boat.battery.id
    start = Point(
        supply.fed_from,
        "plus post" if at_battery else "output stud",
        stations[supply.fed_from],
        "post" if at_battery else "stud",
    )
    block = Point(supply.id, "feed stud", supply.station, "stud")
    bus = next((b for b in boat.return_buses if b.paired_with == supply.id), None)
    onto = home_bus(boat, supply)
    near = Point(bus.id, "feed stud", bus.station, "stud") if bus else None
    far = (
        Point(onto.id, "feeder stud", onto.station, "stud")
        if onto
        else Point(boat.battery.id, "minus post", boat.battery.station, "post")
    )
    return Planned(
        id=f"F{index:02d}",
        label=f"{supply.name} feeder",
        pattern="feeder",
        source=supply.fed_from,
        way=0,
        loads=(),
        plan=feeder_plan(start, block, near, far if near else None),
        bus=bus.id if bus else "",
        wanted=None,
        family=supply.feed_family or "",
        feeds=supply.id,
    )


def _top_down(boat: Boat) -> list[Supply]:
    return sorted(boat.supplies, key=lambda s: (len(boat.supply_chain(s.id)), s.id))


def _in_priority(requests: Iterable[CircuitRequest], aboard: Aboard) -> list[CircuitRequest]:
    def rank(request: CircuitRequest) -> int:
        return aboard.switches[request.contact.switch].rank if request.contact else 9

    return sorted(requests, key=lambda request: (rank(request), request.id))


def allocate(aboard: Aboard, routes: RouteMap) -> Allocation:
    """Give every circuit its block, way, helm position, bus and screw.

    Emergency circuits choose first; then navigation, working, comfort; ties by id. Nothing is
    handed out twice: what runs short is reported, never doubled.

    Raises:
        DraftError: a station that cannot be reached.
    """
    positions, short = helm_positions(aboard)
    used = _Counters()
    circuits: list[Planned] = []
    for request in _in_priority(aboard.circuits, aboard):
        planned, missing = _plan_circuit(request, aboard, routes, used, positions)
        short += missing
        if planned:
            circuits.append(planned)
    feeders = (_plan_feeder(i, s, aboard.boat) for i, s in enumerate(_top_down(aboard.boat), 1))
    led, strips = with_strips(sorted(circuits, key=lambda c: c.id), aboard)
    return Allocation(
        feeders=tuple(feeders),
        circuits=led,
        strips=strips,
        positions=positions,
        shortages=tuple(short),
    )
