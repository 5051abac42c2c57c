"""What a revision changes about wires that are built, on paper: first, before more is cut."""

from operator import attrgetter

from vivid_loom.drafting import Draft
from vivid_loom.sheets.lists.board_changes import board_change_table
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Column, Printed, Setting, paginate

__all__ = ["board_change_pages"]


def board_change_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return what is pulled out, landed anew and made anew, harness by harness."""
    columns = (
        Column("", 6, lambda _: "☐"),
        Column("", 20, attrgetter("what"), bold=True),
        Column("wire", 22, attrgetter("wire_id"), bold=True),
        Column("harness", 26, attrgetter("harness")),
        Column("it was", 34, attrgetter("was")),
        Column("from", 42, attrgetter("was_from")),
        Column("to", 42, attrgetter("was_to")),
        Column("now", 34, attrgetter("now")),
        Column("to do", 47, attrgetter("to_do")),
    )
    rows = board_change_table(draft).rows
    note = "These wires are ticked as built, and asked for otherwise since; untick what is done."
    table = Printed(columns, rows, "To be changed on the board", note, size=2.5)
    return paginate("Built otherwise since", [table], setting)
