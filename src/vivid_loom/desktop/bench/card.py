"""The step that is worked on, in large type: on its page, or in a window of its own."""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QDialog, QVBoxLayout, QWidget

from vivid_loom.desktop.widgets.paint import play
from vivid_loom.desktop.widgets.theme import current_tones
from vivid_loom.sheets.drawings.bench_card import StepCard, step_scene

__all__ = ["CardView", "LargeDialog"]


class CardView(QWidget):
    """The step that is worked on.

    Args:
        card: returns it; None while there is none.
    """

    def __init__(self, card: Callable[[], StepCard | None]) -> None:
        super().__init__()
        self._card = card
        self.setMinimumSize(360, 250)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The step in large type")

    def paintEvent(self, event: QPaintEvent) -> None:
        tones = current_tones()
        with QPainter(self) as painter:
            painter.fillRect(self.rect(), QColor(tones.page))
            card = self._card()
            if card is not None:
                room = (float(self.width()), float(self.height()))
                play(painter, step_scene(card, room, tones).items)
            if self.hasFocus():
                painter.setPen(QColor(tones.focus))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(self.rect().adjusted(0, 0, -1, -1))


class LargeDialog(QDialog):
    """The step in a window of its own, for a screen at arm's length.

    Args:
        pressed: does what a key stands for, and tells whether it stands for anything.
    """

    def __init__(
        self, parent: QWidget, card: Callable[[], StepCard | None], pressed: Callable[[int], bool]
    ) -> None:
        super().__init__(parent)
        self._pressed = pressed
        self.setWindowTitle("Step by step")
        self.view = CardView(card)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.view)
        self.resize(parent.window().size())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self._pressed(event.key()):
            super().keyPressEvent(event)
