"""Allowable current of conductors under 50 V, and what reduces it."""

import math
from typing import Final, Literal

from vivid_loom.quantities import Gauge
from vivid_loom.standards.source import NotInTableError, Source

__all__ = [
    "AWG_SOURCE",
    "MM2_SOURCE",
    "ambient_factor",
    "ampacity_a",
    "bundle_factor",
    "bundle_source",
    "engine_space_factor",
    "insulation_ratings_c",
    "source",
]

AWG_SOURCE: Final = Source("33 CFR 183.425", "table 5", "same as ABYC E-11 under 50 V")
SAE_SOURCE: Final = Source(
    "ABYC E-11", "the AWG table holds for road-vehicle gauges", "from memory"
)
MM2_SOURCE: Final = Source("ISO 13297", "annex A", "from memory")
BUNDLE_SOURCE: Final = Source("ABYC E-11", "bundling reduction", "from memory")
ISO_BUNDLE_SOURCE: Final = Source("ISO 13297", "bundling reduction", "from memory")

AWG_COLUMNS_C: Final = (60, 75, 80, 90, 105, 125, 200)
AWG_ROWS_A: Final[dict[int, tuple[int, ...]]] = {
    18: (10, 10, 15, 20, 20, 25, 25),
    16: (15, 15, 20, 25, 25, 30, 35),
    14: (20, 20, 25, 30, 35, 40, 45),
    12: (25, 25, 35, 40, 45, 50, 55),
    10: (40, 40, 50, 55, 60, 70, 70),
    8: (55, 65, 70, 70, 80, 90, 100),
    6: (80, 95, 100, 100, 120, 125, 135),
    4: (105, 125, 130, 135, 160, 170, 180),
    3: (120, 145, 150, 155, 180, 195, 210),
    2: (140, 170, 175, 180, 210, 225, 240),
    1: (165, 195, 210, 210, 245, 265, 280),
    0: (195, 230, 245, 245, 285, 305, 325),
    -1: (225, 265, 285, 285, 330, 355, 370),
    -2: (260, 310, 330, 330, 385, 410, 430),
    -3: (300, 360, 385, 385, 445, 475, 510),
}
AWG_ENGINE: Final = {60: 0.58, 75: 0.75, 80: 0.78, 90: 0.82, 105: 0.85, 125: 0.89, 200: 1.00}

MM2_COLUMNS_C: Final = (60, 70, 90, 105, 125, 200)  # the third is printed '85 to 90'
MM2_ROWS_A: Final[dict[float, tuple[int, ...]]] = {
    0.75: (6, 10, 12, 16, 20, 25),
    1: (8, 14, 18, 20, 25, 35),
    1.5: (12, 18, 21, 25, 30, 40),
    2.5: (17, 25, 30, 35, 40, 45),
    4: (22, 35, 40, 45, 50, 55),
    6: (29, 45, 50, 60, 70, 75),
    10: (40, 65, 70, 90, 100, 120),
    16: (54, 90, 100, 130, 150, 170),
    25: (71, 120, 140, 170, 185, 200),
    35: (87, 160, 185, 210, 225, 240),
    50: (105, 210, 230, 270, 300, 325),
    70: (135, 265, 285, 330, 360, 375),
    95: (165, 310, 330, 390, 410, 430),
    120: (190, 360, 400, 450, 480, 520),
}
MM2_ENGINE: Final = {70: 0.75, 90: 0.82, 105: 0.86, 125: 0.89, 200: 1.00}


def insulation_ratings_c(series: str) -> tuple[int, ...]:
    """Return the insulation ratings, in °C, that a series' table prints."""
    return MM2_COLUMNS_C if series == "mm2" else AWG_COLUMNS_C


def source(gauge: Gauge) -> Source:
    """Return the table that ``ampacity_a`` reads for this gauge."""
    return {"AWG": AWG_SOURCE, "SAE": SAE_SOURCE, "mm2": MM2_SOURCE}[gauge.series]


def ampacity_a(gauge: Gauge, insulation_c: int) -> float:
    """Return the allowable current of one conductor in free air at 30 °C, in A.

    Raises:
        NotInTableError: the size or the insulation rating is not printed.
    """
    metric = gauge.series == "mm2"
    columns = MM2_COLUMNS_C if metric else AWG_COLUMNS_C
    row = MM2_ROWS_A.get(gauge.size) if metric else AWG_ROWS_A.get(int(gauge.size))
    if row is None or insulation_c not in columns:
        raise NotInTableError(source(gauge), f"{gauge} at {insulation_c} °C")
    return float(row[columns.index(insulation_c)])


def engine_space_factor(series: str, insulation_c: int) -> float:
    """Return the factor for conductors in engine spaces.

    Raises:
        NotInTableError: the insulation rating is not printed, or not allowed there.
    """
    table = MM2_ENGINE if series == "mm2" else AWG_ENGINE
    if insulation_c not in table:
        raise NotInTableError(MM2_SOURCE if series == "mm2" else AWG_SOURCE, insulation_c)
    return table[insulation_c]


def bundle_factor(loaded_conductors: int, school: Literal["ABYC", "ISO"] = "ABYC") -> float:
    """Return the reduction for a number of loaded conductors in one bundle."""
    steps: tuple[tuple[int, float], ...]
    if school == "ISO":
        steps = ((25, 0.5), (7, 0.6), (4, 0.7))
    else:
        steps = ((25, 0.4), (7, 0.5), (4, 0.6), (3, 0.7))
    return next((factor for least, factor in steps if loaded_conductors >= least), 1.0)


def bundle_source(school: str) -> Source:
    """Return the table that ``bundle_factor`` reads for this school."""
    return ISO_BUNDLE_SOURCE if school == "ISO" else BUNDLE_SOURCE


def ambient_factor(insulation_c: float, ambient_c: float) -> float:
    """Return the factor √((T_ins − T_amb)/(T_ins − 30)) for an ambient other than 30 °C.

    Cooler surroundings earn no bonus: the factor is never above 1 (our choice).

    Raises:
        ValueError: the surroundings are as hot as the insulation may become.
    """
    if ambient_c >= insulation_c:
        raise ValueError(f"ambient {ambient_c} °C reaches the insulation's {insulation_c} °C")
    return min(1.0, math.sqrt((insulation_c - ambient_c) / (insulation_c - 30.0)))
