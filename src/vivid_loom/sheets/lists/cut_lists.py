"""The cut plan and the hours as tables."""

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.order import Shop
from vivid_loom.sheets.lists.schedule import number
from vivid_loom.sheets.paper.table import Table
from vivid_loom.workshop.cutting.plan import (
    NEW_WORTH,
    REMNANT_WORTH,
    CutPlan,
    cut_plan,
    pieces,
)
from vivid_loom.workshop.hours import hour_lines

__all__ = ["CutPlanRow", "HourRow", "cut_plan_table", "draft_cut_plan", "hours", "plan_words"]


class CutPlanRow(NamedTuple):
    """A piece cut from a spool, or what is left of it."""

    wire: str
    colour: str
    spool: str
    place: str
    spool_m: str
    cut: str
    for_hull: str
    harness: str
    piece: str
    length_mm: str
    rest_mm: str
    rest: str


class HourRow(NamedTuple):
    """An operation on a harness."""

    harness: str
    where: str
    operation: str
    times: str
    minutes_each: str
    hours: str
    price: str
    currency: str


def draft_cut_plan(drafts: Iterable[Draft], shop: Shop) -> CutPlan:
    """Return the cut plan of orders over a shop's spools."""
    asked = [piece for draft in drafts for piece in pieces(draft)]
    return cut_plan(asked, shop.spools)


def _rows(plan: CutPlan) -> Iterator[CutPlanRow]:
    for wire in plan.wires:
        for cuts in wire.spools:
            spool = cuts.spool
            rest = spool.length_m * 1000
            for turn, piece in enumerate(cuts.pieces, 1):
                rest -= piece.length_mm
                last = turn == len(cuts.pieces)
                yield CutPlanRow(
                    wire.wire,
                    wire.colour,
                    spool.id,
                    "to buy" if cuts.new else spool.place,
                    f"{spool.length_m:g}",
                    str(turn),
                    piece.order,
                    piece.harness,
                    piece.id,
                    number(piece.length_mm),
                    number(round(rest, 1)),
                    ("back to the shelf" if cuts.kept else "waste") if last and rest > 0 else "",
                )


def cut_plan_table(plan: CutPlan) -> Table[CutPlanRow]:
    """Return what to cut from which spool, in the order of cutting, the longest first."""
    return Table("cutplan", "Cut plan", CutPlanRow, tuple(_rows(plan)))


def plan_words(plan: CutPlan) -> str:
    """Say what a plan comes to, and what is proven of it: the wire it uses up, by its worth."""
    spools = [cuts for wire in plan.wires for cuts in wire.spools]
    bought = sum(cuts.new for cuts in spools)
    count = sum(len(cuts.pieces) for cuts in spools)
    told = f"{count} pieces, {plan.needed_mm / 1000:.1f} m, from {len(spools)} spools and remnants"
    told += f", {bought} of them to buy" if bought else ""
    waste = f"{plan.waste_mm / 1000:.2f} m waste"
    best = (
        "no plan takes less"
        if plan.gap_percent < 1e-3
        else f"at most {plan.gap_percent:.2f} % more than the least"
    )
    weighed = f"a metre of a remnant as {REMNANT_WORTH:g}, of a new spool as {NEW_WORTH:g}"
    return f"{told}; {waste}. Wire used up, {weighed}: {best}."


def hours(draft: Draft, shop: Shop) -> Table[HourRow]:
    """Return the operations of every harness with their time, on the bench and aboard."""
    rows = tuple(
        HourRow(
            line.harness,
            "aboard" if line.aboard else "bench",
            line.operation,
            f"{line.times:.1f}".removesuffix(".0"),
            number(line.minutes_each),
            f"{line.hours:.2f}",
            f"{line.hours * shop.hour_price:.2f}" if shop.hour_price else "",
            draft.catalogue.currency if shop.hour_price else "",
        )
        for line in hour_lines(draft, shop.standard_minutes)
    )
    return Table("hours", "Hours", HourRow, rows)
