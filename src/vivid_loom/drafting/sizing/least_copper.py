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

__all__ = [
    "Copper",
    "Steps",
    "Trunk",
    "Ways",
    "branches_of",
    "least_copper",
    "steps_of",
    "thinner_words",
]

MOST: Final = 200_000  # sizes looked at together: with more the proof is given up
FEW: Final = 100  # choices that are weighed together at little more cost than one
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
            ``most`` the greatest, ``fixed`` where the engineer set it.
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
    most: Ints
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
        amp_m = self.ways.out * self.out_am + self.ways.home * self.home_am
        way_v = amp_m @ self.ohm_per_m[rungs].T
        found = np.zeros((len(self.ways.of_pair) + 1, len(rungs)))
        way_v[self.ways.of_pair].max(axis=1, out=found[:-1])
        return found

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
        within = self._chain_v(rungs) <= self.most_v * (1 + 1e-9)
        found: NDArray[np.bool_] = np.all(within, axis=1)
        return found

    def _chain_v(self, rungs: Ints) -> Floats:
        drop_v: Floats = (self.out_am + self.home_am) * self.ohm_per_m[rungs]
        return drop_v @ self.ways.chains.T

    def holding(self, rungs: Ints) -> Ints:
        """Return rungs (f,) with which chains hold what they may drop, as far as terminals let
        them: the size that takes back most volts for its copper first.
        """
        free, each = ~self.fixed, np.eye(len(rungs), dtype=np.int64)
        while not self.holds(rungs[None])[0]:
            may = np.flatnonzero(free & (rungs < self.most))
            tried = rungs + each[may]
            over = np.maximum(self._chain_v(np.vstack((rungs, tried))) - self.most_v, 0).sum(axis=1)
            copper = self.area_mm2[rungs[may] + 1] - self.area_mm2[rungs[may]]
            saved = over[0] - over[1:]
            if not (saved > 0).any():
                break
            rungs = tried[int((saved / (copper * self.length_m[may])).argmax())]
        return rungs


class Steps(NamedTuple):
    """What the branches of each pair on each place, a group g, weigh and ask: it rises by steps s
    of volts.

    Attributes:
        volts: per group the pair of its branches, and (s,) at which one of them asks for a rung
            more; see ``Trunk``.
        before: (g, 1) where each group begins in ``weight`` and ``rung``.
        weight: of all in mm²·m between those, group by group, and ``rung`` of the thickest.
        place: (g,) that each group hangs on.
        most_v: (pairs + 1, 1) with more than this one of them fails.
    """

    volts: tuple[tuple[int, Floats], ...]
    before: Ints
    weight: Floats
    rung: Ints
    place: Ints
    most_v: Floats


def branches_of(trunk: Trunk) -> tuple[NDArray[np.generic], ...]:
    """Return what the steps of branches follow from."""
    branches = (trunk.moment_am, trunk.limit_v, trunk.metres, trunk.least, trunk.cap)
    return (trunk.ohm_per_m, trunk.area_mm2, *branches, trunk.ways.pair, trunk.ways.source)


def steps_of(trunk: Trunk) -> Steps:
    """Return what the branches of each pair on each place ask."""
    moment, limit = trunk.moment_am[:, None], trunk.limit_v[:, None]
    # with more volts than this a branch asks for more than a rung
    last = np.where(moment > 0, limit - moment * trunk.ohm_per_m / (1 + CLOSE), np.inf)
    rungs = np.arange(len(trunk.ohm_per_m) + 1)
    held = np.minimum(np.maximum(rungs, trunk.least[:, None]), trunk.cap[:, None])
    weight = trunk.area_mm2[held] * trunk.metres[:, None]
    pairs, places = trunk.ways.pair, trunk.ways.source
    most_v = np.full(len(trunk.ways.of_pair) + 1, np.inf)
    np.minimum.at(most_v, pairs, last[np.arange(len(last)), trunk.cap])
    groups = sorted(set(zip(pairs.tolist(), places.tolist(), strict=True)))
    found = [_group(last, held, weight, (pairs == p) & (places == at)) for p, at in groups]
    counts = [len(weight) for _, weight, _ in found]
    return Steps(
        volts=tuple((p, volts) for (p, _), (volts, _, _) in zip(groups, found, strict=True)),
        before=np.cumsum([0, *counts], dtype=np.int64)[: len(found), None],
        weight=np.concatenate([np.zeros(0), *(weight for _, weight, _ in found)]),
        rung=np.concatenate([np.zeros(0, dtype=np.int64), *(rung for _, _, rung in found)]),
        place=np.array([at for _, at in groups], dtype=np.int64),
        most_v=most_v[:, None],
    )


def _group(
    last: Floats, held: Ints, weight: Floats, mine: NDArray[np.bool_]
) -> tuple[Floats, Floats, Ints]:
    """Return the volts of a group's steps, and its weight and thickest rung between them.

    Args:
        last: (n, rungs) the volts up to which each branch keeps to a rung.
        held, weight: (n, rungs + 1) the rung that is taken for what is asked, and its weight.
        mine: (n,) which branches are of the group.
    """
    thicker = held[mine, 1:] > held[mine, :-1]
    volts = last[mine][thicker]
    order = volts.argsort(kind="stable")
    more = (weight[mine, 1:] - weight[mine, :-1])[thicker][order]
    first, thinnest = float(weight[mine, 0].sum()), held[mine, 0].max()
    rung = np.maximum.accumulate(np.append(thinnest, held[mine, 1:][thicker][order]))
    return volts[order], np.append(first, first + more.cumsum()), rung


class Copper:
    """What all copper behind feeders weighs.

    Attributes:
        trunk: the feeders, and what hangs behind them.
    """

    def __init__(self, trunk: Trunk, steps: Steps) -> None:
        """Take what branches ask as ``steps_of`` lays it out by volts."""
        self.trunk, self._steps = trunk, steps
        self._behind = trunk.ways.behind[:, steps.place]

    def _asked(self, rungs: Ints) -> tuple[Floats, NDArray[np.bool_], Ints]:
        """Return what branches weigh (k,), whether one fails (k,), and the level of each group
        (g, k).
        """
        steps, pairs = self._steps, self.trunk.pair_v(rungs)
        level = np.zeros((len(steps.volts), len(rungs)), dtype=np.int64)
        for at, (pair, volts) in zip(level, steps.volts, strict=True):
            at[:] = volts.searchsorted(pairs[pair])
        level += steps.before
        fails: NDArray[np.bool_] = np.any(pairs > steps.most_v, axis=0)
        return steps.weight[level].sum(axis=0), fails, level

    def weighed(self, rungs: Ints) -> Floats:
        """Return all copper behind feeders of rungs (k, f), in mm²·m; inf where a branch fails."""
        trunk = self.trunk
        weight, fails, level = self._asked(rungs)
        rung = self._steps.rung[level].T
        thickest = np.where(self._behind, rung[:, None, :], 0).max(axis=2, initial=0)
        feeders = np.where(trunk.fixed, rungs, np.maximum(rungs, thickest))
        found: Floats = np.where(fails, np.inf, trunk.area_mm2[feeders] @ trunk.length_m + weight)
        return found

    def behind(self, rungs: Ints) -> Floats:
        """Return what branches behind feeders of rungs (k, f) weigh, in mm²·m; inf where one
        fails.
        """
        weight, fails, _ = self._asked(rungs)
        weight[fails] = np.inf
        return weight


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
    while True:
        others = rungs + moves
        within = (others >= trunk.floor) & (others <= trunk.most) | trunk.fixed
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
    its floor, and lets the branches be at least as thick as behind the thickest wire that its
    terminals take.
    """
    trunk = weighs.trunk
    left = ~trunk.fixed
    tried = np.where(left, trunk.floor, rungs)[None]
    feeders = trunk.area_mm2[tried] @ trunk.length_m
    branches = weighs.behind(np.where(left, trunk.most, tried))
    free = np.flatnonzero(left)
    for feeder in free[np.argsort(-trunk.length_m[free], kind="stable")].tolist():
        floor = int(trunk.floor[feeder])
        areas = trunk.area_mm2[floor : int(trunk.most[feeder]) + 1]
        more = (areas - areas[0]) * trunk.length_m[feeder]
        row, step = np.nonzero((feeders + branches)[:, None] + more < best - LEAST_GAIN)
        if len(row) * (len(trunk.floor) + len(trunk.least)) > MOST:
            return rungs
        left[feeder] = False
        tried, feeders, branches = tried[row], feeders[row] + more[step], branches[row]
        tried[:, feeder] = floor + step
        if len(tried) > FEW:
            within = trunk.holds(np.where(left, trunk.most, tried))
            tried, feeders, branches = tried[within], feeders[within], branches[within]
        if len(tried) > FEW and left.any():
            branches = weighs.behind(np.where(left, trunk.most, tried))
            lighter = feeders + branches < best - LEAST_GAIN
            tried, feeders, branches = tried[lighter], feeders[lighter], branches[lighter]
        if not len(tried):
            return rungs
    tried = tried[trunk.holds(tried)]
    if not len(tried):
        return rungs
    copper = weighs.weighed(tried)
    least = int(copper.argmin())
    return tried[least] if copper[least] < best - LEAST_GAIN else rungs


def thinner_words(weighs: Copper, rungs: Ints) -> list[str]:
    """Say of every feeder why drop asks for no thinner size; '' where something else does."""
    trunk = weighs.trunk
    thinner = rungs[None] - np.eye(len(rungs), dtype=np.int64)
    free = (thinner.diagonal() >= trunk.floor) & ~trunk.fixed
    tried = np.maximum(thinner, 0)
    holds = trunk.holds(tried)
    *copper, now = weighs.weighed(np.vstack((tried, rungs))).tolist()
    found = []
    for feeder, may in enumerate(free.tolist()):
        more_kg = (copper[feeder] - now) * COPPER_KG_PER_MM2_M
        if not may:
            found.append("")
        elif not holds[feeder]:
            found.append("a size thinner its chain drops more than that")
        elif not np.isfinite(more_kg):
            found.append("a size thinner a branch behind it fails its limit")
        else:
            found.append(f"a size thinner the branches take {figure(more_kg)} kg of copper more")
    return found
