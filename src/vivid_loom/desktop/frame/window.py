"""The frame: rail, head line, stages, keel strip and drawers around one session."""

from typing import Final

from PySide6.QtCore import QTimer
from PySide6.QtGui import QAction, QCloseEvent, QKeySequence, QResizeEvent
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.desktop.frame.file_actions import FileActions
from vivid_loom.desktop.frame.finder import Finder
from vivid_loom.desktop.frame.findings_pane import FindingsPane
from vivid_loom.desktop.frame.head_line import HeadLine
from vivid_loom.desktop.frame.keel_strip import KeelStrip
from vivid_loom.desktop.frame.menus import (
    Command,
    Standard,
    add_commands,
    add_recent,
    add_stages,
    add_undo,
)
from vivid_loom.desktop.frame.stage_rail import StageRail
from vivid_loom.desktop.frame.stages import STAGES
from vivid_loom.desktop.frame.views import Views
from vivid_loom.desktop.why.circuit_actions import CircuitActions
from vivid_loom.desktop.why.drawer import WhyDrawer
from vivid_loom.desktop.widgets.dialogs import opened
from vivid_loom.desktop.widgets.plain import PlainLabel, plain
from vivid_loom.desktop.widgets.theme import DARK, LIGHT, apply_theme, dress
from vivid_loom.desktop.work.aside import AGAIN_MS, is_waiting
from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import Stage, StageView
from vivid_loom.desktop.work.state_watch import StateWatch
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.words.cautions import SHORT_CAUTION

__all__ = [
    "BENCH",
    "HARNESS",
    "HELM",
    "LOADS",
    "ORDER",
    "PACKET",
    "POWER",
    "RUNS",
    "SUPPLY",
    "THREADS",
    "MainWindow",
]

ORDER, LOADS, SUPPLY, RUNS, THREADS, HELM, POWER, HARNESS, BENCH, PACKET = (s.name for s in STAGES)
FIRST: Final = THREADS
STATUS_MARGINS: Final = 60  # around and between a message and the caution


class MainWindow(QMainWindow):
    """One window on one order."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        apply_theme(app, LIGHT)  # its type must be there before anything is laid out in it
        self.session = session
        session.setParent(self)  # it goes with its window, in Qt's order
        self.resize(1280, 800)
        self.setMinimumSize(1024, 700)
        self.tones: Tones = LIGHT
        self.head = HeadLine()
        self.rail = StageRail(STAGES)
        self.keel = KeelStrip(session.remedies)
        self.why = WhyDrawer()
        self.findings = FindingsPane(session.remedies)
        self.circuits = CircuitActions(session, self.say, self)
        self.files = FileActions(session, self)
        self.state_watch = StateWatch(session, self)
        self.views = Views(STAGES, self._made)
        self._here = FIRST
        self._stale = set(self.views)
        self.stages = QStackedWidget()
        self._lay_out()
        self._make_menus()
        self._connect()
        self.why.hide()
        self.findings.hide()
        self.use_theme(LIGHT)
        self._draft_changed()
        self.open_stage(FIRST)
        self._order_opened()

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
        middle.addWidget(self.findings)
        page = QWidget()
        whole = QVBoxLayout(page)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.head)
        whole.addLayout(middle, 1)
        self.setCentralWidget(page)
        self.message, self.caution = PlainLabel(), PlainLabel(SHORT_CAUTION)
        self.message.setIndent(14)
        self.message.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.caution.setProperty("quiet", True)
        self.caution.setContentsMargins(0, 0, 14, 0)
        self.statusBar().setSizeGripEnabled(False)
        self.statusBar().addWidget(self.message, 1)
        self.statusBar().addPermanentWidget(self.caution)

    def _make_menus(self) -> None:
        files, bar = self.files, self.menuBar()
        menu = bar.addMenu("&File")
        of_files = [
            Command("&New order…", Standard.New, files.new_order),
            Command("&Duplicate order…", "Ctrl+Shift+N", files.duplicate),
            Command("New &boat…", "Ctrl+Alt+N", files.new_boat),
            Command("Put measuring into the &model…", "Ctrl+Shift+M", files.put_into_model),
            Command("&Open order…", Standard.Open, files.ask_open),
            Command("&Save", Standard.Save, files.save),
            Command("Save &as…", Standard.SaveAs, files.ask_save_as),
            Command("&Take over from another window…", "Ctrl+Alt+T", files.take_over),
            Command("&Report what went wrong…", "Ctrl+Alt+R", files.report),
        ]
        add_commands(self, menu, of_files)
        add_recent(menu, files.recent, files.open_order)
        add_commands(self, menu, [Command("&Quit", Standard.Quit, self.close)])
        menu = bar.addMenu("&Edit")
        add_undo(self, menu, self.session.undo_stack)
        add_commands(self, menu, [Command("&Find anything…", "Ctrl+K", self.find_anything)])
        menu = bar.addMenu("&View")
        add_stages(self, menu, STAGES, self.open_stage)
        menu.addSeparator()
        of_view = [
            Command("&Why drawer", "Ctrl+Y", self.toggle_why),
            Command("F&indings", "Ctrl+F", self.toggle_findings),
            Command("Fold &keel strip", "Ctrl+B", self.fold_keel),
        ]
        add_commands(self, menu, of_view)
        dark = QAction("&Dark theme", self)
        dark.setShortcut(QKeySequence("Ctrl+D"))
        dark.setCheckable(True)
        dark.toggled.connect(lambda on: self.use_theme(DARK if on else LIGHT))
        menu.addAction(dark)

    def _connect(self) -> None:
        s = self.session
        s.draft_changed.connect(self._draft_changed)
        s.circuit_selected.connect(self._selection_changed)
        s.edit_refused.connect(self.say)
        s.changed_on_disk.connect(self.files.file_changed)
        s.boat_changed.connect(self.say)
        s.lock_changed.connect(self.files.lock_changed)
        s.state_fell.connect(self._state_fell)
        s.undo_stack.cleanChanged.connect(self._show_heading)
        self.rail.stage_picked.connect(self.open_stage)
        self.files.said.connect(self.say)
        self.files.opened.connect(self._order_opened)
        self.files.saved.connect(self._draft_changed)
        self.why.override_asked.connect(self.circuits.overrule)
        self.why.clear_asked.connect(self.circuits.give_back)
        self.why.stock_asked.connect(self.circuits.show_stock)
        self.why.moves_asked.connect(self.circuits.show_moves)
        self.why.cable_asked.connect(self.circuits.lay_as)
        self.why.closed.connect(lambda: self._shut(self.why))
        s.proven.connect(self.findings.show_proofs)
        s.proven.connect(self.head.show_proofs)
        self.findings.closed.connect(lambda: self._shut(self.findings))
        self.findings.finding_chosen.connect(self.reveal)
        self.findings.edit_made.connect(s.apply)
        self.head.findings_asked.connect(self.toggle_findings)
        self.head.find_asked.connect(self.find_anything)

    def _made(self, stage: Stage) -> StageView:
        """Make a stage's page, and listen to it."""
        view = stage.make(self.session, self.files)
        self.stages.addWidget(view)
        view.said.connect(self.say)
        view.circuit_picked.connect(self.session.select)
        view.why_asked.connect(self.open_why)
        view.advice_asked.connect(self.take_advice)
        view.set_tones(self.tones)
        return view

    @property
    def here(self) -> str:
        """The name of the stage that is open."""
        return self._here

    @property
    def view(self) -> StageView:
        """The page of the stage that is open."""
        return self.views[self._here]

    def say(self, text: str) -> None:
        """Show in the status line what has happened; it stands until something else does."""
        self.message.setText(text)
        self.message.setToolTip(plain(text))
        self._fit_caution()

    def _state_fell(self, called: str, state: str, why: str) -> None:
        """Say that an order was taken back, after whatever else an edit says of itself."""
        was, now = (words.replace("_", " ") for words in (called, state))
        told = f"It was {was}; since this edit it is {now}. Undo gives it back."
        if why:
            told = f"It was called {was}, but {why}: it is {now}."
        QTimer.singleShot(0, self, lambda: self.say(told))

    def _fit_caution(self) -> None:
        """Tell the standing caution whole, or its first sentence beside a longer message."""
        words = self._caution(self.session.selected if self.view.about_selection else "")
        metrics = self.message.fontMetrics()
        room = self.width() - metrics.horizontalAdvance(self.message.text()) - STATUS_MARGINS
        fits = metrics.horizontalAdvance(words) <= room
        self.caution.setText(words if fits else f"{words.partition('. ')[0].rstrip('.')}.")
        self.caution.setVisible(not self.view.shows_caution)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit_caution()

    def _order_opened(self) -> None:
        """Another order stands: select its first circuit, and say what is particular."""
        rows = self.session.draft.rows
        self.session.select(rows[0].id if rows else "")
        self.say(self.session.notice)

    def _show_heading(self) -> None:
        draft, clean = self.session.draft, self.session.undo_stack.isClean()
        self.head.set_draft(draft, self.session.due, modified=not clean)
        hull = f"{draft.aboard.boat.name} hull {draft.aboard.order.hull}"
        self.setWindowTitle(f"{hull}, {self._here}{'' if clean else ' (unsaved)'}")

    def _draft_changed(self) -> None:
        """Show a new draft where somebody looks; the other pages wait until they are opened."""
        self._stale = set(self.views)
        self._show_heading()
        self._show_stage()
        if self.findings.isVisible():
            self.findings.show_draft(self.session.draft)

    def _show_stage(self) -> None:
        draft = self.session.draft
        if self._here in self._stale:
            self._stale.discard(self._here)
            self.view.set_draft(draft)
        self.rail.set_state(self._here, tuple(stage.mark(draft) for stage in STAGES))
        self._show_selection(self.session.selected)

    def _show_selection(self, circuit_id: str) -> None:
        draft = self.session.draft
        self.view.show_circuit(circuit_id)
        about = circuit_id if self.view.about_selection else ""
        self.keel.show_selection(draft, about, whole=not self.view.about_selection)
        self._fit_caution()
        if self.why.isVisible():
            self.why.show_circuit(draft, circuit_id)

    def _caution(self, circuit_id: str) -> str:
        row = self.session.draft.circuit(circuit_id)
        fed_by = (row.planned.feeds or row.planned.source) if row else ""
        if row and self.session.draft.aboard.levels.get(fed_by) == "battery_direct":
            return f"Caution: {row.planned.label} stays live with the battery switch off."
        return SHORT_CAUTION

    def _selection_changed(self, circuit_id: str) -> None:
        self._show_selection(circuit_id)

    def open_stage(self, name: str) -> None:
        """Show a stage."""
        self._here = name
        self.view.dress()
        self._show_stage()  # before it is seen: it is laid out once, at the size it then has
        self.stages.setCurrentWidget(self.view)
        self._show_heading()
        self.view.takes_keys().setFocus()

    def _shut(self, drawer: QWidget) -> None:
        drawer.hide()
        self.view.takes_keys().setFocus()

    def open_why(self, circuit_id: str) -> None:
        """Open the why drawer on a circuit, in place of the findings."""
        self.session.select(circuit_id)
        self.findings.hide()
        dress(self.why)
        self.why.show()
        self.why.show_circuit(self.session.draft, circuit_id)

    def toggle_why(self) -> None:
        """Open or shut the why drawer."""
        if self.why.isVisible():
            self._shut(self.why)
        else:
            self.open_why(self.session.selected)

    def toggle_findings(self) -> None:
        """Open or shut the findings beside the stage, in place of the why drawer."""
        if self.findings.isVisible():
            self._shut(self.findings)
            return
        self.why.hide()
        dress(self.findings)
        self.findings.show_draft(self.session.draft)
        self.findings.show()
        self.findings.list.setFocus()

    def take_advice(self) -> None:
        """Take what the strip says, or open the why drawer where it has no edit to offer."""
        if not self.circuits.take_advice(self.session.selected):
            self.open_why(self.session.selected)

    def find_anything(self) -> None:
        """Open the finder."""
        finder = Finder(self.session.draft, self)
        finder.target_chosen.connect(self.reveal)
        opened(finder)

    def reveal(self, subject: str) -> None:
        """Go to a circuit, load, run or block, on the stage where it is at home."""
        homes = (HELM, SUPPLY, THREADS, LOADS, RUNS, HARNESS)
        if self._here in homes and self.view.reveal(subject):
            return
        for name in homes:
            if self.views[name].reveal(subject):
                self.open_stage(name)
                self.view.reveal(subject)
                return

    def fold_keel(self) -> None:
        """Show or hide the keel strip."""
        self.keel.setVisible(not self.keel.isVisible())

    def use_theme(self, tones: Tones) -> None:
        """Dress the window."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        apply_theme(app, tones)
        self.tones = tones
        self._dress()
        for part in (self.head, self.rail, self.keel, self.why, self.findings):
            part.set_tones(tones)
        for view in self.views.made.values():
            view.set_tones(tones)

    def _dress(self) -> None:
        """Put the theme on what is seen."""
        self.view.dress()
        for part in (self.head, self.why, self.findings, self.statusBar()):
            if part.isVisible() or part in (self.head, self.statusBar()):
                dress(part)

    def closeEvent(self, event: QCloseEvent) -> None:
        if is_waiting():
            event.ignore()
            QTimer.singleShot(AGAIN_MS, self, self.close)
            return
        if not self.files.may_leave():
            event.ignore()
            return
        for view in self.views.made.values():
            view.stop()
        self.state_watch.stop()
        self.session.close()
        event.accept()
