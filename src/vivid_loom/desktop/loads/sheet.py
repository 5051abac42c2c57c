"""One load's sheet, or several at once: every figure, its leads, how it is fed."""

import dataclasses
from typing import get_args

from PySide6.QtCore import QSignalBlocker, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QFormLayout,
    QHeaderView,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Lead, LeadFunction, Load, Station
from vivid_loom.desktop.loads.fields import FIELDS, LoadField, changed
from vivid_loom.desktop.widgets.controls import button, heading, row_of, scrolled, small
from vivid_loom.desktop.widgets.plain import PlainLabel, plain
from vivid_loom.desktop.widgets.text_table import Cell, TextModel, TextTable
from vivid_loom.drafting import Draft
from vivid_loom.order import change_loads, move_loads
from vivid_loom.quantities import (
    GaugeError,
    QuantityError,
    parse_amps,
    parse_gauge,
    parse_length_m,
)

__all__ = ["LoadSheet"]

SEVERAL = "several"
_SHRINK = QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
_LEAD_FIELDS = ("function", "ending", "colour", "gauge", "length_mm", "fuse_a")


def _lead_with(lead: Lead, column: int, text: str) -> Lead:
    """Return a lead with one cell changed.

    Raises:
        ValueError: text that the cell cannot take.
    """
    field, value = _LEAD_FIELDS[column], text.strip()
    if field == "function" and value not in get_args(LeadFunction):
        raise ValueError(f"found {value!r}, expected one of {', '.join(get_args(LeadFunction))}")
    if field == "gauge" and value:
        value = str(parse_gauge(value))
    if field == "length_mm":
        return dataclasses.replace(lead, length_mm=round(parse_length_m(value or "0", "mm") * 1000))
    if field == "fuse_a":
        return dataclasses.replace(lead, fuse_a=parse_amps(value, 12.0) if value else None)
    return dataclasses.replace(lead, **{field: value})  # type: ignore[arg-type]


class LoadSheet(QWidget):
    """Signals:

    edit_made (object): an ``Edit`` of the loads shown.
    refused (str): why something typed cannot stand.
    """

    edit_made = Signal(object)
    refused = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._loads: tuple[Load, ...] = ()
        self._stations: tuple[Station, ...] = ()
        self._nominal_v = 12.0
        self.title, self.fed = heading(""), small("")
        self.inputs: dict[str, QLineEdit | QComboBox] = {}
        self.station = QComboBox()
        self.station.setAccessibleName("Place")
        self.station.setSizeAdjustPolicy(_SHRINK)
        self.station.setMinimumContentsLength(8)
        self.station.activated.connect(self._moved)
        form = QFormLayout()
        form.setVerticalSpacing(5)
        form.addRow("Place", self.station)
        for field in FIELDS:
            form.addRow(field.label, self._input(field))
        self.leads = TextModel(("Lead", "Ends in", "Colour", "Gauge", "mm", "Fuse"), right=(4, 5))
        self.leads.editable = frozenset(range(6))
        self.leads.edited = self._lead_edited
        self.lead_table = TextTable(self.leads, "Leads")
        self.lead_table.setFixedHeight(132)
        self.lead_table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 8, 0)
        column.addWidget(self.title)
        column.addWidget(self.fed)
        column.addLayout(form)
        column.addWidget(PlainLabel("Leads, told by function and never by colour"))
        column.addWidget(self.lead_table)
        column.addLayout(
            row_of(button("Add lead", self._add_lead), button("Remove lead", self._remove_lead))
        )
        column.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(scrolled(inner))
        self.setFixedWidth(296)

    def _input(self, field: LoadField) -> QWidget:
        made: QLineEdit | QComboBox
        if field.options:
            made = QComboBox()
            made.setSizeAdjustPolicy(_SHRINK)
            made.setMinimumContentsLength(8)
            made.addItems(field.options)
            made.textActivated.connect(lambda text: self._typed(field, text))
        else:
            made = QLineEdit()
            made.setPlaceholderText(field.hint)
            made.editingFinished.connect(lambda: self._finished(field))
        made.setAccessibleName(field.label)
        made.setToolTip(plain(field.hint))
        self.inputs[field.name] = made
        return made

    def show_loads(self, draft: Draft, loads: tuple[Load, ...]) -> None:
        """Show loads; where they differ, a field says 'several' and sets them all alike."""
        self._loads = loads
        self._nominal_v = draft.aboard.boat.nominal_v
        if draft.aboard.boat.stations != self._stations:
            self._stations = draft.aboard.boat.stations
            with QSignalBlocker(self.station):
                self.station.clear()
                for station in sorted(self._stations, key=lambda s: s.name):
                    self.station.addItem(station.name, station.id)
        self.setEnabled(bool(loads))
        self.title.setText(
            loads[0].name if len(loads) == 1 else f"{len(loads)} loads" if loads else "No load"
        )
        self.fed.setText(self._feeding(draft))
        places = {load.station for load in loads}
        at = self.station.findData(places.pop()) if len(places) == 1 else -1
        self.station.setCurrentIndex(at)
        for field in FIELDS:
            self._show_field(field)
        self.leads.fill(
            [
                (
                    str(i),
                    (
                        Cell(lead.function, "warn" if lead.function == "unknown" else ""),
                        Cell(lead.ending),
                        Cell(lead.colour),
                        Cell(lead.gauge),
                        Cell(f"{lead.length_mm:g}" if lead.length_mm else ""),
                        Cell(f"{lead.fuse_a:g}" if lead.fuse_a else ""),
                    ),
                )
                for i, lead in enumerate(loads[0].leads)
            ]
            if len(loads) == 1
            else []
        )

    def _feeding(self, draft: Draft) -> str:
        if not self._loads:
            return "Pick a load, or several to set alike."
        if len(self._loads) != 1:
            return "What you set here is set for all of them."
        load = self._loads[0]
        rows = [r for r in draft.circuits if load.id in r.planned.loads]
        if not rows:
            return "Nothing feeds it yet."
        return "Fed by " + ", ".join(
            f"{r.id} from {r.planned.source}" + (f", {r.sized.gauge.value}" if r.sized else "")
            for r in rows
        )

    def _show_field(self, field: LoadField) -> None:
        shown = {field.show(load) for load in self._loads}
        text = shown.pop() if len(shown) == 1 else SEVERAL if shown else ""
        made = self.inputs[field.name]
        if isinstance(made, QLineEdit):
            made.setText("" if text == SEVERAL else text)
            made.setPlaceholderText(SEVERAL if text == SEVERAL else field.hint)
        else:
            if made.findText(text) < 0 and text and text != SEVERAL:
                made.addItem(text)
            made.setCurrentIndex(made.findText(text))

    def _finished(self, field: LoadField) -> None:
        made = self.inputs[field.name]
        assert isinstance(made, QLineEdit)
        shown = {field.show(load) for load in self._loads}
        if not self._loads or shown == {made.text()} or (len(shown) > 1 and not made.text()):
            return
        self._typed(field, made.text())

    def _typed(self, field: LoadField, text: str) -> None:
        try:
            loads = changed(self._loads, field, text, self._nominal_v)
        except ValueError as error:
            self.refused.emit(f"{field.label}: {error}")
            self._show_field(field)
            return
        if loads:
            self.edit_made.emit(change_loads(loads, field.label.lower()))

    def _moved(self, index: int) -> None:
        station = next(s for s in self._stations if s.id == self.station.itemData(index))
        if self._loads and any(load.station != station.id for load in self._loads):
            self.edit_made.emit(move_loads(self._loads, station))

    def _set_leads(self, leads: tuple[Lead, ...]) -> None:
        load = dataclasses.replace(self._loads[0], leads=leads)
        self.edit_made.emit(change_loads((load,), "leads"))

    def _lead_edited(self, key: str, column: int, text: str) -> bool:
        leads = list(self._loads[0].leads)
        try:
            leads[int(key)] = _lead_with(leads[int(key)], column, text)
        except (QuantityError, GaugeError, ValueError) as error:
            self.refused.emit(f"Lead: {error}")
            return False
        self._set_leads(tuple(leads))
        return True

    def _add_lead(self) -> None:
        if len(self._loads) == 1:
            self._set_leads((*self._loads[0].leads, Lead(function="unknown")))

    def _remove_lead(self) -> None:
        keys = {int(key) for key in self.lead_table.selected_keys()}
        if len(self._loads) == 1 and keys:
            leads = self._loads[0].leads
            self._set_leads(tuple(lead for i, lead in enumerate(leads) if i not in keys))
