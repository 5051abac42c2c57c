"""Where a figure comes from."""

from typing import NamedTuple

__all__ = ["OUR_CHOICE", "NotInTableError", "Source"]


class Source(NamedTuple):
    """A published document and the place in it.

    ``note`` says how the value reached us when it was not read off the document itself.
    """

    document: str
    place: str = ""
    note: str = ""

    def __str__(self) -> str:
        text = f"{self.document}, {self.place}" if self.place else self.document
        return f"{text} ({self.note})" if self.note else text


OUR_CHOICE = Source("our choice")


class NotInTableError(LookupError, ValueError):
    """A value asked for that the table does not print; standards are not interpolated."""

    def __init__(self, source: Source, key: object) -> None:
        super().__init__(f"{source} has no row for {key}")
        self.source, self.key = source, key
