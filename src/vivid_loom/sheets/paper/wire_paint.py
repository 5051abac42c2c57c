"""How an insulation colour looks: the same hues on screen and paper."""

import math
from typing import Final

from vivid_loom.sheets.paper.drawing import Line
from vivid_loom.standards.colours import InsulationColour

__all__ = ["BLADE_HUES", "WIRE_HUES", "wire_lines", "wire_width"]

WIRE_HUES: Final = {
    "BK": "#1a1a1a",
    "BN": "#7a4322",
    "RD": "#cc2222",
    "OG": "#ee7a11",
    "YE": "#f2c800",
    "GN": "#1f8a3b",
    "BU": "#1d3fa0",
    "VT": "#7b3fa8",
    "GY": "#6f7680",
    "WH": "#ffffff",
    "PK": "#f08cae",
    "TQ": "#22b1b1",
    "LB": "#5fa8e0",
    "TN": "#c8a26e",
}
BLADE_HUES: Final = {
    "black": "#1a1a1a",
    "grey": "#8c929a",
    "violet": "#7b3fa8",
    "pink": "#f08cae",
    "tan": "#c8a26e",
    "brown": "#7a4322",
    "red": "#cc2222",
    "light blue": "#4f9ee0",
    "yellow": "#f2c800",
    "clear": "#ffffff",
    "green": "#1f8a3b",
    "blue-green": "#1f8f8f",
    "orange": "#ee7a11",
}


def wire_width(area_mm2: float) -> float:
    """Return the drawn width for a copper area: grows with the diameter, kept readable."""
    return min(7.5, 2.2 + 0.72 * (math.sqrt(area_mm2) - 1.0))


def wire_lines(
    points: tuple[tuple[float, float], ...],
    colour: InsulationColour,
    width: float,
    outline: str,
    dash: float = 5.0,
) -> tuple[Line, ...]:
    """Return a wire as hairline outline, base and dashed tracer; it reads on any page.

    Args:
        dash: length of the tracer's marks, and between them.
    """
    lines = [
        Line(points, outline, width + 1.1),
        Line(points, WIRE_HUES[colour.base], width),
    ]
    if colour.tracer:
        lines.append(Line(points, WIRE_HUES[colour.tracer], max(1.0, width * 0.5), (dash, dash)))
    return tuple(lines)
