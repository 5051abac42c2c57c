"""One step of proving in large type, for somebody who stands at the bench or kneels aboard."""

from collections.abc import Iterator
from typing import Final, NamedTuple

from vivid_loom.sheets.paper.drawing import Line, Primitive, Rect, Scene, Text, moved
from vivid_loom.sheets.paper.metrics import text_width, wrapped
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.words.bench_words import StepWords

__all__ = ["StepCard", "step_scene"]

EDGE: Final = 24.0
FACE_EDGE: Final = 12.0  # of a face, left of its shell
LEAST_SCALE: Final = 0.7  # smaller than this a face cannot be read
WIDE: Final = 480.0  # from here on there is room for a plug's face beside the words


class StepCard(NamedTuple):
    """A step as it is shown.

    Attributes:
        turn: 'step 12 of 63'.
        limits: between what it must read; '' for what is looked at.
        shown: what it has shown; '' while it has not been done.
        verdict: 'passed', 'FAILED' or ''.
        face: the plug's face with its cavity lit; None where no plug is probed.
        told: the keys, and what is being waited for.
    """

    turn: str
    words: StepWords
    limits: str
    shown: str
    verdict: str
    face: Scene | None
    told: str


def _size(text: str, most: float, width: float) -> float:
    """Return the largest size at which a line fits."""
    wide = text_width(text, most, bold=True)
    return most if wide <= width else most * width / wide


def _probe(
    colour: str, name: str, text: str, x: float, y: float, width: float, unit: float, tones: Tones
) -> Iterator[Primitive]:
    """Yield where one probe goes; a filled or an empty shape tells red from black."""
    side = unit * 0.72
    yield Rect(x, y - side, side, side, colour, tones.ink, 1.6, side / 2 if name == "red" else 2.0)
    left = x + side + unit * 0.4
    size = _size(text, unit, width - (left - x))
    yield Text(left, y - unit * 0.08, text, size, tones.ink, True)


def _verdict(card: StepCard, y: float, width: float, unit: float, tones: Tones) -> list[Primitive]:
    """Return limits and reading; passed and failed differ in shape and word, not only in tone."""
    items: list[Primitive] = []
    if card.limits:
        items.append(Text(EDGE, y, f"expected {card.limits}", unit * 0.8, tones.ink))
    if not card.shown:
        return items
    y += unit * 1.7
    failed = card.verdict == "FAILED"
    tone = tones.alarm if failed else tones.focus
    mark, side = unit * 0.55, unit * 1.1
    box = Rect(EDGE, y - side, side, side, "", tone, 3.0, 0.0 if failed else side / 2)
    items.append(box)
    cx, cy = EDGE + side / 2, y - side / 2
    if failed:
        for sign in (-1, 1):
            reach = mark / 2
            ends = ((cx - reach, cy - sign * reach), (cx + reach, cy + sign * reach))
            items.append(Line(ends, tone, 3.5))
    else:
        tick = (
            (cx - mark / 2, cy),
            (cx - mark / 8, cy + mark / 2.6),
            (cx + mark / 2, cy - mark / 2),
        )
        items.append(Line(tick, tone, 3.5))
    text = f"{card.verdict}: {card.shown}"
    room = width - 2 * EDGE - side - unit * 0.5
    size = _size(text, unit * 1.3, room)
    items.append(Text(EDGE + side + unit * 0.5, y - unit * 0.15, text, size, tone, True))
    return items


class _Seat(NamedTuple):
    """Where a plug's face is drawn, and how large."""

    x: float
    y: float
    scale: float


def _seat(
    face: Scene | None, inner: float, tops: tuple[float, float], bottom: float
) -> _Seat | None:
    """Return where a face comes out largest: beside the words or below them; None where nowhere.

    Args:
        tops: from where on there is room beside, and below.
    """
    if face is None:
        return None
    beside, below = tops
    seats = [
        _Seat(x, y, min(wide / face.width, (bottom - y) / face.height, 1.6))
        for x, y, wide, fits in (
            (EDGE + inner * 0.6, beside, inner * 0.4, inner > WIDE),
            (EDGE, below, inner, True),
        )
        if fits
    ]
    best = max(seats, key=lambda seat: seat.scale)
    return best if best.scale >= LEAST_SCALE else None


def step_scene(card: StepCard, size: tuple[float, float], tones: Tones) -> Scene:
    """Return a step as large as its room.

    Args:
        size: of the room in px.
    """
    width, height = size
    unit = max(15.0, min(width / 26, height / 17))
    inner = width - 2 * EDGE
    items: list[Primitive] = [Text(EDGE, EDGE + unit * 0.5, card.turn, unit * 0.6, tones.quiet)]
    y = EDGE + unit * 2.0
    title = card.words.title
    items.append(Text(EDGE, y, title, _size(title, unit * 1.5, inner), tones.ink, True))
    y += unit * 0.5
    for line in wrapped(card.words.asks, inner, unit * 0.72):
        y += unit
        items.append(Text(EDGE, y, line, unit * 0.72, tones.ink))
    y += unit * 0.5
    named = (("red", "#b3261e", card.words.red), ("black", "#1c1e22", card.words.black))
    probes = [probe for probe in named if probe[2]]
    below = y + unit * (1.35 * len(probes) + 3.8)
    seat = _seat(card.face, inner, (y + unit * 0.6, below), height - unit * 2.0)
    text_w = inner * (0.56 if seat is not None and seat.x > EDGE else 1.0)
    for name, colour, text in probes:
        y += unit * 1.35
        items += _probe(colour, name, text, EDGE, y, text_w, unit, tones)
    items += _verdict(card, y + unit * 1.5, text_w + 2 * EDGE, unit, tones)
    if card.face is not None and seat is not None:
        left = seat.x - FACE_EDGE * seat.scale
        items += [moved(item, left, seat.y, seat.scale) for item in card.face.items]
    told = card.told
    items.append(Text(EDGE, height - EDGE * 0.7, told, _size(told, 12.5, inner), tones.quiet))
    return Scene(tuple(items), (), width, height)
