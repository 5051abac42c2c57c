"""Making a boat alive: what is fitted, switched, seen and read aboard, in safe order."""

import math
from collections.abc import Iterator, Mapping
from types import MappingProxyType
from typing import Final, Literal, NamedTuple

from vivid_loom.bench.aboard.alone import COPPER_C, Alone
from vivid_loom.bench.progress import signature_of
from vivid_loom.bench.ringing.limits import highest
from vivid_loom.boat import STATES
from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.drafting.after.truth import PressRow, truth_of
from vivid_loom.drafting.beside.bonds import DraftedBond
from vivid_loom.power.powered import Powered, power_up
from vivid_loom.power.setting import Setting, scenario_setting
from vivid_loom.quantities.once import once
from vivid_loom.standards.conductor import area_mm2, ohm_per_m
from vivid_loom.standards.contacts import end_ohm
from vivid_loom.standards.devices import DEVICES

__all__ = [
    "DEAD_SHARE",
    "AlivePlan",
    "AliveStep",
    "alive_plan",
    "bond_ohm",
    "circuit_signature",
    "visit_step",
]

LEAST_V: Final = 0.15  # what the meter, the battery's charge and a usual joint may take; ours
DROP_SHARE: Final = 0.3  # of its drop, that a circuit may lose beyond its figure; ours
BATTERY_V: Final = 0.8  # by which a charged battery may read off its figure; ours
STANDING_SHARE, STANDING_A = 1.25, 0.02  # over what is drafted; ours
DEAD_SHARE: Final = 0.1
"""Of a circuit's volts: less is nothing at all; our choice."""

NO_SHORT_OHM: Final = 50.0  # between plus and minus with every device out; ours
HAND_OHM: Final = 0.05  # what a hand meter and its probes on bare metal are good for; ours
BONDING_BUS: Final = "bonding bus"
LIGHTS: Final = ("light", "lamp", "compass", "instrument", "display", "gauge", "electronics")

TURNED: Final = ("battery_switch", "selector", "key_switch")
NOTHING: Final[Mapping[str, str]] = MappingProxyType({})
Kind = Literal["do", "see", "volts", "amps", "ohm"]


class AliveStep(NamedTuple):
    """Something to do, see or read aboard.

    Attributes:
        kind: 'do' and 'see' are answered by a person, the others are read.
        part: 'visit', 'before', 'bonds', 'bolted', 'battery', 'feeders', 'circuits', 'presses',
            'rest' or 'after'; 'find' for what is read to find out why another step failed.
        subject: feeder, circuit or switch; '' where it is about the boat.
        states: levers, keys and floats as they are to stand, by actuator.
        device: of the circuit, as 'blade fuse 10 A'; '' without one.
        runs: ids of the elements that run in it, and lamps that are lit.
        red, black: the terminals a reading is taken between; for amps the battery.
        figure: what Power reckons; ``low`` and ``high``: between what it must lie.
        signature: of all that the step proves something of.
        touches: the wires it proves something of.
    """

    id: str
    kind: Kind
    part: str
    signature: str
    subject: str = ""
    states: Mapping[str, str] = NOTHING
    device: str = ""
    runs: tuple[str, ...] = ()
    red: str = ""
    black: str = ""
    figure: float = 0.0
    low: float = 0.0
    high: float = 0.0
    touches: tuple[str, ...] = ()

    @property
    def is_read(self) -> bool:
        """Whether a meter answers it."""
        return self.kind in ("volts", "amps", "ohm")

    @property
    def unit(self) -> str:
        """Of the reading; '' for what is seen."""
        return {"volts": "V", "amps": "A", "ohm": "Ω"}.get(self.kind, "")


class AlivePlan(NamedTuple):
    """Every step aboard, in order; ``unread``: circuits whose figure is not known, by id."""

    steps: tuple[AliveStep, ...]
    unread: tuple[str, ...]


def _laid(row: DraftedCircuit) -> tuple[object, ...]:
    """Return a row's device, and its wires with both their ends."""
    wires = (
        (
            (wire.id, str(wire.gauge), str(wire.colour), wire.cut_mm),
            *((e.place, e.point, e.termination.kind) for e in (wire.start, wire.end)),
        )
        for wire in row.wires
    )
    return row.id, _device(row), tuple(wires)


def _passed(draft: Draft, row: DraftedCircuit) -> list[DraftedCircuit]:
    """Return the feeders that a circuit's current passes over."""
    network = draft.aboard.boat.network
    passed = set(network.upstream(row.planned.source))
    if row.planned.bus:
        passed |= set(network.homeward(row.planned.bus))
    return [feeder for feeder in draft.feeders if feeder.id in passed]


def circuit_signature(draft: Draft, row: DraftedCircuit) -> str:
    """Return what tells whether a circuit is what it was, with all that its current passes over."""
    loads = [(name, draft.aboard.loads[name].running_a) for name in row.planned.loads]
    feeders = [_laid(feeder) for feeder in _passed(draft, row)]
    return signature_of(_laid(row), loads, row.planned.source, feeders)


def _touched(draft: Draft, row: DraftedCircuit) -> tuple[str, ...]:
    """Return the wires of a circuit, then those of the feeders that its current passes over."""
    rows = (row, *_passed(draft, row))
    return tuple(dict.fromkeys(wire.id for each in rows for wire in each.wires))


def _every_wire(draft: Draft) -> tuple[str, ...]:
    return tuple(wire.id for wire in draft.assembled.wires)


def _device(row: DraftedCircuit) -> str:
    family, rating_a = row.device
    return f"{family} {rating_a:g} A" if family else ""


def _plain(draft: Draft, part: str, name: str, subject: str = "") -> AliveStep:
    """Return something that is done; what was done under another order says nothing of now."""
    signature = signature_of(part, name, draft.aboard.order.hull)
    return AliveStep(f"{part} {name}", "do", part, signature, subject)


def visit_step(visit: str) -> AliveStep:
    """Return the step with which a visit to the boat begins.

    Args:
        visit: the day: another one asks for it anew.
    """
    return AliveStep("visit begins", "do", "visit", signature_of("visit", visit))


def _before(aboard: Alone) -> Iterator[AliveStep]:
    for name in ("minus off", "devices out", "switches off", "vented"):
        yield _plain(aboard.draft, "before", name)
    for battery in aboard.board.batteries:
        element = aboard.board.elements[battery]
        signature = signature_of(
            "no short",
            aboard.draft.aboard.order.hull,
            battery,
            sorted(w.id for w in aboard.board.net.conductors),
        )
        yield AliveStep(
            f"before no short {battery}",
            "ohm",
            "before",
            signature,
            battery,
            red=element.plus,
            black=element.minus,
            figure=math.inf,
            low=NO_SHORT_OHM,
            high=math.inf,
            touches=_every_wire(aboard.draft),
        )


def bond_ohm(bond: DraftedBond) -> float:
    """Return what a bonding conductor has from the part it bonds to its bus, in Ω."""
    ends = 2 * end_ohm(area_mm2(bond.gauge))
    return ohm_per_m(bond.gauge, COPPER_C) * bond.cut_mm / 1000 + ends


def _bonds(draft: Draft) -> Iterator[AliveStep]:
    """Yield every bonding conductor: what is green carries nothing, so that nobody else sees it."""
    for bond in draft.bonds:
        told = (bond.id, str(bond.gauge), bond.cut_mm, bond.bond.station)
        most = highest(bond.gauge, bond.cut_mm, COPPER_C).value / 1000
        yield AliveStep(
            f"bonds {bond.id}",
            "ohm",
            "bonds",
            signature_of("bond", told),
            bond.id,
            red=bond.id,
            black=BONDING_BUS,
            figure=bond_ohm(bond),
            low=-HAND_OHM,
            high=most + HAND_OHM,
            touches=(bond.id,),
        )


def _battery(aboard: Alone) -> Iterator[AliveStep]:
    yield _plain(aboard.draft, "battery", "plus on")
    yield _plain(aboard.draft, "battery", "minus on last")
    for battery in aboard.board.batteries:
        red, black = aboard.ends(battery)
        volts = next(s.volts for s in aboard.board.network.sources if s.id == battery)
        yield AliveStep(
            f"battery volts {battery}",
            "volts",
            "battery",
            signature_of("battery", aboard.draft.aboard.order.hull, battery, volts),
            battery,
            red=red,
            black=black,
            figure=volts,
            low=volts - BATTERY_V,
            high=volts + BATTERY_V,
        )


def _fitted(
    draft: Draft,
    row: DraftedCircuit,
    part: str,
    states: Mapping[str, str] = NOTHING,
    runs: tuple[str, ...] = (),
) -> AliveStep:
    """Return the step in which a device comes in, its lever is moved, and what runs is seen.

    One that is bolted is in already.
    """
    signature = circuit_signature(draft, row)
    device = "" if _is_bolted(row) else _device(row)
    return AliveStep(
        f"{part} {row.id}",
        "see",
        part,
        signature,
        row.id,
        states,
        device,
        runs,
        touches=_touched(draft, row),
    )


def _is_bolted(row: DraftedCircuit) -> bool:
    """Tell whether a spanner fits a device: then no stud near it may be live."""
    return bool(_device(row)) and DEVICES[row.planned.family].bolted


def _bolted(draft: Draft) -> Iterator[AliveStep]:
    """Yield the devices that are bolted in, while every minus is off."""
    for row in draft.rows:
        if _is_bolted(row):
            signature = signature_of("bolted", row.id, _device(row))
            yield AliveStep(
                f"bolted {row.id}",
                "do",
                "bolted",
                signature,
                row.id,
                device=_device(row),
                touches=tuple(wire.id for wire in row.wires),
            )


def _feeders(aboard: Alone) -> Iterator[AliveStep]:
    """Yield the feeders' devices from the battery on: each is fitted and its rating read."""
    network = aboard.draft.aboard.boat.network

    def depth(row: DraftedCircuit) -> int:
        chains = network.chains(row.planned.source)
        return min((len(chain) for chain in chains), default=0)

    for row in sorted(aboard.draft.feeders, key=lambda row: (depth(row), row.id)):
        if _device(row) and not _is_bolted(row):
            yield _fitted(aboard.draft, row, "feeders")
    for supply in aboard.draft.aboard.boat.supplies:
        if supply.kind in TURNED:
            yield _plain(aboard.draft, "feeders", f"on {supply.id}")


def _rank(aboard: Alone, row: DraftedCircuit) -> tuple[bool, int, bool, bool, float]:
    """Return what comes first: what pulls relays, lights and instruments, motors last, then by
    current.
    """
    draft = aboard.draft
    pulls = any(row.id == other.id for other in aboard.pulled_by.values())
    loads = [draft.aboard.loads[name] for name in row.planned.loads]
    motor = any(load.motor for load in loads)
    told = [f"{load.function} {load.name}".lower() for load in loads]
    light = bool(told) and all(any(word in text for word in LIGHTS) for text in told)
    most_a = max((load.running_a or 0.0 for load in loads), default=0.0)
    depth = len(aboard.waits_for(row)) if pulls else 0
    return not pulls, depth, motor, not light, most_a


def _circuits(aboard: Alone, unread: list[str]) -> Iterator[AliveStep]:
    draft = aboard.draft
    fitted = [row for row in draft.circuits if row.planned.loads and not row.planned.signals]
    for row in sorted(fitted, key=lambda row: _rank(aboard, row)):
        waits = [draft.aboard.loads[n].state == "wired_for_later" for n in row.planned.loads]
        if all(waits):
            yield _plain(draft, "circuits", f"{row.id} for later", row.id)
            continue
        states, now = aboard.alone(row)
        yield _fitted(draft, row, "circuits", states, tuple(sorted(aboard.running(row, now))))
        read = _volts(aboard, row, states, now)
        if read is None:
            unread.append(row.id)
        else:
            yield read
        if lifted := aboard.by_float(row):
            yield from _by_float(aboard, row, *lifted)


def _by_float(
    aboard: Alone, row: DraftedCircuit, states: Mapping[str, str], now: Powered
) -> Iterator[AliveStep]:
    """Yield the steps in which a circuit's float alone makes it run, its lever at rest."""
    runs = tuple(sorted(aboard.running(row, now)))
    fitted = _fitted(aboard.draft, row, "circuits", states, runs)
    yield fitted._replace(id=f"circuits {row.id} by float", device="")
    if read := _volts(aboard, row, states, now):
        yield read._replace(id=f"volts {row.id} by float")


def _volts(
    aboard: Alone,
    row: DraftedCircuit,
    states: Mapping[str, str],
    now: Powered,
) -> AliveStep | None:
    """Return the reading at a circuit's farthest load; None where nothing of it runs by figures."""
    running = aboard.running(row, now)
    if not running or any(
        aboard.draft.aboard.loads[n].running_a is None for n in row.planned.loads
    ):
        return None
    element = min(sorted(running), key=now.volts_at)
    figure = now.volts_at(element)
    nominal = _open_volts(aboard, row)
    low = figure - LEAST_V - DROP_SHARE * max(0.0, nominal - figure)
    return AliveStep(
        f"volts {row.id}",
        "volts",
        "circuits",
        circuit_signature(aboard.draft, row),
        row.id,
        states,
        _device(row),
        (element,),
        *aboard.ends(element),
        figure,
        low,
        nominal + LEAST_V,
        _touched(aboard.draft, row),
    )


def _open_volts(aboard: Alone, row: DraftedCircuit) -> float:
    """Return the volts of the battery, or the converter, that a circuit hangs on."""
    network = aboard.draft.aboard.boat.network
    if network.voltage(row.planned.source) != network.nominal_v:
        return network.voltage(row.planned.source)
    return max(s.volts for s in aboard.board.network.sources if s.id in aboard.board.batteries)


def _presses(draft: Draft) -> Iterator[AliveStep]:
    """Yield every state of every lever once: what runs and what is lit in it."""
    on = {s.id: tuple(STATES[s.kind])[1] for s in draft.aboard.boat.supplies if STATES.get(s.kind)}
    for row in truth_of(draft).rows:
        if row.switch:
            yield _press(draft, row, on)


def _press(draft: Draft, row: PressRow, on: Mapping[str, str]) -> AliveStep:
    switch = next(s for s in draft.switches if s.request.id == row.switch)
    wires = sorted(
        (w.id, str(w.gauge), w.start.point, w.end.point)
        for w in draft.assembled.wires
        if switch.place in (w.start.place, w.end.place)
    )
    return AliveStep(
        f"press {row.switch} {row.state}",
        "see",
        "presses",
        signature_of(row.switch, row.state, row.runs, row.lit, wires),
        row.switch,
        {**on, row.switch: row.state},
        runs=(*row.runs, *row.lit),
        touches=tuple(name for name, *_ in wires),
    )


def _rest(aboard: Alone) -> Iterator[AliveStep]:
    """Yield the standing draw of each battery with everything off."""
    left = scenario_setting(aboard.draft, "moored and left")
    now = power_up(aboard.board, Setting(states={}, idle=left.idle))
    yield _plain(aboard.draft, "rest", "everything off")
    for battery in aboard.board.batteries:
        drawn = max(0.0, now.amps[battery])
        yield AliveStep(
            f"rest draw {battery}",
            "amps",
            "rest",
            signature_of("rest", aboard.draft.aboard.order.hull, battery, round(drawn, 6)),
            battery,
            red=battery,
            figure=drawn,
            low=-STANDING_A,
            high=STANDING_SHARE * drawn + STANDING_A,
            touches=_every_wire(aboard.draft),
        )


@once
def alive_plan(draft: Draft) -> AlivePlan:
    """Return how a boat is made alive.

    Minus comes off first and on last, after every device that takes a spanner; blades and breakers
    are out until their circuit's turn; lights and instruments come first, motors last; then every
    lever once, then the draw with everything off.
    """
    aboard, unread = Alone(draft), list[str]()
    steps = (
        *_before(aboard),
        *_bonds(draft),
        *_bolted(draft),
        *_battery(aboard),
        *_feeders(aboard),
        *_circuits(aboard, unread),
        *_presses(draft),
        *_rest(aboard),
        _plain(draft, "after", "looked at again"),
    )
    return AlivePlan(steps, tuple(unread))
