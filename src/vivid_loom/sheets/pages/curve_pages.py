"""Selectivity on paper: each block's largest branch against the device that feeds the block."""

from typing import Final

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.sheets.drawings.curve_drawing import curve_items
from vivid_loom.sheets.paper.drawing import Page, moved
from vivid_loom.sheets.paper.layout import HEIGHT_MM, MARGIN_MM, WIDTH_MM, Setting, frame
from vivid_loom.sheets.paper.tones import PAPER

__all__ = ["curve_pages"]

ACROSS: Final = 4
DOWN: Final = 2
SCALE: Final = 0.24  # mm to a screen unit


def _worth_a_curve(draft: Draft) -> list[DraftedCircuit]:
    """Return the feeders, and of each block the branch with the largest device."""
    largest: dict[str, DraftedCircuit] = {}
    for row in draft.circuits:
        if row.fault and row.sized and row.sized.protection:
            kept = largest.get(row.planned.source)
            held = kept.sized.protection if kept and kept.sized else None
            if held is None or row.sized.protection.value > held.value:
                largest[row.planned.source] = row
    return [*(row for row in draft.feeders if row.fault), *largest.values()]


def curve_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return eight plots to the page."""
    rows = _worth_a_curve(draft)
    width = (WIDTH_MM - 2 * MARGIN_MM) / ACROSS
    height = (HEIGHT_MM - 40) / DOWN
    pages: list[Page] = []
    for first in range(0, len(rows), ACROSS * DOWN):
        items = list(frame("Protection curves", setting, len(pages) + 1))
        for index, row in enumerate(rows[first : first + ACROSS * DOWN]):
            plot = curve_items(draft, row, width / SCALE - 14, height / SCALE - 10, PAPER, 10.0)
            dx = MARGIN_MM + (index % ACROSS) * width
            dy = 24 + (index // ACROSS) * height
            items += [moved(item, dx, dy, SCALE) for item in plot]
        pages.append(Page("Protection curves", WIDTH_MM, HEIGHT_MM, tuple(items)))
    return pages
