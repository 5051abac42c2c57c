"""How long protective devices hold and when they have opened: both edges of their bands."""

import math
from typing import Final, NamedTuple

from vivid_loom.standards.source import Source

__all__ = ["BANDS", "BLADE_SOURCE", "GENERIC_SOURCE", "Gate", "band_source", "holds_s", "opens_s"]

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


def _edge_s(family: str, multiple: float, edge: int) -> float:
    gates = BANDS[family]
    if multiple < gates[0].multiple:
        return _NEVER
    below = max(i for i, gate in enumerate(gates) if gate.multiple <= multiple * (1 + 1e-12))
    low_s = gates[below][edge]
    if math.isclose(multiple, gates[below].multiple, rel_tol=1e-12):
        return low_s
    if below == len(gates) - 1:  # beyond the last gate its I²t stays as it is
        last = low_s * (gates[below].multiple / multiple) ** 2
        return max(last, _FASTEST_S.get(family, (0.0, 0.0))[edge - 1])
    high_s = gates[below + 1][edge]
    if low_s == _NEVER:  # no time is promised below the first finite gate
        return _NEVER if multiple < gates[below + 1].multiple * (1 - 1e-12) else high_s
    m0, m1 = gates[below].multiple, gates[below + 1].multiple
    share = math.log(multiple / m0) / math.log(m1 / m0)
    return math.exp(math.log(low_s) + share * math.log(high_s / low_s))


def holds_s(family: str, rating_a: float, amps: float) -> float:
    """Return how long a device holds a current for certain, in s; inf for ever.

    Interpolated log–log between gates; beyond the last its I²t is constant.
    """
    return _edge_s(family, amps / rating_a, 1)


def opens_s(family: str, rating_a: float, amps: float) -> float:
    """Return by when a device has opened for certain, in s; inf where nothing is promised."""
    return _edge_s(family, amps / rating_a, 2)
