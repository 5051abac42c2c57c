"""CSV backend. Text from files stays data: no cell can start a formula."""

import csv
import io
from collections.abc import Mapping
from typing import Any

from vivid_loom.quantities import one_line
from vivid_loom.sheets.paper.table import Table

__all__ = ["csv_bytes", "neutral"]


def neutral(cell: str) -> str:
    """Return the cell on one line, so that no spreadsheet takes it for a formula."""
    clean = one_line(cell, longest=len(cell))
    return f"'{clean}" if clean.lstrip()[:1] in ("=", "+", "-", "@") else clean


def csv_bytes(table: Table[Any], order: Mapping[str, str], *, mark: bool = False) -> bytes:
    """Return UTF-8 CSV with a heading line.

    Args:
        order: what every row ends with, so that sheets of several orders can be laid together.
        mark: begin with a byte order mark, which spreadsheets need to read ² and → aright.
    """
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\n")
    writer.writerow([*table.columns, *order])
    writer.writerows([neutral(cell) for cell in (*row, *order.values())] for row in table.rows)
    return stream.getvalue().encode("utf-8-sig" if mark else "utf-8")
