"""The cutting-stock problem: pieces from stock of several lengths, by column generation.

A pattern says what is cut from one length of stock. The linear program over all patterns is solved
by making patterns only as they are asked for, each the best of a knapsack problem; its value is a
bound on every plan. Whole numbers of the patterns made are then chosen by branch and bound.

References: P. C. Gilmore and R. E. Gomory, A linear programming approach to the cutting-stock
problem, Operations Research 9 (1961) and 11 (1963).
"""

import math
from collections.abc import Sequence
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.workshop.cutting.bins import bin_by_bin, takes_all
from vivid_loom.workshop.cutting.problem import (
    UNLIMITED,
    Cutting,
    Demand,
    NoStockError,
    Stock,
    Used,
    cost_of,
    cut_of,
)

__all__ = ["cut_from"]

Floats = NDArray[np.float64]

ROUNDS: Final = 400  # of making patterns; ends much earlier
EVERY: Final = 4000  # patterns; where there are no more, all of them are tried
SECONDS: Final = 10.0  # for the whole numbers
TINY: Final = 1e-7


class _Pattern(NamedTuple):
    stock: int
    pieces: tuple[int, ...]
    cost: float


def _knapsack(
    values: Sequence[float], demands: Sequence[Demand], room: int
) -> tuple[float, tuple[int, ...]]:
    """Return the most that fits and how many of each: bounded knapsack, by dynamic programming."""
    best: Floats = np.zeros(room + 1)
    bundles: list[tuple[int, int]] = []
    taken: list[NDArray[np.bool_]] = []
    for i, (value, demand) in enumerate(zip(values, demands, strict=True)):
        left = min(demand.many, room // demand.length) if value > TINY else 0
        size = 1
        while left > 0:  # bundles of 1, 2, 4 … and the rest give every number
            many = min(size, left)
            left, size = left - many, size * 2
            weight = many * demand.length
            better = best.copy()
            np.maximum(best[weight:], best[: room + 1 - weight] + many * value, out=better[weight:])
            taken.append(better > best + 1e-12)
            bundles.append((i, many))
            best = better
    counts = [0] * len(demands)
    at = int(best.argmax())
    most = float(best[at])
    for (i, many), took in zip(reversed(bundles), reversed(taken), strict=True):
        if took[at]:
            counts[i] += many
            at -= many * demands[i].length
    return most, tuple(counts)


def _best_pattern(
    j: int, stock: Stock, demands: Sequence[Demand], keep: float, price: Floats
) -> tuple[float, _Pattern]:
    """Return how much a pattern saves at these prices, and the best pattern of a stock length."""
    found: list[tuple[float, _Pattern]] = []
    whole, pieces = _knapsack([float(p) for p in price], demands, stock.length)
    found.append((whole - cost_of(stock, pieces, demands, keep), _Pattern(j, pieces, 0.0)))
    room = stock.length - keep
    if room > 0:
        own = [float(p) - stock.worth * d.length for p, d in zip(price, demands, strict=True)]
        gain, pieces = _knapsack(own, demands, math.floor(room))
        found.append((gain, _Pattern(j, pieces, 0.0)))
    gain, pattern = max(found)
    return gain, pattern._replace(cost=cost_of(stock, pattern.pieces, demands, keep))


def _first_patterns(
    demands: Sequence[Demand], stocks: Sequence[Stock], keep: float
) -> list[_Pattern]:
    """Return for each demand a length of unlimited stock with as many of it as fit."""
    found: list[_Pattern] = []
    for i, demand in enumerate(demands):
        fits = [
            (s.length, j)
            for j, s in enumerate(stocks)
            if s.length >= demand.length and s.many >= UNLIMITED
        ]
        if not fits:
            raise NoStockError(f"found a piece of {demand.length}, longer than any new stock")
        length, j = min(fits)
        pieces = [0] * len(demands)
        pieces[i] = min(demand.many, length // demand.length)
        found.append(_Pattern(j, tuple(pieces), cost_of(stocks[j], pieces, demands, keep)))
    return found


def cut_from(
    demands: Sequence[Demand], stocks: Sequence[Stock], *, keep: float = math.inf
) -> Cutting:
    """Return a plan of least cost for pieces cut from stock.

    Args:
        demands: different lengths.
        stocks: one of them unlimited and longer than every piece.
        keep: rests at least so long go back to the shelf and cost nothing.

    Raises:
        NoStockError: a piece is longer than all unlimited stock.
    """
    if not demands:
        return Cutting((), 0.0, 0.0)
    one_takes_all = takes_all(demands, stocks, keep)
    if one_takes_all is not None:
        return bin_by_bin(demands, stocks, keep, one_takes_all)
    from scipy.optimize import linprog  # slow to load
    from scipy.sparse import csc_array

    patterns = _first_patterns(demands, stocks, keep)
    known = set(patterns)
    limits = [j for j, s in enumerate(stocks) if s.many < UNLIMITED]
    bound = 0.0
    for _ in range(ROUNDS):
        solved = linprog(
            [p.cost for p in patterns],
            A_ub=csc_array(_rows(patterns, demands, limits)),
            b_ub=[-d.many for d in demands] + [stocks[j].many for j in limits],
            method="highs",
        )
        bound = float(solved.fun)
        marginals = -np.asarray(solved.ineqlin.marginals)
        price, rent = marginals[: len(demands)], marginals[len(demands) :]
        fresh: list[_Pattern] = []
        for j, stock in enumerate(stocks):
            gain, pattern = _best_pattern(j, stock, demands, keep, price)
            due = -float(rent[limits.index(j)]) if j in limits else 0.0
            if gain + due > 1e-6 and pattern not in known:
                fresh.append(pattern)
        if not fresh:
            break
        patterns += fresh
        known.update(fresh)
    every = _all_patterns(demands, stocks, keep)
    return _whole(every or patterns, demands, stocks, keep, bound)


def _all_patterns(
    demands: Sequence[Demand], stocks: Sequence[Stock], keep: float
) -> list[_Pattern]:
    """Return every pattern there is where they are few, so that the plan is a best one."""
    found: list[_Pattern] = []
    for j, stock in enumerate(stocks):
        grown: list[tuple[tuple[int, ...], int]] = [((), 0)]
        for demand in demands:
            grown = [
                ((*pieces, n), cut + n * demand.length)
                for pieces, cut in grown
                for n in range(min(demand.many, (stock.length - cut) // demand.length) + 1)
            ]
            if len(grown) > EVERY:
                return []
        found += [_Pattern(j, p, cost_of(stock, p, demands, keep)) for p, cut in grown if cut]
    return found if len(found) <= EVERY else []


def _rows(patterns: Sequence[_Pattern], demands: Sequence[Demand], limits: Sequence[int]) -> Floats:
    """Return the constraints: enough of each piece, no more of limited stock than there is."""
    rows = np.zeros((len(demands) + len(limits), len(patterns)))
    for column, pattern in enumerate(patterns):
        rows[: len(demands), column] = [-n for n in pattern.pieces]
        if pattern.stock in limits:
            rows[len(demands) + limits.index(pattern.stock), column] = 1.0
    return rows


def _whole(
    patterns: Sequence[_Pattern],
    demands: Sequence[Demand],
    stocks: Sequence[Stock],
    keep: float,
    bound: float,
) -> Cutting:
    """Choose whole numbers of patterns; what is cut too many of is left on the stock."""
    from scipy.optimize import Bounds, LinearConstraint, milp  # slow to load
    from scipy.sparse import csc_array

    limits = [j for j, s in enumerate(stocks) if s.many < UNLIMITED]
    upper = [-float(d.many) for d in demands] + [float(stocks[j].many) for j in limits]
    solved = milp(
        [p.cost for p in patterns],
        constraints=LinearConstraint(
            csc_array(_rows(patterns, demands, limits)), ub=np.array(upper)
        ),
        integrality=np.ones(len(patterns)),
        bounds=Bounds(0, np.inf),
        options={"time_limit": SECONDS},
    )
    left = [d.many for d in demands]
    used: list[Used] = []
    chosen = sorted(
        (
            (pattern, round(times))
            for pattern, times in zip(patterns, solved.x, strict=True)
            if round(times)
        ),
        key=lambda item: (item[0].stock, item[0].pieces),
    )
    for pattern, times in chosen:
        for _ in range(times):
            pieces = tuple(min(n, rest) for n, rest in zip(pattern.pieces, left, strict=True))
            left = [rest - n for n, rest in zip(pieces, left, strict=True)]
            if any(pieces):
                used.append(Used(pattern.stock, pieces))
    used = _together(used, demands, stocks, keep)
    used = _together(used, demands, stocks, keep)
    cost = sum(cost_of(stocks[u.stock], u.pieces, demands, keep) for u in used)
    return Cutting(tuple(used), cost, min(bound, cost))


def _together(
    used: Sequence[Used], demands: Sequence[Demand], stocks: Sequence[Stock], keep: float
) -> list[Used]:
    """Cut from one length of unlimited stock what several give whose rests are kept."""
    found: list[Used] = []
    for use in used:
        stock = stocks[use.stock]
        room = stock.length - keep - cut_of(use.pieces, demands)
        into = next(
            (
                i
                for i, other in enumerate(found)
                if other.stock == use.stock
                and stock.many >= UNLIMITED
                and cut_of(other.pieces, demands) <= room
            ),
            None,
        )
        if into is None:
            found.append(use)
            continue
        both = zip(found[into].pieces, use.pieces, strict=True)
        found[into] = Used(use.stock, tuple(a + b for a, b in both))
    return found
