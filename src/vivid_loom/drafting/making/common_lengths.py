"""Wires of one kind cut to a few common lengths, with the least extra wire."""

from collections.abc import Mapping
from typing import NamedTuple

__all__ = ["Common", "common_lengths"]


class Common(NamedTuple):
    """Lengths that take the place of others.

    Attributes:
        instead: the length that each length is cut to.
        extra_mm: what that costs in all.
    """

    instead: dict[float, float]
    extra_mm: float


def common_lengths(counts: Mapping[float, int], most: int) -> Common:
    """Return at most so many lengths that serve for all, none shorter than asked.

    Sorted lengths fall into runs of neighbours, each cut to its longest; which runs, dynamic
    programming finds exactly.

    Args:
        counts: how many wires of each length in mm.
        most: how many different lengths there may be.

    Raises:
        ValueError: ``most`` below one.
    """
    if most < 1:
        raise ValueError(f"found {most} lengths, expected at least one")
    lengths = sorted(counts)
    if not lengths:
        return Common({}, 0.0)
    # least[k][j]: extra for the first j lengths in k runs, and where the last run begins
    least: list[list[tuple[float, int]]] = [[(0.0, 0)] + [(float("inf"), 0)] * len(lengths)]
    for k in range(1, most + 1):
        row = [(0.0, 0)]
        for j in range(1, len(lengths) + 1):
            extra, best = 0.0, (float("inf"), 0)
            for i in range(j - 1, -1, -1):
                extra += counts[lengths[i]] * (lengths[j - 1] - lengths[i])
                best = min(best, (least[k - 1][i][0] + extra, i))
            row.append(best)
        least.append(row)
    instead: dict[float, float] = {}
    j = len(lengths)
    for k in range(most, 0, -1):
        i = least[k][j][1]
        instead.update({lengths[m]: lengths[j - 1] for m in range(i, j)})
        j = i
    return Common(dict(sorted(instead.items())), least[most][len(lengths)][0])
