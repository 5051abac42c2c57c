"""Reading what people type: '12 ft', '3.6 m', '7 in', '3,8 A', '2.5 W'."""

import re
from typing import Final

from vivid_loom.quantities.formatting import FOOT_M
from vivid_loom.quantities.gauge import Gauge, GaugeError

__all__ = ["QuantityError", "parse_amps", "parse_gauge", "parse_length_m"]

_NUMBER: Final = re.compile(r"^\s*([-+]?(?:\d+(?:[.,]\d+)?|[.,]\d+))\s*([^\d\s.,].*?)?\s*$")
_THOUSANDS: Final = re.compile(r"^[-+]?[1-9]\d{0,2},\d{3}$")
_METRES: Final = {
    "m": 1.0,
    "cm": 0.01,
    "mm": 0.001,
    "ft": FOOT_M,
    "'": FOOT_M,
    "in": 0.0254,
    '"': 0.0254,
}
_AMPS: Final = {"a": 1.0, "ma": 0.001}
_WATTS: Final = {"w": 1.0, "kw": 1000.0}


class QuantityError(ValueError):
    """A text that is no quantity of the kind asked for."""

    def __init__(self, text: str, expected: str) -> None:
        super().__init__(f"found {text!r}, expected {expected}")
        self.text, self.expected = text, expected


def _split(text: str, expected: str) -> tuple[float, str]:
    match = _NUMBER.match(text)
    if match is None:
        raise QuantityError(text, expected)
    if _THOUSANDS.match(match.group(1)):  # '1,200' may be 1.2 or 1200: never guessed
        raise QuantityError(text, f"{expected}, without a thousands sign")
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


def parse_amps(text: str, nominal_v: float, default_unit: str = "a") -> float:
    """Return the current in A; watts are divided by the nominal voltage.

    Args:
        default_unit: 'a', 'ma', 'w' or 'kw', for a bare number.

    Raises:
        QuantityError: no number, or a unit other than A, mA, W or kW.
    """
    expected = "a current such as '3.8 A' or '45 W'"
    value, unit = _split(text, expected)
    unit = {"amp": "a", "amps": "a", "watt": "w", "watts": "w"}.get(unit, unit) or default_unit
    if value < 0:
        raise QuantityError(text, expected)
    if unit in _WATTS:
        return value * _WATTS[unit] / nominal_v
    if (factor := _AMPS.get(unit)) is None:
        raise QuantityError(text, expected)
    return value * factor


def parse_gauge(text: str) -> Gauge:
    """Read a gauge as people write it: '18 ga', '#16', '14', '1.5', '2.5mm2'.

    A bare whole number of the AWG series is AWG; one with a decimal is mm².

    Raises:
        GaugeError: nothing that names a size.
    """
    plain = text.strip().lower().removeprefix("#").strip()
    plain = re.sub(r"(\d)\s*(?:ga|gauge|g)\.?$", r"\1 AWG", plain)
    if re.fullmatch(r"\d+|\d/0", plain):
        plain += " AWG"
    elif re.fullmatch(r"\d+[.,]\d+", plain):
        plain += " mm²"
    try:
        return Gauge.parse(plain)
    except GaugeError as error:
        raise GaugeError(text) from error
