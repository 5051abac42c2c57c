"""The threads with their controls: group, sort, filter."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from vivid_loom.desktop.threads.rows import GROUPS, SORTS
from vivid_loom.desktop.threads.view import ThreadsView
from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import StageView
from vivid_loom.drafting import Draft
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["ThreadsStage"]


class ThreadsStage(StageView):
    """Holds the view and arranges it."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.threads = ThreadsView()
        self.group = QComboBox()
        self.group.addItems([f"Group: {name}" for name in GROUPS])
        self.sort = QComboBox()
        self.sort.addItems([f"Sort: {name}" for name in SORTS])
        self.search = QLineEdit()
        self.search.setPlaceholderText("Filter: name, circuit, gauge, block, finding code")
        self.search.setClearButtonEnabled(True)
        bar = QHBoxLayout()
        bar.setContentsMargins(14, 6, 14, 4)
        bar.addWidget(self.group)
        bar.addWidget(self.sort)
        bar.addWidget(self.search, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(bar)
        layout.addWidget(self.threads, 1)
        for box in (self.group, self.sort):
            box.currentIndexChanged.connect(self._rearrange)
        self.search.textChanged.connect(self._rearrange)
        self.threads.circuit_picked.connect(self.circuit_picked)
        self.threads.why_asked.connect(self.why_asked)
        take = QAction("Take what the strip says", self)
        take.setShortcuts([QKeySequence(Qt.Key.Key_Return), QKeySequence(Qt.Key.Key_Enter)])
        take.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
        take.triggered.connect(self.advice_asked)
        self.threads.addAction(take)

    def set_draft(self, draft: Draft) -> None:
        """Show a draft."""
        self.threads.set_draft(draft)

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self.threads.set_tones(tones)

    def show_circuit(self, circuit_id: str) -> None:
        """Highlight a circuit and bring it into view."""
        self.threads.set_selected(circuit_id)

    def reveal(self, subject: str) -> bool:
        """Show a circuit, whatever is filtered."""
        if self.session.draft.circuit(subject) is None:
            return False
        self.search.clear()
        self.session.select(subject)
        return True

    def takes_keys(self) -> QWidget:
        """Return the threads."""
        return self.threads

    def _rearrange(self) -> None:
        group = GROUPS[self.group.currentIndex()]
        sort = list(SORTS)[self.sort.currentIndex()]
        self.threads.set_arrangement(group, sort, self.search.text())
