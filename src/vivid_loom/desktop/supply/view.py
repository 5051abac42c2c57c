"""The picture of the power path: picked with the mouse or walked with the keys."""

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from vivid_loom.desktop.widgets.scene_view import SceneView
from vivid_loom.drafting import Draft
from vivid_loom.sheets.drawings.supply_drawing import supply_picture
from vivid_loom.sheets.paper.drawing import Scene, Spot

__all__ = ["SupplyView"]


class SupplyView(SceneView):
    """Shows a draft's supply, and which state its switches are looked at in; never edits.

    Signals:
        state_asked (str): the state of a part is to change to the next.
    """

    state_asked = Signal(str)

    ON_TOP = ("state", "way", "part", "battery", "bus", "panel", "feeder")
    PRESSED = frozenset({"state"})

    def __init__(self, parent: QWidget | None = None) -> None:
        words = "Supply: the power path from the batteries to the last way"
        super().__init__("supply", words, parent)
        self._draft: Draft | None = None
        self._states: dict[str, str] = {}

    def set_draft(self, draft: Draft, states: dict[str, str]) -> None:
        """Show a draft, its parts in these states."""
        self._draft = draft
        self.set_states(states)

    def set_states(self, states: dict[str, str]) -> None:
        """Look at parts in these states."""
        self._states = dict(states)
        self.lay_out_again()

    def scene(self) -> Scene | None:
        """Lay the power path out."""
        if self._draft is None:
            return None
        return supply_picture(
            self._draft,
            self.page_width(),
            states=self._states,
            selected=self.selected[1],
            tones=self._tones,
        )

    def press(self, spot: Spot) -> None:
        """Turn what has states to the next one."""
        self.state_asked.emit(spot.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        kind, name = self.selected
        if event.key() == Qt.Key.Key_Space and kind == "part":
            self.state_asked.emit(name)
        else:
            super().keyPressEvent(event)
