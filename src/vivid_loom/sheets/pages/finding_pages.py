"""The findings as printed: kind by kind, each with what follows from it."""

from collections.abc import Iterator
from operator import attrgetter
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft, Finding
from vivid_loom.drafting.rules.causes import Group, grouped
from vivid_loom.order import Acceptance
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Column, Printed, Setting, paginate
from vivid_loom.sheets.proof import proven
from vivid_loom.sheets.words.names import Names

__all__ = ["finding_pages"]

SEVERITY: Final = {"error": "Error", "judge": "To judge", "note": "Note"}


class _Row(NamedTuple):
    """A finding as printed: under its own kind, or below the one it follows from."""

    finding: Finding
    heading: str
    follows: bool

    def words(self) -> str:
        finding = self.finding
        return f"{_kind(finding)}: {finding.sentence()}" if self.follows else finding.sentence()


def _kind(finding: Finding) -> str:
    return f"{SEVERITY[finding.severity]} {finding.code}, {finding.kind.title}"


def _rows_of(group: Group) -> Iterator[_Row]:
    kind = group.cause.kind
    told = f"{SEVERITY[group.severity]} {kind.code}, {kind.title}"
    heading = f"{told}: {kind.remedy} ({kind.source})"
    yield _Row(group.cause, heading, follows=False)
    yield from (_Row(finding, heading, follows=True) for finding in group.follows)


def _concerns(row: _Row, names: Names) -> str:
    places = ", ".join(map(names.place, row.finding.subjects))
    return f"    from it: {places}" if row.follows else places


def finding_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return the findings kind by kind, each with what follows from it; then those answered for."""
    columns = (
        Column("concerns", 52, lambda row: _concerns(row, names), bold=True),
        Column("finding", 221, lambda row: row.words()),
    )
    names = Names(draft)
    rows = [row for group in grouped(draft) for row in _rows_of(group)]
    tables = [Printed(columns, rows, size=2.7, group=attrgetter("heading"))] if rows else []
    found = proven(draft)
    if found.standing:
        shown = [row for finding in found.standing for row in _rows_of(Group(finding, ()))]
        told = "What every state of the switches and every single fault has shown"
        tables.append(Printed(columns, shown, told, size=2.7, group=attrgetter("heading")))
    accepted = (*draft.accepted, *found.accepted)
    if accepted:
        answered = (
            Column("concerns", 52, lambda p: ", ".join(map(names.place, p[0].subjects)), bold=True),
            Column("finding", 130, lambda pair: pair[0].sentence()),
            Column("accepted", 91, lambda pair: _answer(pair[1])),
        )
        told = "Accepted by those who answer for it"
        tables.append(Printed(answered, accepted, told, size=2.7))
    return paginate("Findings", tables, setting)


def _answer(acceptance: Acceptance) -> str:
    on = f", {acceptance.date}" if acceptance.date else ""
    return f"{acceptance.signed}{on}: {acceptance.reason}"
