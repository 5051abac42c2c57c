"""A change to a built boat on paper: what stays and what comes off, and how to go about it."""

from operator import attrgetter
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.sheets.lists.loose_lists import changes
from vivid_loom.sheets.lists.schedule import number
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Column, Printed, Setting, paginate
from vivid_loom.sheets.paper.table import Table
from vivid_loom.workshop.change import ChangeStep, change_steps
from vivid_loom.workshop.hours import hour_lines

__all__ = ["ChangePlanRow", "change_pages", "change_plan"]

DO: Final = {
    "look": "nobody knows its {about}: look, and write it into the survey, before anything is cut",
    "dead": "take its device out, tag it; battery minus is off",
    "free": "free both its ends and tag them",
    "split": "cut this factory link and insulate both ends; dark by it: {about}",
    "draw out": "draw it out; where it lies in a conduit, a pull line goes in with it",
    "cap": "it lies in a bundle that stays: cut it back, cap and label both ends, dead",
    "move": "land {about} anew: it reaches, and has the gauge, colour and way",
    "relabel": "it lies as it is to, as {about} until now: label both its ends anew",
    "draw in": "draw it in and land it",
    "device": "change its device: {about}",
    "again": "its joint at {about} is opened: crimp it anew",
}

FREE_ONE: Final = "free one end and tag it; the other stays at {about}"


class ChangePlanRow(NamedTuple):
    """A step of a change."""

    turn: str
    what: str
    wire_id: str
    circuit_id: str
    gauge: str
    colour: str
    from_: str
    to: str
    length_mm: str
    to_do: str


def _row(turn: int, step: ChangeStep) -> ChangePlanRow:
    return ChangePlanRow(
        str(turn),
        step.kind,
        step.wire,
        step.circuit,
        step.gauge,
        step.colour,
        *step.ends,
        number(step.length_mm) if step.length_mm else "",
        (FREE_ONE if step.kind == "free" and step.about else DO[step.kind]).format(
            about=step.about
        ),
    )


def change_plan(draft: Draft) -> Table[ChangePlanRow]:
    """Return the steps that make a built boat what is drafted, in the order of work."""
    rows = tuple(_row(turn, step) for turn, step in enumerate(change_steps(draft), 1))
    return Table("changeplan", "How the change is made", ChangePlanRow, rows)


def change_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return how the change is made, then what stays, is new and comes off."""
    steps = Printed(
        (
            Column("", 9, attrgetter("turn"), True),
            Column("", 6, lambda _: "☐"),
            Column("", 18, attrgetter("what"), bold=True),
            Column("wire", 25, attrgetter("wire_id"), bold=True),
            Column("circuit", 16, attrgetter("circuit_id")),
            Column("gauge, colour", 28, lambda row: f"{row.gauge} {row.colour}".strip()),
            Column("from", 40, attrgetter("from_")),
            Column("to", 40, attrgetter("to")),
            Column("mm", 15, attrgetter("length_mm"), True),
            Column("to do", 76, attrgetter("to_do")),
        ),
        change_plan(draft).rows,
        "In this order",
        _told_hours(draft),
        size=2.5,
    )
    columns = (
        Column("what", 20, attrgetter("what"), bold=True),
        Column("wire", 24, attrgetter("wire_id"), bold=True),
        Column("circuit", 16, attrgetter("circuit_id")),
        Column("gauge, colour", 30, lambda row: f"{row.gauge} {row.colour}"),
        Column("from", 40, attrgetter("from_")),
        Column("to", 40, attrgetter("to")),
        Column("mm", 16, attrgetter("length_mm"), True),
        Column("why, note", 87, lambda row: "; ".join(filter(None, (row.why, row.note)))),
    )
    table = Printed(columns, changes(draft).rows, "What stays, is new, comes off")
    return paginate("Changes to the built boat", [steps, table], setting)


def _told_hours(draft: Draft) -> str:
    lines = hour_lines(draft)
    aboard = sum(line.hours for line in lines if line.aboard)
    bench = sum(line.hours for line in lines if not line.aboard)
    return (
        f"New wires: {bench:.1f} h on the bench, {aboard:.1f} h aboard. "
        "Minus off first and on last. Afterwards the Bench asks again for what was touched, and "
        "for nothing else."
    )
