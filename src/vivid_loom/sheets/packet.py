"""The build packet: what is printed, page by page, and the files beside it."""

import datetime
import json
from collections.abc import Callable, Iterator, Sequence
from functools import partial
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft, Finding
from vivid_loom.order import Acceptance, due_date
from vivid_loom.sheets import build_lists, loose_lists, stores
from vivid_loom.sheets.cautions import CAUTIONS, SHORT_CAUTION
from vivid_loom.sheets.csv_file import csv_bytes
from vivid_loom.sheets.curve_pages import curve_pages
from vivid_loom.sheets.draft_json import draft_json_bytes
from vivid_loom.sheets.drawing import Page, Primitive, Rect, Text
from vivid_loom.sheets.layout import (
    HEIGHT_MM,
    MARGIN_MM,
    WIDTH_MM,
    Column,
    Setting,
    boxed,
    frame,
    paginate,
    paragraphs,
)
from vivid_loom.sheets.pdf import pdf_bytes
from vivid_loom.sheets.schedule import schedule
from vivid_loom.sheets.table import Table
from vivid_loom.sheets.thread_pages import thread_pages

__all__ = [
    "Section",
    "due_text",
    "packet_files",
    "packet_pages",
    "packet_parts",
    "packet_sections",
    "packet_tables",
]


TABLES: Final[dict[str, Callable[[Draft], Table]]] = {
    "schedule": schedule,
    "cutlist": build_lists.cut_list,
    "ends": build_lists.end_procedures,
    "landing": build_lists.landings,
    "connectors": build_lists.connectors,
    "labels": build_lists.labels,
    "testpoints": loose_lists.test_points,
    "bonding": loose_lists.bonding,
    "recorded": loose_lists.recorded,
    "spares": loose_lists.spares,
    "changes": loose_lists.changes,
    "caps": loose_lists.caps,
    "materials": stores.materials,
    "fusechart": stores.fuse_chart,
    "findings": stores.findings_table,
    "switches": stores.switch_table,
}
"""The packet's tables by name, in the order they are printed."""

_TITLES: Final = {
    "ends": "Steps of every end",
    "landing": "Landing list",
    "connectors": "Plugs",
    "testpoints": "Test points",
    "bonding": "Bonding",
    "recorded": "Recorded systems",
    "spares": "Spares",
    "caps": "Ends to cap and label",
    "changes": "Changes",
    "switches": "Helm switches",
    "labels": "Labels",
    "materials": "Materials",
    "fusechart": "Fuse chart",
    "findings": "Findings",
}


def packet_tables(draft: Draft) -> tuple[Table, ...]:
    """Return every table of the packet, in the order it is printed."""
    return tuple(make(draft) for make in TABLES.values())


def _setting(draft: Draft) -> Setting:
    order = draft.aboard.order
    return Setting(
        f"{draft.aboard.boat.name} · hull {order.hull} · revision {order.revision}", SHORT_CAUTION
    )


def due_text(draft: Draft, closed: frozenset[datetime.date] = frozenset()) -> str:
    """Return the harness due date: one working day before the hull's station.

    Args:
        closed: days the shop does not work, besides Saturdays and Sundays.
    """
    date = due_date(datetime.date.fromisoformat(draft.aboard.order.station_date), closed)
    return f"{date:%a} {date.day} {date:%b %Y}"


def _cover(draft: Draft, setting: Setting, closed: frozenset[datetime.date]) -> Page:
    order, profile = draft.aboard.order, draft.aboard.profile
    metres = sum(stores.wire_totals(draft).values())
    count = {s: sum(f.severity == s for f in draft.findings) for s in ("error", "judge", "note")}
    left = [
        (f"{draft.aboard.boat.name} · hull {order.hull}", 9.0, True),
        (order.title, 5.0, False),
        (f"For {order.customer}" if order.customer else "", 3.6, False),
        (
            f"Harness due {due_text(draft, closed)}; hull at its wiring station "
            f"{order.station_date}.",
            3.6,
            True,
        ),
        (
            f"Drafted under {profile.name}: {profile.series.replace('mm2', 'mm²')}, insulation "
            f"{profile.insulation_c} °C, drop {profile.critical_drop_percent:g} % critical, "
            f"{profile.other_drop_percent:g} % other, conductor at {profile.conductor_c:g} °C.",
            3.2,
            False,
        ),
        (
            f"{len(draft.circuits)} circuits, {len(draft.feeders)} feeders, "
            f"{len(draft.assembled.wires)} wires, {len(draft.assembled.plugs)} plugs, "
            f"{metres:.0f} m of wire.",
            3.2,
            False,
        ),
        (
            f"Findings: {count['error']} errors, {count['judge']} to judge, {count['note']} notes."
            + (
                " Do not build from this packet before the errors are cleared."
                if count["error"]
                else ""
            ),
            3.2,
            bool(count["error"]),
        ),
        (f"Notes: {order.notes}" if order.notes else "", 3.2, False),
    ]
    items: list[Primitive] = frame("Build packet", setting, 1)
    written, _ = paragraphs([line for line in left if line[0]], MARGIN_MM, 26, 150)
    items += written
    items.append(Rect(175, 27, WIDTH_MM - MARGIN_MM - 175, 88, "#fbf3dc", "#8a5a00", 0.5, 1.5))
    items.append(Text(180, 35, "Cautions", 4.4, "#1c1e22", True))
    warned, _ = paragraphs([(line, 3.2, False) for line in CAUTIONS], 180, 37, 100)
    items += warned
    signs = ("Wiring engineer, date", "Harness builder, date", "Test hand, date")
    for i, caption in enumerate(signs):
        items += boxed(MARGIN_MM + i * 92, HEIGHT_MM - 45, 86, 28, caption)
    return Page("Build packet", WIDTH_MM, HEIGHT_MM, tuple(items))


def _at(index: int) -> Callable[[Sequence[str]], str]:
    return lambda row: row[index]


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


def _schedule_pages(draft: Draft, setting: Setting) -> list[Page]:
    def figures(row: Sequence[str]) -> str:
        return f"{float(row[11]):.1f}" if row[11] else "unknown"

    columns = (
        Column("circuit", 13, _at(0), bold=True),
        Column("feeds", 43, _at(1)),
        Column("from", 22, lambda r: r[6]),
        Column("protection A", 16, lambda r: r[5] or "none", True, True),
        Column("type", 21, _at(4)),
        Column("switch", 42, lambda r: f"SW{r[9]} {r[8]}" if r[9] else r[8]),
        Column("A", 12, figures, True),
        Column("loop m", 13, lambda r: f"{float(r[14]):.1f}" if r[14] else "", True),
        Column("gauge", 18, lambda r: r[15] or "not sized", bold=True),
        Column("colour + / −", 20, lambda r: f"{r[17]}  {r[18]}"),
        Column(
            "drop % of limit",
            20,
            lambda r: f"{float(r[22]):.2f} of {float(r[23]):g}" if r[22] else "",
            True,
        ),
        Column("governed by", 22, _at(25)),
        Column("findings", 12, _at(28)),
    )
    note = _cautions_by_circuit(draft)
    rows = schedule(draft).rows
    return paginate("Circuit schedule", columns, rows, setting, size=2.6, note=note)


def _end_words(termination: str, jaw: str) -> str:
    """Name the jaw where the termination does not name it already."""
    return termination if jaw in termination or "contact" in jaw else f"{termination} · {jaw}"


def _label_pages(draft: Draft, setting: Setting) -> list[Page]:
    rows = [
        (wire.id, wire.harness, wire.start.label, wire.end.label)
        for wire in sorted(draft.assembled.wires, key=lambda w: w.harness)
    ]
    columns = (
        Column("wire", 40, _at(0), bold=True),
        Column("harness", 33, _at(1)),
        Column("label at its first end", 100, _at(2)),
        Column("label at its other end", 100, _at(3)),
    )
    return paginate("Labels", columns, rows, setting)


def _colour_words(row: Sequence[str]) -> str:
    """Say a wire's colour, its sleeve and the cable it is a core of."""
    shade = f"{row[5]}/{row[6]}" if row[6] else row[5]
    marked = f" sleeve {row[27]}" if row[27] else ""
    core = f" core {row[22]} of {row[21]}" if row[21] else ""
    return f"{shade}{marked}{core}"


def _cut_pages(draft: Draft, setting: Setting) -> list[Page]:
    places = {load.id: f"{load.name}," for load in draft.aboard.loads.values()}
    columns = (
        Column("wire", 21, _at(0), bold=True),
        Column("gauge", 16, _at(3)),
        Column("colour", 13, _colour_words, bold=True),
        Column("cut mm", 15, lambda r: "stays" if r[26] == "existing" else r[17], True, True),
        Column("from", 34, lambda r: f"{places.get(r[7], r[7])} {r[8]}"),
        Column("end · jaw", 38, lambda r: _end_words(r[9], r[23])),
        Column("strip mm", 11, _at(10), True),
        Column("to", 34, lambda r: f"{places.get(r[11], r[11])} {r[12]}"),
        Column("end · jaw", 38, lambda r: _end_words(r[13], r[24])),
        Column("strip mm", 11, _at(14), True),
        Column("maker's lead", 23, _at(25)),
        Column("along", 18, lambda r: r[15].replace(";", " ")),
    )
    pages: list[Page] = []
    rows = build_lists.cut_list(draft).rows
    for assembly in draft.aboard.boat.assemblies:
        mine = [row for row in rows if row[2] == assembly.id]
        if mine:
            note = (
                "Lengths are cut lengths with tails and service loop. Label sleeve and heat-shrink "
                "go on before the terminal. Tolerance −0/+25 mm under 1 m, −0/+50 mm over."
            )
            title = f"Cut list, {assembly.name.lower()}"
            pages += paginate(title, columns, mine, setting, size=2.5, note=note)
    return pages


def _simple(
    table: Table,
    widths: tuple[float, ...],
    setting: Setting,
    *,
    right: tuple[int, ...] = (),
    size: float = 2.8,
) -> list[Page]:
    headings = [name.replace("_", " ") for name in table.columns]
    columns = [
        Column(heading, width, _at(i), i in right, i == 0)
        for i, (heading, width) in enumerate(zip(headings, widths, strict=True))
    ]
    return paginate(table.title, columns, table.rows, setting, size=size)


class Section(NamedTuple):
    """Sheets that belong together: composed when they are looked at or printed.

    Attributes:
        pages: makes the sheets; none where the order has nothing for them.
    """

    title: str
    pages: Callable[[], Sequence[Page]]


class _Sheet(NamedTuple):
    """A table that prints as it stands: its columns' widths in mm."""

    table: str
    widths: tuple[float, ...]
    right: tuple[int, ...] = ()
    size: float = 2.8
    wanted: Callable[[Draft], object] = lambda _: True


_SHEETS: Final = (
    _Sheet("ends", (56, 22, 22, 18, 155), (3,)),
    _Sheet("landing", (22, 28, 14, 26, 62, 60, 28, 28), (2, 6, 7)),
    _Sheet("connectors", (14, 24, 28, 11, 28, 26, 16, 22, 28, 28, 22, 20), (6,)),
    _Sheet(
        "testpoints",
        (20, 36, 26, 16, 24, 90, 32, 32),
        (2, 3, 6, 7),
        wanted=lambda d: d.allocation.strips,
    ),
    _Sheet("bonding", (22, 50, 18, 16, 30, 30, 30, 30, 28, 24), (9,), wanted=lambda d: d.bonds),
    _Sheet("recorded", (22, 22, 50, 14, 26, 26, 36, 24, 28, 28), (7,), wanted=lambda d: d.recorded),
    _Sheet("spares", (24, 24, 60, 22, 18, 32, 32, 36, 25), (8,), wanted=lambda d: d.spares),
    _Sheet("caps", (60, 42, 36, 22, 62, 50), wanted=lambda d: loose_lists.caps(d).rows),
    _Sheet(
        "changes",
        (20, 30, 20, 20, 18, 50, 50, 22, 40),
        (7,),
        wanted=lambda d: d.aboard.order.built,
    ),
    _Sheet("switches", (18, 36, 50, 14, 24, 18, 26, 24, 60), (0,)),
    _Sheet("labels", ()),
    _Sheet("materials", (50, 110, 26, 16, 26, 26), (2, 4, 5)),
    _Sheet("fusechart", (26, 18, 100, 30, 40, 40), (1, 3), 3.4),
    _Sheet("findings", (14, 18, 38, 95, 70, 36)),
)
"""In the order they are printed, after the drawings, the schedule and the cut lists."""


def _sheet_pages(sheet: _Sheet, draft: Draft, setting: Setting) -> Sequence[Page]:
    if not sheet.wanted(draft):
        return ()
    if sheet.table == "labels":
        return _label_pages(draft, setting)
    table = TABLES[sheet.table](draft)
    return _simple(table, sheet.widths, setting, right=sheet.right, size=sheet.size)


def packet_sections(
    draft: Draft, closed: frozenset[datetime.date] = frozenset()
) -> tuple[Section, ...]:
    """Return the printed packet by sections; ``closed`` days are the shop's, see ``due_text``."""
    setting = _setting(draft)
    first = (
        Section("Build packet", lambda: (_cover(draft, setting, closed),)),
        Section("Threads", lambda: thread_pages(draft, setting)),
        Section("Circuit schedule", lambda: _schedule_pages(draft, setting)),
        Section("Time–current", lambda: curve_pages(draft, setting)),
        Section("Cut lists", lambda: _cut_pages(draft, setting)),
    )
    tables = (
        Section(_TITLES[sheet.table], partial(_sheet_pages, sheet, draft, setting))
        for sheet in _SHEETS
        if sheet.wanted(draft)
    )
    return (*first, *tables)


def packet_pages(draft: Draft, closed: frozenset[datetime.date] = frozenset()) -> tuple[Page, ...]:
    """Return every sheet of the printed packet."""
    return tuple(page for s in packet_sections(draft, closed) for page in s.pages())


def _finding_record(finding: Finding, acceptance: Acceptance | None) -> dict[str, object]:
    return {
        "code": finding.code,
        "severity": finding.severity,
        "subjects": list(finding.subjects),
        "title": finding.kind.title,
        "sentence": finding.sentence(),
        "remedy": finding.kind.remedy,
        "source": str(finding.kind.source),
        "values": dict(finding.values),
        "accepted": {
            "reason": acceptance.reason,
            "initials": acceptance.initials,
            "date": acceptance.date,
        }
        if acceptance
        else None,
    }


def _findings_json(draft: Draft) -> bytes:
    found = [_finding_record(finding, None) for finding in draft.findings]
    found += [_finding_record(finding, answer) for finding, answer in draft.accepted]
    return (json.dumps(found, ensure_ascii=False, indent=1) + "\n").encode()


def packet_files(
    draft: Draft,
    only: frozenset[str] = frozenset(),
    closed: frozenset[datetime.date] = frozenset(),
) -> dict[str, bytes]:
    """Return file name → contents of the packet; see ``packet_parts``.

    Raises:
        KeyError: a part that does not exist.
    """
    return {name: data for name, data in packet_parts(draft, only, closed) if data}


def packet_parts(
    draft: Draft,
    only: frozenset[str] = frozenset(),
    closed: frozenset[datetime.date] = frozenset(),
) -> Iterator[tuple[str, bytes]]:
    """Make the packet file by file; between the sections of the PDF its name comes with b"".

    Args:
        only: parts to make; () for all.
        closed: days the shop does not work, see ``due_text``.

    Raises:
        KeyError: a part that does not exist.
    """
    names = {*TABLES, "packet", "draft"}
    if unknown := only - names:
        raise KeyError(f"found {', '.join(sorted(unknown))}, expected {', '.join(sorted(names))}")
    wanted = only or frozenset(names)
    for name, make in TABLES.items():
        if name in wanted and name != "findings":
            yield f"{name}.csv", csv_bytes(make(draft))
    if "findings" in wanted:
        yield "findings.json", _findings_json(draft)
    if "draft" in wanted:
        yield "draft.json", draft_json_bytes(draft)
    if "packet" in wanted:
        pages: list[Page] = []
        for section in packet_sections(draft, closed):
            yield "packet.pdf", b""
            pages += section.pages()
        title = f"Build packet hull {draft.aboard.order.hull}"
        yield "packet.pdf", pdf_bytes(pages, title)
