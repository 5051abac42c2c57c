"""Chains of jumpers: the shortest up to ten switches, near a lower bound above."""

import math
import random
from itertools import pairwise

import numpy as np
import pytest
from numpy.typing import NDArray

from vivid_loom.drafting.helm.chains import EXACT_UP_TO, chain_length, shortest_chain

Points = tuple[tuple[float, float], ...]
Floats = NDArray[np.float64]


def shortest_mm(points: Points, *, from_first: bool) -> float:
    """Try every order, leaving those that are already longer than the best."""
    best = math.inf

    def go_on(at: int, left: frozenset[int], so_far: float) -> None:
        nonlocal best
        if so_far >= best:
            return
        if not left:
            best = so_far
            return
        for other in sorted(left, key=lambda i: math.dist(points[at], points[i])):
            go_on(other, left - {other}, so_far + math.dist(points[at], points[other]))

    everyone = frozenset(range(len(points)))
    for start in (0,) if from_first else range(len(points)):
        go_on(start, everyone - {start}, 0.0)
    return best


def bound_mm(points: Points) -> float:
    """Return what no chain is shorter than: Held and Karp's 1-tree bound (1970) on the tour that
    a point at no distance from any other closes.
    """
    count = len(points)
    apart = np.zeros((count + 1, count + 1))
    for i, a in enumerate(points):
        apart[i, :count] = [math.dist(a, b) for b in points]
    weight, best = np.zeros(count + 1), 0.0
    step = max(1.0, float(apart.max())) / 8
    for _ in range(400):
        priced = apart + weight[:, None] + weight[None]
        degree, total = _one_tree(priced)
        best = max(best, total - 2 * float(weight.sum()))
        if all(degree == 2):
            break
        weight += step * (degree - 2)
        step *= 0.99
    return best


def _one_tree(
    priced: "np.ndarray[tuple[int, int], np.dtype[np.float64]]",
) -> tuple[np.ndarray, float]:  # type: ignore[type-arg]
    """Return degrees and length of the shortest tree over all but the last point, and its two
    shortest links.
    """
    count = len(priced) - 1
    degree, total = np.zeros(count + 1), 0.0
    near, came = priced[0, :count].copy(), np.zeros(count, dtype=int)
    outside = np.ones(count, dtype=bool)
    outside[0] = False
    for _ in range(count - 1):
        at = int(np.where(outside, near, np.inf).argmin())
        total += float(near[at])
        degree[[at, came[at]]] += 1
        outside[at] = False
        closer = outside & (priced[at, :count] < near)
        near[closer], came[closer] = priced[at, :count][closer], at
    first, second = np.argsort(priced[count, :count])[:2]
    degree[[first, second]] += 1
    degree[count] = 2
    return degree, total + float(priced[count, first] + priced[count, second])


def panel(rng: random.Random, count: int, columns: int) -> Points:
    """Return tabs of switches on some of a panel's positions, a few of them at odd heights."""
    places = rng.sample([(26.0 * c, 62.0 * r) for r in range(3) for c in range(columns)], count)
    return tuple(
        (x + rng.choice((-7.0, 0.0, 7.0)), y + rng.choice((-19.0, 0.0))) for x, y in places
    )


@pytest.mark.parametrize("count", range(1, 11))
@pytest.mark.parametrize("from_first", [True, False])
def test_up_to_ten_switches_no_chain_is_shorter(count: int, from_first: bool) -> None:
    rng = random.Random(count)
    for _ in range(6 if count < 9 else 2):
        points = panel(rng, count, 8)
        order = shortest_chain(points, from_first=from_first)
        assert sorted(order) == list(range(count))
        assert not from_first or order[0] == 0
        expected = shortest_mm(points, from_first=from_first)
        assert chain_length(points, order) == pytest.approx(expected)


@pytest.mark.parametrize("count", [13, 16, 20, 24, 30])
def test_above_it_a_chain_is_within_five_per_cent_of_a_bound(count: int) -> None:
    assert count > EXACT_UP_TO
    rng = random.Random(count)
    worst = 0.0
    for _ in range(8):
        points = panel(rng, count, 12)
        order = shortest_chain(points, from_first=False)
        assert sorted(order) == list(range(count))
        worst = max(worst, chain_length(points, order) / bound_mm(points) - 1)
    print(f"{count} tabs: at most {100 * worst:.2f} % above the bound")
    assert worst < 0.05


def test_a_whole_row_is_met_from_end_to_end() -> None:
    row = tuple((26.0 * i, 0.0) for i in range(24))
    order = shortest_chain(row, from_first=False)
    assert {abs(a - b) for a, b in pairwise(order)} == {1}
