"""Time–current bands of a device and those upstream, both edges, with the currents that matter."""

import math
from typing import Final, Literal, NamedTuple

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.quantities import figure
from vivid_loom.sheets.paper.drawing import Line, Primitive, Rect, Text
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.standards.time_current import holds_s, opens_s

__all__ = ["curve_items"]

LEAST_S: Final = 0.001
MOST_S: Final = 10_000.0
STEPS: Final = 140


class _Frame(NamedTuple):
    """The plot's place and the currents it spans, both axes logarithmic."""

    left: float
    top: float
    width: float
    height: float
    least_a: float
    most_a: float

    def x(self, amps: float) -> float:
        share = math.log(amps / self.least_a) / math.log(self.most_a / self.least_a)
        return self.left + self.width * min(1.0, max(0.0, share))

    def y(self, seconds: float) -> float:
        held = min(MOST_S, max(LEAST_S, seconds))
        return self.top + self.height * math.log(MOST_S / held) / math.log(MOST_S / LEAST_S)

    def amps(self) -> list[float]:
        ratio = self.most_a / self.least_a
        return [self.least_a * ratio ** (i / STEPS) for i in range(STEPS + 1)]


def _grid(frame: _Frame, tones: Tones, size: float) -> list[Primitive]:
    items: list[Primitive] = [
        Rect(frame.left, frame.top, frame.width, frame.height, tones.page, tones.rule, 0.8)
    ]
    bottom, right = frame.top + frame.height, frame.left + frame.width
    for power in range(-2, 5):
        y = frame.y(10.0**power)
        items.append(Line(((frame.left, y), (right, y)), tones.rule, 0.5))
        text = {-2: "10 ms", -1: "0.1 s", 0: "1 s", 1: "10 s", 2: "100 s", 3: "1000 s"}.get(power)
        if text:
            items.append(
                Text(frame.left - 4, y + size * 0.35, text, size, tones.quiet, False, "end")
            )
    power = math.ceil(math.log10(frame.least_a))
    while 10.0**power <= frame.most_a:
        x = frame.x(10.0**power)
        items.append(Line(((x, frame.top), (x, bottom)), tones.rule, 0.5))
        amps = 10**power
        name = f"{amps // 1000} kA" if amps >= 1000 else f"{amps:g} A"
        items.append(Text(x, bottom + size * 1.3, name, size, tones.quiet, False, "middle"))
        power += 1
    return items


def _band(
    frame: _Frame, family: str, rating_a: float, ink: str, fill: str, *, dashed: bool
) -> tuple[list[Primitive], list[Primitive]]:
    """Return the fill between the edges, column by column, and both edges."""
    items: list[Primitive] = []
    early: list[tuple[float, float]] = []
    late: list[tuple[float, float]] = []
    step = frame.width / STEPS
    for amps in frame.amps():
        holds, opens = holds_s(family, rating_a, amps), opens_s(family, rating_a, amps)
        x = frame.x(amps)
        if holds < MOST_S:
            early.append((x, frame.y(holds)))
            top = frame.y(min(opens, MOST_S))
            items.append(Rect(x - step / 2, top, step + 0.3, frame.y(holds) - top, fill))
        if opens < MOST_S:
            late.append((x, frame.y(opens)))
    dash = (5.0, 3.0) if dashed else ()
    edges: list[Primitive] = [
        Line(tuple(edge), ink, 1.3, dash) for edge in (early, late) if len(edge) > 1
    ]
    return items, edges


def _marks(row: DraftedCircuit) -> list[tuple[float, str]]:
    """Return the currents worth a mark, with their names."""
    assert row.fault is not None
    assert row.sized is not None
    marks = [(row.sized.current_a, "load")]
    marks += [(stall.hot_a, "stall") for stall in row.fault.stalls]
    if row.sized.peak_a > row.sized.current_a * 1.05 and row.planned.request:
        marks.append((row.sized.peak_a, "start"))
    return [*marks, (row.fault.far_a, "far short"), (row.fault.near_a, "near short")]


def curve_items(
    draft: Draft,
    row: DraftedCircuit,
    width: float,
    height: float,
    tones: Tones,
    size: float = 9.0,
) -> list[Primitive]:
    """Draw a circuit's device, the next one upstream, and load, stall and short currents.

    Full lines are the circuit's own device, dashed ones the device upstream; where the two tinted
    bands overlap either may open. Empty for a circuit without a device.
    """
    if row.fault is None or row.sized is None or row.sized.protection is None:
        return []
    rating = row.sized.protection.value
    least = 10 ** math.floor(math.log10(max(0.05, min(rating, row.sized.current_a))))
    most = max(row.fault.near_a * 1.3, rating * 20)
    frame = _Frame(size * 4.6, size * 2.6, width - size * 5.6, height - size * 6.4, least, most)
    items = _grid(frame, tones, size)
    above = row.fault.upstream[0] if row.fault.upstream else None
    own = _band(frame, row.planned.family, rating, tones.ink, tones.rule, dashed=False)
    ahead: tuple[list[Primitive], list[Primitive]] = ([], [])
    if above:
        ahead = _band(frame, above.family, above.rating_a, tones.quiet, tones.band, dashed=True)
    items += [*ahead[0], *own[0], *own[1], *ahead[1]]
    bottom = frame.top + frame.height
    for turn, (amps, name) in enumerate(sorted(_marks(row))):
        if not frame.least_a <= amps <= frame.most_a:
            continue
        x = frame.x(amps)
        items.append(Line(((x, frame.top), (x, bottom)), tones.focus, 1.0, (2.0, 2.0)))
        y = frame.top - size * (0.4 + 1.1 * (turn % 2))
        anchor: Literal["end", "middle"] = "end" if x > frame.left + 0.9 * frame.width else "middle"
        end = frame.left + frame.width + size if anchor == "end" else x
        items.append(Text(end, y, name, size * 0.95, tones.focus, True, anchor))
    told = f"{row.id}: {figure(rating)} A {row.planned.family}"
    if above:
        told += f"   - - {above.id}: {figure(above.rating_a)} A {above.family}"
    items.append(Text(frame.left, height - size * 0.9, told, size, tones.ink))
    return items
