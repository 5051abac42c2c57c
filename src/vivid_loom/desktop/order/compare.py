"""The order under two profiles, side by side."""

from collections.abc import Iterator

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
from vivid_loom.workshop.comparison import Comparison, Difference, compared

__all__ = ["CompareDialog"]

OWN = "as this order stands"


Line = tuple[str, tuple[Cell, ...]]


def _title(text: str) -> Line:
    return text, (Cell(text, "quiet", True), Cell(""), Cell(""))


def _line(group: str, found: Difference) -> Line:
    """Return one figure under both profiles; what is the same steps back."""
    tone = "" if found.first != found.second else "quiet"
    name = f"      {found.what}" if group not in ("", "Findings") else found.what
    return f"{group} {found.what}", (Cell(name), Cell(found.first, tone), Cell(found.second, tone))


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
        self.table = TextTable(
            TextModel(("what", "first", "second")), "What differs between the two profiles"
        )
        header = self.table.horizontalHeader()
        self.table.fit([0])
        for column in (1, 2):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.Stretch)
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
        self.table.rows_model.headings = ("what", answer.first, answer.second)
        lines = [_line("", found) for found in answer.sums]
        lines.append(_title("Findings" if answer.findings else "Findings: none differ"))
        lines += [_line("Findings", found) for found in answer.findings]
        lines.append(_title("Circuits" if answer.circuits else "Circuits: none differ"))
        for circuit in answer.circuits:
            lines.append((circuit.what, (Cell(circuit.what, "", True), Cell(""), Cell(""))))
            lines += [_line(circuit.what, found) for found in circuit.figures]
        self.table.rows_model.fill(lines)
        count = len(answer.circuits)
        self.note.setText(f"{count} circuits and feeders differ; only what differs is listed.")
