"""Dialogs of the Runs stage: measure a run, split it, lay a new one, add a station."""

import dataclasses

from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QDoubleSpinBox,
    QFormLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Area, Boat, Near, Run, Station, Swing
from vivid_loom.desktop.widgets.controls import small, typed
from vivid_loom.desktop.widgets.plain import PlainLabel, plain
from vivid_loom.order.new_loads import free_id, id_from_name
from vivid_loom.quantities import length_text, parse_length_m
from vivid_loom.standards.conduit import BORES_MM, CLEARANCE_MM

__all__ = ["AreaDialog", "NewRunDialog", "RunDialog", "StationDialog", "metres_between"]

WINDING = 1.15  # a first guess at how much a run winds; our choice


def metres_between(first: Station, second: Station) -> float:
    """Return the way along the three axes and 15 % on top, as a length to be measured."""
    along = abs(first.x_m - second.x_m) + abs(first.y_m - second.y_m) + abs(first.z_m - second.z_m)
    return max(0.1, round(WINDING * along, 2))


class _Form(QDialog):
    """A form that stays open until its answers can stand."""

    def __init__(self, title: str, words: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.setMinimumWidth(400)
        self.form = QFormLayout()
        self.problem = PlainLabel()
        self.problem.setWordWrap(True)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        buttons.button(QDialogButtonBox.StandardButton.Ok).setText(words)
        buttons.accepted.connect(self._accept)
        buttons.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.addLayout(self.form)
        layout.addWidget(self.problem)
        layout.addWidget(buttons)

    def check(self) -> None:
        """Raise ValueError with what is wrong."""

    def _accept(self) -> None:
        try:
            self.check()
        except ValueError as error:
            self.problem.setText(str(error))
            return
        self.accept()


class RunDialog(_Form):
    """Everything about one run; ``run`` holds the answer."""

    def __init__(self, run: Run, boat: Boat, units: str, parent: QWidget) -> None:
        super().__init__(f"Run {run.id}", "Take it", parent)
        self._run, self._units = run, units
        names = {station.id: station.name for station in boat.stations}
        self.form.addRow("Between", PlainLabel(f"{names[run.ends[0]]} and {names[run.ends[1]]}"))
        self.length = QLineEdit(length_text(run.length_m, units))
        self.length.setToolTip("As measured along the structure: 3.6 m, 250 mm, 12 ft")
        self.length.selectAll()
        self.enclosure, self.bore, self.harness = QComboBox(), QComboBox(), QComboBox()
        self.area = QComboBox()
        for area in boat.areas:
            self.area.addItem(area.name, area.id)
        self.area.setCurrentIndex(self.area.findData(run.area))
        self.enclosure.addItems(["loom", "conduit", "open"])
        self.enclosure.setCurrentText(run.enclosure)
        for assembly in boat.assemblies:
            self.harness.addItem(assembly.name, assembly.id)
        self.harness.setCurrentIndex(self.harness.findData(run.harness))
        self.bore.addItem("not chosen", None)
        for mm in sorted({*BORES_MM, *((run.bore_mm,) if run.bore_mm else ())}):
            self.bore.addItem(f"{mm:g} mm", mm)
        self.bore.setCurrentIndex(max(0, self.bore.findData(run.bore_mm)))
        self.support = QLineEdit(f"{run.support_mm:g} mm" if run.support_mm else "")
        self.support.setPlaceholderText("the profile's spacing")
        self.low, self.barred = QCheckBox("below bilge water"), QCheckBox("no wire may go here")
        self.low.setChecked(run.low)
        self.barred.setChecked(not run.permitted)
        self.why = QLineEdit(run.why_not)
        self.why.setPlaceholderText("why not")
        self.near = QLineEdit(", ".join(f"{n.what} {n.distance_mm:g} mm" for n in run.near))
        self.near.setPlaceholderText("for example: fuel line 80 mm, compass 400 mm")
        self.near.setToolTip(plain("It passes: " + ", ".join(CLEARANCE_MM)))
        swing = run.swing
        self.swing = QLineEdit(
            f"{swing.fixed_m:g} m, {swing.moving_m:g} m, {swing.sweep_deg:g}°, {swing.rest_deg:g}°"
            if swing
            else ""
        )
        self.swing.setPlaceholderText("none; or clip to pivot, pivot to clip, sweep, at rest")
        self.swing.setToolTip("Moving joint: 0.3 m, 0.25 m, 70°, 120°; slack is worked out")
        self._lay_out()

    def _lay_out(self) -> None:
        for label, widget in (
            ("Measured length", self.length),
            ("Harness", self.harness),
            ("Area", self.area),
            ("Enclosure", self.enclosure),
            ("Bore", self.bore),
            ("Supports", self.support),
            ("Passes", self.near),
            ("Moving joint", self.swing),
            ("", self.low),
            ("", self.barred),
            ("", self.why),
        ):
            self.form.addRow(label, widget)

    def _near(self) -> tuple[Near, ...]:
        found: list[Near] = []
        for part in filter(None, (p.strip() for p in self.near.text().split(","))):
            what = next((name for name in CLEARANCE_MM if part.lower().startswith(name)), None)
            if what is None:
                raise ValueError(f"Passes: found {part!r}, expected {', '.join(CLEARANCE_MM)}")
            metres = parse_length_m(part[len(what) :], "mm")
            found.append(Near(what=what, distance_mm=round(metres * 1000, 1)))  # type: ignore[arg-type]
        return tuple(found)

    def _swing(self) -> Swing | None:
        text = self.swing.text().replace("°", "").strip()
        if not text:
            return None
        parts = [part.strip() for part in text.split(",")]
        if len(parts) not in (3, 4):
            raise ValueError("Moving joint: expected clip to pivot, pivot to clip, sweep, at rest")
        fixed, moving = (parse_length_m(part) for part in parts[:2])
        sweep, *rest = (float(part) for part in parts[2:])
        if fixed <= 0 or moving <= 0 or not 0 < sweep <= 360 or (rest and not 0 <= rest[0] <= 180):
            raise ValueError("Moving joint: expected lengths above zero, angles within a circle")
        angle = {"rest_deg": rest[0]} if rest else {}
        return Swing(fixed_m=fixed, moving_m=moving, sweep_deg=sweep, **angle)

    @property
    def run(self) -> Run:
        """The run as measured; raises ValueError where a field cannot stand."""
        length = parse_length_m(self.length.text(), self._units)
        if length <= 0:
            raise ValueError(f"found {self.length.text()!r}, expected a length above zero")
        if abs(length - self._run.length_m) < 0.005:  # what is shown is rounded; keep the true one
            length = self._run.length_m
        support = typed(self.support)
        return dataclasses.replace(
            self._run,
            length_m=round(length, 4),
            harness=self.harness.currentData() or self._run.harness,
            area=self.area.currentData() or self._run.area,
            enclosure=self.enclosure.currentText(),  # type: ignore[arg-type]
            bore_mm=self.bore.currentData(),
            low=self.low.isChecked(),
            support_mm=round(parse_length_m(support, "mm") * 1000, 1) if support else None,
            permitted=not self.barred.isChecked(),
            why_not=typed(self.why),
            near=self._near(),
            swing=self._swing(),
        )

    def check(self) -> None:
        """See ``run``."""
        _ = self.run


class StationDialog(_Form):
    """A new station, or one that is put elsewhere; ``station`` holds the answer."""

    def __init__(self, boat: Boat, start: Station | None, parent: QWidget, title: str) -> None:
        super().__init__(title, "Take it", parent)
        self._boat, self._start = boat, start
        self.name, self.area = QLineEdit(start.name if start else ""), QComboBox()
        for area in boat.areas:
            self.area.addItem(area.name, area.id)
        self.place: list[QDoubleSpinBox] = []
        for index, (label, hint) in enumerate(
            (
                ("From the transom", "m forward"),
                ("From the centre", "m, starboard above zero"),
                ("Above the keel", "m"),
            )
        ):
            box = QDoubleSpinBox()
            box.setRange(-20, 80)
            box.setDecimals(2)
            box.setSingleStep(0.05)
            box.setSuffix(" m")
            box.setToolTip(plain(hint))
            if start:
                box.setValue((start.x_m, start.y_m, start.z_m)[index])
            self.place.append(box)
            self.form.addRow(label, box)
        if start:
            self.area.setCurrentIndex(self.area.findData(start.area))
        self.form.insertRow(0, "Name", self.name)
        self.form.addRow("Area", self.area)
        self.apart = QDoubleSpinBox()
        self.apart.setRange(0.05, 10)
        self.apart.setDecimals(2)
        self.apart.setSingleStep(0.05)
        self.apart.setSuffix(" m")
        self.apart.setToolTip("of wire from one part that stands here to another")
        self.apart.setValue(start.apart_m if start else Station.apart_m)
        self.form.addRow("From part to part", self.apart)

    @property
    def station(self) -> Station:
        """The station as described; a new one gets an id from its name."""
        x, y, z = (round(box.value(), 3) for box in self.place)
        taken = {station.id for station in self._boat.stations}
        made = free_id(id_from_name(self.name.text()), taken)
        return Station(
            id=self._start.id if self._start else made,
            name=typed(self.name),
            area=self.area.currentData(),
            x_m=x,
            y_m=y,
            z_m=z,
            apart_m=round(self.apart.value(), 3),
        )

    def check(self) -> None:
        """A station wants a name."""
        if not typed(self.name):
            raise ValueError("A station wants a name.")


class AreaDialog(_Form):
    """The zone attributes of an area; ``area`` holds the answer."""

    def __init__(self, area: Area, parent: QWidget) -> None:
        super().__init__(f"Area {area.name}", "Take it", parent)
        self._area = area
        self.name, self.water = QLineEdit(area.name), QComboBox()
        self.water.addItems(["dry", "spray", "submersible"])
        self.water.setCurrentText(area.water)
        self.ambient = QDoubleSpinBox()
        self.ambient.setRange(-30, 120)
        self.ambient.setSuffix(" °C")
        self.ambient.setValue(area.ambient_c)
        self.checks = {
            "fuel_vapour": QCheckBox("fuel vapour: ignition-protected parts only"),
            "engine_heat": QCheckBox("engine space: its ampacity factor applies"),
            "at_sea": QCheckBox("a hand reaches it under way"),
        }
        for label, widget in (("Name", self.name), ("Water", self.water), ("Air", self.ambient)):
            self.form.addRow(label, widget)
        for name, check in self.checks.items():
            check.setChecked(getattr(area, name))
            self.form.addRow("", check)

    @property
    def area(self) -> Area:
        """The area as described."""
        return dataclasses.replace(
            self._area,
            name=typed(self.name) or self._area.name,
            water=self.water.currentText(),  # type: ignore[arg-type]
            ambient_c=self.ambient.value(),
            at_sea=self.checks["at_sea"].isChecked(),
            fuel_vapour=self.checks["fuel_vapour"].isChecked(),
            engine_heat=self.checks["engine_heat"].isChecked(),
        )


class NewRunDialog(_Form):
    """A new run between two stations; ``run`` holds the answer."""

    def __init__(self, boat: Boat, start: str, units: str, parent: QWidget) -> None:
        super().__init__("New run", "Lay it", parent)
        self._boat, self._units = boat, units
        self._by_id = boat.stations_by_id
        self.ends = (QComboBox(), QComboBox())
        for combo in self.ends:
            for station in sorted(boat.stations, key=lambda s: s.name):
                combo.addItem(station.name, station.id)
            combo.currentIndexChanged.connect(lambda _: self._guess())
        self.length, self.harness, self.enclosure = QLineEdit(), QComboBox(), QComboBox()
        for assembly in boat.assemblies:
            self.harness.addItem(assembly.name, assembly.id)
        self.enclosure.addItems(["loom", "conduit", "open"])
        for label, widget in (
            ("From", self.ends[0]),
            ("To", self.ends[1]),
            ("Measured length", self.length),
            ("Harness", self.harness),
            ("Enclosure", self.enclosure),
        ):
            self.form.addRow(label, widget)
        self.form.addRow(small("The length shown is a guess from the stations' places."))
        self.ends[0].setCurrentIndex(max(0, self.ends[0].findData(start)))
        self._guess()

    def _guess(self) -> None:
        first, second = (self._by_id[combo.currentData()] for combo in self.ends)
        self.length.setText(length_text(metres_between(first, second), self._units))
        near = [r.harness for r in self._boat.runs if first.id in r.ends]
        if near:
            self.harness.setCurrentIndex(self.harness.findData(near[0]))

    @property
    def run(self) -> Run:
        """The run as described."""
        first, second = (combo.currentData() for combo in self.ends)
        number = 1
        taken = {run.id for run in self._boat.runs}
        while f"Y{number:02d}" in taken:
            number += 1
        return Run(
            id=f"Y{number:02d}",
            ends=(first, second),
            length_m=round(parse_length_m(self.length.text(), self._units), 4),
            harness=self.harness.currentData(),
            area=self._by_id[second].area,
            enclosure=self.enclosure.currentText(),  # type: ignore[arg-type]
        )

    def check(self) -> None:
        """Two ends that differ, and a length."""
        if self.ends[0].currentData() == self.ends[1].currentData():
            raise ValueError("A run wants two different ends.")
        if self.run.length_m <= 0:
            raise ValueError("A run wants a length above zero.")
