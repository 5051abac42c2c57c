"""What is meant to run at every press: from what circuits and loads ask, never from the wiring."""

from collections import defaultdict
from collections.abc import Iterator, Mapping
from functools import cached_property

from vivid_loom.boat import CircuitRequest, ContactRequest, Load
from vivid_loom.catalogue import SwitchPart
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.netlist import COIL_LEADS
from vivid_loom.standards.contacts import BOTH

__all__ = ["Meaning", "meaning_of"]

_TURNED = ("two_directions", "reversing")
_OTHER = {"up": "down", "down": "up"}
States = Mapping[str, str]


class Meaning:
    """What an order's switches are for.

    An element is called by its load and the lead that it hangs on, as in the net list.

    Args:
        parts: what each switch is, by its id.
    """

    def __init__(self, aboard: Aboard, parts: Mapping[str, SwitchPart]) -> None:
        self._aboard, self._parts = aboard, parts
        self._asked: dict[str, list[tuple[CircuitRequest, Load]]] = {}
        for circuit in aboard.circuits:
            if circuit.contacts:
                for name in circuit.loads:
                    for lead in _leads(circuit):
                        asked = self._asked.setdefault(f"{name} {lead}", [])
                        asked.append((circuit, aboard.loads[name]))

    @cached_property
    def elements(self) -> frozenset[str]:
        """Ids of the elements that some switch is for."""
        return frozenset(self._asked)

    def asked_by(self, element: str) -> tuple[str, ...]:
        """Return the circuits that are to feed an element."""
        return tuple(circuit.id for circuit, _ in self._asked.get(element, ()))

    def switches_of(self, element: str) -> frozenset[str]:
        """Return the switches an element is to be fed through."""
        asked = self._asked.get(element, ())
        return frozenset(contact.switch for circuit, _ in asked for contact in circuit.contacts)

    def elements_of(self, switch: str) -> tuple[str, ...]:
        """Return the elements that are to be fed through a switch."""
        return self._by_switch.get(switch, ())

    @cached_property
    def _by_switch(self) -> dict[str, tuple[str, ...]]:
        found: dict[str, list[str]] = defaultdict(list)
        for element in self._asked:
            for switch in self.switches_of(element):
                found[switch].append(element)
        return {switch: tuple(elements) for switch, elements in found.items()}

    def runs(self, element: str, states: States) -> bool:
        """Tell whether an element is meant to run with the levers in these states, floats down.

        Args:
            states: by switch id, of the levers a hand moves; what a coil moves follows from it.
        """
        lead = element.rpartition(" ")[2]
        return any(
            self._closed(circuit, load, lead, states)
            for circuit, load in self._asked.get(element, ())
        )

    def _closed(self, circuit: CircuitRequest, load: Load, lead: str, states: States) -> bool:
        if lead == "automatic" or (lead == "plus" and load.contact_a is not None):
            return False  # its float is down
        if load.lit_in and circuit.contact:
            return self._state(circuit.contact.switch, states) in load.lit_in
        asked = self._pressed(circuit, lead, states)
        if load.motor and circuit.pattern in _TURNED:  # nobody means it to turn both ways
            return asked and not self._pressed(circuit, _OTHER[lead], states)
        return asked

    def _pressed(self, circuit: CircuitRequest, lead: str, states: States) -> bool:
        return any(
            self._state(contact.switch, states) in _throws(circuit, contact, lead)
            for contact in circuit.contacts
        )

    def _state(self, switch: str, states: States) -> str:
        """Return where a switch stands: by hand, or as its coil is meant to pull it."""
        request, part = self._aboard.switches.get(switch), self._parts.get(switch)
        if request is None or not request.coil:
            return states.get(switch, part.states[0] if part else "off")
        live = {
            state
            for lead, state in COIL_LEADS
            if (element := f"{request.coil} {lead}") in self._asked and self.runs(element, states)
        }
        if part and BOTH in part.states and not part.interlock and len(live) > 1:
            return BOTH
        return next((state for _, state in COIL_LEADS if state in live), "off")


def meaning_of(draft: Draft) -> Meaning:
    """Return what a draft's switches are for."""
    return Meaning(draft.aboard, {s.request.id: s.part for s in draft.switches})


def _leads(circuit: CircuitRequest) -> Iterator[str]:
    """Yield the leads of its loads that a circuit brings to life."""
    if circuit.pattern in _TURNED:
        yield from ("up", "down")
    elif circuit.pattern in ("pump_auto_manual", "pump_three_position"):
        yield from ("automatic", "manual")
    else:
        yield circuit.fed_lead


def _throws(circuit: CircuitRequest, contact: ContactRequest, lead: str) -> tuple[str, ...]:
    if circuit.pattern in _TURNED:
        return (lead,)
    if circuit.pattern == "pump_three_position":
        return ("up",)
    return contact.throws
