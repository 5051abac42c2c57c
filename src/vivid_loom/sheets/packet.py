"""The build packet: what is printed, page by page, and the files beside it."""

import hashlib
import json
import math
from collections.abc import Callable, Iterator, Sequence
from functools import partial
from typing import Any, Final, Literal, NamedTuple

from vivid_loom.boat import Assembly
from vivid_loom.drafting import Draft, Finding
from vivid_loom.drafting.rules.causes import grouped
from vivid_loom.order import Acceptance, Shop
from vivid_loom.sheets import (
    bench_lists,
    build_lists,
    cut_lists,
    harness_lists,
    label_lists,
    loose_lists,
    stores,
    switch_lists,
)
from vivid_loom.sheets.bench_pages import alive_pages, pull_pages, ring_pages
from vivid_loom.sheets.board_files import all_boards, board_dxf, board_svg
from vivid_loom.sheets.branch_pages import branch_pages
from vivid_loom.sheets.cautions import SHORT_CAUTION
from vivid_loom.sheets.change_pages import change_pages, change_plan
from vivid_loom.sheets.cover import cover, with_contents
from vivid_loom.sheets.csv_file import csv_bytes
from vivid_loom.sheets.curve_pages import curve_pages
from vivid_loom.sheets.draft_json import draft_json_bytes
from vivid_loom.sheets.drawing import Page
from vivid_loom.sheets.fault_pages import fault_pages
from vivid_loom.sheets.finding_pages import finding_pages
from vivid_loom.sheets.fitting_pages import fuse_pages, landing_pages
from vivid_loom.sheets.harness_pages import harness_pages
from vivid_loom.sheets.harness_totals import harness_totals
from vivid_loom.sheets.install_pages import install_pages, install_table
from vivid_loom.sheets.key_pages import key_pages
from vivid_loom.sheets.label_pages import label_sheets
from vivid_loom.sheets.layout import Setting, counted
from vivid_loom.sheets.names import key
from vivid_loom.sheets.network_text import network_text
from vivid_loom.sheets.office_pages import material_pages, schedule_pages
from vivid_loom.sheets.panel_pages import panel_pages
from vivid_loom.sheets.pdf import pdf_bytes
from vivid_loom.sheets.power_pages import power_pages
from vivid_loom.sheets.recipe_pages import recipe_pages
from vivid_loom.sheets.schedule import schedule
from vivid_loom.sheets.spares_kit import spares_kit
from vivid_loom.sheets.table import Table
from vivid_loom.sheets.thread_pages import thread_pages
from vivid_loom.sheets.workbook import workbook_bytes

__all__ = [
    "Section",
    "packet_files",
    "packet_pages",
    "packet_parts",
    "packet_sections",
    "packet_table",
    "packet_tables",
    "sheets_digest",
]


TABLES: Final[dict[str, Callable[[Draft], Table[Any]]]] = {
    "schedule": schedule,
    "cutlist": build_lists.cut_list,
    "ends": build_lists.end_procedures,
    "landing": build_lists.landings,
    "connectors": harness_lists.connectors,
    "joints": harness_lists.joints,
    "branches": harness_lists.branches,
    "labels": label_lists.labels,
    "testpoints": loose_lists.test_points,
    "bonding": loose_lists.bonding,
    "recorded": loose_lists.recorded,
    "spares": loose_lists.spares,
    "changes": loose_lists.changes,
    "changeplan": change_plan,
    "caps": loose_lists.caps,
    "fusechart": stores.fuse_chart,
    "findings": stores.findings_table,
    "switches": switch_lists.switch_table,
    "presses": switch_lists.press_table,
    "install": install_table,
    "kit": spares_kit,
    "key": key,
    "ringout": bench_lists.ring_table,
    "pulls": bench_lists.pull_table,
    "alive": bench_lists.alive_table,
}
"""The packet's tables by name, but for those that ask the shop."""
SHOP_TABLES: Final[dict[str, Callable[[Draft, Shop], Table[Any]]]] = {
    "cutplan": lambda draft, shop: cut_lists.cut_plan_table(
        cut_lists.draft_cut_plan([draft], shop)
    ),
    "hours": cut_lists.hours,
    "materials": stores.materials,
    "harnesses": harness_totals,
}
WORKBOOK: Final = ("schedule", "cutlist", "connectors", "branches", "cutplan", "hours", "materials")
"""The tables that are sheets of schedule.xlsx."""
NO_SHOP: Final = Shop()


def packet_table(draft: Draft, name: str, shop: Shop = NO_SHOP) -> Table[Any]:
    """Return one table of the packet.

    Raises:
        KeyError: there is none of this name.
    """
    return SHOP_TABLES[name](draft, shop) if name in SHOP_TABLES else TABLES[name](draft)


def packet_tables(draft: Draft, shop: Shop = NO_SHOP) -> tuple[Table[Any], ...]:
    """Return every table of the packet."""
    return tuple(packet_table(draft, name, shop) for name in (*TABLES, *SHOP_TABLES))


def sheets_digest(draft: Draft) -> str:
    """Return the digest of schedule and cut list, which tells whether the sheets moved."""
    sheets = (packet_table(draft, name) for name in ("schedule", "cutlist"))
    return hashlib.sha256(b"".join(csv_bytes(sheet, {}) for sheet in sheets)).hexdigest()


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
        slow: bundles have to be packed for it.
    """

    title: str
    pages: Callable[[], Sequence[Page]]
    slow: bool = False


def packet_sections(draft: Draft, shop: Shop = NO_SHOP) -> tuple[Section, ...]:
    """Return the printed packet by sections, in the order of work.

    First what it is about, then the schedule, then each harness for its builder, then what the
    installer needs, then the engineer's pages.

    Args:
        shop: its closed days and stock.
    """
    setting = _setting(draft)

    def section(title: str, make: Callable[[Draft, Setting], Sequence[Page]]) -> Section:
        return Section(title, lambda: make(draft, setting))

    used = {wire.harness for wire in draft.assembled.wires}
    return (
        Section("Build packet", lambda: (cover(draft, setting, shop.closed_days),)),
        section("Key to the codes", key_pages),
        section("Threads", thread_pages),
        section("Circuit schedule", schedule_pages),
        section("Recipes and jaws", recipe_pages),
        *(
            Section(assembly.name, partial(_assembly_pages, draft, assembly, setting), slow=True)
            for assembly in draft.aboard.boat.assemblies
            if assembly.id in used
        ),
        section("Labels", _label_pages),
        Section("Ringing out", lambda: ring_pages(draft, setting), slow=True),
        section("Pull tests", pull_pages),
        Section("Installing the harnesses", lambda: install_pages(draft, setting), slow=True),
        section("Landing list", landing_pages),
        section("Switch panels", panel_pages),
        section("Fuse chart", fuse_pages),
        Section("Making alive", lambda: alive_pages(draft, setting), slow=True),
        *([section("Changes to the built boat", change_pages)] if draft.aboard.order.built else ()),
        Section("Materials", lambda: material_pages(draft, shop, setting), slow=True),
        *([section("Findings", finding_pages)] if draft.findings or draft.accepted else ()),
        section("Powered up", power_pages),
        *([] if setting.stop else [_faults(draft, setting)]),
        section("Protection curves", curve_pages),
    )


def _faults(draft: Draft, setting: Setting) -> Section:
    """Return what one fault does; a boat that is drawn wrong is not worth breaking."""
    return Section("What one fault does", lambda: fault_pages(draft, setting), slow=True)


def _label_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return plugs', branches', tags' and capped ends' labels; wires' go to a tape printer."""
    rows = [row for row in label_lists.labels(draft).rows if row.kind != "wire"]
    return label_sheets(rows, setting)


def _assembly_pages(draft: Draft, assembly: Assembly, setting: Setting) -> list[Page]:
    """Return a harness's map and branches, then what to cut for it and how its ends are made."""
    return [
        *branch_pages(draft, assembly, setting),
        *harness_pages(draft, assembly, setting),
    ]


def packet_pages(draft: Draft, shop: Shop = NO_SHOP) -> tuple[Page, ...]:
    """Return every sheet of the printed packet."""
    return tuple(_bound([(s.title, s.pages()) for s in packet_sections(draft, shop)]))


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


def _finding_record(
    finding: Finding, acceptance: Acceptance | None, cause: Finding | None = None
) -> dict[str, object]:
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
        "follows_from": {"code": cause.code, "subjects": list(cause.subjects)} if cause else None,
    }


def _findings_json(draft: Draft) -> bytes:
    causes = {f: group.cause for group in grouped(draft) for f in group.follows}
    found = [_finding_record(f, None, causes.get(f)) for f in draft.findings]
    found += [_finding_record(finding, answer) for finding, answer in draft.accepted]
    return (json.dumps(found, ensure_ascii=False, indent=1) + "\n").encode()


Paper = Literal["A4", "A3"]
A3_TIMES: Final = math.sqrt(2)


class Handed(NamedTuple):
    """How a packet is handed over.

    Attributes:
        for_spreadsheets: CSV with a mark by which spreadsheets know its letters.
        paper: A3 is A4 enlarged, to be read at arm's length; what is to scale stays as large.
    """

    for_spreadsheets: bool = False
    paper: Paper = "A4"

    def on_paper(self, pages: Sequence[Page]) -> list[Page]:
        """Return pages as large as the paper."""
        large = self.paper == "A3"
        return [p.enlarged(A3_TIMES) if large and not p.to_scale else p for p in pages]


AS_USUAL: Final = Handed()


def packet_files(
    draft: Draft,
    only: frozenset[str] = frozenset(),
    shop: Shop = NO_SHOP,
    handed: Handed = AS_USUAL,
) -> dict[str, bytes]:
    """Return file name → contents of the packet; see ``packet_parts``.

    Raises:
        KeyError: a part that does not exist.
    """
    parts = packet_parts(draft, only, shop, handed)
    return {name: data for name, data in parts if data}


def packet_parts(
    draft: Draft,
    only: frozenset[str] = frozenset(),
    shop: Shop = NO_SHOP,
    handed: Handed = AS_USUAL,
) -> Iterator[tuple[str, bytes]]:
    """Make the packet file by file; between the sections of the PDF its name comes with b"".

    Args:
        only: parts to make; () for all.
        shop: its closed days and stock.

    Raises:
        KeyError: a part that does not exist.
    """
    names = {*TABLES, *SHOP_TABLES, "network", "board", "workbook", "packet", "draft"}
    if unknown := only - names:
        raise KeyError(f"found {', '.join(sorted(unknown))}, expected {', '.join(sorted(names))}")
    wanted = only or frozenset(names)
    order = draft.aboard.order
    told = {"hull": order.hull, "revision": str(order.revision)}
    for name in (*TABLES, *SHOP_TABLES):
        if name in wanted and name != "findings":
            table = packet_table(draft, name, shop)
            yield f"{name}.csv", csv_bytes(table, told, mark=handed.for_spreadsheets)
    if "workbook" in wanted:
        sheets = [packet_table(draft, name, shop) for name in WORKBOOK]
        yield "schedule.xlsx", workbook_bytes(sheets, f"Hull {order.hull}")
    if "network" in wanted:
        yield "network.cir", network_text(draft).encode()
    if "board" in wanted:
        boards = all_boards(draft)
        yield "board.svg", board_svg(draft, boards)
        yield "board.dxf", board_dxf(draft, boards)
    if "findings" in wanted:
        yield "findings.json", _findings_json(draft)
    if "draft" in wanted:
        yield "draft.json", draft_json_bytes(draft)
    if "packet" in wanted:
        composed: list[tuple[str, Sequence[Page]]] = []
        for section in packet_sections(draft, shop):
            yield "packet.pdf", b""
            composed.append((section.title, section.pages()))
        title = f"Build packet hull {draft.aboard.order.hull}"
        yield "packet.pdf", pdf_bytes(handed.on_paper(_bound(composed)), title)
