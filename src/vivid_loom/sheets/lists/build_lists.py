"""Lists a harness builder works from: cut list, landings, connectors, labels."""

from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator
from typing import NamedTuple

from vivid_loom.boat import Boat
from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.drafting.beside.existing import Reuse
from vivid_loom.drafting.making.ending import stud_of
from vivid_loom.drafting.making.terminate import end_steps
from vivid_loom.drafting.making.wire import End, Wire
from vivid_loom.drafting.patterns import Point
from vivid_loom.order import Profile
from vivid_loom.quantities import in_reading_order
from vivid_loom.quantities.once import once
from vivid_loom.sheets.lists.schedule import number
from vivid_loom.sheets.paper.table import Table
from vivid_loom.sheets.words.names import Names
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.joints import Zone, zone_of
from vivid_loom.standards.terminals import TORQUE_NM

__all__ = [
    "booted",
    "cut_list",
    "cut_rows",
    "end_procedures",
    "end_recipes",
    "landings",
]


class CutRow(NamedTuple):
    """A wire to cut."""

    wire_id: str
    circuit_id: str
    harness: str
    gauge: str
    area_mm2: str
    colour: str
    tracer: str
    from_place: str
    from_point: str
    from_termination: str
    from_strip_mm: str
    to_place: str
    to_point: str
    to_termination: str
    to_strip_mm: str
    path: str
    routed_length_mm: str
    cut_length_mm: str
    label_from: str
    label_to: str
    current_a: str
    cable_id: str
    core: str
    from_jaw: str
    to_jaw: str
    device_lead: str
    conductor_state: str
    sleeve: str
    join: str
    circuit: str
    from_name: str
    to_name: str
    from_station: str
    to_station: str
    from_recipe: str
    to_recipe: str
    from_mates: str
    to_mates: str
    from_tail: str
    to_tail: str
    kind: str
    serves: str
    from_zone: str
    to_zone: str


class LandingRow(NamedTuple):
    """A conductor on a terminal; order 1 is the bottom."""

    place: str
    point: str
    order: str
    wire_id: str
    terminal: str
    label: str
    expected_off_v: str
    expected_on_v: str
    circuit: str
    name: str
    station: str
    torque_nm: str
    boot: str
    expected_charging_v: str


class EndRow(NamedTuple):
    """A kind of end and its steps."""

    end: str
    zone: str
    jaw: str
    strip_mm: str
    steps: str
    recipe: str


_EndKind = tuple[str, Zone, str, float]


class _Reading(NamedTuple):
    """What every row of a draft's lists looks up.

    Attributes:
        reuse: what lies in the boat.
        circuits: what each feeds, by id.
        recipes: of every kind of end, by zone and steps, see ``end_procedures``.
        joints: the wires that meet in each joint with a device's tail.
    """

    names: Names
    reuse: Reuse
    circuits: dict[str, str]
    recipes: dict[_EndKind, str]
    joints: dict[tuple[str, str], tuple[str, ...]]


def _reading(draft: Draft) -> _Reading:
    joints: dict[tuple[str, str], list[str]] = defaultdict(list)
    for wire in draft.assembled.wires:
        for end in (wire.start, wire.end):
            if end.kind in ("lead", "tail"):
                joints[end.place, end.point].append(wire.id)
    return _Reading(
        Names(draft),
        draft.reuse,
        {row.id: row.planned.label for row in draft.rows},
        _recipes(draft),
        {point: tuple(wires) for point, wires in joints.items()},
    )


def _cut_row(wire: Wire, draft: Draft, known: _Reading) -> CutRow:
    device = " · ".join(end.device_lead for end in (wire.start, wire.end) if end.device_lead)
    ends = (wire.start, wire.end)
    joints = (known.joints.get((end.place, end.point), ()) for end in ends)
    mates = (";".join(name for name in joint if name != wire.id) for joint in joints)
    return CutRow(
        wire_id=wire.id,
        circuit_id=wire.circuit,
        harness=wire.harness,
        gauge=str(wire.gauge),
        area_mm2=f"{area_mm2(wire.gauge):.3f}",
        colour=wire.colour.base,
        tracer=wire.colour.tracer,
        from_place=wire.start.place,
        from_point=wire.start.point,
        from_termination=wire.start.termination.kind,
        from_strip_mm=number(wire.start.termination.strip_mm),
        to_place=wire.end.place,
        to_point=wire.end.point,
        to_termination=wire.end.termination.kind,
        to_strip_mm=number(wire.end.termination.strip_mm),
        path=";".join(wire.runs),
        routed_length_mm=f"{wire.routed_m * 1000:.0f}",
        cut_length_mm=number(wire.cut_mm),
        label_from=wire.start.label,
        label_to=wire.end.label,
        current_a=f"{wire.current_a:.3f}",
        cable_id=wire.cable,
        core=str(wire.core or ""),
        from_jaw=wire.start.termination.jaw,
        to_jaw=wire.end.termination.jaw,
        device_lead=device,
        conductor_state=_state(wire, known.reuse),
        sleeve=wire.sleeve,
        join=_join(wire),
        circuit=known.circuits[wire.circuit],
        from_name=known.names.place(wire.start.place),
        to_name=known.names.place(wire.end.place),
        from_station=known.names.station(wire.start.station),
        to_station=known.names.station(wire.end.station),
        from_recipe=known.recipes[_end_kind(wire.start, draft)],
        to_recipe=known.recipes[_end_kind(wire.end, draft)],
        from_mates=next(mates),
        to_mates=next(mates),
        from_tail=wire.start.device_lead.removeprefix(wire.start.point).strip(),
        to_tail=wire.end.device_lead.removeprefix(wire.end.point).strip(),
        kind="jumper" if wire.jumper else "stub" if wire.stub else "wire",
        serves="switch lamp" if wire.for_lamp else "load",
        from_zone=_end_kind(wire.start, draft)[1],
        to_zone=_end_kind(wire.end, draft)[1],
    )


def _state(wire: Wire, reuse: Reuse) -> str:
    if wire.id in reuse.kept:
        return "existing"
    return "moves" if wire.id in reuse.moved else "new"


def _join(wire: Wire) -> str:
    """Say which colours meet where a supplier's tail is joined: told by function."""
    joins = [
        f"harness {wire.colour} ↔ device {end.lead_colour}, {end.point}"
        for end in (wire.start, wire.end)
        if end.kind == "lead" and end.lead_colour
    ]
    return " · ".join(joins)


def cut_rows(draft: Draft, wires: Iterable[Wire]) -> tuple[CutRow, ...]:
    """Return the rows of some wires in the cut list."""
    known = _reading(draft)
    return tuple(_cut_row(wire, draft, known) for wire in wires)


def cut_list(draft: Draft) -> Table[CutRow]:
    """Return every wire to cut, grouped by harness, then in circuit order."""
    wires = sorted(draft.assembled.wires, key=lambda w: w.harness)
    return Table("cutlist", "Cut list", CutRow, cut_rows(draft, wires))


def _expected_v(draft: Draft, wire: Wire, charged: frozenset[str]) -> tuple[str, str, str]:
    """Return the volts to expect with everything off, on, and off while a source charges."""
    if wire.live == "return":
        return "0", "0", "0"
    row = draft.circuit(wire.circuit)
    assert row is not None
    level = draft.aboard.levels
    source = row.planned.source
    at_battery = level[source] == "battery_direct"
    nominal = number(draft.aboard.boat.network.voltage(source))
    off = nominal if at_battery and wire.live == "source" else "0"
    charging = nominal if wire.live == "source" and source in charged else off
    return off, nominal, charging


def _by_point(draft: Draft) -> dict[tuple[str, str], list[tuple[Wire, End]]]:
    points: dict[tuple[str, str], list[tuple[Wire, End]]] = defaultdict(list)
    for wire in draft.assembled.wires:
        for end in (wire.start, wire.end):
            if end.kind != "plug" and "adhesive" not in end.termination.kind:
                points[(end.place, end.point)].append((wire, end))
    return points


def _torque(terminal: str) -> str:
    """Return what the nut or screw over a ring or lug is tightened to, in Nm; '' elsewhere."""
    torque = TORQUE_NM.get(terminal.rpartition(" ")[2])
    return number(torque) if torque and ("ring" in terminal or "lug" in terminal) else ""


def booted(wire: Wire, end: End) -> bool:
    """Tell whether a boot goes over an end: what can be live on a post or stud."""
    return wire.live != "return" and end.kind in ("post", "stud")


def landings(draft: Draft) -> Table[LandingRow]:
    """Return what lands where, largest terminal at the bottom, with the voltages to expect.

    Off: battery switch and every switch off. On: battery switch and the circuit's switch on.
    Charging: everything off while an engine runs or a charger is plugged in.
    """
    charged = draft.aboard.boat.network.charged()
    known = _reading(draft)
    rows: list[LandingRow] = []
    mounted = _mounted(draft)
    for (place, point), ends in sorted(
        _by_point(draft).items(), key=lambda item: tuple(map(in_reading_order, item[0]))
    ):
        stacked = sorted(ends, key=lambda item: (-area_mm2(item[0].gauge), item[0].id))
        below = mounted.pop((place, point), [])
        rows += _mount_rows(below, draft, known, charged)
        for order, (wire, end) in enumerate(stacked, 1 + len(below)):
            off, on, charging = _expected_v(draft, wire, charged)
            kind = end.termination.kind
            about = (
                known.circuits[wire.circuit],
                known.names.place(place),
                known.names.station(end.station),
                _torque(kind),
                "boot" if booted(wire, end) else "",
                charging,
            )
            rows.append(
                LandingRow(place, point, str(order), wire.id, kind, end.label, off, on, *about)
            )
    for below in mounted.values():
        rows += _mount_rows(below, draft, known, charged)
    rows.sort(key=lambda row: (in_reading_order(row.place), in_reading_order(row.point)))
    return Table("landing", "Landing list", LandingRow, tuple(rows))


def _mounted(draft: Draft) -> dict[tuple[str, str], list[DraftedCircuit]]:
    """Return the feeders whose device stands on a post or stud, by place and point."""
    found: dict[tuple[str, str], list[DraftedCircuit]] = defaultdict(list)
    for row in draft.feeders:
        if row.planned.mount:
            found[row.planned.mount.place, row.planned.mount.name].append(row)
    return dict(found)


def _mount_rows(
    feeders: list[DraftedCircuit], draft: Draft, known: _Reading, charged: frozenset[str]
) -> Iterator[LandingRow]:
    """Yield the devices that stand on a post or stud, below what else lands there."""
    for order, row in enumerate(sorted(feeders, key=lambda r: r.id), 1):
        mount, held = row.planned.mount, row.sized.protection if row.sized else None
        wire = next((w for w in row.wires if w.live != "return"), None)
        if mount is None or wire is None:
            continue
        rating = f" {held.value:g} A" if held else ""
        yield LandingRow(
            mount.place,
            mount.name,
            str(order),
            row.id,
            f"{row.planned.family}{rating} on its mount",
            "",
            *_expected_v(draft, wire, charged)[:2],
            known.circuits[row.id],
            known.names.place(mount.place),
            known.names.station(mount.station),
            number(TORQUE_NM[stud]) if (stud := _stud_at(mount, draft)) in TORQUE_NM else "",
            "",
            _expected_v(draft, wire, charged)[2],
        )


def _stud_at(point: Point, draft: Draft) -> str:
    return stud_of(point.place, point.name, point.kind, draft.aboard)


def _end_kind(end: End, draft: Draft) -> _EndKind:
    """Return termination, zone, jaw and strip, which together have one recipe."""
    made, zones = end.termination, _zones(draft.aboard.boat)
    return made.kind, zones[end.station], made.jaw, made.strip_mm


@once
def _zones(boat: Boat) -> dict[str, Zone]:
    """Return the zone of every station."""
    areas = boat.area_at.items()
    return {name: zone_of(area.water, engine_heat=area.engine_heat) for name, area in areas}


def _end_kinds(draft: Draft) -> list[_EndKind]:
    return sorted(
        {_end_kind(end, draft) for wire in draft.assembled.wires for end in (wire.start, wire.end)}
    )


def _steps(kind: _EndKind, profile: Profile) -> tuple[str, ...]:
    return end_steps(
        kind[0],
        grease=profile.grease,
        shrink_now=profile.shrink == "at_once",
        joint=profile.joint,
        zone=kind[1],
    )


def _recipes(draft: Draft) -> dict[_EndKind, str]:
    """Return the recipe of every kind of end: those of one zone with the same steps share it."""
    profile = draft.aboard.profile
    kinds = _end_kinds(draft)
    told = sorted({(kind[1], _steps(kind, profile)) for kind in kinds})
    numbers = {steps: f"R{i}" for i, steps in enumerate(told, 1)}
    return {kind: numbers[kind[1], _steps(kind, profile)] for kind in kinds}


def end_recipes(draft: Draft) -> Callable[[End], str]:
    """Return what tells the recipe of an end."""
    recipes = _recipes(draft)
    return lambda end: recipes[_end_kind(end, draft)]


def end_procedures(draft: Draft) -> Table[EndRow]:
    """Return the steps of each kind of end, in the order a builder does them."""
    rows = tuple(
        EndRow(*kind[:3], number(kind[3]), " → ".join(_steps(kind, draft.aboard.profile)), recipe)
        for kind, recipe in _recipes(draft).items()
    )
    return Table("ends", "Steps of each end", EndRow, rows)
