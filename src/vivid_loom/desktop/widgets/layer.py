"""A picture that is painted once; the next one is painted only where it differs."""

from bisect import bisect_left
from collections import Counter
from collections.abc import Sequence
from math import ceil, floor
from typing import Final

from PySide6.QtCore import QRect
from PySide6.QtGui import QColor, QPainter, QPixmap, QRegion
from PySide6.QtWidgets import QWidget

from vivid_loom.desktop.widgets.paint import play
from vivid_loom.sheets.paper.drawing import Primitive, Text, reach_y
from vivid_loom.sheets.paper.tiles import reach_x

__all__ = ["Layer"]

EDGE: Final = 3  # px around what is measured: strokes and letters reach a little beyond


class Layer:
    """What a widget shows from frame to frame, as a pixmap of its size."""

    def __init__(self) -> None:
        self._items: tuple[Primitive, ...] = ()
        self._ground = QColor()
        self._pixmap = QPixmap()
        self._boxes: dict[Primitive, QRect] = {}

    def of(self, items: tuple[Primitive, ...], widget: QWidget, ground: QColor) -> QPixmap:
        """Return items painted on a ground, as large as a widget."""
        ratio = widget.devicePixelRatioF()
        size = widget.size() * ratio
        same = self._pixmap.size() == size and self._pixmap.devicePixelRatioF() == ratio
        if not same or ground != self._ground:
            self._pixmap = QPixmap(size)
            self._pixmap.setDevicePixelRatio(ratio)
            self._pixmap.fill(ground)  # which decides whether there is anything to see through
            self._paint(items, widget.rect(), ground)
        elif items is not self._items:
            self._paint(items, self._differing(items), ground)
        self._items, self._ground = items, ground
        return self._pixmap

    def _paint(self, items: Sequence[Primitive], where: QRect | QRegion, ground: QColor) -> None:
        self._boxes = {item: self._boxes.get(item) or _box(item) for item in items}
        region = QRegion(where)
        with QPainter(self._pixmap) as painter:
            painter.setClipRegion(region)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
            painter.fillRect(region.boundingRect(), ground)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
            play(painter, [item for item in items if region.intersects(self._boxes[item])])

    def _differing(self, items: Sequence[Primitive]) -> QRegion:
        """Return where items look other than those before: where one has come or gone, or lies
        over others that lay over it.
        """
        before, now = Counter(self._items), Counter(items)
        at = {item: i for i, item in enumerate(self._items)}
        stays = [at[item] for item in dict.fromkeys(items) if item in at]
        region = QRegion()
        for item in before.keys() | now.keys():
            if before[item] != now[item]:
                region += self._boxes.get(item) or _box(item)
        for i in set(stays).difference(_rising(stays)):
            region += self._boxes[self._items[i]]
        return region


def _rising(numbers: Sequence[int]) -> list[int]:
    """Return as many of some numbers, in their order, as rise from each to the next."""
    ends: list[int] = []  # of the best row of each length: the place of its last number
    before: list[int] = []
    for i, number in enumerate(numbers):
        length = bisect_left(ends, number, key=lambda k: numbers[k])
        before.append(ends[length - 1] if length else -1)
        ends[length : length + 1] = [i]
    found: list[int] = []
    at = ends[-1] if ends else -1
    while at >= 0:
        found.append(numbers[at])
        at = before[at]
    return found


def _box(item: Primitive) -> QRect:
    (left, right), (top, low) = reach_x(item), reach_y(item)
    edge = EDGE
    if isinstance(item, Text):  # on screen letters advance by whole pixels
        edge += ceil(len(item.text) / 2)
    x, y = floor(left) - edge, floor(top) - EDGE
    return QRect(x, y, ceil(right) + edge - x, ceil(low) + EDGE - y)
