"""Small parts that several views share."""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QWidget,
)

from vivid_loom.desktop.widgets.plain import PlainLabel, plain
from vivid_loom.quantities.limits import LONGEST, one_line

__all__ = ["button", "heading", "row_of", "scrolled", "small", "typed"]


def small(text: str) -> PlainLabel:
    """Return quiet wrapped text."""
    label = PlainLabel(text)
    label.setProperty("quiet", True)
    label.setWordWrap(True)
    label.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
    return label


def heading(text: str) -> PlainLabel:
    """Return a bold line."""
    label = PlainLabel(text)
    label.setProperty("title", True)
    label.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
    return label


def button(text: str, pressed: Callable[[], object], hint: str = "") -> QPushButton:
    """Return a button; ``hint`` tells what it does, and its key."""
    made = QPushButton(text)
    made.setAutoDefault(False)
    made.setToolTip(plain(hint))
    made.clicked.connect(lambda: pressed())
    return made


def typed(field: QLineEdit) -> str:
    """Return what stands in a field: on one line, of a name's length, no blanks around it."""
    return one_line(field.text().strip(), LONGEST)


def row_of(*widgets: QWidget, stretch: bool = True) -> QHBoxLayout:
    """Return widgets side by side, pushed to the left."""
    layout = QHBoxLayout()
    layout.setSpacing(8)
    for widget in widgets:
        layout.addWidget(widget)
    if stretch:
        layout.addStretch(1)
    return layout


def scrolled(inner: QWidget) -> QScrollArea:
    """Return a widget that scrolls up and down, without a frame."""
    area = QScrollArea()
    area.setWidget(inner)
    area.setWidgetResizable(True)
    area.setProperty("plain", True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    return area
