"""The build packet: what is printed, page by page, and the files beside it."""

import datetime
import json
from collections.abc import Callable, Iterator, Sequence
from functools import partial
from typing import Any, Final, NamedTuple

from vivid_loom.drafting import Draft, Finding
from vivid_loom.order import Acceptance
from vivid_loom.sheets import build_lists, loose_lists, stores
from vivid_loom.sheets.cautions import SHORT_CAUTION
from vivid_loom.sheets.cover import cover, with_contents
from vivid_loom.sheets.csv_file import csv_bytes
from vivid_loom.sheets.curve_pages import curve_pages
from vivid_loom.sheets.draft_json import draft_json_bytes
from vivid_loom.sheets.drawing import Page
from vivid_loom.sheets.layout import Setting, counted
from vivid_loom.sheets.pdf import pdf_bytes
from vivid_loom.sheets.printed import cut_pages, label_pages, plain_pages, schedule_pages
from vivid_loom.sheets.schedule import schedule
from vivid_loom.sheets.table import Table
from vivid_loom.sheets.thread_pages import thread_pages

__all__ = [
    "Section",
    "packet_files",
    "packet_pages",
    "packet_parts",
    "packet_sections",
    "packet_tables",
]


TABLES: Final[dict[str, Callable[[Draft], Table[Any]]]] = {
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
    "ends": "Steps of each end",
    "landing": "Landing list",
    "connectors": "Connectors",
    "testpoints": "Strips and test points",
    "bonding": "Bonding conductors",
    "recorded": "Recorded, not sized here",
    "spares": "Spare conductors and pull lines",
    "caps": "Ends to cap and label",
    "changes": "Changes to the built boat",
    "switches": "Helm switches",
    "labels": "Labels",
    "materials": "Materials",
    "fusechart": "Fuse chart",
    "findings": "Findings",
}


def packet_tables(draft: Draft) -> tuple[Table[Any], ...]:
    """Return every table of the packet, in the order it is printed."""
    return tuple(make(draft) for make in TABLES.values())


def _setting(draft: Draft) -> Setting:
    order = draft.aboard.order
    errors = sum(finding.severity == "error" for finding in draft.findings)
    stop = f"DRAFT, {errors} error{'s' * (errors > 1)}: do not build" if errors else ""
    return Setting(
        f"{draft.aboard.boat.name} · hull {order.hull} · revision {order.revision}",
        SHORT_CAUTION,
        stop,
    )


class Section(NamedTuple):
    """Sheets that belong together: composed when they are looked at or printed.

    Attributes:
        pages: makes the sheets; none where the order has nothing for them.
    """

    title: str
    pages: Callable[[], Sequence[Page]]


class _Sheet(NamedTuple):
    """A table that prints as it stands.

    Attributes:
        columns: each by name with its width in mm; figures, set to the right, are marked >.
    """

    table: str
    columns: str
    size: float = 2.8
    wanted: Callable[[Draft], object] = lambda _: True


_SHEETS: Final = (
    _Sheet("ends", "end 56, zone 22, jaw 22, strip_mm 18>, steps 155"),
    _Sheet(
        "landing",
        "place 22, point 28, order 14>, wire_id 26, terminal 62, label 60, "
        "expected_off_v 28>, expected_on_v 28>",
    ),
    _Sheet(
        "connectors",
        "plug 14, station 24, shell 28, key 11, socket_harness 28, pin_harness 26, "
        "cavity 16>, circuit_id 22, wire_id 28, mates_with 28, gauge 22, colour 20",
    ),
    _Sheet(
        "testpoints",
        "strip 20, station 36, pole_rated_a 26>, pole 16>, circuit_id 24, label 90, "
        "expected_off_v 32>, expected_on_v 32>",
        wanted=lambda d: d.allocation.strips,
    ),
    _Sheet(
        "bonding",
        "bond_id 22, part 50, gauge 18, colour 16, from_station 30, "
        "from_termination 30, to_station 30, to_termination 30, path 28, "
        "cut_length_mm 24>",
        wanted=lambda d: d.bonds,
    ),
    _Sheet(
        "recorded",
        "record_id 22, kind 22, name 50, colour 14, from_station 26, to_station 26, "
        "path 36, routed_length_mm 24>, label_from 28, label_to 28",
        wanted=lambda d: d.recorded,
    ),
    _Sheet(
        "spares",
        "spare_id 24, kind 24, label 60, gauge 22, colour 18, from_station 32, "
        "to_station 32, path 36, cut_length_mm 25>",
        wanted=lambda d: d.spares,
    ),
    _Sheet(
        "caps",
        "what 60, end 42, station 36, gauge 22, label 62, to_do 50",
        wanted=lambda d: loose_lists.caps(d).rows,
    ),
    _Sheet(
        "changes",
        "what 20, wire_id 30, circuit_id 20, gauge 20, colour 18, from 50, to 50, "
        "length_mm 22>, note 40",
        wanted=lambda d: d.aboard.order.built,
    ),
    _Sheet(
        "switches",
        "position 18>, legend 36, switch 50, tab 14, row 24, circuit_id 18, live 26, "
        "action 24, lamps 60",
    ),
    _Sheet("labels", ""),
    _Sheet(
        "materials",
        "kind 50, item 110, quantity 26>, unit 16, mass_kg 26>, price 26>",
    ),
    _Sheet(
        "fusechart",
        "block 26, way 18>, feeds 100, rating_a 30>, blade_colour 40, circuit_id 40",
        3.4,
    ),
    _Sheet(
        "findings",
        "code 14, severity 18, subjects 38, finding 95, remedy 70, source 36",
    ),
)
"""In the order they are printed, after the drawings, the schedule and the cut lists."""


def _sheet_pages(sheet: _Sheet, draft: Draft, setting: Setting) -> Sequence[Page]:
    if not sheet.wanted(draft):
        return ()
    if sheet.table == "labels":
        return label_pages(draft, setting)
    table = TABLES[sheet.table](draft)
    return plain_pages(table, sheet.columns, setting, size=sheet.size)


def packet_sections(
    draft: Draft, closed: frozenset[datetime.date] = frozenset()
) -> tuple[Section, ...]:
    """Return the printed packet by sections; ``closed`` days are the shop's, see ``due_text``."""
    setting = _setting(draft)
    first = (
        Section("Build packet", lambda: (cover(draft, setting, closed),)),
        Section("Threads", lambda: thread_pages(draft, setting)),
        Section("Circuit schedule", lambda: schedule_pages(draft, setting)),
        Section("Protection curves", lambda: curve_pages(draft, setting)),
        Section("Cut lists", lambda: cut_pages(draft, setting)),
    )
    tables = (
        Section(_TITLES[sheet.table], partial(_sheet_pages, sheet, draft, setting))
        for sheet in _SHEETS
        if sheet.wanted(draft)
    )
    return (*first, *tables)


def packet_pages(draft: Draft, closed: frozenset[datetime.date] = frozenset()) -> tuple[Page, ...]:
    """Return every sheet of the printed packet."""
    return tuple(_bound([(s.title, s.pages()) for s in packet_sections(draft, closed)]))


def _bound(sections: Sequence[tuple[str, Sequence[Page]]]) -> list[Page]:
    """Return composed sections as one packet: counted, with its contents on the first page."""
    pages = [page for _, made in sections for page in made]
    firsts: list[tuple[str, int]] = []
    number = 1
    for title, made in sections:
        if made and number > 1:
            firsts.append((title, number))
        number += len(made)
    return counted([with_contents(pages[0], firsts), *pages[1:]])


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
        composed: list[tuple[str, Sequence[Page]]] = []
        for section in packet_sections(draft, closed):
            yield "packet.pdf", b""
            composed.append((section.title, section.pages()))
        title = f"Build packet hull {draft.aboard.order.hull}"
        yield "packet.pdf", pdf_bytes(_bound(composed), title)
