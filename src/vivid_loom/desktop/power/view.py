"""The picture of a boat powered up: levers to press, loads and pieces of their ways to pick."""

from collections.abc import Collection

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from vivid_loom.desktop.widgets.scene_view import SceneView
from vivid_loom.power.powered import Powered
from vivid_loom.power.profile import Profiles
from vivid_loom.sheets.drawings.power_drawing import PowerLook, power_picture
from vivid_loom.sheets.paper.drawing import Primitive, Scene, Spot

__all__ = ["PowerView"]


class PowerView(SceneView):
    """Shows a boat powered up; never computes.

    Signals:
        lever_asked (str): a lever goes to its next state.
    """

    lever_asked = Signal(str)

    ON_TOP = ("piece", "lever", "load")

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("power", "Power: levers, and where every load's volts go", parent)
        self.ways: Profiles | None = None
        """Where the volts of what is shown go."""
        self._lost: Collection[str] = ()
        self.all_loads = False

    def set_powered(self, now: Powered | None, lost: Collection[str] = ()) -> None:
        """Show what flows, and what a fault has put out."""
        self.ways, self._lost = Profiles(now) if now else None, lost
        self.lay_out_again()

    def room(self) -> tuple[float, float, float]:
        """Return the width of the page, and from where to where the picture is seen."""
        top = self.verticalScrollBar().value()
        return (self.page_width(), top, top + self.viewport().height())

    def scene(self) -> Scene | None:
        """Lay out levers and loads for the width of the page, and draw those in sight."""
        if self.ways is None:
            return None
        width, top, low = self.room()
        look = PowerLook(width, self.selected, self.all_loads, self._lost, (top, low))
        return power_picture(self.ways, look, self._tones)

    def shown(self) -> tuple[Primitive, ...]:
        """Return all of the picture: it is drawn for what is in sight."""
        return self._laid_out().items

    def walked(self, spot: Spot) -> bool:
        """Tell whether the arrow keys stop at a thing: pieces only within their load's row."""
        return spot.kind != "piece" or self.selected[0] == "piece"

    def _pick(self, spot: Spot) -> None:
        super()._pick(spot)
        if spot.kind == "lever" and self._by_mouse:
            self.lever_asked.emit(spot.id)

    _by_mouse = False

    def mousePressEvent(self, event: object) -> None:
        self._by_mouse = True
        super().mousePressEvent(event)  # type: ignore[arg-type]
        self._by_mouse = False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        kind, name = self.selected
        if event.key() == Qt.Key.Key_Space and kind == "lever":
            self.lever_asked.emit(name)
        else:
            super().keyPressEvent(event)
