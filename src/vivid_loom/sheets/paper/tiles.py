"""A drawing at full size cut into sheets of paper, to be laid edge to edge on the board."""

import math
from collections.abc import Iterator, Sequence
from typing import Final, NamedTuple

from vivid_loom.sheets.paper.drawing import (
    Circle,
    Line,
    Page,
    Primitive,
    Rect,
    Text,
    moved,
    reach_y,
)
from vivid_loom.sheets.paper.metrics import reach_x
from vivid_loom.sheets.paper.tones import PAPER

__all__ = ["PAPERS_MM", "Tiling", "roll_page", "tile_pages", "tiling"]

PAPERS_MM: Final = {"A4": (297.0, 210.0), "A3": (420.0, 297.0), "A2": (594.0, 420.0)}
"""Sheets lying on their long side; ISO 216."""

BORDER_MM: Final = 12.0  # what printers leave white, and where marks stand
CROSS_MM: Final = 5.0
BAR_MM: Final = 100.0
INK: Final = PAPER.ink


class Tiling(NamedTuple):
    """How a drawing falls on sheets.

    Attributes:
        paper: one of ``PAPERS_MM``.
        window_mm: what one sheet shows of the drawing.
        columns, rows: of sheets.
        left, top: of the drawing's part that is shown.
    """

    paper: str
    window_mm: tuple[float, float]
    columns: int
    rows: int
    left: float
    top: float

    def origin(self, column: int, row: int) -> tuple[float, float]:
        """Return the drawing's point at the upper left of a sheet's window."""
        return self.left + column * self.window_mm[0], self.top + row * self.window_mm[1]


def tiling(box: tuple[float, float, float, float], paper: str) -> Tiling:
    """Return the fewest sheets that cover a box (left, top, right, bottom) of a drawing.

    Raises:
        KeyError: no such paper.
    """
    width, height = PAPERS_MM[paper]
    window = (width - 2 * BORDER_MM, height - 2 * BORDER_MM)
    left, top, right, low = box
    columns = max(1, math.ceil((right - left) / window[0] - 1e-9))
    rows = max(1, math.ceil((low - top) / window[1] - 1e-9))
    return Tiling(paper, window, columns, rows, left, top)


def _marks(paper: tuple[float, float]) -> Iterator[Primitive]:
    """Yield the window's edge to cut along, and a register cross at each of its corners."""
    width, height = paper
    near, right, low = BORDER_MM, width - BORDER_MM, height - BORDER_MM
    for x, y in ((near, near), (right, near), (near, low), (right, low)):
        yield Line(((x - CROSS_MM, y), (x + CROSS_MM, y)), INK, 0.2)
        yield Line(((x, y - CROSS_MM), (x, y + CROSS_MM)), INK, 0.2)
        yield Circle(x, y, 2.0, "", INK, 0.2)
    yield Rect(near, near, right - near, low - near, "", PAPER.rule, 0.1)


def _scale_bar(x: float, y: float) -> Iterator[Primitive]:
    yield Line(((x, y), (x + BAR_MM, y)), INK, 0.5)
    for tick in range(11):
        high = 2.4 if tick % 5 == 0 else 1.4
        at = x + tick * BAR_MM / 10
        yield Line(((at, y - high), (at, y)), INK, 0.3)
    words = "100 mm: measure it; print at 100 %, never fitted to the page"
    yield Text(x + BAR_MM + 3, y, words, 2.6, INK)


def tile_pages(items: Sequence[Primitive], tiles: Tiling, title: str) -> list[Page]:
    """Return a drawing sheet by sheet, row by row, at full size.

    Every sheet shows its window, cut along the thin line; crosses of neighbours lie on one another.
    """
    width, height = PAPERS_MM[tiles.paper]
    wide, high = tiles.window_mm
    reaches = [(*reach_x(item), *reach_y(item)) for item in items]
    pages: list[Page] = []
    for row in range(tiles.rows):
        for column in range(tiles.columns):
            x, y = tiles.origin(column, row)
            inside = [
                moved(item, BORDER_MM - x, BORDER_MM - y, 1.0)
                for item, (left, right, top, low) in zip(items, reaches, strict=True)
                if left <= x + wide and right >= x and top <= y + high and low >= y
            ]
            white = [
                Rect(0, 0, width, BORDER_MM, PAPER.page),
                Rect(0, height - BORDER_MM, width, BORDER_MM, PAPER.page),
                Rect(0, 0, BORDER_MM, height, PAPER.page),
                Rect(width - BORDER_MM, 0, BORDER_MM, height, PAPER.page),
            ]
            name = f"{title} · row {row + 1} of {tiles.rows}, sheet {column + 1} of {tiles.columns}"
            told = Text(width - BORDER_MM - 8, height - 4, name, 3.0, INK, True, "end")
            bar = [*_scale_bar(BORDER_MM + 8, height - 4)]
            pages.append(
                Page(name, width, height, (*inside, *white, *_marks((width, height)), *bar, told))
            )
    return pages


def roll_page(
    items: Sequence[Primitive], box: tuple[float, float, float, float], title: str
) -> Page:
    """Return a drawing's part at full size on one sheet from a roll."""
    left, top, right, low = box
    width, height = right - left + 2 * BORDER_MM, low - top + 2 * BORDER_MM
    shown = [moved(item, BORDER_MM - left, BORDER_MM - top, 1.0) for item in items]
    told = Text(width - BORDER_MM, height - 4, title, 3.0, INK, True, "end")
    return Page(title, width, height, (*shown, *_scale_bar(BORDER_MM, height - 4), told))
