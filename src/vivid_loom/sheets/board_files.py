"""The form boards of an order as files: SVG, DXF, and PDF at full size in sheets or from a roll."""

from collections.abc import Sequence
from typing import Final

from vivid_loom.drafting import Draft
from vivid_loom.sheets.drawings.board_drawing import (
    BOARD_MM,
    LAYERS,
    HarnessBoard,
    harness_boards,
    layers,
)
from vivid_loom.sheets.paper.drawing import Page, Primitive, Text, moved
from vivid_loom.sheets.paper.dxf import dxf_bytes
from vivid_loom.sheets.paper.svg import svg_bytes
from vivid_loom.sheets.paper.tiles import PAPERS_MM, roll_page, tile_pages, tiling

__all__ = ["PAPERS", "all_boards", "board_dxf", "board_pages", "board_svg", "stacked"]

PAPERS: Final = (*PAPERS_MM, "roll")
GAP_MM: Final = 150.0  # between two boards of one drawing
TITLE_MM: Final = 60.0

Named = dict[str, list[tuple[str, Primitive]]]


def all_boards(draft: Draft, size_mm: tuple[float, float] = BOARD_MM) -> tuple[HarnessBoard, ...]:
    """Return the form board of every harness of an order."""
    return tuple(
        board
        for assembly in draft.aboard.boat.assemblies
        for board in harness_boards(draft, assembly, size_mm)
        if board.tree.wires
    )


def _ids(board: HarnessBoard, layer: str, count: int) -> list[str]:
    """Return the ids of a layer's items: branches are found by them."""
    if layer != "branches":
        return [""] * count
    return [f"{board.tree.id} {branch.id}" for branch in board.plan.branches]


def stacked(draft: Draft, boards: Sequence[HarnessBoard]) -> tuple[Named, tuple[float, float]]:
    """Return boards one under another, by layer with the ids of branches, and the whole size."""
    found: Named = {name: [] for name in LAYERS}
    y, wide = 0.0, 0.0
    for board in boards:
        y += TITLE_MM
        title = f"{draft.aboard.boat.name}, hull {draft.aboard.order.hull}: {board.tree.id}"
        found["words"].append(("", Text(0.0, y - 15.0, title, 40.0, bold=True)))
        for name, items in layers(board, draft).items():
            ids = _ids(board, name, len(items))
            found[name] += [(i, moved(item, 0, y, 1.0)) for i, item in zip(ids, items, strict=True)]
        y += board.plan.height_mm + GAP_MM
        wide = max(wide, board.plan.width_mm)
    return found, (wide, y)


def board_svg(draft: Draft, boards: Sequence[HarnessBoard]) -> bytes:
    """Return all form boards as one SVG at full size."""
    found, size = stacked(draft, boards)
    return svg_bytes(found, size, f"Form boards, hull {draft.aboard.order.hull}")


def board_dxf(draft: Draft, boards: Sequence[HarnessBoard]) -> bytes:
    """Return all form boards as one DXF at full size."""
    return dxf_bytes(stacked(draft, boards)[0])


def board_pages(draft: Draft, board: HarnessBoard, paper: str) -> list[Page]:
    """Return one form board at full size on sheets of paper, or on one from a roll.

    Args:
        paper: one of ``PAPERS``.

    Raises:
        KeyError: no such paper.
    """
    items = [item for made in layers(board, draft).values() for item in made]
    order = draft.aboard.order
    title = f"Hull {order.hull} revision {order.revision}, {board.tree.id} on its form board"
    left, top, right, low = board.plan.used
    box = (left - 20, top - 20, right + 20, low + 20)
    if paper == "roll":
        return [roll_page(items, box, title)]
    return tile_pages(items, tiling(box, paper), title)
