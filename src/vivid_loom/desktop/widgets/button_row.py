"""A row of buttons that loses no letter: what does not fit goes into a menu."""

from collections.abc import Callable, Sequence
from typing import NamedTuple

from PySide6.QtCore import QSize
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QMenu, QPushButton, QSizePolicy, QWidget

from vivid_loom.desktop.widgets.controls import button
from vivid_loom.desktop.widgets.plain import plain

__all__ = ["ButtonRow", "Deed"]

GAP = 6


class Deed(NamedTuple):
    """Something to do: its words, what does it, and a hint that names its key."""

    words: str
    do: Callable[[], object]
    hint: str = ""


class ButtonRow(QWidget):
    """Deeds in order of use, the first one marked as the stage's own; the last go first."""

    def __init__(self, deeds: Sequence[Deed], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.buttons = [button(*deed) for deed in deeds]
        self.more = QPushButton("More")
        self.more.setAutoDefault(False)
        self.more.setToolTip("The rest of what can be done here")
        self._menu = QMenu(self)
        self.more.setMenu(self._menu)
        self._deeds = tuple(deeds)
        self._shown = -1
        for made in (*self.buttons, self.more):
            made.setParent(self)
        if self.buttons:
            self.buttons[0].setProperty("primary", True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        wide = sum(made.sizeHint().width() + GAP for made in self.buttons)
        return QSize(wide, self.more.sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        return self.more.sizeHint()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._lay_out()

    def fitting(self, width: int) -> int:
        """Return how many buttons a width has room for, the menu's own counted."""
        wides = [made.sizeHint().width() + GAP for made in self.buttons]
        if sum(wides) - GAP <= width:
            return len(wides)
        room, count = width - self.more.sizeHint().width(), 0
        while count < len(wides) and sum(wides[: count + 1]) <= room:
            count += 1
        return count

    def _lay_out(self) -> None:
        shown, x = self.fitting(self.width()), 0
        for index, made in enumerate((*self.buttons, self.more)):
            here = index < shown or (made is self.more and shown < len(self.buttons))
            made.setVisible(here)
            if here:
                made.setGeometry(x, 0, made.sizeHint().width(), self.height())
                x += made.sizeHint().width() + GAP
        if shown != self._shown:
            self._shown = shown
            self._menu.clear()
            for deed in self._deeds[shown:]:
                action = self._menu.addAction(deed.words)
                action.setToolTip(plain(deed.hint))
                action.triggered.connect(lambda _=False, do=deed.do: do())
            self._menu.setToolTipsVisible(True)
