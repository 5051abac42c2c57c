"""What lies over the Runs picture: a circuit's path, the handles of a station's loads."""

from collections.abc import Sequence
from typing import Final, NamedTuple

from vivid_loom.boat import Load
from vivid_loom.drafting import DraftedCircuit
from vivid_loom.sheets.drawings.runs_drawing import RunsPicture
from vivid_loom.sheets.paper.drawing import Line, Primitive, Rect, Text
from vivid_loom.sheets.paper.metrics import fitted, text_width
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.paper.wire_paint import wire_lines

__all__ = ["BOX_H", "LoadBox", "box_items", "load_boxes", "neighbour", "path_items"]

BOX_H: Final = 19.0
MOST: Final = 8  # handles shown at one station


class LoadBox(NamedTuple):
    """The handle of a load: its id, what is written on it, where it lies."""

    load: str
    text: str
    x: float
    y: float
    width: float


def load_boxes(
    loads: Sequence[Load], picture: RunsPicture, station: str, width: float, height: float
) -> list[LoadBox]:
    """Return handles stacked near a station, on the page, where they cover least."""
    x, y = picture.stations[station][0]
    names = [(load.id, fitted(load.name, 150, 11)) for load in loads[:MOST]]
    wide = max((text_width(name, 11) for _, name in names), default=0.0) + 14
    tall = (BOX_H + 2) * len(names)

    def covered(left: float, top: float) -> float:
        """Return the area of names and stations under a stack, and a little for its distance."""
        under = sum(
            max(0.0, min(left + wide, b[2]) - max(left, b[0]))
            * max(0.0, min(top + tall, b[3]) - max(top, b[1]))
            for b in picture.taken
        )
        return under + 0.5 * abs(top + tall / 2 - y) + 0.2 * abs(left + wide / 2 - x)

    lefts = [x + 12, x - 12 - wide, x + 60, x - 60 - wide, x - wide / 2]
    tops = [y + 8, *(y - tall / 2 + step for step in range(-240, 241, 24))]
    places = [
        (min(max(4.0, left), width - 4 - wide), min(max(4.0, top), height - 30 - tall))
        for left in lefts
        for top in tops
    ]
    left, top = min(places, key=lambda place: covered(*place))
    return [
        LoadBox(name, text, left, top + i * (BOX_H + 2), wide)
        for i, (name, text) in enumerate(names)
    ]


def box_items(boxes: Sequence[LoadBox], chosen: str, tones: Tones) -> list[Primitive]:
    """Draw handles, the chosen load's one marked."""
    items: list[Primitive] = []
    for box in boxes:
        here = box.load == chosen
        edge = tones.focus if here else tones.rule
        items.append(Rect(box.x, box.y, box.width, BOX_H, tones.part, edge, 1.8 if here else 1, 4))
        items.append(Text(box.x + 7, box.y + 14, box.text, 11, tones.ink, here))
    return items


def path_items(row: DraftedCircuit, picture: RunsPicture, tones: Tones) -> list[Line]:
    """Draw a circuit's real path, plus and return side by side, in its colours."""
    items: list[Line] = []
    for leg, path in zip(row.planned.plan.legs, row.paths, strict=True):
        back = leg.live == "return"
        colour, _ = row.colours.laid(leg)
        for view in (0, 1):
            points = tuple(picture.stations[name][view] for name in path.stations)
            moved = tuple((x, y + (2.4 if back else -2.4)) for x, y in points)
            if len(moved) > 1:
                items += wire_lines(moved, colour, 2.6, tones.wire_edge)
    return items


def neighbour(picture: RunsPicture, start: str, way: tuple[int, int]) -> str:
    """Return the nearest station in a direction, in plan; '' for none.

    Straight ahead counts nearer than aside.
    """
    x0, y0 = picture.stations[start][0]
    best, found = float("inf"), ""
    for name, ((x, y), _) in picture.stations.items():
        ahead = (x - x0) * way[0] + (y - y0) * way[1]
        aside = abs((x - x0) * way[1]) + abs((y - y0) * way[0])
        if name != start and ahead > 0.5 and aside <= 2.5 * ahead and ahead + 2 * aside < best:
            best, found = ahead + 2 * aside, name
    return found
