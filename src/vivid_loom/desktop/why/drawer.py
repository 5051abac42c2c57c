"""Opens any circuit's decisions: arithmetic, limits, neighbours, and the engineer's override."""

import datetime

from PySide6.QtCore import QUrl, Signal
from PySide6.QtGui import QColor, QImage, QPainter, QTextDocument
from PySide6.QtWidgets import (
    QComboBox,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.desktop.why.text import PLOT, why_html
from vivid_loom.desktop.widgets.controls import typed
from vivid_loom.desktop.widgets.paint import play
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.theme import LIGHT
from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.order import Override, OverrideField
from vivid_loom.quantities import Gauge, figure
from vivid_loom.sheets.drawings.curve_drawing import curve_items
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.standards.colours import CODES
from vivid_loom.standards.devices import DEVICES

__all__ = ["WhyDrawer"]

_FIELDS: dict[str, OverrideField] = {
    "Gauge": "gauge",
    "Protection": "protection_a",
    "Positive colour": "positive_colour",
    "Negative colour": "negative_colour",
    "Helm position": "helm_position",
}
_LAID = {"single wires": "", "cable": "cable", "twisted pair": "twisted pair"}
LAID = "Laid as"


class WhyDrawer(QWidget):
    """Shows why, and takes an override with reason and initials.

    Signals:
        override_asked (object): an ``Override`` to set.
        clear_asked (str, str): subject and field to give back to the draft.
        stock_asked (str): the circuit whose device is not to be had.
        moves_asked (str): the circuit that is to hang elsewhere.
        cable_asked (str, str): a circuit, and what it is to lie in: '', 'cable', 'twisted pair'.
    """

    override_asked = Signal(object)
    clear_asked = Signal(str, str)
    stock_asked = Signal(str)
    moves_asked = Signal(str)
    cable_asked = Signal(str, str)
    closed = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("why")
        self.setFixedWidth(360)
        self._draft: Draft | None = None
        self._row: DraftedCircuit | None = None
        self._tones = LIGHT
        self.text = QTextBrowser()
        self.text.setAccessibleName("Why: the decision step by step")
        self.field = QComboBox()
        self.field.addItems([*_FIELDS, LAID])
        self.value = QComboBox()
        self.value.setEditable(True)
        self.reason = QLineEdit()
        self.reason.setPlaceholderText("why you overrule the draft")
        self.initials = QLineEdit()
        self.initials.setMaxLength(6)
        self.take = QPushButton("Overrule")
        self.give_back = QPushButton("Back to the draft")
        self.stock = QPushButton("Not in stock …")
        self.stock.setToolTip("Another device for this circuit: what may go in and what may not")
        self.moves = QPushButton("Hang elsewhere …")
        self.moves.setToolTip("Other parts and ways home, and the copper that saves")
        shut = QPushButton("Close")
        form = QFormLayout()
        form.addRow("Value", self.field)
        form.addRow("Set to", self.value)
        form.addRow("Reason", self.reason)
        form.addRow("Initials", self.initials)
        buttons = QHBoxLayout()
        for button in (self.take, self.give_back):
            buttons.addWidget(button)
        more = QHBoxLayout()
        for button in (self.stock, self.moves, shut):
            more.addWidget(button)
        self.note = PlainLabel("")
        self.note.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 8, 10, 8)
        layout.addWidget(self.text, 1)
        layout.addLayout(form)
        layout.addWidget(self.note)
        layout.addLayout(buttons)
        layout.addLayout(more)
        self.field.currentTextChanged.connect(self._offer_values)
        self.take.clicked.connect(self._ask_override)
        self.give_back.clicked.connect(self._ask_clear)
        shut.clicked.connect(self.closed)
        self.stock.clicked.connect(self._ask_stock)
        self.moves.clicked.connect(self._ask_moves)

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self._tones = tones
        if self._draft and self._row:
            self.show_circuit(self._draft, self._row.id)

    def _draw_curves(self, draft: Draft, row: DraftedCircuit) -> None:
        """Put the time–current picture where the text has its place."""
        width, height = 318, 250
        image = QImage(2 * width, 2 * height, QImage.Format.Format_ARGB32)
        image.setDevicePixelRatio(2)
        image.fill(QColor(self._tones.page))
        painter = QPainter(image)
        play(painter, curve_items(draft, row, width, height, self._tones))
        painter.end()
        self.text.document().addResource(
            QTextDocument.ResourceType.ImageResource.value, QUrl(PLOT), image
        )

    def show_circuit(self, draft: Draft, circuit_id: str) -> None:
        """Open a circuit's decisions."""
        self._draft, self._row = draft, draft.circuit(circuit_id)
        if self._row is None:
            self.text.setHtml("<p>Pick a circuit.</p>")
            return
        bar = self.text.verticalScrollBar()
        at = bar.value()
        self._draw_curves(draft, self._row)
        self.text.document().setDefaultStyleSheet(f"a {{ color: {self._tones.focus}; }}")
        self.text.setHtml(why_html(draft, self._row))
        bar.setValue(at)
        self._offer_values()

    def _subject(self) -> str:
        assert self._row is not None
        request = self._row.planned.request
        if self.field.currentText() == "Helm position" and request and request.contact:
            return request.contact.switch
        return self._row.id

    def _offer_values(self) -> None:
        if self._draft is None or self._row is None:
            return
        row, field = self._row, self.field.currentText()
        if field == "Gauge":
            series = self._draft.aboard.profile.series
            wires = self._draft.catalogue.wires
            values = [w.gauge for w in wires if Gauge.parse(w.gauge).series == series]
            now = str(row.sized.gauge.value) if row.sized else ""
        elif field == "Protection":
            device = DEVICES.get(row.planned.family)
            values = [figure(r) for r in device.ratings_a] if device else []
            held = row.sized.protection if row.sized else None
            now = figure(held.value) if held else ""
        elif field == LAID:
            request = row.planned.request
            values = list(_LAID) if request else []
            now = next((k for k, v in _LAID.items() if request and v == request.cable), "")
        elif field == "Helm position":
            values = [str(p) for p in range(1, self._draft.aboard.boat.positions + 1)]
            now = str(row.planned.position or "")
        else:
            values = list(CODES)
            shade = row.colours.positive if field.startswith("Pos") else row.colours.negative
            now = str(shade.value)
        self.value.clear()
        self.value.addItems(values)
        self.value.setCurrentText(now)
        self.note.setText("")

    def _ask_stock(self) -> None:
        if self._row is not None:
            self.stock_asked.emit(self._row.id)

    def _ask_moves(self) -> None:
        if self._row is not None:
            self.moves_asked.emit(self._row.id)

    def _ask_override(self) -> None:
        if self._row is None:
            return
        if self.field.currentText() == LAID:
            if self.value.currentText() in _LAID and self._row.planned.request:
                self.cable_asked.emit(self._row.id, _LAID[self.value.currentText()])
            return
        if not typed(self.reason) or not typed(self.initials):
            self.note.setText("An override needs a reason and initials.")
            return
        self.override_asked.emit(
            Override(
                subject=self._subject(),
                field=_FIELDS[self.field.currentText()],
                value=self.value.currentText().strip(),
                reason=typed(self.reason),
                initials=typed(self.initials),
                time=datetime.datetime.now().isoformat(timespec="minutes"),
            )
        )

    def _ask_clear(self) -> None:
        if self._row is not None and self.field.currentText() in _FIELDS:
            self.clear_asked.emit(self._subject(), _FIELDS[self.field.currentText()])
