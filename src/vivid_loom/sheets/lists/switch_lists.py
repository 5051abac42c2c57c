"""Lists of the switches: what lands on each tab, what each press does, which jumpers join them."""

from collections import defaultdict
from collections.abc import Collection
from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.truth import truth_of
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.sheets.lists.build_lists import CutRow, cut_list
from vivid_loom.sheets.paper.table import Table
from vivid_loom.sheets.words.helm_words import lamp_words, mismatch_words, press_cells, state_words
from vivid_loom.workshop.harness.tree import is_with_panel

__all__ = ["StateRow", "TabRow", "feed_rows", "jumper_rows", "press_table", "switch_table"]


class TabRow(NamedTuple):
    """A tab of a switch, what lands on it and when it is live."""

    position: str
    legend: str
    switch: str
    tab: str
    row: str
    circuit_id: str
    live: str
    action: str
    lamps: str
    place: str
    wires: str


class StateRow(NamedTuple):
    """A switch in one state, every other lever at rest."""

    place: str
    legend: str
    lever: str
    live_tabs: str
    runs: str
    lamps_lit: str
    wrong: str


_OF_A_PAIR = {
    "1C": "fed",
    "1U": "coil up pulled",
    "1D": "coil down pulled",
    "2C": "minus",
    "UF": "coil up is to pull",
    "UC": "coil up is to pull, down has not",
    "DF": "coil down is to pull",
    "DC": "coil down is to pull, up has not",
}


def _live(switch: HelmSwitch, tab: str) -> str:
    """Say when a tab is meant to be live."""
    if switch.part.is_pair:
        return _OF_A_PAIR[tab]
    if tab.endswith("C"):
        return "fed"
    if tab.endswith("-"):
        return "minus"
    if tab.endswith("+"):
        use = next((u for u in switch.lamps if "AB"[u.lamp] == tab[0]), None)
        return f"lamp, {use.intent}" if use and use.fed_from else "not wired"
    use_of = next((u for u in switch.uses if str(u.pole) == tab[0]), None)
    press = {"U": "up", "D": "down"}[tab[1]]
    moved = f"{switch.part.actuator} {state_words(switch.part, press)}"
    return moved if use_of else "free"


def switch_table(draft: Draft) -> Table[TabRow]:
    """Return what lands on each tab of each switch, and when it is live."""
    landed: dict[tuple[str, str], list[tuple[str, str]]] = defaultdict(list)
    for wire in draft.assembled.wires:
        for end in (wire.start, wire.end):
            landed[end.place, end.point].append((wire.circuit, wire.id))
    rows: list[TabRow] = []
    for switch in draft.switches:
        part = switch.part
        shown = "; ".join(map(lamp_words, switch.lamps))
        for tab in part.terminals:
            on_it = landed.get((switch.place, tab), [])
            if not on_it:
                continue
            rows.append(
                TabRow(
                    str(switch.position or ""),
                    switch.request.legend,
                    part.name if part.is_pair else f"{part.name}, {part.arrangement}",
                    part.mark(tab),
                    switch.tab_place(tab),
                    on_it[0][0],
                    _live(switch, tab),
                    part.action,
                    shown,
                    switch.place,
                    ";".join(wire for _, wire in on_it),
                )
            )
            shown = ""
    return Table("switches", "Helm switches", TabRow, tuple(rows))


def press_table(draft: Draft) -> Table[StateRow]:
    """Return what every press of every switch makes live, as wired, and what is not as meant."""
    switches = {switch.request.id: switch for switch in draft.switches}
    rows: list[StateRow] = []
    for row in truth_of(draft).rows:
        wrong = "; ".join(mismatch_words(draft, one) for one in row.wrong)
        switch = switches.get(row.switch)
        if switch:
            cells = press_cells(draft, switch, row)
            rows.append(StateRow(switch.place, switch.request.legend, *cells, wrong))
        elif wrong:
            rows.append(StateRow("", "every lever at rest", "", "", "", "", wrong))
    return Table("presses", "What each press does", StateRow, tuple(rows))


def feed_rows(draft: Draft, places: Collection[str]) -> list[CutRow]:
    """Return the wires that lead to these switches, gauge by gauge, the longest first."""
    behind = {wire.id for wire in draft.assembled.wires if is_with_panel(wire, places)}
    rows = [
        row
        for row in cut_list(draft).rows
        if row.wire_id not in behind and {row.from_place, row.to_place} & set(places)
    ]
    return sorted(rows, key=lambda r: (-float(r.area_mm2), -float(r.cut_length_mm)))


def jumper_rows(draft: Draft, places: Collection[str]) -> list[CutRow]:
    """Return the wires that stay between these switches, batch by batch, the longest first."""
    behind = {wire.id for wire in draft.assembled.wires if is_with_panel(wire, places)}
    rows = [row for row in cut_list(draft).rows if row.wire_id in behind]
    return sorted(
        rows,
        key=lambda r: (
            -float(r.area_mm2),
            r.colour,
            r.tracer,
            -float(r.cut_length_mm),
            r.from_termination,
            r.to_termination,
        ),
    )
