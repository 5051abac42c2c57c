"""A sheet's table before it becomes CSV, PDF or a screen."""

from collections.abc import Sequence
from typing import Any, Generic, NamedTuple, TypeVar

__all__ = ["Table"]

R = TypeVar("R", bound=Sequence[str], covariant=True)


class Table(NamedTuple, Generic[R]):
    """Rows of plain values, each a record whose fields are the columns.

    Attributes:
        name: file name without ending.
        title: as printed.
        record: of a row; a field that Python keeps for itself ends in an underscore.
    """

    name: str
    title: str
    record: Any
    rows: tuple[R, ...]

    @property
    def columns(self) -> tuple[str, ...]:
        """Names of the columns, in their fixed order."""
        return tuple(field.removesuffix("_") for field in self.record._fields)
