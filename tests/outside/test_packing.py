"""Bundle diameters against the published optima of equal circles in a circle."""

import pytest

from vivid_loom.workshop.packing import pack

# Graham, Lubachevsky, Nurmela, Ostergard 1998, "Dense packings of congruent circles in a circle",
# Discrete Mathematics 181, 139-154; ratios R/r as tabulated there, from memory
OPTIMA = {
    2: 2.000,
    3: 2.155,
    4: 2.414,
    5: 2.701,
    6: 3.000,
    7: 3.000,
    8: 3.304,
    9: 3.613,
    10: 3.813,
    11: 3.924,
    12: 4.029,
    13: 4.236,
    14: 4.328,
    15: 4.521,
    16: 4.615,
    17: 4.792,
    18: 4.863,
    19: 4.863,
}


@pytest.mark.parametrize("count", OPTIMA)
def test_equal_wires_pack_within_one_per_cent_of_the_optimum(count: int) -> None:
    ratio = pack((2.6,) * count).diameter_mm / 2.6
    assert OPTIMA[count] * 0.999 <= ratio <= OPTIMA[count] * 1.01


@pytest.mark.parametrize(("count", "ratio"), [(2, 2.0), (7, 3.0)])
def test_facts_of_the_trade(count: int, ratio: float) -> None:
    """A pair packs to twice, seven to three times the diameter: common practice, no source."""
    assert pack((3.1,) * count).diameter_mm == pytest.approx(ratio * 3.1, rel=1e-3)


def test_three_touching_circles_by_geometry() -> None:
    """Outer Soddy circle of three mutually touching circles: Descartes' theorem, 1643."""
    a, b, c = 2.0, 2.1, 2.3
    k = 1 / a + 1 / b + 1 / c - 2 * (1 / (a * b) + 1 / (b * c) + 1 / (c * a)) ** 0.5
    assert pack((2 * a, 2 * b, 2 * c)).diameter_mm == pytest.approx(-2 / k, rel=1e-3)
