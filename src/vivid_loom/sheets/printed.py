"""Schedule, cut lists and plain tables as they are printed."""

from operator import attrgetter
from typing import Any

from vivid_loom.drafting import Draft
from vivid_loom.sheets.build_lists import CutRow, cut_list
from vivid_loom.sheets.drawing import Page
from vivid_loom.sheets.layout import Column, Setting, paginate
from vivid_loom.sheets.schedule import ScheduleRow, schedule
from vivid_loom.sheets.table import Table

__all__ = ["cut_pages", "label_pages", "plain_pages", "schedule_pages"]


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


def _fixed(cell: str, digits: int) -> str:
    return f"{float(cell):.{digits}f}" if cell else ""


def _switch_words(row: ScheduleRow) -> str:
    return f"SW{row.helm_position} {row.switch}" if row.helm_position else row.switch


def _drop_words(row: ScheduleRow) -> str:
    if not row.drop_percent:
        return ""
    return f"{_fixed(row.drop_percent, 2)} of {float(row.drop_limit_percent):g}"


def schedule_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return the circuit schedule as printed."""
    columns = (
        Column("circuit", 13, attrgetter("circuit_id"), bold=True),
        Column("feeds", 43, attrgetter("label")),
        Column("from", 24, attrgetter("protection_place")),
        Column("protection A", 16, lambda r: r.protection_rating_a or "none", True, True),
        Column("type", 21, attrgetter("protection_type")),
        Column("switch", 42, _switch_words),
        Column("A", 12, lambda r: _fixed(r.current_a, 1) or "unknown", True),
        Column("loop m", 13, lambda r: _fixed(r.loop_length_m, 1), True),
        Column("gauge", 18, lambda r: r.gauge or "not sized", bold=True),
        Column("colour + / −", 18, lambda r: f"{r.positive_colour}  {r.negative_colour}"),
        Column("drop % of limit", 18, _drop_words, True),
        Column("governed by", 21, attrgetter("governed_by")),
        Column("findings", 15, attrgetter("findings")),
    )
    note = _cautions_by_circuit(draft)
    rows = schedule(draft).rows
    return paginate("Circuit schedule", columns, rows, setting, size=2.6, note=note)


def _end_words(termination: str, jaw: str) -> str:
    """Name the jaw where the termination does not name it already."""
    return termination if jaw in termination or "contact" in jaw else f"{termination} · {jaw}"


def label_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return the labels, both of a wire on one row."""
    wires = sorted(draft.assembled.wires, key=lambda wire: wire.harness)
    columns = (
        Column("wire", 40, attrgetter("id"), bold=True),
        Column("harness", 33, attrgetter("harness")),
        Column("label at its first end", 100, attrgetter("start.label")),
        Column("label at its other end", 100, attrgetter("end.label")),
    )
    return paginate("Labels", columns, wires, setting)


def _colour_words(row: CutRow) -> str:
    """Say a wire's colour, its sleeve and the cable it is a core of."""
    shade = f"{row.colour}/{row.tracer}" if row.tracer else row.colour
    marked = f" sleeve {row.sleeve}" if row.sleeve else ""
    core = f" core {row.core} of {row.cable_id}" if row.cable_id else ""
    return f"{shade}{marked}{core}"


def _cut_words(row: CutRow) -> str:
    return "stays" if row.conductor_state == "existing" else row.cut_length_mm


def cut_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return a cut list for each harness."""
    places = {load.id: f"{load.name}," for load in draft.aboard.loads.values()}
    columns = (
        Column("wire", 21, attrgetter("wire_id"), bold=True),
        Column("gauge", 16, attrgetter("gauge")),
        Column("colour", 13, _colour_words, bold=True),
        Column("cut mm", 15, _cut_words, True, True),
        Column("from", 34, lambda r: f"{places.get(r.from_place, r.from_place)} {r.from_point}"),
        Column("end · jaw", 34, lambda r: _end_words(r.from_termination, r.from_jaw)),
        Column("strip mm", 11, attrgetter("from_strip_mm"), True),
        Column("to", 34, lambda r: f"{places.get(r.to_place, r.to_place)} {r.to_point}"),
        Column("end · jaw", 34, lambda r: _end_words(r.to_termination, r.to_jaw)),
        Column("strip mm", 11, attrgetter("to_strip_mm"), True),
        Column("maker's lead", 27, attrgetter("device_lead")),
        Column("along", 22, lambda r: r.path.replace(";", " ")),
    )
    pages: list[Page] = []
    rows = cut_list(draft).rows
    for assembly in draft.aboard.boat.assemblies:
        mine = [row for row in rows if row.harness == assembly.id]
        if mine:
            note = (
                "Lengths are cut lengths with tails and service loop. Label sleeve and heat-shrink "
                "go on before the terminal. Tolerance −0/+25 mm under 1 m, −0/+50 mm over."
            )
            title = f"Cut list, {assembly.name.lower()}"
            pages += paginate(title, columns, mine, setting, size=2.5, note=note)
    return pages


def _heading(column: str) -> str:
    """Return a column's name as it is printed: 'pole_rated_a' is 'pole rated A'."""
    *words, unit = column.split("_")
    return " ".join((*words, unit.upper() if words and unit in ("a", "v") else unit))


def plain_pages(
    table: Table[Any], columns: str, setting: Setting, *, size: float = 2.8
) -> list[Page]:
    """Return a table as it stands.

    Args:
        columns: 'name width' of each in turn, the width in mm, with > where it is set right.
    """
    asked = [part.split() for part in columns.split(",")]
    assert [name for name, _ in asked] == list(table.columns), table.name
    cells = (attrgetter(field) for field in table.record._fields)
    printed = [
        Column(_heading(name), float(width.rstrip(">")), cell, width.endswith(">"), not i)
        for i, ((name, width), cell) in enumerate(zip(asked, cells, strict=True))
    ]
    return paginate(table.title, printed, table.rows, setting, size=size)
