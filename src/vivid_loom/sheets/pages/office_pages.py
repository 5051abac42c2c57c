"""What the office reads: the schedule, and what to take from the shelves."""

from operator import attrgetter

from vivid_loom.drafting import Draft
from vivid_loom.order import Shop
from vivid_loom.quantities import figure, length_text, percent_text
from vivid_loom.sheets.lists.cut_lists import hours
from vivid_loom.sheets.lists.harness_totals import harness_totals
from vivid_loom.sheets.lists.schedule import ScheduleRow, schedule
from vivid_loom.sheets.lists.spares_kit import spares_kit
from vivid_loom.sheets.lists.stores import materials
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Column, Printed, Setting, paginate

__all__ = ["material_pages", "schedule_pages"]


def _cautions_by_circuit(draft: Draft) -> str:
    """Name the circuits that stay live with everything off and those in fuel vapour."""
    level = draft.aboard.levels
    vapour = {area.id for area in draft.aboard.boat.areas if area.fuel_vapour}
    live = [
        row.id
        for row in draft.rows
        if level.get(row.planned.feeds or row.planned.source) == "battery_direct"
        or row.planned.source in draft.aboard.boat.network.batteries
    ]
    fumes = [
        row.id
        for row in draft.rows
        if any(run.area in vapour for path in row.paths for run in path.runs)
    ]
    told = f"Live with the battery switch off: {', '.join(live)}." if live else ""
    if fumes:
        told += f" Through fuel vapour, ventilate before switching: {', '.join(fumes)}."
    return told.strip()


def _switch_words(row: ScheduleRow) -> str:
    return f"SW{row.helm_position} {row.switch}" if row.helm_position else row.switch


def _amps_words(row: ScheduleRow) -> str:
    return figure(float(row.current_a)) if row.current_a else "unknown"


def _loop_words(row: ScheduleRow, units: str) -> str:
    if not row.loop_length_m:
        return ""
    return length_text(float(row.loop_length_m), units).removesuffix(f" {units}")


def _gauge_words(row: ScheduleRow) -> str:
    thinner = f", {row.thinner_leads}" if row.thinner_leads else ""
    return f"{row.gauge}{thinner}" or "not sized"


def _drop_words(row: ScheduleRow) -> str:
    if not row.drop_percent:
        return ""
    return f"{percent_text(float(row.drop_percent))} of {float(row.drop_limit_percent):g}"


def schedule_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return the circuit schedule as printed."""
    units = draft.aboard.profile.units
    columns = (
        Column("circuit", 13, attrgetter("circuit_id"), bold=True),
        Column("feeds", 43, attrgetter("label")),
        Column("from", 24, lambda r: r.protection_place or r.source),
        Column("protection A", 16, lambda r: r.protection_rating_a or "none", True, True),
        Column("type", 21, attrgetter("protection_type")),
        Column("switch", 39, _switch_words),
        Column("A", 15, _amps_words, True),
        Column(f"loop {units}", 13, lambda r: _loop_words(r, units), True),
        Column("gauge", 18, _gauge_words, bold=True),
        Column("colour + / −", 18, lambda r: f"{r.positive_colour or '—'}  {r.negative_colour}"),
        Column("drop % of limit", 18, _drop_words, True),
        Column("governed by", 21, attrgetter("governed_by")),
        Column("findings", 15, attrgetter("findings")),
    )
    note = _cautions_by_circuit(draft)
    table = Printed(columns, schedule(draft).rows, note=note, size=2.6)
    return paginate("Circuit schedule", [table], setting)


def material_pages(draft: Draft, shop: Shop, setting: Setting) -> list[Page]:
    """Return what to take from the shelves, kind by kind, with what it comes to."""
    columns = (
        Column("item", 40, lambda r: f"{r.item}, {r.stock}" if r.stock else r.item, bold=True),
        Column("quantity", 14, attrgetter("quantity"), True, True),
        Column("", 9, attrgetter("unit")),
        Column("kg", 10, attrgetter("mass_kg"), True),
        Column(f"price {draft.catalogue.currency}", 13, attrgetter("price"), True),
    )
    rows = materials(draft, shop).rows
    total = sum(float(row.price) for row in rows if row.price)
    unpriced = sum(not row.price for row in rows)
    note = f"Together {total:.2f} {draft.catalogue.currency}, prices of the catalogue."
    if unpriced:
        note += f" {unpriced} items have no price there."
    table = Printed(columns, rows, note=note, size=2.4, group=lambda row: row.kind.capitalize())
    tables = (table, _totals_table(draft, shop), _kit_table(draft), _hour_table(draft, shop))
    return paginate("Materials", tables, setting, lanes=3)


def _totals_table(draft: Draft, shop: Shop) -> Printed:
    names = {a.id: a.name for a in draft.aboard.boat.assemblies} | {"all": "Together"}
    columns = (
        Column("harness", 24, lambda r: names[r.harness], bold=True),
        Column("wires", 11, attrgetter("wires"), True),
        Column("m", 13, attrgetter("wire_m"), True),
        Column("kg Cu", 13, attrgetter("copper_kg"), True),
        Column("h", 12, attrgetter("bench_h"), True, True),
        Column("h aboard", 13, attrgetter("aboard_h"), True),
    )
    currency = draft.catalogue.currency
    *_, whole = rows = harness_totals(draft, shop).rows
    note = f"Wire {whole.wire_price} {currency}"
    note += f", work {whole.work_price} {currency}." if whole.work_price else "."
    return Printed(columns, rows, "By harness", note, 2.4)


def _kit_table(draft: Draft) -> Printed:
    columns = (
        Column("item", 62, attrgetter("item"), bold=True),
        Column("take", 12, attrgetter("quantity"), True, True),
        Column("fitted", 12, attrgetter("fitted"), True),
    )
    note = "For repairs aboard. A fuse is replaced by its like, never by a larger one."
    return Printed(columns, spares_kit(draft).rows, "Spares kit", note, 2.4)


def _hour_table(draft: Draft, shop: Shop) -> Printed:
    columns = (
        Column("operation", 50, attrgetter("operation"), bold=True),
        Column("times", 13, attrgetter("times"), True),
        Column("min each", 12, attrgetter("minutes_each"), True),
        Column("h", 11, attrgetter("hours"), True, True),
    )
    rows = hours(draft, shop).rows
    sums = {
        where: sum(float(row.hours) for row in rows if row.where == where)
        for where in ("bench", "aboard")
    }
    note = f"{sums['bench']:.1f} h on the bench, {sums['aboard']:.1f} h aboard."
    if shop.hour_price:
        price = sum(sums.values()) * shop.hour_price
        note += f" {price:.2f} {draft.catalogue.currency} of work."
    names = {a.id: a.name for a in draft.aboard.boat.assemblies}
    return Printed(
        columns, rows, "Hours", note, 2.4, lambda r: f"{names.get(r.harness, r.harness)}, {r.where}"
    )
