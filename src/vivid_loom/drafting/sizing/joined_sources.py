"""The greatest short on a supply with several sources: one network, everything closed.

With every switch, selector, relay and combiner closed and all sources at one voltage, what drives a
short is that voltage, and what limits it the resistance between the two points (Thévenin's
theorem): batteries count with their own, sources that limit themselves with that at which they give
no more.
"""

from collections.abc import Iterable, Iterator
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

__all__ = ["Branch", "resistances_ohm"]


class Branch(NamedTuple):
    """A resistance between two named points."""

    start: str
    end: str
    ohm: float


LEAST_OHM = 1e-9  # of a conductor without length


def _reached(branches: Iterable[Branch], start: str) -> list[str]:
    """Return the points that branches join to one, that one first."""
    beside: dict[str, list[str]] = {}
    for branch in branches:
        beside.setdefault(branch.start, []).append(branch.end)
        beside.setdefault(branch.end, []).append(branch.start)
    found, waiting = {start: None}, [start]
    while waiting:
        for point in beside.get(waiting.pop(), ()):
            if point not in found:
                found[point] = None
                waiting.append(point)
    return list(found)


def resistances_ohm(branches: tuple[Branch, ...], end: str) -> dict[str, float]:
    """Return the resistance of every point of a network to one, in Ω; of those it is joined to."""
    points = _reached(branches, end)
    at = {point: i - 1 for i, point in enumerate(points)}  # the end is the reference
    laws: NDArray[np.float64] = np.zeros((len(points) - 1, len(points) - 1))
    for i, j, siemens in _stamps(branches, at):
        laws[i, j] += siemens
    apart = np.linalg.inv(laws).diagonal().tolist() if len(points) > 1 else []
    return {point: apart[i] if i >= 0 else 0.0 for point, i in at.items()}


def _stamps(branches: Iterable[Branch], at: dict[str, int]) -> Iterator[tuple[int, int, float]]:
    for start, end, ohm in branches:
        if start not in at or start == end:
            continue
        i, j, siemens = at[start], at[end], 1 / max(ohm, LEAST_OHM)
        for row, column, sign in ((i, i, 1), (j, j, 1), (i, j, -1), (j, i, -1)):
            if row >= 0 and column >= 0:
                yield row, column, sign * siemens
