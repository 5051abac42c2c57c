"""Ctrl+K: jump to any circuit, load, wire, plug or finding by a few letters."""

from typing import NamedTuple

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from vivid_loom.drafting import Draft

__all__ = ["Finder", "Target", "targets"]


class Target(NamedTuple):
    """Something to jump to; ``circuit`` '' where none belongs to it."""

    text: str
    circuit: str


def targets(draft: Draft) -> tuple[Target, ...]:
    """Return everything in a draft that has a name."""
    found = [
        Target(f"finding {f.code}: {f.sentence()}", f.subjects[0])
        for f in draft.findings
        if draft.circuit(f.subjects[0])
    ]
    for row in draft.rows:
        found.append(Target(f"circuit {row.id}  {row.planned.label}", row.id))
        found += [
            Target(f"load {draft.aboard.loads[name].name}", row.id) for name in row.planned.loads
        ]
        found += [
            Target(f"wire {wire.id}  {wire.gauge} {wire.colour}", row.id) for wire in row.wires
        ]
    for plug in draft.assembled.plugs:
        found.append(Target(f"plug {plug.id} at {plug.station}", plug.cavities[0].circuit))
    return tuple(found)


class Finder(QDialog):
    """Signals:

    target_chosen (str): circuit to jump to.
    """

    target_chosen = Signal(str)

    def __init__(self, draft: Draft, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Find anything")
        self.resize(560, 380)
        self._targets = targets(draft)
        self.line = QLineEdit()
        self.line.setPlaceholderText("a few letters of a circuit, load, wire, plug or finding")
        self.list = QListWidget()
        layout = QVBoxLayout(self)
        layout.addWidget(self.line)
        layout.addWidget(self.list)
        self.line.textChanged.connect(self._filter)
        self.line.returnPressed.connect(lambda: self._choose(self.list.currentItem()))
        self.list.itemActivated.connect(self._choose)
        self.line.installEventFilter(self)
        self._filter("")

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()), 0)
            if step and self.list.count():
                row = min(self.list.count() - 1, max(0, self.list.currentRow() + step))
                self.list.setCurrentRow(row)
                return True
        return super().eventFilter(watched, event)

    def _filter(self, text: str) -> None:
        words = text.lower().split()
        self.list.clear()
        for target in self._targets:
            if all(word in target.text.lower() for word in words):
                item = QListWidgetItem(target.text)
                item.setData(Qt.ItemDataRole.UserRole, target.circuit)
                self.list.addItem(item)
                if self.list.count() >= 200:
                    break
        self.list.setCurrentRow(0)

    def _choose(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            self.accept()
            self.target_chosen.emit(item.data(Qt.ItemDataRole.UserRole))
