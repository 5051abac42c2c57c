"""Batteries that a switch joins: what flows from a full one to a flat one, and through what."""

from collections.abc import Iterator, Mapping
from itertools import permutations, product
from typing import Final

import numpy as np

from vivid_loom.boat import STATES
from vivid_loom.drafting.drafted import Draft
from vivid_loom.netlist import NetList, Sets
from vivid_loom.network import NoOperatingPointError, Source
from vivid_loom.power.board import Board
from vivid_loom.power.course import wires_of
from vivid_loom.power.powered import open_contacts, power_up
from vivid_loom.power.setting import Setting
from vivid_loom.power.sneak import Sneak
from vivid_loom.standards import batteries

__all__ = ["ties"]

FLAT: Final = 0.2  # of its charge, that the other battery still has; our choice
MOST_STATES: Final = 4096


def ties(draft: Draft, net: NetList) -> tuple[Sneak, ...]:
    """Return the wires that two joined batteries may overload, with the fewest levers each."""
    if len(draft.aboard.boat.network.batteries) < 2:
        return ()
    board = Board(draft, net=net)
    found: dict[tuple[str, ...], Sneak] = {}
    tried: set[frozenset[str]] = set()
    for states in sorted(_states(draft, board), key=len):
        shut = open_contacts(board, states)
        if shut in tried:
            continue
        tried.add(shut)
        for sneak in _tied(draft, board, states, shut):
            found.setdefault(sneak.what, sneak)
    return tuple(found.values())


def _states(draft: Draft, board: Board) -> Iterator[Mapping[str, str]]:
    """Yield what the supply's own switches can be set to, rest left out."""
    kinds = (*STATES, "combining_relay")
    actuators = board.net.actuators_by_id
    own = [s.id for s in draft.aboard.boat.supplies if s.kind in kinds and s.id in actuators]
    choices = [actuators[name].states for name in own]
    for number, each in enumerate(product(*choices)):
        if number >= MOST_STATES:
            return
        yield {
            name: state
            for name, state in zip(own, each, strict=True)
            if state != actuators[name].states[0]
        }


def _tied(
    draft: Draft, board: Board, states: Mapping[str, str], shut: frozenset[str]
) -> Iterator[Sneak]:
    """Yield the wires that carry more than they bear while two batteries are joined."""
    solver = board.solver
    sets = Sets(solver.size)
    for name, (a, b) in zip(solver.branch_ids, solver.branch_ends.T.tolist(), strict=True):
        if name not in shut:
            sets.join(a, b)
    plus = {name: sets.find(solver.node[board.elements[name].plus]) for name in board.batteries}
    wires = wires_of(board)
    idle = frozenset(draft.aboard.loads)
    for full, flat in permutations(board.batteries, 2):
        if plus[full] != plus[flat]:
            continue
        other = board.altered(sources=tuple(_charged(board, full)))
        try:
            now = power_up(other, Setting(states=dict(states), idle=idle))
        except NoOperatingPointError:
            continue
        amps = np.array([abs(now.amps[name]) for name in wires.ids])
        for at in np.flatnonzero(amps > wires.ampacity_a).tolist():
            yield Sneak("tie", states, (full, flat, wires.ids[at]))


def _charged(board: Board, full: str) -> Iterator[Source]:
    """Yield the sources with one battery full and every other one flat."""
    for source in board.network.sources:
        battery = board.batteries.get(source.id)
        if battery is None:
            yield source
            continue
        charge = 1.0 if source.id == full else FLAT
        nominal = board.elements[source.id].volts
        yield source._replace(volts=batteries.open_v(nominal, battery.chemistry, charge))
