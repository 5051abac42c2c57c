"""Asks what becomes of options that an order has chosen and its model offers no more."""

from pathlib import Path

from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Boat, Option, offering, read_boat
from vivid_loom.demo import find_boat
from vivid_loom.desktop.widgets.dialogs import answered
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.opening import issued_option
from vivid_loom.order import Edit, Order, lost_options, mend_options, read_order
from vivid_loom.quantities.document import DocumentError

__all__ = ["LostOptionsDialog", "asked_to_mend"]

Buttons = QDialogButtonBox.StandardButton


class LostOptionsDialog(QDialog):
    """One choice for each option that was lost: drop it, another in its place, or as it was."""

    def __init__(self, path: Path, order: Order, model: Boat, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Options that the model has lost")
        self.resize(620, 240)
        told = PlainLabel(
            f"{path.name} has chosen what {model.name} offers no more. Nothing is drafted before "
            "somebody has said what becomes of it; the file is as it was until it is saved."
        )
        told.setWordWrap(True)
        self.choices: dict[str, QComboBox] = {}
        form = QFormLayout()
        for name in lost_options(order, model):
            combo = QComboBox()
            combo.setAccessibleName(f"What becomes of {name}")
            if kept := issued_option(path, order, name):
                combo.addItem(f"Keep it as this hull's own: {kept.name}, as it was issued", kept)
            combo.addItem("Drop it", "")
            for option in offering(model, order.hull_changes).options:
                if option.id not in order.options:
                    combo.addItem(f"{option.name} in its place", option.id)
            self.choices[name] = combo
            form.addRow(name, combo)
        buttons = QDialogButtonBox(Buttons.Ok | Buttons.Cancel)
        buttons.button(Buttons.Ok).setText("Open it so")
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.addWidget(told)
        layout.addLayout(form)
        layout.addStretch(1)
        layout.addWidget(buttons)

    @property
    def mend(self) -> Edit:
        """What the answers make of the order."""
        answers: dict[str, str | Option] = {
            name: combo.currentData() for name, combo in self.choices.items()
        }
        return mend_options(answers)


def asked_to_mend(path: Path, parent: QWidget | None = None) -> Edit | None:
    """Ask about the options an order has lost; None where it has lost none, or nobody answers."""
    try:
        order = read_order(path)
        model = read_boat(find_boat(path, order.boat))
    except DocumentError:
        return None
    if not lost_options(order, model):
        return None
    dialog = LostOptionsDialog(path, order, model, parent)
    return dialog.mend if answered(dialog) else None
