"""The threads on paper: the same drawing as on screen, with its figures."""

from typing import Final

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.quantities import figure, length_text, percent_text
from vivid_loom.sheets.drawings.threads import boat_axis, thread
from vivid_loom.sheets.paper.drawing import Line, Page, Primitive, Text, moved
from vivid_loom.sheets.paper.layout import (
    HEIGHT_MM,
    INK,
    MARGIN_MM,
    QUIET,
    RULE,
    WIDTH_MM,
    Setting,
    frame,
)
from vivid_loom.sheets.paper.metrics import fitted
from vivid_loom.sheets.paper.tones import PAPER

__all__ = ["thread_pages"]

UNITS: Final = 1100.0  # screen units across the printed width
ROW: Final = 37.0
NAMES: Final = 190.0
FIGURES: Final = 240.0


def _figures(draft: Draft, row: DraftedCircuit, base: float) -> list[Primitive]:
    if row.sized is None:
        return [Text(UNITS, base, "current unknown, not sized", 11, PAPER.alarm, True, "end")]
    s = row.sized
    length = length_text(s.loop_length_m, draft.aboard.profile.units)
    left = UNITS - FIGURES
    return [
        Text(left + 50, base, f"{figure(s.current_a)} A", 11, INK, False, "end"),
        Text(left + 110, base, length, 11, INK, False, "end"),
        Text(left + 180, base, str(s.gauge.value), 11, INK, True, "end"),
        Text(UNITS, base, f"{percent_text(s.drop_percent)} %", 11, INK, False, "end"),
    ]


def thread_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return every circuit drawn, aft on the left, some sixteen to the page."""
    scale = (WIDTH_MM - 2 * MARGIN_MM) / UNITS
    axis = boat_axis(draft, NAMES, UNITS - FIGURES - 10)
    count = int((HEIGHT_MM - 42) / (ROW * scale))
    pages: list[Page] = []
    for first in range(0, len(draft.rows), count):
        items: list[Primitive] = [
            Text(
                (band.left + band.right) / 2,
                -4,
                fitted(band.name, band.right - band.left, 11),
                11,
                QUIET,
                False,
                "middle",
            )
            for band in axis.bands
        ]
        for index, row in enumerate(draft.rows[first : first + count]):
            middle = (index + 0.5) * ROW
            items += thread(draft, row, axis, middle, PAPER)
            label = fitted(row.planned.label, NAMES - 20, 12, bold=True)
            items.append(Text(0, middle - 3, label, 12, INK, True))
            plus, minus = row.letters
            sides = (f"{plus} +" if plus else "", f"{minus} −" if minus else "")
            letters = f"{row.id}   {' '.join(filter(None, sides))}"
            items.append(Text(0, middle + 12, letters, 10.5, QUIET))
            items += _figures(draft, row, middle + 4)
            line = ((0.0, (index + 1) * ROW), (UNITS, (index + 1) * ROW))
            items.append(Line(line, RULE, 0.6))
        body = tuple(moved(item, MARGIN_MM, 28.0, scale) for item in items)
        head = frame("Threads", setting, len(pages) + 1)
        pages.append(Page("Threads", WIDTH_MM, HEIGHT_MM, (*head, *body)))
    return pages
