"""The threads with their controls: group, sort, filter."""

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from vivid_loom.desktop.threads.rows import GROUPS, SORTS
from vivid_loom.desktop.threads.view import ThreadsView

__all__ = ["ThreadsStage"]


class ThreadsStage(QWidget):
    """Holds the view and arranges it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
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

    def _rearrange(self) -> None:
        group = GROUPS[self.group.currentIndex()]
        sort = list(SORTS)[self.sort.currentIndex()]
        self.threads.set_arrangement(group, sort, self.search.text())
