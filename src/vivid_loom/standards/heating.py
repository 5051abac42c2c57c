"""How hot a copper conductor becomes: adiabatic at first, then shedding heat around it."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vivid_loom.standards.source import Source

__all__ = ["HEATING_SOURCE", "after_c", "resting_c", "time_constant_s"]

HEATING_SOURCE = Source(
    "IEC 60364-5-54", "annex A, with heat shed so that the ampacity just reaches the rating"
)
_ZERO_C = -234.5  # where copper would have no resistance
_K = 226.0  # A·√s/mm², of copper
AMBIENT_C = 30.0  # that ampacities are printed for
MELTED_C = 1083.0

Floats = NDArray[np.float64]


def time_constant_s(area_mm2: ArrayLike, ampacity_a: ArrayLike, insulation_c: float) -> Floats:
    """Return how long a conductor takes to shed its heat, in s.

    At its ampacity it stands at its insulation's rating in surroundings of 30 °C.
    """
    heats = (np.asarray(ampacity_a, float) / (_K * np.asarray(area_mm2, float))) ** 2
    found: Floats = (insulation_c - AMBIENT_C) / (heats * (insulation_c - _ZERO_C))
    return found


def after_c(
    start_c: ArrayLike,
    amps: ArrayLike,
    seconds: ArrayLike,
    area_mm2: ArrayLike,
    time_constant: ArrayLike,
    ambient_c: float = AMBIENT_C,
) -> Floats:
    """Return the temperature of conductors after a time at a steady current, in °C.

    dT/dt = (I/KS)²·(T + 234.5) − (T − T_a)/τ; without the last term the adiabatic rule
    I²t = K²S²·ln((T + 234.5)/(T₀ + 234.5)). Never above copper's melting point.
    """
    heats = (np.asarray(amps, float) / (_K * np.asarray(area_mm2, float))) ** 2
    sheds = 1 / np.asarray(time_constant, float)
    rate = np.where(np.abs(heats - sheds) < 1e-15, 1e-15, heats - sheds)
    settles = (ambient_c * sheds - heats * _ZERO_C) / -rate
    power = np.minimum(rate * np.asarray(seconds, float), 60.0)
    found: Floats = settles + (np.asarray(start_c, float) - settles) * np.exp(power)
    return np.minimum(found, MELTED_C)


def resting_c(
    amps: ArrayLike, area_mm2: ArrayLike, time_constant: ArrayLike, ambient_c: float = AMBIENT_C
) -> Floats:
    """Return where conductors settle at a steady current, in °C; the melting point where none."""
    heats = (np.asarray(amps, float) / (_K * np.asarray(area_mm2, float))) ** 2
    sheds = 1 / np.asarray(time_constant, float)
    room = sheds - heats
    settled = (ambient_c * sheds - heats * _ZERO_C) / np.where(room > 0, room, 1.0)
    return np.where(room > 0, np.minimum(settled, MELTED_C), MELTED_C)
