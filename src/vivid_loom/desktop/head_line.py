"""Which hull, due when, in what state, with how many findings."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from vivid_loom.drafting import Draft
from vivid_loom.sheets import due_text

__all__ = ["HeadLine"]


class HeadLine(QWidget):
    """Signals:

    findings_asked: the findings count was pressed.
    find_asked: the search field was pressed.
    """

    findings_asked = Signal()
    find_asked = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(46)
        self.title = QLabel()
        self.title.setProperty("title", True)
        self.subtitle = QLabel()
        self.subtitle.setProperty("quiet", True)
        self.due = QLabel()
        self.state = QLabel()
        self.findings = QPushButton()
        self.findings.setObjectName("findings")
        self.units = QLabel()
        self.units.setProperty("quiet", True)
        find = QPushButton("Find anything    Ctrl+K")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 4, 14, 4)
        layout.setSpacing(16)
        for widget in (self.title, self.subtitle):
            layout.addWidget(widget)
        layout.addStretch(1)
        right: tuple[QWidget, ...] = (self.due, self.state, self.findings, find, self.units)
        for part in right:
            layout.addWidget(part)
        self.findings.clicked.connect(self.findings_asked)
        find.clicked.connect(self.find_asked)

    def set_draft(self, draft: Draft, *, modified: bool) -> None:
        """Show an order's heading."""
        order, profile = draft.aboard.order, draft.aboard.profile
        self.title.setText(f"{draft.aboard.boat.name} · hull {order.hull}")
        self.subtitle.setText(order.title + ("  (unsaved)" if modified else ""))
        self.due.setText(f"harness due {due_text(draft)}")
        self.state.setText(order.state.replace("_", " "))
        errors = sum(f.severity == "error" for f in draft.findings)
        judge = sum(f.severity == "judge" for f in draft.findings)
        self.findings.setText(
            f"◆ {errors} errors   ▲ {judge} to judge" if errors or judge else "no findings open"
        )
        self.units.setText(f"{profile.series.replace('mm2', 'mm²')} · {profile.units}")
