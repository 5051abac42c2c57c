"""The shapes of findings: a lozenge for errors, a wedge for judgements, a ring for notes."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QIcon, QPainter, QPixmap

from vivid_loom.desktop.widgets.paint import play
from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["mark", "mark_icon"]


def mark(x: float, y: float, severity: str, tones: Tones) -> list[Primitive]:
    """Return the shape of a severity."""
    points: tuple[tuple[float, float], ...]
    if severity == "error":
        points = ((x, y - 5), (x + 5, y), (x, y + 5), (x - 5, y), (x, y - 5), (x + 5, y))
        return [Line(points, tones.alarm, 2.6)]
    if severity == "judge":
        points = ((x, y - 4), (x + 5, y + 4), (x - 5, y + 4), (x, y - 4), (x + 5, y + 4))
        return [Line(points, tones.warn, 2.4)]
    return [Circle(x, y, 3.6, "", tones.quiet, 1.6)]


def mark_icon(severity: str, tones: Tones) -> QIcon:
    """Return the shape of a severity as an icon."""
    picture = QPixmap(28, 28)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.scale(2, 2)
    play(painter, mark(7, 7, severity, tones))
    painter.end()
    return QIcon(picture)
