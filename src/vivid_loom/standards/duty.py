"""Short-time duty: the steady current that heats a wire as much as on-and-off does."""

from typing import Final

from vivid_loom.quantities.reckoning import Reckoned, grown, keyed, root
from vivid_loom.standards.source import Source

__all__ = ["DUTY_SOURCE", "equivalent_a", "time_constant_s"]

DUTY_SOURCE: Final = Source(
    "IEC 60853", "heating of a conductor with one time constant, periodic duty", "from memory"
)
COPPER_J_PER_M3K: Final = 3.45e6  # IEC 60949, table 1


def time_constant_s(
    area_mm2: float, ampacity_a: float, hot_ohm_per_m: float, insulation_c: float
) -> float:
    """Return the heating time constant of a bare conductor, in s: C·S·ΔT / (I²·R).

    At its ampacity the conductor rises from 30 °C to its insulation's limit, which gives the
    heat it sheds. The insulation's own heat is left out, so the wire is faster than it is.
    """
    rise_k = insulation_c - 30.0
    return COPPER_J_PER_M3K * area_mm2 * 1e-6 * rise_k / (ampacity_a**2 * hot_ohm_per_m)


def equivalent_a(running_a: float, on_s: float, duty: float, time_constant_s: float) -> float:
    """Return the steady current that reaches the same peak temperature, in A.

    I·√((1 − e^(−on/τ)) / (1 − e^(−cycle/τ))) with cycle = on / duty. Where the cycle is short
    against τ this is the RMS current I·√duty; where it is long, the running current itself.

    Args:
        on_s: longest stretch it runs.
        duty: share of the time it runs, 0 < duty ≤ 1.
    """
    return equivalent(running_a, on_s, duty, time_constant_s).value


def equivalent(running_a: float, on_s: float, duty: float, time_constant_s: float) -> Reckoned:
    """Return ``equivalent_a`` with its arithmetic."""
    tau = keyed(time_constant_s)
    heated, whole = grown(keyed(on_s) / tau), grown(keyed(on_s / duty) / tau)
    return keyed(running_a) * root(heated / whole)
