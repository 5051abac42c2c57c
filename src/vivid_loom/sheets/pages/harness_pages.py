"""A harness on paper: what to cut from which spool, how each end is made, what goes into its plugs.

The type of its cut list is read at arm's length.
"""

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from itertools import groupby, zip_longest
from operator import attrgetter
from typing import Final, NamedTuple

from vivid_loom.boat import Assembly
from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import End
from vivid_loom.quantities import CutUnit, counted, cut_unit
from vivid_loom.sheets.lists.build_lists import CutRow
from vivid_loom.sheets.lists.build_order import bench_rows, end_words
from vivid_loom.sheets.lists.harness_lists import TAIL, connectors, joints
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Column, Printed, Setting, paginate
from vivid_loom.workshop.harness.whole import crimped_aboard

__all__ = ["ARM_MM", "harness_pages"]

ARM_MM: Final = 3.53  # 10 pt
LABELS: Final = (
    "Label of an end: the wire's number, then the words in bold of that end. "
    "Steps: the recipe of an end, and its zone: d dry, w wet, b bilge, e engine."
)


class _EndLine(NamedTuple):
    """One line of a wire: its first end with the wire itself, or its other end."""

    tick: str
    wire: str
    about: str
    cut: str
    point: str
    where: str
    end: str
    strip: str
    recipe: str


UNCUT: Final = {"existing": "stays", "moves": "moves"}
"""What stands in place of a length where nothing is cut."""


def _told_order(rows: Sequence[CutRow]) -> str:
    made = [row for row in rows if row.conductor_state == "new"]
    moves = sum(row.conductor_state == "moves" for row in rows)
    stay = len(rows) - len(made) - moves
    landed = f" {counted(moves, 'lead')} that lie in the boat are landed anew aboard." * bool(moves)
    if not made:
        told = f"{counted(stay, 'wire')} of it stay as they lie in the boat.{landed}"
        return f"Nothing is cut: {told}"
    spools = len({(row.gauge, row.colour, row.tracer, row.cable_id) for row in made})
    jaws = len({jaw for row in made for jaw in (row.from_jaw, row.to_jaw) if jaw})
    wires = f"{counted(len(made), 'wire')} from {counted(spools, 'spool')}"
    cut = f"{wires}, {counted(spools - 1, 'change')} of spool."
    if stay:
        cut += f" {stay} more stay as they lie in the boat."
    cut += landed
    crimped = f"{counted(jaws, 'jaw')}, {counted(max(0, jaws - 1), 'change')}"
    return f"{cut} Crimp when all are cut, jaw by jaw: {crimped}. No order has fewer."


def _wire_lines(row: CutRow, places: dict[str, str], unit: CutUnit) -> list[_EndLine]:
    shade = f"{row.colour}/{row.tracer}" if row.tracer else row.colour
    state = row.conductor_state
    length = UNCUT[state] if state in UNCUT else unit.text(float(row.cut_length_mm))
    first = _EndLine(
        "" if state == "existing" else "☐",
        row.wire_id,
        f"{row.gauge} {shade}{_marked(row)}",
        length,
        _point(row.from_place, row.from_name, row.from_point),
        _where(row.from_place, row.from_station, places),
        end_words(row.from_termination, row.from_tail, row.from_mates),
        row.from_strip_mm,
        _steps(row.from_recipe, row.from_zone),
    )
    other = _EndLine(
        "",
        "",
        row.circuit,
        "",
        _point(row.to_place, row.to_name, row.to_point),
        _where(row.to_place, row.to_station, places),
        end_words(row.to_termination, row.to_tail, row.to_mates),
        row.to_strip_mm,
        _steps(row.to_recipe, row.to_zone),
    )
    return [first, other]


def _point(place: str, name: str, point: str) -> str:
    """Return the words of an end's label."""
    if point.startswith("cavity "):
        return f"{place}.{point.removeprefix('cavity ')}"
    return f"{name} {point}"


def _steps(recipe: str, zone: str) -> str:
    """Return the recipe of an end with the letter of the zone it is made for: 'R3w', wet."""
    return f"{recipe}{zone[0]}"


def _where(place: str, station: str, plugs: dict[str, str]) -> str:
    return f"{plugs[place]}, {station}" if place in plugs else station


def _marked(row: CutRow) -> str:
    sleeve = f", sleeve {row.sleeve}" if row.sleeve else ""
    core = f", core {row.core} of {row.cable_id}" if row.cable_id else ""
    return f"{sleeve}{core}"


def _remark(row: CutRow, aboard: Mapping[str, End]) -> str:
    """Name the wires and the device's tail that share a joint with this one, and what waits."""
    told = [
        f"{name} {point}: one joint with {mates.replace(';', ', ')}"
        + (f" and the device's {tail}" if tail else "")
        for name, point, mates, tail in (
            (row.from_name, row.from_point, row.from_mates, row.from_tail),
            (row.to_name, row.to_point, row.to_mates, row.to_tail),
        )
        if mates
    ]
    if end := aboard.get(row.wire_id):
        at = row.from_name if end.place == row.from_place else row.to_name
        told.append(f"leave its end at {at} {end.point} bare: crimped aboard, behind its gland")
    return " · ".join(told)


def _cut_table(
    rows: Sequence[CutRow], places: dict[str, str], unit: CutUnit, aboard: Mapping[str, End]
) -> Printed:
    columns = (
        Column("", 6, attrgetter("tick")),
        Column("wire", 20, attrgetter("wire"), bold=True),
        Column("gauge and colour, circuit", 43.5, attrgetter("about")),
        Column(f"cut {unit.name}", 15, attrgetter("cut"), True, True),
        Column("ends: label", 50, attrgetter("point"), bold=True),
        Column("where", 49.5, attrgetter("where")),
        Column("terminal", 66, attrgetter("end")),
        Column("strip", 9.5, attrgetter("strip"), True),
        Column("steps", 13.5, attrgetter("recipe")),
    )
    remarks = {row.wire_id: _remark(row, aboard) for row in rows}
    return Printed(
        columns,
        [_wire_lines(row, places, unit) for row in rows],
        note=f"{_told_order(rows)} {LABELS} Tolerance {unit.tolerance}. Strip in mm.",
        size=ARM_MM,
        remark=lambda lines: remarks[lines[0].wire],
    )


class _Cavity(NamedTuple):
    """A cavity as one harness sees it: its own wire, and the one on the other half."""

    half: str
    number: str
    wire: str
    mate: str


NO_CAVITY: Final = _Cavity("", "", "", "")
_Line = tuple[_Cavity, ...]  # cavities that stand side by side


def _cavities(draft: Draft, assembly: Assembly) -> Iterator[_Cavity]:
    """Yield the cavities of the halves that this harness carries."""
    harnesses = {a.id: a.name.lower() for a in draft.aboard.boat.assemblies}
    meets = {p.id: (p.live, p.dead) for p in draft.assembled.plugs}
    for row in connectors(draft).rows:
        if row.harness != assembly.id:
            continue
        other = next(h for h in meets[row.plug] if h != assembly.id)
        shell = f"{row.ways}-way {row.family}, key {row.key}"
        half = f"{row.plug} {shell}: {row.gender}s, to the {harnesses[other]}"
        yield _Cavity(half, row.cavity, row.wire_id or row.seal, row.mates_with)


def _side_by_side(cavities: Iterable[_Cavity]) -> Iterator[list[_Line]]:
    """Yield each plug, three cavities to a line."""
    for _, group in groupby(cavities, key=attrgetter("half")):
        plug = [*group]
        yield [*zip_longest(*(plug[i::3] for i in range(3)), fillvalue=NO_CAVITY)]


def _plug_table(draft: Draft, assembly: Assembly) -> Printed:
    def cell(side: int, field: str) -> Callable[[_Line], str]:
        return lambda line: str(getattr(line[side], field))

    def half(line: _Line) -> str:
        return line[0].half if line[0].number == "1" else ""

    columns = [Column("plug, from its wire side", 84, half, bold=True)]
    for side in range(3):
        columns += [
            Column("cavity", 11, cell(side, "number"), True),
            Column("wire", 26, cell(side, "wire"), bold=True),
            Column("mate", 26, cell(side, "mate")),
        ]
    plugs = [*_side_by_side(_cavities(draft, assembly))]
    return Printed(tuple(columns), plugs, "Its plugs", size=2.6)


def _joint_table(draft: Draft, assembly: Assembly) -> Printed:
    """Return the joints in which several wires meet, each with all that goes into it."""
    rows = [row for row in joints(draft).rows if row.harness == assembly.id]
    wires = Counter(row.joint for row in rows if row.member != TAIL)
    shared = [row for row in rows if wires[row.joint] > 1]
    each = [[*group] for _, group in groupby(shared, key=attrgetter("joint"))]
    named = {group[0] for group in each}  # once, as plugs are
    columns = (
        Column("joint", 84, lambda r: f"{r.joint} {r.name} {r.point}" * (r in named), bold=True),
        Column("goes in", 30, attrgetter("member"), bold=True),
        Column("", 40, lambda r: f"{r.gauge} {r.colour}".strip()),
        Column("terminal", 60, attrgetter("terminal")),
        Column("strip", 13, attrgetter("strip_mm"), True),
        Column("jaw", 24, attrgetter("jaw")),
        Column("steps", 14, attrgetter("recipe")),
    )
    note = (
        "All that meets in it goes under one crimp: its sleeve is slid on before, and shrunk once. "
        "Strip in mm."
    )
    return Printed(columns, each, "Its joints", note, 2.6)


def harness_pages(draft: Draft, assembly: Assembly, setting: Setting) -> list[Page]:
    """Return a harness's cut list and its plugs; none without wires.

    Jumpers from switch to switch are cut with their panel.
    """
    rows = bench_rows(draft, assembly.id)
    if not rows:
        return []
    unit = cut_unit(draft.aboard.profile.units)
    plugs = {p.id: f"key {p.key}" for p in draft.assembled.plugs}
    made = (
        _cut_table(rows, plugs, unit, crimped_aboard(draft)),
        _plug_table(draft, assembly),
        _joint_table(draft, assembly),
    )
    tables = [table for table in made if table.rows]
    return paginate(assembly.name, tables, setting)
