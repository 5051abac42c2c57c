"""Feeder demand and ratings: what each conductor of the supply must bear, up and home."""

from collections import Counter
from collections.abc import Iterable, Mapping
from typing import NamedTuple

from vivid_loom.boat import PASSING, SOURCES, Feed, Feeder, Network, Supply
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.allocate import Allocation
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.protect import MARGIN
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
        charge_a: what charge sources further on send back through it, A.
        rating_a: its protection; nan where nothing protects it or nothing fits.
        least_a, drafted_a: the least that serves, and what the draft takes; ``rating_a`` is the
            engineer's where he set it.
        bounds: what keeps the draft from a larger one, as (what, amps), the least first.
        guard_a: of the device upstream that protects it in its stead; nan where none does.
        return_a: what may come home through its return before a device opens, A.
        largest_a: largest device behind it.
        inside_a: devices behind it whose current comes home through it, A.
        foreign: those of other sources, as (feeders next to their batteries, A).
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
    inside_a: float = 0.0
    foreign: tuple[tuple[tuple[str, ...], float], ...] = ()

    @property
    def borne_a(self) -> float:
        """The current it is sized for, in A: what it takes out, or takes back."""
        return max(self.out.total_a, self.charge_a)

    @property
    def margin(self) -> float:
        """What its device must exceed the current it bears by; a tie's contact is its own limit."""
        return 1.0 if self.supply and self.supply.kind == "combining_relay" else MARGIN

    def returning_a(self, feeder_a: Mapping[str, float]) -> float:
        """Return what may come home through it with the feeders' devices at these ratings."""
        own = min(self.inside_a, feeder_a.get(self.planned.id, self.inside_a))
        for tops, amps in self.foreign:
            passes = sum(feeder_a.get(top, amps) for top in tops) if tops else amps
            own += min(amps, passes)
        return own


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
        if circuit.request and (circuit.request.contacts or circuit.pattern == "breaker"):
            entries = _as_one(entries)  # one switch starts them all
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
            used = sum(circuit.source == bar.id for circuit in allocation.circuits)
            found[bar.id] += min(panel.positions - taken, max(0, bar.ways - used))
        elif blocks:
            found[blocks[0]] += panel.positions - taken
    return dict(found)


def _as_one(entries: list[Entry]) -> list[Entry]:
    """Return the loads of one switched circuit as one of each class."""
    kinds = dict.fromkeys(kind for kind, _ in entries)
    return [(kind, sum(amps for k, amps in entries if k == kind)) for kind in kinds]


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
    for place, spare in _spares(aboard, allocation).items():
        if spare > 0:
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
        need = _need(planned, tally, feeder_a, aboard)
        needs[planned.id] = need
        if need.rating_a == need.rating_a:
            feeder_a[planned.id] = need.rating_a
    found: dict[str, FeederNeed] = {}
    for feeder in allocation.feeders:
        need = needs[feeder.id]
        if feeder.bus:
            inside, foreign = _homing(feeder.id, tally.through[feeder.id], ratings, network)
            need = need._replace(inside_a=inside, foreign=tuple(foreign.items()))
        found[feeder.id] = need
    return with_ratings(found, feeder_a, network)


def with_ratings(
    needs: Mapping[str, FeederNeed], feeder_a: Mapping[str, float], network: Network
) -> dict[str, FeederNeed]:
    """Return the needs with the feeders' devices at these ratings, and what follows from them."""
    return {
        name: need._replace(
            rating_a=feeder_a.get(name, need.rating_a),
            return_a=need.returning_a(feeder_a) if need.planned.bus else 0.0,
            guard_a=_guard_a(need, feeder_a, network),
        )
        for name, need in needs.items()
    }


def _guard_a(need: FeederNeed, feeder_a: Mapping[str, float], network: Network) -> float:
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
    )
    if feeder.feed is None or feeder.feed.family is None:
        return need
    least, forced = _least_rating(need, feeder.feed.family), rating_of(planned, aboard)
    rating = forced if forced == forced else least
    return need._replace(rating_a=rating, least_a=least, drafted_a=least)


def _homing(
    feeder_id: str, circuits: Iterable[Planned], ratings: Mapping[str, float], network: Network
) -> tuple[float, dict[tuple[str, ...], float]]:
    """Return the devices whose current comes home through a return: its own, and others'."""
    inside = 0.0
    foreign: dict[tuple[str, ...], float] = {}
    battery = network.home_of(network.feeders[feeder_id])
    for circuit in circuits:
        rating = ratings.get(circuit.id, 0.0)
        if feeder_id in network.upstream(circuit.source):
            inside += rating
            continue
        tops = _tops(circuit.source, network)
        if battery in network.batteries and tops:
            # to a battery comes home what that battery has given
            tops = tuple(top for top in tops if network.source_of(top) == battery)
            rating = rating if tops else 0.0
        foreign[tops] = foreign.get(tops, 0.0) + rating
    return inside, foreign


def _least_rating(need: FeederNeed, family: str) -> float:
    """Return the next rating from 1.25 × the demand, and above the largest device behind it.

    Where the family has none so large, the largest that bears the demand; nan for none.
    """
    ratings = [r for r in DEVICES[family].ratings_a if r > need.largest_a]
    borne = need.borne_a
    asked = need.margin * borne
    bare = [r for r in ratings if r >= borne - 1e-9]
    return next((r for r in ratings if r >= asked - 1e-9), bare[-1] if bare else UNRATED)
