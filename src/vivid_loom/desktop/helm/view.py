"""The picture of the panels: pressed and picked with the mouse or the keys."""

from collections.abc import Iterator

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QWidget

from vivid_loom.boat import HelmPanel
from vivid_loom.desktop.widgets.scene_view import SceneView
from vivid_loom.drafting import Draft
from vivid_loom.sheets.drawings.panel.back import switch_scene
from vivid_loom.sheets.drawings.panel.plate import Look, on_panel, panel_size_mm
from vivid_loom.sheets.drawings.panel.side import panel_scene
from vivid_loom.sheets.paper.drawing import Primitive, Scene, Spot, Text, moved

__all__ = ["HelmView"]

EDGE = 12.0
TITLE_H = 26.0
LEAST_SCALE, MOST_SCALE = 2.4, 4.4
BEHIND_SCALE, LEAST_ROOM = 4.4, 220.0
DRAGGED = 20.0  # a press that slips is no drag


class HelmView(SceneView):
    """Shows a draft's panels as they are looked at; never edits.

    Signals:
        press_asked (str, str): a switch's half is pressed: its id, 'up' or 'down'.
        drop_asked (str, int): a switch was dragged onto a position.
    """

    press_asked = Signal(str, str)
    drop_asked = Signal(str, int)

    ON_TOP = ("press_up", "press_down", "tab", "wire", "switch", "free")
    PRESSED = frozenset({"press_up", "press_down", "free"})

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("helm", "Helm: the switch panels, their presses and wires", parent)
        self._draft: Draft | None = None
        self._look = Look()
        self._held, self._from = "", QPointF()

    def set_draft(self, draft: Draft) -> None:
        """Take a draft; it is laid out with the look that comes with it."""
        self._draft = draft

    def set_look(self, look: Look) -> None:
        """Look at the panels otherwise: pressed, turned over, by night."""
        self._look = look
        self.lay_out_again()

    def room(self) -> tuple[float, ...]:
        """Return the page both ways: the picture is made to fit it."""
        return (self.viewport().width(), self.viewport().height())

    def scene(self) -> Scene | None:
        """Lay the panels out one under another, as large as the page allows."""
        if self._draft is None:
            return None
        items: list[Primitive] = []
        spots: list[Spot] = []
        y, wide = 4.0, 0.0
        port, panels = self.viewport(), self._draft.aboard.boat.panels
        for panel in panels:
            look = self._look._replace(selected=self.selected[1])
            scale = self._scale(panel, alone=len(panels) == 1)
            made = panel_scene(self._draft, panel, look, self._tones, scale)
            if len(panels) > 1:
                items.append(Text(EDGE, y + 14, panel.name, 12, self._tones.ink, True))
                y += TITLE_H
            items += [moved(item, EDGE, y, 1.0) for item in made.items]
            spots += _shifted(made.spots, EDGE, y)
            left = made.width + 2 * EDGE
            behind = self._behind(panel, port.width() - left - EDGE)
            if behind:
                items += [moved(item, left + EDGE, y, 1.0) for item in behind.items]
                left += behind.width
            y += max(made.height, behind.height if behind else 0.0) + 6
            wide = max(wide, left)
        if not panels:
            words = "No panel: switches stand by themselves."
            items.append(Text(EDGE, 24, words, 12, self._tones.quiet))
        return Scene(tuple(items), tuple(spots), wide, y)

    def _behind(self, panel: HelmPanel, room: float) -> Scene | None:
        """Return the selected switch from behind, where there is room beside its panel's face."""
        if self._look.back or self._draft is None or room < LEAST_ROOM:
            return None
        here = on_panel(self._draft, panel).values()
        switch = next((s for s in here if s.request.id == self.selected[1]), None)
        if switch is None:
            return None
        made = switch_scene(self._draft, switch, self._look, self._tones, BEHIND_SCALE)
        return made if made.width <= room else None

    def _scale(self, panel: HelmPanel, *, alone: bool) -> float:
        """Return units to the mm: a face is seen whole, a back as large as the page is wide."""
        port = self.viewport()
        wide, high = panel_size_mm(panel)
        fits = (port.width() - 2 * EDGE) / wide
        if not self._look.back:
            fits = min(fits, (port.height() - (14 if alone else 14 + TITLE_H)) / high)
        return max(LEAST_SCALE, min(MOST_SCALE, fits))

    def walked(self, spot: Spot) -> bool:
        """Tell whether the arrow keys stop at a thing."""
        return spot.kind == ("tab" if self._look.back else "switch")

    def press(self, spot: Spot) -> None:
        """Press half of a rocker."""
        if spot.kind != "free":
            self._held = spot.id
            self.press_asked.emit(spot.id, spot.kind.removeprefix("press_"))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._held, self._from = "", event.position()
        super().mousePressEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        held, self._held = self._held, ""
        dragged = (event.position() - self._from).manhattanLength() > DRAGGED
        onto = self._position_at(event.position(), held) if dragged else 0
        if held and onto:
            self.drop_asked.emit(held, onto)
        super().mouseReleaseEvent(event)

    def _position_at(self, point: QPointF, held: str) -> int:
        """Return the position under a point in which another switch stands, or none."""
        spot = self.spot_at(point)
        if spot is None or self._draft is None:
            return 0
        if spot.kind == "free":
            return int(spot.id)
        if spot.kind in ("press_up", "press_down", "switch") and spot.id != held:
            return self._draft.allocation.positions.get(spot.id, 0)
        return 0

    def keyPressEvent(self, event: QKeyEvent) -> None:
        kind, name = self.selected
        if event.key() == Qt.Key.Key_Space and kind == "switch":
            self.press_asked.emit(name, "")
        else:
            super().keyPressEvent(event)


def _shifted(spots: tuple[Spot, ...], dx: float, dy: float) -> Iterator[Spot]:
    for spot in spots:
        x, y, w, h = spot.rect
        yield spot._replace(rect=(x + dx, y + dy, w, h))
