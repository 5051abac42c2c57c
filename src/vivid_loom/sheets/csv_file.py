"""CSV backend. Text from files stays data: no cell can start a formula."""

import csv
import io
from typing import Any

from vivid_loom.quantities import one_line
from vivid_loom.sheets.table import Table

__all__ = ["csv_bytes", "neutral"]


def neutral(cell: str) -> str:
    """Return the cell on one line, so that no spreadsheet takes it for a formula."""
    clean = one_line(cell, longest=len(cell))
    return f"'{clean}" if clean.lstrip()[:1] in ("=", "+", "-", "@") else clean


def csv_bytes(table: Table[Any]) -> bytes:
    """Return UTF-8 CSV with a heading line."""
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\n")
    writer.writerow(table.columns)
    writer.writerows([neutral(cell) for cell in row] for row in table.rows)
    return stream.getvalue().encode()
