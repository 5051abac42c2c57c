"""Circuits as threads: each a closed loop strung on the boat, aft on the left.

Pure layout in screen units; the desktop and the packet play the same primitives.
"""

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.quantities import figure
from vivid_loom.sheets.drawings.thread_marks import (
    is_guarded,
    jacket_mark,
    strip_mark,
    unfused_mark,
)
from vivid_loom.sheets.paper.drawing import Circle, Primitive, Rect, Text
from vivid_loom.sheets.paper.metrics import text_width
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.paper.wire_paint import BLADE_HUES, wire_lines, wire_width
from vivid_loom.standards.colours import InsulationColour
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.protection import BLADE_COLOURS

__all__ = ["Axis", "Band", "boat_axis", "thread"]


class Band(NamedTuple):
    """One area's stretch of the axis."""

    name: str
    from_m: float
    to_m: float
    left: float
    right: float


class Axis(NamedTuple):
    """The boat as a horizontal axis, crowded areas wider than their metres."""

    bands: tuple[Band, ...]

    def at(self, x_m: float) -> float:
        """Return the place of a distance from the transom."""
        for band in self.bands:
            if x_m <= band.to_m or band is self.bands[-1]:
                share = (x_m - band.from_m) / (band.to_m - band.from_m)
                inset = 12.0
                span = band.right - band.left - 2 * inset
                return band.left + inset + span * min(1.0, max(0.0, share))
        raise AssertionError("an axis has bands")


def boat_axis(draft: Draft, left: float, right: float) -> Axis:
    """Share the width: half by metres, half by how much is wired in each area."""
    boat = draft.aboard.boat
    areas = sorted((a for a in boat.areas if a.axis), key=lambda a: a.from_m)
    wires = draft.assembled.wires
    ends = Counter([w.start.station for w in wires] + [w.end.station for w in wires])
    counts = [
        1 + sum(ends[s.id] for s in boat.stations if a.from_m <= s.x_m < a.to_m) for a in areas
    ]
    metres = [a.to_m - a.from_m for a in areas]
    shares = [
        0.55 * m / sum(metres) + 0.45 * c / sum(counts) for m, c in zip(metres, counts, strict=True)
    ]
    least = min(0.12, 1.0 / len(areas))
    shares = [max(least, share) for share in shares]
    bands: list[Band] = []
    x = left
    for area, share in zip(areas, shares, strict=True):
        width = (right - left) * share / sum(shares)
        bands.append(Band(area.name, area.from_m, area.to_m, x, x + width))
        x += width
    return Axis(tuple(bands))


class _Strand(NamedTuple):
    """One drawn wire of a thread."""

    points: tuple[tuple[float, float], ...]
    colour: InsulationColour


def _chip(
    x: float, y: float, row: DraftedCircuit, tones: Tones, *, guarded: bool
) -> tuple[list[Primitive], float]:
    """Draw the device; none where what comes before protects the wire, or where it goes home."""
    protection = row.sized.protection if row.sized else None
    if row.sized and not protection and guarded:
        return [], 0.0
    text = figure(protection.value) if protection else "none" if row.sized else "?"
    width = 20 + text_width(text, 11, bold=True)
    stripe = tones.quiet
    if protection and row.planned.family == "blade fuse":
        stripe = BLADE_HUES[BLADE_COLOURS.get(protection.value, "grey")]
    edge = tones.ink if protection else tones.alarm
    items: list[Primitive] = [
        Rect(x, y - 9, width, 18, tones.part, edge, 1.2, 3.5),
        Rect(x + 4, y - 5.5, 4.5, 11, stripe, tones.ink, 0.5, 0.5),
        Text(x + 13, y + 4, text, 11, tones.ink if protection else tones.alarm, True),
    ]
    return items, width


def _pill_text(draft: Draft, row: DraftedCircuit) -> str:
    request = row.planned.request
    if request is None or request.contact is None:
        return ""
    throws = request.contact.throws
    side = "both" if len(throws) == 2 else throws[0]
    position = str(row.planned.position or "?")
    if draft.aboard.switches[request.contact.switch].station:
        part = draft.catalogue.switch(draft.aboard.switches[request.contact.switch].part)
        return part.actuator if part else "?"
    double = request.pattern == "navigation_anchor" or len(throws) == 2
    return f"{position} {side}" if double else position


def _further_contacts(draft: Draft, row: DraftedCircuit) -> list[tuple[str, str]]:
    """Return station and word of the contacts beside the first: a float, a second station."""
    found: list[tuple[str, str]] = []
    for contact in row.planned.request.also if row.planned.request else ():
        switch = draft.aboard.switches[contact.switch]
        part = draft.catalogue.switch(switch.part)
        if switch.station and part:
            found.append((switch.station, "button" if part.actuator == "lever" else part.actuator))
    return found


def _pill(x: float, y: float, text: str, tones: Tones) -> tuple[list[Primitive], float]:
    width = 16 + text_width(text, 10.5)
    return [
        Rect(x, y - 9, width, 18, tones.part, tones.ink, 1.2, 9),
        Text(x + width / 2, y + 3.8, text, 10.5, tones.ink, False, "middle"),
    ], width


def _plug_xs(draft: Draft, row: DraftedCircuit, axis: Axis) -> list[float]:
    station_x = {station.id: station.x_m for station in draft.aboard.boat.stations}
    return sorted(
        {
            axis.at(station_x[end.station])
            for wire in row.wires
            for end in (wire.start, wire.end)
            if end.kind == "plug"
        }
    )


def _spread(
    loads: Sequence[tuple[float, bool]], clear_of: tuple[float, float], gap: float
) -> tuple[list[float], list[float]]:
    """Keep load boxes apart, and off the chip and pill between ``clear_of``.

    Args:
        loads: wanted place of each box, and whether it lies ahead of its feed in the boat.

    Returns:
        Places of the boxes aft of the feed and of those ahead of it.
    """
    low, high = clear_of
    ahead: list[float] = []
    edge = high + gap
    for x in sorted(x for x, forward in loads if forward):
        edge = max(edge, x)
        ahead.append(edge)
        edge += gap
    aft: list[float] = []
    edge = low - gap
    for x in sorted((x for x, forward in loads if not forward), reverse=True):
        edge = min(edge, x)
        aft.append(edge)
        edge -= gap
    return aft, ahead


def _clear_bars(
    xs: Sequence[float],
    low: float,
    high: float,
    chip: tuple[float, float],
    pill: tuple[float, float],
) -> list[float]:
    """Keep plug bars on their wires: between the ends, and off the chip and pill."""
    bars: list[float] = []
    for wanted in xs:
        x = min(max(wanted, low + 9), high - 9)
        for left, right in (chip, pill):
            if left - 5 < x < right + 5:
                x = left - 8 if low < left - 16 and wanted <= (left + right) / 2 else right + 8
        bars.append(x)
    return bars


def _home_x(draft: Draft, row: DraftedCircuit, axis: Axis) -> float | None:
    """Return where the return lands; None where none runs beside the positive."""
    home = next((leg for leg in row.planned.plan.legs if leg.live == "return"), None)
    if home is None:
        return None
    buses = {n: bus.station for n, bus in draft.aboard.boat.returns_by_id.items()}
    at = home.end.station if row.planned.feeds else buses[row.planned.bus]
    station = next(s for s in draft.aboard.boat.stations if s.id == at)
    return axis.at(station.x_m) + 2


def _switch_station(row: DraftedCircuit) -> str:
    """Return where the first switch stands that a circuit goes through; '' without one."""
    request = row.planned.request
    if request is None or request.contact is None:
        return ""
    common = f"{request.contact.pole}C"
    ends = (leg.end for leg in row.planned.plan.legs if leg.live == "source")
    return next((end.station for end in ends if end.name == common), "")


def _ends_m(draft: Draft, row: DraftedCircuit, station_x: dict[str, float]) -> list[float]:
    """Return how far forward the loads lie, or what a feeder feeds or brings home."""
    if row.planned.feeds:
        leg = next(leg for leg in row.planned.plan.legs if not leg.stub)
        far = leg.start if leg.live == "return" else leg.end
        return [station_x[far.station]]
    return [station_x[draft.aboard.loads[name].station] for name in row.planned.loads]


def thread(
    draft: Draft, row: DraftedCircuit, axis: Axis, middle: float, tones: Tones
) -> tuple[Primitive, ...]:
    """Lay out one circuit around the line y = ``middle``.

    Chip: protection. Pill: helm position. Square: pole of a terminal strip. Double bar: plug
    between harnesses. Box: load. Dot: where the return lands. Sleeve behind the wires: cable.
    Wires run at their insulation colour, wider with their copper.
    """
    boat = draft.aboard.boat
    station_x = {station.id: station.x_m for station in boat.stations}
    legs = row.planned.plan.legs
    upper, inner, lower = middle - 8, middle + 0.5, middle + 9.5
    width = wire_width(area_mm2(row.sized.gauge.value)) if row.sized else 1.6
    chip_x = axis.at(station_x[row.planned.plan.start.station])
    chip, chip_w = _chip(chip_x, upper, row, tones, guarded=is_guarded(draft, row))
    text = _pill_text(draft, row)
    pill: list[Primitive] = []
    pill_l = pill_r = chip_x + chip_w
    switch_at = _switch_station(row) or boat.helm_station
    if text:
        at = axis.at(station_x[switch_at])
        pill_l = max(at, chip_x + chip_w + 12)
        pill, pill_w = _pill(pill_l, upper, text, tones)
        pill_r = pill_l + pill_w
    feed_m = station_x[switch_at if text else row.planned.plan.start.station]
    ends_m = _ends_m(draft, row, station_x)
    places = [(axis.at(x), x >= feed_m - 0.02) for x in ends_m]
    aft, ahead = _spread(places, (chip_x, pill_r), 17)
    boxes = [*aft, *ahead]
    chip_span = (chip_x, chip_x + chip_w)
    strands: list[_Strand] = []
    if any(leg.live != "return" for leg in legs):
        strands = _strands(row, (aft, ahead), chip_span, (pill_l, pill_r), (upper, inner))
    dot_x = _home_x(draft, row, axis)
    if dot_x is not None:
        span = ((min(dot_x, *boxes), lower), (max(dot_x, *boxes), lower))
        strands.append(_Strand(span, row.colours.negative.value))
    items = [*jacket_mark(draft, row, boxes, (chip_x, upper, lower), tones)]
    for strand in strands:
        items += wire_lines(strand.points, strand.colour, width, tones.wire_edge)
    items += unfused_mark(draft, row, (chip_x, chip_x + chip_w, boxes[-1]), upper, tones)
    if any(leg.end.place.startswith("TS") for leg in legs):
        at_x, at_y = (pill_r if text else chip_x + chip_w), upper
        if aft and text:
            at_x, at_y = pill_l - 18, inner
        elif aft and not ahead:
            at_x = chip_x - 15
        items += strip_mark(at_x, at_y, tones)
    reach = [x for strand in strands for x, _ in strand.points]
    pill_span = (pill_l, pill_r) if text else chip_span
    crossing = _plug_xs(draft, row, axis)
    bars = _clear_bars(crossing, min(reach), max(reach), chip_span, pill_span)
    items += _crossed(bars, (), (upper, lower), tones)
    if dot_x is not None:
        items.append(Circle(dot_x, lower, 3.2, tones.part, tones.ink, 1.2))
    items += _crossed((), boxes, (upper, lower), tones)
    further = [(axis.at(station_x[at]), word) for at, word in _further_contacts(draft, row)]
    return (*items, *_beside(further, boxes, upper, tones), *pill, *chip)


def _beside(
    further: Iterable[tuple[float, str]], boxes: Sequence[float], y: float, tones: Tones
) -> Iterator[Primitive]:
    """Draw further contacts, left of a load that stands at the same place."""
    for x, word in further:
        wide = 16 + text_width(word, 10.5)
        shift = wide + 10 if any(abs(x - box) < wide for box in boxes) else wide / 2
        yield from _pill(x - shift, y, word, tones)[0]


def _crossed(
    bars: Iterable[float], boxes: Iterable[float], span: tuple[float, float], tones: Tones
) -> Iterator[Primitive]:
    """Draw what crosses all wires of a row: the double bars of plugs, the boxes of loads."""
    top, height = span[0] - 6, span[1] - span[0] + 12
    for x in bars:
        for shift in (-3.2, 1.2):
            yield Rect(x + shift, top, 2.4, height, tones.part, tones.ink, 0.8)
    for x in boxes:
        yield Rect(x - 6, top, 12, height, tones.part, tones.ink, 1.4, 3)


def _strands(
    row: DraftedCircuit,
    boxes: tuple[list[float], list[float]],
    chip: tuple[float, float],
    pill: tuple[float, float],
    levels: tuple[float, float],
) -> list[_Strand]:
    aft, ahead = boxes
    upper, inner = levels
    has_pill = pill[0] > chip[1]
    plus = row.colours.positive.value
    manual, turns = row.colours.of("manual"), row.colours.of("up")
    feed = manual.value if manual else plus
    onward = turns.value if turns else feed
    strands: list[_Strand] = []
    if has_pill:
        strands.append(_Strand(((chip[1], upper), (pill[0], upper)), feed))
    if ahead:
        strands.append(_Strand(((pill[1], upper), (max(ahead), upper)), onward))
    if aft and has_pill:
        turn = (pill[0] + pill[1]) / 2
        strands.append(_Strand(((turn, upper), (turn, inner), (min(aft), inner)), onward))
    elif aft:
        strands.append(_Strand(((chip[0], upper), (min(aft), upper)), plus))
    if manual:  # the automatic lead goes straight from the same way
        y, start = (inner, chip[1]) if ahead else (upper, chip[0])
        strands.append(_Strand(((start, y), (max(ahead) if ahead else min(aft), y)), plus))
    return strands
