"""Overcurrent protection: distances, colours of blades, interrupt minima."""

from math import inf
from typing import Final, NamedTuple

from vivid_loom.standards.devices import DEVICES
from vivid_loom.standards.source import Source

__all__ = [
    "BLADE_COLOURS",
    "CONTINUOUS",
    "DISTANCE_SOURCE",
    "INTERRUPT_SOURCE",
    "RATING_SOURCE",
    "distance_limit_mm",
    "interrupt_minimum_a",
    "next_rating_a",
]

RATING_SOURCE: Final = Source("ABYC E-11", "overcurrent protection; also ISO 13297")
DISTANCE_SOURCE: Final = Source("33 CFR 183.455", "distance from the source; also ABYC E-11")
INTERRUPT_SOURCE: Final = Source("ABYC E-11", "interrupt capacity table", "from memory")

CONTINUOUS: Final = 0.8
"""Share of its rating that a device bears for long; common practice, no source."""

BLADE_COLOURS: Final[dict[float, str]] = {
    1: "black",
    2: "grey",
    3: "violet",
    4: "pink",
    5: "tan",
    7.5: "brown",
    10: "red",
    15: "light blue",
    20: "yellow",
    25: "clear",
    30: "green",
    35: "blue-green",
    40: "orange",
}  # ISO 8820-3


class DistanceRule(NamedTuple):
    """How far along the conductor protection may sit from its source."""

    limit_mm: float
    wording: str


def distance_limit_mm(school: str, *, at_battery: bool, sheathed: bool) -> DistanceRule:
    """Return the greatest distance from the source along the conductor.

    Args:
        school: 'ABYC' or 'ISO'.
        at_battery: the conductor starts on a battery terminal.
        sheathed: sheathed or enclosed all the way to the device.
    """
    if school == "ISO":
        return DistanceRule(200.0, "200 mm, else sheath or conduit all the way")
    if sheathed and at_battery:
        return DistanceRule(1828.8, "72 in from a battery terminal, sheathed all the way")
    if sheathed:
        return DistanceRule(1016.0, "40 in, sheathed all the way")
    return DistanceRule(177.8, "7 in along the conductor")


def next_rating_a(family: str, at_least_a: float) -> float | None:
    """Return the smallest standard rating not below ``at_least_a``; None when there is none."""
    return next((r for r in DEVICES[family].ratings_a if r >= at_least_a - 1e-9), None)


_INTERRUPT_12_V: Final = ((650.0, 1500.0, 750.0), (1100.0, 3000.0, 1500.0), (inf, 5000.0, 2500.0))
_INTERRUPT_24_V: Final = ((1250.0, 3000.0, 1500.0), (inf, 5000.0, 2500.0))


def interrupt_minimum_a(cranking_a: float, *, main: bool, nominal_v: float = 12.0) -> float:
    """Return the least interrupt rating by a battery's cold-cranking amps, in A.

    Args:
        main: of a device next to the battery, not of a branch.
        nominal_v: 12 V has bands of its own; 24 and 32 V share theirs, and above we take them too.
    """
    bands = _INTERRUPT_12_V if nominal_v <= 12 else _INTERRUPT_24_V
    _, at_main, at_branch = next(band for band in bands if cranking_a <= band[0])
    return at_main if main else at_branch
