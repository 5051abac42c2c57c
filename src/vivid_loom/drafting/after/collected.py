"""What a net list is collected in, part by part."""

from collections.abc import Mapping
from functools import lru_cache
from typing import TypeVar

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.making.ending import stud_of
from vivid_loom.netlist import (
    Actuator,
    Conductor,
    Contact,
    Device,
    Element,
    NetList,
    Part,
    Terminal,
    TerminalId,
)
from vivid_loom.standards.terminals import THREADED, form_of

__all__ = ["BAR", "Collected", "terminal_id"]

K = TypeVar("K", bound=str)
T = TypeVar("T")
BAR = "bar"


def terminal_id(part: str, name: str) -> TerminalId:
    """Return what the net list calls a terminal of a part."""
    return TerminalId(f"{part} {name}")


@lru_cache(maxsize=4096)
def _terminal(part: str, name: str, kind: str, thread: str) -> Terminal:
    """Return a terminal: most are the same after an edit."""
    return Terminal(terminal_id(part, name), part, name, kind, form_of(kind, thread))


class Collected:
    """Everything in a net list by id; a part or terminal that is there first stays."""

    def __init__(self, aboard: Aboard) -> None:
        self.aboard = aboard
        self.parts: dict[str, Part] = {}
        self.terminals: dict[TerminalId, Terminal] = {}
        self.actuators: dict[str, Actuator] = {}
        self.contacts: dict[str, Contact] = {}
        self.elements: dict[str, Element] = {}
        self.conductors: dict[str, Conductor] = {}

    def part(self, name: str, kind: str, title: str, station: str) -> None:
        """Add a part at a station."""
        self.parts.setdefault(name, Part(name, kind, title, station))

    def terminal(self, part: str, name: str, kind: str) -> TerminalId:
        """Add a terminal of a part, with what its kind takes; return its id."""
        made = terminal_id(part, name)
        if made not in self.terminals:
            thread = stud_of(part, name, kind, self.aboard) if kind in THREADED else ""
            self.terminals[made] = _terminal(part, name, kind, thread)
        return made

    def contact(
        self,
        part: str,
        first: TerminalId,
        last: TerminalId,
        *,
        by: tuple[str, tuple[str, ...]] = ("", ()),
        device: Device | None = None,
    ) -> None:
        """Add a way through a part.

        Args:
            by: the actuator that moves it, and the states it is closed in.
        """
        name = f"{first} – {last}"
        self.contacts[name] = Contact(name, part, (first, last), *by, device)

    def actuator(self, name: str, part: str, states: tuple[str, ...], coil: str = "") -> str:
        """Add what moves contacts; return its id."""
        self.actuators[name] = Actuator(name, part, states, coil)
        return name

    def whole(self) -> NetList:
        """Return the net list."""
        return NetList(
            parts=_in_order(self.parts),
            terminals=_in_order(self.terminals),
            actuators=_in_order(self.actuators),
            contacts=_in_order(self.contacts),
            elements=_in_order(self.elements),
            conductors=_in_order(self.conductors),
        )


def _in_order(found: Mapping[K, T]) -> tuple[T, ...]:
    """Return what was found in order of its ids."""
    return tuple([found[name] for name in sorted(found)])
