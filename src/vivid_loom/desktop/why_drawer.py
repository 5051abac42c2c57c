"""Opens any circuit's decisions: arithmetic, limits, neighbours, and the engineer's override."""

import datetime
from html import escape

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QComboBox,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.drafting import Decision, Draft, DraftedCircuit
from vivid_loom.drafting.assemble import cut_decision
from vivid_loom.order import Override, OverrideField
from vivid_loom.quantities import Gauge, figure
from vivid_loom.standards.colours import CODES, colour_name
from vivid_loom.standards.protection import RATINGS_A

__all__ = ["WhyDrawer", "why_html"]

_FIELDS: dict[str, OverrideField] = {
    "Gauge": "gauge",
    "Protection": "protection_a",
    "Positive colour": "positive_colour",
    "Negative colour": "negative_colour",
    "Helm position": "helm_position",
}


def _decision_html(title: str, value: str, decision: Decision[object]) -> str:
    parts = [f"<h3>{escape(title)}: {escape(value)}</h3>"]
    parts.append(f"<p>governed by <b>{escape(decision.governed_by)}</b></p>")
    if o := decision.override:
        parts.append(
            f"<p>Overruled by {escape(o.initials)}: {escape(o.reason)}. "
            f"The draft says {escape(str(decision.drafted))}.</p>"
        )
    for step in decision.steps:
        line = escape(step.text)
        if step.formula:
            result = f"{figure(step.result, 4)} {step.unit}"
            line += f"<br>&nbsp;&nbsp;{escape(step.formula)} = <b>{escape(result)}</b>"
        if step.source:
            line += f"<br>&nbsp;&nbsp;<i>{escape(str(step.source))}</i>"
        parts.append(f"<p>{line}</p>")
    for other in decision.alternatives:
        parts.append(f"<p>{escape(other.value)}: {escape(other.verdict)}</p>")
    return "".join(parts)


def why_html(draft: Draft, row: DraftedCircuit) -> str:
    """Return every decision of a circuit as rich text; file text is escaped."""
    parts = [f"<h2>{escape(row.planned.label)} · {row.id}</h2>"]
    for finding in draft.findings:
        if row.id in finding.subjects:
            parts.append(
                f"<p><b>{finding.severity.capitalize()} {finding.code}:</b> "
                f"{escape(finding.sentence())}<br>{escape(finding.kind.remedy)}</p>"
            )
    if row.sized is None:
        parts.append("<p>Not sized: a current is unknown.</p>")
    else:
        gauge, protection = row.sized.gauge, row.sized.protection
        parts.append(_decision_html("Gauge", str(gauge.value), gauge))
        if protection:
            value = f"{figure(protection.value)} A {row.planned.family}"
            parts.append(_decision_html("Protection", value, protection))
        else:
            parts.append("<h3>Protection: none</h3>")
    for name, decision in (
        ("Positive", row.colours.positive),
        ("Manual lead", row.colours.manual),
        ("Negative", row.colours.negative),
    ):
        if decision:
            value = f"{decision.value} {colour_name(decision.value)}"
            parts.append(_decision_html(name, value, decision))
    for name, place in row.planned.places:
        parts.append(_decision_html(name, place.value, place))
    parts.append("<h3>Loads</h3>")
    for name in row.planned.loads:
        load = draft.aboard.loads[name]
        evidence = f"{load.evidence.kind}: {load.evidence.note} {load.evidence.date}"
        amps = f"{figure(load.running_a)} A" if load.running_a else "current unknown"
        parts.append(f"<p>{escape(load.name)}, {amps} ({escape(evidence.strip())})</p>")
    parts.append("<h3>Wires</h3>")
    for wire in row.wires:
        cut = cut_decision(wire, draft.aboard.profile)
        parts.append(
            f"<p><b>{wire.id}</b> {wire.gauge} {wire.colour}<br>"
            f"&nbsp;&nbsp;{cut.steps[0].formula} → cut <b>{wire.cut_mm:g} mm</b><br>"
            f"&nbsp;&nbsp;{escape(wire.start.place)} {wire.start.point}: "
            f"{wire.start.termination.kind} ({wire.start.termination.why})<br>"
            f"&nbsp;&nbsp;{escape(wire.end.place)} {wire.end.point}: "
            f"{wire.end.termination.kind} ({wire.end.termination.why})</p>"
        )
    return "".join(parts)


class WhyDrawer(QWidget):
    """Shows why, and takes an override with reason and initials.

    Signals:
        override_asked (object): an ``Override`` to set.
        clear_asked (str, str): subject and field to give back to the draft.
    """

    override_asked = Signal(object)
    clear_asked = Signal(str, str)
    closed = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("why")
        self.setFixedWidth(360)
        self._draft: Draft | None = None
        self._row: DraftedCircuit | None = None
        self.text = QTextBrowser()
        self.text.setAccessibleName("Why: the decision step by step")
        self.field = QComboBox()
        self.field.addItems(list(_FIELDS))
        self.value = QComboBox()
        self.value.setEditable(True)
        self.reason = QLineEdit()
        self.reason.setPlaceholderText("why you overrule the draft")
        self.initials = QLineEdit()
        self.initials.setMaxLength(6)
        self.take = QPushButton("Overrule")
        self.give_back = QPushButton("Back to the draft")
        shut = QPushButton("Close")
        form = QFormLayout()
        form.addRow("Value", self.field)
        form.addRow("Set to", self.value)
        form.addRow("Reason", self.reason)
        form.addRow("Initials", self.initials)
        buttons = QHBoxLayout()
        for button in (self.take, self.give_back, shut):
            buttons.addWidget(button)
        self.note = QLabel("")
        self.note.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 8, 10, 8)
        layout.addWidget(self.text, 1)
        layout.addLayout(form)
        layout.addWidget(self.note)
        layout.addLayout(buttons)
        self.field.currentTextChanged.connect(self._offer_values)
        self.take.clicked.connect(self._ask_override)
        self.give_back.clicked.connect(self._ask_clear)
        shut.clicked.connect(self.closed)

    def show_circuit(self, draft: Draft, circuit_id: str) -> None:
        """Open a circuit's decisions."""
        self._draft, self._row = draft, draft.circuit(circuit_id)
        if self._row is None:
            self.text.setHtml("<p>Pick a circuit.</p>")
            return
        bar = self.text.verticalScrollBar()
        at = bar.value()
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
            values = [figure(r) for r in RATINGS_A.get(row.planned.family, ())]
            held = row.sized.protection if row.sized else None
            now = figure(held.value) if held else ""
        elif field == "Helm position":
            values = [str(p) for p in range(1, self._draft.aboard.boat.helm.positions + 1)]
            now = str(row.planned.position or "")
        else:
            values = list(CODES)
            shade = row.colours.positive if field.startswith("Pos") else row.colours.negative
            now = str(shade.value)
        self.value.clear()
        self.value.addItems(values)
        self.value.setCurrentText(now)
        self.note.setText("")

    def _ask_override(self) -> None:
        if self._row is None:
            return
        if not self.reason.text().strip() or not self.initials.text().strip():
            self.note.setText("An override needs a reason and initials.")
            return
        self.override_asked.emit(
            Override(
                subject=self._subject(),
                field=_FIELDS[self.field.currentText()],
                value=self.value.currentText().strip(),
                reason=self.reason.text().strip(),
                initials=self.initials.text().strip(),
                time=datetime.datetime.now().isoformat(timespec="minutes"),
            )
        )

    def _ask_clear(self) -> None:
        if self._row is not None:
            self.clear_asked.emit(self._subject(), _FIELDS[self.field.currentText()])
