"""How a network is joined: its nodes numbered, and where the figures of its matrix go.

All that is the same however well its branches conduct, so it is worked out once for networks that
are joined alike: a boat before and after an edit, or with a fault in one of its wires.
"""

from collections.abc import Mapping, Sequence
from functools import lru_cache
from itertools import chain
from types import MappingProxyType
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.islands import Joined, dead_ends, islands
from vivid_loom.network.records import Network

__all__ = ["Layout", "layout_of"]

Ints = NDArray[np.int64]
Flags = NDArray[np.bool_]
Ends = tuple[tuple[str, str], ...]


class _Named(NamedTuple):
    """How a network is joined, by the names of its nodes.

    Attributes:
        branches: their ends, and whether they are without resistance.
        stiff, limited: plus and minus of the sources without and with a limit.
        draws, converters: plus and minus of what takes current.
        reference: the node that all voltages are told from.
    """

    branches: tuple[tuple[str, str, bool], ...]
    stiff: Ends
    limited: Ends
    draws: Ends
    converters: Ends
    reference: str


def layout_of(network: Network) -> "Layout":
    """Return how a network is joined."""
    return _laid_out(
        _Named(
            tuple([(b.a, b.b, b.ohm <= 0) for b in network.branches]),
            tuple([(s.plus, s.minus) for s in network.stiff]),
            tuple([(s.plus, s.minus) for s in network.limited]),
            tuple([(d.plus, d.minus) for d in network.draws]),
            tuple([(c.plus, c.minus) for c in network.converters]),
            network.reference,
        )
    )


class Layout:
    """Nodes by number, in the order to eliminate them, and where every branch's figures go.

    What is joined without resistance is one node. An edge is a branch, a source without a limit
    or what bends, in this order; see ``Bent`` for the order of that.

    Attributes:
        node: each node's number; ``size``, how many there are.
        branch_ends: of the branches with a resistance, shape (2, n).
        source_ends: plus and minus of the sources without a limit, shape (2, n).
        bent_ends: plus and minus of what bends, shape (2, n).
        edge_ends: of all of them.
        between: from where to where what bends is a limited source.
        position: of what each edge adds to the matrix (twice its own, twice across), then of the
            diagonal, among the matrix's places.
        rows, columns: of the matrix's places, column by column; ``starts`` of the columns,
            ``diagonal`` where they are the same.
        incidence: 1 where an edge leaves a node and -1 where it comes to one, shape (nodes,
            edges); ``into``, its columns of what bends.
    """

    def __init__(self, named: _Named) -> None:
        given = (*named.stiff, *named.limited, *named.draws, *named.converters)
        by_name = [*[(a, b) for a, b, _ in named.branches], *given]
        self.node, ends = _numbered(by_name, [joint for _, _, joint in named.branches])
        self.size = int(ends.max(initial=-1)) + 1
        branches, stiff, limited, draws, converters = np.split(
            ends, np.cumsum([len(part) for part in named[:4]]), axis=1
        )
        self.branch_ends = branches[:, branches[0] != branches[1]]
        self.source_ends = stiff
        self.bent_ends = np.concatenate((draws, limited, converters), axis=1)
        self.between = (len(named.draws), len(named.draws) + len(named.limited))
        self._reference = self.node.get(named.reference)
        self._place()

    def _place(self) -> None:
        from scipy.sparse import csr_matrix  # heavy: the window opens without it

        self.edge_ends = np.concatenate(
            (self.branch_ends, self.source_ends, self.bent_ends), axis=1
        )
        a, b = self.edge_ends
        size = self.size
        rows = [a, b, a, b, np.arange(size)]
        columns = [a, b, b, a, np.arange(size)]
        row, column = np.concatenate(rows), np.concatenate(columns)
        keys, self.position = np.unique(column * size + row, return_inverse=True)
        rows_of, self.columns = keys % size, keys // size
        self.rows = rows_of.astype(np.int32)
        self.starts = np.searchsorted(self.columns, np.arange(size + 1)).astype(np.int32)
        self.diagonal = self.rows == self.columns
        count = len(a)
        self.incidence = csr_matrix(
            (
                np.concatenate((np.ones(count), -np.ones(count))),
                (np.concatenate((a, b)), np.tile(np.arange(count), 2)),
            ),
            shape=(size, count),
        )
        self.into = self.incidence[:, count - self.bent_ends.shape[1] :]

    def joined(self, conducts: Flags, gives: Flags) -> Joined:
        """Return what is joined to what.

        Args:
            conducts: which branches do.
            gives: which of the limited sources do.
        """
        first, second = self.between
        giving = np.flatnonzero(gives) + first
        return Joined(
            self.branch_ends[:, conducts],
            np.concatenate((self.source_ends, self.bent_ends[:, giving]), axis=1),
            np.delete(self.bent_ends, np.arange(first, second), axis=1),
            self.size,
        )

    def tied(self, conducts: Flags) -> tuple[Flags, Flags]:
        """Return which nodes have a voltage to be found, and which nothing ties to any source.

        On each island the reference has none, or else the minus of one of its sources.
        """
        return _tied(self, conducts.tobytes())

    def dead(self, conducts: Flags, gives: Flags) -> tuple[Flags, Flags]:
        """Return which nodes no plus reaches, and which of what takes current gets none."""
        return _dead(self, conducts.tobytes(), gives.tobytes())

    def _tied(self, conducts: Flags) -> tuple[Flags, Flags]:
        count_of_others = self.edge_ends.shape[1] - len(conducts)
        edges = np.concatenate((conducts, np.ones(count_of_others, dtype=bool)))
        count, island = islands(self.edge_ends[:, edges], self.size)
        grounded = np.full(count, -1, dtype=np.int64)
        minus = (self.source_ends[1], self.bent_ends[1, slice(*self.between)])
        for node in np.concatenate(minus)[::-1]:
            grounded[island[node]] = node
        if self._reference is not None and grounded[island[self._reference]] >= 0:
            grounded[island[self._reference]] = self._reference
        floating: Flags = grounded[island] < 0
        live = ~floating
        live[grounded[grounded >= 0]] = False
        return live, floating


@lru_cache(maxsize=4)
def _laid_out(named: _Named) -> Layout:
    return Layout(named)


@lru_cache(maxsize=16)
def _tied(layout: Layout, conducts: bytes) -> tuple[Flags, Flags]:
    return _fixed(layout._tied(_flags(conducts)))


@lru_cache(maxsize=16)
def _dead(layout: Layout, conducts: bytes, gives: bytes) -> tuple[Flags, Flags]:
    return _fixed(dead_ends(layout.joined(_flags(conducts), _flags(gives))))


def _flags(data: bytes) -> Flags:
    return np.frombuffer(data, dtype=bool)


def _fixed(found: tuple[Flags, Flags]) -> tuple[Flags, Flags]:
    for flags in found:
        flags.setflags(write=False)
    return found


def _numbered(
    ends: Sequence[tuple[str, str]], joints: Sequence[bool]
) -> tuple[Mapping[str, int], Ints]:
    """Return the number of every node by name, and the ends by number, shape (2, n).

    Args:
        ends: of branches, then of all else.
        joints: which of the branches make one node of their ends.
    """
    numbers = {name: i for i, name in enumerate(dict.fromkeys(chain.from_iterable(ends)))}
    pairs = _ends_of([(numbers[a], numbers[b]) for a, b in ends])
    node = np.arange(len(numbers))
    if any(joints):
        node = islands(pairs[:, : len(joints)][:, np.array(joints)], len(numbers))[1]
    place = _elimination_order(node[pairs], int(node.max(initial=-1)) + 1)[node]
    by_name = MappingProxyType(dict(zip(numbers, place.tolist(), strict=True)))
    return by_name, place[pairs]


def _elimination_order(ends: Ints, size: int) -> Ints:
    """Return for each node its place in an order that fills the factors little (least degree)."""
    from scipy.sparse import csc_matrix
    from scipy.sparse.linalg import splu

    if not size:
        return np.zeros(0, dtype=np.int64)
    (a, b), every = ends, np.arange(size)
    steep = np.full(size, 4.0 * len(a) + 1.0)  # no pivot but the diagonal's
    pattern = csc_matrix(
        (
            np.concatenate((np.ones(2 * len(a)), steep)),
            (np.concatenate((a, b, every)), np.concatenate((b, a, every))),
        ),
        shape=(size, size),
    )
    symmetric = {"SymmetricMode": True}
    found: Ints = splu(
        pattern, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options=symmetric
    ).perm_c
    return found


def _ends_of(pairs: Sequence[tuple[int, int]]) -> Ints:
    """Return pairs of nodes as arrays, shape (2, n)."""
    return np.array(pairs, dtype=np.int64).reshape(-1, 2).T
