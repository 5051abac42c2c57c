"""The boat in plan and profile: pick runs and stations, drag loads; painted in two layers."""

from collections.abc import Mapping

from PySide6.QtCore import QEvent, QPointF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
)
from PySide6.QtWidgets import QWidget

from vivid_loom.boat import Load
from vivid_loom.desktop.widgets.layer import Layer
from vivid_loom.desktop.widgets.paint import play
from vivid_loom.desktop.widgets.theme import LIGHT
from vivid_loom.drafting import Draft
from vivid_loom.sheets.drawings.boat_plan import Shown
from vivid_loom.sheets.drawings.runs_drawing import (
    BY_BUNDLE,
    Measure,
    RunsPicture,
    runs_picture,
    shown_of,
)
from vivid_loom.sheets.drawings.runs_overlay import (
    BOX_H,
    LoadBox,
    box_items,
    load_boxes,
    neighbour,
    path_items,
)
from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect, Text
from vivid_loom.sheets.paper.metrics import fitted, text_width
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.workshop.bundles import Section

__all__ = ["RunsView"]

HINT = (
    "Arrows: station   N: next run   L: next load   M: move it   V: send the circuit this way   "
    "or drag a load's box"
)
HINT_HELD = "Arrows: to which station   Enter: put it down   Esc: leave it where it is"
_ARROWS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, -1),
    Qt.Key.Key_Down: (0, 1),
}


class RunsView(QWidget):
    """Signals:

    station_picked (str), run_picked (str), load_picked (str): something was selected.
    drop_changing (str, str): a load is held over another station: load, station ('' for none).
    drop_changed (str, str): a load was put down at another station.
    way_asked (str): the selected circuit is to go by way of this station.
    """

    station_picked = Signal(str)
    run_picked = Signal(str)
    load_picked = Signal(str)
    drop_changing = Signal(str, str)
    drop_changed = Signal(str, str)
    way_asked = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Plan and profile of the boat")
        self.setAccessibleDescription(
            "Arrow keys go from station to station, N to the next run there, L to the next load "
            "there, M takes the load up, Enter puts it down, V sends the circuit this way."
        )
        self._tones: Tones = LIGHT
        self._draft: Draft | None = None
        self._sections: Mapping[str, Section] = {}
        self._measure: Measure = "wires"
        self._picture: RunsPicture | None = None
        self._seen: object = None
        self._layer, self._words = Layer(), Layer()
        self._stack: tuple[tuple[str, Draft], list[LoadBox]] | None = None
        self._shown: Shown = "both"
        self._circuit = ""
        self.station, self.run, self.load = "", "", ""
        self._held = ""
        self._hand = QPointF()
        self._target = ""
        self._by_keys = False

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self._tones = tones
        self._invalidate()

    def set_draft(self, draft: Draft) -> None:
        """Show a draft; what is selected stays where it still exists."""
        self._draft = draft
        if self.station not in {s.id for s in draft.aboard.boat.stations}:
            self.station = ""
        if self.run not in {r.id for r in draft.aboard.boat.runs}:
            self.run = ""
        if self.load not in draft.aboard.loads:
            self.load = ""
        self._stack = None
        self.update()
        seen = shown_of(draft)  # most edits leave this picture as it is
        if seen != self._seen or self._measure in BY_BUNDLE:
            self._seen = seen
            self._invalidate()

    def set_sections(self, sections: Mapping[str, Section]) -> None:
        """Show bundles as they are worked out."""
        self._sections = sections
        if self._measure in BY_BUNDLE:
            self._invalidate()

    def set_measure(self, measure: Measure) -> None:
        """Weight the trunks by something else."""
        self._measure = measure
        self._invalidate()

    def set_shown(self, shown: Shown) -> None:
        """Show plan and profile, or one of them larger."""
        self._shown = shown
        self._invalidate()

    def show_circuit(self, circuit_id: str) -> None:
        """Light up a circuit's path."""
        self._circuit = circuit_id
        self.update()

    def select(self, *, station: str = "", run: str = "", load: str = "") -> None:
        """Select a station with a load of it, or a run."""
        self.station, self.run, self.load = station, run, load
        self.update()

    def _invalidate(self) -> None:
        self._picture = self._stack = None
        self.update()

    @property
    def picture(self) -> RunsPicture:
        """What is drawn, laid out anew where it is stale."""
        assert self._draft is not None
        if self._picture is None:
            boat = self._draft.aboard.boat
            named = frozenset((boat.helm_station, boat.battery.station))
            self._picture = runs_picture(
                self._draft,
                self._sections,
                self._measure,
                self.width(),
                self.height() - 22,
                self._tones,
                named,
                self._shown,
            )
        return self._picture

    def loads_at(self, station: str) -> list[Load]:
        """Return the loads at a station, by name."""
        loads = self._draft.aboard.loads.values() if self._draft else ()
        return sorted((x for x in loads if x.station == station), key=lambda x: x.name)

    def _boxes(self) -> list[LoadBox]:
        """Return the handles of the selected station's loads."""
        if not self.station or self._draft is None:
            return []
        loads, here = self.loads_at(self.station), (self.station, self._draft)
        if self._stack is None or self._stack[0][0] != here[0] or self._stack[0][1] is not here[1]:
            found = load_boxes(loads, self.picture, self.station, self.width(), self.height())
            self._stack = here, found
        return self._stack[1]

    def _box_at(self, at: QPointF) -> str:
        for load, _, x, y, wide in self._boxes():
            if x <= at.x() <= x + wide and y <= at.y() <= y + BOX_H:
                return load
        return ""

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._invalidate()

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with QPainter(self) as painter:
            if self._draft is None:
                painter.fillRect(self.rect(), QColor(self._tones.page))
                return
            picture, page = self.picture, QColor(self._tones.page)
            painter.drawPixmap(0, 0, self._layer.of(picture.items, self, page))
            row = self._draft.circuit(self._circuit)
            play(painter, path_items(row, picture, self._tones) if row else ())
            painter.drawPixmap(0, 0, self._words.of(picture.words, self, QColor(0, 0, 0, 0)))
            play(painter, self._overlay())

    def _overlay(self) -> list[Primitive]:
        t, picture = self._tones, self.picture
        items: list[Primitive] = []
        assert self._draft is not None
        if self.run in picture.runs:
            for ends in picture.runs[self.run]:
                items.append(Line(ends, t.focus, 3.0, (), "round"))
                for x, y in ends:
                    items.append(Circle(x, y, 4.5, t.part, t.focus, 2))
        for name, colour in ((self.station, t.focus), (self._target, t.warn)):
            if name:
                for x, y in picture.stations[name]:
                    items.append(Circle(x, y, 8, "", colour, 2.2))
        items += box_items(self._boxes(), self.load, t)
        if self._held and not self._by_keys:
            name = self._draft.aboard.loads[self._held].name
            x, y = self._hand.x(), self._hand.y()
            wide = text_width(name, 11, bold=True) + 14
            items.append(Rect(x + 8, y - 10, wide, BOX_H, t.part, t.focus, 1.6, 4))
            items.append(Text(x + 15, y + 4, name, 11, t.ink, True))
        if self.hasFocus():
            items.append(Rect(1, 1, self.width() - 2, self.height() - 2, "", t.focus, 1.5, 3))
        hint = fitted(HINT_HELD if self._held else HINT, self.width() - 20, 11)
        items.append(Text(10, self.height() - 8, hint, 11, t.quiet))
        if self._measure in BY_BUNDLE and not self._sections:
            items.append(Text(60, 16, "Packing the bundles …", 11, t.quiet, True))
        return items

    # hands

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self._draft is None or event.button() != Qt.MouseButton.LeftButton:
            return
        at = event.position()
        if load := self._box_at(at):
            self.load, self._held, self._by_keys, self._hand = load, load, False, at
            self.load_picked.emit(load)
        elif station := self.picture.station_at((at.x(), at.y())):
            self._pick_station(station)
        elif run := self.picture.run_at((at.x(), at.y())):
            self.select(run=run)
            self.run_picked.emit(run)
        else:
            self.select()
            self.station_picked.emit("")
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._draft is None:
            return
        at = event.position()
        if self._held and not self._by_keys:
            self._hand = at
            self._aim(self.picture.station_at((at.x(), at.y()), 24.0))
            self.update()
            return
        over = self._box_at(at) or self.picture.station_at((at.x(), at.y()))
        over = over or self.picture.run_at((at.x(), at.y()))
        self.setCursor(Qt.CursorShape.PointingHandCursor if over else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held and not self._by_keys:
            self._put_down()

    def _aim(self, station: str) -> None:
        if station != self._target:
            self._target = station
            self.drop_changing.emit(self._held, station)

    def _put_down(self) -> None:
        load, target = self._held, self._target
        self._held = self._target = ""
        self.update()
        assert self._draft is not None
        if target and target != self._draft.aboard.loads[load].station:
            self.station = target
            self.drop_changed.emit(load, target)
        else:
            self.drop_changing.emit(load, "")

    def _pick_station(self, station: str) -> None:
        loads = self.loads_at(station)
        self.select(station=station, load=loads[0].id if loads else "")
        self.station_picked.emit(station)
        if loads:
            self.load_picked.emit(loads[0].id)

    # keys

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            plain = not event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
            if plain and Qt.Key(event.key()) in (
                Qt.Key.Key_N,
                Qt.Key.Key_L,
                Qt.Key.Key_M,
                Qt.Key.Key_V,
                Qt.Key.Key_Escape,
            ):
                event.accept()
                return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if self._draft is None:
            super().keyPressEvent(event)
        elif key in _ARROWS:
            self._arrow(_ARROWS[key])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._held:
            self._put_down()
        elif key == Qt.Key.Key_Escape and self._held:
            self._held, load = "", self._held
            self._target = ""
            self.drop_changing.emit(load, "")
        elif key == Qt.Key.Key_M and self.load and not self._held:
            self._held, self._by_keys = self.load, True
        elif key == Qt.Key.Key_L:
            self._next_load()
        elif key == Qt.Key.Key_N:
            self._next_run()
        elif key == Qt.Key.Key_V and self.station:
            self.way_asked.emit(self.station)
        else:
            super().keyPressEvent(event)
        self.update()

    def _arrow(self, way: tuple[int, int]) -> None:
        assert self._draft is not None
        start = self._target or self.station or self._draft.aboard.boat.helm_station
        if not (self._target or self.station):
            self._pick_station(start)
            return
        found = neighbour(self.picture, start, way)
        if found and self._held:
            self._aim(found)
        elif found:
            self._pick_station(found)

    def _next_load(self) -> None:
        loads = [load.id for load in self.loads_at(self.station)]
        if loads:
            at = loads.index(self.load) + 1 if self.load in loads else 0
            self.load = loads[at % len(loads)]
            self.load_picked.emit(self.load)

    def _next_run(self) -> None:
        assert self._draft is not None
        runs = [
            r for r in self._draft.aboard.boat.runs if not self.station or self.station in r.ends
        ]
        names = [r.id for r in runs]
        if names:
            at = names.index(self.run) + 1 if self.run in names else 0
            self.run = names[at % len(names)]
            self.run_picked.emit(self.run)
