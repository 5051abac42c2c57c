"""What a revision changes about wires that are built already: a list for board and bench."""

from typing import Final, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.order import Tick
from vivid_loom.sheets.lists.schedule import number
from vivid_loom.sheets.paper.table import Table
from vivid_loom.workshop.harness.built import BoardChange, board_changes, tick_of

__all__ = ["BoardChangeRow", "board_change_table"]

TO_DO: Final = {
    "pull out": "pull it out of the harness: nothing asks for it any more",
    "make anew": "pull it out and make it anew as the cut list has it",
    "land anew": "cut off what has changed and end it as the cut list has it",
}


class BoardChangeRow(NamedTuple):
    """A wire that is built otherwise than it is asked for now."""

    what: str
    wire_id: str
    harness: str
    was: str
    was_from: str
    was_to: str
    now: str
    now_from: str
    now_to: str
    to_do: str


def _conductor(tick: Tick) -> str:
    return f"{tick.gauge} {tick.colour} {number(tick.cut_mm)} mm"


def _row(change: BoardChange) -> BoardChangeRow:
    was, now = change.was, tick_of(change.now) if change.now else None
    return BoardChangeRow(
        change.kind,
        was.wire,
        was.harness or (now.harness if now else ""),
        _conductor(was),
        was.start,
        was.end,
        _conductor(now) if now else "",
        now.start if now else "",
        now.end if now else "",
        TO_DO[change.kind],
    )


def board_change_table(draft: Draft) -> Table[BoardChangeRow]:
    """Return, harness by harness, what is to be done to wires that are ticked as built."""
    rows = sorted(map(_row, board_changes(draft)), key=lambda r: (r.harness, r.what, r.wire_id))
    return Table("boardchanges", "Built otherwise since", BoardChangeRow, tuple(rows))
