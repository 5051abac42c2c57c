"""Two drafts of the order side by side: under two profiles, or as issued and as it stands."""

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

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

__all__ = ["CompareDialog", "Side", "profile_sides"]

STANDS = "as this order stands"


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


class Side(NamedTuple):
    """A draft that may stand on one side.

    Attributes:
        drafted: makes it; raises ``DraftError`` or ``DocumentError`` where it cannot be made.
    """

    name: str
    drafted: Callable[[], Draft]


def profile_sides(standing: Draft, model: Boat) -> tuple[Side, ...]:
    """Return the order as it stands, and under every shipped profile."""

    def under(key: str) -> Callable[[], Draft]:
        order = use_profile(key)[1](standing.aboard.order)
        return lambda: draft(order, model, standing.catalogue, standing)

    others = (Side(profile.name, under(key)) for key, profile in PROFILES.items())
    return (Side(STANDS, lambda: standing), *others)


class CompareDialog(QDialog):
    """Makes two drafts off the GUI thread, and shows what differs."""

    def __init__(
        self,
        title: str,
        sides: Sequence[Side],
        chosen: tuple[int, int],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.resize(1060, 640)
        self._sides = tuple(sides)
        self.job = LatestJob(self)
        self.first, self.second = QComboBox(), QComboBox()
        for combo, name, at in zip(
            (self.first, self.second), ("First side", "Second side"), chosen, strict=True
        ):
            combo.setAccessibleName(name)
            combo.addItems([side.name for side in self._sides])
            combo.setCurrentIndex(at)
        self.table = _table("What differs between the two")
        self.note = small("")
        top = QHBoxLayout()
        top.addWidget(self.first, 1)
        top.addWidget(PlainLabel("beside"))
        top.addWidget(self.second, 1)
        layout = QVBoxLayout(self)
        layout.addLayout(top)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.note)
        for combo in (self.first, self.second):
            combo.currentIndexChanged.connect(lambda _: self.work_out())
        self.job.answered.connect(self._show)
        self.work_out()

    def _chosen(self) -> tuple[Side, Side]:
        return self._sides[self.first.currentIndex()], self._sides[self.second.currentIndex()]

    def work_out(self) -> None:
        """Draft both, in the background."""
        one, other = self._chosen()
        self.note.setText("Drafting both …")

        def work() -> Iterator[object]:
            try:
                yield compared(one.drafted(), other.drafted())
            except (DraftError, DocumentError) as error:
                yield str(error)

        self.job.ask(work)

    def _show(self, answer: object) -> None:
        if not isinstance(answer, Comparison):
            self.note.setText(f"This cannot be drafted: {answer}")
            return
        self.table.rows_model.headings = ("what", *(side.name for side in self._chosen()))
        self.table.rows_model.fill(_lines(answer))
        count = len(answer.circuits)
        self.note.setText(
            f"Circuits and feeders that differ: {count}; only what differs is listed."
        )
