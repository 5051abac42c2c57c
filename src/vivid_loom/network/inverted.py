"""Steps to many operating points at once on the inverse of one network's matrix.

A changed conductance is a change of the matrix by one rank (the matrix inversion lemma, Sherman,
Morrison and Woodbury), so that what each change does follows from products.
"""

from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.laws import Lines
from vivid_loom.network.matrix import Matrix, Standing
from vivid_loom.network.newton import newton
from vivid_loom.network.records import LEAK_S

__all__ = ["CONDUCTS", "IDLE", "Inverted", "Ranks"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Flags = NDArray[np.bool_]
CLOSE: Final = 1e-9  # of the greatest voltage: the last step
RUNAWAY: Final = 1e3  # times the greatest voltage: steps that lead nowhere
TOLD: Final = 1e-3  # an inverse further off is of a network that changes tear apart
CONDUCTS: Final = -1
IDLE: Final = -2


class Ranks(NamedTuple):
    """Changes of one matrix, k sets of up to r changes by one rank each.

    Attributes:
        a, b: nodes, shape (k, r).
        added_s: by how much more a branch or join conducts; 0 for what bends, and where a set
            has fewer changes.
        bent: index of what bends and goes dark, taken for its insulation alone; ``CONDUCTS``
            where a branch or join changes, ``IDLE`` where it does but carries nothing either way.
    """

    a: Ints
    b: Ints
    added_s: Floats
    bent: Ints

    def of(self, which: Ints) -> "Ranks":
        """Return some of the sets."""
        return Ranks(self.a[which], self.b[which], self.added_s[which], self.bent[which])


class Inverted:
    """The inverse of a network's matrix with what bends at given slopes."""

    def __init__(self, solver: Matrix, standing: Standing, slopes: Floats) -> None:
        self.solver, self.bent, self.slopes = solver, standing.bent, slopes
        factors, live = solver.factorised(standing, slopes), standing.live
        self.inverse: Floats = factors.solve(np.eye(solver.size)) * (live[:, None] & live)
        self.driven = solver.driven * live
        plus, minus = solver.bent_ends
        self.per_ampere: Floats = self.inverse[:, plus] - self.inverse[:, minus]
        self.bent_per_ampere = solver.over_bent(self.per_ampere)
        self.undrawn: Floats = self.inverse @ self.driven

    def go_on(self, ranks: Ranks, begin_v: Floats, steps: int) -> tuple[Floats, Flags]:
        """Return the voltages to which steps lead, and which of them have settled.

        Args:
            begin_v: over what bends with nothing changed, shape (bent,).
            steps: how many at most.

        Returns:
            Volts of shape (nodes, k), and flags of shape (k,).
        """
        networks = _Networks(self, ranks)
        most = max(float(np.abs(begin_v).max(initial=0.0)), 1e-9)
        v = np.where(networks.dark, 0.0, begin_v[:, None])
        settled = np.zeros(len(ranks.a), dtype=bool)
        for _ in range(steps):
            same = networks.lie_on(v)
            after = networks.balance_at(v)
            settled = same & (np.abs(after - v).max(axis=0, initial=0.0) <= CLOSE * most)
            v = after
            networks.sound &= np.abs(v).max(axis=0, initial=0.0) <= RUNAWAY * most
            v[:, ~networks.sound] = 0.0
            if settled[networks.sound].all():
                break
        return networks.nodes(v), settled & networks.sound

    def newton(self, ranks: Ranks, v: Floats) -> tuple[Floats, Flags]:
        """Return what ``go_on`` does by Newton's method, one network after the other.

        Args:
            v: over what bends, shape (bent, k), to begin from.
        """
        networks = _Networks(self, ranks)
        networks.take(None)
        v = v.copy()
        for k in np.flatnonzero(networks.sound).tolist():
            slopes, per_ampere, undrawn = networks.linear(k)
            v[:, k] = newton(self.bent, slopes, per_ampere, undrawn, v[:, k])
        return networks.nodes(v), networks.sound


class _Networks:
    """Changed networks with what bends taken for straight lines.

    A limited source at its limit has no slope: one rank less, beside those of the changes.

    Attributes:
        sound: which networks hold together, shape (k,).
        dark: what bends that is taken for its insulation alone, shape (bent, k).
    """

    def __init__(self, base: Inverted, ranks: Ranks) -> None:
        self._base = base
        slopes = np.append(base.slopes, (0.0, 0.0))  # for CONDUCTS and IDLE, which index the end
        more_s = LEAK_S - slopes[ranks.bent]
        self._more_s = np.where(ranks.bent >= 0, more_s, ranks.added_s * (ranks.bent == CONDUCTS))
        self._between = slice(*base.bent.starts)
        count = len(ranks.a)
        plus, minus = (np.tile(e[self._between], (count, 1)) for e in base.solver.bent_ends)
        self._a = np.concatenate((ranks.a, plus), axis=1)
        self._b = np.concatenate((ranks.b, minus), axis=1)
        a, b, inverse = self._a, self._b, base.inverse
        self._over = (
            inverse[a[:, :, None], a[:, None, :]]
            - inverse[a[:, :, None], b[:, None, :]]
            - inverse[b[:, :, None], a[:, None, :]]
            + inverse[b[:, :, None], b[:, None, :]]
        )
        self._bent_over = base.per_ampere[a] - base.per_ampere[b]
        self._undrawn_over = base.undrawn[a] - base.undrawn[b]
        self.dark: Flags = np.zeros((len(base.slopes), count), dtype=bool)
        which, nth = np.nonzero(ranks.bent >= 0)
        self.dark[ranks.bent[which, nth], which] = True
        self._usual = np.where(self.dark, LEAK_S, base.slopes[:, None])
        self._lines: Lines | None = None

    def lie_on(self, v: Floats) -> bool:
        """Take limited sources for the lines they are on; tell whether all were on them before."""
        base, given = self._base, v[self._between]
        if self._lines is not None and self._lines.hold(given):
            return True
        begun = self._lines or base.bent.lines(np.zeros(given.shape, dtype=np.int64))
        self.take(base.bent.moved(begun, given))
        return False

    def take(self, lines: Lines | None) -> None:
        """Take limited sources for these lines, or for what they are."""
        self._lines = lines
        short = np.zeros((self._between.stop - self._between.start, len(self._a)))
        if lines is not None:
            short += self._base.bent.within.siemens[:, None] - lines.siemens
        more = np.concatenate((self._more_s, -short.T), axis=1)
        unit = np.eye(more.shape[1])
        kernel = unit + self._over * more[:, None, :]
        kernel[np.linalg.det(kernel) == 0.0] = np.nan
        back = np.linalg.inv(kernel)
        self.sound: Flags = np.abs(np.matmul(kernel, back) - unit).max(axis=(1, 2)) < TOLD
        back[~self.sound] = 0.0
        self._weights: Floats = more[:, :, None] * back
        self._taken = self._usual.copy()
        self._taken[self._between] -= short

    def linear(self, k: int) -> tuple[Floats, Floats, Floats]:
        """Return slopes, volts per ampere and volts undrawn of one network; see ``newton``."""
        base, onto = self._base, self._bent_over[k]
        felt = onto.T @ self._weights[k]
        undrawn = base.solver.over_bent(base.undrawn) - felt @ self._undrawn_over[k]
        return self._taken[:, k], base.bent_per_ampere - felt @ onto, undrawn

    def _drawn(self, v: Floats) -> tuple[Floats, Floats]:
        """Return what is drawn beyond the lines, (bent, k), and what changes carry, (k, r)."""
        extra = self._base.bent.currents(v, self._lines) - self._taken * v
        over = self._undrawn_over - np.matmul(self._bent_over, extra.T[:, :, None])[:, :, 0]
        carried: Floats = np.matmul(self._weights, over[:, :, None])[:, :, 0]
        return extra, carried

    def balance_at(self, v: Floats) -> Floats:
        """Return the volts over what bends at which lines through its currents at ``v`` balance."""
        base = self._base
        extra, carried = self._drawn(v)
        felt = np.matmul(carried[:, None, :], self._bent_over)[:, 0, :].T
        undrawn = base.solver.over_bent(base.undrawn)[:, None]
        after: Floats = undrawn - base.bent_per_ampere @ extra - felt
        return after

    def nodes(self, v: Floats) -> Floats:
        """Return the volts of the nodes, shape (nodes, k)."""
        base = self._base
        extra, carried = self._drawn(v)
        into = base.driven[:, None] - base.solver.into_nodes(extra)
        at = np.broadcast_to(np.arange(len(carried))[:, None], carried.shape)
        np.add.at(into, (self._a, at), -carried)
        np.add.at(into, (self._b, at), carried)
        found: Floats = base.inverse @ into
        return found
