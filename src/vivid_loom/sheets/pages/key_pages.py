"""The boat in plan and profile with the codes of its runs, and the key to all other codes."""

from operator import attrgetter
from typing import Final

from vivid_loom.drafting import Draft
from vivid_loom.sheets.drawings.runs_drawing import runs_picture
from vivid_loom.sheets.paper.drawing import Page, Text, moved
from vivid_loom.sheets.paper.layout import (
    MARGIN_MM,
    TOP_MM,
    Column,
    Picture,
    Printed,
    Setting,
    paginate,
)
from vivid_loom.sheets.paper.tones import PAPER
from vivid_loom.sheets.words.names import KeyRow, key

__all__ = ["key_pages"]

WIDTH, HEIGHT = 1290.0, 530.0  # of the picture, in the units of the screen's
SCALE: Final = 0.198


def _words(row: KeyRow) -> str:
    """Say what a code stands for and where; 'run to Stem from Foredeck'."""
    apart = " " if row.what.endswith(" from") else ", "
    return f"{row.what}{apart}{row.station_name}"


def key_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return where everything is and what its code stands for."""
    boat = draft.aboard.boat
    named = frozenset((boat.helm_station, boat.battery.station))
    drawn = runs_picture(draft, {}, "code", WIDTH, HEIGHT, PAPER, named)
    items = (moved(item, MARGIN_MM, TOP_MM, SCALE) for item in (*drawn.items, *drawn.words))
    columns = (
        Column("code", 16, attrgetter("code"), bold=True),
        Column("what and where", 47, _words),
    )
    written = {item.text for item in drawn.words if isinstance(item, Text)}
    rows = [row for row in key(draft).rows if row.code not in written]  # short runs have no room
    picture = Picture(tuple(items), HEIGHT * SCALE + 2)
    table = Printed(columns, rows, size=2.15)
    return paginate("Key to the codes", [table], setting, lanes=4, picture=picture)
