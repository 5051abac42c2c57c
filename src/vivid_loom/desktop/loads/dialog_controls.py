"""What the dialogs of several stages share."""

from PySide6.QtWidgets import QComboBox, QDialog, QDialogButtonBox

from vivid_loom.drafting import Draft

__all__ = ["answer_buttons", "ids_aboard", "station_combo"]


def ids_aboard(draft: Draft) -> set[str]:
    """Return every id that a new load, circuit or switch must not take."""
    order, aboard = draft.aboard.order, draft.aboard
    options = [o.adds for o in aboard.boat.options]
    fits = [aboard.boat.fit, order.added, *options]
    found = {load.id for fit in fits for load in fit.loads}
    found |= {circuit.id for fit in fits for circuit in fit.circuits}
    found |= {switch.id for fit in fits for switch in fit.switches}
    return found | {*aboard.boat.places_by_id, *aboard.boat.returns_by_id}


def answer_buttons(dialog: QDialog, words: str) -> QDialogButtonBox:
    """Return the button that takes the answer, named by what it does, and Cancel."""
    box = QDialogButtonBox(
        QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
    )
    box.button(QDialogButtonBox.StandardButton.Ok).setText(words)
    box.accepted.connect(dialog.accept)
    box.rejected.connect(dialog.reject)
    return box


def station_combo(draft: Draft) -> QComboBox:
    """Return the boat's stations to choose from, by name."""
    made = QComboBox()
    for station in sorted(draft.aboard.boat.stations, key=lambda s: s.name):
        made.addItem(station.name, station.id)
    return made
