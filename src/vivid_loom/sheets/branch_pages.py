"""A harness in small, as a map to its board, and its branches with every length."""

from collections.abc import Sequence
from itertools import pairwise
from operator import attrgetter
from typing import Final

from vivid_loom.boat import Assembly
from vivid_loom.drafting import Draft
from vivid_loom.sheets.board_drawing import HarnessBoard, harness_boards, layers
from vivid_loom.sheets.drawing import Page, Primitive, Rect, Text, moved, reach_y
from vivid_loom.sheets.harness_lists import BranchRow, branch_rows
from vivid_loom.sheets.layout import (
    BOTTOM_MM,
    HEIGHT_MM,
    MARGIN_MM,
    TOP_MM,
    WIDTH_MM,
    Column,
    Printed,
    Setting,
    frame,
    paginate,
)
from vivid_loom.sheets.tiles import reach_x
from vivid_loom.sheets.tones import PAPER
from vivid_loom.workshop.harness.tree import harness_trees

__all__ = ["branch_pages"]

SCALES: Final = (0.1, 0.08)  # the first at which a map is on one page, else the first
ABOVE_MM: Final = 8.0  # for the words over the map
ROOM_MM: Final = (WIDTH_MM - 2 * MARGIN_MM, BOTTOM_MM - TOP_MM - ABOVE_MM)


def _scale(width_mm: float, height_mm: float) -> float:
    """Return at which scale a board is drawn."""
    for scale in SCALES:
        if width_mm * scale <= ROOM_MM[0] and height_mm * scale <= ROOM_MM[1]:
            return scale
    return SCALES[0]


def _cuts(
    low: float, high: float, room: float, words: Sequence[tuple[float, float]]
) -> list[float]:
    """Return where a map is cut into pages: as late as it goes, through the fewest words.

    Args:
        words: from where to where each of them reaches.
    """
    found = [low]
    while high - found[-1] > room + 1e-6:
        last = found[-1]
        steps = [last + room * (1.0 - 0.02 * i) for i in range(24)]
        found.append(min(steps, key=lambda at: sum(a < at < b for a, b in words)))
    return [*found, high]


def _map_pages(draft: Draft, board: HarnessBoard, setting: Setting) -> list[Page]:
    """Return the board in small, on as many pages as it takes."""
    left, top, right, low = board.plan.used
    scale = _scale(right - left, low - top)
    drawn = layers(board, draft, rows=False)
    items = [item for name, made in drawn.items() if name != "board" for item in made]
    told = [item for item in items if isinstance(item, Text)]
    across = _cuts(left, right, ROOM_MM[0] / scale, [reach_x(item) for item in told])
    down = _cuts(top, low, ROOM_MM[1] / scale, [reach_y(item) for item in told])
    windows = [(x, y, xx, yy) for y, yy in pairwise(down) for x, xx in pairwise(across)]
    pages: list[Page] = []
    title = f"{board.tree.assembly.name}: form board"
    for part, (x, y, xx, yy) in enumerate(windows, 1):
        inside = [
            moved(item, MARGIN_MM - x * scale, TOP_MM + ABOVE_MM - y * scale, scale)
            for item in items
            if _shows(item, (x, y, xx, yy))
        ]
        words = f"Part {part} of {len(windows)}. " if len(windows) > 1 else ""
        words += _told(board, scale)
        pages.append(_page(title, inside, setting, words, MARGIN_MM + (xx - x) * scale))
    return pages


def _shows(item: Primitive, window: tuple[float, float, float, float]) -> bool:
    """Tell whether a page shows an item: words whole, or where most of them lies."""
    x, y, xx, yy = window
    (a, b), (c, d) = reach_x(item), reach_y(item)
    if isinstance(item, Text):
        return x <= (a + b) / 2 < xx and y <= (c + d) / 2 < yy
    return a <= xx and b >= x and c <= yy and d >= y


def _told(board: HarnessBoard, scale: float) -> str:
    plan = board.plan
    size = f"{plan.width_mm / 1000:.1f} × {plan.height_mm / 1000:.1f} m"
    return (
        f"{scale * 1000:g} mm here are a metre. Board {size}, {plan.used_m2:.2f} m² used. "
        "Full size: board.svg, board.dxf; the command board prints it on sheets or a roll."
    )


def _page(title: str, inside: list[Primitive], setting: Setting, told: str, right: float) -> Page:
    white = [
        Rect(0, 0, MARGIN_MM - 0.5, HEIGHT_MM, PAPER.page),
        Rect(right + 0.5, 0, WIDTH_MM - right, HEIGHT_MM, PAPER.page),
        Rect(0, 0, WIDTH_MM, TOP_MM, PAPER.page),
        Rect(0, BOTTOM_MM, WIDTH_MM, HEIGHT_MM - BOTTOM_MM, PAPER.page),
    ]
    words = Text(MARGIN_MM, TOP_MM + 4, told, 2.8, PAPER.quiet)
    items = (*inside, *white, *frame(title, setting, 1), words)
    return Page(title, WIDTH_MM, HEIGHT_MM, items, to_scale=True)


def _branch_table(rows: tuple[BranchRow, ...]) -> Printed:
    columns = (
        Column("branch", 14, lambda r: r.branch if r.kind == "branch" else "tail", bold=True),
        Column("from", 42, attrgetter("from_station")),
        Column("to", 62, attrgetter("to_station")),
        Column("from datum mm", 17, attrgetter("datum_mm"), True),
        Column("length mm", 15, attrgetter("length_mm"), True, True),
        Column("wires", 11, attrgetter("wires"), True),
        Column("bundle mm", 15, attrgetter("bundle_mm"), True),
        Column("loom", 33, attrgetter("loom")),
        Column("ties", 9, attrgetter("ties"), True),
        Column("bend mm", 11, attrgetter("bend_mm"), True),
        Column("remark", 44, attrgetter("remark")),
    )
    note = "Tape both ends of every branch. Lengths −0/+25 mm under 1 m, −0/+50 mm over."
    return Printed(columns, rows, "Branches and tails", note, size=2.6)


def branch_pages(draft: Draft, assembly: Assembly, setting: Setting) -> list[Page]:
    """Return an assembly's form board in small and the table of its branches; none without."""
    boards = {board.tree.id: board for board in harness_boards(draft, assembly)}
    pages: list[Page] = []
    for tree in harness_trees(draft, assembly):
        if tree.id in boards and tree.branches:
            pages += _map_pages(draft, boards[tree.id], setting)
        if tree.branches:
            title = f"{assembly.name}: branches"
            pages += paginate(title, [_branch_table(branch_rows(draft, tree))], setting)
    return pages
