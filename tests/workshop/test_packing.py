"""Mixed wires: nothing overlaps, nothing sticks out, and a long search finds little better."""

import math
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from vivid_loom.workshop.packing import Packing, pack, pack_with_starts

WIRES = (2.3, 2.6, 3.0, 3.5, 4.4, 6.0, 9.0)


def check(diameters: tuple[float, ...], packing: Packing) -> None:
    radii = [d / 2 for d in diameters]
    at = packing.centres
    assert len(at) == len(radii)
    for i, (x, y) in enumerate(at):
        assert math.hypot(x, y) + radii[i] <= packing.diameter_mm / 2 * (1 + 1e-9)
        for j in range(i):
            apart = math.hypot(x - at[j][0], y - at[j][1])
            assert apart >= (radii[i] + radii[j]) * (1 - 1e-9)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.floats(0.8, 20.0), min_size=1, max_size=14))
def test_nothing_overlaps_or_sticks_out(diameters: list[float]) -> None:
    packing = pack(tuple(diameters))
    check(tuple(diameters), packing)
    area = sum(d * d for d in diameters)
    assert packing.diameter_mm >= max(diameters) - 1e-9
    assert packing.diameter_mm**2 >= area - 1e-6
    assert packing.diameter_mm <= sum(diameters) + 1e-6


@pytest.mark.parametrize("count", [4, 8, 11, 15, 18, 26, 40, 60])
def test_within_three_per_cent_of_the_best_of_fifty(count: int) -> None:
    rng = random.Random(count)
    diameters = tuple(rng.choice(WIRES) for _ in range(count))
    quick = pack(diameters)
    check(diameters, quick)
    best = pack_with_starts(diameters, 50)
    check(diameters, best)
    assert quick.diameter_mm <= 1.03 * best.diameter_mm


def test_the_biggest_bundles_are_packed_too() -> None:
    rng = random.Random(3)
    diameters = tuple(rng.choice(WIRES) for _ in range(200))
    packing = pack(diameters)
    check(diameters, packing)
    assert sum(d * d for d in diameters) / packing.diameter_mm**2 > 0.7


def test_same_input_same_output_and_bad_input_is_refused() -> None:
    assert pack_with_starts((2.0, 3.0, 4.0, 3.0), 4) == pack_with_starts((2.0, 3.0, 4.0, 3.0), 4)
    assert pack(()) == Packing((), 0.0)
    assert pack((4.0,)).diameter_mm == 4.0
    for bad in ((0.0, 1.0), (-1.0,), (math.nan, 2.0), (math.inf,)):
        with pytest.raises(ValueError, match="finite"):
            pack(bad)
