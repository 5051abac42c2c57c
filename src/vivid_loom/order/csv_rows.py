"""Rows of a CSV file that people keep beside an order."""

import csv
import io
from collections.abc import Iterator, Sequence
from pathlib import Path

from vivid_loom.quantities.document import DocumentError

__all__ = ["csv_rows"]


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
        text = path.read_text(encoding="utf-8-sig")
    except (OSError, UnicodeDecodeError) as error:
        raise DocumentError(path, "", f"cannot be read as UTF-8: {error}") from error
    reader = csv.DictReader(io.StringIO(text), restval="")
    if not set(needed) <= set(reader.fieldnames or ()):
        found = ", ".join(reader.fieldnames or ()) or "nothing"
        raise DocumentError(path, "line 1", f"found {found}, expected {', '.join(known)}")
    try:
        for row in reader:
            yield reader.line_num, {name: (row.get(name) or "").strip() for name in known}
    except csv.Error as error:
        raise DocumentError(path, f"line {reader.line_num}", f"is no CSV: {error}") from error
