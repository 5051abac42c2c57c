"""Operating points of many networks that differ from one in a few branches, all at once.

The inverse of the one network's matrix is made once. A changed conductance is a change of that
matrix by one rank (the matrix inversion lemma, Sherman, Morrison and Woodbury), so that what
each change does follows from products instead of a factorisation of its own.
"""

import dataclasses
from collections.abc import Sequence
from functools import cached_property
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.islands import Breaks
from vivid_loom.network.laws import RESISTANCE
from vivid_loom.network.records import LEAK_S, Branch
from vivid_loom.network.solve import NoOperatingPointError, OperatingPoint, Solver

__all__ = ["Change", "Changed", "Changes"]

Floats = NDArray[np.float64]
STEPS: Final = 60
CLOSE: Final = 1e-11
BALANCED: Final = 1e-7
PIVOT: Final = 1e-13  # below this a change tears the network apart: solved afresh
AT_ONCE: Final = 4096  # sets of one rank; the more ranks, the fewer
MOST_RANKS: Final = 16


class Change(NamedTuple):
    """A branch that conducts otherwise, or two nodes joined that were not.

    Attributes:
        siemens: what it conducts now; 0 for open.
        branch: its id; '' for a join of ``a`` and ``b``.
    """

    siemens: float
    branch: str = ""
    a: str = ""
    b: str = ""


class _Term(NamedTuple):
    """A change of the matrix by one rank.

    Attributes:
        more_s: what is added between two nodes.
        bent: index of what bends that is taken for less steep; -1 for a branch or a join.
    """

    a: int
    b: int
    more_s: float
    bent: int = -1


class Changed(NamedTuple):
    """What became of a network under each of many sets of changes.

    Attributes:
        x: volts, shape (nodes, k); nan throughout where no operating point was found.
        afresh: how many of them had to be solved by themselves.
    """

    x: Floats
    afresh: int


class Changes:
    """One operating point, made ready for many changes."""

    def __init__(self, base: OperatingPoint) -> None:
        self.base, self.solver, self.standing = base, base.solver, base.standing
        self._dark: dict[tuple[str, ...], list[int]] = {}

    @cached_property
    def _inverse(self) -> Floats:
        matrix = self.solver.matrix(self.standing, self.standing.slopes)
        inverse: Floats = np.linalg.inv(matrix.toarray())
        live = self.standing.live
        return inverse * (live[:, None] & live[None, :])

    @cached_property
    def _from_bent(self) -> Floats:
        """Volts at the nodes per ampere drawn by each of what bends, shape (nodes, bent)."""
        plus, minus = self.solver.bent_ends
        return self._inverse[:, plus] - self._inverse[:, minus]

    @cached_property
    def _bent_from_bent(self) -> Floats:
        """The same over what bends, shape (bent, bent)."""
        return self.solver.over_bent(self._from_bent)

    @cached_property
    def _undrawn(self) -> Floats:
        """Volts at the nodes with nothing drawn beyond the usual slopes."""
        return self._inverse @ self.solver.driven(self.standing)

    def of(self, sets: Sequence[Sequence[Change]]) -> Changed:
        """Return what each set of changes does.

        Raises:
            KeyError: a node that is not there.
        """
        terms = [self._terms(each) for each in sets]
        order = sorted(range(len(sets)), key=lambda i: len(terms[i]))
        x = np.full((self.solver.size, len(sets)), np.nan)
        afresh: list[int] = []
        while order:
            rank = max(1, len(terms[order[0]]))
            block = [i for i in order if len(terms[i]) <= 2 * rank][: max(1, AT_ONCE // rank)]
            order = order[len(block) :]
            if rank > MOST_RANKS:
                afresh += block
                continue
            x[:, block], sound = self._block([terms[i] for i in block])
            afresh += [i for i, is_sound in zip(block, sound.tolist(), strict=True) if not is_sound]
        for i in afresh:
            x[:, i] = self.afresh(sets[i])
        return Changed(x, len(afresh))

    def _terms(self, each: Sequence[Change]) -> list[_Term]:
        """Return what a set changes in the matrix: its branches, and what they leave dark."""
        terms = [_Term(*self._ends(change)) for change in each]
        plus, minus = self.solver.bent_ends
        slopes = self.standing.slopes
        terms += [
            _Term(int(plus[e]), int(minus[e]), LEAK_S - float(slopes[e]), e)
            for e in self._darkened(each)
        ]
        return terms

    def _block(self, terms: Sequence[Sequence[_Term]]) -> tuple[Floats, NDArray[np.bool_]]:
        """Return voltages, shape (nodes, k), and which of them can be trusted."""
        count, rank = len(terms), max(1, max(len(each) for each in terms))
        a, b = np.zeros((2, count, rank), dtype=np.int64)
        more = np.zeros((count, rank))
        taken = np.repeat(self.standing.slopes[:, None], count, axis=1)
        added = np.zeros((count, rank))
        for i, each in enumerate(terms):
            for j, term in enumerate(each):
                a[i, j], b[i, j], more[i, j] = term.a, term.b, term.more_s
                if term.bent >= 0:
                    taken[term.bent, i] = LEAK_S
                else:
                    added[i, j] = term.more_s
        x, sound = self._stepped(a, b, more, taken)
        floating = self.standing.floating
        sound &= ~((floating[a] | floating[b]) & (added != 0)).any(axis=1)
        dead = self.standing.dead  # what a join wakes draws again
        sound &= ~((dead[a] | dead[b]) & (added > 0)).any(axis=1)
        return x, sound & self._balanced(x, (a, b), added)

    def _ends(self, change: Change) -> tuple[int, int, float]:
        """Return the nodes a change lies between, and by how much more it conducts."""
        solver = self.solver
        if not change.branch:
            return solver.node[change.a], solver.node[change.b], change.siemens
        index = solver.branch_index[change.branch]
        a, b = solver.branch_ends[:, index].tolist()
        return a, b, change.siemens - float(self.standing.siemens[index])

    def _darkened(self, each: Sequence[Change]) -> list[int]:
        """Return what a set of breaks leaves in the dark that was not before."""
        cut = tuple(c.branch for c in each if c.branch and c.siemens == 0)
        if not cut:
            return []
        if cut not in self._dark:
            self._dark[cut] = self._dark_behind(cut)
        return self._dark[cut]

    def _dark_behind(self, cut: tuple[str, ...]) -> list[int]:
        solver, standing = self.solver, self.standing
        indices = [solver.branch_index[name] for name in cut]
        bends = standing.slopes > LEAK_S
        bends[: len(standing.bent.law)] &= standing.bent.law != RESISTANCE
        if len(cut) == 1 and standing.siemens[indices[0]] > 0:
            breaks, at = self._breaks
            simple = breaks.darkened(int(at[indices[0]]))
            if simple is not None:
                dark = np.unique(solver.takers[np.array(simple, dtype=np.int64)])
                return [int(e) for e in dark.tolist() if bends[e]]
        conducts = standing.siemens > 0
        conducts[indices] = False
        _, dark_now = solver.dead(conducts, standing.bent)
        return [int(e) for e in np.flatnonzero(dark_now & bends).tolist()]

    @cached_property
    def _breaks(self) -> tuple[Breaks, NDArray[np.int64]]:
        conducts = self.standing.siemens > 0
        return Breaks(self.solver.joined(conducts, self.standing.bent)), np.cumsum(conducts) - 1

    def _stepped(
        self, a: NDArray[np.int64], b: NDArray[np.int64], more: Floats, usual: Floats
    ) -> tuple[Floats, NDArray[np.bool_]]:
        """Return voltages, shape (nodes, k), and which of them can be trusted."""
        solver, standing, inverse = self.solver, self.standing, self._inverse
        first, second = standing.bent.starts
        limited = np.arange(first, second)
        count, at = len(more), np.arange(len(more))[:, None]
        plus, minus = (np.tile(e[limited], (count, 1)) for e in solver.bent_ends)
        a, b = np.concatenate((a, plus), axis=1), np.concatenate((b, minus), axis=1)
        columns = inverse[:, a] - inverse[:, b]  # (nodes, k, rank): volts per ampere of a change
        over = columns[a[:, :, None], at[:, :, None], np.arange(a.shape[1])]
        over = over - columns[b[:, :, None], at[:, :, None], np.arange(a.shape[1])]
        bent_columns = solver.over_bent(columns)  # (bent, k, rank)
        undrawn = self._undrawn
        bent_undrawn, undrawn_over = solver.over_bent(undrawn)[:, None], undrawn[a] - undrawn[b]

        def felt(volts_over: Floats, onto: Floats) -> Floats:
            """Return what changes do where ``onto`` looks, given volts over each of them."""
            pushed = np.matmul(weights, volts_over[:, :, None])[:, :, 0]
            found: Floats = np.einsum("nkr,kr->nk", onto, pushed)
            return found

        went_dark = usual < standing.slopes[:, None]
        v = np.where(went_dark, 0.0, self.base.bent_v[:, None])
        most = max(float(np.abs(v).max(initial=0.0)), 1e-9)
        regime = np.zeros((len(limited), count), dtype=np.int64)
        settled = False
        for _ in range(STEPS):
            before, regime = regime, standing.bent.regimes(v[limited], regime)
            if not settled or not np.array_equal(before, regime):
                settled = True
                short = standing.bent.limit_slopes(regime)
                all_more = np.concatenate((more, -short.T), axis=1)
                kernel = np.eye(a.shape[1]) + all_more[:, :, None] * over
                sound = np.abs(np.linalg.det(kernel)) > PIVOT
                kernel[~sound] = np.eye(a.shape[1])
                weights = np.linalg.solve(kernel, np.eye(a.shape[1]) * all_more[:, :, None])
                taken = usual.copy()
                taken[limited] -= short
                v0 = bent_undrawn - felt(undrawn_over, bent_columns)
            extra = standing.bent.currents(v, regime) - taken * v
            over_now = np.einsum("ekr,ek->kr", bent_columns, extra)
            after = v0 - self._bent_from_bent @ extra + felt(over_now, bent_columns)
            moved = float(np.abs(after - v)[:, sound].max(initial=0.0))
            v = after
            if moved <= CLOSE * most and np.array_equal(before, regime):
                break
        extra = standing.bent.currents(v, regime) - taken * v
        nodes = undrawn[:, None] - self._from_bent @ extra
        over_all = nodes[a, at] - nodes[b, at]
        return nodes - felt(over_all, columns), sound

    def _balanced(
        self, x: Floats, ends: tuple[NDArray[np.int64], NDArray[np.int64]], more: Floats
    ) -> NDArray[np.bool_]:
        """Tell which voltages leave every node in balance."""
        a, b = ends
        solver, standing, count = self.solver, self.standing, x.shape[1]
        branch = self.standing.siemens[:, None] * solver.over_branches(x)
        edges = np.concatenate(
            (branch, -solver.source_a(x), standing.bent.currents(solver.over_bent(x)))
        )
        missing = solver.incidence @ edges
        at = np.arange(count)[:, None]
        pushed = more * (x[a, at] - x[b, at])
        np.add.at(missing, (a, np.broadcast_to(at, a.shape)), pushed)
        np.add.at(missing, (b, np.broadcast_to(at, b.shape)), -pushed)
        missing *= self.standing.live[:, None]
        greatest = np.maximum(np.abs(edges).max(axis=0, initial=0.0), np.abs(pushed).max(axis=1))
        stiffest = float(self.standing.siemens.max(initial=0.0)) + np.abs(more).max(axis=1)
        told = stiffest * np.abs(x).max(axis=0, initial=0.0) * 1e-14
        balanced: NDArray[np.bool_] = np.abs(missing).max(axis=0) <= BALANCED * greatest + told
        return balanced & np.isfinite(x).all(axis=0)

    def afresh(self, changes: Sequence[Change]) -> Floats:
        """Return voltages under one set of changes, by themselves; nan where there are none."""
        network = self.solver.network
        joins = tuple(
            Branch(f"join {i}", c.a, c.b, 1 / c.siemens)
            for i, c in enumerate(changes)
            if not c.branch and c.siemens > 0
        )
        branches = (*network.branches, *joins)
        solver = Solver(dataclasses.replace(network, branches=branches)) if joins else self.solver
        siemens = np.concatenate(
            (self.standing.siemens, [1 / j.ohm for j in joins if j.id in solver.branch_index])
        )
        for change in changes:
            if change.branch:
                siemens[solver.branch_index[change.branch]] = change.siemens
        x = np.full(self.solver.size, np.nan)
        try:
            standing = solver.standing_with(siemens, self.standing.bent)
            found = solver.point_of(standing).x
        except NoOperatingPointError:
            return x
        for name, at in self.solver.node.items():
            x[at] = found[solver.node[name]]
        return x
