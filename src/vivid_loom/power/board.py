"""A draft made ready to be powered up: its net list with a resistance in everything."""

import dataclasses
from collections.abc import Iterator, Mapping
from functools import cached_property
from typing import Final, NamedTuple

from vivid_loom.boat import SOURCES, Battery
from vivid_loom.drafting.after.net import net_list
from vivid_loom.drafting.drafted import Draft
from vivid_loom.netlist import Conductor, Contact, Element, NetList
from vivid_loom.network import Branch, Converter, Draw, Network, Solver, Source
from vivid_loom.quantities import Gauge, computed
from vivid_loom.standards import batteries, conductor, contacts, draws, short_circuit

__all__ = ["Board", "Conditions", "Pull"]

REGULATION_V: Final = 0.1  # a charger or converter falls by this from nothing to its limit: ours


@computed
class Conditions:
    """What a boat is powered up in.

    Attributes:
        copper_c: temperature of its conductors; None for the profile's.
        charge: of every battery, from 0 to 1.
        joints: contacts, devices and crimped ends have a resistance; without, only copper has, as
            the draft reckons its drops.
    """

    copper_c: float | None = None
    charge: float = 1.0
    joints: bool = True


class Pull(NamedTuple):
    """Something a coil moves.

    Attributes:
        actuator: its id.
        states: that there are, the one with nothing pulling first.
        by: by element of the coil, the state that it pulls.
    """

    actuator: str
    states: tuple[str, ...]
    by: Mapping[str, str]


class Board:
    """A draft's net list as a network, every contact in it as a branch.

    Attributes:
        draft, net: what it was made of.
        conditions: what it is powered up in.
        network, solver: what is solved; branches go by the ids of conductors and contacts, what
            draws by the ids of its elements.
        volts: the voltage everything that draws is made for, by element.
    """

    def __init__(
        self, draft: Draft, conditions: Conditions | None = None, net: NetList | None = None
    ) -> None:
        self.draft = draft
        self.conditions = conditions or Conditions()
        self.net = net or net_list(draft)
        self.copper_c = self.conditions.copper_c
        if self.copper_c is None:
            self.copper_c = draft.aboard.profile.conductor_c
        self.volts = self._nominal()
        self.network = self._network()
        self.solver = Solver(self.network)

    def _nominal(self) -> dict[str, float]:
        boat = self.draft.aboard.boat.network
        fed = {
            name: boat.voltage(row.planned.source)
            for row in self.draft.circuits
            for name in row.planned.loads
        }
        return {element.id: fed.get(element.part, boat.nominal_v) for element in self.net.elements}

    def _network(self) -> Network:
        elements = self.net.elements
        return Network(
            branches=(*self._wires(), *self._closed()),
            sources=tuple(self._source(e) for e in elements if e.law == "source"),
            draws=tuple(self._draw(e) for e in elements if e.law not in ("source", "converter")),
            converters=tuple(self._converter(e) for e in elements if e.law == "converter"),
            reference=next(e.minus for e in elements if e.id in self.batteries),
        )

    def _wires(self) -> Iterator[Branch]:
        """Yield the wires, each with both its ends."""
        ends = dict.fromkeys(self.ohm_per_m, 0.0)
        if self.conditions.joints:
            ends = {each: 2 * contacts.end_ohm(conductor.area_mm2(each)) for each in ends}
        for name, _, (a, b), _, gauge, _, length_m, _ in self.net.conductors:
            yield Branch(name, a, b, length_m * self.ohm_per_m[gauge] + ends[gauge])

    @cached_property
    def ohm_per_m(self) -> dict[Gauge, float]:
        """What the copper of every size has by itself."""
        assert self.copper_c is not None
        sizes = {wire.gauge for wire in self.net.conductors}
        return {gauge: conductor.ohm_per_m(gauge, self.copper_c) for gauge in sizes}

    def _closed(self) -> Iterator[Branch]:
        """Yield the contacts as they are closed, each with the device in it."""
        for contact in self.net.contacts:
            name, part, (a, b), actuator, _, device = contact
            if not self.conditions.joints:
                ohm = 0.0 if not actuator and device is None else 1e-9
            elif device:
                ohm = contacts.device_ohm(device.family, device.rating_a)
            else:
                kind = self.kinds[part]
                bare = not actuator and kind != "strip"  # a bar, or two leads on one terminal
                ohm = contacts.contact_ohm("" if bare else kind, self._plug_sizes.get(part, ""))
            yield Branch(name, a, b, ohm)

    @cached_property
    def kinds(self) -> dict[str, str]:
        """What kind of thing every part is."""
        return {part.id: part.kind for part in self.net.parts}

    @cached_property
    def batteries(self) -> dict[str, Battery]:
        """The boat's batteries, by id."""
        return self.draft.aboard.boat.network.batteries

    def idle_beside(self, circuit: str) -> frozenset[str]:
        """Return the loads that are off at themselves while one circuit alone is tried.

        A coil has no switch of its own: it pulls whenever it is fed.
        """
        row = self.draft.circuit(circuit)
        on = set(row.planned.loads) if row else set[str]()
        on |= {self.elements[a.coil].part for a in self.net.actuators if a.coil}
        return frozenset(self.draft.aboard.loads) - on

    @cached_property
    def _plug_sizes(self) -> dict[str, str]:
        return {plug.id: str(plug.contact) for plug in self.draft.assembled.plugs}

    def _source(self, element: Element) -> Source:
        supply = self.draft.aboard.boat.network.supplies.get(element.id)
        ends = (element.id, element.plus, element.minus)
        if supply is None:
            battery = self.batteries[element.id]
            volts = batteries.open_v(element.volts, battery.chemistry, self.conditions.charge)
            ohm = battery.internal_ohm or short_circuit.battery_ohm(
                element.volts, battery.cranking_a
            )
            return Source(*ends, volts, ohm)
        limit = supply.total_max_a
        volts = element.volts
        if supply.kind in SOURCES:
            charged = next(iter(self.batteries.values()))
            volts = batteries.charge_v(element.volts, charged.chemistry)
        return Source(*ends, volts, REGULATION_V / limit, limit)

    def _draw(self, element: Element) -> Draw:
        load = self.draft.aboard.loads.get(element.part)
        how = draws.behaviour(element.law, load.function if load else "")
        law, volts = how.law, self.volts[element.id]
        if not self.conditions.joints:
            law = "current"  # as the draft reckons
        turned = element.plus in self._turned
        return Draw(
            element.id,
            element.plus,
            element.minus,
            law,
            element.amps,
            volts,
            how.least * volts,
            how.both_ways and not turned,
        )

    @cached_property
    def _turned(self) -> frozenset[str]:
        """Terminals of motors that two elements share, one each way round."""
        plus = {element.plus for element in self.net.elements}
        minus = {element.minus for element in self.net.elements if element.law != "source"}
        return frozenset(plus & minus)

    def _converter(self, element: Element) -> Converter:
        supply = self.draft.aboard.boat.network.supplies[element.part]
        volts = self.draft.aboard.boat.network.nominal_v
        efficiency, least = supply.efficiency_percent / 100, 0.75 * volts
        ends = (element.plus, element.minus)
        return Converter(element.id, supply.id, *ends, efficiency, least)

    @cached_property
    def pulls(self) -> tuple[Pull, ...]:
        """What coils move."""
        found: list[Pull] = []
        elements = {element.id for element in self.net.elements}
        for actuator in self.net.actuators:
            if not actuator.coil:
                continue
            load = actuator.coil.rpartition(" ")[0]
            states = actuator.states
            by = {f"{load} {state}": state for state in states if f"{load} {state}" in elements}
            if f"{load} plus" in elements:
                by[f"{load} plus"] = states[1]
            found.append(Pull(actuator.id, states, by))
        return tuple(found)

    @cached_property
    def devices(self) -> tuple[Contact, ...]:
        """The contacts that hold a device."""
        return tuple(contact for contact in self.net.contacts if contact.device)

    @cached_property
    def moving(self) -> tuple[Contact, ...]:
        """The contacts that something moves."""
        return tuple(contact for contact in self.net.contacts if contact.actuator)

    @cached_property
    def conductors(self) -> dict[str, Conductor]:
        """The wires by id."""
        return {wire.id: wire for wire in self.net.conductors}

    @cached_property
    def contacts(self) -> dict[str, Contact]:
        """The contacts by id."""
        return {contact.id: contact for contact in self.net.contacts}

    @cached_property
    def elements(self) -> dict[str, Element]:
        """What gives and draws, by id."""
        return {element.id: element for element in self.net.elements}

    def altered(self, **changes: object) -> "Board":
        """Return this board with parts of its network replaced, all else as it is."""
        other = object.__new__(Board)
        other.__dict__.update(self.__dict__)
        other.network = dataclasses.replace(self.network, **changes)  # type: ignore[arg-type]
        other.solver = Solver(other.network)
        return other
