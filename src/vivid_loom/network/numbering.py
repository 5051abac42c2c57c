"""Nodes by number: what is joined without resistance is one, in the order to eliminate them."""

from collections.abc import Mapping, Sequence
from functools import lru_cache
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.records import Network

__all__ = ["ends_of", "numbered"]

Ints = NDArray[np.int64]


def numbered(network: Network) -> Mapping[str, int]:
    """Return each node's number; what is joined without resistance has one."""
    groups = (network.sources, network.draws, network.converters)
    return _numbered(
        tuple([(b.a, b.b, b.ohm <= 0) for b in network.branches]),
        tuple([(other.plus, other.minus) for group in groups for other in group]),
    )


@lru_cache(maxsize=4)
def _numbered(
    branches: tuple[tuple[str, str, bool], ...], others: tuple[tuple[str, str], ...]
) -> Mapping[str, int]:
    """Number the nodes of networks that are joined alike, whatever conducts how well in them.

    Args:
        branches: their ends, and whether they are without resistance.
        others: ends of what gives and draws.
    """
    root: dict[str, str] = {}

    def find(name: str) -> str:
        root.setdefault(name, name)
        while root[name] != name:
            root[name] = root[root[name]]
            name = root[name]
        return name

    for first, last, is_joint in branches:
        a, b = find(first), find(last)
        if is_joint:
            root[a] = b
    for plus, minus in others:
        find(plus), find(minus)
    numbers: dict[str, int] = {}
    at = {name: numbers.setdefault(find(name), len(numbers)) for name in list(root)}
    joined = [(at[a], at[b]) for a, b, _ in branches]
    joined += [(at[plus], at[minus]) for plus, minus in others]
    order = _elimination_order(ends_of(joined), len(numbers)).tolist()
    return MappingProxyType({name: order[number] for name, number in at.items()})


def _elimination_order(ends: Ints, size: int) -> Ints:
    """Return for each node its place in an order that fills the factors little (least degree)."""
    from scipy.sparse import csc_matrix
    from scipy.sparse.linalg import splu

    if not size:
        return np.zeros(0, dtype=np.int64)
    a, b = ends
    row, column = np.concatenate((a, b)), np.concatenate((b, a))
    pattern = csc_matrix((np.ones(len(row)), (row, column)), shape=(size, size))
    pattern.setdiag(np.full(size, 2.0 * len(row) + 1.0))  # no pivot but the diagonal's
    symmetric = {"SymmetricMode": True}
    found: Ints = splu(
        pattern, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options=symmetric
    ).perm_c
    return found


def ends_of(pairs: Sequence[tuple[int, int]]) -> Ints:
    """Return pairs of nodes as arrays, shape (2, n)."""
    return np.array(pairs, dtype=np.int64).reshape(-1, 2).T
