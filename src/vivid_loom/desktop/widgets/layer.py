"""A picture that is painted once; the next one is painted only where it differs."""

from bisect import bisect_left
from collections.abc import Sequence
from math import ceil, floor
from operator import eq
from typing import Final

from PySide6.QtCore import QPoint, QRect
from PySide6.QtGui import QColor, QPainter, QPixmap, QRegion
from PySide6.QtWidgets import QWidget

from vivid_loom.desktop.widgets.paint import play
from vivid_loom.sheets.paper.drawing import Primitive, Text, reach_y
from vivid_loom.sheets.paper.metrics import reach_x

__all__ = ["HERE", "Layer"]

HERE: Final = QPoint(0, 0)
EDGE: Final = 3  # px around what is measured: strokes and letters reach a little beyond


class Layer:
    """What a widget shows from frame to frame, as a pixmap of its size."""

    def __init__(self) -> None:
        self._items: tuple[Primitive, ...] = ()
        self._boxes: list[QRect] = []
        self._under: tuple[QColor, QPoint] = (QColor(), HERE)
        self._pixmap = QPixmap()

    def of(
        self, items: tuple[Primitive, ...], widget: QWidget, ground: QColor, at: QPoint = HERE
    ) -> QPixmap:
        """Return items painted on a ground, as large as a widget.

        Args:
            at: what of the picture lies in the widget's corner.
        """
        ratio = widget.devicePixelRatioF()
        size = widget.size() * ratio
        same = self._pixmap.size() == size and self._pixmap.devicePixelRatioF() == ratio
        if not same or (ground, at) != self._under:
            self._under = (ground, QPoint(at))
            self._pixmap = QPixmap(size)
            self._pixmap.setDevicePixelRatio(ratio)
            self._pixmap.fill(ground)  # which decides whether there is anything to see through
            with QPainter(self._pixmap) as painter:
                painter.translate(-at)
                play(painter, items)
            if items is not self._items:
                self._items, self._boxes = items, []
        elif items is not self._items:
            self._paint(self._take(items))
        return self._pixmap

    def _take(self, items: tuple[Primitive, ...]) -> QRegion:
        """Take items for those before; return where they look other: where one has come or gone,
        or lies over others that lay over it.
        """
        if not self._boxes:  # measured only once something differs
            self._boxes = [_box(item) for item in self._items]
        was = _found_again(items, self._items)
        boxes = [self._boxes[k] if k >= 0 else _box(i) for i, k in zip(items, was, strict=True)]
        region = QRegion()
        for k in set(range(len(self._items))).difference(was):
            region += self._boxes[k]
        stays = _rising([k for k in was if k >= 0])
        for box, k in zip(boxes, was, strict=True):
            if k not in stays:
                region += box
        self._items, self._boxes = items, boxes
        return region

    def _paint(self, region: QRegion) -> None:
        ground, at = self._under
        with QPainter(self._pixmap) as painter:
            painter.translate(-at)
            painter.setClipRegion(region)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
            painter.fillRect(region.boundingRect(), ground)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
            shown = zip(self._items, self._boxes, strict=True)
            play(painter, [item for item, box in shown if region.intersects(box)])


def _found_again(items: tuple[Primitive, ...], before: tuple[Primitive, ...]) -> list[int]:
    """Return for each item which of those before it is, −1 for none; each stands for one.

    Most lie where they lay, told from the first or from the last.
    """
    was = [i if same else -1 for i, same in enumerate(map(eq, items, before))]
    was += [-1] * (len(items) - len(was))
    left = set(range(len(before))).difference(was)
    moved = len(before) - len(items)
    for i in range(len(items) - 1, -1, -1) if moved else ():
        if was[i] < 0 and i + moved in left and items[i] == before[i + moved]:
            was[i] = i + moved
            left.remove(i + moved)
    places: dict[Primitive, list[int]] = {}
    for k in sorted(left):
        places.setdefault(before[k], []).append(k)
    for i, k in enumerate(was):
        if k < 0 and (found := places.get(items[i])):
            was[i] = found.pop()
    return was


def _rising(numbers: Sequence[int]) -> set[int]:
    """Return as many of some numbers as rise from each to the next, in their order."""
    ends: list[int] = []  # of the best row of each length: its last number, and its place
    at: list[int] = []
    before: list[int] = []
    for i, number in enumerate(numbers):
        length = bisect_left(ends, number)
        before.append(at[length - 1] if length else -1)
        ends[length : length + 1], at[length : length + 1] = [number], [i]
    found: set[int] = set()
    last = at[-1] if at else -1
    while last >= 0:
        found.add(numbers[last])
        last = before[last]
    return found


def _box(item: Primitive) -> QRect:
    (left, right), (top, low) = reach_x(item), reach_y(item)
    edge = EDGE
    if isinstance(item, Text):  # on screen letters advance by whole pixels
        edge += ceil(len(item.text) / 2)
    x, y = floor(left) - edge, floor(top) - EDGE
    return QRect(x, y, ceil(right) + edge - x, ceil(low) + EDGE - y)
