"""Ampacity cells against the published tables and facts of the trade."""

import pytest

from vivid_loom.quantities import Gauge
from vivid_loom.standards import ampacity
from vivid_loom.standards.protection import distance_limit_mm, interrupt_minimum_a

# 33 CFR 183.425 table 5, outside engine spaces; cells typed a second time, from memory
CFR_CELLS = [
    (18, 60, 10),
    (18, 80, 15),
    (18, 105, 20),
    (16, 60, 15),
    (16, 80, 20),
    (16, 105, 25),
    (14, 60, 20),
    (14, 90, 30),
    (14, 105, 35),
    (12, 75, 25),
    (12, 105, 45),
    (10, 60, 40),
    (10, 105, 60),
    (8, 60, 55),
    (8, 105, 80),
    (6, 75, 95),
    (6, 105, 120),
    (4, 90, 135),
    (4, 105, 160),
    (2, 105, 210),
    (1, 105, 245),
    (0, 60, 195),
    (0, 105, 285),
    (-1, 105, 330),
    (-2, 105, 385),
    (-3, 60, 300),
    (-3, 105, 445),
    (-3, 200, 510),
]
# ISO 13297 annex A (formerly ISO 10133); cells typed a second time, from memory
ISO_CELLS = [
    (0.75, 70, 10),
    (1, 70, 14),
    (1.5, 70, 18),
    (2.5, 70, 25),
    (4, 70, 35),
    (6, 70, 45),
    (10, 70, 65),
    (16, 70, 90),
    (25, 70, 120),
    (35, 70, 160),
    (50, 70, 210),
    (70, 70, 265),
    (95, 70, 310),
    (1.5, 90, 21),
    (2.5, 90, 30),
    (4, 105, 45),
    (10, 105, 90),
    (50, 105, 270),
]


@pytest.mark.parametrize(("number", "insulation_c", "amps"), CFR_CELLS)
def test_cells_of_33_cfr_183_425(number: int, insulation_c: int, amps: float) -> None:
    assert ampacity.ampacity_a(Gauge("AWG", number), insulation_c) == amps


@pytest.mark.parametrize(("area", "insulation_c", "amps"), ISO_CELLS)
def test_cells_of_iso_13297(area: float, insulation_c: int, amps: float) -> None:
    assert ampacity.ampacity_a(Gauge("mm2", area), insulation_c) == amps


def test_14_awg_behind_15_a_is_allowed_in_every_column() -> None:
    """Common practice, no source."""
    for column in ampacity.AWG_COLUMNS_C:
        assert ampacity.ampacity_a(Gauge("AWG", 14), column) >= 15


def test_18_awg_behind_15_a_only_from_80_degrees() -> None:
    """Common practice, no source."""
    bears = {c: ampacity.ampacity_a(Gauge("AWG", 18), c) >= 15 for c in ampacity.AWG_COLUMNS_C}
    assert bears == {60: False, 75: False, 80: True, 90: True, 105: True, 125: True, 200: True}


def test_bundling_steps() -> None:
    """ABYC E-11 bundling reduction (from memory)."""
    factors = {n: ampacity.bundle_factor(n) for n in (1, 2, 3, 4, 6, 7, 24, 25, 60)}
    assert factors == {1: 1, 2: 1, 3: 0.7, 4: 0.6, 6: 0.6, 7: 0.5, 24: 0.5, 25: 0.4, 60: 0.4}


def test_distance_edges_are_exact() -> None:
    """33 CFR 183.455 and ABYC E-11: 7, 40 and 72 inches."""
    plain = distance_limit_mm("ABYC", at_battery=False, sheathed=False)
    sheathed = distance_limit_mm("ABYC", at_battery=False, sheathed=True)
    battery = distance_limit_mm("ABYC", at_battery=True, sheathed=True)
    assert plain.limit_mm == pytest.approx(7 * 25.4)
    assert sheathed.limit_mm == pytest.approx(40 * 25.4)
    assert battery.limit_mm == pytest.approx(72 * 25.4)
    assert distance_limit_mm("ISO", at_battery=True, sheathed=False).limit_mm == 200


def test_interrupt_minima_by_cranking_current() -> None:
    """ABYC E-11, 12 V, main / branch (from memory)."""
    assert interrupt_minimum_a(650, main=True) == 1500
    assert interrupt_minimum_a(651, main=True) == 3000
    assert interrupt_minimum_a(1101, main=False) == 2500
