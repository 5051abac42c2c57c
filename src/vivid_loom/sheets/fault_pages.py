"""The chafe scan on paper: every wire and joint broken, shorted, corroded, the worst first."""

from collections.abc import Sequence
from operator import attrgetter
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.netlist import NetList
from vivid_loom.power.board import Board
from vivid_loom.power.scan import Tried, by_fault, is_safety, scan_draft
from vivid_loom.quantities import figure
from vivid_loom.sheets.drawing import Page
from vivid_loom.sheets.layout import Column, Printed, Setting, paginate
from vivid_loom.sheets.power_words import device_words, lost_words, probe_name, seconds_words

__all__ = ["fault_pages"]

MOST_PAGES: Final = 2
MOST_LINES: Final = 90


class _Line(NamedTuple):
    """One fault in the scenario where it is worst."""

    fault: str
    scenario: str
    opens: str
    after: str
    wire: str
    safety: str
    sound: str


def _line(draft: Draft, net: NetList, tried: Tried) -> _Line:
    row = tried.worst
    wire = f"{row.burnt[0]} {row.burnt[1]:.0f} °C" if row.burnt[0] else "survives"
    opens = " then ".join(device_words(net, name) for name in row.opens[:2])
    after = seconds_words(row.early_s, row.late_s) if row.opens else ""
    if row.flows_on:
        opens = f"{opens or 'nothing'}; {figure(row.flows_on)} A flow on"
    return _Line(
        probe_name(row.probe),
        f"{row.scenario} +{tried.others}" if tried.others else row.scenario,
        opens,
        after,
        wire,
        lost_words(draft, [e for e in row.lost if is_safety(draft, e)]),
        lost_words(draft, [e for e in row.lost if not is_safety(draft, e)]),
    )


def fault_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return two pages: the worst that a chafed wire or a bad joint does, and how many do harm."""
    rows = scan_draft(draft)
    net = Board(draft).net
    tried = by_fault(rows)
    lines = [_line(draft, net, one) for one in tried[:MOST_LINES]]
    while len(pages := _pages(tried, draft, lines, setting)) > MOST_PAGES:
        lines = lines[: -max(1, len(lines) // 8)]
    return pages


def _pages(
    tried: Sequence[Tried], draft: Draft, lines: Sequence[_Line], setting: Setting
) -> list[Page]:
    burnt = sum(bool(one.worst.burnt[0]) for one in tried)
    flows = sum(bool(one.worst.flows_on) for one in tried)
    safety = sum(any(is_safety(draft, e) for e in one.worst.lost) for one in tried)
    note = (
        f"{len(tried)} faults change something in some scenario: {burnt} heat a wire beyond what "
        f"it stands, {flows} nothing clears, {safety} put out a safety load of another circuit. "
        f"The worst {len(lines)} are here; the command scan prints them all. +2: it shows in two "
        "more scenarios."
    )
    columns = (
        Column("fault", 58, attrgetter("fault"), bold=True),
        Column("scenario", 38, attrgetter("scenario")),
        Column("opens", 50, attrgetter("opens")),
        Column("after", 26, attrgetter("after"), True),
        Column("wire", 32, attrgetter("wire")),
        Column("safety dark", 30, attrgetter("safety"), bold=True),
        Column("dark though sound", 39, attrgetter("sound")),
    )
    table = Printed(columns, lines, note=note, size=2.4)
    return paginate("What one fault does", [table], setting)
