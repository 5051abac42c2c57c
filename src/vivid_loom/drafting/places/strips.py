"""Terminal strips between the panel and the boat: a pole and a test point for every circuit."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from functools import partial
from itertools import count
from typing import NamedTuple

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.patterns import Plan, Point
from vivid_loom.drafting.places.numbers import Numbers
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.order import Landing
from vivid_loom.quantities import computed, in_reading_order
from vivid_loom.standards.terminals import STRIP_POLES, strip_rating_a

__all__ = ["Pole", "Strip", "with_strips"]


class Pole(NamedTuple):
    """One pole in use: the conductor that arrives from the panel goes on to the boat."""

    number: int
    circuit: str
    leg: str


@computed
class Strip:
    """A terminal strip; its poles are the circuits' test points."""

    id: str
    station: str
    rated_a: float
    poles: int
    used: tuple[Pole, ...]


def _leaving(planned: Planned, panel: frozenset[str]) -> int | None:
    """Return the leg that takes a circuit out of the panel; None where none does."""
    for index, leg in enumerate(planned.plan.legs):
        plus = leg.live != "return" and not leg.jumper
        from_panel = leg.start.station in panel and leg.start.kind in ("tab", "screw", "way")
        to_load = leg.end.kind == "lead" and leg.end.station != leg.start.station
        if plus and from_panel and to_load:
            return index
    return None


def _through(plan: Plan, index: int, strip: str, pole: int) -> Plan:
    """Return ``plan`` with what leaves the panel at one leg's start led over a strip's pole."""
    leg = plan.legs[index]
    station = leg.start.station
    arrives = Point(strip, f"pole {pole} in", station, "screw")
    leaves = Point(strip, f"pole {pole} out", station, "screw")
    going = {
        i
        for i, other in enumerate(plan.legs)
        if other.start == leg.start and other.end.kind == "lead" and not other.jumper
    }
    carries = tuple(sorted({load for i in going for load in plan.legs[i].carries}))
    first = leg._replace(id=f"{leg.id}s", end=arrives, carries=carries)
    led = tuple(
        other._replace(start=leaves) if i in going else other for i, other in enumerate(plan.legs)
    )
    legs = (*led[:index], first, *led[index:])

    def moved(legs_in_series: tuple[int, ...]) -> tuple[int, ...]:
        found: list[int] = []
        for i in legs_in_series:
            on = i + (i >= index)  # one leg further on, behind the one put in
            found += [index, on] if i in going else [on]
        return tuple(found)

    return Plan(legs, tuple((load, moved(series)) for load, series in plan.paths))


def _led(circuit: Planned, index: int, pole: tuple[str, int]) -> Planned:
    return circuit.replanned(_through(circuit.plan, index, *pole))


class _Rack:
    """Hands out poles, circuit by circuit; what was issued with one keeps it."""

    def __init__(self, poles: Numbers, landings: Iterable[Landing]) -> None:
        self._poles = poles
        issued = (one for one in landings if one.kind == "strip")
        self._issued = {one.subject: (one.place, one.number) for one in issued}
        self._kinds: dict[str, tuple[str, float]] = {}  # of strips by name: station and rating
        self._used: dict[str, list[Pole]] = {}
        self._with_room: dict[tuple[str, float], dict[str, None]] = defaultdict(dict)
        self._new_names = (f"TS{i}" for i in count(1))

    def stays(self, station: str, rating_a: float, circuit: str) -> bool:
        """Tell whether the strip that a circuit was issued with is still one for it."""
        issued = self._poles.issued(circuit)
        kind = (station, round(strip_rating_a(rating_a)))
        return issued is not None and self._issued.get(issued.place, kind) == kind

    def take(self, station: str, rating_a: float, circuit: str, leg: str) -> tuple[str, int]:
        """Return strip and pole number at a station, strong enough for the device."""
        rated = strip_rating_a(rating_a)
        issued = self._poles.issued(circuit)
        stays = issued is not None and self.stays(station, rating_a, circuit)
        name = self._strip_for(station, rated, issued.place if issued and stays else "")
        poles = STRIP_POLES[rated]
        number = self._poles.take(name, circuit, poles)
        self._used[name].append(Pole(number, circuit, leg))
        if not self._poles.has_room(name, poles):
            del self._with_room[station, rated][name]
        return name, number

    def _strip_for(self, station: str, rated_a: float, issued: str) -> str:
        """Return a strip with room: the one a circuit was issued with, else the first there is."""
        kind = (station, rated_a)
        if issued and issued not in self._kinds:
            return self._new(issued, *kind)
        if issued in self._with_room[kind]:
            return issued
        if (with_room := next(iter(self._with_room[kind]), None)) is not None:
            return with_room
        known = self._poles.places | self._kinds.keys()
        return self._new(next(name for name in self._new_names if name not in known), *kind)

    def _new(self, name: str, station: str, rated_a: float) -> str:
        self._kinds[name], self._used[name] = (station, rated_a), []
        self._with_room[station, rated_a][name] = None
        return name

    def strips(self) -> tuple[Strip, ...]:
        """Return all strips by number."""
        return tuple(
            Strip(
                id=name,
                station=station,
                rated_a=rated_a,
                poles=STRIP_POLES[rated_a],
                used=tuple(sorted(self._used[name])),
            )
            for name, (station, rated_a) in sorted(
                self._kinds.items(), key=lambda item: in_reading_order(item[0])
            )
        )


def with_strips(
    circuits: Sequence[Planned], aboard: Aboard
) -> tuple[tuple[Planned, ...], tuple[Strip, ...]]:
    """Lead every circuit that leaves the panel over a strip, where the profile asks for it.

    The panel is everything in the helm's area. Strips are asked for from so many loads up; a few
    loads run home directly. What lies in the boat stays as it is, led over a pole or past it.
    """
    least = aboard.profile.strip_from_loads
    areas = {station.id: station.area for station in aboard.boat.stations}
    home = {areas[panel.station] for panel in aboard.boat.panels}
    panel = frozenset(name for name, area in areas.items() if area in home)
    leaving = {
        c.id: index
        for c in circuits
        if (index := _leaving(c, panel)) is not None and not aboard.order.override(c.id, "strip")
    }
    aboard_now = {circuit.id for circuit in circuits}
    numbers = Numbers("pole", aboard.order.landings, aboard_now.__contains__)
    several = bool(least) and sum(len(c.loads) for c in circuits if c.id in leaving) >= least
    rack, led = _Rack(numbers, aboard.order.landings), dict[str, Planned]()

    def asks(circuit: Planned) -> tuple[str, float, str]:
        leg = circuit.plan.legs[leaving[circuit.id]]
        return leg.start.station, circuit.wanted.rating_a if circuit.wanted else 0.0, circuit.id

    going = [
        circuit
        for circuit in circuits
        if circuit.id in leaving
        if (numbers.issued(circuit.id) if aboard.order.built_as(circuit.id) else several)
    ]
    for circuit in sorted(going, key=lambda c: not rack.stays(*asks(c))):  # then what is new
        index = leaving[circuit.id]
        strip, pole = rack.take(*asks(circuit), circuit.plan.legs[index].id)
        over = partial(_led, circuit, index, (strip, pole))
        led[circuit.id] = aboard.kept.take("strip", circuit.id, (circuit, strip, pole), over)
    return tuple(led.get(circuit.id, circuit) for circuit in circuits), rack.strips()
