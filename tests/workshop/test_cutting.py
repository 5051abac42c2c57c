"""Cutting from stock: published instances, and small ones against trying everything."""

import math
import random
from functools import cache
from itertools import product

import pytest

from vivid_loom.workshop.cutting.patterns import cut_from
from vivid_loom.workshop.cutting.problem import Cutting, Demand, NoStockError, Stock


def holds(done: Cutting, demands: list[Demand], stocks: list[Stock]) -> None:
    """Every piece is cut once, nothing is cut from more than there is."""
    for i, demand in enumerate(demands):
        assert sum(used.pieces[i] for used in done.used) == demand.many
    for j, stock in enumerate(stocks):
        here = [used for used in done.used if used.stock == j]
        assert len(here) <= stock.many
        for used in here:
            lengths = zip(used.pieces, demands, strict=True)
            assert sum(n * d.length for n, d in lengths) <= stock.length


def test_chvatal_paper_mill() -> None:
    """V. Chvátal, Linear Programming, chapter 13: raws of 100 inches; 452.25 rolls as a linear
    program, 453 whole ones. From memory.
    """
    demands = [Demand(45, 97), Demand(36, 610), Demand(31, 395), Demand(14, 211)]
    stocks = [Stock(100)]
    done = cut_from(demands, stocks)
    holds(done, demands, stocks)
    assert done.bound == pytest.approx(100 * 452.25)
    assert len(done.used) == 453
    assert done.gap_percent < 1


def test_thirteen_widths_from_a_paper_machine() -> None:
    """A worked example often printed with the problem: master rolls of 5600 mm, 219 pieces of
    thirteen widths; at least 73 rolls, and 73 do. From memory.
    """
    widths = (1380, 1520, 1560, 1710, 1820, 1880, 1930, 2000, 2050, 2100, 2140, 2150, 2200)
    counts = (22, 25, 12, 14, 18, 18, 20, 10, 12, 14, 16, 18, 20)
    demands = [Demand(w, n) for w, n in zip(widths, counts, strict=True)]
    done = cut_from(demands, [Stock(5600)])
    holds(done, demands, [Stock(5600)])
    assert len(done.used) == 73
    assert math.ceil(done.bound / 5600 - 1e-9) == 73


def best_by_trying(demands: list[Demand], stocks: list[Stock], keep: float) -> float:
    """Return the least cost by trying every way, one length of stock after another."""

    @cache
    def least(left: tuple[int, ...], there: tuple[int, ...]) -> float:
        if not any(left):
            return 0.0
        best = math.inf
        for j, stock in enumerate(stocks):
            if not there[j]:
                continue
            rest = tuple(n - (i == j) for i, n in enumerate(there))
            for pieces in product(*(range(n + 1) for n in left)):
                cut = sum(n * d.length for n, d in zip(pieces, demands, strict=True))
                if not any(pieces) or cut > stock.length:
                    continue
                whole = stock.length if stock.length - cut < keep else cut
                after = tuple(n - m for n, m in zip(left, pieces, strict=True))
                best = min(best, stock.worth * whole + least(after, rest))
        return best

    return least(tuple(d.many for d in demands), tuple(min(s.many, 4) for s in stocks))


@pytest.mark.parametrize("seed", range(40))
def test_small_ones_against_trying_everything(seed: int) -> None:
    rng = random.Random(seed)
    lengths = rng.sample(range(3, 14), 3)
    demands = [Demand(length, rng.randint(1, 2)) for length in lengths]
    stocks = [
        Stock(rng.randint(8, 16), 1, 0.8),
        Stock(rng.randint(14, 20), 1, 0.8),
        Stock(rng.choice((30, 30, 90))),
    ]
    keep = rng.choice((4.0, 9.0, math.inf))
    done = cut_from(demands, stocks, keep=keep)
    holds(done, demands, stocks)
    best = best_by_trying(demands, stocks, keep)
    assert done.bound <= best + 1e-6
    assert done.cost == pytest.approx(best)


def test_a_remnant_is_used_before_a_new_spool() -> None:
    done = cut_from([Demand(30, 1)], [Stock(32, 1, 0.8), Stock(1000)], keep=10)
    assert [used.stock for used in done.used] == [0]


def test_a_rest_that_is_kept_costs_nothing() -> None:
    done = cut_from([Demand(30, 2)], [Stock(1000)], keep=10)
    assert (done.cost, done.bound) == (60.0, pytest.approx(60.0))


def test_a_piece_longer_than_any_spool_is_said() -> None:
    with pytest.raises(NoStockError, match="found a piece of 1200"):
        cut_from([Demand(1200, 1)], [Stock(1000)])
