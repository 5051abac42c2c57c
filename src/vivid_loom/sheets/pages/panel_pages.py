"""The switch panels on paper: the face, the back with its wires, jumpers, tabs and presses."""

from collections import Counter, defaultdict
from collections.abc import Sequence
from operator import attrgetter
from typing import Final

from vivid_loom.boat import HelmPanel
from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.common_lengths import common_lengths
from vivid_loom.drafting.making.terminate import FORKED
from vivid_loom.quantities import CutUnit, cut_unit
from vivid_loom.sheets.drawings.panel.plate import Look, on_panel, panel_size_mm
from vivid_loom.sheets.drawings.panel.side import panel_scene
from vivid_loom.sheets.lists.build_lists import CutRow
from vivid_loom.sheets.lists.switch_lists import (
    StateRow,
    TabRow,
    feed_rows,
    jumper_rows,
    press_table,
    switch_table,
)
from vivid_loom.sheets.paper.drawing import Page, moved
from vivid_loom.sheets.paper.layout import (
    MARGIN_MM,
    TOP_MM,
    WIDTH_MM,
    Column,
    Picture,
    Printed,
    Setting,
    paginate,
)
from vivid_loom.sheets.paper.tones import PAPER
from vivid_loom.sheets.words.names import Names

__all__ = ["panel_pages"]

FACE_HIGH_MM: Final = 72.0
BACK_HIGH_MM: Final = 150.0
BOTH_HIGH_MM: Final = 80.0  # where face and back stand side by side
FEW: Final = 3  # lengths of one kind of jumper that a shop keeps ready
PIGGYBACK: Final = "piggyback "


def panel_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return face, back, jumpers and presses of every panel, then of switches by themselves."""
    panels = draft.aboard.boat.panels
    fitted_in = {p.id: {s.place for s in on_panel(draft, p).values()} for p in panels}
    used = [panel for panel in panels if fitted_in[panel.id]]
    alone = {s.place for s in draft.switches} - {n for names in fitted_in.values() for n in names}
    by_itself = (_presses(draft, alone, narrow=True), _tabs(draft, alone), _jumpers(draft, alone))
    small = {panel.id: both for panel in used if (both := _both_sides(draft, panel))}
    last = max(used, key=lambda panel: panel.id not in small, default=None)
    pages: list[Page] = []
    for panel in used:
        places = fitted_in[panel.id]
        tables = [_jumpers(draft, places), _feeds(draft, places), _tabs(draft, places)]
        tables += by_itself if panel is last else ()
        if panel.id in small:
            title = f"Switch panels: {panel.name}, both sides"
            tables = [_presses(draft, places, narrow=True), *tables]
            pages += paginate(title, tables, setting, lanes=3, picture=small[panel.id])
            continue
        face = _picture(draft, panel, FACE_HIGH_MM, back=False)
        title = f"Switch panels: {panel.name}, its face"
        pages += paginate(title, (_presses(draft, places),), setting, lanes=2, picture=face)
        back = _picture(draft, panel, BACK_HIGH_MM, back=True)
        title = f"Switch panels: {panel.name}, seen from the wire side"
        pages += paginate(title, tables, setting, lanes=3, picture=back)
    if alone and not used:
        pages += paginate(
            "Switch panels: none, switches by themselves", by_itself, setting, lanes=3
        )
    return pages


def _picture(draft: Draft, panel: HelmPanel, most_mm: float, *, back: bool) -> Picture:
    wide, high = panel_size_mm(panel)
    scale = min((WIDTH_MM - 2 * MARGIN_MM) / wide, most_mm / high)
    scene = panel_scene(draft, panel, Look(back=back), PAPER, scale)
    left = (WIDTH_MM - scene.width) / 2
    return Picture(tuple(moved(i, left, TOP_MM, 1.0) for i in scene.items), scene.height + 3)


def _both_sides(draft: Draft, panel: HelmPanel) -> Picture | None:
    """Return a small panel's face, and beside it its back; None where they are too wide."""
    wide, high = panel_size_mm(panel)
    scale = BOTH_HIGH_MM / high
    if 2 * wide * scale > WIDTH_MM - 3 * MARGIN_MM:
        return None
    face, back = (
        panel_scene(draft, panel, Look(back=side), PAPER, scale) for side in (False, True)
    )
    left = (WIDTH_MM - MARGIN_MM) / 2 - face.width
    items = [moved(item, left, TOP_MM, 1.0) for item in face.items]
    items += [moved(item, (WIDTH_MM + MARGIN_MM) / 2, TOP_MM, 1.0) for item in back.items]
    return Picture(tuple(items), face.height + 3)


def _presses(draft: Draft, places: set[str], *, narrow: bool = False) -> Printed:
    columns: tuple[Column, ...] = (
        Column("lever", 24, attrgetter("lever"), bold=True),
        Column("live tabs", 18 if narrow else 32, attrgetter("live_tabs")),
        Column("runs", 38 if narrow else 52, attrgetter("runs")),
    )
    if not narrow:
        columns += (Column("lamps lit", 16, attrgetter("lamps_lit")),)

    names = Names(draft)

    def wrong(row: StateRow) -> str:
        return f"NOT AS MEANT: {row.wrong}" if row.wrong else ""

    rows = [
        row
        for row in press_table(draft).rows
        if row.place in places and (row.lever != "off" or row.wrong)
    ]
    note = "As wired: every other lever at rest, battery switches on, floats down."
    return Printed(
        columns,
        rows,
        "What each press does",
        note,
        2.6,
        lambda row: names.lever(row.place, row.legend),
        wrong,
    )


def _jumpers(draft: Draft, places: set[str]) -> Printed:
    rows = jumper_rows(draft, places)
    unit = cut_unit(draft.aboard.profile.units)

    def cut(row: CutRow) -> str:
        return unit.told(float(row.cut_length_mm))

    batches = Counter((*_spool(row), cut(row)) for row in rows)

    def batch(row: CutRow) -> str:
        gauge, shade = _spool(row)
        end = row.from_termination.replace(PIGGYBACK, "")
        return f"{gauge} {shade}, {end}: {batches[gauge, shade, cut(row)]} of {cut(row)}"

    columns = (
        Column("", 5, lambda _: "☐"),
        Column("wire", 20, attrgetter("wire_id"), bold=True),
        Column("from", 30, lambda r: _tab(r.from_place, r.from_point, r.from_termination)),
        Column("to", 30, lambda r: _tab(r.to_place, r.to_point, r.to_termination)),
    )
    told = f"{_told(rows)} {_in_few_lengths(rows, unit)}".strip()
    return Printed(columns, rows, "Jumpers, cut by the batch", told, 2.6, batch)


def _feeds(draft: Draft, places: set[str]) -> Printed:
    """Return what leads to a panel's switches, equal lengths together, the longest first."""
    rows = feed_rows(draft, places)
    unit = cut_unit(draft.aboard.profile.units)

    def cut(row: CutRow) -> str:
        return f"{row.gauge}, {unit.told(float(row.cut_length_mm))}"

    alike = Counter(map(cut, rows))
    columns = (
        Column("", 5, lambda _: "☐"),
        Column("wire", 20, attrgetter("wire_id"), bold=True),
        Column("colour", 14, lambda r: _spool(r)[1]),
        Column("tab", 17, lambda r: _panel_end(r, places)),
        Column("other end", 30, lambda r: _far_end(r, places)),
    )
    note = "They stand on their harness's cut list as well: cut them once."
    return Printed(
        columns,
        rows,
        "Wires to it, cut by the batch",
        note,
        2.6,
        lambda r: f"{cut(r)}: {alike[cut(r)]}",
    )


def _panel_end(row: CutRow, places: set[str]) -> str:
    if row.from_place in places:
        return f"{row.from_place} {row.from_point}"
    return f"{row.to_place} {row.to_point}"


def _far_end(row: CutRow, places: set[str]) -> str:
    if row.from_place in places:
        return f"{row.to_name} {row.to_point}"
    return f"{row.from_name} {row.from_point}"


def _in_few_lengths(rows: Sequence[CutRow], unit: CutUnit) -> str:
    """Say what cutting each kind of jumper to a few common lengths would take."""
    kinds: dict[tuple[str, str], Counter[float]] = defaultdict(Counter)
    for row in rows:
        kinds[_spool(row)][float(row.cut_length_mm)] += 1
    told: list[str] = []
    for (gauge, shade), counts in kinds.items():
        if len(counts) > FEW:
            common = common_lengths(counts, FEW)
            lengths = ", ".join(map(unit.text, sorted(set(common.instead.values()))))
            few = f"in {lengths} {unit.name} instead of {len(counts)}"
            told.append(f"{gauge} {shade} {few}: {unit.told(common.extra_mm)} more")
    return f"Ready-made in few lengths: {'; '.join(told)}." if told else ""


def _spool(row: CutRow) -> tuple[str, str]:
    return row.gauge, f"{row.colour}/{row.tracer}" if row.tracer else row.colour


def _tab(place: str, point: str, termination: str) -> str:
    mark = " PB" if PIGGYBACK in termination else " FK" if FORKED in termination else ""
    return f"{place} {point}{mark}"


def _told(rows: Sequence[CutRow]) -> str:
    """Say once what is crimped on, with its strip, jaw and steps."""
    ends = {
        (end.replace(PIGGYBACK, ""), strip, recipe)
        for row in rows
        for end, strip, recipe in (
            (row.from_termination, row.from_strip_mm, row.from_recipe),
            (row.to_termination, row.to_strip_mm, row.to_recipe),
        )
    }
    kinds = (f"{end}, strip {strip} mm, steps {recipe}" for end, strip, recipe in sorted(ends))
    both = [end for row in rows for end in (row.from_termination, row.to_termination)]
    forked = sum(FORKED in end for end in both)
    doubled = sum(PIGGYBACK in f"{row.from_termination} {row.to_termination}" for row in rows)
    stacked = f" PB: its piggyback, on {doubled} of them." if doubled else ""
    stacked += f" FK: forked, two jumpers under one crimp, {forked // 2} times." if forked else ""
    return (
        f"{len(rows)} jumpers, cut exact. {'; '.join(kinds)}.{stacked} "
        "Label of an end: the wire's number, then switch and tab."
    )


def _tabs(draft: Draft, places: set[str]) -> Printed:
    columns = (
        Column("tab", 10, attrgetter("tab"), bold=True),
        Column("live", 24, attrgetter("live")),
        Column("wires", 46, lambda row: row.wires.replace(";", ", ")),
    )

    names = Names(draft)

    def switch(row: TabRow) -> str:
        return f"{names.lever(row.place, row.legend)} · {row.switch}"

    rows = [row for row in switch_table(draft).rows if row.place in places]
    return Printed(columns, rows, "Tab by tab", "", 2.6, switch)
