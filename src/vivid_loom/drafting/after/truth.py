"""What really happens at every press, read from the net list, beside what is meant to happen."""

from collections import defaultdict
from collections.abc import Iterator, Mapping
from functools import cached_property
from typing import Literal, NamedTuple

from vivid_loom.boat import STATES
from vivid_loom.drafting.after.meant import Meaning
from vivid_loom.drafting.after.net import lamp_element, net_list
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.helm.lamps import wanted_states
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.netlist import NetList, Pressed, Presses, TerminalId

__all__ = ["Mismatch", "PressRow", "Truth", "press_rows"]

MOST_PULLS = 8  # a coil that pulls a coil and so on; more is a circle
Wrong = Literal["dark", "runs", "lamp dark", "lamp lit", "short", "sneak", "two feeds"]


class Mismatch(NamedTuple):
    """Something that happens and is not meant, or is meant and does not happen.

    Attributes:
        what: ids of the elements, lamps or circuits; () for a short.
    """

    wrong: Wrong
    what: tuple[str, ...] = ()


class PressRow(NamedTuple):
    """One switch in one state, every other lever at rest.

    Attributes:
        switch: its id; '' for every lever at rest, and what is wrong already then.
        live: its tabs that have a source's plus.
        runs: ids of the elements that run, and did not with every lever at rest.
        lit: names of its lamps that are lit.
    """

    switch: str
    state: str
    live: tuple[str, ...]
    runs: tuple[str, ...]
    lit: tuple[str, ...]
    wrong: tuple[Mismatch, ...]


class Truth:
    """A draft's switches, powered: battery switches on, keys turned, floats down."""

    def __init__(self, draft: Draft, net: NetList | None = None) -> None:
        self.draft = draft
        self.net = net or net_list(draft)
        self._meaning = Meaning(
            draft.aboard, {s.request.id: s.part.states[0] for s in draft.switches}
        )
        base = {
            supply.id: tuple(STATES[supply.kind])[1]
            for supply in draft.aboard.boat.supplies
            if STATES.get(supply.kind)
        }
        levers = {switch.request.id for switch in draft.switches}
        self._presses = Presses(self.net, base, levers)
        fed = {row.id for row in draft.circuits}
        self._devices = [c for c in self.net.contacts if c.device and c.device.listed in fed]
        blown = frozenset(contact.id for contact in self._devices)
        self._behind_devices = Presses(self.net, base, levers, blown)
        self._pulled = {s.request.id: s for s in draft.switches if s.request.coil}
        sized = {row.id for row in draft.circuits if row.sized}
        self._judged = frozenset(
            element.id
            for element in self.net.elements
            if element.id in self._meaning.elements
            and set(self._meaning.asked_by(element.id)) <= sized
        )
        self.rest = self.at({})

    def at(self, states: Mapping[str, str]) -> Pressed:
        """Return the net with levers moved by hand, and every coil having pulled what it pulls."""
        return self._presses.at(self._settled(states))

    def _settled(self, states: Mapping[str, str]) -> dict[str, str]:
        """Return the levers' states with those of every coil that they pull."""
        whole = dict(states)
        for _ in range(MOST_PULLS if self._pulled else 0):
            pressed = self._presses.at(whole)
            pulled = {name: self._pull(switch, pressed) for name, switch in self._pulled.items()}
            if all(whole.get(name, "off") == state for name, state in pulled.items()):
                break
            whole |= pulled
        return whole

    @staticmethod
    def _pull(switch: HelmSwitch, pressed: Pressed) -> str:
        coil = switch.request.coil
        for lead, state in (("up", "up"), ("down", "down"), ("plus", "up")):
            if f"{coil} {lead}" in pressed.on and state in switch.part.states:
                return state
        return "off"

    def rows(self) -> Iterator[PressRow]:
        """Yield what stands wrong at rest, then every state of every switch that a hand moves."""
        yield PressRow("", "", (), (), (), tuple(self.wrong({})))
        for switch in self.draft.switches:
            if not switch.request.coil:
                for state in switch.part.states:
                    yield self.row(switch, state)

    def row(self, switch: HelmSwitch, state: str) -> PressRow:
        """Return what one switch does in one state."""
        states = {switch.request.id: state}
        pressed = self.at(states)
        live = (t for t in switch.part.terminals if pressed.is_live(_tab(switch, t)))
        lit = (u.name for u in switch.lamps if lamp_element(switch.place, u.lamp) in pressed.on)
        loads = (e for e in pressed.on - self.rest.on if not self._is_lamp_of_switch(e))
        wrong = [w for w in self.wrong(states) if w not in self._wrong_at_rest]
        wrong += self._lamps_wrong(switch, state, pressed)
        return PressRow(
            switch.request.id, state, tuple(live), tuple(sorted(loads)), tuple(lit), tuple(wrong)
        )

    @cached_property
    def _wrong_at_rest(self) -> frozenset[Mismatch]:
        return frozenset(self.wrong({}))

    def _is_lamp_of_switch(self, element: str) -> bool:
        return element.endswith(" lamp") and element.removesuffix(" lamp") not in (
            self.draft.aboard.loads
        )

    def wrong(self, states: Mapping[str, str]) -> Iterator[Mismatch]:
        """Yield what is not as it is meant, but for the lamps of switches."""
        settled = self._settled(states)
        pressed = self._presses.at(settled)
        for element in sorted(self._judged):
            meant, runs = self._meaning.runs(element, states), element in pressed.on
            if meant != runs:
                yield Mismatch("dark" if meant else "runs", (element,))
        if states:
            more = pressed.on - self.rest.on - self._judged
            yield from (
                Mismatch("runs", (e,)) for e in sorted(more) if not self._is_lamp_of_switch(e)
            )
        yield from self._night_lamps_wrong(pressed)
        if pressed.shorted:
            yield Mismatch("short")
        if pressed.sneaks:
            yield Mismatch("sneak", pressed.sneaks)
        behind = self._behind_devices.at(settled)
        fed: dict[int, set[str]] = defaultdict(set)
        for contact in self._devices:
            if contact.device:
                fed[behind.node(contact.ends[1])].add(contact.device.listed)
        for circuits in fed.values():
            if len(circuits) > 1:
                yield Mismatch("two feeds", tuple(sorted(circuits)))

    def _night_lamps_wrong(self, pressed: Pressed) -> Iterator[Mismatch]:
        """Yield the lamps that do not burn as the instrument lights do."""
        for switch in self.draft.switches:
            for use in switch.lamps:
                row = self.draft.circuit(use.circuit) if use.circuit else None
                if row is None or row.sized is None:
                    continue
                meant = any(f"{load} plus" in pressed.on for load in row.planned.loads)
                name = lamp_element(switch.place, use.lamp)
                if meant != (name in pressed.on):
                    yield Mismatch("lamp dark" if meant else "lamp lit", (name,))

    def _lamps_wrong(self, switch: HelmSwitch, state: str, pressed: Pressed) -> Iterator[Mismatch]:
        for use in switch.lamps:
            if use.refused or use.intent == "night":
                continue
            meant = bool(use.fed_from) and state in wanted_states(use.intent, switch.part)
            name = lamp_element(switch.place, use.lamp)
            if meant != (name in pressed.on):
                yield Mismatch("lamp dark" if meant else "lamp lit", (name,))


def _tab(switch: HelmSwitch, name: str) -> TerminalId:
    return TerminalId(f"{switch.place} {name}")


def press_rows(draft: Draft) -> tuple[PressRow, ...]:
    """Return every state of every switch that a hand moves; kept while the wiring is the same."""
    aboard = draft.aboard
    made_from = (
        draft.allocation.circuits,
        draft.allocation.feeders,
        tuple(aboard.loads.values()),
        tuple(aboard.switches.values()),
        tuple(row.sized is None for row in draft.rows),
        (aboard.boat, aboard.order.ways, aboard.profile, draft.catalogue),
    )
    return aboard.kept.take("presses", "", made_from, lambda: tuple(Truth(draft).rows()))
