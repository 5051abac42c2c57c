"""The frame: rail, head line, stages, keel strip and why drawer around one session."""

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QCloseEvent, QKeySequence
from PySide6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMessageBox,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.demo import demo_orders
from vivid_loom.desktop.finder import Finder
from vivid_loom.desktop.findings_list import FindingsList
from vivid_loom.desktop.head_line import HeadLine
from vivid_loom.desktop.keel_strip import KeelStrip
from vivid_loom.desktop.loads_view import LoadsView
from vivid_loom.desktop.menus import make_menus
from vivid_loom.desktop.order_view import OrderView
from vivid_loom.desktop.packet_view import PacketView
from vivid_loom.desktop.session import Session
from vivid_loom.desktop.stage_rail import StageRail
from vivid_loom.desktop.theme import DARK, LIGHT, apply_theme
from vivid_loom.desktop.threads_stage import ThreadsStage
from vivid_loom.desktop.why_drawer import WhyDrawer
from vivid_loom.drafting import DraftError
from vivid_loom.order import (
    Order,
    Override,
    choose_option,
    clear_override,
    drop_option,
    set_override,
    use_profile,
)
from vivid_loom.quantities.document import DocumentError
from vivid_loom.sheets.cautions import SHORT_CAUTION
from vivid_loom.sheets.threads import Tones

__all__ = ["MainWindow"]

THREADS = 2


class MainWindow(QMainWindow):
    """One window on one order."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setWindowTitle("Vivid Loom")
        self.resize(1280, 800)
        self.setMinimumSize(1024, 700)
        self.head = HeadLine()
        self.rail = StageRail()
        self.keel = KeelStrip()
        self.why = WhyDrawer()
        self.order_view = OrderView()
        self.loads_view = LoadsView()
        self.threads_stage = ThreadsStage()
        self.threads = self.threads_stage.threads
        self.packet_view = PacketView()
        self.stages = QStackedWidget()
        for view in (self.order_view, self.loads_view, self.threads_stage, self.packet_view):
            self.stages.addWidget(view)
        self._lay_out()
        make_menus(self)
        self._connect()
        self.why.hide()
        self.use_theme(LIGHT)
        self._draft_changed()
        self.open_stage(THREADS)
        rows = self.threads.visible_ids()
        self.session.select(rows[0] if rows else "")

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
        s.undo_stack.cleanChanged.connect(self._clean_changed)
        self.rail.stage_picked.connect(self.open_stage)
        self.threads.circuit_picked.connect(s.select)
        self.threads.why_asked.connect(self.open_why)
        self.loads_view.circuit_picked.connect(s.select)
        self.order_view.option_toggled.connect(self.toggle_option)
        self.order_view.profile_chosen.connect(lambda name: self._apply_profile(name))
        self.order_view.order_opened.connect(lambda path: self.open_order(Path(path)))
        self.packet_view.exported.connect(self.say)
        self.why.override_asked.connect(self._override)
        self.why.clear_asked.connect(self._clear_override)
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

    def _draft_changed(self) -> None:
        draft = self.session.draft
        self.head.set_draft(draft, modified=not self.session.undo_stack.isClean())
        self.order_view.set_draft(draft)
        self.order_view.set_queue(self._queue(), self.session.path)
        self.loads_view.set_draft(draft)
        self.threads.set_draft(draft)
        self.packet_view.set_draft(draft)
        self._show_selection(self.session.selected)
        self._mark_stages()

    def _clean_changed(self, clean: bool) -> None:
        self.head.set_draft(self.session.draft, modified=not clean)

    def _queue(self) -> tuple[Path, ...]:
        beside = sorted(self.session.path.parent.glob("*.loom.json"))
        return tuple(dict.fromkeys([*beside, *demo_orders()]))

    def _mark_stages(self) -> None:
        draft = self.session.draft
        unknown = sum(f.code in ("L01", "L02") for f in draft.findings)
        errors = sum(f.severity == "error" for f in draft.findings)
        marks = ("", str(unknown or ""), str(errors or ""), "")
        self.rail.set_state(self.stages.currentIndex(), marks)

    def _show_selection(self, circuit_id: str) -> None:
        draft = self.session.draft
        self.threads.set_selected(circuit_id)
        self.keel.show_selection(draft, circuit_id)
        if self.why.isVisible():
            self.why.show_circuit(draft, circuit_id)

    def _selection_changed(self, circuit_id: str) -> None:
        self._show_selection(circuit_id)
        row = self.session.draft.circuit(circuit_id)
        supplies = {supply.id: supply for supply in self.session.boat.supplies}
        fed_by = supplies.get(row.planned.feeds or row.planned.source) if row else None
        if row and fed_by and fed_by.level == "battery_direct":
            self.say(f"Caution: {row.planned.label} stays live with the battery switch off.")
        elif row:
            self.say(SHORT_CAUTION)

    def open_stage(self, index: int) -> None:
        """Show a stage."""
        self.stages.setCurrentIndex(index)
        self._mark_stages()
        focus = (self.order_view.queue, self.loads_view.table, self.threads,
                 self.packet_view.list)[index]  # fmt: skip
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

    def toggle_option(self, option_id: str, on: bool) -> None:
        """Tick an option with all it requires, or untick it, as one undoable edit."""
        option = self.session.boat.option(option_id)
        if option is None:
            return
        before = sum(w.cut_mm for w in self.session.draft.assembled.wires)
        wires = len(self.session.draft.assembled.wires)
        name, change = (choose_option if on else drop_option)(option_id, option.name)

        def with_required(order: Order) -> Order:
            order = change(order)
            for needed in option.requires if on else ():
                order = choose_option(needed, needed)[1](order)
            return order

        if not self.session.apply((name, with_required)):
            self._draft_changed()
            return
        after = self.session.draft.assembled.wires
        metres = (sum(w.cut_mm for w in after) - before) / 1000
        self.say(f"{name}: {len(after) - wires:+d} wires, {metres:+.1f} m. Ctrl+Z takes it back.")

    def _apply_profile(self, profile_id: str) -> None:
        if profile_id != self.session.order.profile:
            self.session.apply(use_profile(profile_id))

    def _override(self, override: Override) -> None:
        if self.session.apply(set_override(override)):
            self.say(f"Overruled; printed in the packet with {override.initials}'s reason.")

    def _clear_override(self, subject: str, field: str) -> None:
        if self.session.order.override(subject, field):  # type: ignore[arg-type]
            self.session.apply(clear_override(subject, field))  # type: ignore[arg-type]

    def take_advice(self) -> None:
        """Give an overruled gauge or protection of the selection back to the draft."""
        subject = self.session.selected
        for field in ("gauge", "protection_a"):
            if self.session.order.override(subject, field):
                self._clear_override(subject, field)
                return
        self.open_why(subject)

    def find_anything(self) -> None:
        """Open the finder."""
        finder = Finder(self.session.draft, self)
        finder.target_chosen.connect(self._jump)
        finder.open()

    def show_findings(self) -> None:
        """Open the list of findings."""
        findings = FindingsList(self.session.draft, self)
        findings.finding_chosen.connect(self._jump)
        findings.open()

    def _jump(self, subject: str) -> None:
        draft = self.session.draft
        if draft.circuit(subject):
            self.open_stage(THREADS)
            self.threads_stage.search.clear()
            self.session.select(subject)
        elif subject in draft.aboard.loads:
            self.open_stage(1)
            names = [row[0] for row in self.loads_view.model.rows]
            self.loads_view.table.selectRow(names.index(draft.aboard.loads[subject].name))
        else:
            feeder = next((f.id for f in draft.feeders if f.planned.feeds == subject), "")
            if feeder:
                self._jump(feeder)

    def fold_keel(self) -> None:
        self.keel.setVisible(not self.keel.isVisible())

    def toggle_theme(self, dark: bool) -> None:
        self.use_theme(DARK if dark else LIGHT)

    def use_theme(self, tones: Tones) -> None:
        """Dress the window."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        apply_theme(app, tones)
        for view in (self.head, self.rail, self.threads, self.keel, self.loads_view):
            view.set_tones(tones)

    def open_order(self, path: Path) -> None:
        """Open another order; unsaved edits are asked about first."""
        if path.resolve() == self.session.path.resolve() or not self._may_leave():
            return
        try:
            self.session.open(path)
        except (DocumentError, DraftError) as error:
            self.say(str(error))
            return
        rows = self.threads.visible_ids()
        self.session.select(rows[0] if rows else "")

    def ask_open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open order", "", "Orders (*.loom.json)")
        if name:
            self.open_order(Path(name))

    def save(self) -> bool:
        """Save in place; shipped demo orders are saved under another name."""
        if self.session.is_demo:
            return self.ask_save_as()
        return self._save_to(self.session.path)

    def ask_save_as(self) -> bool:
        name, _ = QFileDialog.getSaveFileName(
            self, "Save order", str(Path.home() / self.session.path.name), "Orders (*.loom.json)"
        )
        return bool(name) and self._save_to(Path(name))

    def _save_to(self, path: Path) -> bool:
        try:
            self.session.save(path)
        except OSError as error:
            self.say(f"Cannot save {path}: {error.strerror}. Nothing is lost.")
            return False
        self.say(f"Saved {path}")
        self._draft_changed()
        return True

    def _may_leave(self) -> bool:
        if self.session.undo_stack.isClean():
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self, "Unsaved edits", "Save the edits to this order first?",
            buttons.Save | buttons.Discard | buttons.Cancel,
        )  # fmt: skip
        if answer == buttons.Save:
            return self.save()
        return answer == buttons.Discard

    def closeEvent(self, event: QCloseEvent) -> None:
        if self._may_leave():
            event.accept()
        else:
            event.ignore()
