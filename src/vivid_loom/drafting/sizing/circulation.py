"""The most current that may flow home through a conductor, in any state of the supply.

What goes round through a return leaves it at a battery or source, comes out at its plus, passes
devices, and is home again through a load, a converter or another battery, which takes charge. With
every switch, relay and combiner closed the most of it is a greatest flow, whose limits are the
devices' ratings and what sources give by themselves: greatest flow equals least cut (L. R. Ford and
D. R. Fulkerson, Maximal flow through a network, 1956).
"""

from collections import deque
from collections.abc import Iterable, Mapping
from math import inf
from typing import Final, Literal, NamedTuple

from vivid_loom.boat import SOURCES, Feeder, Network
from vivid_loom.standards.short_circuit import battery_ohm

__all__ = ["Arc", "Circulation", "circulations"]

_FROM, _INTO = 0, 1
FULL_CELL_V: Final = 12.8 / 6
FLAT_CELL_V: Final = 11.5 / 6
"""Of a full and of a flat lead cell at rest; our choice."""


class Arc(NamedTuple):
    """A way for current between two nodes; node 0 is where the conductor ends, 1 where it begins.

    Attributes:
        most_a: what it lets pass, A; inf without a limit.
        device: feeder whose device limits it instead; '' for none.
        both: current may take it either way.
    """

    start: int
    end: int
    most_a: float
    device: str = ""
    both: bool = False


class Circulation(NamedTuple):
    """What may go round through one conductor.

    Attributes:
        home: ways from its end round to its beginning: its current flows home.
        back: the same for current that flows out through it, as while a battery is charged.
        charge_a: what charge sources alone send through it.
    """

    home: tuple[Arc, ...] = ()
    back: tuple[Arc, ...] = ()
    charge_a: float = 0.0

    def most_a(self, devices_a: Mapping[str, float]) -> float:
        """Return the most that may flow, A; inf where nothing limits it.

        Args:
            devices_a: ratings of the feeders' devices.
        """
        return max(greatest_flow_a(self.home, devices_a), greatest_flow_a(self.back, devices_a))


def greatest_flow_a(arcs: Iterable[Arc], devices_a: Mapping[str, float]) -> float:
    """Return the greatest flow from node 0 to node 1, A, by ever shorter of the ways left."""
    left: dict[int, dict[int, float]] = {_FROM: {}, _INTO: {}}
    for start, end, most_a, device, both in arcs:
        amps = devices_a.get(device, most_a) if device else most_a
        there, back = left.setdefault(start, {}), left.setdefault(end, {})
        there[end] = there.get(end, 0.0) + amps
        back[start] = back.get(start, 0.0) + (amps if both else 0.0)
    total = 0.0
    while way := _shortest(left):
        least = min(left[a][b] for a, b in way)
        if least == inf:
            return inf
        for a, b in way:
            left[a][b] -= least
            left[b][a] += least
        total += least
    return total


def _shortest(left: Mapping[int, Mapping[int, float]]) -> list[tuple[int, int]]:
    """Return the steps of a shortest way from node 0 to node 1 that has room; [] for none."""
    came: dict[int, int] = {_FROM: _FROM}
    waiting = deque([_FROM])
    while waiting:
        at = waiting.popleft()
        for onward, amps in left[at].items():
            if amps > 1e-9 and onward not in came:
                came[onward] = at
                if onward == _INTO:
                    steps = [(at, _INTO)]
                    while at != _FROM:
                        steps.append((came[at], at))
                        at = came[at]
                    return steps
                waiting.append(onward)
    return []


class _Joined:
    """Names that a conductor without a limit makes one."""

    def __init__(self) -> None:
        self._onto: dict[str, str] = {}

    def find(self, name: str) -> str:
        while name in self._onto:
            name = self._onto[name]
        return name

    def join(self, one: str, other: str) -> None:
        one, other = self.find(one), self.find(other)
        if one != other:
            self._onto[one] = other


def circulations(
    network: Network, circuits: Mapping[tuple[str, str], float]
) -> dict[str, Circulation]:
    """Return what may go round through every return, by its feeder's id.

    Args:
        circuits: what the devices of circuits let pass, A, by the place they start from and the bus
            they come home to.
    """
    around = _Around(network, circuits)
    return {f.id: around.through(f) for f in network.feeders.values() if f.bus and f.home}


class _Way(NamedTuple):
    """A way between two named places: down a load, up a source, or along the plus side.

    Attributes:
        plus, far: where it is plus, and its minus; for one along the plus side another plus.
        most_a, device: see ``Arc``.
    """

    kind: Literal["down", "up", "along"]
    plus: str
    far: str
    most_a: float
    device: str = ""


class _Around:
    """Ways of a boat's current outside the conductor that is asked after."""

    def __init__(self, network: Network, circuits: Mapping[tuple[str, str], float]) -> None:
        self.network = network
        self.returns = {
            f.id: (f.bus.id, network.home_of(f))
            for f in network.feeders.values()
            if f.bus and f.home
        }
        self.plus = _Joined()
        fed = [(f, f.feed) for f in network.feeders.values() if f.feed]
        for feeder, feed in fed:
            if not feed.family:
                self.plus.join(feed.source, self._inlet(feeder))
        along = [
            _Way("along", feed.source, self._inlet(feeder), inf, feeder.id)
            for feeder, feed in fed
            if feed.family
        ]
        batteries = network.batteries
        down = [_Way("down", name, name, self._takes_a(name)) for name in batteries]
        up = [_Way("up", name, name, inf) for name in batteries]
        loads = [_Way("down", place, bus, amps) for (place, bus), amps in circuits.items()]
        charge, converted = [], []
        for name, supply in network.supplies.items():
            if network.converts(name):
                loads.append(_Way("down", f"{name} input", network.minus_of(name), inf))
                converted.append(_Way("up", name, network.minus_of(name), supply.total_max_a))
            elif supply.kind in SOURCES:
                charge.append(_Way("up", name, network.minus_of(name), supply.total_max_a))
        self.all = (*along, *down, *up, *loads, *charge, *converted)
        self.charging = (*(way._replace(device="") for way in along), *down, *charge)

    def _takes_a(self, name: str) -> float:
        """Return what may flow into a battery, A: what its devices let in.

        A starting lead has none: then what charge sources give, and what the other batteries drive
        into a flat one until all are even.
        """
        network = self.network
        leads = (lead for lead in network.feeders if network.source_of(lead) == name)
        if not any(map(network.is_starting_lead, leads)):
            return inf
        ohm = {
            n: b.internal_ohm or battery_ohm(network.nominal_v, b.cranking_a)
            for n, b in network.batteries.items()
        }
        others = sum(1 / each for n, each in ohm.items() if n != name)
        drives_v = (FULL_CELL_V - FLAT_CELL_V) * network.nominal_v / 2
        evens_a = drives_v / (ohm[name] + 1 / others) if others else 0.0
        given = (s.total_max_a for s in network.supplies.values() if s.kind in SOURCES)
        return evens_a + sum(given)

    def _inlet(self, feeder: Feeder) -> str:
        """Return where a feeder ends: what a converter takes it does not pass on."""
        name = self.network.fed_by(feeder.id)
        return f"{name} input" if self.network.converts(name) else name

    def through(self, feeder: Feeder) -> Circulation:
        """Return what may go round through one return."""
        minus = _Joined()
        for name, (bus, home) in self.returns.items():
            if name != feeder.id and home:
                minus.join(bus, home)
        bus, home = self.returns[feeder.id]
        there, back = ((home, bus), (bus, home))
        charge = (self._numbered(self.charging, minus, *ends) for ends in (there, back))
        return Circulation(
            self._numbered(self.all, minus, *there),
            self._numbered(self.all, minus, *back),
            max(greatest_flow_a(arcs, {}) for arcs in charge),
        )

    def _numbered(
        self, ways: Iterable[_Way], minus: _Joined, start: str, end: str
    ) -> tuple[Arc, ...]:
        """Return ways between numbered nodes.

        A minus that is both where the conductor ends and where it begins is node 0 to whatever
        takes current from it and node 1 to whatever brings it some, so that nothing goes round
        through returns alone.

        Args:
            minus: minuses that other returns make one.
            start, end: what is node 0 and node 1.
        """
        start, end = minus.find(start), minus.find(end)
        numbers: dict[str, int] = {}

        def node(name: str) -> int:
            return numbers.setdefault(name, len(numbers) + 2)

        def arc(way: _Way) -> Arc:
            plus = node(self.plus.find(way.plus))
            if way.kind == "along":
                far = node(self.plus.find(way.far))
                return Arc(plus, far, way.most_a, way.device, both=True)
            name = minus.find(way.far)
            if way.kind == "down":
                low = _INTO if name == end else _FROM if name == start else node(f"{name} minus")
                return Arc(plus, low, way.most_a)
            low = _FROM if name == start else _INTO if name == end else node(f"{name} minus")
            return Arc(low, plus, way.most_a)

        return tuple(map(arc, ways))
