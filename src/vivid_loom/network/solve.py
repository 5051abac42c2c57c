"""The operating point of one network: islands found first, balance checked after."""

from collections.abc import Collection, Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.matrix import Matrix, Standing
from vivid_loom.network.records import Network
from vivid_loom.network.steps import found_balance

__all__ = ["NoOperatingPointError", "OperatingPoint", "Solver", "solve"]

Floats = NDArray[np.float64]


class NoOperatingPointError(ValueError):
    """No voltages were found at which every node is in balance.

    Attributes:
        ids: the draws that are not in balance, the worst first.
    """

    def __init__(self, ids: Sequence[str]) -> None:
        super().__init__(f"no operating point was found; what gave up: {', '.join(ids)}")
        self.ids = tuple(ids)


class OperatingPoint:
    """Voltages and currents of a network.

    Attributes:
        x: volts of the solver's nodes, 0 at the reference and where a node floats.
        imbalance_a: the greatest current missing at any node.
    """

    def __init__(self, solver: "Solver", standing: Standing, x: Floats, imbalance_a: float) -> None:
        self.solver, self.standing, self.x = solver, standing, x
        self.imbalance_a = imbalance_a

    def volts(self, node: str) -> float:
        """Return the voltage of a node; nan where it floats.

        Raises:
            KeyError: a node that nothing lands on.
        """
        at = self.solver.node[node]
        return float("nan") if self.standing.floating[at] else float(self.x[at])

    def across(self, a: str, b: str) -> float:
        """Return the voltage of one node over another; nan where either floats."""
        return self.volts(a) - self.volts(b)

    @cached_property
    def branch_a(self) -> Floats:
        """Currents of the branches from a to b, in the network's order."""
        return self.standing.siemens * self.solver.over_branches(self.x)

    @cached_property
    def branch_v(self) -> dict[str, float]:
        """Voltages over the branches that have a resistance, a over b, by id."""
        over = self.solver.over_branches(self.x).tolist()
        return dict(zip(self.solver.branch_ids, over, strict=True))

    @cached_property
    def bent_v(self) -> Floats:
        """Voltages over what bends, plus over minus."""
        return self.solver.over_bent(self.x)

    @cached_property
    def bent_a(self) -> Floats:
        """Currents of what bends from plus to minus; a source's is negative."""
        return self.standing.bent.currents(self.bent_v)

    @cached_property
    def amps(self) -> dict[str, float]:
        """Currents by id: of branches from a to b, of draws taken, of sources given."""
        solver = self.solver
        found = dict(zip(solver.branch_ids, self.branch_a.tolist(), strict=True))
        bent = self.bent_a.copy()
        first, second = self.standing.bent.starts
        bent[first:second] *= -1
        found |= dict(zip(solver.bent.ids, bent.tolist(), strict=True))
        given = solver.source_a(self.x)
        return found | dict(zip(solver.source_ids, given.tolist(), strict=True))

    @cached_property
    def gave_up(self) -> tuple[str, ...]:
        """Ids of the draws and converters that have some voltage, and too little to work."""
        bent = self.standing.bent
        first, second = bent.starts
        v = np.concatenate((self.bent_v[:first], self.bent_v[second:]))
        least = np.concatenate((bent.least_v, bent.converter_least_v))
        ids = (*bent.ids[:first], *bent.ids[second:])
        asks = np.concatenate((bent.law != 0, np.ones(len(bent.output), dtype=bool)))
        low = asks & (v > 0.01 * least) & (v < least)
        return tuple(name for name, is_low in zip(ids, low.tolist(), strict=True) if is_low)


class Solver(Matrix):
    """A network made ready to be solved in one state after another."""

    def point(self, opened: Collection[str] = ()) -> OperatingPoint:
        """Return the operating point with branches open.

        Raises:
            NoOperatingPointError: none was found.
            KeyError: a branch that is not there.
        """
        return self.point_of(self.standing(opened))

    def point_of(self, standing: Standing) -> OperatingPoint:
        """Return the operating point of a network as it stands; see ``point``."""
        found = found_balance(self, standing)
        if not found.holds:
            raise NoOperatingPointError(self._unbalanced(found.missing_a))
        worst = float(np.abs(found.missing_a).max(initial=0.0))
        return OperatingPoint(self, standing, found.x, worst)

    def _unbalanced(self, missing: Floats) -> list[str]:
        off = np.abs(missing)
        plus, minus = self.bent_ends
        by_draw = np.maximum(off[plus], off[minus])
        worst = np.argsort(-by_draw)[:3]
        return [self.bent.ids[i] for i in worst.tolist()] or ["nothing that draws"]


def solve(network: Network) -> OperatingPoint:
    """Return the operating point of a network with every branch closed.

    Raises:
        NoOperatingPointError: none was found.
        ValueError: a source without resistance.
    """
    return Solver(network).point()
