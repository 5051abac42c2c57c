"""Spreadsheets and pasted cells as rows of text, within limits: a sheet that somebody sends may be
far larger than it looks.
"""

import csv
import io
import re
import zipfile
from pathlib import Path
from typing import Any, Final, NamedTuple

from vivid_loom.quantities.document import DocumentError

__all__ = ["GridError", "Row", "grid_of_file", "grid_of_text"]

UNSAVED_FORMULA = "formula without a saved result"
MOST_BYTES: Final = 8_000_000  # of a file, and of each part of a workbook once it is unpacked
MOST_ROWS: Final = 20_000
MOST_COLUMNS: Final = 200
LONGEST_CELL: Final = 32_767  # as spreadsheets have it
MOST_MERGED: Final = 20_000  # cells in one
TAG: Final = re.compile(rb"<[^<>]{1,300}>")
MERGED: Final = re.compile(rb"[A-Z]{1,4}\d{1,9}:[A-Z]{1,4}\d{1,9}")
CORNER: Final = re.compile(rb"([A-Z]+)(\d+)")


class GridError(ValueError):
    """What is no table, or too large for a list of loads; ``place`` says where."""

    def __init__(self, place: str, problem: str) -> None:
        super().__init__(f"{place}: {problem}" if place else problem)
        self.place, self.problem = place, problem


class Row(NamedTuple):
    """One row: its number as the spreadsheet counts, and its cells as text."""

    number: int
    cells: tuple[str, ...]


def _delimiter(text: str) -> str:
    """Return what separates cells: the sign that is on most lines, a tab before others."""
    lines = [line for line in text.splitlines() if line.strip()][:40]
    return max("\t;,|", key=lambda sign: (sum(sign in line for line in lines), sign == "\t"))


def grid_of_text(text: str) -> tuple[Row, ...]:
    """Return the rows of pasted or CSV text; the separator is recognised.

    Raises:
        GridError: more than a list holds.
    """
    if len(text) > MOST_BYTES:
        raise GridError("", f"found {len(text)} letters, expected at most {MOST_BYTES}")
    separator = _delimiter(text)
    lines = text.lstrip("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    reader = csv.reader(io.StringIO(lines), delimiter=separator)
    rows: list[Row] = []
    try:
        for number, row in enumerate(reader, start=1):
            rows.append(Row(number, tuple(cell.strip() for cell in row)))
            _check(number, len(row), max(map(len, row), default=0))
    except csv.Error as error:
        raise GridError(f"line {reader.line_num}", f"found no readable table ({error})") from error
    return tuple(rows)


def _check(row: int, columns: int, longest: int) -> None:
    """Refuse what no list of loads has.

    Raises:
        GridError: it is too long, too wide, or a cell holds too much.
    """
    place = f"row {row}"
    if row > MOST_ROWS:
        raise GridError(place, f"found a cell there, expected at most {MOST_ROWS} rows")
    if columns > MOST_COLUMNS:
        told = f"found {columns} columns, expected at most {MOST_COLUMNS}"
        raise GridError(place, told)
    if longest > LONGEST_CELL:
        told = f"found a cell of {longest} letters, expected at most {LONGEST_CELL}"
        raise GridError(place, told)


def _text(value: Any, formula: Any) -> str:
    if value is None:
        asked = isinstance(formula, str) and formula.startswith("=")
        return f"{formula} ({UNSAVED_FORMULA})" if asked else ""
    if isinstance(value, float):
        return f"{value:.10g}"
    return str(value).strip()


def _check_merged(name: str, sheet: bytes) -> None:
    """Refuse merged cells that fill a sheet: what reads the workbook makes every one of them.

    Raises:
        GridError: they are more than a list of loads has.
    """
    tags = (tag for tag in TAG.findall(sheet) if b"mergeCell" in tag)
    for ref in (ref for tag in tags for ref in MERGED.findall(tag)):
        (left, top), (right, bottom) = (
            (_column(letters), int(digits)) for letters, digits in CORNER.findall(ref)
        )
        count = (abs(right - left) + 1) * (abs(bottom - top) + 1)
        if count > MOST_MERGED:
            told = f"found {count} cells merged at {ref.decode()}, expected at most {MOST_MERGED}"
            raise GridError(name, told)


def _column(letters: bytes) -> int:
    number = 0
    for letter in letters:
        number = 26 * number + letter - 64
    return number


def _workbook(path: Path) -> tuple[Row, ...]:
    from openpyxl import load_workbook  # slow to load, and most days no workbook is read

    with zipfile.ZipFile(path) as parts:
        for part in parts.infolist():
            if part.file_size > MOST_BYTES:
                told = f"found {part.file_size} bytes once it is unpacked, expected at most "
                raise GridError(part.filename, f"{told}{MOST_BYTES}")
            if part.filename.startswith("xl/worksheets/"):
                _check_merged(part.filename, parts.read(part))
    values = load_workbook(path, data_only=True).worksheets[0]
    formulas = load_workbook(path, data_only=False).worksheets[0]
    # the cells there are: a walk over all rows and columns makes those that are not
    known: dict[tuple[int, int], Any] = values._cells
    asked: dict[tuple[int, int], Any] = formulas._cells
    cells: dict[tuple[int, int], str] = {}
    for at, cell in known.items():
        beside = asked.get(at)
        text = _text(cell.value, beside.value if beside is not None else None)
        if text:
            _check(at[0], at[1], len(text))
            cells[at] = text
    height = max((row for row, _ in cells), default=0)
    width = max((column for _, column in cells), default=0)
    for merged in values.merged_cells.ranges:  # a merged cell says its text in all its places
        first = cells.get((merged.min_row, merged.min_col), "")
        for row in range(merged.min_row, min(merged.max_row, height) + 1):
            for column in range(merged.min_col, min(merged.max_col, width) + 1):
                cells[row, column] = first
    columns = range(1, width + 1)
    return tuple(
        Row(row, tuple(cells.get((row, column), "") for column in columns))
        for row in range(1, height + 1)
    )


def grid_of_file(path: Path) -> tuple[Row, ...]:
    """Read a CSV or XLSX file; of a workbook, its first sheet.

    Raises:
        DocumentError: the file cannot be read, or holds more than a list does.
    """
    try:
        if path.suffix.lower() in (".xlsx", ".xlsm"):
            return _workbook(path)
        size = path.stat().st_size
        if size > MOST_BYTES:
            raise GridError("", f"found {size} bytes, expected at most {MOST_BYTES}")
        data = path.read_bytes()
    except OSError as error:
        raise DocumentError(path, "", f"cannot be read: {error.strerror}") from error
    except GridError as error:
        raise DocumentError(path, error.place, error.problem) from error
    except Exception as error:  # openpyxl raises whatever zip, XML and its own checks raise
        raise DocumentError(path, "", f"found no readable workbook ({error})") from error
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("cp1252", errors="replace")
    try:
        return grid_of_text(text)
    except GridError as error:
        raise DocumentError(path, error.place, error.problem) from error
