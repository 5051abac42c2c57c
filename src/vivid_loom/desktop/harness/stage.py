"""The eighth stage: each harness on its form board, wire by wire to the bench."""

import datetime
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Final

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QInputDialog,
    QLineEdit,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.desktop.harness.board_view import BoardView, PlugView
from vivid_loom.desktop.harness.parts import (
    NOTHING_TO_BUILD,
    Part,
    built_by,
    part_with,
    parts_of,
)
from vivid_loom.desktop.harness.rows import (
    BRANCH_HEADINGS,
    CUT_HEADINGS,
    PLAN_HEADINGS,
    branch_lines,
    cut_lines,
    label_lines,
    plan_lines,
    step_lines,
)
from vivid_loom.desktop.harness.wall import WallDialog
from vivid_loom.desktop.widgets.button_row import ButtonRow, Deed
from vivid_loom.desktop.widgets.controls import typed
from vivid_loom.desktop.widgets.dialogs import opened
from vivid_loom.desktop.widgets.picture_page import fill_page
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.text_table import TextTable, pane
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import StageView
from vivid_loom.drafting import Draft
from vivid_loom.order import tick_wire, untick_wires
from vivid_loom.quantities import enumerated, file_name
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.sheets.board_files import PAPERS, board_pages
from vivid_loom.sheets.drawings.board_drawing import HarnessBoard, harness_boards
from vivid_loom.sheets.lists.build_lists import CutRow
from vivid_loom.sheets.lists.build_order import bench_rows
from vivid_loom.sheets.paper.pdf import pdf_bytes
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.workshop.harness.built import board_changes, tick_of, ticked_wires

__all__ = ["HarnessStage"]


NAMED: Final = 4  # changed wires told by name


class HarnessStage(StageView):
    """A harness on its board; below it branches, plugs, cut list, ends, labels, cut plan."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self._draft: Draft | None = None
        self.boards: Sequence[HarnessBoard] = ()
        self.rows: tuple[CutRow, ...] = ()
        self.wire = ""
        self.parts: dict[str, Part] = {}
        self.who = QLineEdit()
        self.who.setPlaceholderText("initials")
        self.who.setAccessibleName("Initials of whoever builds")
        self.who.setFixedWidth(80)
        self.who.textEdited.connect(self._who_typed)
        self.harness = QComboBox()
        self.harness.setAccessibleName("Harness")
        self.harness.setToolTip("Which harness is looked at (H for the next)")
        self.harness.activated.connect(lambda _: self._show_harness())
        self.told = PlainLabel()
        self.told.setWordWrap(True)
        self.view = BoardView()
        self.plugs = PlugView()
        self.branches = pane(BRANCH_HEADINGS, "Branches", 2)
        self.cut = pane(CUT_HEADINGS, "Cut list, spool by spool", 6)
        self.steps = pane(("End", "", "Step"), "Steps of both ends", 2)
        self.labels = pane(("Label", "For a", "End", "Letters", "Sleeve"), "Labels", 0)
        self.plan = pane(PLAN_HEADINGS, "Cut plan", 3)
        self.plan_told = PlainLabel()
        self.plan_told.setWordWrap(True)
        self.below = QTabWidget()
        self.job = LatestJob(self)
        self.job.answered.connect(self._laid_out)
        self.job.finished.connect(self._say_how_far)
        self._later = QTimer(self)  # the board is laid out once the hand has come to rest
        self._later.setSingleShot(True)
        self._later.setInterval(150)
        self._later.timeout.connect(self._lay_board)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        bar = ButtonRow(
            (
                Deed("Built", self.tick, "Tick the selected wire as built, or not (Space)"),
                Deed("Pulled out", self.pulled_out, "What nothing asks for is out of the harness"),
                Deed("Board view…", self.open_wall, "One wire at a time, for the wall (B)"),
                Deed("Closer", self.view.closer, "Come nearer (+, or Ctrl and the wheel)"),
                Deed("Farther", self.view.farther, "Step back (−)"),
                Deed("Whole", self.view.fit, "The whole board (0)"),
                Deed("Print board…", self.ask_print, "At full size, in sheets or from a roll"),
            )
        )
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(self.harness)
        head.addWidget(self.who)
        head.addWidget(bar, 1)
        plan_page = QWidget()
        in_plan = QVBoxLayout(plan_page)
        in_plan.setContentsMargins(0, 4, 0, 0)
        in_plan.addWidget(self.plan_told)
        in_plan.addWidget(self.plan, 1)
        self.below.addTab(self.cut, "Cut list")
        self.below.addTab(self.steps, "Steps of its ends")
        self.below.addTab(self.branches, "Branches")
        self.below.addTab(self.plugs, "Plugs")
        self.below.addTab(self.labels, "Labels")
        self.below.addTab(plan_page, "Cut plan")
        fill_page(self, (head, self.told), self.view, self.below, (330, 210))

    def _connect(self) -> None:
        self.view.spot_picked.connect(self._picked)
        self.plugs.spot_picked.connect(lambda _, wire: self.select_wire(wire))
        for table in (self.cut, self.labels, self.plan):
            table.clicked.connect(lambda _, t=table: self._row_picked(t))
            table.activated.connect(lambda _, t=table: self._row_picked(t))
        self.branches.clicked.connect(lambda _: self._branch_picked())
        self.below.currentChanged.connect(lambda _: self._fill_below())
        for keys, slot in (
            ("B", self.open_wall),
            ("H", self.next_harness),
            ("Space", self.tick),
            ("W", self._ask_why),
        ):
            for taker in (self.view, self.cut):
                shortcut = QShortcut(QKeySequence(keys), taker)
                shortcut.setContext(Qt.ShortcutContext.WidgetShortcut)
                shortcut.activated.connect(slot)

    def set_draft(self, draft: Draft) -> None:
        """Show a draft; the harness that was looked at stays, where there still is one."""
        self._draft = draft
        now = self.harness.currentData()
        self.who.setText(self.session.who)
        self.parts = parts_of(draft)
        self.harness.blockSignals(True)
        self.harness.clear()
        for key, part in self.parts.items():
            self.harness.addItem(part.name, key)
        self.harness.setCurrentIndex(max(0, self.harness.findData(now)))
        self.harness.blockSignals(False)
        self._show_harness()

    @property
    def part(self) -> Part:
        """What is looked at; of no harness where there are no wires."""
        return self.parts.get(str(self.harness.currentData()), NOTHING_TO_BUILD)

    @property
    def harness_id(self) -> str:
        """The harness that is looked at, or whose panels."""
        return self.part.harness

    def _show_harness(self) -> None:
        if self._draft is None:
            return
        self.rows = bench_rows(self._draft, self.harness_id, with_panel=self.part.with_panel)
        self.plugs.set_harness(self._draft, self.harness_id)
        if self.part.with_panel:  # which lies on no board
            self._later.stop()
            self.job.stop()
            self._laid_out((self._draft, self.part, ()))
        else:
            self._later.start()
        self._say_how_far()
        self._fill_below()

    def _say_how_far(self) -> None:
        if self._draft is None:
            return
        built = ticked_wires(self._draft)
        done = sum(row.wire_id in built for row in self.rows)
        told = f"{len(self.rows)} wires, {done} built."
        if changes := board_changes(self._draft):
            named = enumerated([f"{c.kind} {c.was.wire}" for c in changes[:NAMED]])
            more = f" and {len(changes) - NAMED} more" if len(changes) > NAMED else ""
            told = f"BUILT OTHERWISE SINCE: {named}{more}. {told}"
        for board in self.boards:
            plan, tree = board.plan, board.tree
            metres = sum(branch.length_mm for branch in tree.branches) / 1000
            size = f"{plan.width_mm / 1000:.1f} × {plan.height_mm / 1000:.1f} m"
            told += f" {len(tree.branches)} branches, {metres:.1f} m; board {size},"
            told += f" {plan.used_m2:.2f} m² used."
        if self.part.with_panel:
            told += " Built with the panels: Helm shows where each of them lies."
        elif not self.boards:
            laying = self.job.running or self._later.isActive()
            told += (
                " The board is being laid out…" if laying else " No board is long enough for it."
            )
        self.told.setText(told)

    def _lay_board(self) -> None:
        """Lay the board out beside the work."""
        draft = self._draft
        if draft is None or not self.harness_id:
            return
        assembly = next(a for a in draft.aboard.boat.assemblies if a.id == self.harness_id)
        part = self.part

        def work() -> Iterator[object]:
            yield draft, part, harness_boards(draft, assembly)

        self.job.ask(work)

    def _laid_out(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        draft, part, boards = answer
        assert isinstance(draft, Draft)
        if draft is not self._draft or part != self.part:
            return
        self.boards = boards
        self.view.set_boards(draft, boards)
        self._say_how_far()
        self._fill_below()

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self.view.set_tones(tones)
        self.plugs.set_tones(tones)

    def takes_keys(self) -> QWidget:
        """Return the picture."""
        return self.view

    def stop(self) -> None:
        """Stop laying the board out."""
        self._later.stop()
        self.job.stop()

    def wait_for_board(self) -> None:
        """Lay the board out at once; for pictures."""
        self._later.stop()
        if self._draft is not None and not self.part.with_panel:
            assembly = next(
                a for a in self._draft.aboard.boat.assemblies if a.id == self.harness_id
            )
            boards = harness_boards(self._draft, assembly)
            self._laid_out((self._draft, self.part, boards))

    # selection

    def reveal(self, subject: str) -> bool:
        """Select a wire, or a plug by its first wire."""
        if self._draft is None:
            return False
        wires = {wire.id: wire for wire in self._draft.assembled.wires}
        plug = next((p for p in self._draft.assembled.plugs if p.id == subject), None)
        name = plug.cavities[0].wires[0] if plug else subject
        if name not in wires:
            return False
        at = [*self.parts].index(part_with(self._draft, wires[name]))
        if at != self.harness.currentIndex():
            self.harness.setCurrentIndex(at)
            self._show_harness()
        self.select_wire(name)
        return True

    def show_circuit(self, circuit_id: str) -> None:
        """Mark the first wire of a circuit that this harness has."""
        if any(r.wire_id == self.wire and r.circuit_id == circuit_id for r in self.rows):
            return
        first = next((r.wire_id for r in self.rows if r.circuit_id == circuit_id), "")
        if first:
            self._mark_wire(first)

    def select_wire(self, wire: str) -> None:
        """Select a wire everywhere."""
        self._mark_wire(wire)
        row = self._row()
        if row is not None:
            self.circuit_picked.emit(row.circuit_id)

    def _mark_wire(self, wire: str) -> None:
        self.wire = wire
        self.view.mark("wire", wire)
        self.plugs.mark("wire", wire)
        self._fill_below()
        for table in (self.cut, self.labels, self.plan):
            keys = [key.split(" ")[0] for key in table.rows_model.keys]
            if wire in keys:
                table.selectRow(keys.index(wire))

    def _row(self) -> CutRow | None:
        return next((row for row in self.rows if row.wire_id == self.wire), None)

    def _picked(self, kind: str, name: str) -> None:
        if kind == "wire":
            self.select_wire(name)
        elif kind == "branch":
            self.said.emit(self._branch_words(name))
        elif kind == "station" and self._draft is not None:
            station = self._draft.aboard.boat.stations_by_id[name]
            self.said.emit(f"{station.name}: + comes nearer, 0 shows the whole board.")

    def _branch_words(self, name: str) -> str:
        for board in self.boards:
            for branch in board.tree.branches:
                if branch.id == name:
                    cut = board.sections[name]
                    wires = len(branch.wires)
                    told = f"{name}: {branch.length_mm:.0f} mm, {wires} wires"
                    return f"{told}, {cut.diameter_mm:.1f} mm thick, {cut.supports + 1} ties."
        return ""

    def _row_picked(self, table: TextTable) -> None:
        keys = table.selected_keys()
        if keys:
            self.select_wire(keys[0].split(" ")[0])

    def _branch_picked(self) -> None:
        keys = self.branches.selected_keys()
        if keys and not keys[0].startswith("tail "):
            self.view.select("branch", keys[0])
        elif keys:
            self.view.select("station", keys[0].split(" ")[1])

    # what is done here

    def tick(self) -> None:
        """Tick the selected wire as built, or take its tick back."""
        if self._draft is None:
            return
        wire = next((w for w in self._draft.assembled.wires if w.id == self.wire), None)
        if wire is None:
            self.said.emit("Pick a wire first.")
            return
        self._toggle(wire.id)

    def _who_typed(self) -> None:
        self.session.who = typed(self.who).upper()

    def _toggle(self, name: str) -> bool:
        """Tick a wire as built by whoever is here, or take its tick back; tell whether it is so."""
        if not self.session.who:
            self.said.emit("Who is there? Put your initials into their field first.")
            return False
        draft = self.session.draft
        if name in ticked_wires(draft):
            return self.session.apply(untick_wires((name,)))
        wire = next(w for w in draft.assembled.wires if w.id == name)
        today = datetime.date.today().isoformat()
        return self.session.apply(tick_wire(tick_of(wire, self.session.who, today)))

    def pulled_out(self) -> None:
        """Take back the ticks of wires that nothing asks for: they are out of the harness."""
        if self._draft is None:
            return
        out = [c.was.wire for c in board_changes(self._draft) if c.kind == "pull out"]
        if not out:
            self.said.emit("No wire that is ticked is to be pulled out.")
        elif self.session.apply(untick_wires(out)):
            self.said.emit(f"Out of the harness: {', '.join(out)}.")

    def next_harness(self) -> None:
        """Look at the next harness."""
        self.harness.setCurrentIndex((self.harness.currentIndex() + 1) % self.harness.count())
        self._show_harness()

    def open_wall(self) -> None:
        """Open the board view on this harness."""
        if not self.rows:
            self.said.emit("This harness has no wires.")
            return
        new = [row for row in self.rows if row.conductor_state != "existing"]
        wall = WallDialog(lambda: self.session.draft, self._toggle, new or self.rows, self)
        if self.wire:
            wall.scanned(self.wire)
        opened(wall)

    def ask_print(self) -> None:
        """Ask for paper and file, and write the board at full size."""
        if self._draft is None or not self.boards:
            none = "What is built with the panels lies on no board."
            self.said.emit(none if self.part.with_panel else "The board is still being laid out.")
            return
        paper, ok = QInputDialog.getItem(
            self, "Print the board", "At full size on", PAPERS, 1, False
        )
        if not ok:
            return
        name = file_name(f"board-{self.harness_id}-{paper.lower()}", ".pdf")
        path, _ = QFileDialog.getSaveFileName(self, "Write the board", name, "PDF (*.pdf)")
        if path:
            self.print_board(Path(path), paper)

    def print_board(self, path: Path, paper: str) -> None:
        """Write the board at full size as PDF."""
        assert self._draft is not None
        pages = [page for b in self.boards for page in board_pages(self._draft, b, paper)]
        try:
            write_atomically(path, pdf_bytes(pages, f"Form board {self.harness_id}"))
        except OSError as error:
            self.said.emit(f"{path} cannot be written: {error.strerror}.")
            return
        self.said.emit(f"{len(pages)} sheets in {path}.")

    def _fill_below(self) -> None:
        """Fill the pane that is looked at."""
        draft, seen = self._draft, self.below.currentWidget()
        if draft is None:
            return
        if seen is self.cut:
            self.cut.rows_model.fill([*cut_lines(self.rows, built_by(draft))])
        elif seen is self.steps:
            self.steps.rows_model.fill([*step_lines(draft, self._row())])
        elif seen is self.branches:
            lines = () if self.part.with_panel else branch_lines(draft, self.harness_id)
            self.branches.rows_model.fill([*lines])
        elif seen is self.labels:
            self.labels.rows_model.fill([*label_lines(draft, self.harness_id)])
        elif seen is not self.plugs:
            told, rows = plan_lines(draft, self.session.shop, self.harness_id)
            self.plan_told.setText(told)
            self.plan.rows_model.fill(rows)

    def _ask_why(self) -> None:
        if self.session.selected:
            self.why_asked.emit(self.session.selected)
