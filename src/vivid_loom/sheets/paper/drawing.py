"""The display list: primitives in page units that every backend plays alike."""

from pathlib import Path
from typing import Final, Literal, NamedTuple

__all__ = [
    "FONTS",
    "Anchor",
    "Circle",
    "Line",
    "Page",
    "Primitive",
    "Rect",
    "Scene",
    "Spot",
    "Text",
    "moved",
    "reach_y",
]

_FONT_FOLDER: Final = Path(__file__).parent.parent.parent / "assets" / "fonts"
FONTS: Final = {
    "B612": _FONT_FOLDER / "B612-Regular.ttf",
    "B612-Bold": _FONT_FOLDER / "B612-Bold.ttf",
}


Anchor = Literal["start", "middle", "end"]


class Line(NamedTuple):
    """A polyline; ``dash`` alternates drawn and left-out lengths, () for a full line."""

    points: tuple[tuple[float, float], ...]
    colour: str
    width: float
    dash: tuple[float, ...] = ()
    cap: Literal["butt", "round"] = "butt"


class Rect(NamedTuple):
    """A rectangle; '' for no fill or no outline."""

    x: float
    y: float
    w: float
    h: float
    fill: str = ""
    stroke: str = ""
    width: float = 0.0
    radius: float = 0.0


class Circle(NamedTuple):
    """A disc."""

    x: float
    y: float
    r: float
    fill: str = ""
    stroke: str = ""
    width: float = 0.0


class Text(NamedTuple):
    """One line of text; ``x, y`` is its anchor on the baseline, ``size`` the em height."""

    x: float
    y: float
    text: str
    size: float
    colour: str = "#1c1e22"
    bold: bool = False
    anchor: Anchor = "start"


Primitive = Line | Rect | Circle | Text


def reach_y(item: Primitive) -> tuple[float, float]:
    """Return from where to where an item reaches down the page, its line's width included."""
    if isinstance(item, Line):
        ys = [y for _, y in item.points]
        return min(ys) - item.width, max(ys) + item.width
    if isinstance(item, Rect):
        return item.y - item.width, item.y + item.h + item.width
    if isinstance(item, Circle):
        return item.y - item.r - item.width, item.y + item.r + item.width
    return item.y - item.size, item.y + item.size / 2


def moved(item: Primitive, dx: float, dy: float, scale: float) -> Primitive:
    """Return a primitive scaled about the origin, then shifted."""
    if isinstance(item, Line):
        points = tuple((x * scale + dx, y * scale + dy) for x, y in item.points)
        dash = tuple(length * scale for length in item.dash)
        return item._replace(points=points, width=item.width * scale, dash=dash)
    x, y = item.x * scale + dx, item.y * scale + dy
    if isinstance(item, Text):
        return item._replace(x=x, y=y, size=item.size * scale)
    if isinstance(item, Circle):
        return item._replace(x=x, y=y, r=item.r * scale, width=item.width * scale)
    return item._replace(
        x=x,
        y=y,
        w=item.w * scale,
        h=item.h * scale,
        width=item.width * scale,
        radius=item.radius * scale,
    )


class Page(NamedTuple):
    """One sheet of paper, in mm, origin top left.

    Attributes:
        to_scale: what it shows has its own size, so that it is never printed larger.
    """

    title: str
    width_mm: float
    height_mm: float
    items: tuple[Primitive, ...]
    to_scale: bool = False

    def enlarged(self, times: float) -> "Page":
        """Return the page on larger paper, with everything on it as much larger."""
        items = tuple(moved(item, 0.0, 0.0, times) for item in self.items)
        return Page(self.title, self.width_mm * times, self.height_mm * times, items)


class Spot(NamedTuple):
    """Where a thing is drawn, so that it can be picked: its kind, its id, and x, y, w, h."""

    kind: str
    id: str
    rect: tuple[float, float, float, float]


class Scene(NamedTuple):
    """A picture to look around in: what is drawn, where things are, and how large it is."""

    items: tuple[Primitive, ...]
    spots: tuple[Spot, ...]
    width: float
    height: float
