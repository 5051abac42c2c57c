"""What is joined to what, and what can carry no current because no plus reaches it."""

from collections import defaultdict
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

__all__ = ["Breaks", "Joined", "dead_ends", "islands"]

Ints = NDArray[np.int64]
Flags = NDArray[np.bool_]


class Joined(NamedTuple):
    """A network by the numbers of its nodes.

    Attributes:
        branches: ends of the branches that conduct, shape (2, n).
        sources: plus and minus of what gives current, shape (2, n).
        taken: plus and minus of what takes it, shape (2, n).
        size: how many nodes there are.
    """

    branches: Ints
    sources: Ints
    taken: Ints
    size: int


def islands(ends: Ints, size: int) -> tuple[int, Ints]:
    """Return how many islands these ends make of the nodes, and which each node is on.

    Every node hooks on to the lowest it is joined to, and all follow their hooks down, until none
    moves (Shiloach and Vishkin 1982): a few passes over arrays.
    """
    a, b = ends
    down = np.arange(size)
    while True:
        at_a, at_b = down[a], down[b]
        apart = at_a != at_b
        if not apart.any():
            break
        low = np.minimum(at_a, at_b)[apart]
        np.minimum.at(down, at_a[apart], low)
        np.minimum.at(down, at_b[apart], low)
        while not np.array_equal(below := down[down], down):
            down = below
    lowest = down == np.arange(size)
    island: Ints = (np.cumsum(lowest) - 1)[down]
    return int(lowest.sum()), island


def dead_ends(net: Joined) -> tuple[Flags, Flags]:
    """Return which nodes no source's plus reaches, and which of what takes current gets none.

    Plus reaches through what takes current as well: two in series carry some, and what hangs from
    plus by one end still charges whatever insulation ties its other end. But none flows through
    what is tied to one island only, however often, unless a short makes plus and minus one island.
    """
    plus, minus = net.sources
    count, island = islands(net.branches, net.size)
    hot: Flags = np.zeros(count, dtype=bool)
    tied: Flags = np.zeros(count, dtype=bool)
    hot[island[plus]] = True
    tied[island[minus]] = True
    shorted = tied & hot
    tied = tied | hot
    a, b = (island[ends] for ends in net.taken)
    free = ~(tied[a] & tied[b])
    between = ~tied[a] & ~tied[b]
    groups, group = islands(np.stack((a[between], b[between])), count)
    by_hot: Flags = np.zeros(groups, dtype=bool)
    lowest, highest = np.full(groups, count), np.full(groups, -1)
    for one, other in ((a, b), (b, a)):
        by_hot[group[other[free & hot[one]]]] = True
        held = free & tied[one]
        np.minimum.at(lowest, group[other[held]], one[held])
        np.maximum.at(highest, group[other[held]], np.where(shorted[one], count, one)[held])
    alive: Flags = tied | by_hot[group]
    through = by_hot & (lowest < highest)
    untied = np.where(tied[a], b, a)
    dark: Flags = np.where(free, ~through[group[untied]], ~hot[a] & ~hot[b])
    dead: Flags = ~alive[island]
    return dead, dark


class Breaks:
    """What single breaks leave hanging: most cut off a few nodes, found by walking from there."""

    def __init__(self, net: Joined) -> None:
        self._net = net
        self._beside: dict[int, list[tuple[int, int]]] = defaultdict(list)
        for i, (a, b) in enumerate(net.branches.T.tolist()):
            self._beside[a].append((b, i))
            self._beside[b].append((a, i))
        _, island = islands(net.branches, net.size)
        self._sources = frozenset(net.sources.ravel().tolist())
        self._island = island.tolist()
        self._hot, cold = ({self._island[n] for n in ends.tolist()} for ends in net.sources)
        self._tied, self._shorted = self._hot | cold, self._hot & cold
        self._takes: dict[int, list[tuple[int, int]]] = defaultdict(list)
        for i, (a, b) in enumerate(net.taken.T.tolist()):
            self._takes[a].append((i, b))
            self._takes[b].append((i, a))

    def darkened(self, branch: int) -> list[int] | None:
        """Return what a break of a branch leaves without current; None where that is not simple.

        Args:
            branch: its index among those that conduct.
        """
        if self._island[int(self._net.branches[0, branch])] not in self._tied:
            return None
        cut = self._cut_off(branch)
        if not cut:
            return []
        ties: set[int] = set()
        taken: list[int] = []
        for node in cut:
            if node in self._sources:
                return None
            for index, other in self._takes[node]:
                taken.append(index)
                if other in cut:
                    continue
                if self._island[other] not in self._tied:
                    return None
                ties.add(self._island[other])
        through = len(ties) > 1 or ties & self._shorted
        return [] if through and ties & self._hot else taken

    def _cut_off(self, branch: int) -> set[int]:
        """Return the smaller side of a break; nothing where there is another way round."""
        a, b = self._net.branches[:, branch].tolist()
        sides = ({a}, {b})
        waiting = ([a], [b])
        while True:
            for mine, side, theirs in ((waiting[0], sides[0], b), (waiting[1], sides[1], a)):
                if not mine:
                    return side
                for other, index in self._beside[mine.pop()]:
                    if index != branch and other not in side:
                        if other == theirs:
                            return set()
                        side.add(other)
                        mine.append(other)
