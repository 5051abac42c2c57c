"""Voltage drop: the limits and the two handbook forms used to check against."""

from typing import Final

from vivid_loom.standards.source import Source

__all__ = ["DROP_SOURCE", "iso_drop_v", "required_circular_mils"]

DROP_SOURCE: Final = Source("ABYC E-11", "voltage drop 3 % and 10 %; ISO 13297 10 %")


def required_circular_mils(amps: float, loop_ft: float, drop_v: float, k: float = 10.75) -> float:
    """Return the handbook's circular mils, CM = K·I·L/E, with L there and back in feet."""
    return k * amps * loop_ft / drop_v


def iso_drop_v(amps: float, loop_m: float, area_mm2: float) -> float:
    """Return ISO 13297's drop in V, E = 0.0164·I·L/S, with L there and back in metres."""
    return 0.0164 * amps * loop_m / area_mm2
