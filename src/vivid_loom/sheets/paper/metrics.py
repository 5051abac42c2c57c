"""Text widths from the shipped fonts, so that every decision falls before the backend."""

from functools import cache, lru_cache
from itertools import accumulate, takewhile

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

from vivid_loom.sheets.paper.drawing import FONTS, Circle, Line, Primitive, Rect

__all__ = ["fitted", "reach_x", "register_fonts", "text_width", "wrapped"]


@cache
def register_fonts() -> None:
    """Make the shipped fonts known to the PDF library."""
    for name, path in FONTS.items():
        pdfmetrics.registerFont(TTFont(name, str(path)))


@lru_cache(maxsize=50_000)
def text_width(text: str, size: float, *, bold: bool = False) -> float:
    """Return the width of one line, in the units of ``size``."""
    advance, otherwise = _advances(bold)
    return 0.001 * size * sum(advance.get(ord(letter), otherwise) for letter in text)


@cache
def _advances(bold: bool) -> tuple[dict[int, float], float]:
    """Return how far each letter advances in thousandths of the size, and all others."""
    register_fonts()
    face = pdfmetrics.getFont("B612-Bold" if bold else "B612").face
    return face.charWidths, face.defaultWidth


def _most_letters(text: str, width: float, size: float, *, bold: bool) -> int:
    """Return how many letters from the start are no wider than ``width``."""
    advance, otherwise = _advances(bold)
    room = (width + 1e-9) / (0.001 * size)
    ends = accumulate(advance.get(ord(letter), otherwise) for letter in text)
    return sum(1 for _ in takewhile(lambda end: end <= room, ends))


def fitted(text: str, width: float, size: float, *, bold: bool = False) -> str:
    """Return ``text``, shortened with an ellipsis where it is wider than ``width``."""
    if text_width(text, size, bold=bold) <= width:
        return text
    room = width - text_width("…", size, bold=bold)
    return text[: _most_letters(text, room, size, bold=bold)].rstrip() + "…"


def wrapped(text: str, width: float, size: float, *, bold: bool = False) -> tuple[str, ...]:
    """Return ``text`` broken into lines no wider than ``width``; long words are cut, not lost."""
    lines: list[str] = []
    line = ""
    for word in text.replace(";", "; ").split():
        while text_width(word, size, bold=bold) > width and len(word) > 1:
            cut = max(1, min(len(word) - 1, _most_letters(word, width, size, bold=bold)))
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


def reach_x(item: Primitive) -> tuple[float, float]:
    """Return from where to where an item reaches across the page, its line's width included."""
    if isinstance(item, Line):
        xs = [x for x, _ in item.points]
        return min(xs) - item.width, max(xs) + item.width
    if isinstance(item, Rect):
        return item.x - item.width, item.x + item.w + item.width
    if isinstance(item, Circle):
        return item.x - item.r - item.width, item.x + item.r + item.width
    width = text_width(item.text, item.size, bold=item.bold)
    share = {"start": 0.0, "middle": 0.5, "end": 1.0}[item.anchor]
    return item.x - share * width, item.x + (1 - share) * width
