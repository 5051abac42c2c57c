"""Rules about what charges the batteries: its negative, and what may part it from them."""

from collections.abc import Iterator

from vivid_loom.boat import SOURCES, Supply
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.quantities import Gauge
from vivid_loom.standards import protection
from vivid_loom.standards.conductor import area_mm2, is_thinner
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["RULES", "switches_of_alternators"]

UNSAID_NEGATIVE = FindingKind(
    "P33",
    "judge",
    "negative of an engine's charging source not stated",
    "{name} is drafted as isolated, with a negative lead of its own. If its case is its negative, "
    "that lead lies beside the engine's battery cable, and cranking current seeks it.",
    "Name the engine's block that its case is bolted to, or accept it for an isolated one.",
    OUR_CHOICE,
)
BESIDE_CABLE = FindingKind(
    "P34",
    "error",
    "thin negative beside an engine's battery cable",
    "{it} leads from {name} to the batteries beside {cable}: cranking current divides between "
    "them, and {it} is {gauge} beside {thicker}.",
    "Take it away: the battery cable is the engine's only negative.",
    protection.RATING_SOURCE,
)
THIN_CABLE = FindingKind(
    "P35",
    "error",
    "cable thinner than the engine's maker asks",
    "{it} is {gauge}; the maker asks for {least} at least.",
    "Take the gauge that the maker asks for.",
    OUR_CHOICE,
)
SWITCHED_OFF = FindingKind(
    "P36",
    "judge",
    "alternator that a battery switch can part from its battery",
    "The only way of {name} to a battery passes {switch}: opened while the engine runs, the "
    "voltage jumps and may destroy the alternator and what it feeds.",
    "Lead its output to the battery past the switch, with its fuse at the battery; or fit a field "
    "disconnect or a surge protector and accept it.",
    OUR_CHOICE,
)
_OPENED_BY_HAND = ("battery_switch", "selector")


def negatives(draft: Draft) -> Iterator[Finding]:
    """What charges by the engine says how it goes home, and an engine has one way home."""
    network = draft.aboard.boat.network
    for supply in network.supplies.values():
        by_engine = supply.kind in SOURCES and supply.charges_by == "engine"
        if by_engine and network.minus_of(supply.id) == supply.id:
            yield Finding(UNSAID_NEGATIVE, (supply.id,), words(name=supply.name))
    for name in sorted(network.engine_blocks & set(network.buses)):
        yield from _beside_the_cable(name, draft)


def _beside_the_cable(block: str, draft: Draft) -> Iterator[Finding]:
    homes = [(r, r.sized.gauge.value) for r in draft.feeders if r.planned.bus == block and r.sized]
    if not homes:
        return
    cable, thickest = max(homes, key=lambda home: area_mm2(home[1]))
    for row, gauge in homes:
        if is_thinner(gauge, thickest):
            told = words(
                it=row.id,
                name=draft.aboard.boat.returns_by_id[block].name,
                cable=cable.id,
                gauge=gauge,
                thicker=thickest,
            )
            yield Finding(BESIDE_CABLE, (row.id, block), told)


def cables(draft: Draft) -> Iterator[Finding]:
    """A negative is as thick as the maker of what it serves asks."""
    for row in draft.feeders:
        least = draft.needs[row.id].least_gauge
        if least and row.sized and is_thinner(row.sized.gauge.value, Gauge.parse(least)):
            told = words(it=row.id, gauge=row.sized.gauge.value, least=least)
            yield Finding(THIN_CABLE, (row.id,), told)


def parted(draft: Draft) -> Iterator[Finding]:
    """No hand parts an alternator from its batteries under way in silence."""
    for supply, switch in switches_of_alternators(draft):
        told = words(name=supply.name, switch=switch.name)
        yield Finding(SWITCHED_OFF, (supply.id, switch.id), told)


def switches_of_alternators(draft: Draft) -> Iterator[tuple[Supply, Supply]]:
    """Yield the charge sources of engines with the switch by which alone they reach a battery."""
    network = draft.aboard.boat.network
    for supply in network.supplies.values():
        if supply.kind not in SOURCES or supply.charges_by != "engine":
            continue
        ways = [chain for feed in supply.feeds for chain in network.chains(feed.source)]
        sources = [feed.source for feed in supply.feeds]
        passed = [[*sources, *map(network.fed_by, chain)] for chain in ways]
        switches = [
            next((p for p in way if _is_switch(network.supplies.get(p))), "") for way in passed
        ]
        if switches and all(switches):
            yield supply, network.supplies[switches[0]]


def _is_switch(supply: Supply | None) -> bool:
    return supply is not None and supply.kind in _OPENED_BY_HAND


RULES = (negatives, cables, parted)
