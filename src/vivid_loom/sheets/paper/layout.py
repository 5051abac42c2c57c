"""Tables and paragraphs laid out on A4 landscape pages."""

from collections.abc import Callable, Sequence
from typing import Any, Final, NamedTuple

from vivid_loom.sheets.paper.drawing import Anchor, Line, Page, Primitive, Rect, Text, moved
from vivid_loom.sheets.paper.metrics import text_width, wrapped
from vivid_loom.sheets.paper.tones import PAPER

__all__ = ["Column", "Picture", "Printed", "Setting", "counted", "paginate", "paragraphs"]

WIDTH_MM: Final = 297.0
HEIGHT_MM: Final = 210.0
MARGIN_MM: Final = 12.0
TOP_MM: Final = 21.5
BOTTOM_MM: Final = HEIGHT_MM - 10.5
GUTTER_MM: Final = 7.0  # between lanes
GAP_MM: Final = 3.0  # between columns
INDENT_MM: Final = 7.0  # of a remark under a row
ROW_MM: Final = 0.8  # around a row
GROUP_MM: Final = 1.8  # beside its line
LEADING: Final = 1.12
RULE: Final = PAPER.rule
INK: Final = PAPER.ink
QUIET: Final = PAPER.quiet
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
    stop = Text(WIDTH_MM / 2, 9.5, setting.stop, 4.2, ALARM, True, "middle")
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


class Printed(NamedTuple):
    """A table as it is printed.

    Attributes:
        rows: each a record, or several that stay together and of which each takes a line.
        caption: '' where the title of the page says it.
        group: words over rows that share them; '' for none.
        remark: what is written under a row across all columns; '' for nothing.
    """

    columns: tuple[Column, ...]
    rows: Sequence[Any]
    caption: str = ""
    note: str = ""
    size: float = 2.8
    group: Callable[[Any], str] = lambda _: ""
    remark: Callable[[Any], str] = lambda _: ""


class Picture(NamedTuple):
    """What stands above the tables of a page, drawn where it belongs, and its height."""

    items: tuple[Primitive, ...]
    height_mm: float


NO_PICTURE: Final = Picture((), 0.0)
Lines = tuple[tuple[tuple[str, ...], ...], ...]  # of a band: per row, per column, its lines


class _Sheets:
    """Puts tables on pages, lane by lane; what stands together is not torn apart."""

    def __init__(self, title: str, setting: Setting, lanes: int, picture: Picture) -> None:
        self._title, self._setting, self._lanes = title, setting, lanes
        self.width_mm = (WIDTH_MM - 2 * MARGIN_MM - (lanes - 1) * GUTTER_MM) / lanes
        self.pages: list[Page] = []
        self._items: list[Primitive] = []
        self._lane, self._y = lanes, BOTTOM_MM
        self._picture = picture

    @property
    def _left(self) -> float:
        return MARGIN_MM + self._lane * (self.width_mm + GUTTER_MM)

    def close(self) -> None:
        """Finish the page that is being filled."""
        if self._items:
            self.pages.append(Page(self._title, WIDTH_MM, HEIGHT_MM, tuple(self._items)))
        self._items = []

    def _turn(self) -> None:
        """Go on in the next lane, or on the next page."""
        self._lane += 1
        if self._lane >= self._lanes:
            self.close()
            self._items = frame(self._title, self._setting, len(self.pages) + 1)
            self._items += [] if self.pages else self._picture.items
            self._lane = 0
        self._y = TOP_MM + (0.0 if self.pages else self._picture.height_mm)

    @property
    def _is_under_picture(self) -> bool:
        return not self.pages and self._picture.height_mm > 0

    def put(self, table: Printed) -> None:
        """Print a table after what stands there already."""
        head = self._headings(table)
        shown: str | None = None
        for row in table.rows:
            lines = _lines(row, table)
            remark = self._remark(row, table)
            height = (_depth(lines) + len(remark)) * table.size * LEADING + ROW_MM
            group = table.group(row)
            over = self._group(group, table.size) if shown != group else ()
            above = len(over) * (table.size * LEADING + GROUP_MM)
            above += head[1] if shown is None else 0.0
            if self._y + above + height > BOTTOM_MM:
                begun = head[1] + len(self._group(group, table.size)) * (
                    table.size * LEADING + GROUP_MM
                )
                self._turn()
                while self._y + begun + height > BOTTOM_MM and self._is_under_picture:
                    self._turn()  # too little room below the picture
                shown = None
            if shown is None:
                self._add(head)
                head = self._headings(table._replace(note=""))  # it has been read
                over = self._group(group, table.size)
            for line in over:
                self._write(line, table.size)
            shown = group
            self._band(lines, remark, table, height)
        self._y += 3.0

    def _remark(self, row: Any, table: Printed) -> tuple[str, ...]:
        text = table.remark(row)
        return wrapped(text, self.width_mm - INDENT_MM, table.size) if text else ()

    def _group(self, text: str, size: float) -> tuple[str, ...]:
        return wrapped(text, self.width_mm, size, bold=True) if text else ()

    def _write(self, line: str, size: float) -> None:
        self._y += size * LEADING + GROUP_MM
        self._items.append(Text(self._left, self._y - 1.1, line, size, INK, True))

    def _add(self, head: tuple[list[Primitive], float]) -> None:
        self._items += [moved(item, self._left, self._y, 1.0) for item in head[0]]
        self._y += head[1]

    def _headings(self, table: Printed) -> tuple[list[Primitive], float]:
        """Return caption, note and headings from their top left corner, and their height."""
        items: list[Primitive] = []
        y = 0.0
        if table.caption:
            items.append(Text(0, 4.2, table.caption, 3.6, INK, True))
            y += 5.6
        for line in wrapped(table.note, self.width_mm, 2.6) if table.note else ():
            items.append(Text(0, y + 2.6, line, 2.6, QUIET))
            y += 3.4
        deepest = 1
        x = 0.0
        for column in table.columns:
            lines = wrapped(column.heading, column.width_mm - GAP_MM, 2.5)
            deepest = max(deepest, len(lines))
            for i, line in enumerate(lines):
                at, anchor = _set(column, x)
                items.append(Text(at, y + 2.5 + i * 3.0, line, 2.5, QUIET, False, anchor))
            x += column.width_mm
        y += deepest * 3.0 + 1.2
        items.append(Line(((0, y), (self.width_mm, y)), INK, 0.2))
        return items, y + 1.0

    def _band(self, lines: Lines, remark: tuple[str, ...], table: Printed, height: float) -> None:
        leading = table.size * LEADING
        y = self._y + table.size
        for row in lines:
            x = self._left
            for cell, column in zip(row, table.columns, strict=True):
                at, anchor = _set(column, x)
                for i, line in enumerate(cell):
                    base = y + i * leading
                    words = Text(at, base, line, table.size, INK, column.bold, anchor)
                    self._items.append(words)
                x += column.width_mm
            y += max(map(len, row)) * leading
        for line in remark:
            self._items.append(Text(self._left + INDENT_MM, y, line, table.size, QUIET))
            y += leading
        self._y += height
        low = self._y - 0.2
        self._items.append(Line(((self._left, low), (self._left + self.width_mm, low)), RULE, 0.1))


def _set(column: Column, x: float) -> tuple[float, Anchor]:
    """Return where the text of a column stands that begins at ``x``."""
    return (x + column.width_mm - GAP_MM, "end") if column.right else (x, "start")


def _lines(row: Any, table: Printed) -> Lines:
    together = row if isinstance(row, list) else [row]
    return tuple(
        tuple(
            wrapped(column.cell(one), column.width_mm - GAP_MM, table.size, bold=column.bold)
            for column in table.columns
        )
        for one in together
    )


def _depth(lines: Lines) -> int:
    return sum(max(map(len, row)) for row in lines)


def paginate(
    title: str,
    tables: Sequence[Printed],
    setting: Setting,
    *,
    lanes: int = 1,
    picture: Picture = NO_PICTURE,
) -> list[Page]:
    """Return tables one after another over pages; no cell is cut off, long ones wrap.

    Args:
        lanes: columns of text on a page, that fill one after the other.
        picture: what stands over them on the first page.
    """
    sheets = _Sheets(title, setting, lanes, picture)
    for table in tables:
        sheets.put(table)
    sheets.close()
    return sheets.pages


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
