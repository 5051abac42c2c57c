"""Findings beside the stage, by severity and rule: jump to one, fix it, or accept it."""

import datetime
from collections import Counter
from collections.abc import Iterator
from itertools import groupby
from typing import NamedTuple

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QSize, Qt, Signal
from PySide6.QtGui import QFontMetrics, QKeySequence, QShortcut
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.desktop.widgets.controls import button, heading, small, typed
from vivid_loom.desktop.widgets.marks import mark_icon
from vivid_loom.desktop.widgets.plain import plain
from vivid_loom.desktop.widgets.theme import LIGHT, font
from vivid_loom.desktop.work.remedies import Remedies
from vivid_loom.drafting import Draft, Finding
from vivid_loom.drafting.rules.causes import grouped
from vivid_loom.order import Acceptance, accept_finding, reopen_finding
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.proof import Proven

__all__ = ["FindingsPane"]

SHOWN = ("all", "error", "judge", "note", "accepted")
WORDS = {"error": "Errors", "judge": "To judge", "note": "Notes", "accepted": "Accepted"}
OPEN_UP_TO = 12  # findings of one severity whose rules stand open at once
_ROLE = Qt.ItemDataRole.UserRole
MARGINS = 18  # px beside the words of a line
WRAPPED = int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignLeft)
Index = QModelIndex | QPersistentModelIndex


class Told(NamedTuple):
    """A finding, and the answer it was accepted with."""

    finding: Finding
    answer: Acceptance | None

    @property
    def severity(self) -> str:
        """How grave it stands: 'accepted' once somebody answers for it."""
        return "accepted" if self.answer else self.finding.severity

    def words(self) -> str:
        """Return it in words."""
        by = f"   accepted by {self.answer.signed}: {self.answer.reason}" if self.answer else ""
        return f"{self.finding.sentence()}{by}"


class _Group(NamedTuple):
    """A finding, and those shown that follow from it."""

    cause: Told
    follows: tuple[Told, ...] = ()

    @property
    def severity(self) -> str:
        """That of the gravest."""
        return min((t.severity for t in (self.cause, *self.follows)), key=SHOWN.index)


class _Wrapped(QStyledItemDelegate):
    """Gives every line of the tree the height its words need at the tree's width."""

    def __init__(self, tree: QTreeWidget) -> None:
        super().__init__(tree)
        self._tree = tree

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        depth, at = 1, index.parent()
        while at.isValid():
            depth, at = depth + 1, at.parent()
        wide = self._tree.viewport().width() - depth * self._tree.indentation() - MARGINS
        metrics = QFontMetrics(font(12, bold=depth == 1))
        box = metrics.boundingRect(0, 0, max(80, wide), 2000, WRAPPED, str(index.data()))
        return QSize(wide, box.height() + 6)


class FindingsPane(QWidget):
    """Signals:

    finding_chosen (str): its first subject.
    edit_made (object): an ``Edit`` that fixes a finding, accepts it or opens it again.
    closed: the pane is to go.
    """

    finding_chosen = Signal(str)
    edit_made = Signal(object)
    closed = Signal()

    def __init__(self, remedies: Remedies, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._remedies = remedies
        self.setFixedWidth(372)
        self.setAccessibleName("Findings")
        self._draft: Draft | None = None
        self._proofs: tuple[Draft | None, Proven] = (None, Proven((), ()))
        self._tones = LIGHT
        self.title = heading("Findings")
        self.search, self.shown, self.list = QLineEdit(), QComboBox(), QTreeWidget()
        self.search.setPlaceholderText("Filter: code, circuit, load, word")
        self.search.setAccessibleName("Filter findings")
        self.search.setClearButtonEnabled(True)
        self.shown.addItems(list(SHOWN))
        self.shown.setAccessibleName("Which findings")
        self.list.setHeaderHidden(True)
        self.list.setWordWrap(True)
        self.list.setItemDelegate(_Wrapped(self.list))
        self.list.setIndentation(14)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setAccessibleName("Findings by severity and rule")
        self.remedy = small("")
        self.reason, self.initials = QLineEdit(), QLineEdit()
        self.reason.setPlaceholderText("Why it may stay as it is")
        self.reason.setAccessibleName("Reason")
        self.initials.setPlaceholderText("Initials")
        self.initials.setAccessibleName("Initials")
        self.initials.setMaxLength(6)
        self.initials.setFixedWidth(70)
        self.second = QLineEdit()
        self.second.setPlaceholderText("Second")
        self.second.setAccessibleName("Second initials, for an error")
        self.second.setMaxLength(6)
        self.second.setFixedWidth(70)
        self.fix = button("Fix", self._fix, "One edit that clears the finding; undo takes it back")
        self.fix.setProperty("primary", True)
        self.answer = button("Accept", self._accept_or_open, "Kept in the order and printed")
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        head, top, bottom = QHBoxLayout(), QHBoxLayout(), QHBoxLayout()
        head.addWidget(self.title, 1)
        head.addWidget(button("Close", self.closed.emit, "Esc"))
        top.addWidget(self.search, 1)
        top.addWidget(self.shown)
        for widget in (self.initials, self.second, self.answer):
            bottom.addWidget(widget, 1 if widget is self.answer else 0)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 8, 10, 8)
        for part in (head, top):
            layout.addLayout(part)
        layout.addWidget(self.list, 1)
        layout.addWidget(self.remedy)
        layout.addWidget(self.fix)
        layout.addWidget(self.reason)  # a line of its own: it is a sentence
        layout.addLayout(bottom)

    def _connect(self) -> None:
        self.search.textChanged.connect(lambda _: self._fill())
        self.shown.currentIndexChanged.connect(lambda _: self._fill())
        self.list.currentItemChanged.connect(lambda *_: self._explain())
        self.list.itemActivated.connect(lambda item, _: self._choose(item))
        self.list.itemClicked.connect(lambda item, _: self._choose(item))
        self._remedies.found.connect(self._offer_fix)
        away = QShortcut(QKeySequence(Qt.Key.Key_Escape), self)
        away.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
        away.activated.connect(self.closed)

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self._tones = tones
        if self._draft and self.isVisible():
            self._fill()

    def show_draft(self, draft: Draft) -> None:
        """Show the findings of a draft; what was picked stays picked while it stands."""
        self._draft = draft
        self._fill()

    def show_proofs(self, draft: Draft, found: Proven) -> None:
        """Show what a draft's proofs have found, while it is the one shown."""
        self._proofs = (draft, found)
        if draft is self._draft and self.isVisible():
            self._fill()

    @property
    def _proven(self) -> Proven:
        """What proofs have found of the draft that is shown, as far as they were asked for."""
        draft, found = self._proofs
        return found if draft is self._draft else Proven((), ())

    def told(self) -> Iterator[Told]:
        """Return the findings that are shown, gravest first."""
        assert self._draft is not None
        words, wanted = self.search.text().lower().split(), self.shown.currentText()
        found = self._proven
        standing = [Told(one, None) for one in (*self._draft.findings, *found.standing)]
        accepted = (*self._draft.accepted, *found.accepted)
        answered = [Told(finding, answer) for finding, answer in accepted]
        for told in (*standing, *answered):
            text = f"{told.finding.code} {told.severity} {told.words()}"
            text = f"{text} {' '.join(told.finding.subjects)}".lower()
            if wanted in ("all", told.severity) and all(word in text for word in words):
                yield told

    def _fill(self) -> None:
        picked = self._current()
        self.list.blockSignals(True)
        self.list.clear()
        first: QTreeWidgetItem | None = None
        shown = self._groups()
        told = [one for group in shown for one in (group.cause, *group.follows)]
        counts, count = Counter(one.severity for one in told), len(told)
        for severity, inside in groupby(shown, key=lambda group: group.severity):
            several = list(inside)
            top = self._top(severity, counts[severity])
            for title, alike in groupby(several, key=lambda g: g.cause.finding.kind.title):
                item = self._rule(top, title, list(alike), picked)
                first = item or first
            top.setExpanded(severity != "note" or count <= OPEN_UP_TO)
        self.list.blockSignals(False)
        if chosen := first or self._first_finding():
            self.list.setCurrentItem(chosen)
        self.title.setText(f"{count} findings" if count != 1 else "1 finding")
        self._explain()

    def _groups(self) -> list[_Group]:
        """Return what is shown, gravest first: what follows from a finding is under it."""
        assert self._draft is not None
        shown = {told.finding: told for told in self.told()}
        found: list[_Group] = []
        for cause, follows in grouped(self._draft):
            told = [shown[finding] for finding in follows if finding in shown]
            if cause in shown:
                found.append(_Group(shown[cause], tuple(told)))
            else:
                found += (_Group(one) for one in told)
        standing = {f for group in found for f in (group.cause, *group.follows)}
        found += (_Group(told) for told in shown.values() if told not in standing)
        return sorted(found, key=lambda g: (SHOWN.index(g.severity), g.cause.finding.code))

    def _top(self, severity: str, count: int) -> QTreeWidgetItem:
        top = QTreeWidgetItem(self.list, [f"{WORDS[severity]}: {count}"])
        top.setIcon(0, mark_icon("note" if severity == "accepted" else severity, self._tones))
        top.setFont(0, font(12, bold=True))
        return top

    def _rule(
        self, top: QTreeWidgetItem, title: str, alike: list[_Group], picked: Told | None
    ) -> QTreeWidgetItem | None:
        """Put the findings of one rule under it; return the picked one's item."""
        code, found = alike[0].cause.finding.code, None
        count = f" ({len(alike)})" if len(alike) > 1 else ""
        rule = QTreeWidgetItem(top, [f"{code}  {title}{count}"])
        for group in alike:
            item = self._item(rule, group.cause, group.cause.words())
            items = [item]
            for told in group.follows:
                words = f"→ {told.finding.code}  {told.words()}"
                items.append(self._item(item, told, words))
            item.setExpanded(True)
            picks = (i for i in items if picked and i.data(0, _ROLE)[0] == picked.finding)
            found = next(picks, found)
        rule.setExpanded(len(alike) <= OPEN_UP_TO)
        return found

    @staticmethod
    def _item(above: QTreeWidgetItem, told: Told, words: str) -> QTreeWidgetItem:
        item = QTreeWidgetItem(above, [words])
        item.setToolTip(0, plain(words))
        item.setData(0, _ROLE, told)
        return item

    def _first_finding(self) -> QTreeWidgetItem | None:
        item = self.list.topLevelItem(0)
        while item is not None and item.data(0, _ROLE) is None:
            item = item.child(0)
        return item

    def _current(self) -> Told | None:
        item = self.list.currentItem()
        told = item.data(0, _ROLE) if item else None
        return Told(*told) if told else None

    def _explain(self) -> None:
        current = self._current()
        answer = current.answer if current else None
        if current:
            self._remedies.ask([current.finding])
        self._offer_fix()
        self.answer.setEnabled(current is not None)
        self.answer.setText("Open again" if answer else "Accept")
        for field in (self.reason, self.initials, self.second):
            field.setEnabled(current is not None and answer is None)
        self.second.setVisible(current is not None and current.finding.severity == "error")
        if current is None:
            self.remedy.setText("Pick a finding." if self.list.topLevelItemCount() else "None.")
            return
        kind = current.finding.kind
        self.remedy.setText(f"{kind.remedy}   Source: {kind.source}.")

    def _offer_fix(self) -> None:
        """Offer what clears the finding picked, once it has been drafted and held to the rules."""
        current = self._current()
        edit = self._remedies.of(current.finding) if current else None
        tried = current is None or self._remedies.is_known(current.finding)
        self.fix.setEnabled(edit is not None and current is not None and current.answer is None)
        told = f"Fix: {edit[0]}" if edit else "No fix by one edit"
        self.fix.setText(told if tried else "Trying what would clear it …")

    def _fix(self) -> None:
        current = self._current()
        edit = self._remedies.of(current.finding) if current else None
        if edit:
            self.edit_made.emit(edit)

    def _accept_or_open(self) -> None:
        current = self._current()
        if current is None:
            return
        finding = current.finding
        if current.answer:
            self.edit_made.emit(reopen_finding(finding.code, finding.subjects))
            return
        reason, initials = typed(self.reason), typed(self.initials)
        if not reason or not initials:
            self.remedy.setText("Accepting a finding wants a reason and initials.")
            return
        second = typed(self.second) if finding.severity == "error" else ""
        if finding.severity == "error" and second.upper() in ("", initials.upper()):
            self.remedy.setText("Accepting an error wants the initials of a second person.")
            return
        self.reason.clear()
        self.second.clear()
        acceptance = Acceptance(
            code=finding.code,
            subjects=finding.subjects,
            sentence=finding.sentence(),
            reason=reason,
            initials=initials,
            second=second,
            date=datetime.date.today().isoformat(),
        )
        self.edit_made.emit(accept_finding(acceptance))

    def _choose(self, item: QTreeWidgetItem) -> None:
        if told := item.data(0, _ROLE):
            self.finding_chosen.emit(told[0].subjects[0])
