"""The way to an operating point: steps on one factorisation, then Newton's.

What bends is first taken as what works at its voltage draws; where that does not settle, as steep
as it gets, so that steps never go past balance; Newton's method finishes what is slow.
"""

from functools import cached_property
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.laws import RESISTANCE, Lines
from vivid_loom.network.matrix import Matrix, Standing
from vivid_loom.network.newton import newton
from vivid_loom.network.records import LEAK_S

__all__ = ["Found", "found_balance"]

Floats = NDArray[np.float64]

CLOSE: Final = 1e-10  # of the greatest voltage: the last step of an operating point
QUITE_CLOSE: Final = 1e-8  # the same where steps shrink fast: what is told is good to 1e-6
SLOW: Final = 0.35  # steps that shrink less than to this share are left for Newton's
BALANCED: Final = 1e-8  # of the greatest current: what may be missing at a node
QUICK_STEPS, STEPS, PATIENT_STEPS, ROUNDS = 16, 24, 300, 8
RUNAWAY: Final = 1e3  # of the greatest voltage: so long a step leads nowhere
REFINED: Final = 3  # times at most that rounding is taken back; our choice


class Found(NamedTuple):
    """Voltages as near to balance as could be found.

    Attributes:
        missing_a: current missing at every node; ``holds`` tells whether that is none.
    """

    x: Floats
    missing_a: Floats
    holds: bool


def found_balance(solver: Matrix, standing: Standing) -> Found:
    """Return voltages as near to balance as can be found."""
    quick = _Steady(solver, standing, standing.working)
    x, settled = quick.go_on(quick.at_work(), QUICK_STEPS, SLOW, hasten=True)
    if settled and not quick.creeps(x):
        found = quick.refined(x)
        if found.holds:
            return found
    found = _Steady(solver, standing, standing.slopes).found()
    if found.holds:
        return found
    # what was taken for dark wakes where a thin wire parts the volts of what it joins
    return _Steady(solver, standing, standing.bent.usual_slopes).found()


class _Steady:
    """Steps towards balance on one factorisation.

    With the steepest slopes they never go past it, so that they end at an operating point that is
    stable, however slowly.
    """

    def __init__(self, solver: Matrix, standing: Standing, slopes: Floats) -> None:
        self._solver, self._standing, self._slopes = solver, standing, slopes
        self._lu = solver.factorised(standing, slopes)
        self._driven = solver.driven * standing.live
        self._between = slice(*standing.bent.starts)
        self._lies_on(standing.bent.within)

    @cached_property
    def _pulled(self) -> Floats:
        """Volts at the nodes per ampere that each limited source takes."""
        pulled: Floats = self._lu.solve(self._solver.at_limits * self._standing.live[:, None])
        return pulled

    def at_work(self) -> Floats:
        """Return voltages to begin from: everything draws what it does at its own voltage."""
        standing = self._standing
        return self._next(np.where(standing.slopes > LEAK_S, standing.bent.usual_v, 0.0))

    def begin(self) -> Floats:
        """Return voltages to begin from: everything linear, no source at its limit."""
        begun = np.zeros(len(self._slopes))
        begun[self._between] = self._standing.bent.within.amps
        drive = self._solver.into_nodes(begun) * self._standing.live
        x: Floats = self._lu.solve(self._driven + drive)
        return x

    def _lies_on(self, lines: Lines) -> None:
        """Take the limited sources for these straight lines: one at its limit has no slope."""
        self._lines = lines
        self._flat = self._standing.bent.within.siemens - lines.siemens
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
        beyond = solver.into_nodes(self._straight * v - bent.currents(v, self._lines))
        x: Floats = self._lu.solve(self._driven + beyond * self._standing.live)
        if self._given_back is not None:
            x += self._given_back @ (self._flat * solver.over_bent(x)[self._between])
        return x

    def go_on(
        self, x: Floats, steps: int, slow: float, hasten: bool = False
    ) -> tuple[Floats, bool]:
        """Return voltages nearer to balance, and whether they have settled.

        Args:
            slow: the share of the step before from which a step is too long to go on with.
            hasten: whether to go as far at once as the last two steps promise (Anderson 1965,
                of depth one), which may go past balance.
        """
        bent, last = self._standing.bent, np.inf
        greatest = float(np.abs(x).max(initial=0.0))
        close = greatest * (QUITE_CLOSE if hasten else CLOSE)
        v = self._solver.over_bent(x)
        before: tuple[Floats, Floats] | None = None
        for _ in range(steps):
            same = self._lines.hold(v[self._between])
            if not same:
                self._lies_on(bent.moved(self._lines, v[self._between]))
            nearer = self._next(v)
            reached = self._solver.over_bent(nearer)
            moved = reached - v
            now = float(np.abs(moved).max(initial=0.0))
            if now > RUNAWAY * greatest:
                break
            x = nearer
            if hasten and same and before is not None:
                less = moved - before[1]
                share = float(moved @ less) / max(float(less @ less), 1e-300)
                x = nearer - share * (nearer - before[0])
                reached = self._solver.over_bent(x)
            if same and now * min(1.0, 2 * now / last if last < np.inf else 1.0) <= close:
                return x, True  # what is left of a step falls by its own share again
            if same and now > slow * last and now > 10 * close:
                break
            before, v = (nearer, moved) if same else None, reached
            last = now if same else np.inf
        return x, False

    def newton(self, x: Floats) -> Floats:
        """Go on with true slopes; see ``newton``."""
        solver, standing = self._solver, self._standing
        v = newton(standing.bent, self._slopes, *self._over_bent, solver.over_bent(x))
        drawn = solver.into_nodes(standing.bent.currents(v) - self._slopes * v)
        nearer = self._lu.solve(self._driven - drawn * standing.live)
        # what hangs by its insulation shows the rounding of all that was taken together
        exact: Floats = nearer - self._lu.solve(solver.balance(standing, nearer)[0])
        return exact

    @cached_property
    def _over_bent(self) -> tuple[Floats, Floats]:
        """Volts over what bends per ampere of each, and with nothing drawn beyond the slopes."""
        solver, count = self._solver, len(self._slopes)
        into = solver.into_nodes(np.eye(count)) * self._standing.live[:, None]
        undrawn: Floats = solver.over_bent(self._lu.solve(self._driven))
        return solver.over_bent(self._lu.solve(into)), undrawn

    def found(self) -> Found:
        """Return what steps and Newton's method lead to in turn."""
        x, patience, slow = self.begin(), STEPS, SLOW
        for _ in range(ROUNDS):
            x, settled = self.go_on(x, patience, slow)
            settled = settled and not self.creeps(x)
            if not settled:
                found = self.refined(self.newton(x))
                if found.holds:
                    return found
            if settled or self.missing_at(x)[1]:
                break
            patience, slow = PATIENT_STEPS, 1.0
        return self.refined(x)

    def creeps(self, x: Floats) -> bool:
        """Tell whether something hangs on plus by its insulation; taken for steep it creeps."""
        bent = self._standing.bent
        first, _ = bent.starts
        v = self._solver.over_bent(x)[:first]
        idle = (np.abs(v) < bent.idle_v) & (bent.law != RESISTANCE)
        return bool((idle & (self._standing.slopes[:first] > 10 * LEAK_S)).any())

    def missing_at(self, x: Floats) -> tuple[Floats, bool]:
        """Return the current missing at every node, and whether that is none but last digits."""
        standing = self._standing
        missing, greatest = self._solver.balance(standing, x)
        worst = float(np.abs(missing).max(initial=0.0))
        # a node between thick conductors cannot be told closer than its last digits allow
        told = float(standing.siemens.max(initial=0.0)) * float(np.abs(x).max(initial=0.0)) * 1e-14
        return missing, worst <= BALANCED * greatest + told

    def refined(self, x: Floats) -> Found:
        """Return voltages with what rounding left missing at the nodes taken back, see ``Found``.

        Between thick conductors and thin air a step's own rounding may be more than is asked for.
        """
        missing, holds = self.missing_at(x)
        for _ in range(REFINED):
            if holds:
                break
            x = x - self._lu.solve(missing)
            missing, holds = self.missing_at(x)
        return Found(x, missing, holds)
