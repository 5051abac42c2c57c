"""Cutting from few lengths of stock, each by itself: a mixed-integer program of its own."""

from collections.abc import Sequence
from typing import Final

import numpy as np
from numpy.typing import NDArray

from vivid_loom.workshop.cutting.problem import UNLIMITED, Cutting, Demand, Stock, Used, cost_of

__all__ = ["bin_by_bin", "takes_all"]

Floats = NDArray[np.float64]

SECONDS: Final = 10.0


def takes_all(demands: Sequence[Demand], stocks: Sequence[Stock], keep: float) -> int | None:
    """Return unlimited stock of which one length takes every piece and leaves a rest to keep."""
    needed = sum(d.length * d.many for d in demands)
    fits = [j for j, s in enumerate(stocks) if s.many >= UNLIMITED and s.length - needed >= keep]
    return min(fits, key=lambda j: stocks[j].worth) if fits else None


class _Program:
    """Rows of the program; its columns are pieces by length of stock, then three for each length:
    whether it is cut at all, whether its rest is kept, and what is used up.
    """

    def __init__(self, kinds: int, lengths: int) -> None:
        self.kinds, self.lengths = kinds, lengths
        self.rows: list[Floats] = []
        self.low: list[float] = []
        self.high: list[float] = []

    @property
    def width(self) -> int:
        return (self.kinds + 3) * self.lengths

    def piece(self, kind: int, at: int) -> int:
        return kind * self.lengths + at

    def cut(self, at: int) -> int:
        return self.kinds * self.lengths + at

    def kept(self, at: int) -> int:
        return (self.kinds + 1) * self.lengths + at

    def gone(self, at: int) -> int:
        return (self.kinds + 2) * self.lengths + at

    def constrain(self, terms: dict[int, float], least: float, most: float) -> None:
        row = np.zeros(self.width)
        for column, factor in terms.items():
            row[column] = factor
        self.rows.append(row)
        self.low.append(least)
        self.high.append(most)


def bin_by_bin(
    demands: Sequence[Demand], stocks: Sequence[Stock], keep: float, spare: int
) -> Cutting:
    """Return the best plan where few lengths of stock are in question.

    Args:
        spare: unlimited stock of which one length would take everything.
    """
    from scipy.optimize import Bounds, LinearConstraint, milp  # slow to load
    from scipy.sparse import csc_array

    bins = [j for j, s in enumerate(stocks) if s.many < UNLIMITED for _ in range(s.many)]
    bins.append(spare)
    made = _Program(len(demands), len(bins))
    for i, demand in enumerate(demands):
        every = {made.piece(i, at): 1.0 for at in range(len(bins))}
        made.constrain(every, demand.many, demand.many)
    for at, j in enumerate(bins):
        length = float(stocks[j].length)
        cut = {made.piece(i, at): float(d.length) for i, d in enumerate(demands)}
        opened, kept, gone = made.cut(at), made.kept(at), made.gone(at)
        made.constrain({**cut, opened: -length, kept: min(keep, length)}, -np.inf, 0.0)
        made.constrain({kept: 1.0, opened: -1.0}, -np.inf, 0.0)
        made.constrain({gone: -1.0, **cut}, -np.inf, 0.0)
        made.constrain({gone: -1.0, opened: length, kept: -length}, -np.inf, 0.0)
    cost, upper, whole = np.zeros(made.width), np.full(made.width, np.inf), np.ones(made.width)
    cost[made.gone(0) :] = [stocks[j].worth for j in bins]
    upper[made.cut(0) : made.gone(0)] = 1.0
    whole[made.gone(0) :] = 0.0
    solved = milp(
        cost,
        constraints=LinearConstraint(
            csc_array(np.array(made.rows)), np.array(made.low), np.array(made.high)
        ),
        integrality=whole,
        bounds=Bounds(np.zeros(made.width), upper),
        options={"time_limit": SECONDS, "mip_rel_gap": 1e-6},
    )
    counts = np.rint(solved.x[: made.cut(0)]).astype(int).reshape(len(demands), len(bins))
    used = tuple(
        Used(j, tuple(int(n) for n in counts[:, at]))
        for at, j in enumerate(bins)
        if counts[:, at].any()
    )
    value = sum(cost_of(stocks[use.stock], use.pieces, demands, keep) for use in used)
    return Cutting(used, value, min(float(solved.mip_dual_bound), value))
