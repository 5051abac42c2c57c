"""Feeder demand by the load worksheet: A-loads run when they must, B-loads now and then."""

from collections.abc import Iterable
from typing import Final, Literal, NamedTuple

from vivid_loom.standards.source import Source

__all__ = ["DEMAND_SOURCE", "Demand", "feeder_demand"]

DEMAND_SOURCE: Final = Source("ABYC E-11", "load worksheet", "from memory")


Kind = Literal["A", "B", "spare"]


class Demand(NamedTuple):
    """Current a feeder must carry, and the sums behind it, in A.

    Attributes:
        spare_sum_a, spare_largest_a: allowance for what is still to come: a class of its own, so
            that it is not void beside the largest B-load. Our choice.
    """

    a_sum_a: float
    b_sum_a: float
    b_largest_a: float
    spare_sum_a: float = 0.0
    spare_largest_a: float = 0.0

    @property
    def total_a(self) -> float:
        """All A-loads plus the larger of 10 % of the B-loads and the largest; spares likewise."""
        return (
            self.a_sum_a
            + max(0.1 * self.b_sum_a, self.b_largest_a)
            + max(0.1 * self.spare_sum_a, self.spare_largest_a)
        )

    @property
    def everything_a(self) -> float:
        """Every load on at the same time."""
        return self.a_sum_a + self.b_sum_a + self.spare_sum_a


def feeder_demand(loads: Iterable[tuple[Kind, float]]) -> Demand:
    """Return the demand of ``(class, amps)`` pairs on one feeder."""
    sums: dict[Kind, float] = {"A": 0.0, "B": 0.0, "spare": 0.0}
    largest = dict(sums)
    for kind, amps in loads:
        sums[kind] += amps
        largest[kind] = max(largest[kind], amps)
    return Demand(sums["A"], sums["B"], largest["B"], sums["spare"], largest["spare"])
