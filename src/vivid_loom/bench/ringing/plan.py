"""The plan by which a harness is rung out: every step, what is probed, and its limits."""

import math
from collections import defaultdict
from collections.abc import Iterator
from typing import Final, Literal, NamedTuple

from vivid_loom.bench.progress import signature_of
from vivid_loom.bench.ringing.limits import METER_MOHM, band_between, band_of, tells_gauge
from vivid_loom.bench.ringing.moves import fewest_moves, fewest_places
from vivid_loom.bench.ringing.specimen import (
    BenchWire,
    HalfPlug,
    Net,
    PanelLamp,
    Specimen,
    specimens,
)
from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.plugs import Plug
from vivid_loom.netlist import Sets
from vivid_loom.quantities import Gauge, in_reading_order
from vivid_loom.quantities.once import once
from vivid_loom.standards.conductor import SIZING_LADDER

__all__ = [
    "BAR",
    "INSULATION_MEGOHM",
    "INSULATION_V",
    "LAMP_V",
    "OPEN_MOHM",
    "USUAL_C",
    "Kind",
    "RingPlan",
    "Step",
    "cross_step",
    "print_step",
    "ring_plan",
    "ring_plans",
    "zero_step",
]

BAR: Final = "common bar"
"""What every end lies on that is not of the net in question, with shields and the hull."""

OPEN_MOHM: Final = 10_000.0
"""What is no contact reads more, what is a wire of a boat less."""

LAMP_V: Final = (1.2, 3.5)
"""What a lit legend reads on a meter's diode range: one diode and its resistor; from memory."""

INSULATION_V: Final = 100.0  # our choice: bears on no insulation, finds every whisker
INSULATION_MEGOHM: Final = 1.0  # the usual least figure for low voltage, from memory

USUAL_C: Final = 20.0
"""The temperature that sheets are printed for, and that a bench has where nobody says."""

Kind = Literal["zero", "seated", "mated", "wire", "path", "print", "labels", "net", "lamp", "cross"]
_UNITS: Final = {
    "zero": "mΩ",
    "wire": "mΩ",
    "path": "mΩ",
    "cross": "mΩ",
    "net": "MΩ",
    "lamp": "V",
}


class Step(NamedTuple):
    """One thing to look at or to read.

    Attributes:
        id: by kind and subject, e.g. 'wire C17-P1'.
        kind: 'seated', 'mated', 'print' and 'labels' are looked at; 'wire' is read in mΩ and, over
            plugs that are mated, 'path'; 'net' in MΩ,
            'lamp' in V with plus on red, 'cross' in mΩ between two pins that nothing should join;
            for 'zero', in mΩ, the probes are held to one another.
        subject: the plug, wire or net; for 'labels' and 'cross' the two pins.
        red, black: the pins that the probes go to; for a net, black is the common bar.
        low, high: between what the reading must lie.
        touches: the wires it proves something of.
        signature: of all that it proves: a result counts as long as that has not changed.
    """

    id: str
    kind: Kind
    subject: str
    signature: str
    touches: tuple[str, ...] = ()
    red: str = ""
    black: str = ""
    low: float = 0.0
    high: float = 0.0

    @property
    def is_read(self) -> bool:
        """Whether the tester answers it, and not somebody's eyes."""
        return self.kind in _UNITS

    @property
    def unit(self) -> str:
        """Of the reading; '' for what is looked at."""
        return _UNITS.get(self.kind, "")


class RingPlan(NamedTuple):
    """How one harness is rung out.

    Attributes:
        copper_c: temperature on the bench that the limits hold at.
        steps: in the order of work.
        moves: of probes from connector to connector; ``bound``: no order takes fewer.
        neighbours: pairs of pins side by side; ``told``: those of them that an electrical step
            tells apart. The others join the same net and are told by their labels.
    """

    specimen: Specimen
    copper_c: float
    steps: tuple[Step, ...]
    moves: int
    bound: int
    neighbours: int
    told: int


def _wire_words(specimen: Specimen, name: str) -> tuple[object, ...]:
    wire = specimen.wires[name].wire
    ends = tuple((e.place, e.point, e.termination.kind) for e in (wire.start, wire.end))
    return (name, str(wire.gauge), str(wire.colour), wire.cut_mm, *ends)


def _seated(specimen: Specimen, half: HalfPlug) -> Step:
    wires = tuple(e.wire.id for pin in half.cavities.values() for e in specimen.pins[pin].ends)
    seats = sorted(
        (number, e.wire.id)
        for number, pin in half.cavities.items()
        for e in specimen.pins[pin].ends
    )
    told = (half.plug.ways, half.plug.key, half.gender, half.plug.contact, seats)
    return Step(f"seated {half.plug.id}", "seated", half.plug.id, signature_of(told), wires)


def _wire_step(specimen: Specimen, wire: BenchWire, copper_c: float) -> Step:
    low, high = band_of(specimen, wire, copper_c)
    signature = signature_of(_wire_words(specimen, wire.id))
    ends = (wire.start, wire.end)
    return Step(f"wire {wire.id}", "wire", wire.id, signature, (wire.id,), *ends, low, high)


def print_step(specimen: Specimen, wire: BenchWire) -> Step:
    """Return the look at what is printed on a wire: its gauge."""
    signature = signature_of("print", _wire_words(specimen, wire.id))
    return Step(f"print {wire.id}", "print", wire.id, signature, (wire.id,))


def _pair_step(specimen: Specimen, kind: Literal["labels", "cross"], pins: tuple[str, str]) -> Step:
    """Return a step about two pins and all that meets in them."""
    wires = tuple(dict.fromkeys(e.wire.id for pin in pins for e in specimen.pins[pin].ends))
    signature = signature_of(kind, [_wire_words(specimen, wire) for wire in wires])
    subject = " · ".join(pins)
    return Step(f"{kind} {subject}", kind, subject, signature, wires, *pins)


def cross_step(specimen: Specimen, red: str, black: str) -> Step:
    """Return the reading between two pins that nothing should join."""
    return _pair_step(specimen, "cross", (red, black))._replace(low=OPEN_MOHM, high=math.inf)


def zero_step(sitting: str) -> Step:
    """Return the step by which the meter's own leads are taken off.

    Args:
        sitting: at which it is done: another one asks for it anew.
    """
    signature = signature_of("zero", sitting)
    return Step("zero leads", "zero", "leads", signature, low=-METER_MOHM, high=METER_MOHM)


def _net_step(specimen: Specimen, net: Net, red: str) -> Step:
    signature = signature_of("net", [_wire_words(specimen, wire) for wire in net.wires])
    limits = (INSULATION_MEGOHM, math.inf)
    return Step(f"net {net.id}", "net", net.id, signature, net.wires, red, BAR, *limits)


def _lamp_step(lamp: PanelLamp) -> Step:
    signature, ends = signature_of("lamp", lamp), (lamp.plus, lamp.minus)
    return Step(f"lamp {lamp.id}", "lamp", lamp.id, signature, (), *ends, *LAMP_V)


def _gauges(specimen: Specimen) -> tuple[Gauge, ...]:
    """Return the gauges on the shop's shelf that could have been taken instead."""
    series = {wire.wire.gauge.series for wire in specimen.wires.values()}
    return tuple(gauge for name in sorted(series) for gauge in SIZING_LADDER[name])


def _continuity(specimen: Specimen, copper_c: float) -> tuple[list[Step], int, int]:
    """Return the wires' steps in the order of the fewest moves, the moves and the bound."""
    by_pair: dict[tuple[str, str], list[BenchWire]] = defaultdict(list)
    for wire in specimen.wires.values():
        places = sorted(specimen.pins[pin].connector for pin in (wire.start, wire.end))
        by_pair[places[0], places[1]].append(wire)
    order = fewest_moves(tuple(by_pair))
    gauges = _gauges(specimen)
    steps: list[Step] = []
    for pair in order.pairs:
        for wire in sorted(by_pair[pair], key=lambda w: _place_in(specimen, w, pair[0])):
            steps.append(_wire_step(specimen, wire, copper_c))
            if not tells_gauge(specimen, wire, gauges):
                steps.append(print_step(specimen, wire))
    return steps, order.moves, order.bound


def _place_in(specimen: Specimen, wire: BenchWire, connector: str) -> tuple[object, ...]:
    pins = (specimen.pins[wire.start], specimen.pins[wire.end])
    here = next(pin for pin in pins if pin.connector == connector)
    return (here.cavity, in_reading_order(here.first.point), wire.id)


def _isolation(specimen: Specimen) -> tuple[list[Step], int]:
    """Return a step a net, from as few connectors as can be, and how many those are."""
    at = {
        net.id: {
            specimen.pins[pin].connector: pin
            for pin in reversed(net.pins)
            if pin in specimen.probed
        }
        for net in specimen.nets
    }
    places = fewest_places([tuple(where) for where in at.values()])
    steps = [
        _net_step(specimen, net, at[net.id][place])
        for place in places
        for net in specimen.nets
        if next(p for p in places if p in at[net.id]) == place
    ]
    return steps, len(places)


def _alike(specimen: Specimen) -> Iterator[tuple[str, str]]:
    """Yield pins side by side that read the same when swapped: they join one net."""
    net_of = specimen.net_of
    return (pair for pair in specimen.neighbours if net_of[pair[0]] == net_of[pair[1]])


def _mated_step(specimen: Specimen, plug: Plug) -> Step:
    mates = [mate for mate in specimen.mates if mate.plug.id == plug.id]
    wires = tuple(
        end.wire.id for mate in mates for pin in (mate.a, mate.b) for end in specimen.pins[pin].ends
    )
    told = (plug.id, plug.ways, plug.key, [mate.id for mate in mates])
    return Step(f"mated {plug.id}", "mated", plug.id, signature_of("mated", told), wires)


def _paths(specimen: Specimen, copper_c: float) -> Iterator[Step]:
    """Yield a reading from a free end of every net to one beyond its plugs, harness by harness."""
    for net in specimen.nets:
        near, *others = _sides(specimen, net)
        signature = signature_of("path", [_wire_words(specimen, wire) for wire in net.wires])
        for far in others:
            low, high = band_between(specimen, near, far, copper_c)
            told = (net.wires, near, far, low, high)
            yield Step(f"path {near} {far}", "path", net.id, signature, *told)


def _sides(specimen: Specimen, net: Net) -> list[str]:
    """Return a free end of every piece that a net falls into once its plugs are apart."""
    index = {pin: i for i, pin in enumerate(net.pins)}
    pieces = Sets(len(index))
    for name in net.wires:
        pieces.join(index[specimen.wires[name].start], index[specimen.wires[name].end])
    free = (pin for pin in net.pins if pin in specimen.probed)
    found: dict[int, str] = {}
    for pin in free:
        found.setdefault(pieces.find(index[pin]), pin)
    return list(found.values())


def _mated_plan(specimen: Specimen, copper_c: float) -> RingPlan:
    """Return how all harnesses are rung out together: what their plugs join, and nothing else."""
    by_pair: dict[tuple[str, str], list[Step]] = defaultdict(list)
    for step in _paths(specimen, copper_c):
        places = sorted(specimen.pins[pin].connector for pin in (step.red, step.black))
        by_pair[places[0], places[1]].append(step)
    order = fewest_moves(tuple(by_pair))
    isolation, places_of_nets = _isolation(specimen)
    plugs = {mate.plug.id: mate.plug for mate in specimen.mates}
    steps = (
        *(_mated_step(specimen, plug) for plug in plugs.values()),
        *(step for pair in order.pairs for step in by_pair[pair]),
        *isolation,
    )
    moves, bound = order.moves + places_of_nets, order.bound + places_of_nets
    return RingPlan(specimen, copper_c, steps, moves, bound, 0, 0)


def ring_plan(specimen: Specimen, copper_c: float = USUAL_C) -> RingPlan:
    """Return how a harness is rung out: plugs looked at, every wire, then every net by itself.

    Args:
        copper_c: temperature on the bench.
    """
    if specimen.mates:
        return _mated_plan(specimen, copper_c)
    continuity, moves, bound = _continuity(specimen, copper_c)
    isolation, places = _isolation(specimen)
    alike = tuple(_alike(specimen))
    steps = (
        *(_seated(specimen, half) for half in specimen.plugs),
        *continuity,
        *(_pair_step(specimen, "labels", pins) for pins in alike),
        *(_lamp_step(lamp) for lamp in specimen.lamps),
        *isolation,
    )
    neighbours = specimen.neighbours
    return RingPlan(
        specimen,
        copper_c,
        steps,
        moves + places,
        bound + places,
        len(neighbours),
        len(neighbours) - len(alike),
    )


@once
def ring_plans(draft: Draft, copper_c: float = USUAL_C) -> tuple[RingPlan, ...]:
    """Return how every harness of a draft is rung out."""
    return tuple(ring_plan(specimen, copper_c) for specimen in specimens(draft))
