"""A board powered up in one setting, once its coils have pulled what they pull."""

import dataclasses
from collections.abc import Collection, Mapping
from functools import cached_property
from typing import Final

import numpy as np

from vivid_loom.netlist import Contact, moved_by
from vivid_loom.network import OperatingPoint
from vivid_loom.network.laws import Bent
from vivid_loom.network.matrix import Standing
from vivid_loom.power.board import Board
from vivid_loom.power.setting import Setting
from vivid_loom.standards import contacts as joints

__all__ = ["Powered", "bent_in", "open_contacts", "power_up", "pulled"]

MOST_PULLS: Final = 12  # relays that pull relays; more is one that chatters


class Powered:
    """What happens in one setting.

    Attributes:
        states: every actuator that is not at rest, those that coils move among them.
        chatters: actuators that pull and let go in turn.
    """

    def __init__(
        self,
        board: Board,
        setting: Setting,
        states: Mapping[str, str],
        chatters: tuple[str, ...],
        point: OperatingPoint,
    ) -> None:
        self.board, self.setting, self.states = board, setting, states
        self.chatters, self.point = chatters, point

    @cached_property
    def amps(self) -> dict[str, float]:
        """Currents by id: conductors and contacts from first to second end, draws, sources."""
        return self.point.amps

    def volts_at(self, element: str) -> float:
        """Return the voltage over something that draws or gives; 0 where it hangs in the air."""
        if element in self._over:
            return self._over[element]
        ends = self.board.elements[element]
        volts = self.point.across(ends.plus, ends.minus)
        return 0.0 if np.isnan(volts) else volts

    @cached_property
    def _over(self) -> dict[str, float]:
        """Voltages over everything but batteries."""
        return dict(zip(self.board.solver.bent.ids, self.point.bent_v.tolist(), strict=True))

    def runs(self, element: str) -> bool:
        """Tell whether something that draws has enough voltage to work, and is not left off."""
        return element in self.running

    @cached_property
    def running(self) -> frozenset[str]:
        """Ids of everything that draws and works."""
        return frozenset(running(self.board, self.setting, self.point.x))


def running(board: Board, setting: Setting, x: np.ndarray) -> list[str]:
    """Return the elements that have the voltage to work, their load not left off."""
    solver = board.solver
    v = solver.over_bent(x)
    first, _ = solver.bent.starts
    enough = v[:first] >= np.minimum(solver.bent.least_v, 0.75 * solver.bent.volts)
    idle, elements = setting.idle, board.elements
    return [
        name
        for name, works in zip(solver.bent.ids[:first], enough.tolist(), strict=True)
        if works and elements[name].part not in idle
    ]


def open_contacts(board: Board, states: Mapping[str, str]) -> frozenset[str]:
    """Return the contacts that stand open in these states."""
    actuators = board.net.actuators_by_id
    index = board.solver.branch_index

    def closed(contact: Contact) -> bool:
        actuator = actuators[contact.actuator]
        return states.get(actuator.id, actuator.states[0]) in contact.closed_in

    return frozenset(c.id for c in board.moving if c.id in index and not closed(c))


def bent_in(board: Board, setting: Setting) -> Bent:
    """Return what bends, with idle loads drawing nothing and resting charge sources giving none."""
    bent = board.solver.bent
    first, second = bent.starts
    elements = board.elements
    drawn = [
        0.0 if elements[name].part in setting.idle else amps
        for name, amps in zip(bent.ids[:first], bent.amps.tolist(), strict=True)
    ]
    given = [
        0.0 if board.kinds[elements[n].part] == "charge_source" and n not in setting.charging else a
        for n, a in zip(bent.ids[first:second], bent.limit_a.tolist(), strict=True)
    ]
    amps, limit_a = np.array(drawn, dtype=float), np.array(given, dtype=float)
    return dataclasses.replace(bent, amps=amps, limit_a=limit_a)


def pulled(board: Board, states: Mapping[str, str], volts: Mapping[str, float]) -> dict[str, str]:
    """Return what every coil makes of its actuator, given the volts over the coils.

    One that has pulled holds on down to its drop-out voltage.
    """
    found: dict[str, str] = {}
    for pull in board.pulls:
        now = states.get(pull.actuator, pull.states[0])
        live: set[str] = set()
        for element, pulls in pull.by.items():
            holds = joints.DROP_OUT if now in (pulls, joints.BOTH) else joints.PULL_IN
            if volts[element] >= holds * board.volts[element]:
                live.add(pulls)
        found[pull.actuator] = moved_by(pull.states, now, live)
    return found


def coil_elements(board: Board) -> tuple[str, ...]:
    """Return the elements of all coils that move something."""
    return tuple(element for pull in board.pulls for element in pull.by)


def power_up(
    board: Board,
    setting: Setting,
    *,
    opened: Collection[str] = (),
    welded: Collection[str] = (),
    before: Mapping[str, str] | None = None,
) -> Powered:
    """Return a board powered up in a setting.

    Args:
        opened: contacts and conductors that are interrupted, whatever the states.
        welded: contacts that stay closed, whatever the states.
        before: states of what coils move, to begin from.

    Raises:
        NoOperatingPointError: no balance was found.
        KeyError: an id that is not there.
    """
    states = {**(before or {}), **setting.states}
    bent = bent_in(board, setting)
    coils, index = coil_elements(board), board.solver.branch_index
    gone = frozenset(opened)
    seen: list[dict[str, str]] = []
    while True:
        shut = (open_contacts(board, states) - frozenset(welded)) | gone
        standing: Standing = board.solver.standing([n for n in shut if n in index], bent)
        point = board.solver.point_of(standing)
        volts = {name: point.across(*_ends(board, name)) for name in coils}
        now = pulled(board, states, volts)
        if all(states.get(k, _rest(board, k)) == v for k, v in now.items()):
            return Powered(board, setting, states, (), point)
        if now in seen or len(seen) > MOST_PULLS:
            cycle = seen[seen.index(now) :] if now in seen else seen
            restless = sorted(k for k in now if len({each[k] for each in (*cycle, now)}) > 1)
            return Powered(board, setting, states, tuple(restless), point)
        seen.append(now)
        states |= now


def _ends(board: Board, element: str) -> tuple[str, str]:
    ends = board.elements[element]
    return ends.plus, ends.minus


def _rest(board: Board, actuator: str) -> str:
    return board.net.actuators_by_id[actuator].states[0]
