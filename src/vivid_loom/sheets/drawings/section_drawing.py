"""The cross-section of a run, to scale, every wire in its colours."""

from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Text
from vivid_loom.sheets.paper.metrics import text_width
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.paper.wire_paint import WIRE_HUES
from vivid_loom.workshop.bundles import Section

__all__ = ["section_items"]


def _wire(
    x: float, y: float, r: float, section: Section, index: int, tones: Tones, lit: frozenset[str]
) -> list[Primitive]:
    member = section.members[index]
    base, tracer = WIRE_HUES[member.colour.base], member.colour.tracer
    chosen = member.circuit in lit
    items: list[Primitive] = [
        Circle(x, y, r, base, tones.focus if chosen else tones.wire_edge, 2.4 if chosen else 0.9)
    ]
    if tracer:  # a band across the insulation, as the stripe shows on a cut end
        half = 0.86 * r
        band = Line(((x - half, y), (x + half, y)), WIRE_HUES[tracer], max(1.0, 0.42 * r))
        edge = max(1.0, 0.42 * r) + 1.0
        items += [Line(((x - half, y), (x + half, y)), tones.wire_edge, edge), band]
    size = min(10.0, 9.0 * 1.7 * r / text_width(str(member.colour), 9.0, bold=True))
    if size >= 7 and not tracer:
        ink = "#ffffff" if member.colour.base in _DARK else "#111111"
        items.append(Text(x, y + size * 0.36, str(member.colour), size, ink, True, "middle"))
    return items


_DARK = frozenset(("BK", "BN", "RD", "GN", "BU", "VT", "GY"))


def section_items(
    section: Section, width: float, height: float, tones: Tones, lit: frozenset[str] = frozenset()
) -> list[Primitive]:
    """Draw a run's wires packed to scale in its loom or conduit, with a scale bar.

    Args:
        lit: circuits whose wires are marked.
    """
    if not section.members:
        return [Text(width / 2, height / 2, "No wire runs here", 12, tones.quiet, False, "middle")]
    bore = max(section.run.bore_mm or 0.0, section.needed_bore_mm or 0.0, section.diameter_mm)
    scale = min(width - 24, height - 40) / (1.12 * bore)
    cx, cy = width / 2, (height - 22) / 2
    items: list[Primitive] = []
    around = section.run.bore_mm or section.needed_bore_mm
    if around and section.run.enclosure != "open":
        wall = max(2.0, 0.04 * around * scale)
        fits = around >= section.diameter_mm
        items.append(
            Circle(
                cx,
                cy,
                around / 2 * scale + wall / 2,
                tones.part,
                tones.rule if fits else tones.alarm,
                wall,
            )
        )
    items.append(Circle(cx, cy, section.diameter_mm / 2 * scale, "", tones.quiet, 1.0))
    for index, (x, y) in enumerate(section.packing.centres):
        radius = section.members[index].diameter_mm / 2 * scale
        items += _wire(cx + x * scale, cy + y * scale, radius, section, index, tones, lit)
    bar_mm = next((mm for mm in (1, 2, 5, 10, 20, 50) if mm * scale >= 34), 50)
    half = bar_mm * scale / 2
    base = height - 10.0
    items.append(Line(((cx - half, base), (cx + half, base)), tones.ink, 1.5))
    for x in (cx - half, cx + half):
        items.append(Line(((x, base - 3), (x, base + 3)), tones.ink, 1.5))
    items.append(Text(cx, base - 5, f"{bar_mm} mm", 10, tones.quiet, False, "middle"))
    return items
