"""What the installer does with a harness: in which order it goes in, and what each hole passes."""

from collections.abc import Iterator
from operator import attrgetter
from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.quantities import cut_unit
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Column, Printed, Setting, paginate
from vivid_loom.sheets.paper.table import Table
from vivid_loom.sheets.words.names import Names
from vivid_loom.workshop.bundles import supports
from vivid_loom.workshop.harness.install import InstallStep, install_steps
from vivid_loom.workshop.harness.tree import harness_trees

__all__ = ["InstallRow", "install_pages", "install_table"]


class InstallRow(NamedTuple):
    """A branch that is drawn in, and what is done at its far end."""

    harness: str
    turn: str
    branch: str
    from_station: str
    to_station: str
    length_mm: str
    passes: str
    hole_mm: str
    hole_for: str
    shells_aboard: str
    supports: str
    mate: str
    gasket: str
    whole: str


def _row(step: InstallStep, turn: int, names: Names, held: int) -> InstallRow:
    branch = step.branch
    return InstallRow(
        step.harness,
        str(turn),
        branch.id,
        names.station(branch.near),
        names.station(branch.far),
        f"{branch.length_mm:.0f}",
        f"{step.areas[0]} → {step.areas[1]}" if step.passes else "",
        f"{step.hole_mm:.0f}",
        step.largest or "bundle",
        ";".join(step.late),
        str(held),
        ";".join(step.mates),
        ";".join(step.panels),
        ";".join(step.whole),
    )


def _rows(draft: Draft) -> Iterator[InstallRow]:
    names = Names(draft)
    for assembly in draft.aboard.boat.assemblies:
        for tree in harness_trees(draft, assembly):
            for turn, step in enumerate(install_steps(draft, tree), 1):
                spacings, _ = supports(step.branch.run, draft.aboard.profile)
                yield _row(step, turn, names, spacings + 1)


def install_table(draft: Draft) -> Table[InstallRow]:
    """Return every harness's branches in the order they are drawn in."""
    return Table("install", "Installing the harnesses", InstallRow, tuple(_rows(draft)))


def _remark(row: InstallRow) -> str:
    """Say what is done before the branch is fixed."""
    told: list[str] = []
    if row.shells_aboard:
        shells = row.shells_aboard.replace(";", ", ")
        told.append(
            f"shells of {shells} do not pass the conduit: push the contacts home when the branch "
            "lies"
        )
    if row.whole:
        several = ";" in row.whole
        told.append(
            f"{row.whole.replace(';', ', ')} go{'' if several else 'es'} on whole into the next "
            f"harness, through a gland{' each' if several else ''}: crimp lugs beyond it when "
            f"{'they lie' if several else 'it lies'}"
        )
    return " · ".join(told)


def install_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return how each harness goes into the boat."""
    unit = cut_unit(draft.aboard.profile.units)
    columns = (
        Column("", 8, attrgetter("turn"), True),
        Column("branch", 15, attrgetter("branch"), bold=True),
        Column("from", 44, attrgetter("from_station")),
        Column("to", 44, attrgetter("to_station"), bold=True),
        Column(unit.name, 13, lambda r: unit.text(float(r.length_mm)), True),
        Column("through", 46, attrgetter("passes")),
        Column("hole mm", 12, attrgetter("hole_mm"), True, True),
        Column("for", 17, attrgetter("hole_for")),
        Column("supports", 14, attrgetter("supports"), True),
        Column("mate", 36, attrgetter("mate"), bold=True),
        Column("gasket", 24, attrgetter("gasket")),
    )
    names = {a.id: a.name for a in draft.aboard.boat.assemblies}
    table = Printed(
        columns,
        install_table(draft).rows,
        note=(
            "Holes pass the bundle with room to grow, or the largest plug behind. Untape the coil "
            "at the free end last. Grommet in every hole from area to area, sealed where one of "
            "them is wet. Land the ends by the landing list; plugs before posts."
        ),
        size=2.6,
        group=lambda row: names.get(row.harness, row.harness),
        remark=_remark,
    )
    return paginate("Installing the harnesses", [table], setting)
