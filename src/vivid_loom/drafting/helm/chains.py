"""The order in which a chain of jumpers meets its tabs: the one that uses the least wire."""

import math
from collections.abc import Collection, Sequence
from functools import lru_cache
from itertools import pairwise
from typing import Final

import numpy as np
import numpy.typing as npt

__all__ = ["EXACT_UP_TO", "chain_length", "kept_chain", "shortest_chain", "spanning_length"]

EXACT_UP_TO: Final = 12
STARTS: Final = 10
SHIFTED: Final = 3  # links of a stretch that is tried elsewhere
CLOSE: Final = 1e-9
Points = tuple[tuple[float, float], ...]
Apart = npt.NDArray[np.float64]


def chain_length(points: Sequence[tuple[float, float]], order: Sequence[int]) -> float:
    """Return the straight length of a chain in a given order."""
    return sum(math.dist(points[a], points[b]) for a, b in pairwise(order))


def spanning_length(points: Sequence[tuple[float, float]]) -> float:
    """Return the length of the shortest tree over all points: no chain is shorter (Prim 1957)."""
    return _spanning_length(_apart(points))


def _spanning_length(apart: Apart) -> float:
    left, at, total = apart[0].copy(), 0, 0.0
    for _ in range(len(apart) - 1):
        left[at] = np.inf  # its own link is never the least again
        at = int(left.argmin())
        total += float(left[at])
        left = np.minimum(left, np.where(np.isinf(left), np.inf, apart[at]))
    return total


def _apart(points: Sequence[tuple[float, float]]) -> Apart:
    """Return how far all points are from each other."""
    x, y = np.array(points, dtype=float).reshape(-1, 2).T
    apart: Apart = np.hypot(x[:, None] - x, y[:, None] - y)
    return apart


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
    apart = _apart(points)
    least, best = _spanning_length(apart) + CLOSE, list(range(len(points)))
    for start in [0] if from_first else _far_out(points):
        order = _improved(apart, _nearest(apart, start), held=from_first)
        best = min(best, order, key=lambda order: chain_length(points, order))
        if chain_length(points, best) <= least:
            return tuple(best)  # as short as a tree: no chain is shorter
    if len(points) > EXACT_UP_TO:
        return tuple(best)
    return _exact(apart, from_first=from_first)


def kept_chain(
    points: Points, lies: Collection[frozenset[int]], *, first: int | None
) -> tuple[int, ...]:
    """Return an order that keeps every link that lies there, and adds the shortest beside them.

    Stretches that lie there are joined end to end, each time the one that is nearest.

    Args:
        lies: pairs of points that are linked already.
        first: where the chain starts; None for whichever suits.

    Returns:
        The shortest chain where what lies there is none, or does not begin at its first point.
    """
    stretches = _stretches(len(points), lies)
    begins = [s for s in stretches or [] if first in (None, s[0], s[-1])]
    if not stretches or not begins or (first is None and not lies):
        return shortest_chain(points, from_first=first is not None)
    order = max(begins, key=len)
    stretches.remove(order)
    if first is not None and order[0] != first:
        order = order[::-1]
    while stretches:
        ends = [(order[-1], True)] + ([(order[0], False)] if first is None else [])
        _, at_end, stretch, turned = min(
            (math.dist(points[end], points[stretch[-1 if turned else 0]]), at_end, stretch, turned)
            for end, at_end in ends
            for stretch in stretches
            for turned in (False, True)
        )
        stretches.remove(stretch)
        onward = stretch[::-1] if turned else stretch
        order = order + onward if at_end else onward[::-1] + order
    return tuple(order)


def _stretches(count: int, lies: Collection[frozenset[int]]) -> list[list[int]] | None:
    """Return the stretches that links make of points; None where links branch or run round."""
    beside: list[list[int]] = [[] for _ in range(count)]
    for a, b in map(sorted, lies):
        beside[a].append(b)
        beside[b].append(a)
    left, found = set(range(count)), list[list[int]]()
    for start in (i for i in range(count) if len(beside[i]) < 2):
        if start not in left:
            continue
        stretch = [start]
        left.remove(start)
        while onward := [i for i in beside[stretch[-1]] if i in left]:
            stretch.append(onward[0])
            left.remove(onward[0])
        found.append(stretch)
    return None if left or any(len(each) > 2 for each in beside) else found


def _far_out(points: Points) -> list[int]:
    """Return the points a chain may well start at: those farthest out."""
    middle = (sum(x for x, _ in points) / len(points), sum(y for _, y in points) / len(points))
    far = sorted(range(len(points)), key=lambda i: (-math.dist(points[i], middle), i))
    return far[:STARTS]


def _nearest(apart: Apart, start: int) -> list[int]:
    order, left = [start], np.ones(len(apart), dtype=bool)
    left[start] = False
    while left.any():
        order.append(int(np.where(left, apart[order[-1]], np.inf).argmin()))
        left[order[-1]] = False
    return order


def _improved(apart: Apart, order: list[int], *, held: bool) -> list[int]:
    """Return the order once neither a reversed nor a shifted stretch makes it shorter.

    Either end of a chain is free: it is linked, over no distance, to a point beyond all others.
    """
    links = np.pad(apart, (0, 1))
    while shorter := _shorter(links, order, held=held):
        order = shorter
    return order


def _shorter(links: Apart, order: list[int], *, held: bool) -> list[int] | None:
    """Return the order made shorter by the first stretch that does; None where none does."""
    beyond, first = len(order), 1 if held else 0
    whole = np.array([beyond, *order, beyond])
    for i in range(first, len(order)):
        before, head = whole[i], whole[i + 1]
        tails, afters = whole[i + 1 : -1], whole[i + 2 :]
        loose = links[before, head] + links[tails, afters]
        turned = links[before, tails] + links[head, afters] < loose - CLOSE
        turned[0] = False  # a stretch of one
        at = int(turned.argmax()) if turned.any() else len(order)
        for length in range(1, min(SHIFTED, len(order) - i) + 1):
            if at < length:
                break  # turning a shorter stretch comes first
            saved = float(loose[length - 1] - links[before, afters[length - 1]])
            if saved > CLOSE and (moved := _moved(links, order, (i, i + length), saved, first)):
                return moved
        if at < len(order):
            j = i + at + 1
            return [*order[:i], *reversed(order[i:j]), *order[j:]]
    return None


def _moved(
    links: Apart, order: list[int], stretch: tuple[int, int], saved: float, first: int
) -> list[int] | None:
    """Return the order with a stretch moved to where it costs less than leaving it saves."""
    i, j = stretch
    beyond, piece, rest = len(order), order[i:j], [*order[:i], *order[j:]]
    gaps = np.array([beyond, *rest, beyond])
    a, b = gaps[:-1], gaps[1:]
    ahead = links[a, piece[0]] + links[piece[-1], b] - links[a, b] < saved - CLOSE
    back = links[a, piece[-1]] + links[piece[0], b] - links[a, b] < saved - CLOSE
    fits = np.flatnonzero(ahead | back)
    fits = fits[fits >= first]
    if not len(fits):
        return None
    k = int(fits[0])
    return [*rest[:k], *(piece if ahead[k] else piece[::-1]), *rest[k:]]


def _exact(apart: Apart, *, from_first: bool) -> tuple[int, ...]:
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
