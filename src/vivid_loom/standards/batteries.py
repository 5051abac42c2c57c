"""Batteries at rest and what charges them."""

from typing import Final

from vivid_loom.standards.source import Source

__all__ = [
    "CHARGE_SOURCE",
    "PEUKERT",
    "REST_SOURCE",
    "charge_v",
    "open_v",
    "peukert_ah",
]

REST_SOURCE: Final = Source("generic rest voltages", "", "from memory; look up the maker's")
CHARGE_SOURCE: Final = Source("generic charging voltage", "", "from memory; look up the maker's")

_LEAD_12_V: Final = ((0.0, 11.8), (0.25, 12.0), (0.5, 12.25), (0.75, 12.45), (1.0, 12.7))
_IRON_12_V: Final = (
    (0.0, 10.0),
    (0.1, 12.0),
    (0.2, 12.9),
    (0.4, 13.1),
    (0.7, 13.2),
    (0.9, 13.3),
    (1.0, 13.4),
)
_CHARGE_12_V: Final = {"flooded": 14.4, "AGM": 14.4, "gel": 14.1, "lithium": 14.2}

PEUKERT: Final = {"flooded": 1.25, "AGM": 1.12, "gel": 1.15, "lithium": 1.03}
"""Exponents by chemistry; generic, from memory."""


def open_v(nominal_v: float, chemistry: str, charge: float) -> float:
    """Return the voltage of a battery at rest, in V.

    Args:
        charge: from 0, empty, to 1, full; between printed points in proportion.

    Raises:
        ValueError: a charge that is no share.
    """
    if not 0 <= charge <= 1:
        raise ValueError(f"charge {charge:g}, expected 0 to 1")
    points = _IRON_12_V if chemistry == "lithium" else _LEAD_12_V
    above = next(i for i, (share, _) in enumerate(points) if charge <= share)
    (s0, v0), (s1, v1) = points[max(0, above - 1)], points[above]
    share = (charge - s0) / (s1 - s0) if s1 > s0 else 0.0
    return (v0 + share * (v1 - v0)) * nominal_v / 12


def charge_v(nominal_v: float, chemistry: str) -> float:
    """Return the voltage a charger or alternator holds, in V."""
    return _CHARGE_12_V[chemistry] * nominal_v / 12


def peukert_ah(capacity_ah: float, amps: float, chemistry: str, rated_h: float = 20.0) -> float:
    """Return what a battery gives at a steady current, in Ah: C·(C/(I·H))^(k−1).

    It gives no more than its rated capacity at currents below the rated one.
    """
    if amps <= 0:
        return capacity_ah
    factor = (capacity_ah / (amps * rated_h)) ** (PEUKERT[chemistry] - 1)
    return float(min(1.0, factor) * capacity_ah)
