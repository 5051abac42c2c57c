"""Conductor geometry and resistance: AWG, road-vehicle gauge and mm² series."""

import math
from functools import cache
from typing import Final, NamedTuple

from vivid_loom.quantities import FOOT_M, Gauge
from vivid_loom.quantities.reckoning import Reckoned, keyed
from vivid_loom.standards.source import NotInTableError, Source

__all__ = [
    "ALPHA_20_PER_K",
    "AWG_SOURCE",
    "CLASS5_SOURCE",
    "COPPER_KG_PER_MM2_M",
    "RHO_20_OHM_M",
    "SAE_CIRCULAR_MILS",
    "SAE_SOURCE",
    "SIZING_LADDER",
    "STRANDED_AWG_SOURCE",
    "area_mm2",
    "awg_diameter_mm",
    "is_thinner",
    "ohm_per_m",
    "resistance",
    "resistance_source",
    "size_steps",
]

AWG_SOURCE: Final = Source("ASTM B258", "diameter formula")
STRANDED_AWG_SOURCE: Final = Source(
    "NEC", "chapter 9 table 8, coated stranded copper, 75 °C", "from memory"
)
CLASS5_SOURCE: Final = Source("IEC 60228", "table 3, class 5, tinned, 20 °C", "from memory")

SAE_SOURCE: Final = Source("SAE J1127 and J1128", "conductor circular mils", "from memory")

RHO_20_OHM_M: Final = 1.7241e-8  # IEC 60028, 100 % IACS
ALPHA_20_PER_K: Final = 0.00393  # IEC 60028
COPPER_KG_PER_MM2_M: Final = 8.89e-3  # 8890 kg/m³; IEC 60028


class AwgRow(NamedTuple):
    """A printed resistance of tinned strands: marine wire is tinned."""

    number: int  # AWG; 1/0 is 0
    ohm_per_kft: float  # at 75 °C


AWG_ROWS: Final = (
    AwgRow(18, 8.45),
    AwgRow(16, 5.29),
    AwgRow(14, 3.26),
    AwgRow(12, 2.05),
    AwgRow(10, 1.29),
    AwgRow(8, 0.809),
    AwgRow(6, 0.51),
    AwgRow(4, 0.321),
    AwgRow(3, 0.254),
    AwgRow(2, 0.201),
    AwgRow(1, 0.16),
    AwgRow(0, 0.127),
    AwgRow(-1, 0.101),
    AwgRow(-2, 0.0797),
    AwgRow(-3, 0.0626),
)


class Class5Row(NamedTuple):
    """Greatest permitted resistance of a flexible tinned conductor."""

    area_mm2: float
    ohm_per_km: float  # at 20 °C


CLASS5_ROWS: Final = (
    Class5Row(0.5, 40.1),
    Class5Row(0.75, 26.7),
    Class5Row(1, 20.0),
    Class5Row(1.5, 13.7),
    Class5Row(2.5, 8.21),
    Class5Row(4, 5.09),
    Class5Row(6, 3.39),
    Class5Row(10, 1.95),
    Class5Row(16, 1.24),
    Class5Row(25, 0.795),
    Class5Row(35, 0.565),
    Class5Row(50, 0.393),
    Class5Row(70, 0.277),
    Class5Row(95, 0.210),
    Class5Row(120, 0.164),
)

SAE_CIRCULAR_MILS: Final = {
    18: 1537,
    16: 2336,
    14: 3702,
    12: 5833,
    10: 9343,
    8: 14810,
    6: 24538,
    4: 37360,
    2: 62450,
    1: 77790,
    0: 98980,
    -1: 125100,
    -2: 158600,
    -3: 205500,
}
CIRCULAR_MIL_MM2: Final = math.pi / 4 * 0.0254**2

SIZING_LADDER: Final[dict[str, tuple[Gauge, ...]]] = {
    "AWG": tuple(Gauge("AWG", row.number) for row in AWG_ROWS),
    "SAE": tuple(Gauge("SAE", number) for number in SAE_CIRCULAR_MILS),
    "mm2": tuple(Gauge("mm2", row.area_mm2) for row in CLASS5_ROWS if row.area_mm2 >= 0.75),
}

_OHM_PER_KFT: Final[dict[float, float]] = {row.number: row.ohm_per_kft for row in AWG_ROWS}
_CLASS5_OHM_PER_KM: Final[dict[float, float]] = {r.area_mm2: r.ohm_per_km for r in CLASS5_ROWS}


def awg_diameter_mm(number: float) -> float:
    """Return the solid diameter of an AWG number (1/0 is 0, 2/0 is −1), in mm. ASTM B258."""
    return 0.127 * math.pow(92.0, (36.0 - number) / 39.0)


@cache
def area_mm2(gauge: Gauge) -> float:
    """Return the copper cross-section in mm².

    Raises:
        NotInTableError: a road-vehicle gauge that is not printed.
    """
    if gauge.series == "SAE":
        if int(gauge.size) not in SAE_CIRCULAR_MILS:
            raise NotInTableError(SAE_SOURCE, gauge)
        return SAE_CIRCULAR_MILS[int(gauge.size)] * CIRCULAR_MIL_MM2
    if gauge.series == "mm2":
        return gauge.size
    return math.pi / 4.0 * awg_diameter_mm(gauge.size) ** 2


def resistance_source(gauge: Gauge) -> Source:
    """Return the table that ``ohm_per_m`` reads for this gauge."""
    sources = {"AWG": STRANDED_AWG_SOURCE, "SAE": SAE_SOURCE, "mm2": CLASS5_SOURCE}
    return sources[gauge.series]


@cache
def ohm_per_m(gauge: Gauge, conductor_c: float) -> float:
    """Return the resistance of stranded marine wire, in Ω/m, at a conductor temperature in °C.

    Raises:
        NotInTableError: the size is not printed.
    """
    return resistance(gauge, conductor_c).value


@cache
def resistance(gauge: Gauge, conductor_c: float) -> Reckoned:
    """Return ``ohm_per_m`` with its arithmetic, from the printed row.

    Raises:
        NotInTableError: the size is not printed.
    """
    printed = (_CLASS5_OHM_PER_KM if gauge.series == "mm2" else _OHM_PER_KFT).get(gauge.size)
    if printed is None:
        raise NotInTableError(resistance_source(gauge), gauge)
    if gauge.series == "mm2":
        at_table, table_c = keyed(printed) / keyed(1000), 20.0
    else:
        at_table, table_c = keyed(printed) / keyed(1000 * FOOT_M), 75.0
    if gauge.series == "SAE":  # as AWG wire of the same number, by its smaller area
        like = Gauge("AWG", gauge.size)
        at_table = at_table * keyed(area_mm2(like)) / keyed(area_mm2(gauge))

    def warm(celsius: float) -> Reckoned:
        return keyed(1) + keyed(ALPHA_20_PER_K) * keyed(celsius - 20.0)

    return at_table * warm(conductor_c) / warm(table_c)


def is_thinner(gauge: Gauge, than: Gauge) -> bool:
    """Tell whether a gauge falls short of another.

    Between series 6 % is let pass: the trade takes 16 AWG (1.31 mm²) for 1.25 and 12 AWG (3.31)
    for 3.5 mm²; our choice.
    """
    slack = 1.0 if gauge.series == than.series else 0.94
    return area_mm2(gauge) < slack * area_mm2(than) - 1e-9


@cache
def size_steps(thin: Gauge, thick: Gauge) -> int:
    """Return how many trade sizes lie between two gauges (16 to 12 AWG: 2; 12 to 6: 3).

    Only the sizes the trade stocks count: 18 16 14 12 10 8 6 4 2 1/0 2/0 4/0.
    """
    trade = [area_mm2(Gauge("AWG", n)) for n in (18, 16, 14, 12, 10, 8, 6, 4, 2, 0, -1, -3)]

    def rung(gauge: Gauge) -> int:
        area = area_mm2(gauge)
        return min(range(len(trade)), key=lambda i: abs(math.log(trade[i] / area)))

    return abs(rung(thick) - rung(thin))
