"""The build packet's files: its tables, its books, and what other programs read."""

import hashlib
import json
import math
from collections.abc import Callable, Iterator, Sequence
from typing import Any, Final, Literal, NamedTuple

from vivid_loom.drafting import Draft, Finding
from vivid_loom.drafting.rules.causes import grouped
from vivid_loom.order import Acceptance, Shop
from vivid_loom.sheets.board_files import all_boards, board_dxf, board_svg
from vivid_loom.sheets.books import NO_SHOP, bound, packet_books
from vivid_loom.sheets.draft_json import draft_json_bytes
from vivid_loom.sheets.lists import (
    bench_lists,
    build_lists,
    cut_lists,
    harness_lists,
    label_lists,
    loose_lists,
    stores,
    switch_lists,
)
from vivid_loom.sheets.lists.board_changes import board_change_table
from vivid_loom.sheets.lists.harness_totals import harness_totals
from vivid_loom.sheets.lists.schedule import schedule
from vivid_loom.sheets.lists.spares_kit import spares_kit
from vivid_loom.sheets.network_text import network_text
from vivid_loom.sheets.pages.change_pages import change_plan
from vivid_loom.sheets.pages.install_pages import install_table
from vivid_loom.sheets.paper.csv_file import csv_bytes
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.pdf import pdf_bytes
from vivid_loom.sheets.paper.table import Table
from vivid_loom.sheets.paper.workbook import workbook_bytes
from vivid_loom.sheets.proof import proven
from vivid_loom.sheets.words.names import key

__all__ = [
    "UnknownPartError",
    "packet_files",
    "packet_parts",
    "packet_table",
    "packet_tables",
    "sheets_digest",
]


class UnknownPartError(ValueError):
    """A part of the packet that there is none of: found and expected in words."""


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
    "boardchanges": board_change_table,
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
            "second": acceptance.second,
            "date": acceptance.date,
        }
        if acceptance
        else None,
        "follows_from": {"code": cause.code, "subjects": list(cause.subjects)} if cause else None,
    }


def _findings_json(draft: Draft) -> bytes:
    causes = {f: group.cause for group in grouped(draft) for f in group.follows}
    tried = proven(draft)
    found = [_finding_record(f, None, causes.get(f)) for f in (*draft.findings, *tried.standing)]
    answered = (*draft.accepted, *tried.accepted)
    found += [_finding_record(finding, answer) for finding, answer in answered]
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
        UnknownPartError: a part that does not exist.
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
        UnknownPartError: a part that does not exist.
    """
    books = {book.name for book in packet_books(draft, shop)}
    names = {*TABLES, *SHOP_TABLES, *books, "network", "board", "workbook", "draft"}
    if unknown := only - names:
        raise UnknownPartError(
            f"found {', '.join(sorted(unknown))}, expected {', '.join(sorted(names))}"
        )
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
    for book in packet_books(draft, shop):
        if book.name in wanted:
            composed: list[tuple[str, Sequence[Page]]] = []
            for section in book.sections:
                yield f"{book.name}.pdf", b""
                composed.append((section.title, section.pages()))
            pages = handed.on_paper(bound(composed))
            yield f"{book.name}.pdf", pdf_bytes(pages, f"{book.title}, hull {order.hull}")
