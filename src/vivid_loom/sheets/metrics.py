"""Text widths from the shipped fonts, so that every decision falls before the backend."""

from functools import cache

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

from vivid_loom.sheets.drawing import FONTS

__all__ = ["fitted", "register_fonts", "text_width", "wrapped"]


@cache
def register_fonts() -> None:
    """Make the shipped fonts known to the PDF library."""
    for name, path in FONTS.items():
        pdfmetrics.registerFont(TTFont(name, str(path)))


def text_width(text: str, size: float, *, bold: bool = False) -> float:
    """Return the width of one line, in the units of ``size``."""
    register_fonts()
    return float(pdfmetrics.stringWidth(text, "B612-Bold" if bold else "B612", size))


def fitted(text: str, width: float, size: float, *, bold: bool = False) -> str:
    """Return ``text``, shortened with an ellipsis where it is wider than ``width``."""
    if text_width(text, size, bold=bold) <= width:
        return text
    while text and text_width(text + "…", size, bold=bold) > width:
        text = text[:-1]
    return text.rstrip() + "…"


def wrapped(text: str, width: float, size: float, *, bold: bool = False) -> tuple[str, ...]:
    """Return ``text`` broken into lines no wider than ``width``; long words are cut, not lost."""
    lines: list[str] = []
    line = ""
    for word in text.replace(";", "; ").split():
        while text_width(word, size, bold=bold) > width and len(word) > 1:
            cut = len(word) - 1
            while cut > 1 and text_width(word[:cut], size, bold=bold) > width:
                cut -= 1
            if line:
                lines.append(line)
                line = ""
            lines.append(word[:cut])
            word = word[cut:]
        trial = f"{line} {word}".strip()
        if text_width(trial, size, bold=bold) > width and line:
            lines.append(line)
            line = word
        else:
            line = trial
    return (*lines, line) if line or not lines else tuple(lines)
