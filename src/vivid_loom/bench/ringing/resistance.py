"""The resistance between two pins of a net."""

from collections.abc import Iterable

import numpy as np

__all__ = ["effective_ohm"]


def effective_ohm(edges: Iterable[tuple[str, str, float]], start: str, end: str) -> float:
    """Return the resistance between two pins; infinite where nothing joins them.

    Args:
        edges: the pins that each resistance joins, and its value; in the unit of the result.

    Raises:
        ValueError: a resistance that is not positive.
    """
    joined = [(a, b, ohm) for a, b, ohm in edges if a != b]
    if any(ohm <= 0 for _, _, ohm in joined):
        raise ValueError("expected every resistance above 0")
    reached, waiting = {start}, [start]
    while waiting:
        at = waiting.pop()
        for a, b, _ in joined:
            for here, there in ((a, b), (b, a)):
                if here == at and there not in reached:
                    reached.add(there)
                    waiting.append(there)
    if end not in reached:
        return float("inf")
    if start == end:
        return 0.0
    index = {name: i for i, name in enumerate(sorted(reached - {end}))}
    matrix = np.zeros((len(index), len(index)))
    for a, b, ohm in joined:
        if a not in reached:
            continue
        for here, there in ((a, b), (b, a)):
            if here in index:
                matrix[index[here], index[here]] += 1 / ohm
                if there in index:
                    matrix[index[here], index[there]] -= 1 / ohm
    given = np.zeros(len(index))
    given[index[start]] = 1.0
    return float(np.linalg.solve(matrix, given)[index[start]])
