"""Voltage drop against both handbook forms and a handbook-style chart."""

import math

import pytest

from vivid_loom.quantities import Gauge
from vivid_loom.standards import conductor
from vivid_loom.standards.drop import iso_drop_v, required_circular_mils

CHART_C = 29.0  # K = 10.75 is copper at about this temperature
# gauges of the 12 V conductor charts of ABYC E-11 by (A, loop ft), from memory
CHART_3_PERCENT = {
    (5, 10): 18,
    (5, 15): 16,
    (5, 20): 14,
    (5, 25): 12,
    (5, 30): 12,
    (5, 40): 10,
    (5, 50): 10,
    (10, 10): 14,
    (10, 15): 12,
    (10, 20): 10,
    (10, 25): 10,
    (10, 30): 10,
    (10, 40): 8,
    (10, 50): 6,
    (15, 10): 12,
    (15, 15): 10,
    (15, 20): 10,
    (15, 25): 8,
    (15, 30): 8,
    (15, 40): 6,
    (20, 10): 10,
    (20, 15): 10,
    (20, 20): 8,
    (20, 25): 6,
    (20, 30): 6,
    (20, 40): 6,
    (25, 10): 10,
    (25, 15): 8,
    (25, 20): 6,
    (25, 25): 6,
}
CHART_10_PERCENT = {
    (5, 30): 18,
    (5, 50): 16,
    (10, 20): 16,
    (10, 25): 16,
    (10, 30): 14,
    (10, 40): 14,
    (10, 50): 12,
    (15, 15): 16,
    (15, 20): 14,
    (15, 25): 14,
    (15, 30): 12,
    (15, 40): 12,
    (15, 50): 10,
    (20, 10): 16,
    (20, 15): 14,
    (20, 20): 14,
    (20, 25): 12,
    (20, 30): 12,
    (20, 40): 10,
    (20, 50): 10,
    (25, 20): 12,
    (25, 30): 10,
    (25, 40): 10,
}
# ratio of the stranded table to the chart's solid copper at its own temperature
STRANDING = 1.025
# NEC chapter 9 table 8 (from memory): stranded copper in Ω/kft at 75 °C, uncoated and coated. The
# charts are of bare copper; marine wire is tinned.
NEC_OHM_PER_KFT = {
    18: (7.95, 8.45),
    16: (4.99, 5.29),
    14: (3.14, 3.26),
    12: (1.98, 2.05),
    10: (1.24, 1.29),
    8: (0.778, 0.809),
    6: (0.491, 0.510),
    4: (0.308, 0.321),
    3: (0.245, 0.254),
    2: (0.194, 0.201),
    1: (0.154, 0.160),
    0: (0.122, 0.127),
    -1: (0.0967, 0.101),
    -2: (0.0766, 0.0797),
    -3: (0.0608, 0.0626),
}


def bare_ohm_per_m(gauge: Gauge, celsius: float) -> float:
    """Return our resistance as it would be without the tin."""
    bare, tinned = NEC_OHM_PER_KFT[int(gauge.size)]
    return conductor.ohm_per_m(gauge, celsius) * bare / tinned


@pytest.mark.parametrize("number", NEC_OHM_PER_KFT)
def test_awg_wire_is_tinned_as_it_lies_on_the_shelf(number: int) -> None:
    gauge = Gauge("AWG", number)
    bare, tinned = NEC_OHM_PER_KFT[number]
    assert conductor.ohm_per_m(gauge, 75.0) * 304.8 == pytest.approx(tinned)
    assert 1.02 < tinned / bare < 1.07
    assert "coated" in str(conductor.resistance_source(gauge))


def smallest_gauge(amps: float, loop_ft: float, percent: float) -> int:
    """Pick from our own resistances at the chart's temperature, without stranding or tin."""
    for number in (18, 16, 14, 12, 10, 8, 6, 4, 2, 0):
        ohm = bare_ohm_per_m(Gauge("AWG", number), CHART_C) / STRANDING
        if amps * loop_ft * 0.3048 * ohm <= percent / 100 * 12:
            return number
    raise AssertionError("off the chart")


# SAE J1127/J1128 areas in circular mils (from memory, typed a second time): about 10 % less copper
# than AWG of the same number. The published charts are reproduced to the cell by these areas.
SAE_CIRCULAR_MILS = {
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
CELLS = [
    *((cell, 3.0, gauge) for cell, gauge in CHART_3_PERCENT.items()),
    *((cell, 10.0, gauge) for cell, gauge in CHART_10_PERCENT.items()),
]
AMPS = (5, 10, 15, 20, 25, 30, 40, 50, 60, 70, 80, 90, 100)
LOOP_FT = (10, 15, 20, 25, 30, 40, 50, 60, 70, 80, 90, 100, 110, 120, 130, 140, 150, 160, 170)
STRANDED_CHART_C = 23.6  # K = 10.75 is stranded copper, 2 % above solid, at this temperature


@pytest.mark.parametrize(("percent", "cells"), [(3.0, 150), (10.0, 220)])
def test_the_whole_12_v_chart_cell_by_cell(percent: float, cells: int) -> None:
    """Every cell of the two charts of ABYC E-11 (K = 10.75 over road-vehicle areas) is what our
    resistances of that conductor give at the chart's own temperature."""
    checked = 0
    for amps in AMPS:
        for feet in LOOP_FT:
            need = required_circular_mils(amps, feet, percent / 100 * 12)
            chart = next((n for n, mils in SAE_CIRCULAR_MILS.items() if mils >= need), None)
            if chart is None:
                continue
            allowed = percent / 100 * 12 / (amps * feet * 0.3048)
            ours = next(
                int(gauge.size)
                for gauge in conductor.SIZING_LADDER["SAE"]
                if bare_ohm_per_m(gauge, STRANDED_CHART_C) <= allowed
            )
            if ours != chart:  # two tables of three figures each may part by half a per cent
                edge = min(abs(need / mils - 1) for mils in SAE_CIRCULAR_MILS.values())
                assert edge < 0.006, (amps, feet, chart, ours)
                continue
            checked += 1
    assert checked >= cells


@pytest.mark.parametrize(("cell", "percent", "gauge"), CELLS)
def test_chart_cells(cell: tuple[int, int], percent: float, gauge: int) -> None:
    """The chart is the circular-mil form over SAE areas; ours, over AWG areas at the chart's
    temperature, agrees wherever the extra copper does not tip the cell."""
    need = required_circular_mils(cell[0], cell[1], percent / 100 * 12)
    assert next(n for n, cm in SAE_CIRCULAR_MILS.items() if cm >= need) == gauge
    ours = smallest_gauge(*cell, percent)
    if ours != gauge:
        assert ours == gauge + 2
        awg = conductor.area_mm2(Gauge("AWG", ours)) / 5.067e-4
        assert SAE_CIRCULAR_MILS[ours] < need <= awg


def test_our_own_temperature_makes_no_chart_cell_thinner() -> None:
    """At the profile's 50 °C boundary cells move up, never down, against the same copper."""
    for (amps, feet), percent, _ in CELLS:
        at_chart = smallest_gauge(amps, feet, percent)
        for number in (18, 16, 14, 12, 10, 8, 6, 4):
            ohm = conductor.ohm_per_m(Gauge("AWG", number), 50)
            if amps * feet * 0.3048 * ohm <= percent / 100 * 12:
                assert number <= at_chart
                break


def test_8_awg_carries_50_a_within_3_percent_to_11_feet() -> None:
    """Handbook form: 16510 CM = 10.75 × 50 × L / 0.36 gives L = 11.06 ft."""
    reach = 16510 * 0.36 / (10.75 * 50)
    assert reach == pytest.approx(11.06, abs=0.005)
    assert required_circular_mils(50, reach, 0.36) == pytest.approx(16510)


def test_20_a_over_20_feet_of_10_awg_drop_3_45_percent() -> None:
    """Handbook form: E = 10.75 × 20 × 20 / 10380, 3.45 % of 12 V."""
    ours = bare_ohm_per_m(Gauge("AWG", 10), CHART_C) * 20 * 0.3048 * 20 / 12 * 100
    assert ours == pytest.approx(3.45 * STRANDING, rel=0.015)


def test_ours_is_the_stricter_beside_isos_form() -> None:
    """ISO 13297's constant is below even cold copper (1.7241e-8 at 20 °C)."""
    for gauge in conductor.SIZING_LADDER["mm2"]:
        ours = conductor.ohm_per_m(gauge, 50) * 10
        assert iso_drop_v(1, 10, gauge.size) < ours
        assert iso_drop_v(1, 10, gauge.size) > 0.65 * ours
    cold = 1.7241e-8 * (1 + 0.00393 * (8 - 20)) * 1e6
    assert math.isclose(cold, 0.0164, rel_tol=0.01)


@pytest.mark.parametrize("percent", [3.0, 10.0])
def test_isos_form_cell_by_cell_at_its_own_temperature(percent: float) -> None:
    """ISO 13297: E = 0.0164·I·L/S is plain copper at 8 °C; sizes agree within its rounding."""
    at_8_c = conductor.RHO_20_OHM_M * (1 + conductor.ALPHA_20_PER_K * (8 - 20)) * 1e6
    checked = 0
    for amps in AMPS:
        for loop_m in range(3, 52, 3):
            allowed = percent / 100 * 12
            sizes = [gauge.size for gauge in conductor.SIZING_LADDER["mm2"]]
            iso = next((s for s in sizes if iso_drop_v(amps, loop_m, s) <= allowed), None)
            ours = next((s for s in sizes if at_8_c * amps * loop_m / s <= allowed), None)
            if iso is None or ours is None:
                continue
            if iso != ours:  # the constant has three figures
                assert abs(iso_drop_v(amps, loop_m, min(iso, ours)) / allowed - 1) < 0.005
                continue
            checked += 1
    assert checked >= 100
