"""Text is data: what comes from files is shown as it stands, never taken for rich text."""

from PySide6.QtGui import Qt
from PySide6.QtWidgets import QLabel, QWidget

__all__ = ["PlainLabel", "plain"]


class PlainLabel(QLabel):
    """A label that shows its text letter by letter: a title like ``<img src=…>`` reads nothing."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


def plain(text: str) -> str:
    """Return text for a hint or a question, which Qt would take for rich text if it looks so."""
    return Qt.convertFromPlainText(text) if Qt.mightBeRichText(text) else text
