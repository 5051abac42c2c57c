"""Least copper: how the drop is best divided between a boat's feeders and its branches.

Every conductor drops current × length × resistance, and weighs length × section. A thicker feeder
lets all branches behind it be thinner. Starting from shares by length × √A, which are best for
continuous sizes on one chain, feeders go up and down by stocked sizes, one of them or two
together, while that saves copper. Then every other choice of sizes is ruled out or found, feeder by
feeder, by what it weighs at least (branch and bound: Land and Doig, 1960).
"""

from functools import lru_cache
from itertools import permutations
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.quantities import figure
from vivid_loom.standards.conductor import COPPER_KG_PER_MM2_M

__all__ = ["Copper", "Trunk", "Ways", "branches_of", "least_copper", "steps_of", "thinner_words"]

MOST: Final = 200_000  # sizes looked at together: with more the proof is given up
FEW: Final = 40  # choices that are weighed together at no more cost than one
CLOSE: Final = 1e-12  # of a resistance: what is asked for so nearly is there
LEAST_GAIN: Final = 1e-9  # mm²·m

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


class Ways(NamedTuple):
    """Which feeders f lie on which ways l, and which branches n hang where. Sizes and lengths have
    no part in it.

    Attributes:
        out, home: (l, f) feeders passed on each way there and home.
        of_pair: (pairs, w) ways of each pair, one of them several times where it has fewer.
        pair: (n,) pair of source and bus of each branch; −1 for none with a way.
        source: (n,) place in ``behind`` of what each branch hangs on.
        behind: (f, places) what lies behind each feeder: it is no thinner than its branches.
        chains: (c, f) which feeders lie in a row.
    """

    out: Floats
    home: Floats
    of_pair: Ints
    pair: Ints
    source: Ints
    behind: NDArray[np.bool_]
    chains: Floats


class Trunk(NamedTuple):
    """Feeders f, the ways over them, and the branches n that hang on them, as arrays.

    Attributes:
        ohm_per_m, area_mm2: (rungs,) of the stocked sizes, thinnest first.
        out_am, home_am: (f,) current × length of a feeder's positive and of its return.
        length_m: (f,) of its conductors together; ``floor`` the least rung for all but drop;
            ``fixed`` where the engineer set it.
        most_v: (c,) what each chain of feeders drops at most.
        moment_am, metres, limit_v, least, cap: (n,) of the branches: current × length of the worst
            path, length of all conductors, drop allowed with the feeders', rungs for all but drop.
    """

    ways: Ways
    ohm_per_m: Floats
    area_mm2: Floats
    out_am: Floats
    home_am: Floats
    length_m: Floats
    floor: Ints
    fixed: NDArray[np.bool_]
    most_v: Floats
    moment_am: Floats
    metres: Floats
    limit_v: Floats
    least: Ints
    cap: Ints

    @property
    def arrays(self) -> tuple[NDArray[np.generic], ...]:
        """Everything in it."""
        return (*self.ways, *self[1:])

    def pair_v(self, rungs: Ints) -> Floats:
        """Return the volts (pairs, k) that feeders of rungs (k, f) drop to each pair and back.

        The last pair, of branches without a way, drops nothing.
        """
        ohm = self.ohm_per_m[rungs].T
        out, home = self.ways.out * self.out_am, self.ways.home * self.home_am
        way_v = out @ ohm + home @ ohm
        return np.concatenate((way_v[self.ways.of_pair].max(axis=1), np.zeros((1, len(rungs)))))

    def branches(self, rungs: Ints) -> Ints:
        """Return the rungs (k, n) the branches ask for behind feeders of rungs (k, f); these may
        pass their caps.
        """
        with np.errstate(divide="ignore", invalid="ignore"):
            left = self.limit_v - self.pair_v(rungs)[self.ways.pair].T
            permitted = np.where(self.moment_am > 0, left / self.moment_am, np.inf)
        asked = np.searchsorted(-self.ohm_per_m, -permitted * (1 + CLOSE), side="left")
        found: Ints = np.maximum(self.least, asked)
        return found

    def holds(self, rungs: Ints) -> NDArray[np.bool_]:
        """Tell of rungs (k, f) whether no chain of feeders drops more than it may."""
        drop_v = (self.out_am + self.home_am) * self.ohm_per_m[rungs]
        within = drop_v @ self.ways.chains.T <= self.most_v * (1 + 1e-9)
        found: NDArray[np.bool_] = np.all(within, axis=1)
        return found


class _Steps(NamedTuple):
    """What the branches of one pair on one place weigh and ask, which rises by steps of volts.

    Attributes:
        pair: of the branches; see ``Trunk``.
        volts: (s,) at which one of them asks for a rung more.
        weight: (s + 1,) of all in mm²·m, and ``rung`` of the thickest, between those.
        most_v: with more than this one of them fails.
    """

    pair: int
    volts: Floats
    weight: Floats
    rung: Ints
    most_v: float


def branches_of(trunk: Trunk) -> tuple[NDArray[np.generic], ...]:
    """Return what the steps of branches follow from."""
    branches = (trunk.moment_am, trunk.limit_v, trunk.metres, trunk.least, trunk.cap)
    return (trunk.ohm_per_m, trunk.area_mm2, *branches, trunk.ways.pair, trunk.ways.source)


def steps_of(trunk: Trunk) -> tuple[tuple[int, _Steps], ...]:
    """Return what the branches of each pair on each place ask, with the place."""
    moment, limit = trunk.moment_am[:, None], trunk.limit_v[:, None]
    # with more volts than this a branch asks for more than a rung
    last = np.where(moment > 0, limit - moment * trunk.ohm_per_m / (1 + CLOSE), np.inf)
    rungs = np.arange(len(trunk.ohm_per_m) + 1)
    held = np.minimum(np.maximum(rungs, trunk.least[:, None]), trunk.cap[:, None])
    weight = trunk.area_mm2[held] * trunk.metres[:, None]
    most_v = last[np.arange(len(last)), trunk.cap]
    found: list[tuple[int, _Steps]] = []
    pairs, places = trunk.ways.pair, trunk.ways.source
    for pair, place in sorted(set(zip(pairs.tolist(), places.tolist(), strict=True))):
        mine = np.flatnonzero((pairs == pair) & (places == place))
        order = last[mine].argsort(axis=None, kind="stable")
        first, thinnest = float(weight[mine, 0].sum()), held[mine, 0].max()
        more = (weight[mine, 1:] - weight[mine, :-1]).ravel()[order]
        steps = _Steps(
            pair,
            last[mine].ravel()[order],
            np.append(first, first + more.cumsum()),
            np.maximum.accumulate(np.append(thinnest, held[mine, 1:].ravel()[order])),
            float(most_v[mine].min()),
        )
        found.append((place, steps))
    return tuple(found)


class Copper:
    """What all copper behind feeders weighs.

    Attributes:
        trunk: the feeders, and what hangs behind them.
    """

    def __init__(self, trunk: Trunk, steps: tuple[tuple[int, _Steps], ...]) -> None:
        """Take what branches ask as ``steps_of`` lays it out by volts."""
        self.trunk = trunk
        self._steps = [of_group for _, of_group in steps]
        self._behind = trunk.ways.behind[:, [place for place, _ in steps]]

    def _asked(self, rungs: Ints) -> tuple[Floats, NDArray[np.bool_], list[Ints]]:
        """Return what branches weigh (k,), whether one fails (k,), and where each group is."""
        pairs = self.trunk.pair_v(rungs)
        weight, fails = np.zeros(len(rungs)), np.zeros(len(rungs), dtype=bool)
        at: list[Ints] = []
        for steps in self._steps:
            volts = pairs[steps.pair]
            at.append(steps.volts.searchsorted(volts))
            weight += steps.weight[at[-1]]
            fails |= volts > steps.most_v
        return weight, fails, at

    def weighed(self, rungs: Ints) -> Floats:
        """Return all copper behind feeders of rungs (k, f), in mm²·m; inf where a branch fails."""
        trunk = self.trunk
        weight, fails, at = self._asked(rungs)
        rung = np.zeros((len(rungs), len(self._steps)), dtype=np.int64)
        for i, steps in enumerate(self._steps):
            rung[:, i] = steps.rung[at[i]]
        thickest = np.where(self._behind, rung[:, None, :], 0).max(axis=2, initial=0)
        feeders = np.where(trunk.fixed, rungs, np.maximum(rungs, thickest))
        found: Floats = np.where(fails, np.inf, trunk.area_mm2[feeders] @ trunk.length_m + weight)
        return found

    def least(self, thin: Ints, thick: Ints) -> Floats:
        """Return what feeders between two sizes (k, f) and their branches weigh at least."""
        trunk = self.trunk
        weight, fails, _ = self._asked(thick)
        fails |= ~trunk.holds(thick)
        found: Floats = np.where(fails, np.inf, trunk.area_mm2[thin] @ trunk.length_m + weight)
        return found


@lru_cache(maxsize=64)
def _moves(free: tuple[int, ...], beside: tuple[tuple[bool, ...], ...]) -> Ints:
    """Return the steps (k, f) of feeders that are free to go.

    One goes some sizes up or down, or two that lie in one way go down one, or one up and one down.
    """
    pairs = [(a, b) for a, b in permutations(free, 2) if beside[a][b]]
    found = [{a: by} for a in free for by in (-4, -3, -2, -1, 1, 2, 3, 4)]
    found += [{a: by, b: -1} for a, b in pairs for by in (1, -1)]
    steps = np.zeros((len(found), len(beside)), dtype=np.int64)
    for i, move in enumerate(found):
        steps[i, list(move)] = list(move.values())
    return np.unique(steps, axis=0)


def least_copper(weighs: Copper, start: Ints) -> Ints:
    """Return the feeder rungs (f,) with the least copper.

    Where too many choices would have to be ruled out, those from which no step saves copper.

    Args:
        start: rungs to begin with, with which no branch fails.
    """
    trunk = weighs.trunk
    rungs, best = start, float(weighs.weighed(start[None])[0])
    free = tuple(np.flatnonzero(~trunk.fixed).tolist())
    ways = trunk.ways.out + trunk.ways.home
    moves = _moves(free, tuple(map(tuple, (ways.T @ ways > 0).tolist())))
    top = len(trunk.ohm_per_m) - 1
    while True:
        others = rungs + moves
        within = (others >= trunk.floor) & (others <= top) | trunk.fixed
        others = others[within.all(axis=1)]
        others = others[trunk.holds(others)]
        if not len(others):
            break
        copper = weighs.weighed(others)
        least = int(copper.argmin())
        if not copper[least] < best - LEAST_GAIN:
            break
        rungs, best = others[least], float(copper[least])
    return _proven(weighs, rungs, best)


def _proven(weighs: Copper, rungs: Ints, best: float) -> Ints:
    """Return the rungs that weigh least of all, from some that weigh ``best``.

    Feeders get their sizes one after another, the longest first. What is left open weighs at least
    its floor, and lets the branches be at least as thick as behind the thickest wire there is.
    """
    trunk = weighs.trunk
    top = len(trunk.ohm_per_m) - 1
    free = np.flatnonzero(~trunk.fixed)
    thin = np.where(trunk.fixed, rungs, trunk.floor)[None]
    thick = np.where(trunk.fixed, rungs, top)[None]
    weight = weighs.least(thin, thick)
    order = free[np.argsort(-trunk.length_m[free], kind="stable")].tolist()
    for feeder in order:
        floor = int(trunk.floor[feeder])
        steps = np.arange(floor, top + 1)
        more = (trunk.area_mm2[steps] - trunk.area_mm2[floor]) * trunk.length_m[feeder]
        row, step = np.nonzero(weight[:, None] + more < best - LEAST_GAIN)
        if len(row) * (len(trunk.floor) + len(trunk.least)) > MOST:
            return rungs
        thin, thick = thin[row], thick[row]
        thin[:, feeder] = thick[:, feeder] = steps[step]
        weight = weight[row] + more[step]
        if len(row) > FEW and feeder != order[-1]:
            weight = weighs.least(thin, thick)
        lighter = weight < best - LEAST_GAIN
        thin, thick, weight = thin[lighter], thick[lighter], weight[lighter]
        if not len(thin):
            return rungs
    thin = thin[trunk.holds(thin)]
    if not len(thin):
        return rungs
    copper = weighs.weighed(thin)
    least = int(copper.argmin())
    return thin[least] if copper[least] < best - LEAST_GAIN else rungs


def thinner_words(weighs: Copper, rungs: Ints) -> list[str]:
    """Say of every feeder why drop asks for no thinner size; '' where something else does."""
    trunk = weighs.trunk
    thinner = rungs[None] - np.eye(len(rungs), dtype=np.int64)
    free = (thinner.diagonal() >= trunk.floor) & ~trunk.fixed
    tried = np.maximum(thinner, 0)
    holds, copper = trunk.holds(tried), weighs.weighed(tried)
    now = float(weighs.weighed(rungs[None])[0])
    found = []
    for feeder, may in enumerate(free.tolist()):
        more_kg = (float(copper[feeder]) - now) * COPPER_KG_PER_MM2_M
        if not may:
            found.append("")
        elif not holds[feeder]:
            found.append("a size thinner its chain drops more than that")
        elif not np.isfinite(more_kg):
            found.append("a size thinner a branch behind it fails its limit")
        else:
            found.append(f"a size thinner the branches take {figure(more_kg)} kg of copper more")
    return found
