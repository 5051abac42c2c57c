"""A new boat in one short page: size, areas, battery and helm; the skeleton is drawn as you go."""

import re

from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QDoubleSpinBox,
    QFormLayout,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Boat, BoatPlan, PlannedArea, skeleton, usual_areas, usual_battery
from vivid_loom.desktop.widgets.controls import button, heading, small, typed
from vivid_loom.desktop.widgets.paint import play
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.text_table import Cell, TextModel, TextTable
from vivid_loom.order import PROFILES, SHOP
from vivid_loom.sheets.drawings.boat_plan import boat_plan_items
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["BoatDialog"]


def _metres(value: float, least: float, most: float) -> QDoubleSpinBox:
    box = QDoubleSpinBox()
    box.setRange(least, most)
    box.setDecimals(2)
    box.setSuffix(" m")
    box.setSingleStep(0.1)
    box.setValue(value)
    return box


def _amps(suffix: str, least: float, most: float) -> QDoubleSpinBox:
    box = QDoubleSpinBox()
    box.setRange(least, most)
    box.setDecimals(0)
    box.setSuffix(suffix)
    box.setSingleStep(10)
    return box


_SUPPLIES = {
    "battery": "the battery alone",
    "switch": "battery, switch and main negative",
    "blocks": "switch, always-live and helm block",
    "key": "blocks, and a key with its block",
}


class _Preview(QWidget):
    """Plan and profile of the boat as it would be."""

    def __init__(self, tones: Tones) -> None:
        super().__init__()
        self._tones = tones
        self.boat: Boat | None = None
        self.setMinimumSize(480, 300)

    def paintEvent(self, event: QPaintEvent) -> None:
        if self.boat:
            items = boat_plan_items(self.boat, self.width(), self.height(), self._tones)
            with QPainter(self) as painter:
                play(painter, items)


class BoatDialog(QDialog):
    """Asks for a boat; ``boat`` holds the skeleton of the answer."""

    def __init__(self, tones: Tones, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("New boat")
        self.resize(980, 560)
        self.name, self.petrol = QLineEdit("New boat"), QCheckBox("Petrol aboard")
        self.length, self.beam = _metres(7.2, 3, 40), _metres(2.5, 1, 12)
        self.keel_to_deck = _metres(1.2, 0.3, 6)
        self.voltage, self.material, self.side = QComboBox(), QComboBox(), QComboBox()
        for volts in (12, 24, 48):
            self.voltage.addItem(f"{volts} V", float(volts))
        self.material.addItems(["aluminium", "steel", "grp", "wood"])
        self.side.addItems(["starboard", "port"])
        self.house = QCheckBox("Wheelhouse with a mast at the helm")
        self.house.setChecked(True)
        self.supply, self.chemistry, self.profile = QComboBox(), QComboBox(), QComboBox()
        for key, words in _SUPPLIES.items():
            self.supply.addItem(words, key)
        self.supply.setCurrentIndex(self.supply.count() - 1)
        self.chemistry.addItems(["flooded", "AGM", "gel", "lithium"])
        for profile in PROFILES.values():
            if profile.id != SHOP:  # a yard's own is not a stranger's
                self.profile.addItem(profile.name, profile.id)
        self.capacity, self.cranking = _amps(" Ah", 5, 3000), _amps(" A cranking", 20, 6000)
        self._proposed: tuple[float, float] | None = None
        self._usual_battery(7.2)
        self.battery_area, self.helm_area = QComboBox(), QComboBox()
        self.areas = TextModel(("Area", "ends at m", "bilge", "dry"), right=(1,))
        self.areas.editable = frozenset(range(4))
        self.areas.edited = self._edit_area
        self._areas: list[PlannedArea] = list(usual_areas(7.2))
        self.area_table = TextTable(self.areas, "Areas, aft first")
        self.area_table.fit(range(1, 4))
        header = self.area_table.horizontalHeader()
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        header.setMinimumSectionSize(48)
        self.area_table.setFixedHeight(160)
        self.preview, self.problem = _Preview(tones), PlainLabel()
        self.problem.setWordWrap(True)
        self._lay_out()
        self._fill_areas()
        self.battery_area.setCurrentIndex(1)
        self.helm_area.setCurrentIndex(2)
        self._redraw()

    def _lay_out(self) -> None:
        form, battery = QFormLayout(), QWidget()
        line = QHBoxLayout(battery)
        line.setContentsMargins(0, 0, 0, 0)
        for box in (self.capacity, self.cranking, self.chemistry):
            line.addWidget(box)
        for label, widget in (
            ("Name", self.name),
            ("Length", self.length),
            ("Beam", self.beam),
            ("Keel to deck", self.keel_to_deck),
            ("Voltage", self.voltage),
            ("Material", self.material),
            ("Trunk on", self.side),
            ("Battery in", self.battery_area),
            ("Battery", battery),
            ("Helm in", self.helm_area),
            ("Stands aboard", self.supply),
            ("Drafted under", self.profile),
            ("", self.house),
            ("", self.petrol),
        ):
            form.addRow(label, widget)
        left = QVBoxLayout()
        left.addLayout(form)
        left.addWidget(heading("Areas, aft first"))
        left.addWidget(self.area_table)
        more = QHBoxLayout()
        more.addWidget(button("Split area", self._split_area, "Make two of the selected area"))
        more.addWidget(button("Remove area", self._remove_area, "The next one aft grows"))
        more.addStretch(1)
        left.addLayout(more)
        left.addStretch(1)
        right = QVBoxLayout()
        right.addWidget(heading("What you get"))
        right.addWidget(self.preview, 1)
        right.addWidget(
            small(
                "Stations and runs to start from. Lengths are estimates along the hull, 15 % "
                "over the straight way: measure them on the Runs stage, or import a list."
            )
        )
        right.addWidget(self.problem)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        self.take = buttons.button(QDialogButtonBox.StandardButton.Ok)
        self.take.setText("Make the boat…")
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        right.addWidget(buttons)
        layout = QHBoxLayout(self)
        layout.addLayout(left)
        layout.addLayout(right, 1)
        self._connect()

    def _connect(self) -> None:
        """Draw the boat anew with every answer."""
        for box in (self.length, self.beam, self.keel_to_deck):
            box.valueChanged.connect(self._redraw)
        self.length.valueChanged.connect(self._stretch_areas)
        self.length.valueChanged.connect(self._usual_battery)
        for combo in (
            self.voltage,
            self.material,
            self.side,
            self.battery_area,
            self.helm_area,
            self.supply,
        ):
            combo.currentIndexChanged.connect(self._redraw)
        for check in (self.house, self.petrol):
            check.toggled.connect(self._redraw)
        self.name.textChanged.connect(self._redraw)

    def _fill_areas(self) -> None:
        yes = {True: "yes", False: "no"}
        self.areas.fill(
            [
                (
                    str(i),
                    (Cell(a.name), Cell(f"{a.to_m:.2f}"), Cell(yes[a.bilge]), Cell(yes[a.dry])),
                )
                for i, a in enumerate(self._areas)
            ]
        )
        for combo in (self.battery_area, self.helm_area):
            kept = combo.currentIndex()
            combo.blockSignals(True)
            combo.clear()
            combo.addItems([area.name for area in self._areas])
            combo.setCurrentIndex(min(max(0, kept), len(self._areas) - 1))
            combo.blockSignals(False)

    def _usual_battery(self, length_m: float) -> None:
        """Propose what is usual for the length, while nobody has typed another."""
        known = (self.capacity.value(), self.cranking.value())
        if known == self._proposed or self._proposed is None:
            self._proposed = usual_battery(length_m)
            for box, value in zip((self.capacity, self.cranking), self._proposed, strict=True):
                box.setValue(value)

    def _stretch_areas(self, length_m: float) -> None:
        factor = length_m / self._areas[-1].to_m
        self._set_areas(
            [
                PlannedArea(**{**vars(a), "to_m": round(a.to_m * factor, 2)})
                for a in self._areas[:-1]
            ]
            + [PlannedArea(**{**vars(self._areas[-1]), "to_m": round(length_m, 2)})]
        )

    def _set_areas(self, areas: list[PlannedArea]) -> None:
        self._areas = areas
        self._fill_areas()
        self._redraw()

    def _edit_area(self, key: str, column: int, text: str) -> bool:
        areas, at = list(self._areas), int(key)
        field = ("name", "to_m", "bilge", "dry")[column]
        value: object = text.strip()
        if column == 1:
            try:
                value = float(text.replace(",", ".").removesuffix("m").strip())
            except ValueError:
                return False
        elif column > 1:
            value = text.strip().lower() in ("yes", "y", "1", "true")
        areas[at] = PlannedArea(**{**vars(areas[at]), field: value})
        self._set_areas(areas)
        return True

    def _split_area(self) -> None:
        at = int((self.area_table.selected_keys() or ("0",))[0])
        area = self._areas[at]
        start = self._areas[at - 1].to_m if at else 0.0
        half = PlannedArea(
            **{**vars(area), "to_m": round((start + area.to_m) / 2, 2), "name": f"{area.name}, aft"}
        )
        self._set_areas([*self._areas[:at], half, *self._areas[at:]])

    def _remove_area(self) -> None:
        at = int((self.area_table.selected_keys() or ("0",))[0])
        if len(self._areas) > 1 and at < len(self._areas) - 1:
            self._set_areas([*self._areas[:at], *self._areas[at + 1 :]])

    @property
    def plan(self) -> BoatPlan:
        """The answers as they stand."""
        plain = re.sub(r"[^a-z0-9]+", "-", typed(self.name).lower()).strip("-")
        areas = tuple(
            PlannedArea(**{**vars(a), "fuel_vapour": self.petrol.isChecked() and a.bilge})
            for a in self._areas
        )
        return BoatPlan(
            id=plain or "boat",
            name=typed(self.name) or "New boat",
            length_m=round(self.length.value(), 2),
            beam_m=self.beam.value(),
            depth_m=self.keel_to_deck.value(),
            areas=areas,
            nominal_v=self.voltage.currentData(),
            battery_area=self.battery_area.currentIndex(),
            helm_area=self.helm_area.currentIndex(),
            material=self.material.currentText(),  # type: ignore[arg-type]
            side=self.side.currentText(),  # type: ignore[arg-type]
            house=self.house.isChecked(),
            supply=self.supply.currentData(),
            capacity_ah=self.capacity.value(),
            cranking_a=self.cranking.value(),
            chemistry=self.chemistry.currentText(),  # type: ignore[arg-type]
            profile=self.profile.currentData(),
        )

    @property
    def boat(self) -> Boat:
        """The skeleton of the answers."""
        return skeleton(self.plan)

    def _redraw(self) -> None:
        try:
            self.preview.boat = self.boat
        except ValueError as error:
            self.problem.setText(str(error))
            self.take.setEnabled(False)
            return
        found = self.preview.boat
        self.problem.setText(f"{len(found.stations)} stations, {len(found.runs)} runs.")
        self.take.setEnabled(True)
        self.preview.update()
