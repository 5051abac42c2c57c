"""A picture to look around in: scrolled, picked with the mouse, walked with the arrow keys."""

from PySide6.QtCore import QPoint, QPointF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QShowEvent,
)
from PySide6.QtWidgets import QAbstractScrollArea, QScrollBar, QWidget

from vivid_loom.desktop.widgets.layer import Layer
from vivid_loom.desktop.widgets.theme import LIGHT
from vivid_loom.sheets.paper.drawing import Primitive, Scene, Spot, reach_y
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["SceneView"]

EMPTY = Scene((), (), 0, 0)


class SceneView(QAbstractScrollArea):
    """Shows a scene as wide as its page; which it is, its heir says. It never edits.

    Signals:
        spot_picked (str, str): kind and id of what was picked.
        change_asked (str, str): a double click or Enter on it.
    """

    spot_picked = Signal(str, str)
    change_asked = Signal(str, str)

    ON_TOP: tuple[str, ...] = ()
    """Kinds of things, those first that lie above others."""
    PRESSED: frozenset[str] = frozenset()
    """Kinds of things that are pressed rather than picked."""

    def __init__(self, name: str, words: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName(name)
        self.setAccessibleName(words)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self._tones = LIGHT
        self.selected: tuple[str, str] = ("", "")
        self._scene: Scene | None = None
        self._laid_for: tuple[float, ...] = ()
        self._layer = Layer()
        self._shown: tuple[Primitive, ...] = ()
        self._shown_of: tuple[Scene, int, int] = (EMPTY, 0, 0)

    def scene(self) -> Scene | None:
        """Lay the picture out for the room it has; None where there is none."""
        raise NotImplementedError

    def room(self) -> tuple[float, ...]:
        """Return what the picture is laid out for: in another room it is laid out anew."""
        return (self.page_width(),)

    def page_width(self) -> float:
        """Return how wide a picture may be: beside a scroll bar, whether there is one or not."""
        return float(self.width() - self.verticalScrollBar().sizeHint().width())

    def walked(self, spot: Spot) -> bool:
        """Tell whether the arrow keys stop at a thing."""
        return spot.kind not in self.PRESSED

    def press(self, spot: Spot) -> None:
        """Act on something that is pressed rather than picked."""

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self._tones = tones
        self.lay_out_again()

    def mark(self, kind: str, name: str) -> None:
        """Mark a thing; one that is marked already stays as it lies."""
        if (kind, name) != self.selected:
            self.selected = (kind, name)
            self.lay_out_again()

    def select(self, kind: str, name: str) -> None:
        """Mark a thing and bring it into view."""
        self.mark(kind, name)
        spot = next((s for s in self.spots() if (s.kind, s.id) == self.selected), None)
        if spot:
            self._scroll_to(spot)

    def spots(self) -> tuple[Spot, ...]:
        """Return where things are, by how the picture lies."""
        return self._laid_out().spots

    def lay_out_again(self) -> None:
        """Forget the picture, which is made anew when it is needed: once its page is seen."""
        self._scene = None
        if self.isVisible():
            self._set_scroll_range()
            self.viewport().update()

    def _laid_out(self) -> Scene:
        if self._scene is None or self.room() != self._laid_for:
            self._laid_for = self.room()
            self._scene = self.scene()
        return self._scene or EMPTY

    def _set_scroll_range(self) -> None:
        scene, port = self._laid_out(), self.viewport().size()
        for bar, whole, page in (
            (self.verticalScrollBar(), scene.height, port.height()),
            (self.horizontalScrollBar(), scene.width, port.width()),
        ):
            bar.setRange(0, max(0, int(whole - page)))
            bar.setPageStep(max(1, page))
            bar.setSingleStep(24)

    def _is_shown(self, spot: Spot) -> bool:
        """Tell whether a thing is in sight from top to bottom."""
        top = self.verticalScrollBar().value()
        _, y, _, high = spot.rect
        return top <= y and y + high <= top + self.viewport().height()

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

    def spot_at(self, point: QPointF) -> Spot | None:
        """Return what lies topmost under a point of the viewport."""
        x = point.x() + self.horizontalScrollBar().value()
        y = point.y() + self.verticalScrollBar().value()
        hit = [
            spot
            for spot in self._laid_out().spots
            if spot.rect[0] <= x <= spot.rect[0] + spot.rect[2]
            and spot.rect[1] <= y <= spot.rect[1] + spot.rect[3]
        ]
        return min(hit, key=lambda spot: self.ON_TOP.index(spot.kind), default=None)

    def _pick(self, spot: Spot) -> None:
        self.select(spot.kind, spot.id)
        self.spot_picked.emit(spot.kind, spot.id)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        spot = self.spot_at(event.position())
        if spot and spot.kind in self.PRESSED:
            self.press(spot)
        elif spot:
            self._pick(spot)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        spot = self.spot_at(event.position())
        if spot and spot.kind in self.PRESSED:
            self.press(spot)
        elif spot:
            self.change_asked.emit(spot.kind, spot.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {
            Qt.Key.Key_Down: (0, 1),
            Qt.Key.Key_Up: (0, -1),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Left: (-1, 0),
        }
        key = Qt.Key(event.key())
        plain = event.modifiers() in (
            Qt.KeyboardModifier.NoModifier,
            Qt.KeyboardModifier.KeypadModifier,
        )
        if key in steps and plain:
            self._step(*steps[key])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.selected[1]:
            self.change_asked.emit(*self.selected)
        else:
            super().keyPressEvent(event)

    def _step(self, across: int, down: int) -> None:
        """Go to the nearest thing in a direction."""
        spots = [spot for spot in self._laid_out().spots if self.walked(spot)]
        here = next((s for s in spots if (s.kind, s.id) == self.selected), None)
        if here is None:
            if spots:
                self._pick(next(filter(self._is_shown, spots), spots[0]))
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
        if self.isVisible():
            self._set_scroll_range()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._set_scroll_range()

    def paintEvent(self, event: QPaintEvent) -> None:
        port, at = self.viewport(), QPoint(*(bar.value() for bar in self._bars()))
        pixmap = self._layer.of(self.shown(), port, QColor(self._tones.page), at)
        with QPainter(port) as painter:
            painter.drawPixmap(0, 0, pixmap)

    def _bars(self) -> tuple[QScrollBar, QScrollBar]:
        return self.horizontalScrollBar(), self.verticalScrollBar()

    def shown(self) -> tuple[Primitive, ...]:
        """Return what is not scrolled out of the page."""
        scene, top = self._laid_out(), self.verticalScrollBar().value()
        bottom = top + self.viewport().height()
        if (scene, top, bottom) != self._shown_of:
            self._shown_of = (scene, top, bottom)
            reaches = ((item, reach_y(item)) for item in scene.items)
            self._shown = tuple(
                [item for item, (high, low) in reaches if high <= bottom and low >= top]
            )
        return self._shown
