"""How long protective devices hold and when they have opened: both edges of their bands."""

import math
from typing import Final, NamedTuple

from vivid_loom.quantities.reckoning import Reckoned, exp, keyed, ln
from vivid_loom.standards.source import Source

__all__ = [
    "BANDS",
    "BLADE_SOURCE",
    "GENERIC_SOURCE",
    "Gate",
    "band_source",
    "holds_s",
    "late_edge",
    "opens_s",
]

BLADE_SOURCE: Final = Source("ISO 8820-3", "time–current gates", "from memory")
GENERIC_SOURCE: Final = Source("generic catalogue band", "", "from memory; look up the maker's")


class Gate(NamedTuple):
    """At this multiple of its rating a device holds ``least_s`` and has opened by ``most_s``."""

    multiple: float
    least_s: float
    most_s: float


_HUNDRED_HOURS_S: Final = 360_000.0
_NEVER: Final = math.inf

BANDS: Final[dict[str, tuple[Gate, ...]]] = {
    "blade fuse": (
        Gate(1.10, _HUNDRED_HOURS_S, _NEVER),
        Gate(1.35, 0.75, 1800.0),
        Gate(1.60, 0.25, 50.0),
        Gate(2.00, 0.15, 5.0),
        Gate(3.50, 0.04, 0.5),
        Gate(6.00, 0.02, 0.1),
    ),
    "large blade fuse": (
        Gate(1.10, _HUNDRED_HOURS_S, _NEVER),
        Gate(1.35, 60.0, 1800.0),
        Gate(2.00, 2.0, 60.0),
        Gate(3.50, 0.2, 7.0),
        Gate(6.00, 0.04, 1.0),
    ),
    "bolt-down fuse": (
        Gate(1.10, 14_400.0, _NEVER),
        Gate(1.35, 120.0, 1800.0),
        Gate(2.00, 1.0, 15.0),
        Gate(3.50, 0.3, 5.0),
        Gate(6.00, 0.1, 1.0),
    ),
    "post fuse": (
        Gate(1.10, 14_400.0, _NEVER),
        Gate(1.35, 60.0, 1800.0),
        Gate(2.00, 1.0, 15.0),
        Gate(3.50, 0.1, 2.0),
        Gate(6.00, 0.03, 0.3),
    ),
    "class T fuse": (
        Gate(1.10, 14_400.0, _NEVER),
        Gate(1.35, 60.0, 3600.0),
        Gate(2.00, 5.0, 60.0),
        Gate(3.50, 0.3, 2.0),
        Gate(6.00, 0.03, 0.2),
        Gate(12.00, 0.002, 0.01),
    ),
    "breaker": (
        Gate(1.05, 3600.0, _NEVER),
        Gate(1.35, 30.0, 3600.0),
        Gate(2.00, 6.0, 60.0),
        Gate(4.00, 1.0, 12.0),
        Gate(6.00, 0.4, 6.0),
        Gate(10.00, 0.05, 1.0),
    ),
}
"""Per family, rising. Only the blade's are a published gate; the breaker is a thermal one."""

_FASTEST_S: Final = {"breaker": (0.004, 0.01)}  # a contact takes its time to part; our choice


def band_source(family: str) -> Source:
    """Return where a family's band comes from."""
    return BLADE_SOURCE if family == "blade fuse" else GENERIC_SOURCE


class _Stretch(NamedTuple):
    """Where a multiple lies in a band, and the times of one edge there.

    Attributes:
        high: the next gate; None beyond the last one or exactly at ``low``.
    """

    low: tuple[float, float]
    high: tuple[float, float] | None
    beyond: bool


def _stretch(family: str, multiple: float, edge: int) -> _Stretch | None:
    """Return the stretch of an edge; None where it promises nothing."""
    gates = BANDS[family]
    below = sum(gate.multiple <= multiple * (1 + 1e-12) for gate in gates) - 1
    if below < 0:
        return None
    low = gates[below]
    exactly = math.isclose(multiple, low.multiple, rel_tol=1e-12)
    if below == len(gates) - 1:
        return _Stretch((low.multiple, low[edge]), None, not exactly)
    if low[edge] == _NEVER:  # no time is promised below the first finite gate
        return None
    high = gates[below + 1]
    return _Stretch(
        (low.multiple, low[edge]), None if exactly else (high.multiple, high[edge]), False
    )


def _edge_s(family: str, multiple: float, edge: int) -> float:
    at = _stretch(family, multiple, edge)
    if at is None:
        return _NEVER
    m0, t0 = at.low
    if at.high:
        m1, t1 = at.high
        share = math.log(multiple / m0) / math.log(m1 / m0)
        return math.exp(math.log(t0) + share * math.log(t1 / t0))
    if at.beyond:  # beyond the last gate its I²t stays as it is
        return max(t0 * (m0 / multiple) ** 2, _least_s(family, edge))
    return t0


def _least_s(family: str, edge: int) -> float:
    return _FASTEST_S.get(family, (0.0, 0.0))[edge - 1]


def late_edge(family: str, multiple: float) -> Reckoned | None:
    """Return how to read by when a device has opened at a multiple of its rating, in s.

    The same stretch of the band as ``opens_s`` reads, in the same arithmetic; None where nothing
    is promised, or where the device opens in its least time.
    """
    at = _stretch(family, multiple, 2)
    if at is None:
        return None
    (m0, t0), m = at.low, keyed(multiple)
    if at.high:
        m1, t1 = at.high
        share = ln(m / keyed(m0)) / ln(keyed(m1) / keyed(m0))
        return exp(ln(keyed(t0)) + share * ln(keyed(t1) / keyed(t0)))
    if not at.beyond:
        return keyed(t0)
    once = keyed(m0) / m
    passed = keyed(t0) * once.squared()
    return passed if passed.value > _least_s(family, 2) else None


def holds_s(family: str, rating_a: float, amps: float) -> float:
    """Return how long a device holds a current for certain, in s; inf for ever.

    Interpolated log–log between gates; beyond the last its I²t is constant.
    """
    return _edge_s(family, amps / rating_a, 1)


def opens_s(family: str, rating_a: float, amps: float) -> float:
    """Return by when a device has opened for certain, in s; inf where nothing is promised."""
    return _edge_s(family, amps / rating_a, 2)
