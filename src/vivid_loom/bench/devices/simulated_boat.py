"""A boat that somebody has built, in simulation: what a meter aboard shows, and what is seen."""

import math
from collections.abc import Iterable, Mapping

import numpy as np

from vivid_loom.bench.aboard.alone import COPPER_C
from vivid_loom.bench.aboard.plan import bond_ohm
from vivid_loom.drafting import Draft
from vivid_loom.netlist import Sets
from vivid_loom.power.board import Board, Conditions
from vivid_loom.power.fault import Fault, faulted
from vivid_loom.power.powered import Powered, open_contacts, power_up
from vivid_loom.power.setting import Setting, scenario_setting

__all__ = ["BuiltBoat", "BuiltBoatError"]

NOISE_V, NOISE_A = 0.005, 0.002


class BuiltBoatError(ValueError):
    """A place that is not aboard: found and expected in words."""


class BuiltBoat:
    """A draft's boat as built, with levers and a meter.

    Args:
        faults: what is wrong in it.
        seed: of the meter's noise.
    """

    def __init__(self, draft: Draft, faults: Iterable[Fault] = (), *, seed: int = 1) -> None:
        self.draft, self.faults, self._seed = draft, tuple(faults), seed
        self.board = Board(draft, Conditions(copper_c=COPPER_C))
        self._opened: frozenset[str] = frozenset()
        self._welded: frozenset[str] = frozenset()
        self._bonds = {bond.id: bond_ohm(bond) for bond in draft.bonds}
        for fault in self.faults:
            if fault.at in self._bonds:
                more = fault.ohm if fault.kind == "corroded" else math.inf
                self._bonds[fault.at] += more
                continue
            made = faulted(self.board, fault)
            self.board = made.board
            self._opened |= made.opened
            self._welded |= made.welded
        self._chance = np.random.default_rng(seed)
        self._left = scenario_setting(draft, "moored and left").idle
        self._setting = Setting(states={}, idle=self._left)
        self._now: Powered | None = None

    def mended(self, names: Iterable[str]) -> "BuiltBoat":
        """Return the boat without what is wrong with these wires, its levers at rest."""
        sound = frozenset(names)
        left = (f for f in self.faults if sound.isdisjoint((f.at, f.to)))
        return BuiltBoat(self.draft, left, seed=self._seed)

    def set(self, states: Mapping[str, str], circuit: str = "") -> None:
        """Stand the levers so; with a circuit, only its loads are switched on at themselves.

        Raises:
            BuiltBoatError: no such lever, state or circuit.
        """
        for name, state in states.items():
            known = self.board.net.actuators_by_id.get(name)
            if known is None or state not in known.states:
                raise BuiltBoatError(f"found {name!r} {state!r}, expected a lever and its state")
        row = self.board.draft.circuit(circuit) if circuit else None
        if circuit and row is None:
            raise BuiltBoatError(f"found {circuit!r}, expected a circuit")
        idle = self._left if not states else frozenset()
        if row is not None:
            idle = self.board.idle_beside(row.id)
        self._setting = Setting(states=dict(states), idle=idle)
        self._now = None

    @property
    def now(self) -> Powered:
        """The boat as it stands."""
        if self._now is None:
            setting, shut = self._setting, self._opened
            self._now = power_up(self.board, setting, opened=shut, welded=self._welded)
        return self._now

    def _known(self, terminal: str) -> str:
        if terminal not in self.board.solver.node:
            raise BuiltBoatError(f"found {terminal!r}, expected a terminal")
        return terminal

    def read_volts(self, red: str, black: str) -> float:
        """Return what a meter shows between two terminals, in V."""
        volts = self.now.point.across(self._known(red), self._known(black))
        return (0.0 if math.isnan(volts) else volts) + float(self._chance.normal(0.0, NOISE_V))

    def read_amps(self, battery: str) -> float:
        """Return what a clamp around a battery's lead shows, in A."""
        if battery not in self.board.batteries:
            raise BuiltBoatError(f"found {battery!r}, expected a battery")
        return self.now.amps[battery] + float(self._chance.normal(0.0, NOISE_A))

    def read_ohm(self, red: str, black: str) -> float:
        """Return what a meter shows between two terminals with all devices and switches out, in Ω.

        What draws does not count: a meter's millivolts start nothing.
        """
        if red in self._bonds:
            return self._bonds[red]
        board = self.board
        shut = open_contacts(board, {}) | {c.id for c in board.devices} | self._opened
        index = {name: i for i, name in enumerate(board.solver.node)}
        sets = Sets(len(index))
        for branch in board.network.branches:
            if branch.id not in shut:
                sets.join(index[branch.a], index[branch.b])
        a, b = (sets.find(index[self._known(t)]) for t in (red, black))
        return 0.01 if a == b else math.inf

    def seen(self) -> tuple[str, ...]:
        """Return the ids of everything that runs or is lit."""
        return tuple(sorted(self.now.running))
