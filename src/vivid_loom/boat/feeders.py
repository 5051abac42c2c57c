"""The network between batteries and blocks: what feeds what, and what goes home where.

This is the one place that knows what is upstream of what. A *feeder* is a conductor from a battery
or part to the next part, with the return that runs beside it, or a bus's conductor home by
itself. A *chain* is a way back to a battery, as ids of feeders, the nearest first.
"""

import dataclasses
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from itertools import count, takewhile
from typing import Final, NamedTuple

from vivid_loom.boat.supply import Battery, Feed, Home, Level, ReturnBus, Supply
from vivid_loom.quantities import Gauge
from vivid_loom.standards.conductor import area_mm2

__all__ = ["CUTTING", "PASSING", "SOURCES", "STATES", "Feeder", "Network", "numbered"]

Chain = tuple[str, ...]
SOURCES: Final = frozenset({"charge_source"})
"""Kinds that give current to what they are joined to instead of taking it."""

CUTTING: Final[Mapping[str, Level]] = {
    "battery_switch": "unswitched",
    "selector": "unswitched",
    "key_switch": "ignition",
    "relay": "ignition",
    "contactor": "ignition",
}
"""Kinds that cut what stands behind them, and the level of 'on' they make of it."""

PASSING: Final = frozenset({"battery_switch", "selector", "key_switch", "relay", "contactor"})
"""Kinds that only let through what comes in: its device may protect what leaves them as well."""

ANY: Final = ("*",)
STATES: Final[Mapping[str, Mapping[str, tuple[str, ...]]]] = {
    "battery_switch": {"off": (), "on": ANY},
    "selector": {"off": (), "1": ("1",), "both": ANY, "2": ("2",)},
    "key_switch": {"off": (), "on": ANY},
    "relay": {"released": (), "pulled": ANY},
    "contactor": {"released": (), "pulled": ANY},
}
"""By kind, its states, the one at rest first, and the inputs that each lets through."""

LEVELS: Final[tuple[Level, ...]] = ("battery_direct", "unswitched", "ignition")


class Feeder(NamedTuple):
    """A conductor between parts of the supply, or a return by itself.

    Attributes:
        supply, feed: what it feeds and how; None for a return by itself.
        bus, home: the return bus whose conductor home runs beside it; None without one. Beside
            what gives current by itself runs its own minus: the bus then has the part's id.
    """

    id: str
    supply: Supply | None
    feed: Feed | None
    bus: ReturnBus | None
    home: Home | None


class Network:
    """Batteries, parts and buses of one boat, joined by its feeders."""

    def __init__(
        self,
        batteries: Sequence[Battery],
        supplies: Sequence[Supply],
        buses: Sequence[ReturnBus],
        nominal_v: float = 12.0,
    ) -> None:
        self.nominal_v = nominal_v
        self.batteries = {battery.id: battery for battery in batteries}
        self.supplies = {supply.id: supply for supply in supplies}
        self.buses = {bus.id: bus for bus in buses}
        self.engine_blocks = frozenset(s.case_on for s in supplies if s.case_on)
        """Buses that are an engine's block: its battery cable is their way home, for cranking."""
        self._chains: dict[str, tuple[Chain, ...]] = {}
        self._homes: dict[str, tuple[Chain, ...]] = {}
        self._to_source: dict[str, tuple[Chain, ...]] = {}
        self._upstream: dict[str, frozenset[str]] = {}
        self._regulated: dict[str, bool] = {}
        self._volts: dict[str, float] = {}
        self.feeders: dict[str, Feeder] = {f.id: f for f in self._paired()}

    def _paired(self) -> Iterator[Feeder]:
        beside: dict[str, tuple[ReturnBus, Home]] = {}
        alone: list[Feeder] = []
        for bus in self.buses.values():
            for home in bus.homes:
                if home.beside in self.supplies and home.beside not in beside:
                    beside[home.beside] = (bus, home)
                else:
                    alone.append(Feeder(home.id, None, None, bus, home))
        for supply in self.top_down():
            if supply.id not in beside and self.has_minus_lead(supply):
                own = ReturnBus(
                    id=supply.id, name=f"{supply.name}, minus", station=supply.station, screws=1
                )
                beside[supply.id] = (own, Home(beside=supply.id))
            for index, feed in enumerate(supply.feeds):
                pair = None if index else beside.get(supply.id)
                yield Feeder(feed.id, supply, feed, *(pair or (None, None)))
        yield from alone

    def top_down(self) -> list[Supply]:
        """Return the parts, nearest to a battery first, then by id."""
        depth = {name: self._depth(name, ()) for name in self.supplies}
        return sorted(self.supplies.values(), key=lambda s: (depth[s.id], s.id))

    def _depth(self, name: str, passed: tuple[str, ...]) -> int:
        if name not in self.supplies or name in passed:
            return 0
        return 1 + max(
            (self._depth(feed.source, (*passed, name)) for feed in self.supplies[name].feeds),
            default=0,
        )

    @staticmethod
    def has_minus_lead(supply: Supply) -> bool:
        """Tell whether a part gives current by itself and has a minus lead to take it home."""
        gives = supply.kind in SOURCES or supply.output_v is not None
        return gives and not supply.case_on

    def minus_of(self, supply_id: str) -> str:
        """Return where a source's current comes home to it: its own minus, or a return bus."""
        supply, feeder = self.supplies[supply_id], self.feeder_of(supply_id)
        if supply.case_on in self.buses:
            return supply.case_on
        if feeder and feeder.bus:
            return feeder.bus.id
        return self.bus_at(supply_id) or next(iter(self.batteries), "")

    def is_starting_lead(self, feeder_id: str) -> bool:
        """Tell whether an engine's starter draws through a feeder's positive without a device."""
        feed = self.feeders[feeder_id].feed
        bare = feed is not None and not feed.family
        return bare and any(out for out, _ in self._starts(feeder_id))

    def least_gauge(self, feeder_id: str) -> str:
        """Return the thinnest that makers allow for a feeder, by what is said of it and of what
        draws through it or goes home by it; '' where nobody says anything.

        The starter's current takes the whole way: a short lead of it as thin as an area's negative
        would bear it as well.
        """
        said = {gauge for pair in self._starts(feeder_id) for gauge in pair if gauge}
        return max(said, key=lambda text: area_mm2(Gauge.parse(text)), default="")

    def _starts(self, feeder_id: str) -> Iterator[tuple[str, str]]:
        """Yield the gauges stated of feeders whose current passes one: out, and home."""
        for other in self.feeders.values():
            feed, bus, home = other.feed, other.bus, other.home
            passed = feed and (other.id == feeder_id or feeder_id in self.upstream(feed.source))
            out = feed.cranking if feed and passed else ""
            way_home = other.id == feeder_id or feeder_id in self.homeward(self.home_of(other))
            yield out, home.gauge if bus and home and way_home else ""

    def circle(self) -> Supply | None:
        """Return a part that is fed by way of itself; None where none is."""

        def closes(name: str, start: str, passed: set[str]) -> bool:
            for feed in self.supplies[name].feeds if name in self.supplies else ():
                if feed.source == start:
                    return True
                if feed.source not in passed:
                    passed.add(feed.source)
                    if closes(feed.source, start, passed):
                        return True
            return False

        return next((s for s in self.supplies.values() if closes(s.id, s.id, set())), None)

    def small_thread(self, place: str) -> str:
        """Return the thread of the ways of a block or the screws of a bus; M4 anywhere else."""
        if place in self.supplies:
            return self.supplies[place].way_stud
        return self.buses[place].screw if place in self.buses else "M4"

    def feeder_of(self, supply_id: str, index: int = 0) -> Feeder | None:
        """Return the feeder of a part's ``index``-th feed; None where it has no such feed."""
        supply = self.supplies.get(supply_id)
        if supply is None or index >= len(supply.feeds):
            return None
        return self.feeders[supply.feeds[index].id]

    def chains(self, place: str) -> tuple[Chain, ...]:
        """Return every way from a part back to a battery; a battery's own is empty.

        What a charge source gives is no way back: nothing is fed from one.
        """
        if place not in self._chains:
            self._chains[place] = tuple(self._back(place))
        return self._chains[place]

    def _back(self, place: str) -> Iterator[Chain]:
        if place in self.batteries:
            yield ()
        supply = self.supplies.get(place)
        for feed in supply.feeds if supply and supply.kind not in SOURCES else ():
            for rest in self.chains(feed.source):
                yield (feed.id, *rest)

    def to_source(self, place: str) -> tuple[Chain, ...]:
        """Return the ways back that end where the voltage begins: at a converter, or a battery."""
        if place not in self._to_source:
            cut = (
                takewhile(lambda n: not self.converts(self.fed_by(n)), c)
                for c in self.chains(place)
            )
            self._to_source[place] = tuple(dict.fromkeys(map(tuple, cut)))
        return self._to_source[place]

    def regulated(self, place: str) -> bool:
        """Tell whether a part stands behind a converter, which holds its voltage by itself."""
        if place not in self._regulated:
            ways = (name for chain in self.chains(place) for name in chain)
            self._regulated[place] = any(self.converts(self.fed_by(name)) for name in ways)
        return self._regulated[place]

    def fed_by(self, feeder_id: str) -> str:
        """Return the part that a feeder feeds; '' for a return by itself."""
        supply = self.feeders[feeder_id].supply
        return supply.id if supply else ""

    def converts(self, place: str) -> bool:
        """Tell whether a part gives another voltage than it takes."""
        return place in self.supplies and self.supplies[place].output_v is not None

    def voltage(self, place: str) -> float:
        """Return the system voltage at a part: its own or the next converter's output, in V."""
        if place not in self._volts:
            supply = self.supplies.get(place)
            volts = supply.output_v if supply else None
            if supply and volts is None and supply.feeds:
                volts = self.voltage(supply.feeds[0].source)
            self._volts[place] = volts or self.nominal_v
        return self._volts[place]

    def upstream(self, place: str) -> frozenset[str]:
        """Return the feeders on any way from a part back to a battery."""
        if place not in self._upstream:
            chains = self.chains(place)
            self._upstream[place] = frozenset(name for chain in chains for name in chain)
        return self._upstream[place]

    def only_through(self, place: str, parts: Collection[str]) -> bool:
        """Tell whether every way from a part back to a battery passes one of some parts."""
        ways = ({place, *map(self.source_of, chain)} for chain in self.chains(place))
        return all(way & set(parts) for way in ways)

    def batteries_behind(self, place: str) -> tuple[Battery, ...]:
        """Return the batteries that may feed a part, in the boat's order."""
        if place in self.batteries:
            return (self.batteries[place],)
        ends = {self.source_of(chain[-1]) for chain in self.chains(place)}
        return tuple(b for b in self.batteries.values() if b.id in ends)

    def fused_post(self, battery_id: str) -> str:
        """Return the stud behind a device on a battery's post, beside it; else the post itself.

        A small fuse there relies on that device, which breaks what a battery gives.
        """
        station = self.batteries[battery_id].station
        studs = (s for s in self.supplies.values() if s.kind == "stud" and s.station == station)
        from_it = ((s.id, f) for s in studs for f in s.feeds if f.source == battery_id and f.family)
        return next((name for name, _ in from_it), battery_id)

    def source_of(self, feeder_id: str) -> str:
        """Return what a feeder comes from; '' for a return by itself."""
        feed = self.feeders[feeder_id].feed
        return feed.source if feed else ""

    def homes(self, bus_id: str) -> tuple[Chain, ...]:
        """Return every way from a return bus to a battery's minus; a battery's own is empty."""
        if bus_id not in self._homes:
            self._homes[bus_id] = ()  # a circle goes nowhere
            self._homes[bus_id] = tuple(self._homeward(bus_id))
        return self._homes[bus_id]

    def _homeward(self, bus_id: str) -> Iterator[Chain]:
        if bus_id in self.batteries:
            yield ()
        for feeder in self.feeders.values():
            if feeder.bus and feeder.home and feeder.bus.id == bus_id:
                for rest in self.homes(self.home_of(feeder)):
                    yield (feeder.id, *rest)

    def loops(self, place: str, bus_id: str) -> tuple[tuple[Chain, Chain], ...]:
        """Return every way to a part with every way home from a bus to the same battery.

        A way whose battery no conductor leads home to is taken with every way home there is.
        What is behind a converter starts there and has no way home.
        """
        if self.regulated(place):
            return tuple((chain, ()) for chain in self.to_source(place))
        found: list[tuple[Chain, Chain]] = []
        homes = self.homes(bus_id)
        for chain in self.to_source(place):
            battery = self.source_of(chain[-1]) if chain else place
            back = [home for home in homes if self._home_end(home, bus_id) == battery]
            found += [(chain, home) for home in back or homes or ((),)]
        return tuple(found)

    def comes_home(self, place: str, bus_id: str) -> frozenset[str]:
        """Return the batteries behind a part whose current comes home from a bus."""
        ends = {self._home_end(home, bus_id) for home in self.homes(bus_id)}
        return frozenset(
            battery.id for battery in self.batteries_behind(place) if battery.id in ends
        )

    def _home_end(self, home: Chain, bus_id: str) -> str:
        return self.home_of(self.feeders[home[-1]]) if home else bus_id

    def homeward(self, bus_id: str) -> tuple[str, ...]:
        """Return the feeders on any way home from a return bus, each once."""
        return tuple(dict.fromkeys(name for chain in self.homes(bus_id) for name in chain))

    def home_of(self, feeder: Feeder) -> str:
        """Return the bus or battery that a feeder's return goes to; '' without one."""
        if feeder.bus is None or feeder.home is None:
            return ""
        if feeder.home.to:
            return feeder.home.to
        home = self.next_home(feeder.home.beside, feeder.bus.id) or next(iter(self.batteries), "")
        if feeder.bus.id in self.buses or home not in self.batteries:
            return home
        return self._bus_home_to(home) or home  # a source's minus leaves the post to the bus

    def _bus_home_to(self, battery: str) -> str:
        """Return the first bus that goes home to a battery, no engine's block; '' for none."""
        for bus in self.buses.values():
            if bus.id not in self.engine_blocks:
                homes = (home.to or self.next_home(home.beside, bus.id) for home in bus.homes)
                if battery in homes:
                    return bus.id
        return ""

    def next_home(self, supply_id: str, but: str = "") -> str:
        """Return the bus beside the next part towards a battery, or that battery."""
        chain = next(iter(self.chains(supply_id)), ())
        for name in chain[1:]:
            bus = self.feeders[name].bus
            if bus and bus.id != but and bus.id in self.buses:
                return bus.id
        return self.source_of(chain[-1]) if chain else ""

    def bus_at(self, place: str) -> str:
        """Return the bus beside a part, or the next one home; '' where only the battery is."""
        feeder = self.feeder_of(place)
        if feeder and feeder.bus:
            return feeder.bus.id
        home = self.next_home(place)
        return home if home in self.buses else ""

    def level(self, place: str, coils: Mapping[str, Level]) -> Level:
        """Return what stands on the way to a part: what it takes to make it alive.

        Args:
            coils: the level of each coil that pulls a relay, by the coil's load id.
        """

        def made(supply: Supply) -> Level:
            if supply.coil:
                return coils.get(supply.coil, "ignition")
            return CUTTING.get(supply.kind, "battery_direct")

        worst = [
            max(
                (made(s) for name in chain if (s := self.feeders[name].supply)),
                key=LEVELS.index,
                default=LEVELS[0],
            )
            for chain in self.chains(place)
        ]
        return min(worst, key=LEVELS.index, default=LEVELS[0])

    def free_numbers(self) -> Iterator[str]:
        """Yield feeder ids that are not taken."""
        yield from (name for i in count(1) if (name := f"F{i:02d}") not in self.feeders)

    def states(self, place: str) -> tuple[str, ...]:
        """Return the states a part can be in, the one at rest first; () for one without any."""
        supply = self.supplies.get(place)
        return tuple(STATES.get(supply.kind, {})) if supply else ()

    def alive(self, states: Mapping[str, str], coil_sources: Mapping[str, str]) -> frozenset[str]:
        """Return the batteries and parts that are alive.

        Args:
            states: by part, of those not at rest.
            coil_sources: what feeds each coil, by the coil's load id; a relay whose coil has a
                known source is pulled only while that source is alive.
        """
        found = set(self.batteries)
        while True:  # a relay may be pulled from what another one makes alive
            more = {
                supply.id
                for supply in self.supplies.values()
                if supply.id not in found
                and supply.kind not in SOURCES
                and coil_sources.get(supply.coil, next(iter(self.batteries), "")) in found
                and any(feed.source in found for feed in self._closed(supply, states))
            }
            if not more:
                return frozenset(found)
            found |= more

    def charged(self) -> frozenset[str]:
        """Return what a charging source makes alive by itself, with every switch off: its own
        output, what that is joined to, and on as far as nothing cuts it.
        """
        found: set[str] = set()
        waiting = [s.id for s in self.supplies.values() if s.kind in SOURCES]
        while waiting:
            place = waiting.pop()
            if place in found:
                continue
            found.add(place)
            supply = self.supplies.get(place)
            if supply is not None and (supply.kind in SOURCES or self._at_rest(supply)):
                waiting += [feed.source for feed in supply.feeds]
            waiting += [
                other.id
                for other in self.supplies.values()
                if other.kind not in SOURCES
                and any(feed.source == place for feed in self._at_rest(other))
            ]
        return frozenset(found)

    def _at_rest(self, supply: Supply) -> tuple[Feed, ...]:
        """Return the feeds that a part lets through with nothing switched on; a tie is open."""
        return () if supply.kind == "combining_relay" else tuple(self._closed(supply, {}))

    def _closed(self, supply: Supply, states: Mapping[str, str]) -> Iterator[Feed]:
        """Yield the feeds that a part lets through as it stands."""
        known = STATES.get(supply.kind)
        if known is None:
            yield from supply.feeds
            return
        ports = known[states.get(supply.id, next(iter(known)))]
        yield from (feed for feed in supply.feeds if ports == ANY or feed.port in ports)


def numbered(
    supplies: Sequence[Supply], buses: Sequence[ReturnBus]
) -> tuple[tuple[Supply, ...], tuple[ReturnBus, ...]]:
    """Number feeds and conductors home that have no id: F01 on, nearest to a battery first.

    A conductor home beside a feeder is that feeder's return and takes its id.
    """
    named = [feed.id for supply in supplies for feed in supply.feeds]
    named += [home.id for bus in buses for home in bus.homes if home.id]
    taken = set(named)
    free = (name for i in count(1) if (name := f"F{i:02d}") not in taken)
    feeds: dict[str, tuple[Feed, ...]] = {}
    for supply in Network((), supplies, ()).top_down():
        feeds[supply.id] = tuple(_given(supply.feeds, free))
    beside: set[str] = set()
    found: list[ReturnBus] = []
    for bus in buses:
        homes: list[Home] = []
        for home in bus.homes:
            first = feeds.get(home.beside, ())
            if first and home.beside not in beside:
                beside.add(home.beside)
                homes.append(dataclasses.replace(home, id=first[0].id))
            elif not home.id or home.id in {f.id for each in feeds.values() for f in each}:
                homes.append(dataclasses.replace(home, id=next(free)))
            else:
                homes.append(home)
        found.append(dataclasses.replace(bus, homes=tuple(homes)))
    fed = (dataclasses.replace(supply, feeds=feeds[supply.id]) for supply in supplies)
    return tuple(fed), tuple(found)


def _given(feeds: Iterable[Feed], free: Iterator[str]) -> Iterator[Feed]:
    for feed in feeds:
        yield feed if feed.id else dataclasses.replace(feed, id=next(free))
