"""Stage between allocate and route: what is behind the panels, as conductors of circuits."""

import dataclasses
from collections.abc import Iterable
from functools import partial

from vivid_loom.boat import ReturnBus
from vivid_loom.catalogue import Catalogue
from vivid_loom.drafting.helm.laying import Behind, Lamps, Laying, on_tabs
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.kept import Kept, Plain
from vivid_loom.drafting.patterns import Leg, Plan, Point
from vivid_loom.drafting.places.allocate import Allocation
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import RouteMap

__all__ = ["with_backs"]

_INNER = frozenset({"behind", "back"})  # stages asked in between


class _Screws:
    """Hands out screws of the nearest buses that no circuit comes home to."""

    def __init__(self, aboard: Aboard, allocation: Allocation, routes: RouteMap) -> None:
        self._aboard, self._routes = aboard, routes
        self._taken = _taken_screws(allocation.circuits)

    def issued(self, wire: str) -> Point | None:
        """Return the screw that lamps' way home was issued with, where that is still there."""
        one = self._aboard.order.landing("lamp screw", wire)
        bus = self._aboard.boat.returns_by_id.get(one.place) if one else None
        if one is None or bus is None or one.number > bus.screws:
            return None
        return None if (bus.id, one.number) in self._taken else _screw(bus, one.number)

    def take(self, station: str, wire: str) -> Point:
        """Return a screw for lamps' way home: its own, else a free one of the nearest bus; the
        battery's post where there is none.
        """
        found = self.issued(wire) or self._nearest(station)
        self._taken |= _number(found)
        return found

    def _nearest(self, station: str) -> Point:
        boat = self._aboard.boat
        for bus in sorted(
            boat.return_buses, key=lambda b: (self._routes.distance_m(station, b.station), b.id)
        ):
            free = (n for n in range(1, bus.screws + 1) if (bus.id, n) not in self._taken)
            if number := next(free, 0):
                return _screw(bus, number)
        return Point(boat.battery.id, "minus post", boat.battery.station, "post")


def _screw(bus: ReturnBus, number: int) -> Point:
    return Point(bus.id, f"screw {number}", bus.station, "screw")


def _number(end: Point) -> set[tuple[str, int]]:
    """Return the screw or stud that a point is, as (bus, number); nothing for any other."""
    return {(end.place, int(end.name.split()[-1]))} if end.kind in ("screw", "stud") else set()


def _taken_screws(circuits: Iterable[Planned]) -> set[tuple[str, int]]:
    """Return the screws that circuits come home to, as (bus, number)."""
    ends = (leg.end for circuit in circuits for leg in circuit.plan.legs if leg.live == "return")
    return {number for end in ends for number in _number(end)}


def _renumbered(plan: Plan, kept: tuple[Leg, ...], more: tuple[Leg, ...]) -> Plan:
    """Return a plan with fewer and more conductors; its ways are through those that stay."""
    now = {leg.id: i for i, leg in enumerate(kept)}
    paths = tuple(
        (load, tuple(now[plan.legs[i].id] for i in series)) for load, series in plan.paths
    )
    return Plan((*kept, *more), paths)


def _kept_legs(plan: Plan, left_out: tuple[frozenset[Point], ...]) -> tuple[Leg, ...]:
    """Return a circuit's own conductors without the jumpers that are left out by hand."""
    if not left_out:
        return plan.legs
    passed = {i for _, series in plan.paths for i in series}
    return tuple(
        leg
        for i, leg in enumerate(plan.legs)
        if i in passed or frozenset({leg.start, leg.end}) not in left_out
    )


def _wired(
    circuit: Planned, laid: tuple[Leg, ...], left_out: tuple[frozenset[Point], ...], kept: Kept
) -> Planned:
    """Return a circuit with what is laid for its switches' lamps, without what is left out."""
    own = _kept_legs(circuit.plan, left_out)
    if not laid and len(own) == len(circuit.plan.legs):
        return circuit
    plan = partial(_renumbered, circuit.plan, own, laid)
    return kept.take("back", circuit.id, (circuit, own, laid), lambda: circuit.replanned(plan()))


def _behind(allocation: Allocation, aboard: Aboard, catalogue: Catalogue) -> Behind:
    """Return what is behind the panels: as before while nothing else ends on their tabs.

    Where a conductor goes from there, and how far, does not matter to it.
    """
    loads = aboard.loads.values()
    landed = (
        (name, leg.start[:2], leg.end[:2], leg.live, leg.lead, leg.carries == ())
        for name, leg in on_tabs(aboard, allocation)
    )
    instruments = (load for load in loads if load.function == "instrument_light")
    made_from = (
        tuple(landed),
        tuple((load.id, load.station) for load in instruments),
        tuple((circuit.id, circuit.loads, circuit.signals) for circuit in allocation.circuits),
        (tuple(aboard.switches.values()), tuple(allocation.positions.items())),
        (aboard.boat, aboard.profile.second_lamp, aboard.order.jumpers, aboard.order.built),
        catalogue,
    )
    laying = partial(Laying, aboard, allocation, catalogue)
    return aboard.kept.take("behind", "", Plain(made_from), lambda: laying().lay())


def with_backs(
    allocation: Allocation, aboard: Aboard, catalogue: Catalogue, routes: RouteMap
) -> tuple[Allocation, Lamps]:
    """Return the circuits with the wires behind the panels, and what becomes of every lamp."""
    made_from = (
        allocation.circuits,
        tuple(allocation.positions.items()),
        tuple(aboard.switches.values()),
        tuple(aboard.loads.values()),
        (aboard.order.jumpers, aboard.order.landings, aboard.order.built),
        (aboard.boat, aboard.profile, catalogue, routes),
    )

    def whole() -> tuple[tuple[Planned, ...], Lamps]:
        behind = _behind(allocation, aboard, catalogue)
        screws = _Screws(aboard, allocation, routes)
        laid = dict(behind.laid)
        wires = {each: f"{each[0]}-{each[1]}" for each in behind.homes}
        for name, home in sorted(wires, key=lambda each: screws.issued(wires[each]) is None):
            laid[name] = tuple(
                leg._replace(end=screws.take(leg.start.station, wires[name, home]))
                if leg.id == home
                else leg
                for leg in laid[name]
            )
        circuits = (
            _wired(circuit, laid.get(circuit.id, ()), behind.left_out, aboard.kept)
            for circuit in allocation.circuits
        )
        return tuple(circuits), behind.lamps

    circuits, lamps = aboard.kept.take("backs", "", made_from, whole, _INNER)
    return dataclasses.replace(allocation, circuits=circuits), lamps
