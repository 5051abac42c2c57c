"""What a source drives into a short, and how much of it a conductor outlasts."""

from functools import cache
from typing import Final

from vivid_loom.quantities.reckoning import Reckoned, keyed, ln, root
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = [
    "BATTERY_SOURCE",
    "CELL_OPEN_V",
    "FAR_END_LIMIT_S",
    "WITHSTAND_SOURCE",
    "battery_ohm",
    "battery_open_v",
    "short_limit_c",
    "withstand_a2s",
    "withstand_k",
]

WITHSTAND_SOURCE: Final = Source("IEC 60364-5-54", "annex A, factor k for copper", "from memory")
BATTERY_SOURCE: Final = OUR_CHOICE
FAR_END_LIMIT_S: Final = 5.0  # IEC 60364-4-43, 434.5.2: longest time the adiabatic rule holds

CELL_OPEN_V: Final = 12.7 / 6  # a full lead cell at rest
_CRANKING_CELL_V: Final = 7.2 / 6  # at its cranking current, by the test's definition
_WARM: Final = 0.5  # resistance at 25 °C over that at −18 °C, where cranking amps are measured


def battery_open_v(nominal_v: float) -> float:
    """Return the open-circuit voltage of a full lead battery in V: 12.7 V for 12 V."""
    return CELL_OPEN_V * nominal_v / 2


def battery_ohm(nominal_v: float, cranking_a: float) -> float:
    """Return a lead battery's internal resistance when warm, in Ω, from its cranking amps."""
    return battery_resistance(nominal_v, cranking_a).value


def battery_resistance(nominal_v: float, cranking_a: float) -> Reckoned:
    """Return ``battery_ohm`` with its arithmetic."""
    sag_v = keyed(CELL_OPEN_V, 7) - keyed(_CRANKING_CELL_V)
    return keyed(_WARM) * sag_v * keyed(nominal_v / 2) / keyed(cranking_a)


def short_limit_c(insulation_c: float) -> float:
    """Return the temperature in °C an insulation outlasts during a short.

    160 for PVC (rated up to 105), 250 for cross-linked (125), 350 for silicone (200).
    """
    return 160.0 if insulation_c <= 105 else 250.0 if insulation_c <= 150 else 350.0


def withstand_k(start_c: float, limit_c: float) -> float:
    """Return k in A·√s/mm² for copper: 226·√(ln((234.5 + T_f)/(234.5 + T_i)))."""
    return reckoned_k(start_c, limit_c).value


@cache
def reckoned_k(start_c: float, limit_c: float) -> Reckoned:
    """Return ``withstand_k`` with its arithmetic."""
    hottest, start = (keyed(234.5) + keyed(celsius) for celsius in (limit_c, start_c))
    return keyed(226) * root(ln(hottest / start))


def withstand_a2s(area_mm2: float, start_c: float, limit_c: float) -> float:
    """Return the I²t a copper conductor outlasts, k²S², in A²s."""
    return withstand(area_mm2, start_c, limit_c).value


def withstand(area_mm2: float, start_c: float, limit_c: float) -> Reckoned:
    """Return ``withstand_a2s`` with its arithmetic."""
    once = keyed(withstand_k(start_c, limit_c)) * keyed(area_mm2)
    return once.squared()
