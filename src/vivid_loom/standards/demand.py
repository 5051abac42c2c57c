"""Feeder demand by the load worksheet: A-loads run when they must, B-loads now and then."""

from collections.abc import Iterable
from typing import Final, Literal, NamedTuple

from vivid_loom.standards.source import Source

__all__ = ["DEMAND_SOURCE", "Demand", "feeder_demand"]

DEMAND_SOURCE: Final = Source("ABYC E-11", "load worksheet", "from memory")


class Demand(NamedTuple):
    """Current a feeder must carry, and the two sums behind it, in A."""

    a_sum_a: float
    b_sum_a: float
    b_largest_a: float

    @property
    def total_a(self) -> float:
        """All A-loads plus the larger of 10 % of the B-loads or the largest of them."""
        return self.a_sum_a + max(0.1 * self.b_sum_a, self.b_largest_a)

    @property
    def everything_a(self) -> float:
        """Every load on at the same time."""
        return self.a_sum_a + self.b_sum_a


def feeder_demand(loads: Iterable[tuple[Literal["A", "B"], float]]) -> Demand:
    """Return the demand of ``(class, amps)`` pairs on one feeder."""
    a_sum = b_sum = b_largest = 0.0
    for demand_class, amps in loads:
        if demand_class == "A":
            a_sum += amps
        else:
            b_sum += amps
            b_largest = max(b_largest, amps)
    return Demand(a_sum, b_sum, b_largest)
