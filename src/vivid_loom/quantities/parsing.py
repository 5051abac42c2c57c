"""Reading what people type: '12 ft', '3.6 m', '7 in', '3,8 A', '2.5 W'."""

import re
from typing import Final

__all__ = ["QuantityError", "parse_amps", "parse_length_m"]

_NUMBER: Final = re.compile(r"^\s*([-+]?\d+(?:[.,]\d+)?)\s*([^\d\s].*?)?\s*$")
_METRES: Final = {
    "m": 1.0, "cm": 0.01, "mm": 0.001, "ft": 0.3048, "'": 0.3048, "in": 0.0254, '"': 0.0254,
}  # fmt: skip
_AMPS: Final = {"a": 1.0, "ma": 0.001}


class QuantityError(ValueError):
    """A text that is no quantity of the kind asked for."""

    def __init__(self, text: str, expected: str) -> None:
        super().__init__(f"found {text!r}, expected {expected}")
        self.text, self.expected = text, expected


def _split(text: str, expected: str) -> tuple[float, str]:
    match = _NUMBER.match(text)
    if match is None:
        raise QuantityError(text, expected)
    return float(match.group(1).replace(",", ".")), (match.group(2) or "").strip().lower()


def parse_length_m(text: str, default_unit: str = "m") -> float:
    """Return the length in metres.

    Raises:
        QuantityError: no number, or a unit other than m, cm, mm, ft or in.
    """
    expected = "a length such as '3.6 m', '250 mm' or '12 ft'"
    value, unit = _split(text, expected)
    factor = _METRES.get(unit or default_unit)
    if factor is None or value < 0:
        raise QuantityError(text, expected)
    return value * factor


def parse_amps(text: str, nominal_v: float) -> float:
    """Return the current in A; watts are divided by the nominal voltage.

    Raises:
        QuantityError: no number, or a unit other than A, mA or W.
    """
    expected = "a current such as '3.8 A' or '45 W'"
    value, unit = _split(text, expected)
    if value < 0:
        raise QuantityError(text, expected)
    if unit == "w":
        return value / nominal_v
    if (factor := _AMPS.get(unit or "a")) is None:
        raise QuantityError(text, expected)
    return value * factor
