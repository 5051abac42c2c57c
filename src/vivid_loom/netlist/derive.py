"""What follows from a net list for a set of states: nodes, what is alive, loops and devices."""

from collections import deque
from collections.abc import Collection, Iterator, Mapping
from typing import NamedTuple

from vivid_loom.netlist.records import Conductor, Contact, Element, NetList, TerminalId

__all__ = ["Loop", "Nodes", "devices_between", "live_terminals", "loops", "nodes"]

Nodes = Mapping[TerminalId, int]
"""The number of the node each terminal is on; terminals of one number are one potential."""

States = Mapping[str, str]
NOTHING: frozenset[str] = frozenset()


class Loop(NamedTuple):
    """A way of an element's current: from a source out to it, and home to the same source.

    Attributes:
        out, home: ids of the conductors passed, from the source on.
        contacts: ids of the contacts passed, out and home.
    """

    element: str
    source: str
    out: tuple[str, ...]
    home: tuple[str, ...]
    contacts: tuple[str, ...]


def is_closed(contact: Contact, net: NetList, states: States) -> bool:
    """Tell whether a contact is closed, its device whole."""
    if not contact.actuator:
        return True
    actuator = net.actuators_by_id[contact.actuator]
    return states.get(actuator.id, actuator.states[0]) in contact.closed_in


def _edges(
    net: NetList, states: States, broken: Collection[str]
) -> Iterator[tuple[TerminalId, TerminalId, Conductor | Contact]]:
    for conductor in net.conductors:
        if conductor.id not in broken:
            yield (*conductor.ends, conductor)
    for contact in net.contacts:
        if contact.id not in broken and is_closed(contact, net, states):
            yield (*contact.ends, contact)


def nodes(net: NetList, states: States, *, broken: Collection[str] = NOTHING) -> Nodes:
    """Return which terminals are one potential.

    Args:
        states: by actuator, of those not at rest.
        broken: ids of conductors and contacts that are interrupted: a blown fuse is its contact.
    """
    root: dict[TerminalId, TerminalId] = {terminal.id: terminal.id for terminal in net.terminals}

    def find(name: TerminalId) -> TerminalId:
        while root[name] != name:
            root[name] = root[root[name]]
            name = root[name]
        return name

    for a, b, _ in _edges(net, states, broken):
        root[find(a)] = find(b)
    numbers: dict[TerminalId, int] = {}
    return {t.id: numbers.setdefault(find(t.id), len(numbers)) for t in net.terminals}


def live_terminals(
    net: NetList, states: States, *, broken: Collection[str] = NOTHING
) -> frozenset[TerminalId]:
    """Return the terminals that are one potential with some source's plus."""
    at = nodes(net, states, broken=broken)
    hot = {at[element.plus] for element in net.elements if element.law == "source"}
    return frozenset(terminal for terminal, node in at.items() if node in hot)


class _Ways:
    """Shortest ways through a net in one set of states, by the number of things passed."""

    def __init__(self, net: NetList, states: States, broken: Collection[str]) -> None:
        self.beside: dict[TerminalId, list[tuple[TerminalId, Conductor | Contact]]] = {
            terminal.id: [] for terminal in net.terminals
        }
        for a, b, edge in _edges(net, states, broken):
            self.beside[a].append((b, edge))
            self.beside[b].append((a, edge))

    def between(
        self, start: TerminalId, end: TerminalId, shut: TerminalId | None = None
    ) -> list[Conductor | Contact] | None:
        """Return what is passed from start to end, never over ``shut``; None without a way."""
        came: dict[TerminalId, tuple[TerminalId, Conductor | Contact]] = {}
        waiting, seen = deque([start]), {start, shut}
        while waiting:
            at = waiting.popleft()
            if at == end:
                passed: list[Conductor | Contact] = []
                while at != start:
                    at, edge = came[at]
                    passed.append(edge)
                return passed[::-1]
            for other, edge in self.beside[at]:
                if other not in seen:
                    seen.add(other)
                    came[other] = (at, edge)
                    waiting.append(other)
        return None


def loops(
    net: NetList, element: Element, states: States, *, broken: Collection[str] = NOTHING
) -> tuple[Loop, ...]:
    """Return a loop of an element through every source it closes to, in order of the sources.

    Of several ways out or home the one with the fewest things on it.
    """
    ways = _Ways(net, states, broken)
    found: list[Loop] = []
    for source in net.elements:
        if source.law != "source" or source.id == element.id:
            continue
        out = ways.between(source.plus, element.plus)
        home = ways.between(element.minus, source.minus)
        if out is None or home is None:
            continue
        passed = [*out, *home]
        found.append(
            Loop(
                element.id,
                source.id,
                tuple(edge.id for edge in out if isinstance(edge, Conductor)),
                tuple(edge.id for edge in home if isinstance(edge, Conductor)),
                tuple(edge.id for edge in passed if isinstance(edge, Contact)),
            )
        )
    return tuple(found)


def devices_between(net: NetList, loop: Loop) -> tuple[Contact, ...]:
    """Return the contacts of a loop that hold a device, from the source on."""
    by_id = {contact.id: contact for contact in net.contacts}
    passed = (by_id[name] for name in loop.contacts)
    return tuple(contact for contact in passed if contact.device is not None)
