"""Rows of a CSV file that people keep beside an order."""

import csv
import io
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

from vivid_loom.quantities import LimitError, one_line
from vivid_loom.quantities.document import DocumentError
from vivid_loom.quantities.grid import MOST_BYTES

__all__ = ["csv_rows", "limits_told"]


def _one_line(cell: str) -> str:
    """Return a cell whose line breaks and tabs are blanks, as people put them there."""
    return cell.translate({9: " ", 10: " ", 13: " "}).strip()


@contextmanager
def limits_told(path: Path, line: int) -> Iterator[None]:
    """Tell a record that keeps not to its limits by the line it was read from.

    Raises:
        DocumentError: it does not.
    """
    try:
        yield
    except LimitError as error:
        place = f"line {line}, {error.field}" if error.field else f"line {line}"
        found = one_line(repr(error.found))
        raise DocumentError(path, place, f"found {found}, expected {error.expected}") from error


def csv_rows(
    path: Path, needed: Sequence[str], known: Sequence[str]
) -> Iterator[tuple[int, dict[str, str]]]:
    """Yield (line, cells by column) of a CSV file in UTF-8; cells that are missing are ''.

    Args:
        needed: columns without which it is not taken.
        known: all columns that are read.

    Raises:
        DocumentError: a file that cannot be read, or lacks a column.
    """
    try:
        if path.stat().st_size > MOST_BYTES:
            raise DocumentError(path, "", f"is larger than {MOST_BYTES} bytes, expected a list")
        text = path.read_text(encoding="utf-8-sig")
    except (OSError, UnicodeDecodeError) as error:
        raise DocumentError(path, "", f"cannot be read as UTF-8: {error}") from error
    reader = csv.DictReader(io.StringIO(text), restval="")
    try:
        columns = tuple(reader.fieldnames or ())
    except csv.Error as error:
        raise DocumentError(path, "line 1", f"is no CSV: {error}") from error
    if not set(needed) <= set(columns):
        found = ", ".join(columns) or "nothing"
        raise DocumentError(path, "line 1", f"found {found}, expected {', '.join(known)}")
    try:
        for row in reader:
            cells = {name: _one_line(row.get(name) or "") for name in known}
            odd = next((n for n, text in cells.items() if one_line(text, len(text)) != text), "")
            if odd:
                told = f"found {one_line(repr(cells[odd]))}, expected one line of plain text"
                raise DocumentError(path, f"line {reader.line_num}, {odd}", told)
            yield reader.line_num, cells
    except csv.Error as error:
        raise DocumentError(path, f"line {reader.line_num}", f"is no CSV: {error}") from error
