"""What may go in for a device that is not to be had, and why the rest may not."""

import datetime
from collections.abc import Iterator

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QDialog, QHBoxLayout, QHeaderView, QLineEdit, QVBoxLayout, QWidget

from vivid_loom.boat import Boat
from vivid_loom.desktop.widgets.controls import button, small, typed
from vivid_loom.desktop.widgets.text_table import Cell, TextModel, TextTable
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.drafting import Draft
from vivid_loom.order import Override
from vivid_loom.workshop.substitutes import Stock, Substitute, missing, substitutes

__all__ = ["StockDialog"]


class StockDialog(QDialog):
    """Signals:

    override_asked (object): an ``Override`` that records the substitution.
    """

    override_asked = Signal(object)

    def __init__(
        self,
        draft: Draft,
        model: Boat,
        circuit_id: str,
        stock: Stock,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Another device")
        self.resize(820, 380)
        self._circuit = circuit_id
        self._ways: tuple[Substitute, ...] = ()
        row = draft.circuit(circuit_id)
        held = row.sized.protection if row and row.sized else None
        self._asked = f"{held.value:g} A {row.planned.family}" if row and held else "no device"
        here = circuit_id not in {r.id for r in missing(draft, stock)}
        told = "is in stock" if here else "is not in stock"
        self.head = small(
            f"{circuit_id} asks for {self._asked}, which {told}. Each way out is "
            "drafted and held against every rule."
        )
        self.table = TextTable(TextModel(("instead", "", "why")), "Ways out")
        header = self.table.horizontalHeader()
        for column in (0, 1):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(2, QHeaderView.ResizeMode.Stretch)
        self.reason, self.initials = QLineEdit(f"{self._asked} out of stock"), QLineEdit()
        self.reason.setAccessibleName("Reason")
        self.initials.setPlaceholderText("Initials")
        self.initials.setAccessibleName("Initials")
        self.initials.setFixedWidth(80)
        self.take = button("Record substitution", self._take, "Kept in the order and printed")
        bottom = QHBoxLayout()
        bottom.addWidget(self.reason, 1)
        bottom.addWidget(self.initials)
        bottom.addWidget(self.take)
        self.note = small("")
        layout = QVBoxLayout(self)
        for widget in (self.head, self.table, self.note):
            layout.addWidget(widget, 1 if widget is self.table else 0)
        layout.addLayout(bottom)
        self.job = LatestJob(self)
        self.job.answered.connect(self._show)

        def work() -> Iterator[object]:
            yield substitutes(draft, model, circuit_id, stock)

        self.job.ask(work)

    def _show(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        self._ways = answer
        self.table.rows_model.fill(
            [
                (
                    f"{way.field} {way.value}",
                    (
                        Cell(way.words, bold=way.allowed),
                        Cell(
                            "may go in" if way.allowed else "refused",
                            "" if way.allowed else "alarm",
                        ),
                        Cell(way.verdict),
                    ),
                )
                for way in self._ways
            ]
        )
        if self._ways:
            self.table.selectRow(0)
        blocked = not any(way.allowed for way in self._ways)
        self.note.setText("Blocked: nothing in stock may go in." if blocked else "")

    def _take(self) -> None:
        index = self.table.currentIndex().row()
        way = self._ways[index] if 0 <= index < len(self._ways) else None
        if way is None or not way.allowed:
            self.note.setText("Pick one that may go in.")
            return
        if not typed(self.reason) or not typed(self.initials):
            self.note.setText("A substitution is recorded with its reason and initials.")
            return
        self.override_asked.emit(
            Override(
                subject=self._circuit,
                field=way.field,
                value=way.value,
                reason=typed(self.reason),
                initials=typed(self.initials),
                time=datetime.datetime.now().isoformat(timespec="minutes"),
                kind="substitution",
            )
        )
        self.accept()
