"""Dialogs of the Loads stage: from the catalogue, from a spreadsheet, supply, spares."""

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Feeding, Fit, GenericLoad, generic_loads
from vivid_loom.desktop.parts import heading, small
from vivid_loom.desktop.text_table import Cell, TextModel, TextTable
from vivid_loom.drafting import Draft
from vivid_loom.drafting.propose import Proposal, proposals
from vivid_loom.order import Edit, Spare, change_supply, fit_helm
from vivid_loom.order.load_list import FIELDS, Account, ColumnMap, guess_mapping, understand
from vivid_loom.order.new_loads import (
    FEEDINGS,
    fed,
    fed_each,
    free_id,
    id_from_name,
    joined,
)
from vivid_loom.quantities import figure
from vivid_loom.quantities.grid import Row
from vivid_loom.standards.colours import CODES

__all__ = ["CatalogueDialog", "ImportDialog", "SpareDialog", "SupplyDialog", "ids_aboard"]


def ids_aboard(draft: Draft) -> set[str]:
    """Return every id that a new load, circuit or switch must not take."""
    order, aboard = draft.aboard.order, draft.aboard
    options = [o.adds for o in aboard.boat.options]
    fits = [aboard.boat.fit, order.added, *options]
    found = {load.id for fit in fits for load in fit.loads}
    found |= {circuit.id for fit in fits for circuit in fit.circuits}
    found |= {switch.id for fit in fits for switch in fit.switches}
    found |= {supply.id for supply in aboard.boat.supplies}
    return found | {bus.id for bus in aboard.boat.return_buses}  # fmt: skip


def _buttons(dialog: QDialog, words: str) -> QDialogButtonBox:
    box = QDialogButtonBox(
        QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
    )
    box.button(QDialogButtonBox.StandardButton.Ok).setText(words)
    box.accepted.connect(dialog.accept)
    box.rejected.connect(dialog.reject)
    return box


def _stations(draft: Draft) -> QComboBox:
    made = QComboBox()
    for station in sorted(draft.aboard.boat.stations, key=lambda s: s.name):
        made.addItem(station.name, station.id)
    return made


class CatalogueDialog(QDialog):
    """Generic loads to draw from; ``fit`` holds what was asked for."""

    def __init__(self, draft: Draft, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Add loads from the catalogue")
        self.resize(760, 520)
        self._draft = draft
        self.search, self.list = QLineEdit(), QListWidget()
        self.search.setPlaceholderText("Search name or group")
        self.list.setAccessibleName("Generic loads")
        self.name, self.count, self.place = QLineEdit(), QSpinBox(), _stations(draft)
        self.count.setRange(1, 50)
        self.feeding, self.about = QComboBox(), small("")
        for words in FEEDINGS:
            self.feeding.addItem(words, "")
        for row in draft.circuits:
            if row.planned.pattern in ("switched", "device_switched", "breaker"):
                self.feeding.addItem(f"join {row.id} {row.planned.label}", row.id)
        form = QFormLayout()
        for label, widget in (("Called", self.name), ("How many", self.count),
                              ("Place", self.place), ("Fed", self.feeding)):  # fmt: skip
            form.addRow(label, widget)
        right = QVBoxLayout()
        right.addWidget(heading("What is added"))
        right.addLayout(form)
        right.addWidget(self.about)
        right.addStretch(1)
        self.buttons = _buttons(self, "Add")
        right.addWidget(self.buttons)
        left = QVBoxLayout()
        left.addWidget(self.search)
        left.addWidget(self.list, 1)
        layout = QHBoxLayout(self)
        layout.addLayout(left, 1)
        layout.addLayout(right, 1)
        self.search.textChanged.connect(self._fill)
        self.list.currentItemChanged.connect(lambda *_: self._show())
        self._fill()

    def _fill(self) -> None:
        words = self.search.text().lower().split()
        self.list.clear()
        for load in generic_loads():
            if all(word in f"{load.name} {load.group}".lower() for word in words):
                amps = load.watts / self._draft.aboard.boat.nominal_v
                item = QListWidgetItem(f"{load.name}    {figure(amps)} A")
                item.setToolTip(load.group)
                item.setData(Qt.ItemDataRole.UserRole, load.id)
                self.list.addItem(item)
        self.list.setCurrentRow(0)

    @property
    def chosen(self) -> GenericLoad | None:
        """The generic load that is selected."""
        item = self.list.currentItem()
        wanted = item.data(Qt.ItemDataRole.UserRole) if item else ""
        return next((load for load in generic_loads() if load.id == wanted), None)

    def _show(self) -> None:
        load = self.chosen
        self.buttons.setEnabled(load is not None)
        if load is None:
            return
        self.name.setText(load.name)
        self.feeding.setCurrentText(load.feeding)
        amps = load.watts / self._draft.aboard.boat.nominal_v
        self.about.setText(
            f"{load.group}. Typically {load.watts:g} W, {figure(amps)} A here; "
            f"class {load.demand}, drop {load.drop}. The figure stands as an estimate until you "
            "look up the maker's."
        )

    @property
    def fit(self) -> Fit:
        """Loads with their circuit and switch, or hung on a circuit already there."""
        load = self.chosen
        assert load is not None
        taken = ids_aboard(self._draft)
        count, name = self.count.value(), self.name.text().strip() or load.name
        nominal, station = self._draft.aboard.boat.nominal_v, self.place.currentData()
        made = []
        for number in range(1, count + 1):
            load_id = free_id(id_from_name(name), taken)
            taken.add(load_id)
            shown = f"{name} {number}" if count > 1 else name
            made.append(load.load(load_id, shown, station, nominal))
        if circuit_id := self.feeding.currentData():
            row = self._draft.circuit(circuit_id)
            assert row is not None and row.planned.request is not None
            return joined(made, row.planned.request)
        feeding: Feeding = self.feeding.currentText()  # type: ignore[assignment]
        if feeding == "automatic pump":
            return fed_each(made, feeding, taken, load.rank)
        return fed(made, feeding, name, taken, load.rank)


class ImportDialog(QDialog):
    """A spreadsheet's rows: what each column holds, and what becomes of every row."""

    def __init__(self, rows: Sequence[Row], draft: Draft, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Loads from a spreadsheet")
        self.resize(1040, 620)
        self._rows, self._draft = tuple(rows), draft
        self._map = guess_mapping(self._rows)
        self.place, self.feeding = _stations(draft), QComboBox()
        self.feeding.addItems(["own switch", "helm switch", "always live", "ignition"])
        helm = draft.aboard.boat.helm.station
        self.place.setCurrentIndex(self.place.findData(helm))
        width = len(self._map.columns)
        self.combos = [QComboBox() for _ in range(width)]
        across = QHBoxLayout()
        across.setSpacing(4)
        for index, combo in enumerate(self.combos):
            combo.addItems(list(FIELDS))
            combo.setCurrentText(self._map.columns[index][0])
            combo.setAccessibleName(f"Column {index + 1} holds")
            combo.currentTextChanged.connect(lambda _: self._read())
            across.addWidget(combo, 1)
        self.sheet = TextModel(tuple(f"Column {i + 1}" for i in range(width)))
        table = TextTable(self.sheet, "The sheet")
        table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.sheet.fill([
            (str(r.number), [Cell(c) for c in (*r.cells, *[""] * width)[:width]])
            for r in self._rows
        ])  # fmt: skip
        self.lines = TextModel(("Row", "What becomes of it", "Told"), right=(0,))
        told = TextTable(self.lines, "Row by row")
        told.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        told.horizontalHeader().setStretchLastSection(True)
        self.summary = QLabel()
        ends = QHBoxLayout()
        ends.addWidget(QLabel("Where a row names no place"))
        ends.addWidget(self.place)
        ends.addWidget(QLabel("Fed"))
        ends.addWidget(self.feeding)
        ends.addStretch(1)
        layout = QVBoxLayout(self)
        layout.addWidget(heading("The sheet, and what each column holds"))
        layout.addLayout(across)
        layout.addWidget(table, 3)
        layout.addLayout(ends)
        layout.addWidget(heading("Row by row"))
        layout.addWidget(told, 3)
        layout.addWidget(self.summary)
        self.buttons = _buttons(self, "Take the loads")
        layout.addWidget(self.buttons)
        self.place.currentIndexChanged.connect(lambda _: self._read())
        self.account = Account((), ())
        self._read()

    def _read(self) -> None:
        columns = tuple(
            (combo.currentText(), unit)
            for combo, (_, unit) in zip(self.combos, self._map.columns, strict=True)
        )
        boat = self._draft.aboard.boat
        self.account = understand(
            self._rows, ColumnMap(self._map.first_row, columns),  # type: ignore[arg-type]
            boat.stations, self.place.currentData(), boat.nominal_v, ids_aboard(self._draft),
        )  # fmt: skip
        tones = {"in part": "warn", "left out": "alarm", "imported": ""}
        self.lines.fill([
            (str(i), (Cell(str(line.row)), Cell(line.verdict, tones.get(line.verdict, "quiet")),
                      Cell(line.told)))
            for i, line in enumerate(self.account.lines)
        ])  # fmt: skip
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
        return fed_each(self.account.loads, feeding, taken)


class SupplyDialog(QDialog):
    """Blocks and helm sized from the load list; ``edits`` holds what the engineer takes."""

    def __init__(self, draft: Draft, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Supply from the load list")
        self.resize(720, 460)
        layout = QVBoxLayout(self)
        layout.addWidget(
            small("Ways in use, a fifth to spare and at least two, the next size on the shelf; "
                  "each block must bear the demand of what hangs on it.")
        )  # fmt: skip
        self.rows: list[tuple[Proposal, QCheckBox, QSpinBox]] = []
        for proposal in proposals(draft):
            tick = QCheckBox(proposal.name)
            tick.setChecked(proposal.wants > proposal.has)
            wants = QSpinBox()
            wants.setRange(max(1, proposal.used), 99)
            wants.setValue(max(proposal.wants, proposal.used))
            wants.setAccessibleName(f"Size of {proposal.name}")
            noun = "positions" if proposal.supply is None else "ways"
            told = f"{proposal.used} in use of {proposal.has} {noun}; proposed"
            line = QHBoxLayout()
            tick.setMinimumWidth(190)
            line.addWidget(tick)
            line.addWidget(QLabel(told))
            line.addStretch(1)
            line.addWidget(wants)
            layout.addLayout(line)
            formula = "   ".join(f"{s.text}: {s.formula}" for s in proposal.steps if s.formula)
            bears = f"   bears {proposal.total_a[1]:g} A" if proposal.supply else ""
            layout.addWidget(small(formula + bears))
            self.rows.append((proposal, tick, wants))
        layout.addStretch(1)
        layout.addWidget(_buttons(self, "Fit these"))

    @property
    def edits(self) -> tuple[Edit, ...]:
        """One edit per ticked block."""
        made: list[Edit] = []
        for proposal, tick, wants in self.rows:
            if not tick.isChecked():
                continue
            if proposal.supply is None:
                made.append(fit_helm(wants.value()))
            else:
                fields = {**vars(proposal.supply), "ways": wants.value()}
                made.append(change_supply(type(proposal.supply)(**fields)))
        return tuple(made)


class SpareDialog(QDialog):
    """Spare conductors or a pull line from one station to another; ``spare`` holds the answer."""

    def __init__(self, draft: Draft, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Spare conductors and pull lines")
        self._taken = {spare.id for spare in draft.aboard.order.spares} | ids_aboard(draft)
        self.label, self.kind = QLineEdit("Spare"), QComboBox()
        self.kind.addItems(["conductor", "pull line"])
        self.start, self.end = _stations(draft), _stations(draft)
        self.start.setCurrentIndex(self.start.findData(draft.aboard.boat.helm.station))
        self.count, self.gauge, self.colour = QSpinBox(), QComboBox(), QComboBox()
        self.count.setRange(1, 40)
        series = draft.aboard.profile.series
        self.gauge.addItems([w.gauge for w in draft.catalogue.wires
                             if ("AWG" in w.gauge) == (series == "AWG")])  # fmt: skip
        self.gauge.setCurrentText(draft.aboard.profile.shop_floor)
        for code, name in CODES.items():
            self.colour.addItem(f"{code} {name}", code)
        self.colour.setCurrentIndex(self.colour.findData("WH"))
        form = QFormLayout(self)
        for words, widget in (("Label", self.label), ("Kind", self.kind), ("From", self.start),
                              ("To", self.end), ("How many", self.count), ("Gauge", self.gauge),
                              ("Colour", self.colour)):  # fmt: skip
            form.addRow(words, widget)
        form.addRow(small("Both ends are capped and labelled; they take room in the bundles."))
        form.addRow(_buttons(self, "Plan it"))
        for widget in (self.gauge, self.colour):
            self.kind.currentTextChanged.connect(
                lambda kind, w=widget: w.setEnabled(kind == "conductor")
            )

    @property
    def spare(self) -> Spare:
        """The spare as asked for."""
        conductor = self.kind.currentText() == "conductor"
        return Spare(
            id=free_id(id_from_name(self.label.text()), self._taken),
            label=self.label.text().strip() or "Spare",
            kind="conductor" if conductor else "pull line",
            start=self.start.currentData(), end=self.end.currentData(),
            count=self.count.value(), gauge=self.gauge.currentText() if conductor else "",
            colour=self.colour.currentData(),
        )  # fmt: skip
