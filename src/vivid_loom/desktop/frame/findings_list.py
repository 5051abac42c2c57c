"""All findings of the order: filter them, jump to their place, answer for them."""

import datetime
from collections.abc import Iterator

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.desktop.widgets.controls import button
from vivid_loom.drafting import Draft, Finding
from vivid_loom.drafting.rules.fixes import fix_of
from vivid_loom.order import Acceptance, accept_finding, reopen_finding

__all__ = ["FindingsList"]

SHOWN = ("all", "error", "judge", "note", "accepted")


class FindingsList(QDialog):
    """Signals:

    finding_chosen (str): its first subject.
    edit_made (object): an ``Edit`` that fixes a finding, accepts it or opens it again.
    """

    finding_chosen = Signal(str)
    edit_made = Signal(object)

    def __init__(self, draft: Draft, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Findings")
        self.resize(800, 520)
        self._draft = draft
        self.search, self.shown, self.list = QLineEdit(), QComboBox(), QListWidget()
        self.search.setPlaceholderText("Filter: code, circuit, load, word")
        self.search.setAccessibleName("Filter findings")
        self.shown.addItems(list(SHOWN))
        self.shown.setAccessibleName("Which findings")
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.remedy = QLabel()
        self.remedy.setWordWrap(True)
        self.reason, self.initials = QLineEdit(), QLineEdit()
        self.reason.setPlaceholderText("Why it may stay as it is")
        self.reason.setAccessibleName("Reason")
        self.initials.setPlaceholderText("Initials")
        self.initials.setAccessibleName("Initials")
        self.initials.setFixedWidth(80)
        self.fix = button("Fix", self._fix, "One edit that clears the finding; undo takes it back")
        self.answer = button("Accept", self._accept_or_open, "Kept in the order and printed")
        top, bottom = QHBoxLayout(), QHBoxLayout()
        top.addWidget(self.search, 1)
        top.addWidget(self.shown)
        for widget in (self.fix, self.reason, self.initials, self.answer):
            bottom.addWidget(widget, 1 if widget is self.reason else 0)
        layout = QVBoxLayout(self)
        layout.addLayout(top)
        layout.addWidget(self.list, 1)
        layout.addWidget(self.remedy)
        layout.addLayout(bottom)
        self.search.textChanged.connect(lambda _: self._fill())
        self.shown.currentIndexChanged.connect(lambda _: self._fill())
        self.list.currentItemChanged.connect(lambda *_: self._explain())
        self.list.itemActivated.connect(self._choose)
        self._fill()
        self.list.setFocus()

    def show_draft(self, draft: Draft) -> None:
        """Show the findings of a new draft."""
        self._draft = draft
        self._fill()

    def _matching(self) -> Iterator[tuple[Finding, Acceptance | None]]:
        words = self.search.text().lower().split()
        wanted = self.shown.currentText()
        open_ones: list[tuple[Finding, Acceptance | None]] = [
            (f, None) for f in self._draft.findings
        ]
        for finding, answer in (*open_ones, *self._draft.accepted):
            kind = "accepted" if answer else finding.severity
            text = f"{finding.code} {finding.severity} {finding.sentence()}"
            text = f"{text} {' '.join(finding.subjects)}".lower()
            if wanted in ("all", kind) and all(word in text for word in words):
                yield finding, answer

    def _fill(self) -> None:
        row = self.list.currentRow()
        self.list.clear()
        for finding, answer in self._matching():
            told = f"   accepted by {answer.initials}: {answer.reason}" if answer else ""
            text = f"{finding.severity}  {finding.code}  {finding.sentence()}{told}"
            item = QListWidgetItem(text)
            item.setData(Qt.ItemDataRole.UserRole, (finding, answer))
            self.list.addItem(item)
        self.list.setCurrentRow(min(max(0, row), self.list.count() - 1))
        self._explain()

    def _current(self) -> tuple[Finding, Acceptance | None] | None:
        item = self.list.currentItem()
        return tuple(item.data(Qt.ItemDataRole.UserRole)) if item else None

    def _explain(self) -> None:
        current = self._current()
        self.answer.setEnabled(current is not None)
        if current is None:
            self.remedy.setText("No finding matches.")
            self.fix.setEnabled(False)
            return
        finding, answer = current
        kind = finding.kind
        edit = None if answer else fix_of(finding, self._draft)
        self.fix.setEnabled(edit is not None)
        self.fix.setText(f"Fix: {edit[0]}" if edit else "No fix by one edit")
        self.answer.setText("Open again" if answer else "Accept")
        for field in (self.reason, self.initials):
            field.setEnabled(answer is None)
        self.remedy.setText(f"{kind.remedy}   Source: {kind.source}.   Enter jumps there.")

    def _fix(self) -> None:
        current = self._current()
        edit = fix_of(current[0], self._draft) if current else None
        if edit:
            self.edit_made.emit(edit)

    def _accept_or_open(self) -> None:
        current = self._current()
        if current is None:
            return
        finding, answer = current
        if answer:
            self.edit_made.emit(reopen_finding(finding.code, finding.subjects))
            return
        reason, initials = self.reason.text().strip(), self.initials.text().strip()
        if not reason or not initials:
            self.remedy.setText("Accepting a finding wants a reason and initials.")
            return
        self.reason.clear()
        self.edit_made.emit(
            accept_finding(
                Acceptance(
                    code=finding.code,
                    subjects=finding.subjects,
                    sentence=finding.sentence(),
                    reason=reason,
                    initials=initials,
                    date=datetime.date.today().isoformat(),
                )
            )
        )

    def _choose(self, item: QListWidgetItem) -> None:
        finding, _ = item.data(Qt.ItemDataRole.UserRole)
        self.finding_chosen.emit(finding.subjects[0])
        self.accept()
