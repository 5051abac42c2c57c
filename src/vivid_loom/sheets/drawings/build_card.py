"""One wire in large type, for a screen on the workshop wall."""

from collections.abc import Iterator
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import End
from vivid_loom.quantities import cut_unit
from vivid_loom.sheets.lists.build_lists import CutRow, end_procedures
from vivid_loom.sheets.lists.build_order import end_words
from vivid_loom.sheets.paper.drawing import Line, Primitive, Rect, Scene, Text
from vivid_loom.sheets.paper.metrics import text_width, wrapped
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.paper.wire_paint import WIRE_HUES
from vivid_loom.standards.colours import InsulationColour
from vivid_loom.workshop.harness.whole import crimped_aboard

__all__ = ["BuildCard", "build_card", "card_scene"]

EDGE: Final = 36.0


class _CardEnd(NamedTuple):
    """One end: its label, where it lands, what goes on, strip, jaw, steps, and what to mind."""

    label: str
    where: str
    terminal: str
    strip_mm: str
    jaw: str
    steps: str
    remark: str


class BuildCard(NamedTuple):
    """Everything somebody needs to build one wire."""

    wire: str
    gauge: str
    colour: InsulationColour
    cut: str
    circuit: str
    sleeve: str
    ends: tuple[_CardEnd, _CardEnd]


def build_card(draft: Draft, row: CutRow) -> BuildCard:
    """Return the card of a row of the cut list."""
    steps = {r.recipe: r.steps for r in end_procedures(draft).rows}
    cut = cut_unit(draft.aboard.profile.units).told(float(row.cut_length_mm))
    tracer, bare = row.tracer, crimped_aboard(draft).get(row.wire_id)
    return BuildCard(
        row.wire_id,
        row.gauge,
        InsulationColour.parse(f"{row.colour}/{tracer}" if tracer else row.colour),
        cut,
        row.circuit,
        row.sleeve,
        (
            _CardEnd(
                row.label_from,
                row.from_station,
                end_words(row.from_termination, row.from_tail, row.from_mates),
                row.from_strip_mm,
                row.from_jaw,
                steps[row.from_recipe],
                _joined(row.from_mates, row.from_tail)
                or _waits(bare, row.from_place, row.from_point),
            ),
            _CardEnd(
                row.label_to,
                row.to_station,
                end_words(row.to_termination, row.to_tail, row.to_mates),
                row.to_strip_mm,
                row.to_jaw,
                steps[row.to_recipe],
                _joined(row.to_mates, row.to_tail) or _waits(bare, row.to_place, row.to_point),
            ),
        ),
    )


def _joined(mates: str, tail: str) -> str:
    """Say with which wires and which tail of the device an end shares its joint."""
    if not mates:
        return ""
    device = f" and the device's {tail}" if tail else ""
    return f"One joint with {mates.replace(';', ', ')}{device}."


def _waits(bare: End | None, place: str, point: str) -> str:
    """Say of an end that lies behind a gland when it is crimped."""
    waits = bare is not None and (bare.place, bare.point) == (place, point)
    return "Left bare: crimped aboard, behind its gland." if waits else ""


def _size(text: str, most: float, width: float) -> float:
    """Return the largest size at which a line fits."""
    wide = text_width(text, most, bold=True)
    return most if wide <= width else most * width / wide


def _end_items(
    end: _CardEnd, name: str, x: float, y: float, width: float, unit: float, tones: Tones
) -> Iterator[Primitive]:
    yield Text(x, y, name, unit * 0.55, tones.quiet)
    y += unit * 1.1
    yield Text(x, y, end.label, _size(end.label, unit, width), tones.ink, True)
    y += unit * 0.85
    yield Text(x, y, end.where, _size(end.where, unit * 0.6, width), tones.ink)
    y += unit * 1.2
    yield Text(x, y, end.terminal, _size(end.terminal, unit * 0.8, width), tones.ink, True)
    jaw = f"strip {end.strip_mm} mm · jaw {end.jaw}" if end.jaw else "nothing is crimped on"
    y += unit * 0.85
    yield Text(x, y, jaw, _size(jaw, unit * 0.7, width), tones.ink)
    y += unit * 0.4
    told = [end.remark] if end.remark else []
    told.append(end.steps)
    for text in told:
        for line in wrapped(text, width, unit * 0.5):
            y += unit * 0.72
            yield Text(x, y, line, unit * 0.5, tones.quiet)


def card_scene(
    card: BuildCard, size: tuple[float, float], tones: Tones, *, built: bool, told: str
) -> Scene:
    """Return a card as large as a screen.

    Args:
        size: of the screen in px.
        built: it is ticked already.
        told: how far the harness has come.
    """
    width, height = size
    unit = max(16.0, min(width / 30, height / 17))
    inner = width - 2 * EDGE
    items: list[Primitive] = []
    y = EDGE + unit * 1.7
    mark = "☑ " if built else "☐ "
    items.append(Text(EDGE, y, f"{mark}{card.wire}", unit * 2.0, tones.ink, True))
    cut = card.cut
    items.append(Text(width - EDGE, y, cut, unit * 2.0, tones.ink, True, "end"))
    y += unit * 0.9
    band = unit * 0.9
    items.append(Rect(EDGE, y, inner, band, WIRE_HUES[card.colour.base], tones.wire_edge, 2.0))
    if card.colour.tracer:
        middle = y + band / 2
        tracer = WIRE_HUES[card.colour.tracer]
        dash = (unit * 1.2, unit * 0.8)
        items.append(Line(((EDGE, middle), (width - EDGE, middle)), tracer, band * 0.34, dash))
    y += band + unit * 1.2
    sleeve = f" · sleeve {card.sleeve}" if card.sleeve else ""
    about = f"{card.gauge} {card.colour}{sleeve} · {card.circuit}"
    items.append(Text(EDGE, y, about, _size(about, unit * 1.1, inner), tones.ink, True))
    y += unit * 1.3
    half = (inner - unit) / 2
    for turn, (end, name) in enumerate(zip(card.ends, ("One end", "Other end"), strict=True)):
        items += _end_items(end, name, EDGE + turn * (half + unit), y, half, unit, tones)
    x = EDGE + half + unit / 2
    items.append(Line(((x, y - unit * 0.5), (x, height - unit * 2.2)), tones.rule, 1.0))
    items.append(Text(EDGE, height - EDGE, told, _size(told, unit * 0.6, inner), tones.quiet))
    return Scene(tuple(items), (), width, height)
