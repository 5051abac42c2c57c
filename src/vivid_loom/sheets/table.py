"""A sheet's table before it becomes CSV, PDF or a screen."""

from typing import NamedTuple

__all__ = ["Table"]


class Table(NamedTuple):
    """Rows of plain values under fixed column names.

    Attributes:
        name: file name without ending.
        title: as printed.
    """

    name: str
    title: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
