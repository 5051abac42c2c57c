"""The smallest conductors permitted, and the length of unsheathed leads."""

from typing import Final

from vivid_loom.quantities import Gauge, Series
from vivid_loom.standards.source import Source

__all__ = [
    "PUMP_FLOOR",
    "PUMP_SOURCE",
    "SMALLEST_SOURCE",
    "smallest_bonding",
    "smallest_separate",
    "smallest_sheathed",
    "unsheathed_mm",
]

SMALLEST_SOURCE: Final = Source("33 CFR 183.425", "conductor size; ISO 13297 in mm²")

PUMP_FLOOR: Final = "14 AWG"  # in mm² the next stocked size up: 2.5
PUMP_SOURCE: Final = Source("common practice, no source", "bilge pumps on 14 AWG")


def smallest_separate(series: Series) -> Gauge:
    """Return the smallest separate conductor: 16 AWG or 1 mm²."""
    return Gauge("mm2", 1.0) if series == "mm2" else Gauge(series, 16)


def smallest_bonding(series: Series) -> Gauge:
    """Return the smallest bonding conductor: 8 AWG or 10 mm². ABYC E-11, from memory."""
    return Gauge("mm2", 10.0) if series == "mm2" else Gauge(series, 8)


def smallest_sheathed(series: Series) -> Gauge:
    """Return the smallest conductor inside a sheath: 18 AWG or 0.75 mm²."""
    return Gauge("mm2", 0.75) if series == "mm2" else Gauge(series, 18)


def unsheathed_mm(school: str) -> float:
    """Return how far a core thinner than a separate conductor may leave its sheath, in mm."""
    return 800.0 if school == "ISO" else 762.0  # 30 in
