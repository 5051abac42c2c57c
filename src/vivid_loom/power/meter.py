"""What a meter shows for each of many faults: amps in a wire, and ohms with the power off."""

from collections.abc import Sequence
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.netlist import Sets
from vivid_loom.power.fault import SHORT_OHM, return_of
from vivid_loom.power.powered import open_contacts
from vivid_loom.power.scan import Probe, Scan, Scanned

__all__ = ["OPEN_OHM", "OhmMeter", "amps_shown"]

Floats = NDArray[np.float64]
OPEN_OHM: Final = 1e6
"""What is taken for no way through, in Ω; our choice."""

BRIDGE: Final = 1e-7  # how near to 1 the share of a branch is over which alone two sides hang


def amps_shown(scan: Scan, rested: Sequence[tuple[Scanned, Floats]], wire: str) -> Floats:
    """Return what a clamp around a wire shows for each fault, shape (faults,).

    Raises:
        KeyError: no such wire.
    """
    board = scan.board
    at = board.solver.branch_index[board.conductors[wire].id]
    a, b = board.solver.branch_ends[:, at]
    siemens = float(scan.base.point.standing.siemens[at])
    shown = []
    for scanned, x in rested:
        mine = scan.siemens_of(scanned.probe) if scanned.probe.at == wire else None
        shown.append((siemens if mine is None else mine) * float(x[a] - x[b]))
    amps: Floats = np.abs(np.array(shown))
    return amps


class _Island(NamedTuple):
    """What hangs together with one terminal while everything is off.

    Attributes:
        at: index of each of its nodes in ``ohm``.
        ohm: the inverse of its conductance matrix with the terminal left out.
    """

    root: int
    at: dict[int, int]
    ohm: Floats

    def between(self, c: int, d: int) -> Floats:
        """Return the column of a current from one node to another."""
        column = np.zeros(len(self.ohm))
        for node, sign in ((c, 1.0), (d, -1.0)):
            if node != self.root:
                column += sign * self.ohm[:, self.at[node]]
        return column

    def over(self, column: Floats, c: int, d: int) -> float:
        """Return the voltage of one node over another in a column."""
        high = column[self.at[c]] if c != self.root else 0.0
        low = column[self.at[d]] if d != self.root else 0.0
        return float(high - low)


class OhmMeter:
    """A board with its batteries off and its levers where they are: nothing draws, nothing gives.

    A meter's millivolts start nothing, so that what draws is no way through.
    """

    def __init__(self, scan: Scan) -> None:
        self._scan, self._solver = scan, scan.board.solver
        shut = open_contacts(scan.board, scan.setting.states)
        self._siemens = self._solver.siemens.copy()
        self._siemens[[self._solver.branch_index[name] for name in shut]] = 0.0
        self._islands: dict[int, _Island] = {}
        self._sets = Sets(self._solver.size)
        for (a, b), siemens in zip(self._solver.branch_ends.T, self._siemens, strict=True):
            if siemens > 0:
                self._sets.join(int(a), int(b))

    def shown(self, probes: Sequence[tuple[Probe, Sequence[str]]], red: str, black: str) -> Floats:
        """Return what the meter shows for each fault, shape (faults,); ``OPEN_OHM`` at most.

        Args:
            probes: faults, and the contacts whose devices they have opened.

        Raises:
            KeyError: a terminal that is not there.
        """
        a, b = self._solver.node[red], self._solver.node[black]
        shown = [min(self._one(probe, opened, a, b), OPEN_OHM) for probe, opened in probes]
        return np.array(shown)

    def sound(self, red: str, black: str) -> float:
        """Return what the meter shows with nothing wrong; ``OPEN_OHM`` at most."""
        a, b = self._solver.node[red], self._solver.node[black]
        if a == b:
            return 0.0
        if self._sets.find(a) != self._sets.find(b):
            return OPEN_OHM
        island = self._island(b)
        return min(island.over(island.between(a, b), a, b), OPEN_OHM)

    def _island(self, root: int) -> _Island:
        if root not in self._islands:
            mine = self._sets.find(root)
            nodes = [n for n in range(self._solver.size) if self._sets.find(n) == mine]
            at = {node: i for i, node in enumerate(n for n in nodes if n != root)}
            matrix = np.zeros((len(at), len(at)))
            for (a, b), siemens in zip(self._solver.branch_ends.T, self._siemens, strict=True):
                if siemens > 0 and self._sets.find(int(a)) == mine:
                    ends = [at[n] for n in (int(a), int(b)) if n != root]
                    for i in ends:
                        matrix[i, i] += siemens
                    if len(ends) == 2:
                        matrix[ends[0], ends[1]] -= siemens
                        matrix[ends[1], ends[0]] -= siemens
            ohm: Floats = np.asarray(np.linalg.inv(matrix), dtype=np.float64)
            self._islands[root] = _Island(root, at, ohm)
        return self._islands[root]

    def _one(self, probe: Probe, opened: Sequence[str], a: int, b: int) -> float:
        if a == b:
            return 0.0
        if self._sets.find(a) != self._sets.find(b):
            return self._joined(probe, opened, a, b)
        island = self._island(b)
        column = island.between(a, b)
        ohm = island.over(column, a, b)
        for name in opened:
            ohm = self._changed(island, column, ohm, name, 0.0)
        if probe.kind in ("open", "corroded"):
            return self._changed(island, column, ohm, probe.at, self._scan.siemens_of(probe))
        c, d = self._short(probe)
        if self._sets.find(c) == self._sets.find(d) == self._sets.find(a):
            across = island.over(island.between(c, d), c, d)
            ohm -= island.over(column, c, d) ** 2 / (SHORT_OHM + across)
        return ohm

    def _changed(self, island: _Island, column: Floats, ohm: float, name: str, now: float) -> float:
        """Return a resistance once one branch conducts otherwise; infinite where it was the way."""
        index = self._solver.branch_index.get(name)
        before = float(self._siemens[index]) if index is not None else 0.0
        if index is None or before <= 0:
            return ohm
        c, d = (int(n) for n in self._solver.branch_ends[:, index])
        if self._sets.find(c) != self._sets.find(island.root):
            return ohm
        flows = island.over(column, c, d)
        left = 1 + (now - before) * island.over(island.between(c, d), c, d)
        if abs(left) < BRIDGE:
            return float("inf") if abs(flows) * before > BRIDGE else ohm
        return ohm - (now - before) * flows**2 / left

    def _short(self, probe: Probe) -> tuple[int, int]:
        wire = self._scan.board.conductors[probe.at]
        bare = wire.ends[0 if probe.kind == "short near" else 1]
        home = return_of(self._scan.board, wire)
        return self._solver.node[bare], self._solver.node[home]

    def _joined(self, probe: Probe, opened: Sequence[str], a: int, b: int) -> float:
        """Return the resistance of two sides that only a short joins."""
        if probe.kind not in ("short near", "short far"):
            return float("inf")
        ends, find = self._short(probe), self._sets.find
        for near, far in (ends, ends[::-1]):
            if find(near) == find(a) and find(far) == find(b):
                return SHORT_OHM + sum(
                    self._along(root, end, opened) for root, end in ((a, near), (b, far))
                )
        return float("inf")

    def _along(self, root: int, end: int, opened: Sequence[str]) -> float:
        """Return the resistance within an island once some contacts are open."""
        island = self._island(root)
        column = island.between(end, root)
        ohm = island.over(column, end, root)
        for name in opened:
            ohm = self._changed(island, column, ohm, name, 0.0)
        return ohm
