"""A harness as it lies on the bench: what a probe can be held to, and what is joined to what."""

from collections import defaultdict
from collections.abc import Iterable, Iterator
from functools import cached_property
from itertools import combinations, pairwise
from typing import Final, Literal, NamedTuple

from vivid_loom.boat import Assembly
from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.net import lamp_element
from vivid_loom.drafting.making.plugs import Plug
from vivid_loom.drafting.making.terminate import terminate_later
from vivid_loom.drafting.making.wire import End, Wire
from vivid_loom.netlist import Sets
from vivid_loom.quantities import in_reading_order
from vivid_loom.standards.contacts import contact_ohm
from vivid_loom.standards.terminals import cavity_rows
from vivid_loom.workshop.harness.tree import WireEnd, is_with_panel

__all__ = [
    "MATED",
    "BenchWire",
    "HalfPlug",
    "Mate",
    "Net",
    "PanelLamp",
    "Pin",
    "Specimen",
    "specimens",
]

PANEL = " panel"
MATED: Final = "mated"
"""What all harnesses together are called, beside the id of each."""

MATED_TITLE: Final = "All harnesses, mated"
CAPPED: Final = terminate_later()


class Pin(NamedTuple):
    """What a probe can be held to: a contact in its cavity, a terminal, or a joint.

    Attributes:
        id: by the wire's end that names it, e.g. 'C17-P1/from'.
        connector: the plug or the place it belongs to: what the hand goes to.
        cavity: its number in a plug; 0 elsewhere.
        ends: of the wires that meet in it.
    """

    id: str
    connector: str
    cavity: int
    ends: tuple[WireEnd, ...]

    @property
    def first(self) -> End:
        """The end whose label tells it."""
        return self.ends[0].end


class BenchWire(NamedTuple):
    """A wire between two pins."""

    wire: Wire
    start: str
    end: str

    @property
    def id(self) -> str:
        """The wire's id."""
        return self.wire.id


class Net(NamedTuple):
    """Pins that the harness joins, and the wires that join them; called after its first wire."""

    id: str
    pins: tuple[str, ...]
    wires: tuple[str, ...]


class PanelLamp(NamedTuple):
    """A lamp in a switch of a panel, by its tabs."""

    id: str
    plus: str
    minus: str


class HalfPlug(NamedTuple):
    """The half of a plug that this harness carries."""

    plug: Plug
    gender: Literal["socket", "pin"]
    cavities: dict[int, str]  # the pin in each filled one


class Mate(NamedTuple):
    """Two pins that meet in a cavity once a plug is mated, and the usual resistance between."""

    plug: Plug
    cavity: int
    a: str
    b: str
    mohm: float

    @property
    def id(self) -> str:
        """Plug and cavity, 'X4.2'."""
        return f"{self.plug.id}.{self.cavity}"


class Specimen:
    """One harness by itself, what is built behind an area's panels, or all harnesses mated.

    Attributes:
        id: the assembly's id, for a panel with ' panel' behind it.
        pins, wires: by id, in the order of the draft.
        lamps: of the switches that a panel is built with.
        mates: contacts within plugs that are mated; none of a harness by itself.
    """

    def __init__(
        self,
        name: str,
        title: str,
        wires: Iterable[Wire],
        plugs: Iterable[Plug] = (),
        lamps: Iterable[PanelLamp] = (),
    ) -> None:
        self.id, self.title, self.lamps = name, title, tuple(lamps)
        lying = tuple(wires)
        self.pins = {pin.id: pin for pin in _pins(lying, at_tabs=name.endswith(PANEL))}
        at = {(one.wire.id, one.end): pin.id for pin in self.pins.values() for one in pin.ends}
        self.wires = {w.id: BenchWire(w, at[w.id, w.start], at[w.id, w.end]) for w in lying}
        self.plugs: tuple[HalfPlug, ...] = ()
        self.mates: tuple[Mate, ...] = ()
        if name == MATED:
            self.mates = tuple(mate for plug in plugs for mate in self._mates(plug))
        else:
            self.plugs = tuple(self._half(plug) for plug in plugs)

    def _mates(self, plug: Plug) -> Iterator[Mate]:
        """Yield the contacts of a plug that have a wire on both sides."""
        at: dict[int, list[str]] = defaultdict(list)
        for pin in self.pins.values():
            if pin.connector == plug.id and pin.cavity:
                at[pin.cavity].append(pin.id)
        usual = contact_ohm("plug", str(plug.contact)) * 1000
        for cavity, pins in sorted(at.items()):
            if len(pins) > 1:
                yield Mate(plug, cavity, pins[0], pins[1], usual)

    @cached_property
    def probed(self) -> frozenset[str]:
        """Pins that a probe can be held to: within a mated plug there are none."""
        return frozenset(p.id for p in self.pins.values() if not (self.mates and p.cavity))

    def _half(self, plug: Plug) -> HalfPlug:
        filled = {p.cavity: p.id for p in self.pins.values() if p.connector == plug.id}
        side: Literal["socket", "pin"] = "socket" if self.id == plug.live else "pin"
        return HalfPlug(plug, side, filled)

    @cached_property
    def nets(self) -> tuple[Net, ...]:
        """What is joined, by the first wire of each."""
        index = {name: i for i, name in enumerate(self.pins)}
        sets = Sets(len(index))
        for wire in self.wires.values():
            sets.join(index[wire.start], index[wire.end])
        for mate in self.mates:
            sets.join(index[mate.a], index[mate.b])
        pins: dict[int, list[str]] = defaultdict(list)
        for name, i in index.items():
            pins[sets.find(i)].append(name)
        wires: dict[int, list[str]] = defaultdict(list)
        for name, wire in self.wires.items():
            wires[sets.find(index[wire.start])].append(name)
        return tuple(Net(w[0], tuple(pins[root]), tuple(w)) for root, w in wires.items())

    @cached_property
    def net_of(self) -> dict[str, Net]:
        """The net of each pin."""
        return {pin: net for net in self.nets for pin in net.pins}

    @cached_property
    def neighbours(self) -> tuple[tuple[str, str], ...]:
        """Pins easily taken for one another: side by side in a shell, or next at a place."""
        found: list[tuple[str, str]] = []
        for half in self.plugs:
            found += _beside(half)
        at: dict[str, list[Pin]] = defaultdict(list)
        for pin in self.pins.values():
            if not pin.cavity:
                at[pin.connector].append(pin)
        for pins in at.values():
            in_order = sorted(pins, key=lambda pin: (in_reading_order(pin.first.point), pin.id))
            found += [(a.id, b.id) for a, b in pairwise(in_order)]
        return tuple(found)


def _beside(half: HalfPlug) -> Iterator[tuple[str, str]]:
    """Yield pins whose cavities touch, diagonally as well."""
    at = {
        way: (row, column)
        for row, ways in enumerate(cavity_rows(half.plug.ways))
        for column, way in enumerate(ways)
    }
    for a, b in combinations(sorted(half.cavities), 2):
        if max(abs(x - y) for x, y in zip(at[a], at[b], strict=True)) == 1:
            yield half.cavities[a], half.cavities[b]


def _pins(wires: tuple[Wire, ...], *, at_tabs: bool) -> Iterator[Pin]:
    """Yield the pins of wires; ``at_tabs``: what shares a tab hangs together on it."""
    met: dict[tuple[str, ...], list[WireEnd]] = defaultdict(list)
    for wire in wires:
        for side, end in (("from", wire.start), ("to", wire.end)):
            together = end.is_joint or (at_tabs and end.kind == "tab")
            key = (end.place, end.point) if together else (wire.id, side)
            met[key].append(WireEnd(wire, end))
    for ends in met.values():
        wire, end = ends[0]
        name = f"{wire.id}/{'from' if end is wire.start else 'to'}"
        cavity = int(end.point.removeprefix("cavity ")) if end.kind == "plug" else 0
        yield Pin(name, end.place, cavity, tuple(ends))


def _lamps(draft: Draft, wires: Iterable[Wire]) -> Iterator[PanelLamp]:
    """Yield the lamps of the switches that wires land on."""
    places = {end.place for wire in wires for end in (wire.start, wire.end)}
    told: set[tuple[str, str]] = set()
    for switch in draft.switches:
        for lamp in range(switch.part.lamps) if switch.place in places else ():
            plus, minus = (f"{switch.place} {tab}" for tab in switch.part.lamp_ends(lamp))
            if (plus, minus) not in told:  # two on the same tabs read as one
                told.add((plus, minus))
                yield PanelLamp(lamp_element(switch.place, lamp), plus, minus)


def _spares(draft: Draft, assembly: Assembly) -> Iterator[Wire]:
    """Yield spare conductors as wires: they lie in the harness of their first run."""
    for item in draft.spares:
        runs = item.path.runs
        if item.gauge is None or not runs or runs[0].harness != assembly.id:
            continue
        for number in range(1, item.spare.count + 1):
            name = f"{item.id}.{number}" if item.spare.count > 1 else item.id
            ends = (
                End(name, side, "spare", station, CAPPED, f"{name} {item.spare.label} {side}", "")
                for side, station in (("from", item.spare.start), ("to", item.spare.end))
            )
            start, end = ends
            yield Wire(
                id=name,
                circuit=item.id,
                leg="spare",
                jumper=False,
                stub=False,
                harness=assembly.id,
                gauge=item.gauge,
                colour=item.colour,
                sleeve="",
                start=start,
                end=end,
                runs=tuple(run.id for run in runs),
                stations=item.path.stations,
                routed_m=item.path.length_m,
                cut_mm=item.cut_mm,
                current_a=0.0,
                live="source",
            )


def _specimen(draft: Draft, assembly: Assembly, *, panel: bool) -> Specimen:
    switches = frozenset(switch.place for switch in draft.switches)
    wires = [
        wire
        for wire in draft.assembled.wires
        if wire.harness == assembly.id and is_with_panel(wire, switches) == panel
    ]
    if panel:
        title = f"{assembly.name}, panel"
        return Specimen(assembly.id + PANEL, title, wires, lamps=_lamps(draft, wires))
    plugs = [p for p in draft.assembled.plugs if assembly.id in (p.live, p.dead)]
    return Specimen(assembly.id, assembly.name, [*wires, *_spares(draft, assembly)], plugs)


def _mated(draft: Draft) -> Specimen:
    """Return all harnesses mated: the wires of those nets that go through a plug."""
    switches = frozenset(switch.place for switch in draft.switches)
    wires = [w for w in draft.assembled.wires if not is_with_panel(w, switches)]
    for assembly in draft.aboard.boat.assemblies:
        wires += _spares(draft, assembly)
    plugs = draft.assembled.plugs
    whole = Specimen(MATED, MATED_TITLE, wires, plugs)
    through = {name for mate in whole.mates for name in whole.net_of[mate.a].wires}
    return Specimen(MATED, MATED_TITLE, [wire for wire in wires if wire.id in through], plugs)


def specimens(draft: Draft) -> tuple[Specimen, ...]:
    """Return every harness of a draft that has wires, each followed by its panels; all mated last.

    What is mated is of interest where there are plugs.
    """
    every = (
        _specimen(draft, assembly, panel=panel)
        for assembly in draft.aboard.boat.assemblies
        for panel in (False, True)
    )
    return tuple(one for one in (*every, _mated(draft)) if one.wires)
