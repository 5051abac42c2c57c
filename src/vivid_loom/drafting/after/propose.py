"""Blocks, panels and helm sized from the load list, for the engineer to take or change."""

import dataclasses
import math
from collections import Counter
from collections.abc import Iterator
from typing import Final, NamedTuple

from vivid_loom.boat import Supply
from vivid_loom.drafting.decision import Step
from vivid_loom.drafting.drafted import Draft
from vivid_loom.quantities.reckoning import keyed
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["Proposal", "proposals"]

BLOCK_WAYS: Final = (4, 6, 8, 10, 12, 16, 20, 24, 30, 36)
PANEL_POSITIONS: Final = (4, 6, 8, 10, 12, 16, 20, 24, 28, 32)
SPARE_SHARE: Final = 0.2  # of what is used, and never fewer than two; our choice
TOTALS_A: Final = (30.0, 60.0, 100.0, 125.0, 150.0, 200.0, 250.0, 300.0, 400.0)


class Proposal(NamedTuple):
    """One thing to fit.

    Attributes:
        subject: supply id, or 'helm'.
        has, wants: ways or positions now and proposed.
        used: of them in use.
        supply: the block as proposed; None for the helm.
        total_a: what the block must bear, now and as proposed.
        steps: how the figure was found.
    """

    subject: str
    name: str
    has: int
    wants: int
    used: int
    supply: Supply | None
    total_a: tuple[float, float]
    steps: tuple[Step, ...]


def _sized(used: int, stocked: tuple[int, ...], noun: str) -> tuple[int, tuple[Step, ...]]:
    spare = max(2, math.ceil(SPARE_SHARE * used))
    need = used + spare
    size = next((n for n in stocked if n >= need), need)
    return size, (
        Step(
            f"{noun} in use and spare, {SPARE_SHARE:.0%} and at least two",
            keyed(used) + keyed(spare),
            noun,
            OUR_CHOICE,
        ),
        Step(f"next size on the shelf: {size} {noun}", source=OUR_CHOICE),
    )


def _wanted_ways(draft: Draft) -> Counter[str]:
    """Count circuits per block, those that found no way with the block they asked for."""
    used: Counter[str] = Counter(row.planned.source for row in draft.circuits)
    feeds = (feed for supply in draft.aboard.boat.supplies for feed in supply.feeds)
    used.update(Counter(feed.source for feed in feeds if feed.family == "blade fuse"))
    return used


def proposals(draft: Draft) -> tuple[Proposal, ...]:
    """Return what every block and the first panel should have; stocked sizes, spares counted."""
    used = _wanted_ways(draft)
    blocks = (
        _block(draft, supply, used[supply.id])
        for supply in draft.aboard.boat.supplies
        if supply.ways and supply.kind in ("fuse_block", "breaker_panel")
    )
    return (*blocks, *_first_panel(draft))


def _block(draft: Draft, supply: Supply, used: int) -> Proposal:
    wants, steps = _sized(used, BLOCK_WAYS, "ways")
    feeder = draft.aboard.boat.network.feeder_of(supply.id)
    demand = draft.needs[feeder.id].out.total_a if feeder else 0.0
    total = next((a for a in TOTALS_A if a >= demand), demand)
    bears = max(total, supply.total_max_a) if supply.total_max_a >= demand else total
    must = "the block must bear the demand of its loads"
    steps = (*steps, Step(must, keyed(demand, 5), "A", OUR_CHOICE))
    changed = dataclasses.replace(supply, ways=wants, total_max_a=bears)
    totals = (supply.total_max_a, bears)
    return Proposal(supply.id, supply.name, supply.ways, wants, used, changed, totals, steps)


def _first_panel(draft: Draft) -> Iterator[Proposal]:
    """Yield what the first panel should have, where there is one."""
    boat, at = draft.aboard.boat, draft.allocation.positions
    for first in boat.panels[:1]:
        on_panels = [s.id for s in draft.aboard.switches.values() if not s.station]
        held = sum(name not in at or boat.panel_at(at[name]) == first for name in on_panels)
        wants, steps = _sized(held, PANEL_POSITIONS, "positions")
        of_first = (first.name, first.positions, wants, held, None, (0.0, 0.0), steps)
        yield Proposal("helm", *of_first)
