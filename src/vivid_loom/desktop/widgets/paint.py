"""Qt backend of the display list: screen and paper show the same primitives."""

from collections.abc import Iterable
from functools import lru_cache
from itertools import pairwise

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QFontMetricsF, QPainter, QPen, QPolygonF

from vivid_loom.desktop.widgets.theme import font
from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect, Text

__all__ = ["play"]

FINER = 16
THIN = 1.6  # px: of lines below that nobody sees how they join, and alone they are drawn faster


@lru_cache(maxsize=512)
def _pen(colour: str, width: float, cap: str = "butt", dash: tuple[float, ...] = ()) -> QPen:
    """Return a pen; nobody changes it."""
    pen = QPen(QColor(colour))
    pen.setWidthF(width)
    rounded = cap == "round"
    pen.setCapStyle(Qt.PenCapStyle.RoundCap if rounded else Qt.PenCapStyle.FlatCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin if rounded else Qt.PenJoinStyle.MiterJoin)
    if dash:
        pen.setDashPattern([length / width for length in dash])
    return pen


@lru_cache(maxsize=256)
def _brush(colour: str) -> QBrush:
    return QBrush(QColor(colour))


@lru_cache(maxsize=64)
def _face(pixels: float, bold: bool) -> QFont:
    return font(pixels, bold=bold)


def _outlined(painter: QPainter, item: Rect | Circle) -> None:
    painter.setPen(_pen(item.stroke, item.width) if item.stroke else Qt.PenStyle.NoPen)
    painter.setBrush(_brush(item.fill) if item.fill else Qt.BrushStyle.NoBrush)


def _text(painter: QPainter, item: Text) -> None:
    finer = FINER if item.size < 6 else 1  # paper sizes are in mm: letters advance by whole pixels
    face = _face(item.size * finer, item.bold)
    painter.setFont(face)
    painter.setPen(QColor(item.colour))
    x = 0.0
    if item.anchor != "start":
        width = QFontMetricsF(face, painter.device()).horizontalAdvance(item.text)
        x -= width if item.anchor == "end" else width / 2
    if finer == 1:
        painter.drawText(QPointF(item.x + x, item.y), item.text)
        return
    painter.save()
    painter.translate(item.x, item.y)
    painter.scale(1 / finer, 1 / finer)
    painter.drawText(QPointF(x, 0), item.text)
    painter.restore()


def play(painter: QPainter, items: Iterable[Primitive]) -> None:
    """Paint primitives in order."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for item in items:
        if isinstance(item, Line):
            painter.setPen(_pen(item.colour, item.width, item.cap, item.dash))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            points = [QPointF(x, y) for x, y in item.points]
            if len(points) > 2 and item.width < THIN and item.cap == "butt" and not item.dash:
                painter.drawLines([QLineF(a, b) for a, b in pairwise(points)])
            else:
                painter.drawPolyline(QPolygonF(points))
        elif isinstance(item, Rect):
            _outlined(painter, item)
            box = QRectF(item.x, item.y, item.w, item.h)
            painter.drawRoundedRect(box, item.radius, item.radius)
        elif isinstance(item, Circle):
            _outlined(painter, item)
            painter.drawEllipse(QPointF(item.x, item.y), item.r, item.r)
        else:
            _text(painter, item)
