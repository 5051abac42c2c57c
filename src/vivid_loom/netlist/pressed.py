"""What a press makes live: a net list folded once, so that each state of a few levers is quick."""

from collections import defaultdict
from collections.abc import Collection, Mapping
from functools import cached_property
from typing import NamedTuple

from vivid_loom.netlist.derive import States, is_closed
from vivid_loom.netlist.records import Contact, NetList, TerminalId
from vivid_loom.netlist.sets import Sets

__all__ = ["Pressed", "Presses"]


class Pressed:
    """A net list in one state of its levers."""

    def __init__(self, folded: "_Folded", node: list[int]) -> None:
        self._folded, self._node = folded, node
        self._plus = frozenset(node[plus] for _, plus, _ in folded.sources)
        self._minus = frozenset(node[minus] for _, _, minus in folded.sources)

    def node(self, terminal: TerminalId) -> int:
        """Return the number of the node a terminal is on."""
        return self._node[self._folded.at[terminal]]

    def is_live(self, terminal: TerminalId) -> bool:
        """Tell whether a terminal has a source's plus."""
        return self.node(terminal) in self._plus

    @cached_property
    def on(self) -> frozenset[str]:
        """Ids of the elements that stand between a source's plus and its way home."""
        node, hot, home = self._node, self._plus, self._minus
        return frozenset(
            [
                name
                for name, plus, minus in self._folded.draws
                if node[plus] in hot and node[minus] in home and node[plus] != node[minus]
            ]
        )

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
        node, known = self._node, self._plus | self._minus
        if not any(
            (node[plus] in self._plus) != (node[minus] in self._plus)
            and not (node[plus] in known and node[minus] in known)
            for _, plus, minus in self._folded.draws
        ):
            return ()  # nothing leads from plus to where it hangs
        hanging: dict[int, list[tuple[str, int, int]]] = defaultdict(list)
        for name, plus, minus in self._folded.draws:
            ends = (node[plus], node[minus])
            for end in ends:
                if end not in known:
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
        at: the folded node of each terminal; ``nodes`` is how many there are.
        sources, draws: id, plus and minus of the elements that give and that take.
    """

    at: dict[TerminalId, int]
    nodes: int
    sources: tuple[tuple[str, int, int], ...]
    draws: tuple[tuple[str, int, int], ...]


class Presses:
    """A net list in a base state, in which some levers move.

    Everything that does not depend on these levers is folded into nodes once.

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
        ends = [(e.law == "source", (e.id, at[e.plus], at[e.minus])) for e in net.elements]
        sources = tuple(triple for gives, triple in ends if gives)
        draws = tuple(triple for gives, triple in ends if not gives)
        self._folded = _Folded(at, len(numbers), sources, draws)
        self._moving = [(c, at[c.ends[0]], at[c.ends[1]]) for c in moving]
        self._apart = [(at[c.ends[0]], at[c.ends[1]]) for c in apart]

    def at(self, states: States) -> Pressed:
        """Return the net with the levers in these states; those not named are as in the base."""
        return self.both(states)[0]

    def both(self, states: States) -> tuple[Pressed, Pressed]:
        """Return the net with the levers in these states, then with what may open opened."""
        sets = Sets(self._folded.nodes)
        whole = {**self.base, **states}
        for contact, a, b in self._moving:
            if is_closed(contact, self.net, whole):
                sets.join(a, b)
        opened = [sets.find(i) for i in range(self._folded.nodes)]
        for a, b in self._apart:
            sets.join(a, b)
        closed = [sets.find(i) for i in opened] if self._apart else opened
        return Pressed(self._folded, closed), Pressed(self._folded, opened)
