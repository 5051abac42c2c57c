"""What a thread shows beside its wires: a cable's jacket, unfused stretches, strip poles."""

from math import inf

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.sheets.paper.drawing import Line, Primitive, Rect, Text
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["is_guarded", "jacket_mark", "strip_mark", "unfused_mark"]


def jacket_mark(
    draft: Draft,
    row: DraftedCircuit,
    boxes: list[float],
    bounds: tuple[float, float, float],
    tones: Tones,
) -> list[Primitive]:
    """Draw the cables' jackets behind their cores, from each load on."""
    if not any(c.runs for c in draft.assembled.cables if c.circuit == row.id):
        return []
    source_x, upper, lower = bounds
    reach = 34.0  # a short sleeve is enough to say so; the true length is in the figures
    lefts = (x - reach if x > source_x else x for x in boxes)
    high = lower - upper + 8
    return [Rect(x, upper - 4, reach, high, tones.band, tones.quiet, 0.9, 6) for x in lefts]


def is_guarded(draft: Draft, row: DraftedCircuit) -> bool:
    """Tell whether no device is wanted: one upstream protects it, it only goes home, or starts an
    engine.
    """
    if row.planned.guard:
        return True
    need = draft.needs.get(row.id)
    bears_a = row.sized.ampacity_a if row.sized else inf
    if need is None:
        return False
    starts = draft.aboard.boat.network.is_starting_lead(row.id)
    return need.feed is None or need.guard_a <= bears_a or starts


def unfused_mark(
    draft: Draft, row: DraftedCircuit, xs: tuple[float, float, float], upper: float, tones: Tones
) -> list[Primitive]:
    """Draw what no device protects: the stretch to a feeder's device, or all of it."""
    if not row.planned.feeds:
        return []
    feed = draft.needs[row.id].feed
    chip_l, chip_r, load = xs
    if is_guarded(draft, row):
        return []
    if row.sized and row.sized.protection is None:
        line = ((chip_r, upper - 7), (load, upper - 7))
        middle = (chip_r + load) / 2
        return [
            Line(line, tones.alarm, 2.0, (3.0, 3.0)),
            Text(middle, upper - 11, "unfused", 10, tones.alarm, True, "middle"),
        ]
    if feed is None:
        return []
    far = any(f.code == "P02" and row.id in f.subjects for f in draft.findings)
    ink = tones.alarm if far else tones.quiet
    told = f"{feed.distance_mm:g} mm unfused"
    goes_on = load > chip_l  # the mark stands on the side the feeder does not go
    edge, sign = (chip_l, -1) if goes_on else (chip_r, 1)
    start = edge + 16 * sign
    return [
        Line(((start, upper), (edge, upper)), ink, 2.0, (3.0, 2.0)),
        Line(((start, upper - 5), (start, upper + 5)), ink, 1.4),
        Text(start + 4 * sign, upper + 4, told, 9.5, ink, far, "end" if goes_on else "start"),
    ]


def strip_mark(x: float, upper: float, tones: Tones) -> list[Primitive]:
    """Draw the pole of a terminal strip: a square with its screw's slot."""
    return [
        Rect(x + 3, upper - 4.5, 9, 9, tones.part, tones.ink, 1.0, 1.0),
        Line(((x + 5, upper + 2.5), (x + 10, upper - 2.5)), tones.ink, 1.2),
    ]
