"""What a feed pattern is: a plan of conductors between named points."""

from collections.abc import Callable
from typing import Final, Literal, NamedTuple

from vivid_loom.boat import LeadFunction

__all__ = [
    "OWN_FEEDS",
    "Leg",
    "Pattern",
    "Places",
    "Plan",
    "Point",
    "PointKind",
    "chain",
    "feeding",
]

PointKind = Literal["way", "tab", "lead", "tail", "screw", "stud", "post"]
"""'lead' is of a load, 'tail' of a switch that comes with its own leads."""


class Point(NamedTuple):
    """Where a conductor lands.

    Attributes:
        place: id of the block, switch, load or bus.
        name: the terminal there: 'way 7', '1C', 'plus', 'screw 4'.
    """

    place: str
    name: str
    station: str
    kind: PointKind

    @property
    def words(self) -> str:
        """Place and terminal, as 'HFB way 3'."""
        return f"{self.place} {self.name}"


class Leg(NamedTuple):
    """One conductor of a circuit from point to point, before it is cut at plugs.

    Attributes:
        carries: indices of the circuit's loads whose current it bears.
        live: when it is live: 'source' with its source, 'switched' with the switch, 'return'.
        lead: the lead of the load it serves; colours tell a manual feed by it.
        jumper: short and exact, at one place: joins two tabs of a panel, or leads of a load.
        jumper_m: how long, where it is not the usual length.
        fuse_a: of a fuse of its own, in a holder with tails between this leg and the next.
        stub: leads from a source's terminal to the device in its holder.
    """

    id: str
    start: Point
    end: Point
    carries: tuple[int, ...]
    live: Literal["source", "switched", "return"]
    lead: LeadFunction = "plus"
    jumper: bool = False
    stub: bool = False
    fuse_a: float | None = None
    jumper_m: float = 0.0

    @property
    def lights_lamp(self) -> bool:
        """Whether it serves a lamp of a switch, behind the panel."""
        return self.lead == "lamp" and not self.carries


class Places(NamedTuple):
    """Everything a pattern needs to know; loads in the order met along the run.

    Attributes:
        home: where current comes home to; None where the fed lead brings nothing home itself.
        lead_name: of the lead it feeds: 'sense 2'.
        joined_to: per load, the load it is joined to, −1 for the circuit's start and home.
        interlock: break contacts that its coils are fed through, feed and coil: up, then down.
    """

    way: Point
    contact: tuple[Point, ...]  # common, then one per throw used; () without a switch
    also: tuple[tuple[Point, ...], ...]  # further contacts beside it, likewise
    loads: tuple[str, ...]
    stations: tuple[str, ...]
    home: Point | None
    lead: LeadFunction = "plus"
    lead_name: str = "plus"
    joined_to: tuple[int, ...] = ()
    interlock: tuple[tuple[Point, Point], ...] = ()


class Plan(NamedTuple):
    """Conductors of one circuit and the ways current takes through them.

    Attributes:
        paths: per way of feeding a load: (load index, indices of the legs in series).
    """

    legs: tuple[Leg, ...]
    paths: tuple[tuple[int, tuple[int, ...]], ...]

    @property
    def start(self) -> Point:
        """Where current leaves its source."""
        if self.paths:
            return self.legs[self.paths[0][1][0]].start
        return next((leg.start for leg in self.legs if leg.stub), self.legs[0].start)


class Pattern(NamedTuple):
    """A way of feeding loads.

    Attributes:
        supply_kinds: kinds of block it can hang on.
        plus_leads: positive leads of a load that it feeds; () where the circuit names one.
        takes_also: whether further contacts may stand beside the first, and at least one must.
    """

    name: str
    title: str
    needs_contact: bool
    supply_kinds: tuple[str, ...]
    plus_leads: tuple[LeadFunction, ...]
    plan: Callable[[Places], Plan]
    takes_also: Literal["none", "any", "some"] = "none"


def homeward(places: Places) -> Point:
    """Return where a load's current comes home to.

    Raises:
        AssertionError: it feeds a lead that brings nothing home itself.
    """
    assert places.home is not None
    return places.home


def lead(places: Places, index: int, function: str) -> Point:
    """Return the point of a load's lead."""
    return Point(places.loads[index], function, places.stations[index], "lead")


OWN_FEEDS: Final = 2
"""Contacts of a circuit that have a feed each from its way: a way takes no more conductors."""


def feeding(contacts: int, legs_each: int) -> tuple[tuple[int, ...], ...]:
    """Return the legs that feed each of several contacts, by index.

    Args:
        legs_each: legs that every contact brings, the first of them its feed.
    """
    own = [legs_each * i for i in range(contacts)]
    return tuple(
        (own[i],) if i < OWN_FEEDS else tuple(own[OWN_FEEDS - 1 : i + 1]) for i in range(contacts)
    )


def chain(
    places: Places, start: Point, first_leg: int, live: Literal["source", "switched"]
) -> Plan:
    """Return the conductors from ``start`` to all loads, joined as they are, and home again.

    Positive legs come first, then the returns; each carries the loads beyond it.
    ``first_leg`` numbers the first positive leg.
    """
    count = len(places.loads)
    joined = places.joined_to or tuple(range(-1, count - 1))
    before = tuple(_before(i, joined) for i in range(count))
    beyond = tuple(tuple(j for j in range(count) if i in before[j]) for i in range(count))
    legs: list[Leg] = []
    tells = places.lead if places.home is None else "plus"
    for i, parent in enumerate(joined):
        out = start if parent < 0 else lead(places, parent, places.lead_name)
        onto = lead(places, i, places.lead_name)
        legs.append(Leg(f"P{first_leg + i}", out, onto, beyond[i], live, tells))
    if places.home is None:
        return Plan(tuple(legs), tuple((i, before[i]) for i in range(count)))
    for i, parent in enumerate(joined):
        home = places.home if parent < 0 else lead(places, parent, "minus")
        legs.append(Leg(f"N{i + 1}", lead(places, i, "minus"), home, beyond[i], "return"))
    paths = tuple((i, (*before[i], *(count + k for k in before[i]))) for i in range(count))
    return Plan(tuple(legs), paths)


def _before(load: int, joined_to: tuple[int, ...]) -> tuple[int, ...]:
    """Return the loads on the way to a load from the start, the load itself last."""
    found = [load]
    while joined_to[found[-1]] >= 0:
        found.append(joined_to[found[-1]])
    return tuple(reversed(found))


def held(plan: Plan, source: Point, holder: str, kind: PointKind) -> Plan:
    """Return ``plan`` with its device in a holder of its own, and the stub that leads to it.

    The first leg starts at the holder then; the stub comes last, and first in every way.
    ``kind`` tells what the holder has: studs, or tails of its own.
    """
    into = Point(holder, "in", source.station, kind)
    out = Point(holder, "out", source.station, kind)
    legs = tuple(leg._replace(start=out) if leg.start == source else leg for leg in plan.legs)
    carries = tuple(sorted({i for leg in plan.legs for i in leg.carries}))
    stub = Leg("S1", source, into, carries, "source", stub=True)
    paths = tuple((load, (len(legs), *series)) for load, series in plan.paths)
    return Plan((*legs, stub), paths)


def behind(plan: Plan, ahead: tuple[Leg, ...]) -> Plan:
    """Return ``plan`` with legs put in series ahead of every path."""
    shift = len(ahead)
    paths = tuple(
        (load, (*range(shift), *(index + shift for index in legs))) for load, legs in plan.paths
    )
    return Plan((*ahead, *plan.legs), paths)
