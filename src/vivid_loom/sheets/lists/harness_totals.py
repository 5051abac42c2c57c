"""What each harness comes to: wire, copper, ends, plugs, hours, and what wire and work cost."""

from collections import defaultdict
from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.order import Shop
from vivid_loom.sheets.lists.schedule import number
from vivid_loom.sheets.paper.table import Table
from vivid_loom.standards.conductor import COPPER_KG_PER_MM2_M, area_mm2
from vivid_loom.workshop.hours import hour_lines

__all__ = ["HarnessTotal", "harness_totals"]


class HarnessTotal(NamedTuple):
    """One harness, or all together."""

    harness: str
    wires: str
    ends: str
    plug_halves: str
    wire_m: str
    copper_kg: str
    wire_price: str
    bench_h: str
    aboard_h: str
    work_price: str
    currency: str


class _Sum(NamedTuple):
    """Figures of one harness that can be added up."""

    wires: float = 0.0
    ends: float = 0.0
    plug_halves: float = 0.0
    wire_m: float = 0.0
    copper_kg: float = 0.0
    wire_price: float = 0.0
    bench_h: float = 0.0
    aboard_h: float = 0.0

    def plus(self, other: "_Sum") -> "_Sum":
        return _Sum(*(a + b for a, b in zip(self, other, strict=True)))


def _sums(draft: Draft, shop: Shop) -> dict[str, _Sum]:
    """Return the figures by harness; what lies in the boat already costs nothing."""
    prices = {wire.gauge: wire.price_per_m for wire in draft.catalogue.wires}
    stocks = {cable.id: cable.stock for cable in draft.assembled.cables}
    found: dict[str, _Sum] = defaultdict(_Sum)
    for wire in filter(draft.reuse.is_new, draft.assembled.wires):
        metres, price = wire.cut_mm / 1000, prices[str(wire.gauge)]
        if wire.cable:  # a core's share of its cable
            stock = stocks[wire.cable.partition(".")[0]]
            cores = sum(w.cable == wire.cable for w in draft.assembled.wires)
            price = (stock.price_per_m or 0.0) / cores
        copper = metres * area_mm2(wire.gauge) * COPPER_KG_PER_MM2_M
        crimped = sum(bool(end.termination.jaw) for end in (wire.start, wire.end))
        made = _Sum(1, crimped, 0, metres, copper, metres * price)
        found[wire.harness] = found[wire.harness].plus(made)
    for plug in draft.assembled.plugs:
        if plug.id in draft.reuse.places:
            continue
        for harness in (plug.live, plug.dead):
            if harness in found:
                found[harness] = found[harness].plus(_Sum(plug_halves=1))
    for line in hour_lines(draft, shop.standard_minutes):
        spent = _Sum(aboard_h=line.hours) if line.aboard else _Sum(bench_h=line.hours)
        found[line.harness] = found[line.harness].plus(spent)
    return found


def _row(name: str, total: _Sum, draft: Draft, shop: Shop) -> HarnessTotal:
    hours = total.bench_h + total.aboard_h
    return HarnessTotal(
        name,
        number(total.wires),
        number(total.ends),
        number(total.plug_halves),
        f"{total.wire_m:.1f}",
        f"{total.copper_kg:.2f}",
        f"{total.wire_price:.2f}",
        f"{total.bench_h:.1f}",
        f"{total.aboard_h:.1f}",
        f"{hours * shop.hour_price:.2f}" if shop.hour_price else "",
        draft.catalogue.currency,
    )


def harness_totals(draft: Draft, shop: Shop) -> Table[HarnessTotal]:
    """Return a row a harness, then the order."""
    sums = _sums(draft, shop)
    rows = [
        _row(assembly.id, sums[assembly.id], draft, shop)
        for assembly in draft.aboard.boat.assemblies
        if assembly.id in sums
    ]
    whole = _Sum()
    for each in sums.values():
        whole = whole.plus(each)
    rows.append(_row("all", whole, draft, shop))
    return Table("harnesses", "What each harness comes to", HarnessTotal, tuple(rows))
