"""The way to an operating point: steps on one factorisation, then Newton's.

What bends is first taken as what works at its voltage draws; where that does not settle, as steep
as it gets, so that steps never go past balance; Newton's method finishes what is slow.
"""

from functools import cached_property
from typing import TYPE_CHECKING, Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.laws import RESISTANCE
from vivid_loom.network.records import LEAK_S

if TYPE_CHECKING:
    from vivid_loom.network.solve import Solver, Standing

__all__ = ["Found", "found_balance"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

CLOSE: Final = 1e-10  # of the greatest voltage: the last step of an operating point
SLOW: Final = 0.35  # steps that shrink less than to this share are left for Newton's
BALANCED: Final = 1e-8  # of the greatest current: what may be missing at a node
QUICK_STEPS, STEPS, PATIENT_STEPS, NEWTON_STEPS, ROUNDS = 16, 24, 300, 30, 8
REFINED: Final = 3  # times at most that rounding is taken back; our choice


class Found(NamedTuple):
    """Voltages as near to balance as could be found.

    Attributes:
        missing_a: current missing at every node; ``holds`` tells whether that is none.
        factorised: how many matrices they took.
    """

    x: Floats
    missing_a: Floats
    holds: bool
    factorised: int


def found_balance(solver: "Solver", standing: "Standing") -> Found:
    """Return voltages as near to balance as can be found."""
    quick = _Steady(solver, standing, standing.working)
    x, settled = quick.go_on(quick.begin(), QUICK_STEPS, SLOW)
    if settled and not _creeps(solver, standing, x):
        return Found(*quick.refined(x), 1)
    steady = _Steady(solver, standing, standing.slopes)
    x = steady.begin()
    factorised, patience, slow = 2, STEPS, SLOW
    for _ in range(ROUNDS):
        x, settled = steady.go_on(x, patience, slow)
        settled = settled and not _creeps(solver, standing, x)
        if not settled:
            nearer, count = _newton(solver, standing, x)
            factorised += count
            missing, holds = missing_at(solver, standing, nearer)
            if holds:
                return Found(nearer, missing, holds, factorised)
        if settled or missing_at(solver, standing, x)[1]:
            break
        patience, slow = PATIENT_STEPS, 1.0
    return Found(*steady.refined(x), factorised)


def missing_at(solver: "Solver", standing: "Standing", x: Floats) -> tuple[Floats, bool]:
    """Return the current missing at every node, and whether that is none but for last digits."""
    missing, greatest = solver.balance(standing, x)
    worst = float(np.abs(missing).max(initial=0.0))
    # a node between thick conductors cannot be told closer than its last digits allow
    told = float(standing.siemens.max(initial=0.0)) * float(np.abs(x).max(initial=0.0)) * 1e-14
    return missing, worst <= BALANCED * greatest + told


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
    from scipy.sparse.linalg import splu

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
        self._solver, self._standing, self._slopes = solver, standing, slopes
        self._lu = solver.factorised(standing, slopes)
        self._driven = solver.driven(standing)
        self._between = slice(*standing.bent.starts)
        self._lies_on(np.zeros(len(standing.bent.source_v), dtype=np.int64))

    @cached_property
    def _pulled(self) -> Floats:
        """Volts at the nodes per ampere that each limited source takes."""
        pulled: Floats = self._lu.solve(self._solver.at_limits(self._standing))
        return pulled

    def begin(self) -> Floats:
        """Return voltages to begin from: everything linear, no source at its limit."""
        begun = np.zeros(len(self._slopes))
        begun[self._between] = self._standing.bent.usual_drive()
        drive = self._solver.into_nodes(begun) * self._standing.live
        x: Floats = self._lu.solve(self._driven + drive)
        return x

    def _lies_on(self, regime: Ints) -> None:
        """Take the limited sources for these straight lines: one at its limit has no slope."""
        self._regime = regime
        self._flat = self._standing.bent.limit_slopes(regime)
        self._straight = self._slopes.copy()
        self._straight[self._between] -= self._flat
        self._given_back: Floats | None = None
        if self._flat.any():
            pulled = self._pulled
            over = self._solver.over_bent(pulled)[self._between]
            kernel = np.eye(len(self._flat)) - self._flat[:, None] * over
            self._given_back = pulled @ np.linalg.inv(kernel)

    def _next(self, v: Floats) -> Floats:
        """Return the voltages at which straight lines through the currents at ``v`` balance.

        Each of what bends is taken for its current there with the slope that was factorised; a
        source at its limit has no slope, which is one rank less each.
        """
        solver, bent = self._solver, self._standing.bent
        beyond = solver.into_nodes(self._straight * v - bent.currents(v, self._regime))
        x: Floats = self._lu.solve(self._driven + beyond * self._standing.live)
        if self._given_back is not None:
            x += self._given_back @ (self._flat * solver.over_bent(x)[self._between])
        return x

    def go_on(self, x: Floats, steps: int, slow: float) -> tuple[Floats, bool]:
        """Return voltages nearer to balance, and whether they have settled.

        Args:
            slow: the share of the step before from which a step is too long to go on with.
        """
        bent, last = self._standing.bent, np.inf
        close = CLOSE * float(np.abs(x).max(initial=0.0))
        v = self._solver.over_bent(x)
        for _ in range(steps):
            regime = bent.regimes(v[self._between], self._regime)
            same = regime is self._regime or np.array_equal(regime, self._regime)
            if not same:
                self._lies_on(regime)
            nearer = self._next(v)
            now = float(np.abs(nearer - x).max(initial=0.0))
            x, v = nearer, self._solver.over_bent(nearer)
            if same and now <= close:
                return x, True
            if same and now > slow * last and now > 10 * close:
                break
            last = now
        return x, False

    def refined(self, x: Floats) -> tuple[Floats, Floats, bool]:
        """Return voltages with what rounding left missing at the nodes taken back, see ``Found``.

        Between thick conductors and thin air a step's own rounding may be more than is asked for.
        """
        missing, holds = missing_at(self._solver, self._standing, x)
        for _ in range(REFINED):
            if holds:
                break
            x = x - self._lu.solve(missing)
            missing, holds = missing_at(self._solver, self._standing, x)
        return x, missing, holds
