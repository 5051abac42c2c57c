"""Operating points of many networks that differ from one in a few branches, all at once.

Each is tried by steps and Newton's method on the inverse of the one network's matrix; what tears
that apart, or wakes what was dead, is solved afresh.
"""

import dataclasses
from collections.abc import Sequence
from functools import cached_property
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.inverted import CONDUCTS, IDLE, Inverted, Ranks
from vivid_loom.network.islands import Breaks
from vivid_loom.network.laws import RESISTANCE
from vivid_loom.network.records import LEAK_S, Branch
from vivid_loom.network.solve import NoOperatingPointError, OperatingPoint, Solver
from vivid_loom.network.steps import QUICK_STEPS

__all__ = ["Change", "Changed", "Changes"]

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]
STEPS: Final = 24
BALANCED: Final = 1e-7
AT_ONCE: Final = 512  # sets of one rank; the more ranks, the fewer
MOST_RANKS: Final = 96


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
    """A change of the matrix by one rank; see ``Ranks``."""

    a: int
    b: int
    added_s: float = 0.0
    bent: int = CONDUCTS


NONE: Final = _Term(0, 0)


class _Behind(NamedTuple):
    """What breaks leave: of what bends, what goes dark; the nodes no plus reaches now.

    The nodes are told where several breaks stand one behind another: they carry nothing.
    """

    dark: tuple[int, ...] = ()
    dead: frozenset[int] = frozenset()


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
        self._by_cut: dict[tuple[str, ...], _Behind] = {}

    @cached_property
    def _quick(self) -> Inverted:
        """What works at its voltage taken as it works: settles at once, as ``found_balance``."""
        return Inverted(self.solver, self.standing, self.standing.working)

    @cached_property
    def _steady(self) -> Inverted:
        """Everything taken for as steep as it gets, which never oversteps."""
        return Inverted(self.solver, self.standing, self.standing.slopes)

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
        cut = tuple(c.branch for c in each if c.branch and c.siemens == 0)
        behind = self._behind(cut)
        terms = []
        for change in each:
            a, b, added_s = self._ends(change)
            idle = change.siemens == 0 and a in behind.dead and b in behind.dead
            terms.append(_Term(a, b, added_s, IDLE if idle else CONDUCTS))
        plus, minus = self.solver.bent_ends
        return terms + [_Term(int(plus[e]), int(minus[e]), bent=e) for e in behind.dark]

    def _block(self, terms: Sequence[Sequence[_Term]]) -> tuple[Floats, Flags]:
        """Return voltages, shape (nodes, k), and which of them can be trusted."""
        count, rank = len(terms), max(1, max(len(each) for each in terms))
        padded = [(*each, *(NONE,) * (rank - len(each))) for each in terms]
        a, b, added_s, bent = np.moveaxis(np.array(padded), 2, 0)
        ranks = Ranks(a.astype(np.int64), b.astype(np.int64), added_s, bent.astype(np.int64))
        x = np.full((self.solver.size, count), np.nan)
        sound = np.zeros(count, dtype=bool)
        answers = self._wakes_nothing(ranks)
        for way in (self._settling, self._steadily, self._by_newton):
            left = np.flatnonzero(~sound & answers)
            if not len(left):
                break
            some = ranks.of(left)
            x[:, left], found = way(some, x[:, left])
            sound[left] = found & self._holds(x[:, left], some)
        return x, sound

    def _settling(self, ranks: Ranks, _: Floats) -> tuple[Floats, Flags]:
        return self._quick.go_on(ranks, self.base.bent_v, QUICK_STEPS)

    def _steadily(self, ranks: Ranks, _: Floats) -> tuple[Floats, Flags]:
        return self._steady.go_on(ranks, self.base.bent_v, STEPS)

    def _by_newton(self, ranks: Ranks, x: Floats) -> tuple[Floats, Flags]:
        return self._steady.newton(ranks, self.solver.over_bent(x))

    def _wakes_nothing(self, ranks: Ranks) -> Flags:
        """Tell which sets leave what floats and what is dead as it is: a join may wake it."""
        floating, dead = self.standing.floating, self.standing.dead
        touched = (floating[ranks.a] | floating[ranks.b]) & (ranks.added_s != 0)
        woken = (dead[ranks.a] | dead[ranks.b]) & (ranks.added_s > 0)
        asleep: Flags = ~(touched | woken).any(axis=1)
        return asleep

    def _ends(self, change: Change) -> tuple[int, int, float]:
        """Return the nodes a change lies between, and by how much more it conducts."""
        solver = self.solver
        if not change.branch:
            return solver.node[change.a], solver.node[change.b], change.siemens
        index = solver.branch_index[change.branch]
        a, b = solver.branch_ends[:, index].tolist()
        return a, b, change.siemens - float(self.standing.siemens[index])

    def _behind(self, cut: tuple[str, ...]) -> _Behind:
        """Return what breaks leave without current that had some."""
        if not cut:
            return _Behind()
        if cut not in self._by_cut:
            self._by_cut[cut] = self._found_behind(cut)
        return self._by_cut[cut]

    def _found_behind(self, cut: tuple[str, ...]) -> _Behind:
        solver, standing = self.solver, self.standing
        indices = [solver.branch_index[name] for name in cut]
        bends = standing.slopes > LEAK_S
        bends[: len(standing.bent.law)] &= standing.bent.law != RESISTANCE
        if len(cut) == 1 and standing.siemens[indices[0]] > 0:
            breaks, at = self._breaks
            simple = breaks.darkened(int(at[indices[0]]))
            if simple is not None:
                dark = np.unique(solver.takers[np.array(simple, dtype=np.int64)])
                return _Behind(tuple(dark[bends[dark]].tolist()))
        conducts = standing.siemens > 0
        conducts[indices] = False
        dead, dark_now = solver.dead(conducts, standing.bent)
        nodes = np.flatnonzero(dead).tolist() if len(cut) > 1 else ()
        return _Behind(tuple(np.flatnonzero(dark_now & bends).tolist()), frozenset(nodes))

    @cached_property
    def _breaks(self) -> tuple[Breaks, NDArray[np.int64]]:
        conducts = self.standing.siemens > 0
        return Breaks(self.solver.joined(conducts, self.standing.bent)), np.cumsum(conducts) - 1

    def _holds(self, x: Floats, ranks: Ranks) -> Flags:
        """Tell which voltages leave every node in balance."""
        standing = self.standing
        more = np.abs(ranks.added_s).max(axis=1)
        missing, greatest = self._missing(x, ranks)
        stiffest = float(standing.siemens.max(initial=0.0)) + more
        told = stiffest * np.abs(x).max(axis=0, initial=0.0) * 1e-14
        balanced: Flags = np.abs(missing).max(axis=0) <= BALANCED * greatest + told
        return balanced & np.isfinite(x).all(axis=0)

    def _missing(self, x: Floats, ranks: Ranks) -> tuple[Floats, Floats]:
        """Return the currents missing at the nodes, and the greatest anywhere, shape (k,)."""
        solver, standing, a, b = self.solver, self.standing, ranks.a, ranks.b
        branch = standing.siemens[:, None] * solver.over_branches(x)
        edges = np.concatenate(
            (branch, -solver.source_a(x), standing.bent.currents(solver.over_bent(x)))
        )
        missing = solver.layout.incidence @ edges
        at = np.broadcast_to(np.arange(len(a))[:, None], a.shape)
        pushed = ranks.added_s * (x[a, at] - x[b, at])
        np.add.at(missing, (a, at), pushed)
        np.add.at(missing, (b, at), -pushed)
        greatest = np.maximum(np.abs(edges).max(axis=0, initial=0.0), np.abs(pushed).max(axis=1))
        return missing * standing.live[:, None], greatest

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
