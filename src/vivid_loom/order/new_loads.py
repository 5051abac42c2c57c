"""New loads and what must come with them: a circuit each, and a helm switch where one is wanted."""

import dataclasses
import re
import unicodedata
from collections.abc import Iterable, Sequence
from typing import Final, Literal, NamedTuple

from vivid_loom.boat import (
    CircuitRequest,
    ContactRequest,
    Fit,
    Lead,
    LeadFunction,
    Level,
    Load,
    SwitchRequest,
)
from vivid_loom.boat.generic_loads import Feeding

__all__ = [
    "FEEDINGS",
    "at_battery",
    "fed",
    "fed_each",
    "free_id",
    "id_from_name",
    "joined",
    "missing_leads",
    "refed",
    "sensed",
    "sensing",
]


class Way(NamedTuple):
    """How a way of feeding is built.

    Attributes:
        switch: catalogue id of its helm switch; '' without one.
        also: catalogue id of the contact at the load beside it; '' without one.
        throws: of its contacts.
        leads: of a load that it feeds, and what brings the current home.
        alone: takes one load, so that one fault stops one.
        both_poles: goes through both poles of its switch.
        at_battery: hangs on a battery's post, with its device in line.
    """

    pattern: str
    level: Level
    switch: str = ""
    also: str = ""
    throws: tuple[Literal["up", "down"], ...] = ("up",)
    leads: tuple[LeadFunction, ...] = ("plus", "minus")
    alone: bool = False
    both_poles: bool = False
    at_battery: bool = False


_BOTH: Final = ("up", "down")
_TURNS: Final = Way(
    "two_directions",
    "unswitched",
    "rocker-spdt-momentary",
    throws=_BOTH,
    leads=("up", "down", "minus"),
    alone=True,
)
_PUMP: Final = Way(
    "pump_auto_manual",
    "battery_direct",
    "rocker-spst",
    leads=("automatic", "manual", "minus"),
    alone=True,
)
FEEDINGS: Final[dict[Feeding, Way]] = {
    "own switch": Way("device_switched", "unswitched"),
    "helm switch": Way("switched", "unswitched", "rocker-spst"),
    "helm button": Way("switched", "unswitched", "rocker-momentary"),
    "helm switch and float": Way("either_contact", "battery_direct", "rocker-spst", "float-switch"),
    "helm and second station": Way(
        "either_contact", "unswitched", "rocker-momentary", "push-momentary"
    ),
    "two directions": _TURNS,
    "two directions, two stations": _TURNS._replace(also="toggle-spdt-momentary"),
    "reversed motor": _TURNS._replace(
        pattern="reversing", switch="rocker-dpdt-momentary", leads=_BOTH, both_poles=True
    ),
    "automatic pump": _PUMP,
    "three-position pump": _PUMP._replace(
        pattern="pump_three_position", switch="rocker-spdt", throws=_BOTH
    ),
    "breaker as switch": Way("breaker", "unswitched"),
    "breaker on a panel": Way("breaker", "unswitched", "breaker-toggle"),
    "always live": Way("device_switched", "battery_direct"),
    "at the battery": Way("device_switched", "battery_direct", at_battery=True),
    "ignition": Way("device_switched", "ignition"),
}


def id_from_name(name: str) -> str:
    """Return a plain id: 'Searchlight, remote' → 'searchlight_remote'."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    return re.sub(r"[^a-z0-9]+", "_", plain).strip("_")[:60] or "load"


def free_id(wanted: str, taken: Iterable[str]) -> str:
    """Return ``wanted``, numbered from 2 where it is taken."""
    used = set(taken)
    name, number = wanted, 1
    while name in used:
        number += 1
        name = f"{wanted}_{number}"
    return name


def _circuit_id(taken: set[str]) -> str:
    number = 1
    while f"N{number:02d}" in taken:
        number += 1
    return f"N{number:02d}"


def missing_leads(load: Load, feeding: Feeding) -> tuple[LeadFunction, ...]:
    """Return the leads that a way of feeding needs and the load does not have."""
    wanted = (_own_plus((load,), feeding) if f == "plus" else f for f in FEEDINGS[feeding].leads)
    return tuple(f for f in wanted if load.lead(f) is None)


def _own_plus(loads: Sequence[Load], feeding: Feeding) -> LeadFunction:
    """Return the lead that takes the place of a plus: of a pump, its automatic or manual one."""
    if "plus" not in FEEDINGS[feeding].leads:
        return "plus"
    takes: LeadFunction = "manual" if FEEDINGS[feeding].switch else "automatic"
    instead = all(load.lead("plus") is None and load.lead(takes) for load in loads)
    return takes if instead and loads else "plus"


def with_leads(load: Load, feeding: Feeding) -> Load:
    """Return the load with plain tails for the leads nobody has described."""
    return _with(load, *missing_leads(load, feeding))


def fed(
    loads: Sequence[Load], feeding: Feeding, label: str, taken: Iterable[str], rank: int = 2
) -> Fit:
    """Return loads on one new circuit, chained in the order met, with its helm switch.

    Args:
        label: of the circuit and the switch's legend.
        taken: ids of loads, circuits and switches aboard.
        rank: of the switch; see ``SwitchRequest``.

    Raises:
        ValueError: several loads on a circuit that takes one.
    """
    _check_alone(feeding, loads)
    used = set(taken)
    whole = tuple(with_leads(load, feeding) for load in loads)
    circuit = CircuitRequest(
        id=_circuit_id(used),
        label=label,
        pattern=FEEDINGS[feeding].pattern,
        loads=tuple(load.id for load in loads),
    )
    circuit, switches = _by_way(circuit, feeding, used, loads, rank)
    return Fit(loads=whole, circuits=(circuit,), switches=switches)


def _check_alone(feeding: Feeding, loads: Sequence[Load]) -> None:
    if FEEDINGS[feeding].alone and len(loads) > 1:
        raise ValueError(f"{feeding}: a circuit of its own for each, so that one fault stops one")


def _by_way(
    circuit: CircuitRequest,
    feeding: Feeding,
    taken: set[str],
    loads: Sequence[Load],
    rank: int = 2,
) -> tuple[CircuitRequest, tuple[SwitchRequest, ...]]:
    """Return a circuit fed in a way, keeping the helm switch it has, and the switches it needs."""
    station = loads[0].station if loads else ""
    way, label = FEEDINGS[feeding], circuit.label
    made: list[SwitchRequest] = []
    contact: ContactRequest | None = None
    also: tuple[ContactRequest, ...] = ()
    if way.switch:
        contact = circuit.contact
        if contact is None:
            name = free_id(f"s_{id_from_name(label)}", taken)
            made.append(SwitchRequest(id=name, part=way.switch, legend=label, rank=rank))
            contact = ContactRequest(switch=name, throws=way.throws)
        elif len(contact.throws) < len(way.throws):
            contact = dataclasses.replace(contact, throws=way.throws)
        if way.both_poles:
            contact = dataclasses.replace(contact, pole=1)
            also = (dataclasses.replace(contact, pole=2),)
    if way.also:
        away = free_id(f"away_{id_from_name(label)}", taken)
        legend = f"{label}, float" if "float" in way.also else f"{label}, second station"
        made.append(
            SwitchRequest(id=away, part=way.also, legend=legend, rank=rank, station=station)
        )
        also = (ContactRequest(switch=away, throws=way.throws),)
    changed = dataclasses.replace(
        circuit,
        pattern=way.pattern,
        level=way.level,
        contact=contact,
        also=also,
        supply="",
        lead=_own_plus(loads, feeding),
    )
    return changed, tuple(made)


def at_battery(fit: Fit, feeding: Feeding, battery: str) -> Fit:
    """Return what was fed with its circuits on a battery's post, where that is its way."""
    if not FEEDINGS[feeding].at_battery:
        return fit
    circuits = tuple(dataclasses.replace(c, supply=battery) for c in fit.circuits)
    return dataclasses.replace(fit, circuits=circuits)


def _with(load: Load, *functions: LeadFunction) -> Load:
    """Return the load with plain tails for those of these leads that it has not."""
    added = tuple(Lead(function=f) for f in functions if load.lead(f) is None)
    return dataclasses.replace(load, leads=(*load.leads, *added))


def sensing(load: Load, battery: str, taken: Iterable[str]) -> Fit:
    """Return a feed for a load's sense lead: from a battery's post, by a fuse of its own."""
    circuit = CircuitRequest(
        id=_circuit_id(set(taken)),
        label=f"{load.name} sense",
        pattern="device_switched",
        loads=(load.id,),
        level="battery_direct",
        supply=battery,
        lead="sense",
    )
    return Fit(loads=(_with(load, "sense"),), circuits=(circuit,))


def lit(load: Load, lamps: CircuitRequest | None, taken: Iterable[str]) -> Fit:
    """Return a feed for a load's lamp lead.

    Args:
        lamps: the circuit of lamp leads that it joins; None for one of its own, by a rocker.

    Raises:
        ValueError: its lamp lead is fed already.
    """
    if lamps and load.id in lamps.loads:
        raise ValueError(f"{load.name}: its lamp lead hangs on {lamps.label} already")
    whole = _with(load, "lamp")
    if lamps:
        circuit = dataclasses.replace(lamps, loads=(*lamps.loads, load.id))
        return Fit(loads=(whole,), circuits=(circuit,))
    used, label = set(taken), "Instrument lamps"
    name = free_id(f"s_{id_from_name(label)}", used)
    switch = SwitchRequest(id=name, part=FEEDINGS["helm switch"].switch, legend=label)
    circuit = CircuitRequest(
        id=_circuit_id(used),
        label=label,
        pattern="switched",
        loads=(load.id,),
        contact=ContactRequest(switch=name),
        lead="lamp",
    )
    return Fit(loads=(whole,), circuits=(circuit,), switches=(switch,))


def sensed(sensor: Load, instrument: Load, circuit: CircuitRequest | None, taken: set[str]) -> Fit:
    """Return a sensor led to the instrument that reads it.

    Args:
        circuit: the sensor's own so far, which becomes its pair; None for one without.
    """
    pair = CircuitRequest(
        id=circuit.id if circuit else _circuit_id(taken),
        label=circuit.label if circuit else sensor.name,
        pattern="sensor_pair",
        loads=(sensor.id,),
        instrument=instrument.id,
    )
    leads = tuple(lead for lead in sensor.leads if lead.function != "plus")
    bare = dataclasses.replace(sensor, leads=leads)
    ends = (_with(bare, "sense", "minus"), _with(instrument, "sense", "minus"))
    return Fit(loads=ends, circuits=(pair,))


def fed_each(loads: Sequence[Load], feeding: Feeding, taken: Iterable[str], rank: int = 2) -> Fit:
    """Return loads on a new circuit each; see ``fed``."""
    used = set(taken)
    fits: list[Fit] = []
    for load in loads:
        fits.append(fed([load], feeding, load.name, used, rank))
        used |= {circuit.id for circuit in fits[-1].circuits}
        used |= {switch.id for switch in fits[-1].switches}
    return Fit(
        loads=tuple(x for fit in fits for x in fit.loads),
        circuits=tuple(x for fit in fits for x in fit.circuits),
        switches=tuple(x for fit in fits for x in fit.switches),
    )


def joined(loads: Sequence[Load], circuit: CircuitRequest) -> Fit:
    """Return loads that hang on a circuit already there, such as one more light of a string."""
    whole = tuple(with_leads(load, "own switch") for load in loads)
    more = tuple(load.id for load in loads)
    return Fit(loads=whole, circuits=(dataclasses.replace(circuit, loads=(*circuit.loads, *more)),))


def refed(
    circuit: CircuitRequest, feeding: Feeding, taken: Iterable[str], loads: Sequence[Load]
) -> Fit:
    """Return a circuit fed otherwise, with the switches it now needs; its loads get their leads.

    Args:
        loads: of the circuit; a float or a second station stands at the first one.

    Raises:
        ValueError: several loads on a circuit that takes one.
    """
    _check_alone(feeding, loads)
    changed, switches = _by_way(circuit, feeding, set(taken), loads)
    whole = tuple(with_leads(x, feeding) for x in loads if missing_leads(x, feeding))
    return Fit(loads=whole, circuits=(changed,), switches=switches)
