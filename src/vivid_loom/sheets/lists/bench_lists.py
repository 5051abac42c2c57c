"""Tables of what is to be proven: ringing out, pull tests, making alive."""

from operator import attrgetter
from typing import NamedTuple

from vivid_loom.bench.aboard.plan import alive_plan
from vivid_loom.bench.pulls import CrimpGroup, crimp_groups
from vivid_loom.bench.ringing.plan import ring_plans
from vivid_loom.drafting import Draft
from vivid_loom.quantities import figure
from vivid_loom.sheets.lists.build_order import in_build_order
from vivid_loom.sheets.lists.schedule import number
from vivid_loom.sheets.paper.table import Table
from vivid_loom.sheets.words.bench_words import alive_words, ring_words
from vivid_loom.workshop.harness.built import lying_wires

__all__ = [
    "AliveRow",
    "PullRow",
    "RingRow",
    "alive_table",
    "draft_crimps",
    "pull_table",
    "ring_table",
]


class RingRow(NamedTuple):
    """A step of ringing a harness out."""

    harness: str
    turn: str
    kind: str
    subject: str
    red: str
    black: str
    low: str
    high: str
    unit: str
    asks: str
    step: str


class PullRow(NamedTuple):
    """Crimps of one terminal, gauge and jaw, and which of them a test piece goes with."""

    terminal: str
    gauge: str
    jaw: str
    crimps: str
    pull_n: str
    samples: str


class AliveRow(NamedTuple):
    """A step of making the boat alive."""

    turn: str
    part: str
    subject: str
    title: str
    device: str
    asks: str
    red: str
    black: str
    low: str
    high: str
    unit: str
    step: str


def ring_table(draft: Draft) -> Table[RingRow]:
    """Return every step by which every harness is rung out."""
    rows: list[RingRow] = []
    for plan in ring_plans(draft):
        for turn, step in enumerate(plan.steps, 1):
            words = ring_words(draft, plan, step)
            limits = (_low(step.low), _high(step.high), step.unit) if step.is_read else ("",) * 3
            rows.append(
                RingRow(
                    plan.specimen.id,
                    str(turn),
                    step.kind,
                    words.title,
                    words.red,
                    words.black,
                    *limits,
                    words.asks,
                    step.id,
                )
            )
    return Table("ringout", "Ringing out", RingRow, tuple(rows))


def _low(value: float) -> str:
    return figure(value) if value else "0"


def _high(value: float) -> str:
    return "" if value == float("inf") else figure(value)


def draft_crimps(draft: Draft) -> tuple[CrimpGroup, ...]:
    """Return the crimps made in an order by terminal, gauge and jaw, in the order of the bench."""
    lies = lying_wires(draft)
    made = (wire for wire in draft.assembled.wires if wire.id not in lies)
    harness_by_harness = sorted(made, key=attrgetter("harness"))
    built = in_build_order(harness_by_harness)
    return crimp_groups(draft, built, draft.aboard.profile.pull_every)


def pull_table(draft: Draft) -> Table[PullRow]:
    """Return which crimps are sampled and what the samples bear."""
    rows = tuple(
        PullRow(
            group.terminal,
            str(group.gauge),
            group.jaw,
            str(len(group.crimps)),
            f"{group.newton:.0f}",
            ";".join(map(str, group.samples)),
        )
        for group in draft_crimps(draft)
    )
    return Table("pulls", "Pull tests", PullRow, rows)


def alive_table(draft: Draft) -> Table[AliveRow]:
    """Return every step of making the boat alive."""
    rows: list[AliveRow] = []
    for turn, step in enumerate(alive_plan(draft).steps, 1):
        words = alive_words(draft, step)
        limits = (number(round(step.low, 2)), _high(round(step.high, 2)), step.unit)
        rows.append(
            AliveRow(
                str(turn),
                step.part,
                step.subject,
                words.title,
                step.device,
                words.asks,
                words.red,
                words.black,
                *(limits if step.is_read else ("",) * 3),
                step.id,
            )
        )
    return Table("alive", "Making alive", AliveRow, tuple(rows))
