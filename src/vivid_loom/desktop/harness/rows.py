"""What the panes of the stage list: branches, wires, steps, labels, the cut plan."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Final

from vivid_loom.desktop.widgets.text_table import Cell
from vivid_loom.drafting import Draft
from vivid_loom.order import Shop
from vivid_loom.sheets.lists.build_lists import CutRow, end_procedures
from vivid_loom.sheets.lists.cut_lists import CutPlanRow, cut_plan_table, draft_cut_plan, plan_words
from vivid_loom.sheets.lists.harness_lists import branch_rows
from vivid_loom.sheets.lists.label_lists import labels
from vivid_loom.workshop.harness.tree import harness_trees

__all__ = [
    "BRANCH_HEADINGS",
    "CUT_HEADINGS",
    "PLAN_HEADINGS",
    "branch_lines",
    "cut_lines",
    "label_lines",
    "plan_lines",
    "step_lines",
]

Row = tuple[str, Sequence[Cell]]

BRANCH_HEADINGS: Final = (
    "Branch",
    "From",
    "To",
    "From datum mm",
    "Length mm",
    "Wires",
    "Bundle mm",
    "Loom",
    "Ties",
    "Remark",
)
CUT_HEADINGS: Final = (
    "Wire",
    "",
    "Gauge and colour",
    "Cut mm",
    "One end",
    "Terminal",
    "Other end",
    "Terminal",
)
PLAN_HEADINGS: Final = ("Piece", "Wire", "Length mm", "Spool", "Kept at", "Cut", "Left mm")


def _cells(*texts: str) -> list[Cell]:
    return [Cell(text, bold=i == 0) for i, text in enumerate(texts)]


def branch_lines(draft: Draft, harness: str) -> Iterator[Row]:
    """Yield branches and tails; a row's key is the branch, or 'tail' and its station."""
    assembly = next(a for a in draft.aboard.boat.assemblies if a.id == harness)
    for tree in harness_trees(draft, assembly):
        for turn, row in enumerate(branch_rows(draft, tree)):
            tail = row.kind == "tail"
            key = f"tail {row.branch} {turn}" if tail else row.branch
            yield (
                key,
                _cells(
                    "tail" if tail else row.branch,
                    row.from_station,
                    row.to_station,
                    row.datum_mm,
                    row.length_mm,
                    row.wires,
                    row.bundle_mm,
                    row.loom,
                    row.ties,
                    row.remark,
                ),
            )


def cut_lines(rows: Sequence[CutRow], built: Mapping[str, str]) -> Iterator[Row]:
    """Yield wires in the order of the bench: spool by spool.

    Args:
        built: who has built each wire that is ticked.
    """
    for row in rows:
        shade = f"{row.colour}/{row.tracer}" if row.tracer else row.colour
        done = f"built {built[row.wire_id]}".strip() if row.wire_id in built else ""
        if row.conductor_state == "existing":
            done = "stays"
        elif not done and row.conductor_state == "moves":
            done = "moves"
        yield (
            row.wire_id,
            _cells(
                row.wire_id,
                done,
                f"{row.gauge} {shade}",
                row.cut_length_mm,
                row.label_from.removeprefix(row.wire_id).strip(),
                row.from_termination,
                row.label_to.removeprefix(row.wire_id).strip(),
                row.to_termination,
            ),
        )


def step_lines(draft: Draft, row: CutRow | None) -> Iterator[Row]:
    """Yield both ends of a wire, step by step."""
    if row is None:
        return
    steps = {r.recipe: r.steps for r in end_procedures(draft).rows}
    sides = (
        (
            row.label_from,
            row.from_termination,
            row.from_strip_mm,
            row.from_jaw,
            row.from_recipe,
            row.from_mates,
            row.from_tail,
        ),
        (
            row.label_to,
            row.to_termination,
            row.to_strip_mm,
            row.to_jaw,
            row.to_recipe,
            row.to_mates,
            row.to_tail,
        ),
    )
    for label, terminal, strip, jaw, recipe, mates, tail in sides:
        yield f"{label} end", _cells(label, terminal, f"strip {strip} mm, jaw {jaw or 'none'}")
        if mates or tail:
            told = ", ".join(filter(None, (mates.replace(";", ", "), tail and f"tail {tail}")))
            yield f"{label} joint", _cells("", "in one joint with", told)
        for turn, step in enumerate(steps[recipe].split(" → "), 1):
            yield f"{label} {turn}", _cells("", f"{turn}.", step)


def label_lines(draft: Draft, harness: str) -> Iterator[Row]:
    """Yield a harness's labels: text, letters, sleeve, what they are for."""
    for turn, row in enumerate(labels(draft).rows):
        if row.harness == harness:
            key = f"{row.wire_id} {row.end}" if row.wire_id else f"{row.kind} {turn}"
            sleeve = f"{row.sleeve_bore_mm} × {row.length_mm} mm"
            yield key, _cells(row.label, row.kind, row.end, f"{row.letter_mm} mm", sleeve)


def plan_lines(draft: Draft, shop: Shop, harness: str) -> tuple[str, list[Row]]:
    """Return what the cut plan comes to, and its cuts for a harness."""
    plan = draft_cut_plan([draft], shop)
    rows: list[Row] = []
    for row in cut_plan_table(plan).rows:
        if row.harness == harness:
            rows.append((f"{row.piece} {row.spool}", _plan_cells(row)))
    return plan_words(plan), rows


def _plan_cells(row: CutPlanRow) -> list[Cell]:
    rest = f"{row.rest_mm} {row.rest}".strip()
    wire = f"{row.wire} {row.colour}"
    spool = f"{row.spool}, {row.spool_m} m"
    return _cells(row.piece, wire, row.length_mm, spool, row.place, row.cut, rest)
