"""Labels at full size: each on a page of its own for a tape printer, or many on a sheet."""

from collections.abc import Sequence
from typing import Final

from vivid_loom.sheets.lists.label_lists import LabelRow
from vivid_loom.sheets.paper.drawing import Page, Primitive, Rect, Text, moved
from vivid_loom.sheets.paper.layout import (
    BOTTOM_MM,
    HEIGHT_MM,
    MARGIN_MM,
    TOP_MM,
    WIDTH_MM,
    Setting,
    frame,
)
from vivid_loom.sheets.paper.tones import PAPER

__all__ = ["label_items", "label_sheets", "tape_pages"]

HIGH_MM: Final = 9.0  # two lines of letters
TAG_HIGH_MM: Final = 22.0
GAP_MM: Final = 3.0


def _size(row: LabelRow) -> tuple[float, float]:
    return float(row.length_mm), TAG_HIGH_MM if row.qr else HIGH_MM


def _square(words: str, x: float, y: float, side: float) -> list[Primitive]:
    """Return a QR code with its quiet border, as the runs of dark cells of each row."""
    import segno  # loaded when a tag is drawn

    matrix = segno.make(words, micro=False, error="m").matrix
    cell = side / (len(matrix) + 8)  # ISO/IEC 18004: four cells of quiet all round
    items: list[Primitive] = [Rect(x, y, side, side, PAPER.page)]
    for r, row in enumerate(matrix):
        c = 0
        while c < len(row):
            width = 0
            while c + width < len(row) and row[c + width]:
                width += 1
            if width:
                left, top = x + (4 + c) * cell, y + (4 + r) * cell
                items.append(Rect(left, top, width * cell, cell, "#000000"))
            c += max(1, width)
    return items


def label_items(row: LabelRow) -> list[Primitive]:
    """Return a label at its size, from its upper left corner."""
    high = _size(row)[1]
    letter = float(row.letter_mm)
    x = 2.0
    items: list[Primitive] = []
    if row.qr:
        items += _square(row.qr, 0.5, 0.5, high - 1.0)
        x = high + 1.0
    middle = high / 2
    items.append(Text(x, middle - 0.4, row.line_1, letter, "#000000", True))
    items.append(Text(x, middle + letter * 1.05, row.line_2, letter, "#000000"))
    return items


def tape_pages(rows: Sequence[LabelRow]) -> list[Page]:
    """Return every label on a page of its own size, as a tape printer takes them."""
    return [Page(row.label, *_size(row), tuple(label_items(row))) for row in rows]


def label_sheets(rows: Sequence[LabelRow], setting: Setting) -> list[Page]:
    """Return labels side by side on A4, to be cut along their frames."""
    pages: list[Page] = []
    items: list[Primitive] = []
    x, y, deep = MARGIN_MM, TOP_MM + 2.0, 0.0
    for row in rows:
        wide, high = _size(row)
        if x + wide > WIDTH_MM - MARGIN_MM:
            x, y, deep = MARGIN_MM, y + deep + GAP_MM, 0.0
        if y + high > BOTTOM_MM:
            pages.append(_sheet(items, len(pages) + 1, setting))
            items, x, y, deep = [], MARGIN_MM, TOP_MM + 2.0, 0.0
        items.append(Rect(x, y, wide, high, "", PAPER.rule, 0.1))
        items += [moved(item, x, y, 1.0) for item in label_items(row)]
        x, deep = x + wide + GAP_MM, max(deep, high)
    if items:
        pages.append(_sheet(items, len(pages) + 1, setting))
    return pages


def _sheet(items: Sequence[Primitive], number: int, setting: Setting) -> Page:
    title = "Labels at full size"
    on_page = (*frame(title, setting, number), *items)
    return Page(title, WIDTH_MM, HEIGHT_MM, on_page, to_scale=True)
