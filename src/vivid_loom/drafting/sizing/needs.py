"""Feeder demand and ratings: what each supply must bear, up and home."""

from collections.abc import Iterable
from typing import Literal, NamedTuple

from vivid_loom.boat import Supply
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.allocate import Allocation, home_bus
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.sizing.lines import rating_of
from vivid_loom.standards import protection
from vivid_loom.standards.demand import Demand, feeder_demand

__all__ = ["FeederNeed", "feeder_needs", "return_chain"]

Entry = tuple[Literal["A", "B"], float]


class FeederNeed(NamedTuple):
    """What one feeder must bear.

    Attributes:
        out: demand on its positive.
        home: demand on its return; zero without a bus beside the block.
        rating_a: its protection; nan where nothing protects it or nothing fits.
        return_a: what may come home through its return before a device opens, A.
        largest_a: largest device behind it.
    """

    planned: Planned
    supply: Supply
    out: Demand
    home: Demand
    rating_a: float
    return_a: float
    largest_a: float


def return_chain(bus_id: str, aboard: Aboard) -> tuple[str, ...]:
    """Return the supplies beside whose feeders a return from ``bus_id`` runs, to the battery."""
    buses = aboard.boat.buses_by_id
    supplies = aboard.boat.supplies_by_id
    chain: list[str] = []
    bus = buses.get(bus_id)
    while bus is not None and bus.paired_with not in chain:
        chain.append(bus.paired_with)
        bus = home_bus(aboard.boat, supplies[bus.paired_with])
    return tuple(chain)


def _entries(circuit: Planned, aboard: Aboard) -> list[Entry]:
    loads = (aboard.loads[name] for name in circuit.loads)
    return [(load.demand, load.running_a or 0.0) for load in loads]


def _spares(aboard: Aboard, allocation: Allocation) -> list[Entry]:
    spare = aboard.boat.helm.positions - len(allocation.positions)
    return [("B", aboard.profile.spare_allowance_a)] * max(0, spare)


def _top(circuit: Planned, aboard: Aboard) -> str:
    return aboard.boat.supply_chain(circuit.source)[-1]


def _may_return_a(
    circuits: Iterable[Planned],
    ratings: dict[str, float],
    feeder_a: dict[str, float],
    supply: Supply,
    aboard: Aboard,
) -> float:
    """Sum the devices whose current can come home here: own feeder, and each foreign source."""
    inside = 0.0
    foreign: dict[str, float] = {}
    for circuit in circuits:
        rating = ratings.get(circuit.id, 0.0)
        if supply.id in aboard.boat.supply_chain(circuit.source):
            inside += rating
        else:
            top = _top(circuit, aboard)
            foreign[top] = foreign.get(top, 0.0) + rating
    own = min(inside, feeder_a.get(supply.id, inside))
    return own + sum(min(a, feeder_a.get(top, a)) for top, a in foreign.items())


def feeder_needs(allocation: Allocation, aboard: Aboard) -> dict[str, FeederNeed]:
    """Return what each supply's feeder must bear, by supply id, the battery's own first."""
    supplies = aboard.boat.supplies_by_id
    out: dict[str, list[Entry]] = {name: [] for name in supplies}
    home: dict[str, list[Entry]] = {name: [] for name in supplies}
    through: dict[str, list[Planned]] = {name: [] for name in supplies}
    largest = dict.fromkeys(supplies, 0.0)
    ratings: dict[str, float] = {}
    chains = {bus.id: return_chain(bus.id, aboard) for bus in aboard.boat.return_buses}
    for circuit in allocation.circuits:
        entries = _entries(circuit, aboard)
        rating = rating_of(circuit, aboard)
        if rating == rating:
            ratings[circuit.id] = rating
        for name in aboard.boat.supply_chain(circuit.source):
            out[name] += entries
            largest[name] = max(largest[name], ratings.get(circuit.id, 0.0))
        for name in chains[circuit.bus]:
            home[name] += entries
            through[name].append(circuit)
    spares = _spares(aboard, allocation)
    blocks = [s for s in aboard.boat.supplies if s.kind == "fuse_block" and s.level == "unswitched"]
    if blocks and spares:
        for name in aboard.boat.supply_chain(blocks[0].id):
            out[name] += spares
    feeder_a: dict[str, float] = {}
    needs: dict[str, FeederNeed] = {}
    for planned in reversed(allocation.feeders):
        supply = supplies[planned.feeds]
        demand = feeder_demand(out[supply.id])
        below = [
            feeder_a[s.id]
            for s in aboard.boat.supplies
            if s.fed_from == supply.id and s.id in feeder_a
        ]
        biggest = max([largest[supply.id], *below])
        rating = _feeder_rating(planned, supply, demand.total_a, biggest, aboard)
        if rating == rating:
            feeder_a[supply.id] = rating
        needs[supply.id] = FeederNeed(
            planned,
            supply,
            demand,
            feeder_demand(home[supply.id]) if planned.bus else feeder_demand(()),
            rating,
            0.0,
            biggest,
        )
    return {
        feeder.feeds: needs[feeder.feeds]._replace(
            return_a=_may_return_a(
                through[feeder.feeds], ratings, feeder_a, supplies[feeder.feeds], aboard
            )
            if feeder.bus
            else 0.0
        )
        for feeder in allocation.feeders
    }


def _feeder_rating(
    planned: Planned, supply: Supply, need_a: float, largest_a: float, aboard: Aboard
) -> float:
    """Return the next rating from the demand, and above the largest device behind it."""
    if supply.feed_family is None:
        return float("nan")
    override = rating_of(planned, aboard)
    if override == override:
        return override
    ratings = protection.RATINGS_A[supply.feed_family]
    fits = (r for r in ratings if r >= need_a - 1e-9 and r > largest_a)
    return next(fits, float("nan"))
