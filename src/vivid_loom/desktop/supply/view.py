"""The picture of the power path: picked with the mouse or walked with the keys."""

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QAbstractScrollArea, QWidget

from vivid_loom.desktop.widgets.paint import play
from vivid_loom.desktop.widgets.theme import LIGHT
from vivid_loom.drafting import Draft
from vivid_loom.sheets.supply_drawing import Spot, SupplyPicture, supply_picture
from vivid_loom.sheets.tones import Tones

__all__ = ["SupplyView"]

_ON_TOP = ("state", "way", "part", "battery", "bus", "panel", "feeder")


class SupplyView(QAbstractScrollArea):
    """Shows a draft's supply, and which state its switches are looked at in; never edits.

    Signals:
        spot_picked (str, str): kind and id of what was picked.
        state_asked (str): the state of a part is to change to the next.
        change_asked (str, str): a double click or Enter on a part.
    """

    spot_picked = Signal(str, str)
    state_asked = Signal(str)
    change_asked = Signal(str, str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("supply")
        self.setAccessibleName("Supply: the power path from the batteries to the last way")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self._tones = LIGHT
        self._draft: Draft | None = None
        self._states: dict[str, str] = {}
        self.selected: tuple[str, str] = ("", "")
        self._picture: SupplyPicture | None = None

    def set_draft(self, draft: Draft) -> None:
        """Show a draft."""
        self._draft = draft
        self._invalidate()

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self._tones = tones
        self._invalidate()

    def set_states(self, states: dict[str, str]) -> None:
        """Look at parts in these states."""
        self._states = dict(states)
        self._invalidate()

    def mark(self, kind: str, name: str) -> None:
        """Mark a part, way, feeder or bus."""
        self.selected = (kind, name)
        self._invalidate()

    def select(self, kind: str, name: str) -> None:
        """Mark a part, way, feeder or bus and bring it into view."""
        self.mark(kind, name)
        spot = next((s for s in self._laid_out().spots if (s.kind, s.id) == self.selected), None)
        if spot:
            self._scroll_to(spot)

    def spots(self) -> tuple[Spot, ...]:
        """Return where things are, by how the picture lies."""
        return self._laid_out().spots

    def _invalidate(self) -> None:
        self._picture = None
        self._set_scroll_range()
        self.viewport().update()

    def _laid_out(self) -> SupplyPicture:
        if self._picture is None:
            if self._draft is None:
                return SupplyPicture((), (), 0, 0)
            self._picture = supply_picture(
                self._draft,
                float(self.viewport().width()),
                states=self._states,
                selected=self.selected[1],
                tones=self._tones,
            )
        return self._picture

    def _set_scroll_range(self) -> None:
        picture, port = self._laid_out(), self.viewport().size()
        for bar, whole, page in (
            (self.verticalScrollBar(), picture.height, port.height()),
            (self.horizontalScrollBar(), picture.width, port.width()),
        ):
            bar.setRange(0, max(0, int(whole - page)))
            bar.setPageStep(max(1, page))
            bar.setSingleStep(24)

    def _scroll_to(self, spot: Spot) -> None:
        x, y, w, h = spot.rect
        port = self.viewport().size()
        for bar, low, size, page in (
            (self.verticalScrollBar(), y, h, port.height()),
            (self.horizontalScrollBar(), x, w, port.width()),
        ):
            if low < bar.value():
                bar.setValue(int(low) - 12)
            elif low + min(size, page - 24) > bar.value() + page:
                bar.setValue(int(low + min(size, page - 24) - page) + 12)

    def _at(self, point: QPointF) -> Spot | None:
        x = point.x() + self.horizontalScrollBar().value()
        y = point.y() + self.verticalScrollBar().value()
        hit = [
            spot
            for spot in self._laid_out().spots
            if spot.rect[0] <= x <= spot.rect[0] + spot.rect[2]
            and spot.rect[1] <= y <= spot.rect[1] + spot.rect[3]
        ]
        return min(hit, key=lambda spot: _ON_TOP.index(spot.kind), default=None)

    def _pick(self, spot: Spot) -> None:
        self.select(spot.kind, spot.id)
        self.spot_picked.emit(spot.kind, spot.id)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        spot = self._at(event.position())
        if spot and spot.kind == "state":
            self.state_asked.emit(spot.id)
        elif spot:
            self._pick(spot)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        spot = self._at(event.position())
        if spot and spot.kind != "state":
            self.change_asked.emit(spot.kind, spot.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {
            Qt.Key.Key_Down: (0, 1),
            Qt.Key.Key_Up: (0, -1),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Left: (-1, 0),
        }
        key = Qt.Key(event.key())
        kind, name = self.selected
        if key in steps:
            self._step(*steps[key])
        elif key == Qt.Key.Key_Space and kind == "part":
            self.state_asked.emit(name)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and name:
            self.change_asked.emit(kind, name)
        else:
            super().keyPressEvent(event)

    def _step(self, across: int, down: int) -> None:
        """Go to the nearest thing in a direction."""
        spots = [spot for spot in self._laid_out().spots if spot.kind != "state"]
        here = next((s for s in spots if (s.kind, s.id) == self.selected), None)
        if here is None:
            if spots:
                self._pick(spots[0])
            return

        def way(spot: Spot) -> tuple[float, float]:
            dx = spot.rect[0] - here.rect[0]
            dy = spot.rect[1] + spot.rect[3] / 2 - (here.rect[1] + here.rect[3] / 2)
            return (dx * across, abs(dy)) if across else (dy * down, abs(dx))

        ahead = [spot for spot in spots if spot is not here and way(spot)[0] > 3]
        if ahead:
            self._pick(min(ahead, key=lambda spot: way(spot)[0] + 2 * way(spot)[1]))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._invalidate()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.fillRect(self.viewport().rect(), QColor(self._tones.page))
        painter.translate(-self.horizontalScrollBar().value(), -self.verticalScrollBar().value())
        play(painter, self._laid_out().items)
