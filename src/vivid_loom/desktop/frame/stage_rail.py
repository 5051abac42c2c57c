"""The work in order, down the left edge."""

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from vivid_loom.desktop.widgets.paint import play
from vivid_loom.desktop.widgets.theme import LIGHT
from vivid_loom.desktop.work.stage import Stage
from vivid_loom.sheets.paper.drawing import Line, Primitive, Rect, Text
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["StageRail"]

STEP_H = 58


class StageRail(QWidget):
    """Signals:

    stage_picked (str): name of a stage.
    """

    stage_picked = Signal(str)

    def __init__(self, stages: Sequence[Stage], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(62)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Stages of the work")
        self._tones = LIGHT
        self._stages = tuple(stages)
        self._current = 0
        self._marks: tuple[str, ...] = ("",) * len(self._stages)

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self._tones = tones
        self.update()

    def set_state(self, current: str, marks: tuple[str, ...]) -> None:
        """Show which stage is open and the quiet mark of each."""
        self._current = [stage.name for stage in self._stages].index(current)
        self._marks = marks
        self.update()

    def _step_h(self) -> int:
        """Return the height of a step: tighter where the window is low, so that none is cut."""
        return min(STEP_H, (self.height() - 14) // len(self._stages))

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._tones
        with QPainter(self) as painter:
            painter.fillRect(self.rect(), QColor(t.page))
            items: list[Primitive] = [
                Line(((self.width() - 0.5, 0), (self.width() - 0.5, self.height())), t.rule, 1)
            ]
            step = self._step_h()
            for index, stage in enumerate(self._stages):
                y = 10 + index * step
                here = index == self._current
                if here:
                    items.append(Rect(0, y, self.width(), step - 6, t.band))
                    items.append(Rect(0, y, 4, step - 6, t.focus))
                if here and self.hasFocus():
                    items.append(Rect(6, y + 2, self.width() - 10, step - 10, "", t.focus, 1.5, 4))
                ink = t.ink if here else t.quiet
                items.append(Text(31, y + 22, str(stage.number), 14, ink, here, "middle"))
                items.append(Text(31, y + 40, stage.name, 11, ink, here, "middle"))
                if self._marks[index]:
                    items.append(Text(55, y + 14, self._marks[index], 10, t.warn, True, "end"))
            play(painter, items)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        index = int((event.position().y() - 10) // self._step_h())
        if 0 <= index < len(self._stages):
            self.stage_picked.emit(self._stages[index].name)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()), 0)
        if step:
            there = min(len(self._stages) - 1, max(0, self._current + step))
            self.stage_picked.emit(self._stages[there].name)
        else:
            super().keyPressEvent(event)
