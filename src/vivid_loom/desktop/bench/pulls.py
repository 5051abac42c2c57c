"""Pull tests: which test piece is next, what it bore, and which crimps a failed one holds back."""

from typing import Final

from PySide6.QtCore import Signal
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from vivid_loom.bench.pulls import CrimpGroup, Pull, held_back, samples_left
from vivid_loom.bench.record import pull_words, remade_words
from vivid_loom.desktop.bench.book import BenchBook
from vivid_loom.desktop.widgets.controls import button, typed
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.text_table import Cell, pane
from vivid_loom.drafting import Draft
from vivid_loom.sheets.lists.bench_lists import draft_crimps

__all__ = ["PullPage"]

HEADINGS: Final = ("Terminal", "Gauge", "Jaw", "Crimps", "Bears N", "Pieces left", "Held back")


class PullPage(QWidget):
    """Crimps by terminal, gauge and jaw.

    Signals:
        said (str): what has happened.
    """

    said = Signal(str)

    def __init__(self, book: BenchBook) -> None:
        super().__init__()
        self.book = book
        self._draft: Draft | None = None
        self._groups: tuple[CrimpGroup, ...] | None = None  # None: not looked at yet
        self._stale = True
        self.told = PlainLabel()
        self.told.setWordWrap(True)
        self.table = pane(HEADINGS, "Crimps by terminal, gauge and jaw", 0)
        self.held = pane(("Crimps held back",), "Crimps held back", 0)
        self.newton, self.tool = QLineEdit(), QLineEdit()
        self.newton.setPlaceholderText("bore, N")
        self.newton.setAccessibleName("What the test piece bore for a minute, in N")
        self.tool.setPlaceholderText("tool no.")
        self.tool.setAccessibleName("Number of the tool")
        for field in (self.newton, self.tool):
            field.setFixedWidth(100)
        self.newton.returnPressed.connect(self.pull)
        row = QHBoxLayout()
        row.setSpacing(8)
        self.next = PlainLabel()
        row.addWidget(self.next)
        row.addWidget(self.newton)
        row.addWidget(self.tool)
        row.addWidget(button("Record pull", self.pull, "Log what the next test piece bore (Enter)"))
        row.addWidget(button("Crimped anew", self.remake, "All crimps held back were made anew"))
        row.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 0)
        layout.setSpacing(6)
        layout.addWidget(self.told)
        layout.addLayout(row)
        layout.addWidget(self.table, 2)
        layout.addWidget(self.held, 1)
        self.table.selectionModel().selectionChanged.connect(lambda *_: self._show_group())
        self.book.written.connect(self.refresh)

    def set_draft(self, draft: Draft) -> None:
        """Show a draft's crimps: where nobody looks they wait."""
        self._draft, self._groups = draft, None
        self.refresh()

    @property
    def groups(self) -> tuple[CrimpGroup, ...]:
        """The crimps of the draft that is shown."""
        if self._groups is None:
            self._groups = draft_crimps(self._draft) if self._draft else ()
        return self._groups

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if self._stale:
            self.refresh()

    def refresh(self) -> None:
        """Show what the log says now."""
        self._stale = not self.isVisible()
        if self._stale:
            return
        events = self.book.record.pulls
        rows, left, held = [], 0, 0
        for group in self.groups:
            pieces, back = samples_left(group, events), held_back(group, events)
            left, held = left + len(pieces), held + len(back)
            tone = "alarm" if back else ""
            cells = (
                Cell(group.terminal, bold=True),
                Cell(str(group.gauge)),
                Cell(group.jaw),
                Cell(str(len(group.crimps))),
                Cell(f"{group.newton:.0f}"),
                Cell(", ".join(map(str, pieces)) or "none"),
                Cell(str(len(back)) if back else "", tone),
            )
            rows.append((group.id, cells))
        self.table.rows_model.fill(rows)
        self.told.setText(
            f"{left} test pieces to crimp and pull, {held} crimps held back. A test piece is made "
            "with the same jaw just before the crimp of its number, and bears its pull a minute."
        )
        if self.groups and not self.table.selected_keys():
            self.table.selectRow(0)
        self._show_group()

    @property
    def group(self) -> CrimpGroup | None:
        """The crimps that are looked at."""
        keys = self.table.selected_keys()
        return next((g for g in self.groups if keys and g.id == keys[0]), None)

    def _show_group(self) -> None:
        group = self.group
        if group is None:
            return
        events = self.book.record.pulls
        left = samples_left(group, events)
        words = (
            f"Next: piece {left[0]} of {len(group.crimps)}" if left else "All pieces have passed"
        )
        self.next.setText(words)
        back = held_back(group, events)
        self.held.rows_model.fill([(c.end, (Cell(c.label, "alarm"),)) for c in back])

    def pull(self) -> None:
        """Log the next test piece of the group that is looked at."""
        group = self.group
        if group is None:
            return
        left = samples_left(group, self.book.record.pulls)
        if not left:
            self.said.emit("Every test piece of this line has passed.")
            return
        text = typed(self.newton).replace(",", ".")
        try:
            newton = float(text)
        except ValueError:
            newton = -1.0
        if not 0 <= newton < 1e6:
            self.said.emit(f"Found {text!r}, expected what the piece bore, in N.")
            return
        tool = typed(self.tool)
        if not tool:
            self.said.emit("Which tool? Put its number into its field.")
            return
        done = Pull(group.id, left[0], newton, tool, newton >= group.newton)
        if self.book.add("pull", pull_words(done)):
            self.newton.clear()
            held = len(held_back(group, self.book.record.pulls))
            outcome = "passed" if done.passed else f"FAILED: {held} crimps are held back"
            self.said.emit(f"Piece {done.number}: {newton:g} of {group.newton:.0f} N, {outcome}.")

    def remake(self) -> None:
        """Log that all crimps of the group that are held back were made anew."""
        group = self.group
        back = held_back(group, self.book.record.pulls) if group else ()
        if not back:
            self.said.emit("No crimp of this line is held back.")
        else:
            self.book.add("remade", remade_words(crimp.end for crimp in back))
