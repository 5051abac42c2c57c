"""A page with a picture above its lists, the border between them to be moved."""

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLayout, QSplitter, QVBoxLayout, QWidget

__all__ = ["fill_page"]


def fill_page(
    page: QWidget,
    head: Sequence[QLayout | QWidget],
    picture: QWidget,
    lists: QWidget,
    heights: tuple[int, int],
) -> QSplitter:
    """Lay a page out: rows of controls, the picture, which takes what room there is, its lists.

    Args:
        heights: of picture and lists at first, in px.
    """
    split = QSplitter(Qt.Orientation.Vertical)
    split.addWidget(picture)
    split.addWidget(lists)
    split.setStretchFactor(0, 1)
    split.setSizes(list(heights))
    layout = QVBoxLayout(page)
    layout.setContentsMargins(12, 10, 12, 4)
    layout.setSpacing(6)
    for row in head:
        if isinstance(row, QLayout):
            layout.addLayout(row)
        else:
            layout.addWidget(row)
    layout.addWidget(split, 1)
    return split
