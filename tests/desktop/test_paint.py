"""What is laid out for paper lies on screen as it will be printed."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage, QPainter

from vivid_loom.desktop.frame.window import MainWindow
from vivid_loom.desktop.widgets.paint import play
from vivid_loom.sheets.paper.drawing import Text
from vivid_loom.sheets.paper.metrics import text_width

SCALE = 4.0


def test_small_type_is_as_wide_as_the_paper_has_it(window: MainWindow) -> None:
    """At 2.6 mm letters would advance by whole pixels, and columns would run into one another."""
    for words in ("Outboard charging lead feeder", "Washdown pump, minus", "BK 18 AWG", "WWMM"):
        for bold in (False, True):
            wide = text_width(words, 2.6, bold=bold)
            assert inked_mm(words, bold=bold) == pytest.approx(wide, rel=0.03, abs=0.8), words


def inked_mm(words: str, *, bold: bool) -> float:
    """Return how far apart the first and the last dark column stand."""
    image = QImage(int(120 * SCALE), 60, QImage.Format.Format_Grayscale8)
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    painter.scale(SCALE, SCALE)
    play(painter, [Text(5, 10, words, 2.6, "#000000", bold)])
    painter.end()
    inked = [
        x
        for x in range(image.width())
        if any(image.pixelColor(x, y).lightness() < 160 for y in range(image.height()))
    ]
    return (inked[-1] - inked[0]) / SCALE
