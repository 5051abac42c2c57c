"""Qt backend of the display list: screen and paper show the same primitives."""

from collections.abc import Iterable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFontMetricsF, QPainter, QPen, QPolygonF

from vivid_loom.desktop.widgets.theme import font
from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect, Text

__all__ = ["play"]

FINER = 16


def _pen(colour: str, width: float) -> QPen:
    pen = QPen(QColor(colour))
    pen.setWidthF(width)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    return pen


def _outlined(painter: QPainter, item: Rect | Circle) -> None:
    painter.setPen(_pen(item.stroke, item.width) if item.stroke else Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(QColor(item.fill)) if item.fill else Qt.BrushStyle.NoBrush)


def _text(painter: QPainter, item: Text) -> None:
    finer = FINER if item.size < 6 else 1  # paper sizes are in mm: letters advance by whole pixels
    face = font(item.size * finer, bold=item.bold)
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
            pen = _pen(item.colour, item.width)
            if item.cap == "round":
                pen.setCapStyle(Qt.PenCapStyle.RoundCap)
                pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
            if item.dash:
                pen.setDashPattern([length / item.width for length in item.dash])
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolyline(QPolygonF([QPointF(x, y) for x, y in item.points]))
        elif isinstance(item, Rect):
            _outlined(painter, item)
            box = QRectF(item.x, item.y, item.w, item.h)
            painter.drawRoundedRect(box, item.radius, item.radius)
        elif isinstance(item, Circle):
            _outlined(painter, item)
            painter.drawEllipse(QPointF(item.x, item.y), item.r, item.r)
        else:
            _text(painter, item)
