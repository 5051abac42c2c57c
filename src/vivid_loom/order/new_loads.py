"""New loads and what must come with them: a circuit each, and a helm switch where one is wanted."""

import dataclasses
import re
import unicodedata
from collections.abc import Iterable, Sequence
from typing import Final, NamedTuple

from vivid_loom.boat import (
    SIGNAL_A,
    CircuitRequest,
    ContactRequest,
    Evidence,
    Fit,
    Lead,
    LeadFunction,
    Load,
    Supply,
    SwitchRequest,
    named_lead,
)
from vivid_loom.boat.generic_loads import Feeding
from vivid_loom.catalogue import Catalogue, shipped_catalogue
from vivid_loom.order.ways_of_feeding import BOTH, FEEDINGS

__all__ = [
    "at_battery",
    "fed",
    "fed_each",
    "free_id",
    "given_up",
    "id_from_name",
    "joined",
    "missing_leads",
    "refed",
    "sensed",
    "sensing",
    "sensing_for",
]


_COIL_LEADS: Final[tuple[Lead, ...]] = tuple(
    Lead(function=f, gauge="18 AWG", length_mm=300.0) for f in ("up", "down", "minus")
)
_BY_HAND: Final = {"lever", "knob", "key"}
_PAIRS_A: Final = (100, 200)
_COIL_A: Final = 1.0
"""Of one contactor's coil, until its sheet is looked up; common practice, no source."""


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
    loads: Sequence[Load],
    feeding: Feeding,
    label: str,
    taken: Iterable[str],
    rank: int = 2,
    volts: float = 12.0,
) -> Fit:
    """Return loads on one new circuit, chained in the order met, with its helm switch.

    Args:
        label: of the circuit and the switch's legend.
        taken: ids of loads, circuits and switches aboard.
        rank: of the switch; see ``SwitchRequest``.
        volts: of the boat: its switch is made for them.

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
    return _fit(whole, _by_way(circuit, feeding, used, whole, rank, volts=volts))


def _check_alone(feeding: Feeding, loads: Sequence[Load]) -> None:
    if FEEDINGS[feeding].alone and len(loads) > 1:
        raise ValueError(f"{feeding}: a circuit of its own for each, so that one fault stops one")


def _bearing(usual: str, loads: Sequence[Load], volts: float) -> str:
    """Return the catalogue id of a usual switch, or of the like of it that bears what loads draw.

    The like of it fits the same hole, unless no such part is made for the boat's voltage. The
    usual one where none does, or where nobody has looked up what they draw.
    """
    kept = shipped_catalogue()
    wanted, amps = kept.switch(usual), sum(load.running_a or 0.0 for load in loads)
    motor = any(load.motor for load in loads)
    if wanted is None or (wanted.bears_a(motor=motor) >= amps and wanted.rated_v >= volts):
        return usual
    alike = [
        part
        for part in kept.switches
        if (part.arrangement, part.action, part.actuator, part.rest, part.breaker)
        == (wanted.arrangement, wanted.action, wanted.actuator, wanted.rest, wanted.breaker)
        and part.rated_v >= volts
        and part.bears_a(motor=motor) >= amps
    ]
    fitting = [p for p in alike if p.cut_out == wanted.cut_out and p.lamps >= wanted.lamps]
    if not fitting and wanted.rated_v < volts:
        fitting = alike
    return min(fitting, key=lambda part: (part.rated_a, part.id)).id if fitting else usual


class _Fed(NamedTuple):
    """What feeding a circuit in a way brings: it, with others first that work its contactors."""

    circuits: tuple[CircuitRequest, ...]
    switches: tuple[SwitchRequest, ...]
    coils: tuple[Load, ...] = ()


def _fit(loads: Sequence[Load], fed: _Fed) -> Fit:
    return Fit(loads=(*loads, *fed.coils), circuits=fed.circuits, switches=fed.switches)


def _by_way(
    circuit: CircuitRequest,
    feeding: Feeding,
    taken: set[str],
    loads: Sequence[Load],
    rank: int = 2,
    now: SwitchRequest | None = None,
    beside: SwitchRequest | None = None,
    *,
    volts: float,
) -> _Fed:
    """Return a circuit fed in a way, and what it needs for that.

    Args:
        now, beside: switches that it keeps: on the panel, and at a station of its own.
    """
    way = FEEDINGS[feeding]
    if way.pair:
        return _by_pair(circuit, feeding, taken, loads, rank, now, beside, volts=volts)
    station = loads[0].station if loads else ""
    label = circuit.label
    made: list[SwitchRequest] = []
    contact: ContactRequest | None = None
    also: tuple[ContactRequest, ...] = ()
    if way.switch:
        if now is None:
            name = free_id(f"s_{id_from_name(label)}", taken)
            part = _bearing(way.switch, loads, volts)
            now = SwitchRequest(id=name, part=part, legend=label, rank=rank)
            made.append(now)
        contact = ContactRequest(switch=now.id, throws=way.throws)
        if way.both_poles:
            also = (dataclasses.replace(contact, pole=2),)
    if way.also:
        if beside is None:
            away = free_id(f"away_{id_from_name(label)}", taken)
            legend = f"{label}, float" if "float" in way.also else f"{label}, second station"
            beside = SwitchRequest(
                id=away, part=way.also, legend=legend, rank=rank, station=station
            )
            made.append(beside)
        also = (ContactRequest(switch=beside.id, throws=way.throws),)
    changed = dataclasses.replace(
        circuit,
        pattern=way.pattern,
        level=way.level,
        contact=contact,
        also=also,
        supply="",
        lead=_own_plus(loads, feeding),
    )
    return _Fed((changed,), tuple(made))


def _by_pair(
    circuit: CircuitRequest,
    feeding: Feeding,
    taken: set[str],
    loads: Sequence[Load],
    rank: int,
    now: SwitchRequest | None,
    beside: SwitchRequest | None,
    *,
    volts: float,
) -> _Fed:
    """Return a circuit that goes through a contactor pair, and the circuit of its coils."""
    way, motor = FEEDINGS[feeding], loads[0]
    used = {*taken, circuit.id}
    coils = Load(
        id=free_id(f"{motor.id}_coils", used),
        name=f"{motor.name} contactor coils",
        station=motor.station,
        function="accessory",
        running_a=_COIL_A,
        evidence=Evidence(kind="estimate", note="typical coil; look up the maker's figure"),
        leads=_COIL_LEADS,
        ingress=motor.ingress,
    )
    worst_a = max(motor.running_a or 0.0, motor.peak_a or 0.0, motor.maker_fuse_a or 0.0)
    size = next((a for a in _PAIRS_A if a >= worst_a), _PAIRS_A[-1])
    pair = SwitchRequest(
        id=free_id(f"{motor.id}_contactors", used | {coils.id}),
        part=f"{way.pair}-{size}",
        legend=f"{circuit.label} contactors",
        rank=rank,
        station=motor.station,
        coil=coils.id,
    )
    used |= {coils.id, pair.id}
    control = CircuitRequest(
        id=_circuit_id(used),
        label=f"{circuit.label} control",
        pattern="two_directions",
        loads=(coils.id,),
    )
    by_hand: Feeding = "two directions, two stations" if way.also else "two directions"
    worked = _by_way(control, by_hand, used, (coils,), rank, now, beside, volts=volts)
    contact = ContactRequest(switch=pair.id, throws=BOTH)
    also = (dataclasses.replace(contact, pole=2),) if way.pattern == "reversing" else ()
    changed = dataclasses.replace(
        circuit, pattern=way.pattern, level=way.level, contact=contact, also=also, supply=""
    )
    switches = tuple(
        dataclasses.replace(s, legend=s.legend.replace(control.label, circuit.label))
        for s in worked.switches
    )
    return _Fed((changed, *worked.circuits), (pair, *switches), (coils,))


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


def sensing(load: Load, place: str, taken: Iterable[str], number: int = 1) -> Fit:
    """Return a feed for a load's sense lead: from a battery, by a fuse of its own.

    Args:
        place: the battery, for its post, or a stud behind a device on it.
        number: which of its sense leads; one that it has not yet comes with it.
    """
    name = named_lead("sense", number)
    circuit = CircuitRequest(
        id=_circuit_id(set(taken)),
        label=f"{load.name} {name}",
        pattern="device_switched",
        loads=(load.id,),
        level="battery_direct",
        supply=place,
        lead="sense",
        lead_number=number,
    )
    more = number - len(load.names("sense"))
    leads = (*load.leads, *(Lead(function="sense") for _ in range(more)))
    return Fit(loads=(dataclasses.replace(load, leads=leads),), circuits=(circuit,))


def sensing_for(part: Supply, place: str, taken: Iterable[str]) -> Fit:
    """Return the sense lead of a charger, regulator or alternator; see ``sensing``."""
    used = set(taken)
    load = Load(
        id=free_id(f"{id_from_name(part.name)}_sense", used),
        name=f"{part.name} sense lead",
        station=part.station,
        function="instrument",
        running_a=SIGNAL_A["sense"],
        evidence=Evidence(kind="estimate", note="a sense lead draws next to nothing"),
        leads=(Lead(function="sense"),),
        ingress=part.ingress or "spray",
        ignition_protected=part.ignition_protected,
        lead_of=part.id,
    )
    return sensing(load, place, used | {load.id})


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


def fed_each(
    loads: Sequence[Load],
    feeding: Feeding,
    taken: Iterable[str],
    rank: int = 2,
    volts: float = 12.0,
) -> Fit:
    """Return loads on a new circuit each; see ``fed``."""
    used = set(taken)
    fits: list[Fit] = []
    for load in loads:
        fits.append(fed([load], feeding, load.name, used, rank, volts))
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
    circuit: CircuitRequest,
    feeding: Feeding,
    taken: Iterable[str],
    aboard: Fit,
    catalogue: Catalogue,
    volts: float = 12.0,
) -> Fit:
    """Return a circuit fed otherwise, with the switches it now needs; its loads get their leads.

    The switch at the helm stays where it is; it becomes another part where its contacts or its
    action are not those of the new way. What the circuit gives up is not told here, see
    ``given_up``.

    Args:
        taken: ids of everything that has one.
        aboard: everything that is.
        volts: of the boat: a switch that comes is made for them.

    Raises:
        ValueError: several loads on a circuit that takes one.
    """
    by_id = {load.id: load for load in aboard.loads}
    loads = [by_id[name] for name in circuit.loads]
    _check_alone(feeding, loads)
    way, worked = FEEDINGS[feeding], _worked_by(circuit, aboard)
    now = _made_fit(worked, way.switch, catalogue, alone=False)
    beside = _made_fit(worked, way.also, catalogue, alone=True)
    kept = tuple(switch for switch in (now, beside) if switch)
    fed = _by_way(circuit, feeding, set(taken), loads, now=now, beside=beside, volts=volts)
    whole = tuple(with_leads(x, feeding) for x in loads if missing_leads(x, feeding))
    return _fit(whole, fed._replace(switches=(*kept, *fed.switches)))


def given_up(circuit: CircuitRequest, aboard: Fit) -> tuple[Load, ...]:
    """Return the coils of the contactors that a circuit goes through: they go with these."""
    through = {contact.switch for contact in circuit.contacts}
    coils = {switch.coil for switch in aboard.switches if switch.id in through}
    return tuple(load for load in aboard.loads if load.id in coils)


def _worked_by(circuit: CircuitRequest, aboard: Fit) -> list[SwitchRequest]:
    """Return the switches that work a circuit, or the coils of what it goes through."""
    switches = {switch.id: switch for switch in aboard.switches}
    coils = {load.id for load in given_up(circuit, aboard)}
    worked = (circuit, *(c for c in aboard.circuits if coils & set(c.loads)))
    named = dict.fromkeys(contact.switch for c in worked for contact in c.contacts)
    return [switches[name] for name in named if name in switches]


def _made_fit(
    switches: Iterable[SwitchRequest], usual: str, catalogue: Catalogue, *, alone: bool
) -> SwitchRequest | None:
    """Return the first switch that can serve where a usual one is asked for, as another part.

    Args:
        alone: of those at a station of their own; else of those on a panel.
    """
    wanted = catalogue.switch(usual) if usual else None
    for switch in switches:
        part = catalogue.switch(switch.part)
        if not wanted or not part or bool(switch.station) != alone:
            continue
        if part.actuator == wanted.actuator or {part.actuator, wanted.actuator} <= _BY_HAND:
            fits = (part.action, part.breaker) == (wanted.action, wanted.breaker)
            fits &= part.poles >= wanted.poles and part.throws >= wanted.throws
            return switch if fits else dataclasses.replace(switch, part=wanted.id)
    return None
