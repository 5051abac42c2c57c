"""What is decided of an open order for good, and kept in its log: nothing undoes past it."""

import datetime
from collections.abc import Mapping
from typing import Literal

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QInputDialog, QWidget

from vivid_loom.bench.record import issue_words
from vivid_loom.desktop.widgets.plain import plain
from vivid_loom.desktop.work.aside import aside
from vivid_loom.desktop.work.session import Session
from vivid_loom.drafting.after.landings import landings_of
from vivid_loom.opening import keep_issue, open_log
from vivid_loom.order import (
    Edit,
    OrderState,
    Revision,
    StatedReason,
    Stop,
    issue_revision,
    set_state,
    stop_work,
    take_up_work,
    withdraw_revision,
)
from vivid_loom.quantities import one_line
from vivid_loom.sheets.packet import sheets_digest
from vivid_loom.sheets.proof import standing_errors

__all__ = ["Decisions"]

LOGGED = " The log keeps the reason."


class Decisions(QObject):
    """Issues and withdraws revisions, stops work and goes on with it, opens a record again.

    Attributes:
        initials: of who decides.

    Signals:
        said (str): what was decided, or why it was not.
    """

    said = Signal(str)

    def __init__(self, session: Session, asks_over: QWidget) -> None:
        super().__init__(asks_over)
        self.session, self._over, self.initials = session, asks_over, ""

    def issue(self, about: str, initials: str) -> None:
        """Issue a revision of the sheets as they stand."""
        order, draft = self.session.order, self.session.draft
        if self.session.locked_by:
            self.said.emit(f"Not issued: {self.session.locked_by} edits the order.")
            return
        errors = aside(lambda: standing_errors(draft))
        if errors:
            self.said.emit(
                f"Not issued: {errors} error{'s' * (errors > 1)} of rules or proofs nobody answers "
                "for. Packet lists them; clear them, or let two people accept them."
            )
            return
        revision = Revision(
            number=order.revision,
            date=datetime.date.today().isoformat(),
            initials=initials,
            text=about,
            digest=sheets_digest(self.session.draft),
        )
        if not self.session.apply(issue_revision(revision, landings_of(draft))):
            return
        try:
            kept = keep_issue(self.session.path, self.session.order)
            what = issue_words(self.session.draft, revision, kept)
            self._log("issued", initials, what)
        except OSError as error:
            self.session.take_back()
            self.said.emit(f"Not issued: {error}")
            return
        self.session.settle()
        waiting = len(what["open"])
        left = f" Wishes without an answer: {waiting}." if waiting else ""
        how = "logged and kept" if kept else "logged for practice: the order is shipped"
        self.said.emit(f"Revision {revision.number} is issued, {how}.{left}")

    def _log(self, kind: str, initials: str, what: Mapping[str, object]) -> None:
        """Add a record to the order's log.

        Raises:
            LogError: it cannot be written.
        """
        draft = self.session.draft
        open_log(self.session.path).append(
            kind, initials, what, revision=sheets_digest(draft), hull=draft.aboard.order.hull
        )

    def ask_withdrawal(self) -> None:
        """Ask why nobody may build any more by the last revision."""
        revisions = self.session.order.revisions
        standing = [one.number for one in revisions if not one.withdrawn]
        if not standing or standing[-1] != revisions[-1].number:
            self.said.emit("No revision stands that could be withdrawn.")
        elif why := self._asked(f"Withdraw revision {standing[-1]}", "Why may nobody build by it?"):
            told = {"number": standing[-1], "reason": why.text}
            if self._decided(withdraw_revision(standing[-1], why), "withdrawn", told):
                self.said.emit(f"Revision {standing[-1]} is withdrawn. Collect its sheets.")

    def ask_stop(self, kind: Literal["on hold", "dropped"]) -> None:
        """Ask why no work is to be done on the order."""
        title = "Drop the order" if kind == "dropped" else "Put the order on hold"
        if why := self._asked(title, f"Why is it {kind}? Its sheets say so on every page."):
            told = {"how": kind, "reason": why.text}
            if self._decided(stop_work(Stop(kind=kind, why=why)), "stopped", told):
                self.said.emit(f"The order is {kind}: nothing is changed, built or recorded.")

    def ask_to_go_on(self) -> None:
        """Ask why the order is taken up again."""
        why = self._asked("Take the order up again", "Why does work go on?")
        if why and self._decided(take_up_work(), "taken up", {"reason": why.text}):
            self.said.emit("Work on the order goes on.")

    def _asked(self, title: str, question: str) -> StatedReason | None:
        """Ask for a reason; None where nobody gives one, or nobody said who he is."""
        if not self.initials:
            self.said.emit("Who decides? Put initials into their field, beside Issue.")
            return None
        text, ok = QInputDialog.getText(self._over, plain(title), plain(question + LOGGED))
        today = datetime.date.today().isoformat()
        reason = one_line(text).strip()
        return (
            StatedReason(text=reason, initials=self.initials, date=today) if ok and reason else None
        )

    def _decided(self, edit: Edit, kind: str, what: Mapping[str, object]) -> bool:
        """Make an edit and its record; neither stands without the other."""
        if self.session.locked_by:
            self.said.emit(f"Not decided: {self.session.locked_by} edits the order.")
            return False
        if not self.session.apply(edit, correcting=True):
            return False
        try:
            self._log(kind, self.initials, what)
        except OSError as error:
            self.session.take_back()
            self.said.emit(f"Not decided: {error}")
            return False
        self.session.settle()
        return True

    def ask_correction(self, state: OrderState) -> None:
        """Ask why the record of a boat that is handed over is opened again."""
        words = "The boat is handed over. Why is its record opened again?"
        why = self._asked("Correct the record", words)
        told = {"state": state, "reason": why.text} if why else {}
        if why and self._decided(set_state(state), "reopened", told):
            self.said.emit(f"The order is {state.replace('_', ' ')} again; the log says why.")
