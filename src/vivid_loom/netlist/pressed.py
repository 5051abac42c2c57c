"""What a press makes live: a net list folded once, so that each state of a few levers is quick."""

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from functools import cached_property
from itertools import compress
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from vivid_loom.netlist.derive import States, is_closed
from vivid_loom.netlist.records import Contact, NetList, TerminalId
from vivid_loom.netlist.sets import Sets

__all__ = ["Pressed", "Presses"]


Numbers = npt.NDArray[np.intp]


class Pressed:
    """A net list in one state of its levers.

    Args:
        node: by folded node, the node it is one with in this state.
    """

    def __init__(self, folded: "_Folded", node: Numbers) -> None:
        self._folded, self._node = folded, node
        plus, minus = folded.sources
        self._plus = frozenset(node[plus].tolist())
        self._minus = frozenset(node[minus].tolist())
        self._hot = np.zeros(len(node), dtype=bool)
        self._hot[node[plus]] = True
        self._home = np.zeros(len(node), dtype=bool)
        self._home[node[minus]] = True

    def node(self, terminal: TerminalId) -> int:
        """Return the number of the node a terminal is on."""
        return int(self._node[self._folded.at[terminal]])

    def nodes(self, places: Numbers) -> Numbers:
        """Return the nodes that places are on, as ``Presses.places`` gives them."""
        return self._node[places]

    def is_live(self, terminal: TerminalId) -> bool:
        """Tell whether a terminal has a source's plus."""
        return self.node(terminal) in self._plus

    @cached_property
    def _runs(self) -> npt.NDArray[np.bool_]:
        plus, minus = (self._node[ends] for ends in self._folded.draws)
        runs: npt.NDArray[np.bool_] = self._hot[plus] & self._home[minus] & (plus != minus)
        return runs

    @cached_property
    def on(self) -> frozenset[str]:
        """Ids of the elements that stand between a source's plus and its way home."""
        return frozenset(compress(self._folded.names, self._runs.tolist()))

    def is_on(self, element: str) -> bool:
        """Tell whether an element runs; one that nothing is known of does not."""
        at = self._folded.draw_of.get(element)
        return at is not None and bool(self._runs[at])

    def apart_from(self, other: "Pressed") -> frozenset[str]:
        """Return the elements that run here or in another state of the net, but not in both."""
        names = self._folded.names
        return frozenset(names[i] for i in np.flatnonzero(self._runs != other._runs))

    @cached_property
    def shorted(self) -> frozenset[int]:
        """Nodes that are plus and minus at once."""
        return self._plus & self._minus

    @cached_property
    def sneaks(self) -> tuple[str, ...]:
        """Ids of elements that current passes on its way through another: one in series.

        They hang on a node that is neither plus nor minus, and by way of such nodes and the
        elements between them plus is joined to minus.
        """
        plus, minus = (self._node[ends] for ends in self._folded.draws)
        known = self._hot | self._home
        if not np.any((self._hot[plus] != self._hot[minus]) & ~(known[plus] & known[minus])):
            return ()  # nothing leads from plus to where it hangs
        hanging: dict[int, list[tuple[str, int, int]]] = defaultdict(list)
        for name, *ends in zip(self._folded.names, plus.tolist(), minus.tolist(), strict=True):
            for end in ends:
                if not known[end]:
                    hanging[end].append((name, *ends))
        seen: set[int] = set()
        found: set[str] = set()
        for start in hanging:
            if start in seen:
                continue
            group, passed = _reached(start, hanging)
            seen |= group
            touched = {end for _, *ends in passed for end in ends}
            if touched & self._plus and touched & self._minus:
                found |= {name for name, _, _ in passed}
        return tuple(sorted(found))


def _reached(
    start: int, hanging: Mapping[int, list[tuple[str, int, int]]]
) -> tuple[set[int], set[tuple[str, int, int]]]:
    """Return the nodes joined to one by elements over nodes that hang, and those elements."""
    group, waiting = {start}, [start]
    passed: set[tuple[str, int, int]] = set()
    while waiting:
        for element in hanging[waiting.pop()]:
            passed.add(element)
            for end in element[1:]:
                if end in hanging and end not in group:
                    group.add(end)
                    waiting.append(end)
    return group, passed


class _Folded(NamedTuple):
    """A net list with everything joined that is joined whatever the levers do.

    Attributes:
        at: the folded node of each terminal.
        sources: the folded nodes of plus and of minus of the elements that give.
        draws: likewise of those that take, whose ids ``names`` are; ``draw_of`` is where each is.
    """

    at: dict[TerminalId, int]
    sources: tuple[Numbers, Numbers]
    draws: tuple[Numbers, Numbers]
    names: tuple[str, ...]
    draw_of: dict[str, int]


class Presses:
    """A net list in a base state, in which some levers move.

    Everything that does not depend on these levers is folded into nodes once, and what the base
    joins is kept: a lever that only closes contacts costs the joining of these alone.

    Args:
        base: by actuator, of those not at rest while the levers move.
        levers: ids of the actuators that move.
        opening: ids of contacts that ``both`` also takes as interrupted: blown devices.
    """

    def __init__(
        self,
        net: NetList,
        base: States,
        levers: Collection[str],
        opening: Collection[str] = frozenset(),
    ) -> None:
        self.net, self.base = net, base
        index = {terminal.id: i for i, terminal in enumerate(net.terminals)}
        sets = Sets(len(index))
        moving: list[Contact] = []
        apart: list[Contact] = []
        for conductor in net.conductors:
            sets.join(index[conductor.ends[0]], index[conductor.ends[1]])
        for contact in net.contacts:
            if contact.id in opening:
                apart.append(contact)
            elif contact.actuator in levers:
                moving.append(contact)
            elif is_closed(contact, net, base):
                sets.join(index[contact.ends[0]], index[contact.ends[1]])
        numbers: dict[int, int] = {}
        at = {name: numbers.setdefault(sets.find(i), len(numbers)) for name, i in index.items()}
        gives = [(at[e.plus], at[e.minus]) for e in net.elements if e.law == "source"]
        takes = [e for e in net.elements if e.law != "source"]
        draws = [(at[e.plus], at[e.minus]) for e in takes]
        draw_of = {e.id: i for i, e in enumerate(takes)}
        self._folded = _Folded(at, _ends(gives), _ends(draws), tuple(draw_of), draw_of)
        self._moving: dict[str, list[tuple[Contact, int, int]]] = defaultdict(list)
        for contact in moving:
            ends = (at[contact.ends[0]], at[contact.ends[1]])
            self._moving[contact.actuator].append((contact, *ends))
        self._apart = [(at[c.ends[0]], at[c.ends[1]]) for c in apart]
        self._bare = np.arange(len(numbers))
        self._at_base = self._joined_afresh(base)

    def places(self, terminals: Iterable[TerminalId]) -> Numbers:
        """Return what ``Pressed.nodes`` is asked by, one number a terminal."""
        return np.array([self._folded.at[t] for t in terminals], dtype=np.intp)

    def at(self, states: States) -> Pressed:
        """Return the net with the levers in these states; those not named are as in the base."""
        return self.both(states)[0]

    def both(self, states: States) -> tuple[Pressed, Pressed]:
        """Return the net with the levers in these states, then with what may open opened."""
        whole = {**self.base, **states}
        closing: list[tuple[int, int]] = []
        for lever in states:
            for contact, *ends in self._moving.get(lever, ()):
                was = is_closed(contact, self.net, self.base)
                if was != is_closed(contact, self.net, whole):
                    closing.append((ends[0], ends[1]))
                    if was:  # nothing joined can be taken apart
                        return self._pressed(*self._joined_afresh(whole))
        return self._pressed(*(_joined(node, closing) for node in self._at_base))

    def _pressed(self, closed: Numbers, opened: Numbers) -> tuple[Pressed, Pressed]:
        return Pressed(self._folded, closed), Pressed(self._folded, opened)

    def _joined_afresh(self, states: States) -> tuple[Numbers, Numbers]:
        """Return the node of each folded node: all whole, then what may open opened."""
        contacts = (triple for of_one in self._moving.values() for triple in of_one)
        shut = [(a, b) for contact, a, b in contacts if is_closed(contact, self.net, states)]
        opened = _joined(self._bare, shut)
        return _joined(opened, self._apart), opened


def _ends(pairs: Sequence[tuple[int, int]]) -> tuple[Numbers, Numbers]:
    both = np.array(pairs, dtype=np.intp).reshape(-1, 2)
    return both[:, 0], both[:, 1]


def _joined(node: Numbers, pairs: Sequence[tuple[int, int]]) -> Numbers:
    """Return nodes with those of some pairs made one."""
    if not pairs:
        return node
    touched = node[np.array(pairs)].tolist()
    known = sorted({number for pair in touched for number in pair})
    index = {number: i for i, number in enumerate(known)}
    sets = Sets(len(known))
    for a, b in touched:
        sets.join(index[a], index[b])
    become = np.arange(len(node))
    become[known] = [known[sets.find(i)] for i in range(len(known))]
    return become[node]
