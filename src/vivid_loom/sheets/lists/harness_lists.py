"""Lists of a harness as a thing: its plugs half by half, its joints, its branches."""

from collections import defaultdict
from collections.abc import Iterator
from typing import Final, NamedTuple

from vivid_loom.boat import Assembly
from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.plugs import Plug
from vivid_loom.drafting.making.wire import End, Wire
from vivid_loom.quantities import Gauge, in_reading_order
from vivid_loom.sheets.lists.build_lists import end_recipes
from vivid_loom.sheets.lists.schedule import number
from vivid_loom.sheets.paper.table import Table
from vivid_loom.sheets.words.names import Names
from vivid_loom.standards.colours import InsulationColour
from vivid_loom.workshop.bundles import Section
from vivid_loom.workshop.harness.tree import (
    Branch,
    Breakout,
    HarnessTree,
    harness_trees,
    tree_sections,
)

__all__ = [
    "TAIL",
    "BranchRow",
    "CavityRow",
    "JointRow",
    "branch_rows",
    "branches",
    "connectors",
    "joints",
]

SEALING_PLUG = "sealing plug"
TAIL: Final = "device tail"
"""What ``joints`` calls the lead that a device comes with."""


class CavityRow(NamedTuple):
    """A cavity of one half of a plug, seen from the wire side."""

    harness: str
    plug: str
    station: str
    family: str
    ways: str
    key: str
    gender: str
    cavity: str
    wire_id: str
    gauge: str
    colour: str
    contact: str
    seal: str
    mates_with: str
    circuit_id: str


class JointRow(NamedTuple):
    """A wire, or a device's tail, in a joint."""

    joint: str
    harness: str
    place: str
    point: str
    name: str
    station: str
    member: str
    gauge: str
    colour: str
    terminal: str
    strip_mm: str
    jaw: str
    recipe: str


class BranchRow(NamedTuple):
    """A branch between stations, or the tail that leaves the loom at one."""

    harness: str
    kind: str
    branch: str
    from_station: str
    to_station: str
    datum_mm: str
    length_mm: str
    wires: str
    wire_ids: str
    bundle_mm: str
    loom: str
    ties: str
    tie_spacing_mm: str
    bend_mm: str
    remark: str


def _half(plug: Plug, harness: str, wires: dict[str, Wire]) -> Iterator[CavityRow]:
    gender = "socket" if harness == plug.live else "pin"
    family = f"sealed size {plug.contact}"
    about = (harness, plug.id, plug.station, family, str(plug.ways), plug.key, gender)
    filled = {cavity.number: cavity for cavity in plug.cavities}
    for way in range(1, plug.ways + 1):
        cavity = filled.get(way)
        if cavity is None:
            yield CavityRow(*about, str(way), "", "", "", "", SEALING_PLUG, "", "")
            continue
        pair = [wires[name] for name in cavity.wires]
        here, there = pair if pair[0].harness == harness else pair[::-1]
        end = next(e for e in (here.start, here.end) if e.place == plug.id and _way(e) == way)
        seal = f"wire seal size {plug.contact}"
        made = (here.id, str(here.gauge), str(here.colour), end.termination.kind, seal)
        yield CavityRow(*about, str(way), *made, there.id, cavity.circuit)


def _way(end: End) -> int:
    return int(end.point.removeprefix("cavity "))


def connectors(draft: Draft) -> Table[CavityRow]:
    """Return every cavity of both halves of every plug, seen from the wire side."""
    wires = {wire.id: wire for wire in draft.assembled.wires}
    rows = tuple(
        row
        for plug in draft.assembled.plugs
        for harness in (plug.live, plug.dead)
        for row in _half(plug, harness, wires)
    )
    return Table("connectors", "Connectors", CavityRow, rows)


def joints(draft: Draft) -> Table[JointRow]:
    """Return every joint, a row for each wire in it and one for the device's tail."""
    names, recipes = Names(draft), end_recipes(draft)
    found: dict[tuple[str, str], list[tuple[Wire, End]]] = defaultdict(list)
    for wire in draft.assembled.wires:
        for end in (wire.start, wire.end):
            if end.is_joint:
                found[end.place, end.point].append((wire, end))
    rows: list[JointRow] = []
    order = sorted(found, key=lambda point: tuple(map(in_reading_order, point)))
    for turn, point in enumerate(order, 1):
        met = found[point]
        first_wire, first = met[0]
        about = (*point, names.place(first.place), names.station(first.station))
        for wire, end in met:
            done = end.termination
            rows.append(
                JointRow(
                    f"J{turn}",
                    wire.harness,
                    *about,
                    wire.id,
                    str(wire.gauge),
                    str(wire.colour),
                    done.kind,
                    number(done.strip_mm),
                    done.jaw,
                    recipes(end),
                )
            )
        tail = _tail(first, draft)
        if tail:
            about_tail = (f"J{turn}", first_wire.harness, *about, TAIL, *tail)
            rows.append(JointRow(*about_tail, "", "", "", ""))
    return Table("joints", "Joints", JointRow, tuple(rows))


def _tail(end: End, draft: Draft) -> tuple[str, str] | None:
    """Return gauge and colour of the device's lead that a joint takes; None for none."""
    load = draft.aboard.loads.get(end.place) if end.kind == "lead" else None
    lead = load.named(end.point) if load else None
    if lead is None or not (lead.gauge or lead.colour):
        return None
    gauge = str(Gauge.parse(lead.gauge)) if lead.gauge else ""
    return gauge, str(InsulationColour.parse(lead.colour)) if lead.colour else ""


def _branch_remarks(branch: Branch, cut: Section, tree: HarnessTree) -> Iterator[str]:
    if cut.grommet:
        yield "grommet from area to area"
    if branch.run.swing:
        yield f"{branch.run.swing.slack_m * 1000:.0f} mm of it slack at the moving joint"
    if branch.closes:
        yield "closes a ring: lay its far end where the other way arrives"
    if branch.far == tree.free_end() and not branch.closes:
        yield "free end: coil, tape, mark the pull"


def _branch_row(branch: Branch, cut: Section, tree: HarnessTree, names: Names) -> BranchRow:
    bore = branch.run.bore_mm or cut.needed_bore_mm
    loom = "" if branch.run.enclosure == "open" else branch.run.enclosure
    return BranchRow(
        tree.id,
        "branch",
        branch.id,
        names.station(branch.near),
        names.station(branch.far),
        f"{branch.start_mm:.0f}",
        f"{branch.length_mm:.0f}",
        str(len(branch.wires)),
        ";".join(branch.wires),
        f"{cut.diameter_mm:.1f}",
        f"{loom}, bore {bore:g} mm" if loom and bore else loom,
        str(cut.supports + 1),
        number(cut.support_mm),
        f"{cut.bend_mm:.0f}",
        "; ".join(_branch_remarks(branch, cut, tree)),
    )


def _tail_rows(
    breakout: Breakout, tree: HarnessTree, names: Names, *, wet: bool
) -> Iterator[BranchRow]:
    for mm, ends in breakout.pegs:
        wires = list(dict.fromkeys(one.wire.id for one in ends))
        yield BranchRow(
            tree.id,
            "tail",
            breakout.station,
            names.station(breakout.station),
            ", ".join(names.place(p) for p in dict.fromkeys(one.end.place for one in ends)),
            f"{tree.distance_mm(breakout.station):.0f}",
            f"{mm:.0f}",
            str(len(wires)),
            ";".join(wires),
            *("",) * 5,
            "drip loop before the device" if wet and mm else "",
        )


def branch_rows(draft: Draft, tree: HarnessTree) -> tuple[BranchRow, ...]:
    """Return the branches of a harness, then what leaves it at each station."""
    names, cuts = Names(draft), tree_sections(draft, tree)
    rows = [_branch_row(branch, cuts[branch.id], tree, names) for branch in tree.branches]
    for breakout in tree.breakouts:
        wet = draft.aboard.boat.area_at[breakout.station].water != "dry"
        rows += _tail_rows(breakout, tree, names, wet=wet)
    return tuple(rows)


def _trees(draft: Draft, assembly: Assembly) -> tuple[HarnessTree, ...]:
    return tuple(tree for tree in harness_trees(draft, assembly) if tree.wires)


def branches(draft: Draft) -> Table[BranchRow]:
    """Return every harness's branches and tails, with lengths from its datum."""
    rows = tuple(
        row
        for assembly in draft.aboard.boat.assemblies
        for tree in _trees(draft, assembly)
        for row in branch_rows(draft, tree)
    )
    return Table("branches", "Branches", BranchRow, rows)
