"""The order in which a chain of jumpers meets its tabs: the one that uses the least wire."""

import math
from collections.abc import Sequence
from functools import lru_cache
from itertools import combinations, pairwise
from typing import Final

import numpy as np

__all__ = ["EXACT_UP_TO", "chain_length", "shortest_chain", "spanning_length"]

EXACT_UP_TO: Final = 12
STARTS: Final = 10
SHIFTED: Final = 3  # links of a stretch that is tried elsewhere
CLOSE: Final = 1e-9
Points = tuple[tuple[float, float], ...]
Apart = list[list[float]]


def chain_length(points: Sequence[tuple[float, float]], order: Sequence[int]) -> float:
    """Return the straight length of a chain in a given order."""
    return sum(math.dist(points[a], points[b]) for a, b in pairwise(order))


def spanning_length(points: Sequence[tuple[float, float]]) -> float:
    """Return the length of the shortest tree over all points: no chain is shorter (Prim 1957)."""
    left = dict.fromkeys(range(1, len(points)), math.inf)
    at, total = 0, 0.0
    while left:
        for other in left:
            left[other] = min(left[other], math.dist(points[at], points[other]))
        at = min(left, key=lambda i: left[i])
        total += left.pop(at)
    return total


@lru_cache(maxsize=64)
def shortest_chain(points: Points, *, from_first: bool) -> tuple[int, ...]:
    """Return the order that joins all points with the least length.

    Up to ``EXACT_UP_TO`` points it is the optimum (Held and Karp 1962); above, what no reversal
    and no shift of a stretch makes shorter, from the best of a few starts.

    Args:
        from_first: the chain starts at the first point; else at whichever suits.
    """
    if len(points) < 3:
        return tuple(range(len(points)))
    apart = [[math.dist(a, b) for b in points] for a in points]
    least, best = spanning_length(points) + CLOSE, list(range(len(points)))
    for start in [0] if from_first else _far_out(points):
        order = _improved(apart, _nearest(apart, start), held=from_first)
        best = min(best, order, key=lambda order: chain_length(points, order))
        if chain_length(points, best) <= least:
            return tuple(best)  # as short as a tree: no chain is shorter
    if len(points) > EXACT_UP_TO:
        return tuple(best)
    return _exact(np.array(apart), from_first=from_first)


def _far_out(points: Points) -> list[int]:
    """Return the points a chain may well start at: those farthest out."""
    middle = (sum(x for x, _ in points) / len(points), sum(y for _, y in points) / len(points))
    far = sorted(range(len(points)), key=lambda i: (-math.dist(points[i], middle), i))
    return far[:STARTS]


def _nearest(apart: Apart, start: int) -> list[int]:
    order, left = [start], set(range(len(apart))) - {start}
    while left:
        here = apart[order[-1]]
        order.append(min(left, key=lambda i: (here[i], i)))
        left.remove(order[-1])
    return order


def _improved(apart: Apart, order: list[int], *, held: bool) -> list[int]:
    """Return the order once neither a reversed nor a shifted stretch makes it shorter."""

    def link(a: int | None, b: int | None) -> float:
        return 0.0 if a is None or b is None else apart[a][b]

    def better() -> list[int] | None:
        for i, j in combinations(range(1 if held else 0, len(order) + 1), 2):
            before = order[i - 1] if i else None
            after = order[j] if j < len(order) else None
            head, tail = order[i], order[j - 1]
            loose = link(before, head) + link(tail, after)
            if link(before, tail) + link(head, after) < loose - CLOSE:
                return [*order[:i], *reversed(order[i:j]), *order[j:]]
            if j - i > SHIFTED:
                continue
            saved = loose - link(before, after)
            rest = [*order[:i], *order[j:]]
            for k in range(1 if held else 0, len(rest) + 1):
                a = rest[k - 1] if k else None
                b = rest[k] if k < len(rest) else None
                for first, last, piece in (
                    (head, tail, order[i:j]),
                    (tail, head, order[i:j][::-1]),
                ):
                    if link(a, first) + link(last, b) - link(a, b) < saved - CLOSE:
                        return [*rest[:k], *piece, *rest[k:]]
        return None

    while shorter := better():
        order = shorter
    return order


def _exact(
    apart: "np.ndarray[tuple[int, int], np.dtype[np.float64]]", *, from_first: bool
) -> tuple[int, ...]:
    count = len(apart)
    # least[mask, j]: the shortest chain over the points of ``mask`` that ends at j
    least = np.full((1 << count, count), np.inf)
    came = np.full((1 << count, count), -1, dtype=np.int64)
    for j in range(1 if from_first else count):
        least[1 << j, j] = 0.0
    for mask in range(1, 1 << count):
        onward = least[mask][:, None] + apart
        before = onward.argmin(axis=0)
        reached = onward[before, range(count)]
        for k in range(count):
            new = mask | 1 << k
            if new != mask and reached[k] < least[new, k]:
                least[new, k], came[new, k] = reached[k], before[k]
    mask = (1 << count) - 1
    order = [int(least[mask].argmin())]
    while (back := int(came[mask, order[-1]])) >= 0:
        mask ^= 1 << order[-1]
        order.append(back)
    return tuple(reversed(order))
