"""The chafe scan on paper: every wire and joint broken, shorted, corroded, the worst first."""

from collections.abc import Sequence
from operator import attrgetter
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.netlist import NetList
from vivid_loom.power.board import Board
from vivid_loom.power.scan import Scanned, Tried, by_fault, is_safety, scan_draft
from vivid_loom.quantities import figure
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Column, Printed, Setting, paginate
from vivid_loom.sheets.words.power_words import device_words, lost_words, seconds_words

__all__ = ["fault_pages"]

MOST_PAGES: Final = 2
MOST_LINES: Final = 80
MOST_PLACES: Final = 8
KINDS: Final = {"open": "broken", "corroded": "corroded"}  # a short has two ends


class _Line(NamedTuple):
    """Faults that do the same, in the scenario where that is worst."""

    faults: str
    scenario: str
    opens: str
    after: str
    wire: str
    safety: str
    sound: str


def _alike(one: Tried) -> tuple[object, ...]:
    """Return what a fault does, so that those which do the same come together."""
    row = one.worst
    kind = KINDS.get(row.probe.kind, "shorted")
    return (kind, row.scenario, row.opens, row.burnt[0], row.flows_on > 0, row.lost)


def _is_its_own(draft: Draft, row: Scanned) -> bool:
    """Tell whether a fault only darkens what hangs on it, or lamps of switches by their chain."""
    harms = row.opens or row.burnt[0] or row.flows_on
    return not harms and not any(e.rpartition(" ")[0] in draft.aboard.loads for e in row.lost)


def _place(draft: Draft, at: str) -> str:
    """Name where a fault is: a wire by its number, what is inside a device by the device."""
    ends = []
    for end in at.split(" – "):
        first, _, rest = end.partition(" ")
        load = draft.aboard.loads.get(first)
        ends.append(f"{load.name} {rest}".strip() if load else end)
    return " – ".join(ends)


def _line(draft: Draft, net: NetList, rows: Sequence[Scanned]) -> _Line:
    row = rows[0]
    places = list(dict.fromkeys(_place(draft, one.probe.at) for one in rows))
    more = f" and {len(places) - MOST_PLACES} more" if len(places) > MOST_PLACES else ""
    kind = KINDS.get(row.probe.kind, "shorted")
    opens = " then ".join(device_words(net, name) for name in row.opens[:2])
    if row.flows_on:
        opens = f"{opens or 'nothing'}; {figure(max(r.flows_on for r in rows))} A flow on"
    wire = "survives" if row.opens else ""
    if row.burnt[0]:
        wire = f"{row.burnt[0]} {max(r.burnt[1] for r in rows):.0f} °C"
    early, late = min(r.early_s for r in rows), max(r.late_s for r in rows)
    return _Line(
        f"{kind}: {', '.join(places[:MOST_PLACES])}{more}",
        row.scenario,
        opens,
        seconds_words(early, late) if row.opens else "",
        wire,
        lost_words(draft, [e for e in row.lost if is_safety(draft, e)]),
        lost_words(draft, [e for e in row.lost if not is_safety(draft, e)]),
    )


def fault_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return two pages: the worst that a chafed wire or a bad joint does, and how many do harm."""
    tried, net = by_fault(scan_draft(draft)), Board(draft).net
    groups: dict[tuple[object, ...], list[Scanned]] = {}
    for one in tried:
        if not _is_its_own(draft, one.worst):
            groups.setdefault(_alike(one), []).append(one.worst)
    lines = [_line(draft, net, rows) for rows in list(groups.values())[:MOST_LINES]]
    while len(pages := _pages(draft, tried, lines, setting)) > MOST_PAGES:
        lines = lines[: -max(1, len(lines) // 12)]
    return pages


def _pages(
    draft: Draft, tried: Sequence[Tried], lines: Sequence[_Line], setting: Setting
) -> list[Page]:
    burnt = sum(bool(one.worst.burnt[0]) for one in tried)
    flows = sum(bool(one.worst.flows_on) for one in tried)
    own = sum(_is_its_own(draft, one.worst) for one in tried)
    safety = sum(any(is_safety(draft, e) for e in one.worst.lost) for one in tried)
    note = (
        f"{len(tried)} faults change something in some scenario: {burnt} heat a wire beyond what "
        f"it stands, {flows} nothing clears, {safety} put out a safety load beside what they are "
        f"in; {own} only darken what hangs on them, or lamps of switches, and are left out here. "
        "Those that do the same stand together, each in the scenario where it is worst, the worst "
        "first; the command scan prints them all."
    )
    columns = (
        Column("fault", 74, attrgetter("faults"), bold=True),
        Column("scenario", 28, attrgetter("scenario")),
        Column("opens", 34, attrgetter("opens")),
        Column("after", 30, attrgetter("after"), True),
        Column("wire", 21, attrgetter("wire")),
        Column("safety dark", 46, attrgetter("safety"), bold=True),
        Column("dark though sound", 40, attrgetter("sound")),
    )
    table = Printed(columns, lines, note=note, size=2.4)
    return paginate("What one fault does", [table], setting)
