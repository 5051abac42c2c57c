"""The picture of a form board: zoomed, moved about, and picked from."""

from collections.abc import Sequence

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from vivid_loom.desktop.widgets.scene_view import SceneView
from vivid_loom.drafting import Draft
from vivid_loom.sheets.drawings.board_drawing import HarnessBoard, board_scene
from vivid_loom.sheets.drawings.plug_drawing import plug_faces
from vivid_loom.sheets.paper.drawing import Primitive, Scene, Spot, Text, moved

__all__ = ["BoardView", "PlugView"]

EDGE = 10.0
LEAST_TEXT = 6.0  # px; what is smaller is left out until one comes nearer
NAMES = 10.5  # px; of stations, at least
STEP, NEAREST = 1.3, 4.0


class BoardView(SceneView):
    """Shows a harness on its board, whole or from near; never computes it."""

    ON_TOP = ("wire", "station", "branch")

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("board", "Form board: branches, stations and what ends at them", parent)
        self._draft: Draft | None = None
        self._boards: Sequence[HarnessBoard] = ()
        self.zoom = 0.0  # px to the mm; 0 fits the page
        self._held: QPointF | None = None

    def set_boards(self, draft: Draft, boards: Sequence[HarnessBoard]) -> None:
        """Show a harness."""
        self._draft, self._boards = draft, boards
        self.lay_out_again()

    def scale(self) -> float:
        """Return px to the mm."""
        if self.zoom or not self._boards:
            return self.zoom or 0.25
        port = self.viewport()
        wide = max(board.plan.width_mm for board in self._boards)
        high = sum(board.plan.height_mm for board in self._boards)
        return min((port.width() - 2 * EDGE) / wide, (port.height() - 2 * EDGE) / high)

    def room(self) -> tuple[float, ...]:
        """Return the page both ways: the picture is made to fit it."""
        return (self.viewport().width(), self.viewport().height())

    def scene(self) -> Scene | None:
        """Lay the boards out one under another, as near as they are looked at."""
        if self._draft is None or not self._boards:
            return None
        scale = self.scale()
        items: list[Primitive] = []
        spots: list[Spot] = []
        y, wide = EDGE, 0.0
        for board in self._boards:
            made = board_scene(board, self._draft, self._tones, self.selected, NAMES / scale)
            items += [
                moved(item, EDGE, y, scale)
                for item in made.items
                if not isinstance(item, Text) or item.size * scale >= LEAST_TEXT
            ]
            for spot in made.spots:
                x0, y0, w, h = spot.rect
                rect = (x0 * scale + EDGE, y0 * scale + y, w * scale, h * scale)
                if spot.kind != "wire" or h * scale >= LEAST_TEXT:
                    spots.append(spot._replace(rect=rect))
            y += made.height * scale + EDGE
            wide = max(wide, made.width * scale + 2 * EDGE)
        return Scene(tuple(items), tuple(spots), wide, y)

    def walked(self, spot: Spot) -> bool:
        """Tell whether the arrow keys stop at a thing."""
        return spot.kind != "branch"

    def closer(self) -> None:
        """Come nearer, what is selected staying in view."""
        self._zoom_to(self.scale() * STEP)

    def farther(self) -> None:
        """Step back."""
        self._zoom_to(self.scale() / STEP)

    def fit(self) -> None:
        """Show the whole board."""
        self.zoom = 0.0
        self.lay_out_again()

    def _zoom_to(self, zoom: float, about: QPointF | None = None) -> None:
        """Change the zoom; the point of the board under ``about`` stays where it is."""
        before = self.scale()
        across, down = self.horizontalScrollBar(), self.verticalScrollBar()
        at = about or QPointF(self.viewport().width() / 2, self.viewport().height() / 2)
        x = (at.x() + across.value() - EDGE) / before
        y = (at.y() + down.value() - EDGE) / before
        self.zoom = min(NEAREST, zoom)
        if self.zoom * 10 < before:
            self.zoom = before
        self.lay_out_again()
        across.setValue(int(x * self.zoom + EDGE - at.x()))
        down.setValue(int(y * self.zoom + EDGE - at.y()))

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            factor = STEP ** (event.angleDelta().y() / 120)
            self._zoom_to(self.scale() * factor, event.position())
        else:
            super().wheelEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {"+": self.closer, "-": self.farther, "0": self.fit}
        if event.text() in steps:
            steps[event.text()]()
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._held = event.position()
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Move the board along with the hand."""
        if self._held is not None:
            by = event.position() - self._held
            self._held = event.position()
            across, down = self.horizontalScrollBar(), self.verticalScrollBar()
            across.setValue(across.value() - int(by.x()))
            down.setValue(down.value() - int(by.y()))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._held = None
        super().mouseReleaseEvent(event)


class PlugView(SceneView):
    """Shows the plugs of a harness from the wire side."""

    ON_TOP = ("wire",)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("plugs", "Plugs of the harness, cavity by cavity", parent)
        self._draft: Draft | None = None
        self._harness = ""

    def set_harness(self, draft: Draft, harness: str) -> None:
        """Show the halves that a harness carries."""
        self._draft, self._harness = draft, harness
        self.lay_out_again()

    def scene(self) -> Scene | None:
        """Lay the halves out, as many beside one another as the page takes."""
        if self._draft is None:
            return None
        wide = self.page_width()
        return plug_faces(self._draft, self._harness, wide, self._tones, self.selected[1])
