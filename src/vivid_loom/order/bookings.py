"""Booking what was cut: the shelf is changed by one at a time, and by each plan once."""

import csv
import datetime
import io
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Final, NamedTuple

from filelock import FileLock, Timeout

from vivid_loom.order.csv_rows import csv_rows
from vivid_loom.order.journal import digest_of
from vivid_loom.order.spools import SPOOL_FILE, Spool, read_spools, spools_text
from vivid_loom.quantities.atomic import clear_leftovers, write_atomically
from vivid_loom.quantities.document import DocumentError

__all__ = ["BOOKINGS_FILE", "Booking", "booking"]

BOOKINGS_FILE: Final = "spools-booked.csv"
_PATIENCE_S: Final = 120.0
_COLUMNS: Final = ("plan", "orders", "when", "before")


class _Booked(NamedTuple):
    """A line of what was booked.

    Attributes:
        plan: digest of what was cut.
        before: digest of the shelf until then: where that still stands, it never came about.
    """

    plan: str
    orders: str
    when: str
    before: str


class Booking:
    """The shelf of one folder while nobody else changes it.

    Attributes:
        spools: what lies there.
    """

    def __init__(self, folder: Path) -> None:
        """Read the shelf.

        Raises:
            DocumentError: a file that cannot be taken.
        """
        self.path, self._booked_path = folder / SPOOL_FILE, folder / BOOKINGS_FILE
        for file in (self.path, self._booked_path):
            clear_leftovers(file)
        self.spools = read_spools(self.path)

    def book(self, plan: str, orders: str, left: Iterable[Spool]) -> None:
        """Put what is left in the place of what lay there.

        Args:
            plan: what was cut, in words that are the same for the same cuts.
            orders: for people.

        Raises:
            DocumentError: these cuts are booked already; nothing is changed.
            OSError: a file cannot be written; nothing is changed.
        """
        digest, text = digest_of(plan), spools_text(left)
        before = digest_of(spools_text(self.spools))
        booked = [line for line in self._booked() if line.before != before]
        if again := next((line for line in booked if line.plan == digest), None):
            raise DocumentError(
                self.path,
                "",
                f"found these cuts booked already, on {again.when} for {again.orders}; expected "
                "each to be booked once",
            )
        now = datetime.datetime.now().isoformat(" ", "seconds")
        booked.append(_Booked(digest, orders, now, before))
        stream = io.StringIO()
        writer = csv.writer(stream, lineterminator="\n")
        writer.writerows((_COLUMNS, *booked))
        write_atomically(self._booked_path, stream.getvalue().encode())
        write_atomically(self.path, text.encode())

    def _booked(self) -> Iterator[_Booked]:
        if self._booked_path.exists():
            for _, row in csv_rows(self._booked_path, _COLUMNS, _COLUMNS):
                yield _Booked(*(row[name] for name in _COLUMNS))


@contextmanager
def booking(folder: Path) -> Iterator[Booking]:
    """Hold the shelf of a folder; others wait.

    Raises:
        DocumentError: somebody else holds it too long, or a file cannot be taken.
        OSError: the folder cannot be written to.
    """
    lock = FileLock(folder / f".{SPOOL_FILE}.lock")
    try:
        lock.acquire(timeout=_PATIENCE_S)
    except Timeout as error:
        told = f"is being booked by somebody else for more than {_PATIENCE_S:g} s"
        raise DocumentError(folder / SPOOL_FILE, "", told) from error
    try:
        yield Booking(folder)
    finally:
        lock.release()
