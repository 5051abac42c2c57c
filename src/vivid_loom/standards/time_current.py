"""How long protective devices hold and when they have opened: both edges of their bands."""

import math
from typing import Final, NamedTuple

from vivid_loom.quantities.reckoning import Reckoned, exp, keyed, ln
from vivid_loom.standards.devices import DEVICES

__all__ = ["holds_s", "late_edge", "opens_s"]

_NEVER: Final = math.inf


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
    device = DEVICES[family]
    gates = device.late if edge == 2 else device.early
    below = sum(at <= multiple * (1 + 1e-12) for at, _ in gates) - 1
    if below < 0:
        return None
    low = gates[below]
    exactly = math.isclose(multiple, low[0], rel_tol=1e-12)
    if below == len(gates) - 1:
        return _Stretch(low, None, not exactly)
    if low[1] == _NEVER:  # no time is promised below the first finite gate
        return None
    return _Stretch(low, None if exactly else gates[below + 1], False)


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
    return DEVICES[family].parts_in_s[edge - 1]


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
