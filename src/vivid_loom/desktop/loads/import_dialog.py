"""A spreadsheet's rows, and what becomes of every one."""

import dataclasses
from collections.abc import Sequence

from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Feeding, Fit
from vivid_loom.desktop.loads.dialog_controls import answer_buttons, ids_aboard, station_combo
from vivid_loom.desktop.widgets.controls import heading
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.text_table import Cell, TextModel, TextTable
from vivid_loom.drafting import Draft
from vivid_loom.order.load_list import (
    CURRENTS,
    FIELDS,
    UNITS,
    Account,
    ColumnMap,
    guess_mapping,
    understand,
)
from vivid_loom.order.new_loads import fed_each
from vivid_loom.quantities.grid import Row

__all__ = ["ImportDialog"]


class ImportDialog(QDialog):
    """A spreadsheet's rows: what each column holds, and what becomes of every row."""

    def __init__(self, rows: Sequence[Row], draft: Draft, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Loads from a spreadsheet")
        self.resize(1040, 620)
        self._rows, self._draft = tuple(rows), draft
        self._map = guess_mapping(self._rows)
        self.place, self.feeding, self.source = station_combo(draft), QComboBox(), QComboBox()
        self._offer(draft)
        width = len(self._map.columns)
        self.combos = [QComboBox() for _ in range(width)]
        self.units: list[QComboBox] = []
        across = QHBoxLayout()
        across.setSpacing(4)
        for index, combo in enumerate(self.combos):
            combo.addItems(list(FIELDS))
            combo.setCurrentText(self._map.columns[index][0])
            combo.setAccessibleName(f"Column {index + 1} holds")
            unit = QComboBox()
            for key, words in UNITS.items():
                unit.addItem(words, key)
            unit.setCurrentIndex(unit.findData(self._map.columns[index][1]))
            unit.setAccessibleName(f"Unit of bare figures in column {index + 1}")
            self.units.append(unit)
            for each in (combo, unit):
                each.currentTextChanged.connect(lambda _: self._read())
            column = QVBoxLayout()
            column.addWidget(combo)
            column.addWidget(unit)
            across.addLayout(column, 1)
        self.sheet = TextModel(tuple(f"Column {i + 1}" for i in range(width)))
        table = TextTable(self.sheet, "The sheet")
        table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.sheet.fill(
            [
                (str(r.number), [Cell(c) for c in (*r.cells, *[""] * width)[:width]])
                for r in self._rows
            ]
        )
        self.lines = TextModel(("Row", "What becomes of it", "Told"), right=(0,))
        told = TextTable(self.lines, "Row by row")
        told.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        told.horizontalHeader().setStretchLastSection(True)
        self.summary = PlainLabel()
        self.buttons = answer_buttons(self, "Take the loads")
        self._lay_out(across, table, told)
        self.place.currentIndexChanged.connect(lambda _: self._read())
        self.account = Account((), ())
        self._read()

    def _offer(self, draft: Draft) -> None:
        """Offer where the loads go and how they are fed, where a row does not say."""
        boat = draft.aboard.boat
        self.feeding.addItems(["own switch", "helm switch", "always live", "ignition"])
        self.source.addItem("where there is room", "")
        for supply in boat.supplies:
            if supply.ways:
                self.source.addItem(f"from {supply.name}", supply.id)
        self.place.setCurrentIndex(self.place.findData(boat.helm_station))
        self.source.setAccessibleName("Fed from")

    def _lay_out(self, across: QHBoxLayout, sheet: TextTable, told: TextTable) -> None:
        ends = QHBoxLayout()
        ends.addWidget(PlainLabel("Where a row names no place"))
        ends.addWidget(self.place)
        ends.addWidget(PlainLabel("Fed"))
        ends.addWidget(self.feeding)
        ends.addWidget(self.source)
        ends.addStretch(1)
        layout = QVBoxLayout(self)
        layout.addWidget(heading("The sheet, and what each column holds"))
        layout.addLayout(across)
        layout.addWidget(sheet, 3)
        layout.addLayout(ends)
        layout.addWidget(heading("Row by row"))
        layout.addWidget(told, 3)
        layout.addWidget(self.summary)
        layout.addWidget(self.buttons)

    def _read(self) -> None:
        columns = tuple(
            (combo.currentText(), unit.currentData())
            for combo, unit in zip(self.combos, self.units, strict=True)
        )
        for (field, _), unit in zip(columns, self.units, strict=True):
            unit.setEnabled(field in CURRENTS)
        boat = self._draft.aboard.boat
        self.account = understand(
            self._rows,
            ColumnMap(self._map.first_row, columns),  # type: ignore[arg-type]
            boat.stations,
            self.place.currentData(),
            boat.nominal_v,
            ids_aboard(self._draft),
        )
        tones = {"in part": "warn", "left out": "alarm", "imported": ""}
        self.lines.fill(
            [
                (
                    str(i),
                    (
                        Cell(str(line.row)),
                        Cell(line.verdict, tones.get(line.verdict, "quiet")),
                        Cell(line.told),
                    ),
                )
                for i, line in enumerate(self.account.lines)
            ]
        )
        verdicts = [line.verdict for line in self.account.lines]
        self.summary.setText(
            f"{len(self.account.loads)} loads from {verdicts.count('imported')} rows in full and "
            f"{verdicts.count('in part')} in part; {verdicts.count('left out')} rows left out, "
            f"{verdicts.count('blank')} blank."
        )
        self.buttons.setEnabled(True)

    @property
    def fit(self) -> Fit:
        """The loads understood, each on a circuit of its own."""
        taken = ids_aboard(self._draft) | {load.id for load in self.account.loads}
        feeding: Feeding = self.feeding.currentText()  # type: ignore[assignment]
        volts = self._draft.aboard.boat.nominal_v
        fit = fed_each(self.account.loads, feeding, taken, volts=volts)
        if not self.source.currentData():
            return fit
        source, levels = self.source.currentData(), self._draft.aboard.levels
        circuits = tuple(
            dataclasses.replace(c, supply=source, level=levels[source]) for c in fit.circuits
        )
        return dataclasses.replace(fit, circuits=circuits)
