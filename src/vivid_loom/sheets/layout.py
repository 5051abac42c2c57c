"""Tables and paragraphs laid out on A4 landscape pages."""

from collections.abc import Callable, Sequence
from typing import Any, Final, NamedTuple

from vivid_loom.sheets.drawing import Line, Page, Primitive, Rect, Text
from vivid_loom.sheets.metrics import text_width, wrapped

__all__ = ["Column", "Setting", "counted", "paginate", "paragraphs"]

WIDTH_MM: Final = 297.0
HEIGHT_MM: Final = 210.0
MARGIN_MM: Final = 12.0
RULE: Final = "#c9c5bb"
INK: Final = "#1c1e22"
QUIET: Final = "#5c6066"
ALARM: Final = "#a3201a"


class Column(NamedTuple):
    """A printed column: which cell, its heading, its width in mm, right-aligned or not."""

    heading: str
    width_mm: float
    cell: Callable[[Any], str]
    right: bool = False
    bold: bool = False


class Setting(NamedTuple):
    """What stands on every page of one order.

    Attributes:
        stop: why nobody may build from it; '' where it may be built from.
    """

    order: str
    footer: str
    stop: str = ""


def frame(title: str, setting: Setting, number: int) -> list[Primitive]:
    """Return heading and footer of a page."""
    right = WIDTH_MM - MARGIN_MM
    stop = Text(WIDTH_MM / 2, 16, setting.stop, 4.2, ALARM, True, "middle")
    return [
        *([stop] if setting.stop else []),
        Text(MARGIN_MM, 16, title, 5.0, INK, True),
        Text(right, 16, setting.order, 3.2, QUIET, False, "end"),
        Line(((MARGIN_MM, 19), (right, 19)), INK, 0.35),
        Text(MARGIN_MM, HEIGHT_MM - 7, setting.footer, 2.5, QUIET),
        Text(right, HEIGHT_MM - 7, f"{title} · {number}", 2.5, QUIET, False, "end"),
    ]


def counted(pages: Sequence[Page]) -> list[Page]:
    """Return the pages of a whole packet with 'page n of m' at their feet."""
    found: list[Page] = []
    for number, page in enumerate(pages, 1):
        told = f"page {number} of {len(pages)}"
        at = Text(WIDTH_MM - MARGIN_MM, HEIGHT_MM - 3.4, told, 2.5, QUIET, False, "end")
        found.append(page._replace(items=(*page.items, at)))
    return found


def _row_items(
    cells: Sequence[tuple[str, ...]],
    columns: Sequence[Column],
    y: float,
    size: float,
    leading: float,
) -> list[Primitive]:
    items: list[Primitive] = []
    x = MARGIN_MM
    for lines, column in zip(cells, columns, strict=True):
        for i, line in enumerate(lines):
            at = x + column.width_mm - 3.5 if column.right else x
            anchor = "end" if column.right else "start"
            baseline = y + size + i * leading
            items.append(Text(at, baseline, line, size, INK, column.bold, anchor))  # type: ignore[arg-type]
        x += column.width_mm
    return items


def _headings(columns: Sequence[Column], y: float) -> tuple[list[Primitive], float]:
    items: list[Primitive] = []
    x = MARGIN_MM
    deepest = 1
    for column in columns:
        lines = wrapped(column.heading, column.width_mm - 3.5, 2.5)
        deepest = max(deepest, len(lines))
        for i, line in enumerate(lines):
            at = x + column.width_mm - 3.5 if column.right else x
            anchor = "end" if column.right else "start"
            items.append(Text(at, y + 2.5 + i * 3.0, line, 2.5, QUIET, False, anchor))  # type: ignore[arg-type]
        x += column.width_mm
    bottom = y + deepest * 3.0 + 1.2
    items.append(Line(((MARGIN_MM, bottom), (WIDTH_MM - MARGIN_MM, bottom)), INK, 0.2))
    return items, bottom + 1.2


def paginate(
    title: str,
    columns: Sequence[Column],
    rows: Sequence[Any],
    setting: Setting,
    *,
    size: float = 2.8,
    note: str = "",
) -> list[Page]:
    """Return a table broken over pages; no cell is cut off, long ones wrap."""
    leading = size * 1.28
    pages: list[Page] = []
    items: list[Primitive] = []
    y = HEIGHT_MM

    def close() -> None:
        if items:
            pages.append(Page(title, WIDTH_MM, HEIGHT_MM, tuple(items)))

    for row in [*rows] or [()]:
        cells = (
            [
                wrapped(column.cell(row), column.width_mm - 3.5, size, bold=column.bold)
                for column in columns
            ]
            if row
            else [()] * len(columns)
        )
        height = max((len(lines) for lines in cells), default=1) * leading + 1.5
        if y + height > HEIGHT_MM - 12:
            close()
            items = frame(title, setting, len(pages) + 1)
            y = 22.0
            if note:
                items.append(Text(MARGIN_MM, 24.2, note, 2.6, QUIET))
                y = 27.0
            headings, y = _headings(columns, y)
            items += headings
        items += _row_items(cells, columns, y, size, leading)
        y += height
        items.append(Line(((MARGIN_MM, y - 0.5), (WIDTH_MM - MARGIN_MM, y - 0.5)), RULE, 0.1))
    close()
    return pages


def paragraphs(
    lines: Sequence[tuple[str, float, bool]], x: float, y: float, width: float
) -> tuple[list[Primitive], float]:
    """Return wrapped paragraphs of (text, size, bold) and the y below them."""
    items: list[Primitive] = []
    for text, size, bold in lines:
        for line in wrapped(text, width, size, bold=bold) if text else ("",):
            y += size * 1.35
            items.append(Text(x, y, line, size, INK, bold))
        y += size * 0.35
    return items, y


def boxed(x: float, y: float, w: float, h: float, caption: str) -> list[Primitive]:
    """Return a box to write in, with its caption."""
    assert text_width(caption, 2.6) < w
    return [
        Rect(x, y, w, h, "", QUIET, 0.25),
        Text(x + 2, y + 4, caption, 2.6, QUIET),
    ]
