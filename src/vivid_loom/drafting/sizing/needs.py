"""Feeder demand and ratings: what each conductor of the supply must bear, up and home."""

import math
from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping
from typing import NamedTuple

from vivid_loom.boat import PASSING, SOURCES, Feed, Feeder, Network, Supply
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.allocate import Allocation
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.protect import MARGIN
from vivid_loom.drafting.sizing.circulation import Circulation, circulations
from vivid_loom.drafting.sizing.lines import UNRATED, rating_of
from vivid_loom.standards.demand import Demand, Kind, feeder_demand
from vivid_loom.standards.devices import DEVICES

__all__ = ["FeederNeed", "feeder_needs", "with_ratings"]

Entry = tuple[Kind, float]


class FeederNeed(NamedTuple):
    """What one feeder must bear.

    Attributes:
        supply, feed: what it feeds and how; None for a return by itself.
        out: demand on its positive, its own charge source's output included.
        home: demand on its return; zero without one.
        charge_a: what charge sources send back through it, or through its return, A.
        rating_a: its protection; nan where nothing protects it or nothing fits.
        least_a, drafted_a: the least that serves, and what the draft takes; ``rating_a`` is the
            engineer's where he set it.
        bounds: what keeps the draft from a larger one, as (what, amps), the least first.
        guard_a: of the device upstream that protects it in its stead; nan where none does.
        return_a: what may come home through its return before a device opens, A.
        largest_a: largest device behind it.
        circulation: what limits that.
        least_gauge: the thinnest that the makers of what draws and goes home through it allow, as
            an engine's; '' for none.
        tops: feeders of the batteries whose current its return brings home, where it is to be as
            thick as they are.
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
    least_a: float = UNRATED
    drafted_a: float = UNRATED
    bounds: tuple[tuple[str, float], ...] = ()
    circulation: Circulation = Circulation()
    least_gauge: str = ""
    tops: tuple[str, ...] = ()

    @property
    def borne_a(self) -> float:
        """The current it is sized for, in A: what it takes out, or takes back."""
        return max(self.out.total_a, self.charge_a)

    @property
    def margin(self) -> float:
        """What its device must exceed the current it bears by; a tie's contact is its own limit."""
        return 1.0 if self.supply and self.supply.kind == "combining_relay" else MARGIN


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
        # one circuit's loads may all be on: no feeder is made for less than its largest circuit
        entries = _as_one([(load.demand, load.running_a or 0.0) for load in loads])
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
                feeder = self.network.feeders[name]
                taken = self._taken_per_amp(feeder)
                # a converter's one minus carries what its two sides differ by
                if taken != 1 and name not in seen:
                    self.home[name] += [(kind, amps * abs(1 - taken)) for kind, amps in entries]
                share *= taken
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
            if self.network.minus_of(supply.id) == supply.id:
                self.home[feed.id].append(("A", supply.total_max_a))
            for name in self.network.upstream(feed.source):
                self.charge[name] += supply.total_max_a

    def tying(self, supply: Supply) -> None:
        """Count what a combining relay may pass: the largest devices that its contact bears."""
        for feed in supply.feeds:
            ratings = DEVICES[feed.family].ratings_a if feed.family else ()
            within = (r for r in ratings if r <= supply.total_max_a)
            self.out[feed.id].append(("A", max(within, default=supply.total_max_a)))


def _spares(aboard: Aboard, allocation: Allocation) -> dict[str, int]:
    """Return how many spare positions hang on each block: on the bar, where levers are breakers.

    A bar feeds no more levers than it has ways.
    """
    boat = aboard.boat
    blocks = [s.id for s in boat.supplies if s.kind == "fuse_block" and s.level == "unswitched"]
    on_panel: dict[str, list[Planned]] = {panel.id: [] for panel in boat.panels}
    for circuit in allocation.circuits:
        if panel := boat.panel_at(circuit.position):
            on_panel[panel.id].append(circuit)
    found: Counter[str] = Counter()
    for panel in boat.panels:
        taken = sum(boat.panel_at(at) == panel for at in allocation.positions.values())
        bars = {c.source for c in on_panel[panel.id] if c.pattern == "breaker"}
        if bars and all(c.pattern == "breaker" for c in on_panel[panel.id]):
            bar = boat.places_by_id[min(bars)]
            hung = (*allocation.circuits, *allocation.feeders)
            used = sum(item.source == bar.id and item.way > 0 for item in hung)
            found[bar.id] += min(panel.positions - taken, max(0, bar.ways - used))
        elif blocks:
            found[blocks[0]] += panel.positions - taken
    return dict(found)


def _as_one(entries: list[Entry]) -> list[Entry]:
    """Return the loads of one circuit as one of each class."""
    kinds = dict.fromkeys(kind for kind, _ in entries)
    return [(kind, sum(amps for k, amps in entries if k == kind)) for kind in kinds]


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
    for place, spare in _spares(aboard, allocation).items():
        if spare > 0 and not aboard.order.built_with:  # what is built has had its allowance
            allowance: list[Entry] = [("spare", aboard.profile.spare_allowance_a)] * spare
            tally.draw(place, allowance, 0.0)
    for supply in aboard.boat.supplies:
        if supply.kind in SOURCES:
            tally.charging(supply)
        elif supply.kind == "combining_relay":
            tally.tying(supply)
    needs: dict[str, FeederNeed] = {}
    feeder_a: dict[str, float] = {}
    for planned in reversed(allocation.feeders):
        need = _need(planned, tally, needs, aboard)
        needs[planned.id] = need
        if need.rating_a == need.rating_a:
            feeder_a[planned.id] = need.rating_a
    around = circulations(network, _between(allocation.circuits, ratings))
    found: dict[str, FeederNeed] = {}
    for feeder in allocation.feeders:
        need = needs[feeder.id]
        if feeder.bus:
            round_it = around[feeder.id]
            need = need._replace(
                circulation=round_it,
                charge_a=max(need.charge_a, round_it.charge_a),
                tops=_tops(feeder.id, tally.through[feeder.id], network),
            )
        found[feeder.id] = need
    return with_ratings(found, feeder_a, network)


def _between(
    circuits: Iterable[Planned], ratings: Mapping[str, float]
) -> dict[tuple[str, str], float]:
    """Return what the devices of circuits let pass between each place and bus, A."""
    found: defaultdict[tuple[str, str], float] = defaultdict(float)
    for circuit in circuits:
        if circuit.bus and circuit.id in ratings:
            found[circuit.source, circuit.bus] += ratings[circuit.id]
    return dict(found)


def _tops(feeder_id: str, circuits: Iterable[Planned], network: Network) -> tuple[str, ...]:
    """Return the feeders that a return is as thick as: those of the battery whose minus it is.

    One by itself between buses brings home what the batteries give to the circuits that land
    beyond it; an engine's block what is bolted to it gives. They come in the order of their ids.
    """
    feeder = network.feeders[feeder_id]
    battery = network.home_of(feeder)
    if feeder.bus and feeder.bus.id in network.engine_blocks:
        bolted = (s for s in network.supplies.values() if s.case_on == feeder.bus.id)
        return tuple(sorted(feed.id for supply in bolted for feed in supply.feeds))
    given = {
        name
        for name in network.feeders
        if network.source_of(name) in network.batteries and name != feeder_id
    }
    if battery in network.batteries:
        return tuple(sorted(name for name in given if network.source_of(name) == battery))
    if feeder.feed:
        return ()
    ways = (chain for circuit in circuits for chain in network.chains(circuit.source) if chain)
    return tuple(sorted({chain[-1] for chain in ways}))


def with_ratings(
    needs: Mapping[str, FeederNeed], feeder_a: Mapping[str, float], network: Network
) -> dict[str, FeederNeed]:
    """Return the needs with the feeders' devices at these ratings, and what follows from them."""
    return {
        name: need._replace(
            rating_a=feeder_a.get(name, need.rating_a),
            return_a=need.circulation.most_a(feeder_a),
            guard_a=_guard_a(need, feeder_a, network),
        )
        for name, need in needs.items()
    }


def _guard_a(need: FeederNeed, feeder_a: Mapping[str, float], network: Network) -> float:
    """Return what protects a conductor without a device of its own, in A; nan where nothing does.

    What leaves a switch, key or relay is protected by the device upstream, if its wire bears that;
    behind a selector that joins batteries, by the devices of all its inputs together. What leaves
    a converter is protected by the converter, which gives no more than its rating.
    """
    source = network.supplies.get(need.feed.source) if need.feed else None
    if need.feed is None or need.feed.family or source is None:
        return UNRATED
    if network.converts(source.id):
        return source.total_max_a
    if source.kind not in PASSING:
        return UNRATED
    ways = [[n for n in chain if n in feeder_a] for chain in network.to_source(source.id)]
    if not ways or not all(ways):
        return UNRATED
    return sum(feeder_a[name] for name in {way[0] for way in ways})


def _need(
    planned: Planned, tally: _Tally, needs: Mapping[str, FeederNeed], aboard: Aboard
) -> FeederNeed:
    """Return what one feeder bears, the feeders behind it rated already.

    Behind one without a device stand those behind that one.
    """
    feeder = tally.network.feeders[planned.id]
    out = feeder_demand(tally.out[planned.id])
    behind = [
        needs[other.id]
        for other in tally.network.feeders.values()
        if other.feed and other.id in needs and other.feed.source == planned.feeds
    ]
    below = [n.largest_a if math.isnan(n.rating_a) else n.rating_a for n in behind]
    largest = max([tally.largest[planned.id], *below])
    if tally.network.converts(planned.feeds):  # what it gives is limited by itself
        largest = 0.0
    need = FeederNeed(
        planned=planned,
        supply=feeder.supply,
        feed=feeder.feed,
        out=out,
        home=feeder_demand(tally.home[planned.id]),
        charge_a=tally.charge[planned.id],
        rating_a=UNRATED,
        guard_a=UNRATED,
        return_a=0.0,
        largest_a=largest,
        least_gauge=tally.network.least_gauge(planned.id),
    )
    if feeder.feed is None or feeder.feed.family is None:
        return need
    least, forced = _least_rating(need, feeder.feed.family), rating_of(planned, aboard)
    rating = forced if forced == forced else least
    return need._replace(rating_a=rating, least_a=least, drafted_a=least)


def _least_rating(need: FeederNeed, family: str) -> float:
    """Return the next rating from 1.25 × the demand, and above the largest device behind it.

    Where the family has none so large, the largest that bears the demand; nan for none.
    """
    ratings = [r for r in DEVICES[family].ratings_a if r > need.largest_a]
    borne = need.borne_a
    asked = need.margin * borne
    bare = [r for r in ratings if r >= borne - 1e-9]
    return next((r for r in ratings if r >= asked - 1e-9), bare[-1] if bare else UNRATED)
