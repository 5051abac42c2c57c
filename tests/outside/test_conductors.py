"""Conductors against published tables and by another route."""

import math

import pytest

from vivid_loom.quantities import Gauge
from vivid_loom.standards import conductor

# ASTM B258 solid diameters in mils; values from memory, as printed in wire tables
ASTM_MILS = {
    22: 25.3,
    20: 32.0,
    18: 40.3,
    16: 50.8,
    14: 64.1,
    12: 80.8,
    10: 101.9,
    8: 128.5,
    6: 162.0,
    4: 204.3,
    2: 257.6,
    1: 289.3,
    0: 324.9,
    -1: 364.8,
    -2: 409.6,
    -3: 460.0,
}
# the same wire tables' areas in circular mils; from memory
ASTM_CIRCULAR_MILS = {
    18: 1620,
    16: 2580,
    14: 4110,
    12: 6530,
    10: 10380,
    8: 16510,
    6: 26240,
    4: 41740,
    2: 66360,
    0: 105600,
    -1: 133100,
    -3: 211600,
}
# electrical handbook resistance table, solid bare copper at 20 °C, ohm per 1000 ft; from memory
HANDBOOK_20C = {
    18: 6.385,
    16: 4.016,
    14: 2.525,
    12: 1.588,
    10: 0.9989,
    8: 0.6282,
    6: 0.3951,
    4: 0.2485,
    2: 0.1563,
    0: 0.0983,
}


@pytest.mark.parametrize(("number", "mils"), ASTM_MILS.items())
def test_diameter_against_astm_b258(number: int, mils: float) -> None:
    assert conductor.awg_diameter_mm(number) == pytest.approx(mils * 0.0254, rel=2e-3)


@pytest.mark.parametrize(("number", "circular_mils"), ASTM_CIRCULAR_MILS.items())
def test_area_against_astm_b258(number: int, circular_mils: float) -> None:
    area = conductor.area_mm2(Gauge("AWG", number))
    assert area == pytest.approx(circular_mils * 5.067e-4, rel=4e-3)


@pytest.mark.parametrize(("number", "ohm_per_kft"), HANDBOOK_20C.items())
def test_stranded_tinned_wire_resists_a_few_per_cent_more_than_the_handbooks_solid(
    number: int, ohm_per_kft: float
) -> None:
    ours = conductor.ohm_per_m(Gauge("AWG", number), 20.0) * 304.8
    assert 1.03 < ours / ohm_per_kft < 1.10


def test_three_gauges_halve_the_area() -> None:
    """Common practice, no source: three AWG numbers are a factor of two in copper."""
    for number in range(-3, 16):
        ratio = conductor.area_mm2(Gauge("AWG", number)) / conductor.area_mm2(
            Gauge("AWG", number + 3)
        )
        assert ratio == pytest.approx(2.0, rel=0.006)


def test_temperature_by_another_route() -> None:
    """NEC chapter 9 table 8 note: R2 = R1·[1 + 0.00323·(T2 − 75)] (from memory)."""
    for gauge in conductor.SIZING_LADDER["AWG"]:
        at_75 = conductor.ohm_per_m(gauge, 75)
        for degrees in (20, 50, 90):
            expected = at_75 * (1 + 0.00323 * (degrees - 75))
            assert conductor.ohm_per_m(gauge, degrees) == pytest.approx(expected, rel=2e-3)


def test_class_5_stays_below_its_limit_by_resistivity() -> None:
    """IEC 60228 limits lie above copper's own resistance (IEC 60028, 100 % IACS)."""
    for gauge in conductor.SIZING_LADDER["mm2"]:
        ideal = 1.7241e-8 / (gauge.size * 1e-6)
        assert 1.0 < conductor.ohm_per_m(gauge, 20) / ideal < 1.25


def test_butt_steps() -> None:
    """Common practice, no source: 16 to 12 AWG may be butted, 12 to 6 AWG may not."""
    assert conductor.size_steps(Gauge("AWG", 16), Gauge("AWG", 12)) == 2
    assert conductor.size_steps(Gauge("AWG", 12), Gauge("AWG", 6)) == 3
    assert math.isclose(conductor.size_steps(Gauge("mm2", 1.5), Gauge("AWG", 16)), 0)
