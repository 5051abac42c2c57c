"""All findings of the order; each jumps to its place."""

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QDialog, QLabel, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from vivid_loom.drafting import Draft

__all__ = ["FindingsList"]


class FindingsList(QDialog):
    """Signals:

    finding_chosen (str): its first subject.
    """

    finding_chosen = Signal(str)

    def __init__(self, draft: Draft, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Findings")
        self.resize(760, 460)
        self.list = QListWidget()
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.remedy = QLabel()
        self.remedy.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.addWidget(self.list, 1)
        layout.addWidget(self.remedy)
        for finding in draft.findings:
            item = QListWidgetItem(f"{finding.severity}  {finding.code}  {finding.sentence()}")
            item.setData(Qt.ItemDataRole.UserRole, finding)
            self.list.addItem(item)
        self.list.currentItemChanged.connect(self._explain)
        self.list.itemActivated.connect(self._choose)
        self.list.setCurrentRow(0)

    def _explain(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            kind = item.data(Qt.ItemDataRole.UserRole).kind
            self.remedy.setText(f"{kind.remedy}   Source: {kind.source}.   Enter jumps there.")

    def _choose(self, item: QListWidgetItem) -> None:
        self.finding_chosen.emit(item.data(Qt.ItemDataRole.UserRole).subjects[0])
        self.accept()
