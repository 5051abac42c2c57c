"""What a net list is made of; ids tie it together, so that equality and reading back come free."""

from functools import cached_property
from typing import Literal, NamedTuple, NewType

from vivid_loom.quantities import Gauge, computed
from vivid_loom.standards.colours import InsulationColour
from vivid_loom.standards.terminals import Form

__all__ = [
    "Actuator",
    "Conductor",
    "Contact",
    "Device",
    "Element",
    "Law",
    "NetList",
    "Part",
    "Role",
    "Terminal",
    "TerminalId",
]

TerminalId = NewType("TerminalId", str)
Role = Literal["feed", "switched", "return", "jumper", "control", "sense", "lamp"]
Law = Literal["source", "draw", "motor", "coil", "lamp", "converter"]


class Part(NamedTuple):
    """Something with terminals: 'battery', 'holder', 'selector', 'load', 'plug' and so on."""

    id: str
    kind: str
    name: str
    station: str


class Terminal(NamedTuple):
    """Where conductors land.

    Attributes:
        kind: 'post', 'stud', 'screw', 'way', 'tab', 'lead', 'tail', 'cavity' or 'bar'.
        form: its size and what it takes.
    """

    id: TerminalId
    part: str
    name: str
    kind: str
    form: Form


class Actuator(NamedTuple):
    """What moves contacts: lever, key, float, coil, selector, the mating of a plug.

    Attributes:
        states: the one at rest first.
        coil: the element that pulls it; '' for one that a hand or the water moves.
    """

    id: str
    part: str
    states: tuple[str, ...]
    coil: str = ""


class Device(NamedTuple):
    """A fuse or breaker, and the circuit or feeder it is listed under."""

    family: str
    rating_a: float
    listed: str


class Contact(NamedTuple):
    """A way through a part.

    Attributes:
        actuator: what opens and closes it; '' for a bar, a link, a strip's pole or a fuse.
        closed_in: the actuator's states it is closed in; () where it always is.
        device: the fuse or breaker in it; None without one.
    """

    id: str
    part: str
    ends: tuple[TerminalId, TerminalId]
    actuator: str = ""
    closed_in: tuple[str, ...] = ()
    device: Device | None = None


class Element(NamedTuple):
    """Something that gives or takes current between two terminals of its part.

    Attributes:
        amps: what it draws; 0 for a source, for a load whose current is not known, and for the
            input of a converter, which follows from its output.
        volts: what a source gives; 0 for others.
    """

    id: str
    part: str
    plus: TerminalId
    minus: TerminalId
    law: Law
    amps: float = 0.0
    volts: float = 0.0


class Conductor(NamedTuple):
    """A piece of wire between two terminals; ``circuit`` is the circuit or feeder it belongs to.

    Attributes:
        current_a: what it carries with everything it serves running.
    """

    id: str
    circuit: str
    ends: tuple[TerminalId, TerminalId]
    role: Role
    gauge: Gauge
    colour: InsulationColour
    length_m: float
    current_a: float = 0.0


@computed
class NetList:
    """A boat's electricity, every list in order of its ids."""

    parts: tuple[Part, ...]
    terminals: tuple[Terminal, ...]
    actuators: tuple[Actuator, ...]
    contacts: tuple[Contact, ...]
    elements: tuple[Element, ...]
    conductors: tuple[Conductor, ...]

    @cached_property
    def terminals_by_id(self) -> dict[TerminalId, Terminal]:
        """Terminals by id."""
        return {terminal.id: terminal for terminal in self.terminals}

    @cached_property
    def landings(self) -> dict[TerminalId, tuple[Conductor, ...]]:
        """The conductors on each terminal, in order of their ids."""
        found: dict[TerminalId, list[Conductor]] = {t.id: [] for t in self.terminals}
        for conductor in self.conductors:
            for end in conductor.ends:
                found[end].append(conductor)
        return {terminal: tuple(landed) for terminal, landed in found.items()}

    @cached_property
    def actuators_by_id(self) -> dict[str, Actuator]:
        """Actuators by id."""
        return {actuator.id: actuator for actuator in self.actuators}

    def elements_of(self, part: str) -> tuple[Element, ...]:
        """Return the elements of a part."""
        return tuple(element for element in self.elements if element.part == part)
