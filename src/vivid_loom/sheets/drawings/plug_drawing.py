"""Plugs half by half, looked at from the wire side: which wire goes into which cavity."""

from collections.abc import Iterator
from itertools import groupby
from operator import attrgetter
from typing import Final

from vivid_loom.drafting import Draft
from vivid_loom.sheets.lists.harness_lists import CavityRow, connectors
from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect, Scene, Spot, Text
from vivid_loom.sheets.paper.metrics import fitted
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.paper.wire_paint import WIRE_HUES
from vivid_loom.sheets.words.names import Names
from vivid_loom.standards.colours import InsulationColour
from vivid_loom.standards.terminals import cavity_rows

__all__ = ["plug_face", "plug_faces"]

CAVITY_W: Final = 92.0
CAVITY_H: Final = 46.0
EDGE: Final = 12.0
TITLE_H: Final = 36.0
GAP: Final = 18.0
KEY: Final = 10.0


def _cavity(row: CavityRow, x: float, y: float, tones: Tones, wire: str) -> Iterator[Primitive]:
    marked = bool(row.wire_id) and row.wire_id == wire
    edge, width = (tones.focus, 2.6) if marked else (tones.rule, 1.0)
    yield Rect(x + 3, y + 3, CAVITY_W - 6, CAVITY_H - 6, tones.part, edge, width, 6.0)
    yield Text(x + 10, y + 17, row.cavity, 11.0, tones.quiet, True)
    if not row.wire_id:
        yield Line(((x + 30, y + 10), (x + CAVITY_W - 14, y + CAVITY_H - 12)), tones.rule, 1.2)
        yield Text(x + 10, y + 34, "sealing plug", 10.0, tones.quiet)
        return
    colour = InsulationColour.parse(row.colour)
    cx, cy = x + CAVITY_W - 18, y + 14
    if row.gender == "socket":  # shrouded: a ring; a pin is a dot with its wire's colour around
        yield Circle(cx, cy, 7.0, WIRE_HUES[colour.base], tones.wire_edge, 1.2)
        yield Circle(cx, cy, 3.0, tones.page, tones.wire_edge, 1.0)
    else:
        yield Circle(cx, cy, 7.0, WIRE_HUES[colour.base], tones.wire_edge, 1.2)
        yield Circle(cx, cy, 2.2, tones.wire_edge)
    if colour.tracer:
        yield Line(((cx - 7, cy + 9.5), (cx + 7, cy + 9.5)), WIRE_HUES[colour.tracer], 3.0)
    yield Text(x + 29, y + 17, row.colour, 10.0, tones.ink)
    words = fitted(row.wire_id, CAVITY_W - 18, 11.0, bold=True)
    yield Text(x + 10, y + 35, words, 11.0, tones.ink, True)


def _half(
    rows: list[CavityRow], at: tuple[float, float], names: Names, tones: Tones, wire: str
) -> tuple[list[Primitive], list[Spot], float, float]:
    """Return the items and spots of a half, and its width and height."""
    x, y = at
    first = rows[0]
    by_number = {int(row.cavity): row for row in rows}
    lines = cavity_rows(int(first.ways))
    wide = max(len(line) for line in lines) * CAVITY_W
    title = f"{first.plug} {first.gender}s · {first.ways}-way {first.family} · key {first.key}"
    items: list[Primitive] = [
        Text(x, y + 13, title, 12.0, tones.ink, True),
        Text(x, y + 28, f"{names.station(first.station)}, from the wire side", 11.0, tones.quiet),
    ]
    spots: list[Spot] = []
    top = y + TITLE_H
    high = len(lines) * CAVITY_H
    items.append(Rect(x, top, wide, high, tones.band, tones.bar, 1.6, 9.0))
    # the keying rib, by which a half is held the right way up
    rib = x + wide * (0.2 + 0.2 * "ABCD".index(first.key))
    items.append(Rect(rib, top - 5, KEY, 6, tones.bar))
    for r, line in enumerate(lines):
        for c, number in enumerate(line):
            left, above = x + c * CAVITY_W, top + r * CAVITY_H
            row = by_number[number]
            items += _cavity(row, left, above, tones, wire)
            if row.wire_id:
                rect = (left + 3, above + 3, CAVITY_W - 6, CAVITY_H - 6)
                spots.append(Spot("wire", row.wire_id, rect))
    return items, spots, max(wide, 330.0), TITLE_H + high


def plug_face(draft: Draft, plug: str, harness: str, tones: Tones, wire: str) -> Scene:
    """Return the half of one plug that a harness carries, a wire's cavity marked."""
    rows = [r for r in connectors(draft).rows if (r.harness, r.plug) == (harness, plug)]
    items, spots, wide, deep = _half(rows, (EDGE, 4.0), Names(draft), tones, wire)
    return Scene(tuple(items), tuple(spots), wide + 2 * EDGE, deep + GAP)


def plug_faces(draft: Draft, harness: str, width: float, tones: Tones, wire: str = "") -> Scene:
    """Return the halves of plugs that a harness carries, as many side by side as fit.

    Args:
        wire: which is marked.
    """
    names = Names(draft)
    rows = [row for row in connectors(draft).rows if row.harness == harness]
    items: list[Primitive] = []
    spots: list[Spot] = []
    x, y, deep, wide = EDGE, 4.0, 0.0, 0.0
    for _, group in groupby(rows, key=attrgetter("plug")):
        half = list(group)
        made, found, w, h = _half(half, (x, y), names, tones, wire)
        if x > EDGE and x + w > width - EDGE:
            x, y, deep = EDGE, y + deep + GAP, 0.0
            made, found, w, h = _half(half, (x, y), names, tones, wire)
        items += made
        spots += found
        x, deep = x + w + GAP, max(deep, h)
        wide = max(wide, x)
    if not rows:
        items.append(Text(EDGE, 24, "No plugs on this harness.", 12.0, tones.quiet))
    return Scene(tuple(items), tuple(spots), wide, y + deep + GAP)
