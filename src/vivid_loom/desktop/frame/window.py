"""The frame: rail, head line, stages, keel strip and why drawer around one session."""

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QCloseEvent, QKeySequence
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.desktop.frame.file_actions import FileActions
from vivid_loom.desktop.frame.finder import Finder
from vivid_loom.desktop.frame.findings_list import FindingsList
from vivid_loom.desktop.frame.head_line import HeadLine
from vivid_loom.desktop.frame.keel_strip import KeelStrip
from vivid_loom.desktop.frame.menus import make_menus
from vivid_loom.desktop.frame.stage_rail import StageRail
from vivid_loom.desktop.loads.stage import LoadsStage
from vivid_loom.desktop.order.stage import OrderStage
from vivid_loom.desktop.packet.view import PacketView
from vivid_loom.desktop.runs.stage import RunsStage
from vivid_loom.desktop.threads.stage import ThreadsStage
from vivid_loom.desktop.why.circuit_actions import CircuitActions
from vivid_loom.desktop.why.drawer import WhyDrawer
from vivid_loom.desktop.widgets.theme import DARK, LIGHT, apply_theme
from vivid_loom.desktop.work.session import Session
from vivid_loom.sheets.cautions import SHORT_CAUTION
from vivid_loom.sheets.tones import Tones

__all__ = ["LOADS", "ORDER", "PACKET", "RUNS", "THREADS", "MainWindow"]

ORDER, LOADS, RUNS, THREADS, PACKET = range(5)


class MainWindow(QMainWindow):
    """One window on one order."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setWindowTitle("Vivid Loom")
        self.resize(1280, 800)
        self.setMinimumSize(1024, 700)
        self.tones: Tones = LIGHT
        self._findings: FindingsList | None = None
        self.head = HeadLine()
        self.rail = StageRail()
        self.keel = KeelStrip()
        self.why = WhyDrawer()
        self.circuits = CircuitActions(self.session, self.say, self)
        self.files = FileActions(self)
        self.order_stage = OrderStage(session)
        self.loads_stage = LoadsStage(session)
        self.runs_stage = RunsStage(session)
        self.threads_stage = ThreadsStage()
        self.threads = self.threads_stage.threads
        self.packet_view = PacketView()
        self.stages = QStackedWidget()
        for view in (
            self.order_stage,
            self.loads_stage,
            self.runs_stage,
            self.threads_stage,
            self.packet_view,
        ):
            self.stages.addWidget(view)
        self._lay_out()
        make_menus(self)
        self._connect()
        self.why.hide()
        self.use_theme(LIGHT)
        self._draft_changed()
        self.open_stage(THREADS)
        self.order_opened()

    def _lay_out(self) -> None:
        middle = QHBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        column = QVBoxLayout()
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.stages, 1)
        column.addWidget(self.keel)
        middle.addWidget(self.rail)
        middle.addLayout(column, 1)
        middle.addWidget(self.why)
        page = QWidget()
        whole = QVBoxLayout(page)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.head)
        whole.addLayout(middle, 1)
        self.setCentralWidget(page)
        self.message = QLabel(SHORT_CAUTION)
        self.message.setProperty("quiet", True)
        self.message.setContentsMargins(14, 0, 0, 0)
        self.statusBar().setSizeGripEnabled(False)
        self.statusBar().addWidget(self.message, 1)

    def _connect(self) -> None:
        s = self.session
        s.draft_changed.connect(self._draft_changed)
        s.circuit_selected.connect(self._selection_changed)
        s.edit_refused.connect(self.say)
        s.changed_on_disk.connect(self.files.file_changed)
        s.undo_stack.cleanChanged.connect(self._show_heading)
        self.rail.stage_picked.connect(self.open_stage)
        self.threads.circuit_picked.connect(s.select)
        self.threads.why_asked.connect(self.open_why)
        for stage in (self.order_stage, self.loads_stage, self.runs_stage):
            stage.said.connect(self.say)
        for stage in (self.loads_stage, self.runs_stage):
            stage.circuit_picked.connect(s.select)
        self.order_stage.order_opened.connect(lambda path: self.files.open_order(Path(path)))
        self.order_stage.new_asked.connect(self.files.new_order)
        self.order_stage.duplicate_asked.connect(self.files.duplicate)
        self.order_stage.boat_asked.connect(self.files.new_boat)
        self.order_stage.folder_asked.connect(self.files.choose_folder)
        self.order_stage.change_order_asked.connect(self.files.change_order)
        self.packet_view.exported.connect(self.say)
        self.why.override_asked.connect(self.circuits.overrule)
        self.why.clear_asked.connect(self.circuits.give_back)
        self.why.stock_asked.connect(self.circuits.show_stock)
        self.why.cable_asked.connect(self.circuits.lay_as)
        self.why.closed.connect(self.why.hide)
        self.head.findings_asked.connect(self.show_findings)
        self.head.find_asked.connect(self.find_anything)
        take = QAction("Take what the strip says", self)
        take.setShortcuts([QKeySequence(Qt.Key.Key_Return), QKeySequence(Qt.Key.Key_Enter)])
        take.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
        take.triggered.connect(self.take_advice)
        self.threads.addAction(take)

    def say(self, text: str) -> None:
        """Show a message in the status line."""
        self.message.setText(text)
        self.message.setToolTip(text)

    def order_opened(self) -> None:
        """Another order stands: select its first thread, and say what is particular."""
        rows = self.threads.visible_ids()
        self.session.select(rows[0] if rows else "")
        if self.session.notice:
            self.say(self.session.notice)

    def refresh(self) -> None:
        """Show the order anew, as after saving."""
        self._draft_changed()
        self.order_stage.refresh_queue()

    def _show_heading(self) -> None:
        clean = self.session.undo_stack.isClean()
        self.head.set_draft(self.session.draft, self.session.due, modified=not clean)

    def _draft_changed(self) -> None:
        draft = self.session.draft
        self._show_heading()
        self.order_stage.set_draft(draft)
        self.loads_stage.set_draft(draft)
        self.runs_stage.set_draft(draft)
        self.threads.set_draft(draft)
        self.packet_view.set_draft(draft, self.session.shop.closed_days)
        self._show_selection(self.session.selected)
        self._mark_stages()
        if self._findings and self._findings.isVisible():
            self._findings.show_draft(draft)

    def _mark_stages(self) -> None:
        draft = self.session.draft
        unknown = sum(f.code in ("L01", "L02") for f in draft.findings)
        errors = sum(f.severity == "error" for f in draft.findings)
        open_wishes = sum(not wish.answer for wish in draft.aboard.order.wishes)
        runs = sum(f.code.startswith("R") for f in draft.findings)
        marks = (str(open_wishes or ""), str(unknown or ""), str(runs or ""), str(errors or ""), "")
        self.rail.set_state(self.stages.currentIndex(), marks)

    def _show_selection(self, circuit_id: str) -> None:
        draft = self.session.draft
        self.threads.set_selected(circuit_id)
        self.runs_stage.show_circuit(circuit_id)
        self.keel.show_selection(draft, circuit_id)
        if self.why.isVisible():
            self.why.show_circuit(draft, circuit_id)

    def _selection_changed(self, circuit_id: str) -> None:
        self._show_selection(circuit_id)
        row = self.session.draft.circuit(circuit_id)
        supplies = self.session.boat.supplies_by_id
        fed_by = supplies.get(row.planned.feeds or row.planned.source) if row else None
        if row and fed_by and fed_by.level == "battery_direct":
            self.say(f"Caution: {row.planned.label} stays live with the battery switch off.")
        elif row:
            self.say(SHORT_CAUTION)

    def open_stage(self, index: int) -> None:
        """Show a stage."""
        self.stages.setCurrentIndex(index)
        self._mark_stages()
        focus = (
            self.order_stage.queue.table,
            self.loads_stage.table,
            self.runs_stage.view,
            self.threads,
            self.packet_view.list,
        )[index]
        focus.setFocus()

    def open_why(self, circuit_id: str) -> None:
        """Open the why drawer on a circuit."""
        self.session.select(circuit_id)
        self.why.show()
        self.why.show_circuit(self.session.draft, circuit_id)

    def toggle_why(self) -> None:
        """Open or shut the why drawer."""
        if self.why.isVisible():
            self.why.hide()
        else:
            self.open_why(self.session.selected)

    def take_advice(self) -> None:
        """Take what the strip says, or open the why drawer where it has no edit to offer."""
        if not self.circuits.take_advice(self.session.selected):
            self.open_why(self.session.selected)

    def find_anything(self) -> None:
        """Open the finder."""
        finder = Finder(self.session.draft, self)
        finder.target_chosen.connect(self._jump)
        finder.open()

    def show_findings(self) -> None:
        """Open the list of findings."""
        findings = FindingsList(self.session.draft, self)
        findings.finding_chosen.connect(self._jump)
        findings.edit_made.connect(self.session.apply)
        self._findings = findings
        findings.open()

    def _jump(self, subject: str) -> None:
        draft = self.session.draft
        if draft.circuit(subject):
            self.open_stage(THREADS)
            self.threads_stage.search.clear()
            self.session.select(subject)
        elif subject in draft.aboard.loads:
            self.open_stage(LOADS)
            self.loads_stage.search.clear()
            self.loads_stage.select_loads((subject,))
        elif subject in {run.id for run in draft.aboard.boat.runs}:
            self.open_stage(RUNS)
            self.runs_stage.view.select(run=subject)
            self.runs_stage.show_circuit(self.session.selected)
        else:
            feeder = next((f.id for f in draft.feeders if f.planned.feeds == subject), "")
            if feeder:
                self._jump(feeder)

    def fold_keel(self) -> None:
        """Show or hide the keel strip."""
        self.keel.setVisible(not self.keel.isVisible())

    def toggle_theme(self, dark: bool) -> None:
        """Change between light and dark."""
        self.use_theme(DARK if dark else LIGHT)

    def use_theme(self, tones: Tones) -> None:
        """Dress the window."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        apply_theme(app, tones)
        self.tones = tones
        for view in (
            self.head,
            self.rail,
            self.threads,
            self.keel,
            self.order_stage,
            self.loads_stage,
            self.runs_stage,
            self.why,
        ):
            view.set_tones(tones)

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self.files.may_leave():
            event.ignore()
            return
        self.order_stage.stop()
        self.runs_stage.stop()
        self.session.close()
        event.accept()
