"""The work in order, down the left edge."""

from typing import NamedTuple

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from vivid_loom.desktop.widgets.paint import play
from vivid_loom.desktop.widgets.theme import LIGHT
from vivid_loom.sheets.drawing import Line, Primitive, Rect, Text
from vivid_loom.sheets.tones import Tones

__all__ = ["STAGES", "Stage", "StageRail"]

STEP_H = 58


class Stage(NamedTuple):
    """A stage that is built: its number in the order of work, and its name."""

    number: int
    name: str


STAGES = (
    Stage(1, "Order"),
    Stage(2, "Loads"),
    Stage(3, "Runs"),
    Stage(4, "Threads"),
    Stage(9, "Packet"),
)


class StageRail(QWidget):
    """Signals:

    stage_picked (int): index into ``STAGES``.
    """

    stage_picked = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(62)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Stages of the work")
        self._tones = LIGHT
        self._current = 0
        self._marks: tuple[str, ...] = ("",) * len(STAGES)

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self._tones = tones
        self.update()

    def set_state(self, current: int, marks: tuple[str, ...]) -> None:
        """Show which stage is open and the quiet mark of each."""
        self._current, self._marks = current, marks
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter, t = QPainter(self), self._tones
        painter.fillRect(self.rect(), QColor(t.page))
        items: list[Primitive] = [
            Line(((self.width() - 0.5, 0), (self.width() - 0.5, self.height())), t.rule, 1)
        ]
        for index, stage in enumerate(STAGES):
            y = 10 + index * STEP_H
            here = index == self._current
            if here:
                items.append(Rect(0, y, self.width(), STEP_H - 6, t.band))
                items.append(Rect(0, y, 4, STEP_H - 6, t.focus))
            if here and self.hasFocus():
                items.append(Rect(6, y + 2, self.width() - 10, STEP_H - 10, "", t.focus, 1.5, 4))
            ink = t.ink if here else t.quiet
            items.append(Text(31, y + 22, str(stage.number), 14, ink, here, "middle"))
            items.append(Text(31, y + 40, stage.name, 11, ink, here, "middle"))
            if self._marks[index]:
                items.append(Text(55, y + 14, self._marks[index], 10, t.warn, True, "end"))
        play(painter, items)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        index = int((event.position().y() - 10) // STEP_H)
        if 0 <= index < len(STAGES):
            self.stage_picked.emit(index)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()), 0)
        if step:
            self.stage_picked.emit(min(len(STAGES) - 1, max(0, self._current + step)))
        else:
            super().keyPressEvent(event)
