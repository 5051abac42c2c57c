"""How ends are made: the steps of each kind, what each jaw crimps, which sleeve goes over what."""

from operator import attrgetter
from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.sheets.lists.build_lists import cut_list, end_procedures
from vivid_loom.sheets.pages.harness_pages import ARM_MM
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Column, Printed, Setting, paginate
from vivid_loom.standards.sleeves import sleeve_bore_mm, sleeve_length_mm

__all__ = ["recipe_pages"]


def recipe_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return the steps of every kind of end, and what each jaw crimps."""
    first = {row.recipe: row for row in reversed(end_procedures(draft).rows)}
    columns = (
        Column("recipe", 14, attrgetter("recipe"), bold=True),
        Column("zone", 30, attrgetter("zone")),
        Column("steps", 229, attrgetter("steps")),
    )
    made = sorted(first.values(), key=lambda row: int(row.recipe[1:]))
    steps = Printed(columns, made, "Recipes", size=ARM_MM)
    tables = (steps, _jaw_table(draft), _sleeve_table(draft))
    return paginate("Recipes and jaws", tables, setting)


class _SleeveRow(NamedTuple):
    """The sleeves that go over the barrels on wires of some gauges."""

    bore: str
    length: str
    gauges: str


def _sleeve_table(draft: Draft) -> Printed:
    used = {str(wire.gauge) for wire in draft.assembled.wires}
    gauges: dict[tuple[float, float], list[str]] = {}
    for wire in draft.catalogue.wires:
        if wire.gauge in used:
            size = sleeve_bore_mm(wire.diameter_mm), sleeve_length_mm(wire.diameter_mm)
            gauges.setdefault(size, []).append(wire.gauge)
    rows = [
        _SleeveRow(f"{bore:g} mm", f"{length:g} mm", ", ".join(names))
        for (bore, length), names in sorted(gauges.items())
    ]
    columns = (
        Column("bore", 36, attrgetter("bore"), bold=True),
        Column("cut", 30, attrgetter("length"), bold=True),
        Column("over", 207, attrgetter("gauges")),
    )
    return Printed(columns, rows, "Sleeves and heat-shrink", size=ARM_MM)


class _Jaw(NamedTuple):
    """A jaw with what it crimps."""

    jaw: str
    terminals: str
    ends: str


def _jaw_table(draft: Draft) -> Printed:
    rows = cut_list(draft).rows
    ends = [(row.from_jaw, row.from_termination) for row in rows]
    ends += [(row.to_jaw, row.to_termination) for row in rows]
    made = [
        _Jaw(
            jaw,
            ", ".join(sorted({kind for other, kind in ends if other == jaw})),
            str(sum(other == jaw for other, _ in ends)),
        )
        for jaw in sorted({jaw for jaw, _ in ends if jaw})
    ]
    columns = (
        Column("jaw", 36, attrgetter("jaw"), bold=True),
        Column("ends", 14, attrgetter("ends"), True),
        Column("terminals", 223, attrgetter("terminals")),
    )
    return Printed(columns, made, "Jaws", size=ARM_MM)
