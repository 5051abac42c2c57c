"""The fault finder's pane: what was seen and read, what explains it, what to read next."""

import math
import random
from collections.abc import Iterable, Iterator
from typing import Final

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Scenario
from vivid_loom.desktop.widgets.button_row import ButtonRow, Deed
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.text_table import Cell, pane
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.network import NoOperatingPointError
from vivid_loom.power.advice import next_reading
from vivid_loom.power.board import Board
from vivid_loom.power.finder import SURE, Finder, Reading, Symptom, Unit, scenario_finder
from vivid_loom.quantities import in_reading_order
from vivid_loom.sheets.words.helm_words import element_words
from vivid_loom.sheets.words.power_words import advice_words, probe_name, suspect_words

__all__ = ["FinderPane"]

SEEN = ("dark", "dim", "runs")
UNITS: Final[tuple[Unit, ...]] = ("V", "A", "Ω")
MOST_SHOWN = 12


class FinderPane(QWidget):
    """Symptoms and readings in, suspects and the next reading out; or a hidden fault to find.

    Signals:
        said (str): what has happened.
    """

    said = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.finder: Finder | None = None
        self.symptoms: list[Symptom] = []
        self.readings: list[Reading] = []
        self.hidden: int | None = None
        self._made_for: tuple[Board, Scenario] | None = None
        self.job = LatestJob(self)
        self.job.answered.connect(self._made)
        self.load, self.seen, self.point = QComboBox(), QComboBox(), QComboBox()
        self.unit = QComboBox()
        self.unit.addItems(UNITS)
        self.unit.setToolTip("Volts over minus, amps by a clamp, ohms to minus with the power off")
        self.unit.currentIndexChanged.connect(lambda _: self._offer_points())
        self.seen.addItems(SEEN)
        self.volts = QLineEdit()
        self.volts.setPlaceholderText("read")
        self.volts.setMaximumWidth(70)
        self.next = PlainLabel()
        self.next.setWordWrap(True)
        for box, name in ((self.load, "Load"), (self.seen, "What is seen"), (self.point, "Point")):
            box.setAccessibleName(name)
        self.volts.setAccessibleName("Figure read")
        self.unit.setAccessibleName("Unit of the reading")
        self.volts.returnPressed.connect(self.add_reading)
        self.evidence = pane(("Seen and read", "Figure"), "Seen and read", 0)
        self.suspects = pane(("Likely", "What explains it"), "Suspects", 1)
        self._lay_out()

    def _lay_out(self) -> None:
        deeds = ButtonRow(
            (
                Deed("Seen", self.add_symptom, "Take down what is seen of the load"),
                Deed("Read", self.add_reading, "Take down what the meter shows (Enter)"),
                Deed("Practise", self.practise, "Hide a fault and find it with a simulated meter"),
                Deed("Show it", self.show_hidden, "Give up: what the hidden fault was"),
                Deed("Start over", self.start_over, "Forget everything seen and read"),
            )
        )
        row = QHBoxLayout()
        for widget in (self.load, self.seen, self.point, self.volts, self.unit):
            row.addWidget(widget, 2 if widget in (self.load, self.point) else 0)
        row.addWidget(deeds, 3)
        tables = QSplitter()
        tables.addWidget(self.evidence)
        tables.addWidget(self.suspects)
        tables.setSizes([380, 780])
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 4, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(row)
        layout.addWidget(self.next)
        layout.addWidget(tables, 1)

    def show_for(self, board: Board, scenario: Scenario) -> None:
        """Make the dictionary of a board's faults in a scenario, beside the work."""
        if self._made_for == (board, scenario):
            return
        self._made_for = (board, scenario)
        self.finder = None
        self.start_over()
        self.next.setText("Working out what every single fault would show…")

        def work() -> Iterator[object]:
            try:
                yield scenario_finder(board, scenario)
            except NoOperatingPointError as error:
                yield str(error)

        self.job.ask(work)

    def _made(self, answer: object) -> None:
        if isinstance(answer, str):
            self.next.setText(f"{answer}.")
            return
        assert isinstance(answer, Finder)
        self.finder = answer
        draft = answer.board.draft
        self.load.clear()
        loads = draft.aboard.loads
        for element in sorted(answer.seen, key=lambda e: e.rpartition(" ")[0] not in loads):
            self.load.addItem(element_words(draft, element), element)
        self._offer_points()
        self._rank()

    def _offer_points(self) -> None:
        """Offer terminals, and wires where a clamp goes round one."""
        if self.finder is None:
            return
        points: Iterable[str] = (point.terminal for point in self.finder.points)
        if self.unit.currentText() == "A":
            points = sorted(self.finder.board.conductors, key=in_reading_order)
        self.point.clear()
        for name in points:
            self.point.addItem(name, name)

    def stop(self) -> None:
        """Stop what is worked out."""
        self.job.stop()

    # what was seen and read

    def add_symptom(self) -> None:
        """Take down what is seen of a load; a second word on it replaces the first."""
        element = self.load.currentData()
        if self.finder is None or element is None:
            return
        seen = SEEN[self.seen.currentIndex()]
        self.symptoms = [s for s in self.symptoms if s.element != element]
        self.symptoms.append(Symptom(element, seen))  # type: ignore[arg-type]
        self._rank()

    def add_reading(self) -> None:
        """Take down a reading; with a fault hidden the simulated meter reads by itself."""
        terminal = self.point.currentData()
        if self.finder is None or terminal is None:
            return
        unit: Unit = UNITS[self.unit.currentIndex()]
        if self.hidden is not None:
            value = self.finder.read(self.hidden, terminal, unit)
        else:
            told = self.volts.text().strip().replace(",", ".").replace("−", "-")
            try:
                value = math.inf if told.lower() == "open" and unit == "Ω" else float(told)
            except ValueError:
                self.said.emit(f"Found {told!r} as {unit} at {terminal}, expected a number.")
                return
        self.readings = [r for r in self.readings if (r.at, r.unit) != (terminal, unit)]
        self.readings.append(Reading(terminal, value, unit=unit))
        self.volts.clear()
        self._rank()

    def start_over(self) -> None:
        """Forget everything seen and read, and any hidden fault."""
        self.symptoms, self.readings, self.hidden = [], [], None
        self._rank()

    # practice

    def practise(self, seed: int | None = None) -> None:
        """Hide a fault; what anybody would see of it is taken down, the rest is for the meter."""
        if self.finder is None or not self.finder.probes:
            self.said.emit("The faults are still being worked out.")
            return
        self.start_over()
        self.hidden = random.Random(seed).randrange(len(self.finder.probes))
        self.symptoms = self.finder.shown(self.hidden)
        self._rank()

    def show_hidden(self) -> None:
        """Say what the hidden fault is, and how many readings the finder itself needs."""
        if self.finder is None or self.hidden is None:
            self.said.emit("No fault is hidden: Practise hides one.")
            return
        name = probe_name(self.finder.probes[self.hidden])
        best = len(self.finder.hunt(self.hidden))
        self.said.emit(f"It was {name}. You took {len(self.readings)} readings, the finder {best}.")

    def _rank(self) -> None:
        finder = self.finder
        if finder is None:
            self.evidence.rows_model.fill([])
            self.suspects.rows_model.fill([])
            return
        draft = finder.board.draft
        rows = [
            (s.element, (Cell(element_words(draft, s.element)), Cell(s.seen)))
            for s in self.symptoms
        ]
        rows += [(f"{r.at} {r.unit}", (Cell(r.at), Cell(_shown(r)))) for r in self.readings]
        self.evidence.rows_model.fill(rows)
        if not rows:
            self.suspects.rows_model.fill([])
            self.next.setText("Take down what is seen of a load, or press Practise.")
            return
        weights = finder.weights(self.symptoms, self.readings)
        found = finder.suspects(weights)
        self.suspects.rows_model.fill(
            [
                (str(i), (Cell(f"{100 * s.share:.0f} %", "", i == 0), Cell(suspect_words(s))))
                for i, s in enumerate(found[:MOST_SHOWN])
            ]
        )
        only = found[0].share > SURE
        known = f"{suspect_words(found[0])}: nothing else explains it as well."
        one = only and len(found[0].probes) == 1
        advice = None if one else next_reading(finder, weights, self.readings)
        if advice is None:
            self.next.setText(known)
            return
        self.unit.setCurrentText(advice.unit)
        self.point.setCurrentIndex(self.point.findData(advice.at))
        self.next.setText(f"{known} {advice_words(advice)}" if only else advice_words(advice))


def _shown(reading: Reading) -> str:
    if math.isinf(reading.value):
        return "open"
    return f"{reading.value:.2f} {reading.unit}"
