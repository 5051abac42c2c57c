"""A harness that somebody has built, in simulation: true resistances, and what is wrong in it."""

import math
import random
from collections import defaultdict
from collections.abc import Collection, Iterable
from functools import cached_property
from typing import Final, Literal, NamedTuple, get_args

import numpy as np

from vivid_loom.bench.ringing.limits import band_of
from vivid_loom.bench.ringing.plan import Step
from vivid_loom.bench.ringing.resistance import effective_ohm
from vivid_loom.bench.ringing.specimen import Specimen, specimens
from vivid_loom.drafting import Draft
from vivid_loom.quantities import Gauge, QuantityError
from vivid_loom.standards.conductor import area_mm2, ohm_per_m
from vivid_loom.standards.contacts import end_ohm

__all__ = ["BuiltHarness", "Flaw", "FlawError", "FlawKind", "parse_flaw", "practice_flaws"]

FlawKind = Literal[
    "open",
    "missing",
    "poor",
    "gauge",
    "short",
    "swap",
    "loose",
    "turned",
    "unmated",
    "pushed",
    "worn",
    "crossed",
]
NOISE_MOHM, NOISE_SHARE = 0.002, 0.001  # of one reading
SOUND_MEGOHM: Final = 800.0  # a net's insulation, give or take
OVER = 1.2  # what a poor crimp makes of the highest a wire may read
SHORT_OHM: Final = 0.05
WORN_MOHM: Final = 400.0  # a green contact
LAMP_FORWARD_V: Final = 2.1


class FlawError(ValueError):
    """A flaw that this harness cannot have: found and expected in words."""


class Flaw(NamedTuple):
    """Something built wrong.

    Attributes:
        at: a wire; for a short a wire of each net, for a swap two wires' ends ('C17-P1/to'), for
            a loose contact or one that is not mated the plug, for what is turned round the lamp;
            for a contact pushed back 'X4.2', for what is plugged crosswise both plugs.
        gauge: of the wire that was taken instead.
    """

    kind: FlawKind
    at: tuple[str, ...]
    gauge: str = ""

    @property
    def touches(self) -> tuple[str, ...]:
        """The wires and plugs that are mended when it is."""
        return tuple(name.removesuffix("/from").removesuffix("/to") for name in self.at)

    def __str__(self) -> str:
        return f"{self.kind}:{','.join((*self.at, *([self.gauge] if self.gauge else [])))}"


_OF_TWO: Final = ("gauge", "short", "swap", "crossed")
_TAKES: Final[dict[str, int]] = {kind: 1 + (kind in _OF_TWO) for kind in get_args(FlawKind)}


def parse_flaw(text: str) -> Flaw:
    """Return a flaw from 'kind:subject,subject'.

    Raises:
        FlawError: it is none.
    """
    kind, _, rest = text.partition(":")
    told = tuple(part.strip() for part in rest.split(",") if part.strip())
    if kind not in _TAKES or len(told) != _TAKES[kind]:
        forms = ", ".join(f"{k}:{','.join('AB'[:n])}" for k, n in _TAKES.items())
        raise FlawError(f"found {text!r}, expected one of {forms}")
    if kind == "gauge":
        try:
            Gauge.parse(told[1])
        except (QuantityError, ValueError) as error:
            raise FlawError(f"{text!r}: {error}") from error
        return Flaw("gauge", told[:1], told[1])
    return Flaw(kind, told)  # type: ignore[arg-type]


class BuiltHarness:
    """A specimen as built, with probes, a meter and eyes.

    Args:
        seed: by which strands, crimps and noise differ from harness to harness.
        copper_c: of the room.

    Raises:
        FlawError: a flaw names what is not there.
    """

    def __init__(
        self,
        specimen: Specimen,
        flaws: Iterable[Flaw] = (),
        *,
        seed: int = 1,
        copper_c: float = 20.0,
    ) -> None:
        self.specimen, self.copper_c, self.flaws = specimen, copper_c, tuple(flaws)
        self._chance = np.random.default_rng(seed)
        self._ends = {name: [wire.start, wire.end] for name, wire in specimen.wires.items()}
        self.gauge = {name: wire.wire.gauge for name, wire in specimen.wires.items()}
        self.missing: set[str] = set()
        self.loose: set[str] = set()
        self.turned: set[str] = set()
        self.swapped: list[frozenset[str]] = []
        self._joins: list[tuple[str, str]] = []
        self._worn: set[str] = set()
        self._mated = {mate.id: (mate.a, mate.b) for mate in specimen.mates}
        copper = self._chance.uniform(0.93, 1.02, len(specimen.wires))
        crimps = self._chance.uniform(0.3, 1.5, len(specimen.wires))
        self._copper = dict(zip(specimen.wires, copper.tolist(), strict=True))
        self._crimps = dict(zip(specimen.wires, crimps.tolist(), strict=True))
        self._added: dict[str, float] = {}
        for flaw in self.flaws:
            self._put_in(flaw)
        self.mohm = {name: self._mohm(name) for name in specimen.wires if name not in self.missing}

    def _wire(self, name: str) -> str:
        if name not in self.specimen.wires:
            raise FlawError(f"found {name!r}, expected a wire of harness {self.specimen.id}")
        return name

    def _put_in(self, flaw: Flaw) -> None:
        if flaw.kind in ("open", "missing"):
            self.missing.add(self._wire(flaw.at[0]))
        elif flaw.kind == "gauge":
            self.gauge[self._wire(flaw.at[0])] = Gauge.parse(flaw.gauge)
        elif flaw.kind == "poor":
            name = self._wire(flaw.at[0])
            wire = self.specimen.wires[name]
            most = band_of(self.specimen, wire, self.copper_c).high
            self._added[name] = OVER * most - self._mohm(name)
        elif flaw.kind == "short":
            a, b = (self.specimen.wires[self._wire(name)].start for name in flaw.at)
            self._joins.append((a, b))
        elif flaw.kind == "turned":
            if flaw.at[0] not in {lamp.id for lamp in self.specimen.lamps}:
                raise FlawError(f"found {flaw.at[0]!r}, expected a lamp of {self.specimen.id}")
            self.turned.add(flaw.at[0])
        elif flaw.kind in ("unmated", "pushed", "worn", "crossed"):
            self._unplug(flaw)
        elif flaw.kind == "loose":
            if flaw.at[0] not in {half.plug.id for half in self.specimen.plugs}:
                raise FlawError(f"found {flaw.at[0]!r}, expected a plug of {self.specimen.id}")
            self.loose.add(flaw.at[0])
        else:
            self._swap(*flaw.at)

    def _unplug(self, flaw: Flaw) -> None:
        """Spoil plugs or contacts, or put two plugs into one another's other half."""
        mates = self.specimen.mates
        of_one = flaw.kind in ("pushed", "worn")
        named = {mate.id if of_one else mate.plug.id for mate in mates}
        for name in flaw.at:
            if name not in named:
                raise FlawError(f"found {name!r}, expected a plug or contact that is mated here")
        far = {mate.id: mate.b for mate in mates}
        for mate in mates:
            if flaw.kind == "worn" and mate.id in flaw.at:
                self._worn.add(mate.id)
            elif mate.id in flaw.at or mate.plug.id in flaw.at:
                del self._mated[mate.id]
                if flaw.kind == "crossed":
                    other = flaw.at[1 - flaw.at.index(mate.plug.id)]
                    onto = far.get(f"{other}.{mate.cavity}")
                    if onto is not None:
                        self._mated[mate.id] = (mate.a, onto)

    def _swap(self, first: str, second: str) -> None:
        """Put two ends of wires where the other one belongs."""
        ends = []
        for name in (first, second):
            wire, _, side = name.rpartition("/")
            if side not in ("from", "to"):
                raise FlawError(f"found {name!r}, expected an end like 'C17-P1/to'")
            ends.append((self._wire(wire), ("from", "to").index(side)))
        (a, i), (b, j) = ends
        self._ends[a][i], self._ends[b][j] = self._ends[b][j], self._ends[a][i]
        self.swapped.append(frozenset((first, second)))

    def _mohm(self, name: str) -> float:
        wire = self.specimen.wires[name].wire
        gauge = self.gauge[name]
        copper: float = ohm_per_m(gauge, self.copper_c) * wire.cut_mm * self._copper[name]
        ends: float = 2 * end_ohm(area_mm2(gauge)) * 1000 * self._crimps[name]
        return copper + ends + self._added.get(name, 0.0)

    @cached_property
    def _edges(self) -> dict[str, list[tuple[str, str, float]]]:
        """Every resistance by the pins it touches."""
        edges = [(a, b, SHORT_OHM * 1000) for a, b in self._joins]
        for name, mohm in self.mohm.items():
            a, b = self._ends[name]
            edges.append((a, b, mohm))
        contact = {mate.id: mate.mohm for mate in self.specimen.mates}
        contact |= dict.fromkeys(self._worn, WORN_MOHM)
        edges += [(a, b, contact[name]) for name, (a, b) in self._mated.items()]
        at: dict[str, list[tuple[str, str, float]]] = defaultdict(list)
        for a, b, mohm in edges:
            at[a].append((a, b, mohm))
            at[b].append((a, b, mohm))
        return at

    def _reach(self, pin: str) -> dict[str, tuple[str, str, float]]:
        """Return the pins joined to one, each with the resistance it was reached over."""
        reached, waiting = {pin: ("", "", 0.0)}, [pin]
        while waiting:
            at = waiting.pop()
            for edge in self._edges.get(at, ()):
                there = edge[1] if edge[0] == at else edge[0]
                if there not in reached:
                    reached[there] = edge
                    waiting.append(there)
        return reached

    def between(self, red: str, black: str) -> float:
        """Return the true resistance between two pins, in mΩ; infinite where nothing joins them."""
        if red not in self.specimen.pins or black not in self.specimen.pins:
            name = red if red not in self.specimen.pins else black
            raise FlawError(f"found {name!r}, expected a pin of {self.specimen.id}")
        if red == black:
            return 0.0
        direct = self._edges.get(red, ())
        if len(direct) == 1 and len(self._edges.get(black, ())) == 1 and black in direct[0][:2]:
            return direct[0][2]
        reached = self._reach(red)
        if black not in reached:
            return math.inf
        edges = {edge for pin in reached for edge in self._edges.get(pin, ())}
        return effective_ohm(edges, red, black)

    def read_mohm(self, red: str, black: str) -> float:
        """Return what the meter shows between two pins, in mΩ."""
        true = self.between(red, black)
        if math.isinf(true):
            return true
        noise = float(self._chance.normal(0.0, NOISE_MOHM + NOISE_SHARE * true))
        return max(0.0, true + noise)

    def read_insulation(self, red: str, lifted: Collection[str]) -> float:
        """Return what the meter shows between a pin and the common bar, in MΩ.

        Args:
            lifted: the pins that do not lie on the bar.
        """
        away = frozenset(lifted)
        onto = [pin for pin in self._reach(red) if pin in self.specimen.probed and pin not in away]
        if onto:
            return min(self.between(red, pin) for pin in onto) / 1e9
        return float(SOUND_MEGOHM * self._chance.uniform(0.4, 1.6))

    def read_diode(self, red: str, black: str) -> float:
        """Return what the meter shows on its diode range, in V; infinite where nothing flows."""
        lamp = next((x for x in self.specimen.lamps if {x.plus, x.minus} == {red, black}), None)
        if lamp is None:
            raise FlawError(f"found {red!r} and {black!r}, expected the tabs of a lamp")
        if (lamp.plus == red) == (lamp.id in self.turned):
            return math.inf
        return float(self._chance.normal(LAMP_FORWARD_V, 0.05))

    def looks(self, step: Step) -> bool:
        """Return what eyes find: whether a step that is looked at is as it should be."""
        if step.kind == "mated":
            plugs = {plug for flaw in self.flaws if flaw.kind == "unmated" for plug in flaw.at}
            return step.subject not in plugs
        if step.kind == "seated":
            return step.subject not in self.loose
        if step.kind == "print":
            wire = self.specimen.wires[step.subject]
            return self.gauge[wire.id] == wire.wire.gauge and wire.id not in self.missing
        pins = {step.red, step.black}
        return not any({self._pin_of(end) for end in pair} == pins for pair in self.swapped)

    def _pin_of(self, end: str) -> str:
        wire, _, side = end.rpartition("/")
        bench = self.specimen.wires[wire]
        return bench.start if side == "from" else bench.end


def practice_flaws(draft: Draft, count: int, chance: random.Random) -> tuple[Flaw, ...]:
    """Return flaws to practise on, spread over an order's harnesses."""
    found: list[Flaw] = []
    benches = [one for one in specimens(draft) if len(one.nets) > 1]
    while benches and len(found) < count:
        specimen = chance.choice(benches)
        kind: FlawKind = chance.choice(("open", "poor", "short", "swap"))
        if kind == "swap":
            net_of = specimen.net_of
            apart = [(a, b) for a, b in specimen.neighbours if net_of[a] != net_of[b]]
            if apart:
                found.append(Flaw(kind, chance.choice(apart)))
        elif kind == "short":
            one, other = chance.sample(specimen.nets, 2)
            found.append(Flaw(kind, (one.id, other.id)))
        else:
            found.append(Flaw(kind, (chance.choice(list(specimen.wires)),)))
    return tuple(found)
