"""A network laid out as a matrix: nodes numbered, what each branch adds, what is missing where.

Every source has a resistance, so node voltages are the only unknowns. The matrix has the same
places in every state; which branches conduct, and how what bends stands, changes its figures only.
So nodes are numbered once in the order in which they are best eliminated.
"""

from collections.abc import Collection
from functools import cached_property
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.islands import Joined
from vivid_loom.network.laws import RESISTANCE, Bent, bent_of
from vivid_loom.network.layout import layout_of
from vivid_loom.network.records import LEAK_S, Network

if TYPE_CHECKING:
    from scipy.sparse import csc_matrix
    from scipy.sparse.linalg import SuperLU

__all__ = ["Matrix", "Standing"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Flags = NDArray[np.bool_]


class Standing(NamedTuple):
    """Which branches conduct, and what follows before anything is solved.

    Attributes:
        siemens: of the branches, 0 where one is open.
        bent: laws of what bends, as they are now; ``slopes`` are the steepest they can have,
            ``working`` those of what works at its voltage.
        live: shape (nodes,), whether a node is joined to a source and is not the reference.
        floating: whether nothing ties a node to any source.
        dead: whether no source's plus reaches a node.
    """

    siemens: Floats
    bent: Bent
    slopes: Floats
    working: Floats
    live: Flags
    floating: Flags
    dead: Flags


class Matrix:
    """A network made ready: which branches conduct may change, what it is made of may not.

    Raises:
        ValueError: a source without resistance, or a converter whose output is no limited source.
    """

    def __init__(self, network: Network) -> None:
        self.network = network
        _check(network)
        self.layout = layout_of(network)
        self.node, self.size = self.layout.node, self.layout.size
        at, self.branches = self.node, network.branches
        if self.layout.branch_ends.shape[1] < len(network.branches):
            self.branches = tuple(b for b in network.branches if at[b.a] != at[b.b])
        self.branch_ids = tuple([b.id for b in self.branches])
        self.branch_index = {name: i for i, name in enumerate(self.branch_ids)}
        self.siemens = np.array([1 / b.ohm for b in self.branches], dtype=float)
        stiff, limited = network.stiff, network.limited
        self.source_ids = tuple(s.id for s in stiff)
        self.source_s = np.array([1 / s.ohm for s in stiff], dtype=float)
        self._source_volts = np.array([s.volts for s in stiff], dtype=float)
        self.bent: Bent = bent_of(network.draws, limited, network.converters)
        self.branch_ends, self.bent_ends = self.layout.branch_ends, self.layout.bent_ends

    def into_nodes(self, amps: Floats) -> Floats:
        """Return what currents of what bends take from the nodes they flow from and to."""
        if amps.ndim > 1:
            taken: Floats = self.layout.into @ amps
            return taken
        plus, minus = self.bent_ends
        left = np.bincount(plus, amps, self.size) - np.bincount(minus, amps, self.size)
        return left.astype(float, copy=False)

    def over_branches(self, x: Floats) -> Floats:
        """Return voltages over the branches, a over b; ``x`` of shape (nodes,) or (nodes, k)."""
        a, b = self.branch_ends
        over: Floats = x[a] - x[b]
        return over

    def over_bent(self, x: Floats) -> Floats:
        """Return voltages over what bends, plus over minus."""
        plus, minus = self.bent_ends
        over: Floats = x[plus] - x[minus]
        return over

    def source_a(self, x: Floats) -> Floats:
        """Return what sources without a limit give."""
        plus, minus = self.layout.source_ends
        volts, siemens = self._source_volts, self.source_s
        if x.ndim > 1:
            volts, siemens = volts[:, None], siemens[:, None]
        given: Floats = (volts - (x[plus] - x[minus])) * siemens
        return given

    def standing(self, opened: Collection[str] = (), bent: Bent | None = None) -> Standing:
        """Return the network with branches open.

        Args:
            bent: laws of what bends where they are not those of the network.

        Raises:
            KeyError: a branch that is not there, or that joins two names of one node.
        """
        siemens = self.siemens.copy()
        siemens[[self.branch_index[name] for name in opened]] = 0.0
        return self.standing_with(siemens, bent)

    def standing_with(self, siemens: Floats, bent: Bent | None = None) -> Standing:
        """Return the network with these conductances of its branches; see ``standing``."""
        live, floating = self.layout.tied(siemens > 0)
        bent = bent or self.bent
        dead, dark = self.dead(siemens > 0, bent)
        slopes = np.where(dark, LEAK_S, bent.usual_slopes)
        working = np.where(dark, LEAK_S, bent.working_slopes)
        return Standing(siemens, bent, slopes, working, live, floating, dead)

    def joined(self, conducts: Flags, bent: Bent) -> Joined:
        """Return what is joined to what while these branches conduct."""
        return self.layout.joined(conducts, bent.limit_a > 0)

    def dead(self, conducts: Flags, bent: Bent) -> tuple[Flags, Flags]:
        """Return the nodes that no plus reaches, and what bends that gets no current."""
        dead, taken_dark = self.layout.dead(conducts, bent.limit_a > 0)
        dark = np.zeros(len(bent.ids), dtype=bool)
        dark[self.takers] = taken_dark
        dark[: len(bent.law)] &= bent.law != RESISTANCE
        return dead, dark

    @cached_property
    def takers(self) -> Ints:
        """Indices of what takes current, among what bends."""
        first, second = self.bent.starts
        return np.delete(np.arange(len(self.bent.ids)), np.arange(first, second))

    def factorised(self, standing: Standing, slopes: Floats) -> "SuperLU":
        """Return the factors of the nodal matrix; see ``matrix``.

        It is symmetric and, unless constant power overwhelms its wires, positive
        definite: its diagonal needs no pivoting, and the nodes are numbered in a good order
        already. Whoever uses it checks the balance of what comes of it.
        """
        from scipy.sparse.linalg import splu

        return splu(
            self.matrix(standing, slopes),
            permc_spec="NATURAL",
            diag_pivot_thresh=0.0,
            panel_size=2,
            relax=1,
            options={"SymmetricMode": True, "Equil": False},
        )

    def matrix(self, standing: Standing, slopes: Floats) -> "csc_matrix":
        """Return the nodal matrix with what bends at these slopes; 1 where a voltage is known."""
        from scipy.sparse import csc_matrix

        each = np.concatenate((standing.siemens, self.source_s, slopes))
        weights = np.concatenate((each, each, -each, -each, np.zeros(self.size)))
        layout, live = self.layout, standing.live
        data = np.bincount(layout.position, weights=weights, minlength=len(layout.rows))
        data *= live[layout.rows] & live[layout.columns]
        data[layout.diagonal & ~live[layout.rows]] = 1.0
        return csc_matrix((data, layout.rows, layout.starts), shape=(self.size, self.size))

    def balance(self, standing: Standing, x: Floats) -> tuple[Floats, float]:
        """Return the current missing at every node, and the greatest current anywhere."""
        branch = standing.siemens * self.over_branches(x)
        bent = standing.bent.currents(self.over_bent(x))
        edges = np.concatenate((branch, -self.source_a(x), bent))
        missing = (self.layout.incidence @ edges) * standing.live
        return missing, float(np.abs(edges).max(initial=0.0))

    @cached_property
    def driven(self) -> Floats:
        """What sources without a limit would drive into the nodes at 0 V."""
        edges = np.zeros(self.layout.edge_ends.shape[1])
        count = len(self.branches)
        edges[count : count + len(self.source_s)] = self._source_volts * self.source_s
        driven: Floats = self.layout.incidence @ edges
        return driven

    @cached_property
    def at_limits(self) -> Floats:
        """The nodes' columns of the limited sources, shape (nodes, sources)."""
        first, second = self.bent.starts
        columns: Floats = self.layout.into[:, first:second].toarray()
        return columns


def _check(network: Network) -> None:
    for source in network.sources:
        if source.ohm <= 0:
            raise ValueError(f"{source.id}: found {source.ohm:g} Ω, expected above zero")
    limited = {source.id for source in network.limited}
    for converter in network.converters:
        if converter.source not in limited:
            raise ValueError(f"{converter.id}: its output {converter.source} has no current limit")
