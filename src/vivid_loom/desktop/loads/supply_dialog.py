"""Blocks and helm from the load list; spare conductors and pull lines."""

from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.desktop.loads.dialog_controls import answer_buttons, ids_aboard, station_combo
from vivid_loom.desktop.widgets.controls import small, typed
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.propose import Proposal, proposals
from vivid_loom.order import Edit, Spare, change_supply, fit_helm
from vivid_loom.order.new_loads import free_id, id_from_name
from vivid_loom.quantities import Gauge
from vivid_loom.standards.colours import CODES

__all__ = ["SpareDialog", "SupplyDialog"]


class SupplyDialog(QDialog):
    """Blocks and helm sized from the load list; ``edits`` holds what the engineer takes."""

    def __init__(self, draft: Draft, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Supply from the load list")
        self.resize(720, 460)
        layout = QVBoxLayout(self)
        layout.addWidget(
            small(
                "Ways in use, a fifth to spare and at least two, the next size on the shelf; "
                "each block must bear the demand of what hangs on it."
            )
        )
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
            line.addWidget(PlainLabel(told))
            line.addStretch(1)
            line.addWidget(wants)
            layout.addLayout(line)
            formula = "   ".join(f"{s.text}: {s.formula}" for s in proposal.steps if s.formula)
            bears = f"   bears {proposal.total_a[1]:g} A" if proposal.supply else ""
            layout.addWidget(small(formula + bears))
            self.rows.append((proposal, tick, wants))
        layout.addStretch(1)
        layout.addWidget(answer_buttons(self, "Fit these"))

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
        self.start, self.end = station_combo(draft), station_combo(draft)
        self.start.setCurrentIndex(self.start.findData(draft.aboard.boat.helm_station))
        self.count, self.gauge, self.colour = QSpinBox(), QComboBox(), QComboBox()
        self.count.setRange(1, 40)
        series = draft.aboard.profile.series
        self.gauge.addItems(
            [w.gauge for w in draft.catalogue.wires if Gauge.parse(w.gauge).series == series]
        )
        self.gauge.setCurrentText(draft.aboard.profile.shop_floor)
        for code, name in CODES.items():
            self.colour.addItem(f"{code} {name}", code)
        self.colour.setCurrentIndex(self.colour.findData("WH"))
        form = QFormLayout(self)
        for words, widget in (
            ("Label", self.label),
            ("Kind", self.kind),
            ("From", self.start),
            ("To", self.end),
            ("How many", self.count),
            ("Gauge", self.gauge),
            ("Colour", self.colour),
        ):
            form.addRow(words, widget)
        form.addRow(small("Both ends are capped and labelled; they take room in the bundles."))
        form.addRow(answer_buttons(self, "Plan it"))
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
            label=typed(self.label) or "Spare",
            kind="conductor" if conductor else "pull line",
            start=self.start.currentData(),
            end=self.end.currentData(),
            count=self.count.value(),
            gauge=self.gauge.currentText() if conductor else "",
            colour=self.colour.currentData(),
        )
