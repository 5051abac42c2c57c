"""Writing figures: three significant ones unless the trade says otherwise."""

import re
from collections.abc import Sequence
from typing import Final, NamedTuple

__all__ = [
    "FOOT_M",
    "CutUnit",
    "counted",
    "cut_unit",
    "enumerated",
    "figure",
    "in_reading_order",
    "key_in",
    "length_text",
    "percent_text",
]

FOOT_M: Final = 0.3048  # exact by definition
_PARTS: Final = re.compile(r"(?=.)([^\d]*)(\d+(?:\.\d+)?)?", re.DOTALL)


def figure(value: float | None, digits: int = 3) -> str:
    """Write ``value`` with ``digits`` significant figures, without exponent; '—' for none."""
    if value is None:
        return "—"
    if value == 0:
        return "0"
    text = f"{value:.{digits}g}"
    return f"{float(text):.0f}" if "e" in text else text


def key_in(value: float, figures: int = 6) -> str:
    """Write a number as one keys it into a pocket calculator: six figures, no exponent."""
    text = f"{value:.{figures}g}"
    return f"{value:.10f}".rstrip("0") if "e-" in text else f"{value:.0f}" if "e" in text else text


def length_text(metres: float, units: str) -> str:
    """Write a length in the order's units, 'm' or 'ft', from whole millimetres as in all tables."""
    metres = round(metres, 3)
    return f"{metres / FOOT_M:.1f} ft" if units == "ft" else f"{metres:.1f} m"


class CutUnit(NamedTuple):
    """What a shop measures wires and branches by: its name, and how many mm one is."""

    name: str
    mm: float

    def text(self, mm: float) -> str:
        """Write a length without its unit: inches to a tenth, millimetres likewise."""
        return f"{round(mm / self.mm, 1):g}"

    def told(self, mm: float) -> str:
        """Write a length with its unit."""
        return f"{self.text(mm)} {self.name}"

    @property
    def tolerance(self) -> str:
        """How far a cut length may be off; common practice, no source."""
        if self.name == "in":
            return "−0/+1 in under 3 ft, −0/+2 in over"
        return "−0/+25 mm under 1 m, −0/+50 mm over"


def cut_unit(units: str) -> CutUnit:
    """Return inches for a shop that thinks in feet, millimetres for one in metres."""
    return CutUnit("in", FOOT_M * 1000 / 12) if units == "ft" else CutUnit("mm", 1.0)


def percent_text(percent: float) -> str:
    """Write a voltage drop as on every sheet: two decimals, from the tables' three."""
    return f"{round(percent, 3):.2f}"


def counted(count: int, noun: str) -> str:
    """Write so many of something: '1 wire', '2 wires', '3 harnesses'."""
    many = f"{noun}es" if noun.endswith("s") else f"{noun}s"
    return f"{count} {noun if count == 1 else many}"


def enumerated(names: Sequence[str]) -> str:
    """Write names as a sentence lists them: 'A', 'A and B', 'A, B and C'."""
    *first, last = names
    return f"{', '.join(first)} and {last}" if first else last


def in_reading_order(text: str) -> tuple[tuple[str, float], ...]:
    """Return what to sort by so that 'screw 9' comes before 'screw 10', and 4.8 mm before 12.7."""
    return tuple((words, float(number or 0)) for words, number in _PARTS.findall(text))
