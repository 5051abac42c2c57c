"""The open order's log as the stage writes it: who, when, against which sheets."""

import datetime
import re
from collections.abc import Callable, Mapping
from typing import Any, Final

from PySide6.QtCore import QObject, Signal

from vivid_loom.bench.logbook import BY_HAND, Logbook, LogError
from vivid_loom.bench.record import Record
from vivid_loom.desktop.work.session import TAKE_UP, Session
from vivid_loom.opening import open_log, practice_log
from vivid_loom.sheets.packet import sheets_digest

__all__ = ["PRACTISING", "BenchBook"]

PRACTISING: Final = "A stand-in is connected: this is practice. Disconnect it for the boat's own."


class BenchBook(QObject):
    """What stands in the log of the session's order, and how a record is added.

    Attributes:
        practises: a stand-in is connected: what is done counts for practice and nothing else.
        meter: number of the meter in the hand, and until when it is calibrated.

    Signals:
        written: a record was added, or another log was opened.
        said (str): why none could be.
    """

    written = Signal()
    said = Signal(str)

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._digest: tuple[object, str] = (None, "")
        self.log: Logbook | None = None
        self.practises = False
        self.meter = ""
        self.record = Record(())
        self.open()

    @property
    def who(self) -> str:
        """Initials of whoever is at the bench."""
        return self._session.who

    def open(self) -> None:
        """Open the log of the order that stands."""
        self._path = self._session.path
        try:
            self.log = (practice_log if self.practises else open_log)(self._path)
        except (LogError, OSError) as error:
            self.log = None
            self.said.emit(f"The log cannot be read: {error}")
        self.record = self._read()
        self.written.emit()

    def _read(self) -> Record:
        return Record.of(self.log, self._session.order.hull) if self.log else Record(())

    def practise(self, practises: bool) -> None:
        """Go over to the log of practice, which proves nothing, or back to the boat's own."""
        if practises != self.practises:
            self.practises = practises
            self.open()

    @property
    def digest(self) -> str:
        """The digest of the sheets as they stand."""
        draft = self._session.draft
        if self._digest[0] is not draft:
            self._digest = (draft, sheets_digest(draft))
        return self._digest[1]

    def by_hand(self) -> str:
        """Return what a reading typed by hand was read with; '' where that has to be said first."""
        if self.log is not None and self.log.is_practice:
            return BY_HAND
        if not self.meter:
            return ""
        told = re.search(r"\d{4}-\d\d-\d\d", self.meter)
        over = told is not None and told[0] < datetime.date.today().isoformat()
        return f"{BY_HAND}, {self.meter}{', calibration OVERDUE' if over else ''}"

    def add(self, kind: str, what: Mapping[str, Any], instrument: str = BY_HAND) -> bool:
        """Add a record; tell whether it is on disk."""
        digest, hull = self.digest, self._session.order.hull
        return self._write(
            lambda log: log.append(
                kind, self.who, what, revision=digest, hull=hull, instrument=instrument
            )
        )

    def begin_anew(self, reason: str) -> bool:
        """Begin a log that is not as it was written again; tell whether that is on disk."""
        hull = self._session.order.hull
        return self._write(lambda log: log.begin_anew(self.who, reason, hull=hull))

    def _write(self, write: Callable[[Logbook], object]) -> bool:
        if not self.who:
            self.said.emit("Who is there? Put your initials into their field first.")
            return False
        if self._session.path != self._path:  # saved under another name
            self.open()
        if (stop := self._session.order.stop) and not self.practises:
            self.said.emit(f"Not recorded: the order is {stop.kind}. {TAKE_UP}")
            return False
        if self.log is None:
            self.said.emit("The log cannot be read, so nothing can be added to it.")
            return False
        try:
            write(self.log)
        except LogError as error:
            self.said.emit(f"Not recorded: {error}")
            return False
        self.record = self._read()
        self.written.emit()
        return True
