"""The order under two profiles, or as it was issued and as it stands, side by side."""

from collections.abc import Callable, Iterator

from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Boat
from vivid_loom.desktop.widgets.controls import small
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.text_table import Cell, TextModel, TextTable
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.drafting import Draft, DraftError, draft
from vivid_loom.order import PROFILES, use_profile
from vivid_loom.quantities.document import DocumentError
from vivid_loom.workshop.comparison import Comparison, Difference, compared

__all__ = ["CompareDialog", "SinceDialog"]

OWN = "as this order stands"


Line = tuple[str, tuple[Cell, ...]]


def _title(text: str) -> Line:
    return text, (Cell(text, "quiet", True), Cell(""), Cell(""))


def _line(group: str, found: Difference) -> Line:
    """Return one figure under both profiles; what is the same steps back."""
    tone = "" if found.first != found.second else "quiet"
    name = f"      {found.what}" if group not in ("", "Findings") else found.what
    return f"{group} {found.what}", (Cell(name), Cell(found.first, tone), Cell(found.second, tone))


def _lines(found: Comparison) -> list[Line]:
    """Return the sums, then findings and circuits as far as they differ."""
    lines = [_line("", each) for each in found.sums]
    lines.append(_title("Findings" if found.findings else "Findings: none differ"))
    lines += [_line("Findings", each) for each in found.findings]
    lines.append(_title("Circuits" if found.circuits else "Circuits: none differ"))
    for circuit in found.circuits:
        lines.append((circuit.what, (Cell(circuit.what, "", True), Cell(""), Cell(""))))
        lines += [_line(circuit.what, each) for each in circuit.figures]
    return lines


def _table(name: str) -> TextTable:
    table = TextTable(TextModel(("what", "first", "second")), name)
    table.fit([0])
    for column in (1, 2):
        header = table.horizontalHeader()
        header.setSectionResizeMode(column, QHeaderView.ResizeMode.Stretch)
    return table


def _filled(table: TextTable, found: Comparison, sides: tuple[str, str]) -> str:
    """Fill a table with what differs; return what is to be said beside it."""
    table.rows_model.headings = ("what", *sides)
    table.rows_model.fill(_lines(found))
    count = len(found.circuits)
    return f"Circuits and feeders that differ: {count}; only what differs is listed."


class SinceDialog(QDialog):
    """What has changed since a revision was issued, drafted off the GUI thread."""

    def __init__(
        self, issued: Callable[[], Draft], number: int, now: Draft, parent: QWidget | None = None
    ) -> None:
        """Draft what was issued beside what stands.

        Args:
            issued: drafts it; raises DocumentError where it cannot be taken any more.
        """
        super().__init__(parent)
        self.setWindowTitle(f"Since revision {number}")
        self.resize(1060, 640)
        self._number = number
        self.table = _table("What has changed since it was issued")
        self.note = small("Drafting what was issued …")
        layout = QVBoxLayout(self)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.note)
        self.job = LatestJob(self)
        self.job.answered.connect(self._show)

        def work() -> Iterator[object]:
            try:
                yield compared(issued(), now)
            except DocumentError as error:
                yield str(error)

        self.job.ask(work)

    def _show(self, answer: object) -> None:
        if not isinstance(answer, Comparison):
            self.note.setText(f"What was issued cannot be drafted any more: {answer}")
            return
        self.note.setText(_filled(self.table, answer, (f"revision {self._number}", "now")))


class CompareDialog(QDialog):
    """Drafts the order twice, off the GUI thread, and shows what differs."""

    def __init__(self, standing: Draft, model: Boat, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Two profiles side by side")
        self.resize(1060, 640)
        self._standing, self._model = standing, model
        self.job = LatestJob(self)
        self.first, self.second = QComboBox(), QComboBox()
        for combo, name in ((self.first, "First profile"), (self.second, "Second profile")):
            combo.setAccessibleName(name)
            combo.addItem(OWN, "")
            for key, profile in PROFILES.items():
                combo.addItem(profile.name, key)
        other = "iso" if standing.aboard.profile.id != "iso" else "us"
        self.second.setCurrentIndex(self.second.findData(other))
        self.table = _table("What differs between the two profiles")
        self.note = small("")
        top = QHBoxLayout()
        for widget in (PlainLabel("Draft"), self.first, PlainLabel("beside"), self.second):
            top.addWidget(widget)
        top.addStretch(1)
        layout = QVBoxLayout(self)
        layout.addLayout(top)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.note)
        for combo in (self.first, self.second):
            combo.currentIndexChanged.connect(lambda _: self.work_out())
        self.job.answered.connect(self._show)
        self.work_out()

    def work_out(self) -> None:
        """Draft both, in the background."""
        keys = (self.first.currentData(), self.second.currentData())
        standing, model = self._standing, self._model
        self.note.setText("Drafting both …")

        def made(key: str) -> Draft:
            if not key:
                return standing
            order = use_profile(key)[1](standing.aboard.order)
            return draft(order, model, standing.catalogue, standing)

        def work() -> Iterator[object]:
            try:
                yield compared(made(keys[0]), made(keys[1]))
            except DraftError as error:
                yield str(error)

        self.job.ask(work)

    def _show(self, answer: object) -> None:
        if not isinstance(answer, Comparison):
            self.note.setText(f"This cannot be drafted: {answer}")
            return
        self.note.setText(_filled(self.table, answer, (answer.first, answer.second)))
