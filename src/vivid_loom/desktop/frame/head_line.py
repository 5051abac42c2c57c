"""Which hull, due when, in what state, with how many findings."""

import datetime
from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtGui import QIcon, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from vivid_loom.desktop.widgets.marks import mark_icon
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.theme import LIGHT
from vivid_loom.drafting import Draft, Finding
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.proof import Proven

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
        self.title = PlainLabel()
        self.title.setProperty("title", True)
        self.subtitle = PlainLabel()
        self.subtitle.setProperty("quiet", True)
        self.due = PlainLabel()
        self.state = PlainLabel()
        self.findings = QPushButton()
        self.findings.setObjectName("findings")
        self.units = PlainLabel()
        self.units.setProperty("quiet", True)
        self.seek = QPushButton()
        self.tones = LIGHT
        self._draft: Draft | None = None
        self._mark: tuple[str, Tones | None] = ("", None)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 4, 14, 4)
        layout.setSpacing(16)
        for widget in (self.title, self.subtitle):
            layout.addWidget(widget)
        layout.addStretch(1)
        right: tuple[QWidget, ...] = (self.due, self.state, self.findings, self.seek, self.units)
        for part in right:
            layout.addWidget(part)
        self.findings.clicked.connect(self.findings_asked)
        self.seek.clicked.connect(self.find_asked)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        roomy = self.width() >= 1180
        self.subtitle.setVisible(roomy)
        self.seek.setText("Find anything    Ctrl+K" if roomy else "Find  Ctrl+K")

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self.tones = tones

    def set_draft(self, draft: Draft, due: datetime.date, *, modified: bool) -> None:
        """Show an order's heading."""
        order, profile = draft.aboard.order, draft.aboard.profile
        self.title.setText(f"{draft.aboard.boat.name} · hull {order.hull}")
        self.subtitle.setText(order.title + ("  (unsaved)" if modified else ""))
        self.due.setText(f"harness due {due:%a} {due.day} {due:%b %Y}")
        state = order.state.replace("_", " ")
        self.state.setText(f"{state}, {order.stop.kind}" if order.stop else state)
        self._draft = draft
        self._count(draft.findings, ", not proven yet")
        self.units.setText(f"{profile.series.replace('mm2', 'mm²')} · {profile.units}")

    def show_proofs(self, draft: Draft, found: Proven) -> None:
        """Count what a draft's proofs have found as well, while it is the one shown."""
        if draft is self._draft:
            self._count((*draft.findings, *found.standing), "")

    def _count(self, findings: Sequence[Finding], so_far: str) -> None:
        """Count findings.

        Args:
            so_far: what is said while the proofs have not run: they may find more.
        """
        errors = sum(f.severity == "error" for f in findings)
        judge = sum(f.severity == "judge" for f in findings)
        told = f"{errors} errors · {judge} to judge" if errors or judge else "no findings open"
        self.findings.setText(told + so_far)
        mark = ("error" if errors else "judge" if judge else "", self.tones)
        if mark != self._mark:
            self._mark = mark
            self.findings.setIcon(mark_icon(mark[0], self.tones) if mark[0] else QIcon())
