"""What really happens at every press, read from the net list, beside what is meant to happen."""

from collections import defaultdict
from collections.abc import Iterator, Mapping
from functools import cached_property
from typing import Literal, NamedTuple

import numpy as np
import numpy.typing as npt

from vivid_loom.boat import STATES
from vivid_loom.drafting.after.joined import joined
from vivid_loom.drafting.after.meant import meaning_of
from vivid_loom.drafting.after.net import lamp_element, net_list
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.helm.lamps import wanted_states
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.netlist import COIL_LEADS, NetList, Pressed, Presses, TerminalId, moved_by

__all__ = ["Mismatch", "PressRow", "Truth", "press_rows", "truth_of"]

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
        self._meaning = meaning_of(draft)
        base = {
            supply.id: tuple(STATES[supply.kind])[1]
            for supply in draft.aboard.boat.supplies
            if STATES.get(supply.kind)
        }
        levers = {switch.request.id for switch in draft.switches}
        fed = {row.id for row in draft.circuits}
        devices = {
            contact.id: (contact.ends[1], contact.device.listed)
            for contact in self.net.contacts
            if contact.device and contact.device.listed in fed
        }
        self._presses = Presses(self.net, base, levers, frozenset(devices))
        self._fed_at = self._presses.places(out for out, _ in devices.values())
        self._feeds = tuple(listed for _, listed in devices.values())
        self._feed_numbers = np.unique(self._feeds, return_inverse=True)[1]
        self._pulled = {s.request.id: s for s in draft.switches if s.request.coil}
        sized = {row.id for row in draft.circuits if row.sized}
        self._judged = frozenset(
            element.id
            for element in self.net.elements
            if element.id in self._meaning.elements
            and set(self._meaning.asked_by(element.id)) <= sized
        )
        self._at_rest = self._settled({})
        self.rest = self._at_rest[0]

    def at(self, states: Mapping[str, str]) -> Pressed:
        """Return the net with levers moved by hand, and every coil having pulled what it pulls."""
        return self._settled(states)[0]

    def _settled(self, states: Mapping[str, str]) -> tuple[Pressed, Pressed]:
        """Return the net once the coils have pulled, then with every device blown."""
        whole = dict(states)
        both = self._presses.both(whole)
        for _ in range(MOST_PULLS if self._pulled else 0):
            pulled = {
                name: self._pull(switch, both[0], whole.get(name, "off"))
                for name, switch in self._pulled.items()
            }
            if all(whole.get(name, "off") == state for name, state in pulled.items()):
                break
            whole |= pulled
            both = self._presses.both(whole)
        return both

    @staticmethod
    def _pull(switch: HelmSwitch, pressed: Pressed, now: str) -> str:
        coil = switch.request.coil
        live = {state for lead, state in COIL_LEADS if f"{coil} {lead}" in pressed.on}
        return moved_by(switch.part.states, now, live)

    @cached_property
    def rows(self) -> tuple[PressRow, ...]:
        """What stands wrong at rest, then every state of every switch that a hand moves."""
        at_rest = PressRow("", "", (), (), (), tuple(self.wrong({})))
        by_hand = (switch for switch in self.draft.switches if not switch.request.coil)
        states = ((switch, state) for switch in by_hand for state in switch.part.states)
        return (at_rest, *(self.row(switch, state) for switch, state in states))

    def row(self, switch: HelmSwitch, state: str) -> PressRow:
        """Return what one switch does in one state."""
        states = {switch.request.id: state}
        resting = state == switch.part.states[0]
        both = self._at_rest if resting else self._settled(states)
        pressed = both[0]
        live = (t for t in switch.part.terminals if pressed.is_live(_tab(switch, t)))
        lit = (u.name for u in switch.lamps if pressed.is_on(lamp_element(switch.place, u.lamp)))
        changed = pressed.apart_from(self.rest)
        loads = (e for e in changed if pressed.is_on(e) and not self._is_lamp_of_switch(e))
        found = () if resting else self._wrong(states, *both, changed)
        wrong = [w for w in found if w not in self._wrong_at_rest]
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
        pressed, blown = self._settled(states)
        return self._wrong(states, pressed, blown, pressed.on | pressed.apart_from(self.rest))

    def _wrong(
        self, states: Mapping[str, str], pressed: Pressed, blown: Pressed, among: frozenset[str]
    ) -> Iterator[Mismatch]:
        """Yield what is wrong among elements and of what the levers are for.

        Args:
            among: at least what runs and did not with every lever at rest, or did and does not.
        """
        if pressed.shorted:
            yield Mismatch("short")
            return  # its device opens; what else is seen follows from it
        for element in sorted(self._concerned(states) | (self._judged & among)):
            meant, runs = self._meaning.runs(element, states), pressed.is_on(element)
            if meant != runs:
                yield Mismatch("dark" if meant else "runs", (element,))
        if states:
            more = {e for e in among - self._judged if pressed.is_on(e) and not self.rest.is_on(e)}
            yield from (
                Mismatch("runs", (e,)) for e in sorted(more) if not self._is_lamp_of_switch(e)
            )
        yield from self._night_lamps_wrong(pressed, among)
        if pressed.sneaks:
            yield Mismatch("sneak", pressed.sneaks)
        yield from self._two_feeds(blown)

    def _two_feeds(self, blown: Pressed) -> Iterator[Mismatch]:
        """Yield the circuits that meet behind their devices, whether or not these are blown."""
        at = blown.nodes(self._fed_at)
        if _distinct(at * len(at) + self._feed_numbers) == _distinct(at):
            return
        fed: dict[int, set[str]] = defaultdict(set)
        for node, listed in zip(at.tolist(), self._feeds, strict=True):
            fed[node].add(listed)
        for circuits in fed.values():
            if len(circuits) > 1:
                yield Mismatch("two feeds", tuple(sorted(circuits)))

    def _concerned(self, states: Mapping[str, str]) -> frozenset[str]:
        """Return what may be meant to run: what these switches, or coils, are for."""
        if len(states) != 1:
            return self._judged
        return self._for_switch[next(iter(states))] | self._for_switch[""]

    @cached_property
    def _for_switch(self) -> dict[str, frozenset[str]]:
        """What each switch is for; '' for what a coil switches."""
        found: dict[str, set[str]] = defaultdict(set)
        for element in self._judged:
            for switch in self._meaning.switches_of(element):
                found["" if switch in self._pulled else switch].add(element)
        return defaultdict(frozenset, {name: frozenset(for_it) for name, for_it in found.items()})

    @cached_property
    def _at_night(self) -> dict[tuple[str, ...], dict[str, None]]:
        """The lamps that burn with instrument lights, in order, by what those are."""
        found: dict[tuple[str, ...], dict[str, None]] = defaultdict(dict)
        for switch in self.draft.switches:
            for use in switch.lamps:
                row = self.draft.circuit(use.circuit) if use.circuit else None
                if row and row.sized:
                    lights = tuple(f"{name} plus" for name in row.planned.loads)
                    found[lights][lamp_element(switch.place, use.lamp)] = None
        return found

    def _night_lamps_wrong(self, pressed: Pressed, among: frozenset[str]) -> Iterator[Mismatch]:
        """Yield the lamps that do not burn as the instrument lights do."""
        for lights, lamps in self._at_night.items():
            if among.isdisjoint(lights) and among.isdisjoint(lamps):
                continue
            meant = any(map(pressed.is_on, lights))
            for name in lamps:
                if pressed.is_on(name) != meant:
                    yield Mismatch("lamp dark" if meant else "lamp lit", (name,))

    def _lamps_wrong(self, switch: HelmSwitch, state: str, pressed: Pressed) -> Iterator[Mismatch]:
        for use in () if pressed.shorted else switch.lamps:
            if use.refused or use.intent == "night":
                continue
            meant = bool(use.fed_from) and state in wanted_states(use.intent, switch.part)
            name = lamp_element(switch.place, use.lamp)
            if meant != pressed.is_on(name):
                yield Mismatch("lamp dark" if meant else "lamp lit", (name,))


def _distinct(numbers: npt.NDArray[np.intp]) -> int:
    return int(np.count_nonzero(np.diff(np.sort(numbers))))


def _tab(switch: HelmSwitch, name: str) -> TerminalId:
    return TerminalId(f"{switch.place} {name}")


def press_rows(draft: Draft) -> tuple[PressRow, ...]:
    """Return every state of every switch that a hand moves; kept while the same is joined."""
    kept = draft.aboard.kept

    def proven() -> Truth:
        return kept.take("truth", "", joined(draft), lambda: Truth(draft))

    return kept.take("presses", "", (draft,), lambda: proven().rows)  # two rules ask of a draft


def truth_of(draft: Draft) -> Truth:
    """Return a whole draft's switches, powered; as they were proven when it was made."""
    proven = draft.kept.held("truth")
    return proven if isinstance(proven, Truth) else Truth(draft)
