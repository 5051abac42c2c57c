"""A boat powered up circuit by circuit, as making it alive goes."""

from collections.abc import Mapping
from typing import Final

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.drafting.after.net import intended_states
from vivid_loom.power.board import Board, Conditions
from vivid_loom.power.powered import Powered, power_up
from vivid_loom.power.setting import Setting

__all__ = ["COPPER_C", "Alone"]

COPPER_C: Final = 20.0

FLOAT: Final = " float"
"""Behind a load's id: the actuator of the float inside it."""


class Alone:
    """A draft's board, powered up circuit by circuit."""

    def __init__(self, draft: Draft) -> None:
        self.draft = draft
        self.board = Board(draft, Conditions(copper_c=COPPER_C))
        self.pulled_by = self._pulled_by()

    def _pulled_by(self) -> dict[str, DraftedCircuit]:
        """Return the circuit that feeds the coil of each relay and contactor, by the part's id."""
        supplies = self.draft.aboard.boat.supplies
        coils = {s.id: s.coil for s in supplies} | {
            s.request.id: s.request.coil for s in self.draft.switches
        }
        fed = {name: row for row in self.draft.circuits for name in row.planned.loads}
        return {part: fed[coil] for part, coil in coils.items() if coil in fed}

    def waits_for(
        self, row: DraftedCircuit, behind: frozenset[str] = frozenset()
    ) -> tuple[DraftedCircuit, ...]:
        """Return the circuits whose coils must pull before a circuit can run, the first first.

        Args:
            behind: circuits that wait for this one: relays that hold one another are asked once.
        """
        seen = behind | {row.id}
        network = self.draft.aboard.boat.network
        through = {network.source_of(name) for name in network.upstream(row.planned.source)}
        through |= {row.planned.source}
        contacts = row.planned.request.contacts if row.planned.request else ()
        through |= {contact.switch for contact in contacts}
        found: dict[str, DraftedCircuit] = {}
        for part in sorted(through & self.pulled_by.keys()):
            ahead = self.pulled_by[part]
            if ahead.id not in seen:
                found |= {other.id: other for other in (*self.waits_for(ahead, seen), ahead)}
        return tuple(found.values())

    def alone(self, row: DraftedCircuit) -> tuple[dict[str, str], Powered]:
        """Return the levers with which a circuit runs, and the boat with only its loads on.

        A float inside a load is lifted only where nothing runs without it.
        """
        known = self.board.net.actuators_by_id
        meant = next(intended_states(self.draft, row))
        for ahead in self.waits_for(row):
            meant = {**next(intended_states(self.draft, ahead)), **meant}
        states = {name: state for name, state in meant.items() if name in known}
        still = {name: state for name, state in states.items() if not name.endswith(FLOAT)}
        now = self.powered(row, still)
        if still == states or self.running(row, now):
            return still, now
        return states, self.powered(row, states)

    def by_float(self, row: DraftedCircuit) -> tuple[dict[str, str], Powered] | None:
        """Return the levers with which its float alone makes a circuit run that runs without it.

        None for a circuit without a float of its own, or one that has no other way.
        """
        known = self.board.net.actuators_by_id
        meant = [*intended_states(self.draft, row)]
        floats = {k: v for k, v in meant[0].items() if k.endswith(FLOAT) and k in known}
        contacts = row.planned.request.contacts if row.planned.request else ()
        if not floats or not contacts:
            return None
        levers = {contact.switch for contact in contacts}
        at_rest = {k: v for k, v in meant[0].items() if k in known and k not in levers}
        for states in (at_rest, *({k: v for k, v in m.items() if k in known} for m in meant)):
            still = {k: v for k, v in states.items() if k not in floats}
            now = self.powered(row, states)
            if self.running(row, now) and not self.running(row, self.powered(row, still)):
                return states, now
        return None

    def powered(self, row: DraftedCircuit, states: Mapping[str, str]) -> Powered:
        """Return the boat with only a circuit's loads on."""
        idle = self.board.idle_beside(row.id)
        return power_up(self.board, Setting(states=states, idle=idle))

    def running(self, row: DraftedCircuit, now: Powered) -> list[str]:
        """Return the elements of a circuit's loads that run."""
        return [n for n in now.running if self.board.elements[n].part in row.planned.loads]

    def ends(self, element: str) -> tuple[str, str]:
        """Return plus and minus of an element."""
        found = self.board.elements[element]
        return found.plus, found.minus
