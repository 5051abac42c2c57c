"""Other ways to do a thing, each drafted first: a table to pick from, recorded with a reason."""

from collections.abc import Callable, Iterator, Sequence
from typing import Any

from PySide6.QtWidgets import QDialog, QHBoxLayout, QHeaderView, QLineEdit, QVBoxLayout, QWidget

from vivid_loom.desktop.widgets.controls import button, small, typed
from vivid_loom.desktop.widgets.text_table import Cell, TextModel, TextTable
from vivid_loom.desktop.work.latest_job import LatestJob

__all__ = ["WaysOutDialog"]


class WaysOutDialog(QDialog):
    """Works ways out off the GUI thread and lists them; subclasses say what each one is.

    Attributes:
        columns: headings; the last takes the room that is left.
        take_words: on the button that records the picked one.
        none_may: said where nothing may be picked.
    """

    columns: tuple[str, ...] = ()
    take_words = ""
    none_may = ""

    def __init__(self, title: str, head: str, reason: str, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.resize(980, 380)
        self._ways: Sequence[Any] = ()
        self.head = small(head)
        self.table = TextTable(TextModel(self.columns), "Ways out")
        header = self.table.horizontalHeader()
        last = len(self.columns) - 1
        self.table.fit(range(last))
        header.setSectionResizeMode(last, QHeaderView.ResizeMode.Stretch)
        self.reason, self.initials = QLineEdit(reason), QLineEdit()
        self.reason.setAccessibleName("Reason")
        self.initials.setPlaceholderText("Initials")
        self.initials.setAccessibleName("Initials")
        self.initials.setFixedWidth(80)
        self.take = button(self.take_words, self._take, "Kept in the order and printed")
        bottom = QHBoxLayout()
        bottom.addWidget(self.reason, 1)
        bottom.addWidget(self.initials)
        bottom.addWidget(self.take)
        self.note = small("Each is drafted and held against every rule …")
        layout = QVBoxLayout(self)
        for widget in (self.head, self.table, self.note):
            layout.addWidget(widget, 1 if widget is self.table else 0)
        layout.addLayout(bottom)
        self.job = LatestJob(self)
        self.job.answered.connect(self._show)

    def ask(self, ways: Callable[[], Sequence[Any]]) -> None:
        """Work the ways out and list them."""

        def work() -> Iterator[object]:
            yield ways()

        self.job.ask(work)

    def allowed(self, way: Any) -> bool:
        """Tell whether a way may be picked."""
        raise NotImplementedError

    def cells(self, way: Any) -> tuple[Cell, ...]:
        """Return a way as the table shows it."""
        raise NotImplementedError

    def record(self, way: Any, reason: str, initials: str) -> None:
        """Have the picked way recorded."""
        raise NotImplementedError

    def _show(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        self._ways = answer
        self.table.rows_model.fill([(str(i), self.cells(way)) for i, way in enumerate(answer)])
        if answer:
            self.table.selectRow(0)
        self.note.setText("" if any(map(self.allowed, answer)) else self.none_may)

    def _take(self) -> None:
        index = self.table.currentIndex().row()
        way = self._ways[index] if 0 <= index < len(self._ways) else None
        if way is None or not self.allowed(way):
            self.note.setText("Pick one that may go in.")
            return
        if not typed(self.reason) or not typed(self.initials):
            self.note.setText("It is recorded with its reason and initials.")
            return
        self.record(way, typed(self.reason), typed(self.initials))
        self.accept()
