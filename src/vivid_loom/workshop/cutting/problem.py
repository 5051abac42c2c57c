"""The cutting-stock problem in whole units: what is asked, what there is, and a plan."""

from collections.abc import Sequence
from typing import Final, NamedTuple

__all__ = ["UNLIMITED", "Cutting", "Demand", "NoStockError", "Stock", "Used", "cost_of", "cut_of"]

UNLIMITED: Final = 10**6


class NoStockError(ValueError):
    """A piece is longer than anything in stock."""


class Demand(NamedTuple):
    """So many pieces of one length, in whole units."""

    length: int
    many: int


class Stock(NamedTuple):
    """So many lengths of stock, in whole units.

    Attributes:
        worth: of one unit; what is cheap is used up first.
    """

    length: int
    many: int = UNLIMITED
    worth: float = 1.0


class Used(NamedTuple):
    """One length of stock and what is cut from it: ``pieces[i]`` of the i-th demand."""

    stock: int
    pieces: tuple[int, ...]


class Cutting(NamedTuple):
    """A plan.

    Attributes:
        cost: worth of what is used up: whole lengths, but not the rests that are kept.
        bound: no plan costs less.
    """

    used: tuple[Used, ...]
    cost: float
    bound: float

    @property
    def gap_percent(self) -> float:
        """How far the plan may at most be from the best one."""
        return 100 * (self.cost - self.bound) / self.bound if self.bound > 0 else 0.0


def cut_of(pieces: Sequence[int], demands: Sequence[Demand]) -> int:
    """Return what pieces measure together."""
    return sum(n * d.length for n, d in zip(pieces, demands, strict=True))


def cost_of(stock: Stock, pieces: Sequence[int], demands: Sequence[Demand], keep: float) -> float:
    """Return what cutting pieces from a length uses up: all of it, but for a rest that is kept."""
    cut = cut_of(pieces, demands)
    return stock.worth * (cut if stock.length - cut >= keep else stock.length)
