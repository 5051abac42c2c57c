"""The order in which a harness is probed with the fewest moves from connector to connector.

Every step needs its two probes at two connectors. From one step to the next a probe is moved
where its connector is not among the next one's: no move, one or two. The best order is a
travelling-salesman problem over the distinct pairs of connectors, whose links cost one or two.
"""

from collections import Counter, defaultdict
from collections.abc import Hashable, Sequence
from itertools import combinations, pairwise
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.netlist import Sets

__all__ = ["Order", "fewest_moves", "fewest_places", "moves_of"]

Pair = tuple[str, str]
Ints = NDArray[np.int64]
SECONDS: Final = 5.0
FIRST: Final = 2  # both probes are put on


class Order(NamedTuple):
    """An order of the pairs; ``moves`` it takes, and ``bound`` below which no order gets."""

    pairs: tuple[Pair, ...]
    moves: int
    bound: int


def _cost(a: Pair, b: Pair) -> int:
    return 2 - (Counter(a) & Counter(b)).total()


def moves_of(pairs: Sequence[Pair]) -> int:
    """Return the moves that probing pairs in this order takes."""
    if not pairs:
        return 0
    return FIRST + sum(_cost(a, b) for a, b in pairwise(pairs))


def fewest_moves(pairs: Sequence[Pair]) -> Order:
    """Return an order of distinct pairs of connectors with few moves, and a bound.

    The bound is the most links at one move that no pair needs more than two of and no group that
    hangs together more than its size less one (an integer program).
    """
    distinct = list(dict.fromkeys((min(p), max(p)) for p in pairs))
    if not distinct:
        return Order((), 0, 0)
    links = _links(distinct)
    cost = np.full((len(distinct), len(distinct)), 2, dtype=np.int64)
    for a, b in links:
        cost[a, b] = cost[b, a] = 1
    bound = FIRST + 2 * (len(distinct) - 1) - _most_links(len(distinct), links)
    path = _improved(_greedy(cost), cost, bound)
    ordered = tuple(distinct[i] for i in path)
    return Order(ordered, moves_of(ordered), bound)


def _links(pairs: Sequence[Pair]) -> list[tuple[int, int]]:
    """Return which pairs share a connector."""
    at: dict[str, list[int]] = defaultdict(list)
    for i, pair in enumerate(pairs):
        for connector in set(pair):
            at[connector].append(i)
    return sorted({link for group in at.values() for link in combinations(group, 2)})


def _groups(count: int, links: Sequence[tuple[int, int]]) -> list[list[int]]:
    sets = Sets(count)
    for a, b in links:
        sets.join(a, b)
    groups: dict[int, list[int]] = defaultdict(list)
    for i in range(count):
        groups[sets.find(i)].append(i)
    return [*groups.values()]


def _most_links(count: int, links: Sequence[tuple[int, int]]) -> int:
    """Return a number of links at one move that no order exceeds."""
    if not links:
        return 0
    from scipy.optimize import Bounds, LinearConstraint, milp  # slow to load
    from scipy.sparse import coo_array

    rows = [end for link in links for end in link]
    columns = [i for i in range(len(links)) for _ in range(2)]
    groups = _groups(count, links)
    group_of = {i: g for g, group in enumerate(groups) for i in group}
    rows += [count + group_of[a] for a, _ in links]
    columns += range(len(links))
    shape = (count + len(groups), len(links))
    matrix = coo_array((np.ones(len(rows)), (rows, columns)), shape=shape).tocsc()
    most = np.array([2.0] * count + [len(group) - 1.0 for group in groups])
    solved = milp(
        -np.ones(len(links)),
        constraints=LinearConstraint(matrix, -np.inf, most),
        integrality=np.ones(len(links)),
        bounds=Bounds(0.0, 1.0),
        options={"time_limit": SECONDS},
    )
    return int(np.floor(-float(solved.mip_dual_bound) + 1e-6))


def _greedy(cost: Ints) -> list[int]:
    """Return a path that goes on to the pair with the fewest links left, at one move if it can."""
    count = len(cost)
    left = set(range(count))
    degree = (cost == 1).sum(axis=1)
    at = min(left, key=lambda i: (degree[i], i))
    path = [at]
    left.remove(at)
    while left:
        degree = degree - (cost[at] == 1)
        at = min(left, key=lambda i: (cost[path[-1], i], degree[i], i))
        path.append(at)
        left.remove(at)
    return path


def _improved(path: list[int], cost: Ints, bound: int) -> list[int]:
    """Turn and move stretches of a path as long as that saves moves, at most to its bound."""
    best, least = path, _length(path, cost)
    shaker = np.random.default_rng(len(path))
    for _ in range(60):
        path = _settled(path, cost)
        length = _length(path, cost)
        if length < least:
            best, least = path, length
        if least <= bound or len(path) < 8:
            break
        cuts = sorted(shaker.choice(np.arange(1, len(best)), size=3, replace=False).tolist())
        a, b, c = cuts  # two stretches change places, as no single turn can do
        path = [*best[:a], *best[b:c], *best[a:b], *best[c:]]
    return best


def _length(path: Sequence[int], cost: Ints) -> int:
    return FIRST + int(sum(cost[a, b] for a, b in pairwise(path)))


def _settled(path: list[int], cost: Ints) -> list[int]:
    """Turn stretches round and move single pairs until none saves anything."""
    better = True
    while better:
        better = False
        order = np.array(path)
        for i in range(len(path) - 1):  # turn path[i + 1 : j + 1]
            old = cost[order[i], order[i + 1]]
            last = np.append(cost[order[i + 1 : -1], order[i + 2 :]], 0)
            after = np.append(cost[order[i + 1], order[i + 2 :]], 0)
            gain = old + last - cost[order[i], order[i + 1 :]] - after
            j = int(np.argmax(gain))
            if gain[j] > 0:
                path = [*path[: i + 1], *path[i + 1 : i + 2 + j][::-1], *path[i + 2 + j :]]
                better = True
                break
        if not better:
            path, better = _moved(path, cost)
    return path


def _moved(path: list[int], cost: Ints) -> tuple[list[int], bool]:
    """Put one pair between two others, where that saves a move."""
    for i, at in enumerate(path):
        rest = [*path[:i], *path[i + 1 :]]
        if len(rest) < 2:
            break
        left = cost[path[i - 1], at] if i else 0
        right = cost[at, path[i + 1]] if i + 1 < len(path) else 0
        closed = cost[path[i - 1], path[i + 1]] if 0 < i < len(path) - 1 else 0
        saved = int(left + right - closed)
        order = np.array(rest)
        added = cost[order[:-1], at] + cost[at, order[1:]] - cost[order[:-1], order[1:]]
        j = int(np.argmin(added))
        if added[j] < saved:
            return [*rest[: j + 1], at, *rest[j + 1 :]], True
        for end, made in ((0, [at, *rest]), (-1, [*rest, at])):
            if cost[rest[end], at] < saved:
                return made, True
    return path, False


def fewest_places(choices: Sequence[Sequence[Hashable]]) -> tuple[Hashable, ...]:
    """Return the fewest places among which each choice has at least one (an integer program)."""
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import coo_array

    if not choices:
        return ()
    places = list(dict.fromkeys(place for choice in choices for place in choice))
    index = {place: i for i, place in enumerate(places)}
    at = [(row, index[place]) for row, choice in enumerate(choices) for place in set(choice)]
    rows, columns = zip(*at, strict=True)
    matrix = coo_array((np.ones(len(at)), (rows, columns)), shape=(len(choices), len(places)))
    solved = milp(
        np.ones(len(places)),
        constraints=LinearConstraint(matrix.tocsc(), 1.0, np.inf),
        integrality=np.ones(len(places)),
        bounds=Bounds(0.0, 1.0),
        options={"time_limit": SECONDS},
    )
    return tuple(place for place, taken in zip(places, solved.x, strict=True) if taken > 0.5)
