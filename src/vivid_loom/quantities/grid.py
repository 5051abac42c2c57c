"""Spreadsheets and pasted cells as rows of text."""

import csv
import io
from pathlib import Path
from typing import Any, NamedTuple

from vivid_loom.quantities.document import DocumentError

__all__ = ["Row", "grid_of_file", "grid_of_text"]

UNSAVED_FORMULA = "formula without a saved result"


class Row(NamedTuple):
    """One row: its number as the spreadsheet counts, and its cells as text."""

    number: int
    cells: tuple[str, ...]


def _delimiter(text: str) -> str:
    """Return what separates cells: the sign that is on most lines, a tab before others."""
    lines = [line for line in text.splitlines() if line.strip()][:40]
    return max("\t;,|", key=lambda sign: (sum(sign in line for line in lines), sign == "\t"))


def grid_of_text(text: str) -> tuple[Row, ...]:
    """Return the rows of pasted or CSV text; the separator is recognised."""
    separator = _delimiter(text)
    lines = text.lstrip("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    reader = csv.reader(io.StringIO(lines), delimiter=separator)
    return tuple(Row(i, tuple(c.strip() for c in row)) for i, row in enumerate(reader, start=1))


def _text(value: Any, formula: Any) -> str:
    if value is None:
        asked = isinstance(formula, str) and formula.startswith("=")
        return f"{formula} ({UNSAVED_FORMULA})" if asked else ""
    if isinstance(value, float):
        return f"{value:.10g}"
    return str(value).strip()


def _workbook(path: Path) -> tuple[Row, ...]:
    from openpyxl import load_workbook  # slow to load, and most days no workbook is read

    values = load_workbook(path, data_only=True).worksheets[0]
    formulas = load_workbook(path, data_only=False).worksheets[0]
    cells = {
        (cell.row, cell.column): _text(cell.value, formulas.cell(cell.row, cell.column).value)
        for line in values.iter_rows()
        for cell in line
    }
    for merged in values.merged_cells.ranges:  # a merged cell says its text in all its places
        first = cells.get((merged.min_row, merged.min_col), "")
        for row in range(merged.min_row, merged.max_row + 1):
            for column in range(merged.min_col, merged.max_col + 1):
                cells[row, column] = first
    return tuple(
        Row(row, tuple(cells.get((row, column), "") for column in range(1, values.max_column + 1)))
        for row in range(1, values.max_row + 1)
    )


def grid_of_file(path: Path) -> tuple[Row, ...]:
    """Read a CSV or XLSX file; of a workbook, its first sheet.

    Raises:
        DocumentError: the file cannot be read.
    """

    try:
        if path.suffix.lower() in (".xlsx", ".xlsm"):
            return _workbook(path)
        data = path.read_bytes()
    except OSError as error:
        raise DocumentError(path, "", f"cannot be read: {error.strerror}") from error
    except Exception as error:  # openpyxl raises whatever zip, XML and its own checks raise
        raise DocumentError(path, "", f"found no readable workbook ({error})") from error
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("cp1252", errors="replace")
    try:
        return grid_of_text(text)
    except csv.Error as error:  # a cell of more than 131 072 letters
        raise DocumentError(path, "", f"found no readable table ({error})") from error
