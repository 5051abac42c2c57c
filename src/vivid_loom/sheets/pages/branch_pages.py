"""A harness in small, as a map to its board, and its branches with every length."""

from collections.abc import Callable, Sequence
from operator import attrgetter
from typing import Final

from vivid_loom.boat import Assembly
from vivid_loom.drafting import Draft
from vivid_loom.quantities import CutUnit, cut_unit
from vivid_loom.sheets.drawings.board_drawing import HarnessBoard, harness_boards, layers
from vivid_loom.sheets.drawings.board_map import Band, bands, scale_of
from vivid_loom.sheets.lists.harness_lists import BranchRow, branch_rows
from vivid_loom.sheets.paper.drawing import Line, Page, Primitive, Text, moved
from vivid_loom.sheets.paper.layout import (
    BOTTOM_MM,
    HEIGHT_MM,
    MARGIN_MM,
    TOP_MM,
    WIDTH_MM,
    Column,
    Picture,
    Printed,
    Setting,
    frame,
    paginate,
)
from vivid_loom.sheets.paper.tones import PAPER
from vivid_loom.workshop.harness.tree import HarnessTree, harness_trees

__all__ = ["branch_pages"]

ABOVE_MM: Final = 8.0  # for the words over the map
BETWEEN_MM: Final = 7.0  # two bands, with the words over the lower one
ROOM_MM: Final = (WIDTH_MM - 2 * MARGIN_MM, BOTTOM_MM - TOP_MM - ABOVE_MM)
TABLE_MM: Final = 60.0  # so much room is left under a map for a table to begin there


def _stacked(made: Sequence[Band], head: Sequence[Primitive]) -> list[Picture]:
    """Return a map's bands one under another, page by page, the words over the first."""
    pages: list[Picture] = []
    items, y = [*head], ABOVE_MM
    for number, band in enumerate(made, 1):
        if y + band.height_mm > ROOM_MM[1] + ABOVE_MM and number > 1:
            pages.append(Picture(tuple(items), y))
            items, y = [], 0.0
        if len(made) > 1:
            words = f"Part {number} of {len(made)}"
            items.append(Text(MARGIN_MM, TOP_MM + y + 2.5, words, 2.6, PAPER.quiet))
            y += 4.0
        items += [moved(item, MARGIN_MM, TOP_MM + y, 1.0) for item in band.items]
        y += band.height_mm + BETWEEN_MM
    pages.append(Picture(tuple(items), y))
    return pages


def _told(board: HarnessBoard, scale: float) -> list[Primitive]:
    """Return the words over a map, and a bar as long as a metre is here."""
    plan = board.plan
    size = f"{plan.width_mm / 1000:.1f} × {plan.height_mm / 1000:.1f} m"
    words = (
        f"Board {size}, {plan.used_m2:.2f} m² used. "
        "Full size: board.svg, board.dxf; the command board prints it on sheets or a roll."
    )
    right, y = WIDTH_MM - MARGIN_MM, TOP_MM + 3.0
    left = right - 1000.0 * scale
    ends = [Line(((x, y - 1.2), (x, y + 1.2)), PAPER.quiet, 0.3) for x in (left, right)]
    return [
        Text(MARGIN_MM, y + 1, words, 2.8, PAPER.quiet),
        Text(left - 2, y + 1, "1 m", 2.8, PAPER.quiet, False, "end"),
        Line(((left, y), (right, y)), PAPER.quiet, 0.3),
        *ends,
    ]


def _branch_table(rows: tuple[BranchRow, ...], unit: CutUnit) -> Printed:
    def measured(column: str) -> Callable[[BranchRow], str]:
        return lambda row: unit.text(float(getattr(row, column)))

    columns = (
        Column("branch", 14, lambda r: r.branch if r.kind == "branch" else "tail", bold=True),
        Column("from", 42, attrgetter("from_station")),
        Column("to", 62, attrgetter("to_station")),
        Column(f"from datum {unit.name}", 17, measured("datum_mm"), True),
        Column(f"length {unit.name}", 15, measured("length_mm"), True, True),
        Column("wires", 11, attrgetter("wires"), True),
        Column("bundle mm", 15, attrgetter("bundle_mm"), True),
        Column("loom", 30, attrgetter("loom")),
        Column("ties", 9, attrgetter("ties"), True),
        Column("bend mm", 11, attrgetter("bend_mm"), True),
        Column("remark", 47, attrgetter("remark")),
    )
    note = f"Tape both ends of every branch. Lengths {unit.tolerance}."
    return Printed(columns, rows, "Branches and tails", note, size=2.6)


def _tree_pages(
    draft: Draft, tree: HarnessTree, board: HarnessBoard | None, setting: Setting
) -> list[Page]:
    """Return the map of a tree, and under it the table of its branches."""
    table = _branch_table(branch_rows(draft, tree), cut_unit(draft.aboard.profile.units))
    named = f"{tree.assembly.name}: form board"
    if board is None:
        return paginate(f"{tree.assembly.name}: branches", [table], setting)
    used = board.plan.used
    drawn = layers(board, draft, rows=False)
    items = [item for name, made in drawn.items() if name != "board" for item in made]
    head = _told(board, scale_of(used, ROOM_MM))
    *before, last = _stacked(bands(items, used, ROOM_MM), head)
    if last.height_mm > BOTTOM_MM - TOP_MM - TABLE_MM:
        before, last = [*before, last], Picture((), 0.0)
    pages = [
        Page(named, WIDTH_MM, HEIGHT_MM, (*frame(named, setting, n), *picture.items))
        for n, picture in enumerate(before, 1)
    ]
    title = f"{named}, branches" if last.items else f"{tree.assembly.name}: branches"
    return [*pages, *paginate(title, [table], setting, picture=last)]


def branch_pages(draft: Draft, assembly: Assembly, setting: Setting) -> list[Page]:
    """Return an assembly's form board in small and the table of its branches; none without."""
    boards = {board.tree.id: board for board in harness_boards(draft, assembly)}
    return [
        page
        for tree in harness_trees(draft, assembly)
        if tree.branches
        for page in _tree_pages(draft, tree, boards.get(tree.id), setting)
    ]
