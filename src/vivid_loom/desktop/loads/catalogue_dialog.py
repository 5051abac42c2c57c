"""Generic loads to draw from."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Feeding, Fit, GenericLoad, generic_loads
from vivid_loom.desktop.loads.dialog_controls import answer_buttons, ids_aboard, station_combo
from vivid_loom.desktop.widgets.controls import heading, small, typed
from vivid_loom.desktop.widgets.plain import plain
from vivid_loom.drafting import Draft
from vivid_loom.order.new_loads import (
    at_battery,
    fed,
    fed_each,
    free_id,
    id_from_name,
    joined,
)
from vivid_loom.order.ways_of_feeding import FEEDINGS
from vivid_loom.quantities import figure

__all__ = ["CatalogueDialog"]


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
        self.name, self.count, self.place = QLineEdit(), QSpinBox(), station_combo(draft)
        self.count.setRange(1, 50)
        self.feeding, self.about = QComboBox(), small("")
        for words in FEEDINGS:
            self.feeding.addItem(words, "")
        for row in draft.circuits:
            if row.planned.pattern in ("switched", "device_switched", "breaker"):
                self.feeding.addItem(f"join {row.id} {row.planned.label}", row.id)
        form = QFormLayout()
        for label, widget in (
            ("Called", self.name),
            ("How many", self.count),
            ("Place", self.place),
            ("Fed", self.feeding),
        ):
            form.addRow(label, widget)
        right = QVBoxLayout()
        right.addWidget(heading("What is added"))
        right.addLayout(form)
        right.addWidget(self.about)
        right.addStretch(1)
        self.buttons = answer_buttons(self, "Add")
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
                item.setToolTip(plain(load.group))
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
        count, name = self.count.value(), typed(self.name) or load.name
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
        if FEEDINGS[feeding].alone:
            return fed_each(made, feeding, taken, load.rank, nominal)
        whole = fed(made, feeding, name, taken, load.rank, nominal)
        return at_battery(whole, feeding, self._draft.aboard.boat.battery.id)
