"""Nodes by number: what is joined without resistance is one, in the order to eliminate them."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.records import Network

__all__ = ["ends_of", "numbered"]

Ints = NDArray[np.int64]


def numbered(network: Network) -> dict[str, int]:
    """Return each node's number; what is joined without resistance has one."""
    root: dict[str, str] = {}

    def find(name: str) -> str:
        root.setdefault(name, name)
        while root[name] != name:
            root[name] = root[root[name]]
            name = root[name]
        return name

    for branch in network.branches:
        a, b = find(branch.a), find(branch.b)
        if branch.ohm <= 0:
            root[a] = b
    for group in (network.sources, network.draws, network.converters):
        for other in group:
            find(other.plus), find(other.minus)
    numbers: dict[str, int] = {}
    at = {name: numbers.setdefault(find(name), len(numbers)) for name in list(root)}
    joined = [(at[b.a], at[b.b]) for b in network.branches]
    for group in (network.sources, network.draws, network.converters):
        joined += [(at[other.plus], at[other.minus]) for other in group]
    order = _elimination_order(ends_of(joined), len(numbers)).tolist()
    return {name: order[number] for name, number in at.items()}


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
