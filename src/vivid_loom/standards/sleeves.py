"""Heat-shrink and label sleeves: which bore goes over which wire, and how long a piece is."""

from typing import Final

from vivid_loom.standards.source import Source

__all__ = [
    "PAST_BOTH_ENDS_MM",
    "SLEEVE_BORES_MM",
    "SLEEVE_SOURCE",
    "sleeve_bore_mm",
    "sleeve_length_mm",
]

SLEEVE_SOURCE: Final = Source("common practice", "bores and lengths of heat-shrink", "no source")

SLEEVE_BORES_MM: Final = (3.2, 4.8, 6.4, 9.5, 12.7, 19.1, 25.4, 38.1)
"""Bores as delivered, eighths of an inch to an inch and a half; common practice, no source."""

PAST_BOTH_ENDS_MM: Final = 50.0  # 25 mm at each: a second sleeve over a joint's first

_OVER_BARREL: Final = 1.6  # the barrel over its wire; our choice
_SHORT_MM, _LONG_MM = 40.0, 60.0
_HEAVY_MM: Final = 6.0  # over the insulation: from about 8 AWG up a lug's barrel is longer


def sleeve_bore_mm(diameter_mm: float) -> float:
    """Return the bore that passes over the barrel on a wire.

    Args:
        diameter_mm: of the wire over its insulation.

    Raises:
        ValueError: thicker than any sleeve.
    """
    for bore in SLEEVE_BORES_MM:
        if bore >= _OVER_BARREL * diameter_mm - 1e-9:
            return bore
    raise ValueError(f"found a wire of {diameter_mm:g} mm, expected at most 23.8 mm")


def sleeve_length_mm(diameter_mm: float) -> float:
    """Return how long a piece over a barrel is cut."""
    return _LONG_MM if diameter_mm >= _HEAVY_MM else _SHORT_MM
