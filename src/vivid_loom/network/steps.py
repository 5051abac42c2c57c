"""The way to an operating point: steps on one factorisation, then Newton's.

What bends is first taken as what works at its voltage draws; where that does not settle, as steep
as it gets, so that steps never go past balance; Newton's method finishes what is slow.
"""

from typing import TYPE_CHECKING, Final

import numpy as np
from numpy.typing import NDArray
from scipy.sparse.linalg import splu

from vivid_loom.network.laws import RESISTANCE
from vivid_loom.network.records import LEAK_S

if TYPE_CHECKING:
    from vivid_loom.network.solve import Solver, Standing

__all__ = ["found_balance", "in_balance"]

Floats = NDArray[np.float64]

CLOSE: Final = 1e-10  # of the greatest voltage: the last step of an operating point
SLOW: Final = 0.35  # steps that shrink less than to this share are left for Newton's
BALANCED: Final = 1e-8  # of the greatest current: what may be missing at a node
QUICK_STEPS, STEPS, PATIENT_STEPS, NEWTON_STEPS, ROUNDS = 16, 24, 300, 30, 8


def found_balance(solver: "Solver", standing: "Standing") -> tuple[Floats, int]:
    """Return voltages as near to balance as can be found, and how many matrices they took."""
    quick = _Steady(solver, standing, standing.working)
    x, settled = quick.go_on(quick.begin(), QUICK_STEPS, SLOW)
    if settled and not _creeps(solver, standing, x):
        return x, 1
    steady = _Steady(solver, standing, standing.slopes)
    x = steady.begin()
    factorised, patience, slow = 2, STEPS, SLOW
    for _ in range(ROUNDS):
        x, settled = steady.go_on(x, patience, slow)
        settled = settled and not _creeps(solver, standing, x)
        if not settled:
            nearer, count = _newton(solver, standing, x)
            factorised += count
            if in_balance(solver, standing, nearer):
                return nearer, factorised
        if settled or in_balance(solver, standing, x):
            break
        patience, slow = PATIENT_STEPS, 1.0
    return x, factorised


def in_balance(solver: "Solver", standing: "Standing", x: Floats) -> bool:
    """Tell whether every node is in balance, as far as its last digits tell."""
    missing, greatest = solver.balance(standing, x)
    worst = float(np.abs(missing).max(initial=0.0))
    # a node between thick conductors cannot be told closer than its last digits allow
    told = float(standing.siemens.max(initial=0.0)) * float(np.abs(x).max(initial=0.0)) * 1e-14
    return worst <= BALANCED * greatest + told


def _creeps(solver: "Solver", standing: "Standing", x: Floats) -> bool:
    """Tell whether something hangs on plus by its insulation; taken for steep it creeps."""
    first, _ = standing.bent.starts
    v = solver.over_bent(x)[:first]
    idle = (np.abs(v) < standing.bent.idle_v) & (standing.bent.law != RESISTANCE)
    return bool((idle & (standing.slopes[:first] > 10 * LEAK_S)).any())


def _newton(solver: "Solver", standing: "Standing", x: Floats) -> tuple[Floats, int]:
    """Go on with true slopes, no voltage moved further at once than leads towards balance.

    Returns:
        The voltages, and how many matrices were factorised for them.
    """
    bent = standing.bent
    missing, greatest = solver.balance(standing, x)
    off = float(np.linalg.norm(missing))
    furthest = 0.25 * float(np.abs(x).max(initial=0.0))
    for count in range(1, NEWTON_STEPS + 1):  # noqa: B007
        v = solver.over_bent(x)
        matrix = solver.matrix(standing, bent.slopes(v), bent.coupling(v))
        step = splu(matrix).solve(missing)
        longest = float(np.abs(step).max(initial=0.0))
        share = min(1.0, furthest / longest) if longest else 1.0
        x = x - share * step
        missing, greatest = solver.balance(standing, x)
        now = float(np.linalg.norm(missing))
        if now > off:
            furthest = max(furthest / 2, 1e-3)
        off = now
        if longest <= CLOSE * float(np.abs(x).max(initial=0.0)) or now <= 1e-14 * greatest:
            break
    return x, count


class _Steady:
    """Steps towards balance on one factorisation.

    With the steepest slopes they never go past it, so that they end at an operating point that is
    stable, however slowly.
    """

    def __init__(self, solver: "Solver", standing: "Standing", slopes: Floats) -> None:
        self._solver, self._standing = solver, standing
        self._lu = splu(solver.matrix(standing, slopes))
        self._limits = solver.at_limits(standing)
        self._pulled = self._lu.solve(self._limits) if self._limits.size else self._limits
        self._regime = np.zeros(self._limits.shape[1], dtype=np.int64)

    def begin(self) -> Floats:
        """Return voltages to begin from: everything linear, no source at its limit."""
        standing = self._standing
        driven = self._solver.driven(standing) + self._limits @ standing.bent.usual_drive()
        x: Floats = self._lu.solve(driven)
        return x

    def go_on(self, x: Floats, steps: int, slow: float) -> tuple[Floats, bool]:
        """Return voltages nearer to balance, and whether they have settled.

        Args:
            slow: the share of the step before from which a step is too long to go on with.
        """
        bent, last = self._standing.bent, np.inf
        for _ in range(steps):
            before, self._regime = self._regime, bent.regimes(self._limits.T @ x, self._regime)
            missing, _ = self._solver.balance(self._standing, x, self._regime)
            step = self._lu.solve(missing)
            if self._limits.size:  # a source at its limit has no slope: one rank less each
                more = -bent.limit_slopes(self._regime)
                kernel = np.eye(len(more)) + more[:, None] * (self._limits.T @ self._pulled)
                step -= self._pulled @ np.linalg.solve(kernel, more * (self._limits.T @ step))
            x = x - step
            now, most = float(np.abs(step).max(initial=0.0)), float(np.abs(x).max(initial=0.0))
            same = np.array_equal(before, self._regime)
            if same and now <= CLOSE * most:
                return x, True
            if same and now > slow * last and now > 10 * CLOSE * most:
                break
            last = now
        return x, False
