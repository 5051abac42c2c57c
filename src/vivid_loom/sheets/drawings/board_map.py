"""A form board in small: cut into bands as wide as a page, laid one under another."""

from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import Final, NamedTuple

from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect, Text, moved, reach_y
from vivid_loom.sheets.paper.metrics import reach_x

__all__ = ["Band", "bands", "scale_of"]

SCALES: Final = (0.1, 0.08)  # the first at which a map is whole, else the first

Window = tuple[float, float, float, float]


class Band(NamedTuple):
    """A part of a map from its own upper left corner, in mm of paper."""

    items: tuple[Primitive, ...]
    height_mm: float


def scale_of(used: Window, room_mm: tuple[float, float]) -> float:
    """Return at which scale a board is drawn."""
    left, top, right, low = used
    for scale in SCALES:
        if (right - left) * scale <= room_mm[0] and (low - top) * scale <= room_mm[1]:
            return scale
    return SCALES[0]


def bands(items: Sequence[Primitive], used: Window, room_mm: tuple[float, float]) -> list[Band]:
    """Return a map in parts that are no larger than there is room."""
    scale = scale_of(used, room_mm)
    left, top, right, low = used
    told = [item for item in items if isinstance(item, Text)]
    across = _cuts(left, right, room_mm[0] / scale, [reach_x(item) for item in told])
    down = _cuts(top, low, room_mm[1] / scale, [reach_y(item) for item in told])
    found: list[Band] = []
    for y, yy in pairwise(down):
        for x, xx in pairwise(across):
            inside = [part for item in items for part in _within(item, (x, y, xx, yy))]
            if inside:
                found.append(_band(inside, x, scale))
    return found


def _band(inside: Sequence[Primitive], left: float, scale: float) -> Band:
    reach = [reach_y(item) for item in inside]
    top, low = min(a for a, _ in reach), max(b for _, b in reach)
    laid = tuple(moved(item, -left * scale, -top * scale, scale) for item in inside)
    return Band(laid, (low - top) * scale)


def _cuts(
    low: float, high: float, room: float, words: Sequence[tuple[float, float]]
) -> list[float]:
    """Return where a map is cut: as late as it goes, through the fewest words.

    Args:
        words: from where to where each of them reaches.
    """
    found = [low]
    while high - found[-1] > room + 1e-6:
        last = found[-1]
        steps = [last + room * (1.0 - 0.02 * i) for i in range(24)]
        found.append(min(steps, key=lambda at: sum(a < at < b for a, b in words)))
    return [*found, high]


def _within(item: Primitive, window: Window) -> Iterator[Primitive]:
    """Yield what of an item lies in a window: lines cut at its edges, all else whole or not."""
    if isinstance(item, Line):
        for stretch in pairwise(item.points):
            if cut := _clipped(stretch, window):
                yield item._replace(points=cut)
        return
    x, y, xx, yy = window
    (a, b), (c, d) = reach_x(item), reach_y(item)
    if isinstance(item, Circle | Rect | Text) and x <= (a + b) / 2 <= xx and y <= (c + d) / 2 <= yy:
        yield item


Stretch = tuple[tuple[float, float], tuple[float, float]]


def _clipped(stretch: Stretch, window: Window) -> Stretch | None:
    """Return what of a stretch lies in a window (Liang and Barsky 1984); None for nothing."""
    (ax, ay), (bx, by) = stretch
    left, top, right, low = window
    first, last = 0.0, 1.0
    for start, step, least, most in ((ax, bx - ax, left, right), (ay, by - ay, top, low)):
        if step == 0:
            if not least <= start <= most:
                return None
            continue
        enters, leaves = sorted(((least - start) / step, (most - start) / step))
        first, last = max(first, enters), min(last, leaves)
    if first > last:
        return None
    dx, dy = bx - ax, by - ay
    return (ax + first * dx, ay + first * dy), (ax + last * dx, ay + last * dy)
