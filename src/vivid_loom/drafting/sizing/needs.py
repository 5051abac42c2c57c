"""Feeder demand and ratings: what each conductor of the supply must bear, up and home."""

from collections.abc import Iterable
from typing import Literal, NamedTuple

from vivid_loom.boat import PASSING, SOURCES, Feed, Feeder, Network, Supply
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.allocate import Allocation
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.sizing.lines import UNRATED, rating_of
from vivid_loom.standards.demand import Demand, feeder_demand
from vivid_loom.standards.devices import DEVICES

__all__ = ["FeederNeed", "feeder_needs"]

Entry = tuple[Literal["A", "B"], float]


class FeederNeed(NamedTuple):
    """What one feeder must bear.

    Attributes:
        supply, feed: what it feeds and how; None for a return by itself.
        out: demand on its positive, its own charge source's output included.
        home: demand on its return; zero without one.
        charge_a: what charge sources further on send back through it, A.
        rating_a: its protection; nan where nothing protects it or nothing fits.
        guard_a: of the device upstream that protects it in its stead; nan where none does.
        return_a: what may come home through its return before a device opens, A.
        largest_a: largest device behind it.
    """

    planned: Planned
    supply: Supply | None
    feed: Feed | None
    out: Demand
    home: Demand
    charge_a: float
    rating_a: float
    guard_a: float
    return_a: float
    largest_a: float


class _Tally:
    """What every feeder bears, added up circuit by circuit."""

    def __init__(self, network: Network) -> None:
        names = network.feeders
        self.network = network
        self.out: dict[str, list[Entry]] = {name: [] for name in names}
        self.home: dict[str, list[Entry]] = {name: [] for name in names}
        self.through: dict[str, list[Planned]] = {name: [] for name in names}
        self.largest = dict.fromkeys(names, 0.0)
        self.charge = dict.fromkeys(names, 0.0)

    def add(self, circuit: Planned, aboard: Aboard, rating_a: float) -> None:
        """Count one circuit on every feeder it may draw through and return through."""
        loads = circuit.drawing(aboard.loads)
        entries: list[Entry] = [(load.demand, load.running_a or 0.0) for load in loads]
        share = self.draw(circuit.source, entries, rating_a)
        back = entries if share == 1.0 else [(kind, amps * share) for kind, amps in entries]
        for name in self.network.homeward(circuit.bus):
            self.home[name] += back
            self.through[name].append(circuit)

    def draw(self, place: str, entries: list[Entry], rating_a: float) -> float:
        """Count a draw at a place; a converter takes it at its own input's voltage.

        Returns:
            What the battery gives per amp of it: other than 1 behind a converter only.
        """
        seen: set[str] = set()
        share = 1.0
        for chain in self.network.chains(place):
            share = 1.0
            for name in chain:
                share *= self._taken_per_amp(self.network.feeders[name])
                if name not in seen:
                    seen.add(name)
                    self.out[name] += [(kind, amps * share) for kind, amps in entries]
                    self.largest[name] = max(self.largest[name], rating_a if share == 1 else 0.0)
        return share

    def _taken_per_amp(self, feeder: Feeder) -> float:
        supply = feeder.supply
        if supply is None or supply.output_v is None or feeder.feed is None:
            return 1.0
        inlet_v = self.network.voltage(feeder.feed.source)
        return supply.output_v / inlet_v / (supply.efficiency_percent / 100)

    def charging(self, supply: Supply) -> None:
        """Count what a charge source gives, on its own conductor and on the way to a battery."""
        for feed in supply.feeds:
            self.out[feed.id].append(("A", supply.total_max_a))
            for name in self.network.upstream(feed.source):
                self.charge[name] += supply.total_max_a

    def tying(self, supply: Supply) -> None:
        """Count what a combining relay may pass between the batteries it ties."""
        for feed in supply.feeds:
            self.out[feed.id].append(("A", supply.total_max_a))


def _spares(aboard: Aboard, allocation: Allocation) -> list[Entry]:
    spare = aboard.boat.positions - len(allocation.positions)
    return [("B", aboard.profile.spare_allowance_a)] * max(0, spare)


def _tops(place: str, network: Network) -> tuple[str, ...]:
    """Return the feeders next to a battery on the ways to a place; () straight from one."""
    return tuple(dict.fromkeys(chain[-1] for chain in network.chains(place) if chain))


def feeder_needs(allocation: Allocation, aboard: Aboard) -> dict[str, FeederNeed]:
    """Return what each feeder must bear, by its id, those next to a battery first."""
    network = aboard.boat.network
    tally = _Tally(network)
    ratings: dict[str, float] = {}
    for circuit in allocation.circuits:
        if circuit.guard:  # what it draws, its guard's load does
            continue
        rating = rating_of(circuit, aboard)
        if rating == rating:
            ratings[circuit.id] = rating
        tally.add(circuit, aboard, ratings.get(circuit.id, 0.0))
    blocks = [s for s in aboard.boat.supplies if s.kind == "fuse_block" and s.level == "unswitched"]
    spares = _spares(aboard, allocation)
    if blocks and spares:
        tally.draw(blocks[0].id, spares, 0.0)
    for supply in aboard.boat.supplies:
        if supply.kind in SOURCES:
            tally.charging(supply)
        elif supply.kind == "combining_relay":
            tally.tying(supply)
    needs: dict[str, FeederNeed] = {}
    feeder_a: dict[str, float] = {}
    for planned in reversed(allocation.feeders):
        need = _need(planned, tally, feeder_a, aboard)
        needs[planned.id] = need
        if need.rating_a == need.rating_a:
            feeder_a[planned.id] = need.rating_a
    returning = _Returning(ratings, feeder_a, network)
    return {
        feeder.id: needs[feeder.id]._replace(
            return_a=returning.most_a(feeder.id, tally.through[feeder.id]) if feeder.bus else 0.0,
            guard_a=_guard_a(needs[feeder.id], feeder_a, network),
        )
        for feeder in allocation.feeders
    }


def _guard_a(need: FeederNeed, feeder_a: dict[str, float], network: Network) -> float:
    """Return what protects a conductor without a device of its own, in A; nan where nothing does.

    What leaves a key or relay is protected by the device upstream, for nothing branches off
    there; what leaves a converter by the converter, which gives no more than its rating.
    """
    source = network.supplies.get(need.feed.source) if need.feed else None
    if need.feed is None or need.feed.family or source is None:
        return UNRATED
    if network.converts(source.id):
        return source.total_max_a
    if source.kind not in PASSING:
        return UNRATED
    ways = [[feeder_a[n] for n in chain if n in feeder_a] for chain in network.to_source(source.id)]
    if not ways or not all(ways):
        return UNRATED
    return max(way[0] for way in ways)


def _need(
    planned: Planned, tally: _Tally, feeder_a: dict[str, float], aboard: Aboard
) -> FeederNeed:
    """Return what one feeder bears, the feeders behind it rated already."""
    feeder = tally.network.feeders[planned.id]
    out = feeder_demand(tally.out[planned.id])
    below = [
        feeder_a[other.id]
        for other in tally.network.feeders.values()
        if other.feed and other.id in feeder_a and other.feed.source == planned.feeds
    ]
    largest = max([tally.largest[planned.id], *below])
    if tally.network.converts(planned.feeds):  # what it gives is limited by itself
        largest = 0.0
    return FeederNeed(
        planned=planned,
        supply=feeder.supply,
        feed=feeder.feed,
        out=out,
        home=feeder_demand(tally.home[planned.id]),
        charge_a=tally.charge[planned.id],
        rating_a=_feeder_rating(
            planned, feeder.feed, max(out.total_a, tally.charge[planned.id]), largest, aboard
        ),
        guard_a=UNRATED,
        return_a=0.0,
        largest_a=largest,
    )


class _Returning(NamedTuple):
    """What may come home through a return before a device opens."""

    ratings: dict[str, float]
    feeder_a: dict[str, float]
    network: Network

    def most_a(self, feeder_id: str, circuits: Iterable[Planned]) -> float:
        """Sum the devices: own feeder's, and those of each foreign source, in A."""
        inside = 0.0
        foreign: dict[tuple[str, ...], float] = {}
        battery = self.network.home_of(self.network.feeders[feeder_id])
        for circuit in circuits:
            rating = self.ratings.get(circuit.id, 0.0)
            if feeder_id in self.network.upstream(circuit.source):
                inside += rating
                continue
            tops = _tops(circuit.source, self.network)
            if battery in self.network.batteries and tops:
                # to a battery comes home what that battery has given
                tops = tuple(top for top in tops if self.network.source_of(top) == battery)
                rating = rating if tops else 0.0
            foreign[tops] = foreign.get(tops, 0.0) + rating
        own = min(inside, self.feeder_a.get(feeder_id, inside))
        return own + sum(min(amps, self._passes(tops, amps)) for tops, amps in foreign.items())

    def _passes(self, tops: tuple[str, ...], amps: float) -> float:
        if not tops:
            return amps
        return sum(self.feeder_a.get(top, amps) for top in tops)


def _feeder_rating(
    planned: Planned, feed: Feed | None, need_a: float, largest_a: float, aboard: Aboard
) -> float:
    """Return the next rating from the demand, and above the largest device behind it."""
    if feed is None or feed.family is None:
        return UNRATED
    override = rating_of(planned, aboard)
    if override == override:
        return override
    ratings = DEVICES[feed.family].ratings_a
    fits = (r for r in ratings if r >= need_a - 1e-9 and r > largest_a)
    return next(fits, UNRATED)
