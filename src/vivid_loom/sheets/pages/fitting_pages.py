"""What the installer reads: landings, fuse charts, loose ends."""

from collections import Counter, defaultdict
from collections.abc import Sequence
from itertools import groupby
from operator import attrgetter
from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.quantities import cut_unit
from vivid_loom.sheets.lists.build_lists import LandingRow, landings
from vivid_loom.sheets.lists.loose_lists import (
    BondRow,
    PoleRow,
    RecordedRow,
    SpareRow,
    bonding,
    caps,
    recorded,
    spares,
    test_points,
)
from vivid_loom.sheets.lists.stores import fuse_chart
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Column, Printed, Setting, paginate
from vivid_loom.sheets.words.names import Names, key

__all__ = ["fuse_pages", "landing_pages"]


def landing_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return what lands where, place by place, a strip by its poles; then what lands nowhere."""
    strips = {strip.id for strip in draft.allocation.strips}
    elsewhere = strips | {switch.place for switch in draft.switches}
    rows = [row for row in landings(draft).rows if row.place not in elsewhere]
    stacked = Counter((row.place, row.point) for row in rows)
    what = {row.code: row.what for row in key(draft).rows}

    def heading(row: LandingRow) -> str:
        told = f" · {what[row.place]}" if row.place in what else ""
        return f"{row.name}{told} · {row.station}"

    def height(row: LandingRow) -> str:
        count = stacked[row.place, row.point]
        return f"{row.order}/{count}" if count > 1 else ""

    columns = (
        Column("point", 21, attrgetter("point"), bold=True),
        Column("up", 8, height),
        Column("wire", 20, attrgetter("wire_id"), bold=True),
        Column("of", 33, attrgetter("circuit")),
        Column("terminal", 30, lambda r: f"{r.terminal}{', boot' if r.boot else ''}"),
        Column("Nm", 9, attrgetter("torque_nm"), True),
        Column("V off·on", 13, _volts, True),
    )
    note = (
        "Up: place in a stack from the bottom. V: with battery switch and every switch off · with "
        "battery switch and the circuit's switch on · where a third stands, with all off while "
        "the engine runs or a charger is plugged in. Nm: clean studs, from memory; the maker's "
        "figure rules. The end's label: wire, place and point."
    )
    tables = [Printed(columns, rows, note=note, size=2.6, group=heading)]
    if strips:
        tables.append(_strip_table(draft))
    return paginate("Landing list", [*tables, *_loose_tables(draft)], setting, lanes=2)


def _volts(row: LandingRow) -> str:
    volts = [row.expected_off_v, row.expected_on_v]
    if row.expected_charging_v != row.expected_off_v:
        volts.append(row.expected_charging_v)
    return "·".join(volts)


def _landed(draft: Draft) -> dict[tuple[str, str], list[LandingRow]]:
    """Return what lands on each point, by place and point, from the bottom."""
    found: dict[tuple[str, str], list[LandingRow]] = defaultdict(list)
    for row in landings(draft).rows:
        found[row.place, row.point].append(row)
    return found


class _Pole(NamedTuple):
    """A pole with the wire that arrives from the panel and those that leave."""

    row: PoleRow
    arrives: str
    leaves: str


def _strip_table(draft: Draft) -> Printed:
    at = _landed(draft)
    poles: list[_Pole] = []
    for strip, rows in groupby(test_points(draft).rows, key=attrgetter("strip")):
        all_of = [*rows]
        for row in all_of:
            sides = (at[strip, f"pole {row.pole} {side}"] for side in ("in", "out"))
            wires = (", ".join(one.wire_id for one in side) for side in sides)
            if row.circuit_id:
                poles.append(_Pole(row, *wires))
        free = [row for row in all_of if not row.circuit_id]
        if free:
            several = f" to {free[-1].pole}" if len(free) > 1 else ""
            poles.append(_Pole(free[0]._replace(pole=f"{free[0].pole}{several}"), "", ""))
    names = Names(draft)

    def heading(pole: _Pole) -> str:
        strip = pole.row
        return (
            f"{strip.strip} · terminal strip, poles of {strip.pole_rated_a} A · "
            f"{names.station(strip.station)}"
        )

    columns = (
        Column("pole", 15, attrgetter("row.pole"), bold=True),
        Column("in", 24, attrgetter("arrives"), bold=True),
        Column("out", 35, attrgetter("leaves"), bold=True),
        Column("of", 46, attrgetter("row.label")),
        Column(
            "V off·on",
            13,
            lambda p: f"{p.row.expected_off_v}·{p.row.expected_on_v}" if p.arrives else "",
            True,
        ),
    )
    return Printed(columns, poles, "Strips: poles and test points", size=2.6, group=heading)


def fuse_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return the chart for the lid of each block."""
    names = Names(draft)
    what = {row.code: f"{row.what}, {row.station_name}" for row in key(draft).rows}
    blocks = [*what, *draft.aboard.loads]
    fuses = (
        Column("way", 24, attrgetter("way"), bold=True),
        Column("feeds", 57, attrgetter("feeds")),
        Column("A", 13, attrgetter("rating_a"), True, True),
        Column("blade", 22, attrgetter("blade_colour")),
        Column("circuit", 17, attrgetter("circuit_id")),
    )
    charts = Printed(
        fuses,
        sorted(fuse_chart(draft).rows, key=lambda row: blocks.index(row.block)),
        "Fuse chart",
        size=3.0,
        group=lambda r: f"{names.place(r.block)} · {what.get(r.block, 'device')}",
    )
    return paginate("Fuse chart", (charts,), setting, lanes=2)


Laid = BondRow | RecordedRow | SpareRow
GAUGE = Column("gauge, colour", 24, lambda row: f"{row.gauge} {row.colour}")


def _loose_tables(draft: Draft) -> tuple[Printed, ...]:
    """Return what lands nowhere, spares, bonds, and what others size."""
    ends = (
        Column("what", 35, attrgetter("what"), bold=True),
        Column("end", 33, lambda r: f"{r.end} {r.gauge}".strip()),
        Column("label", 37, attrgetter("label")),
        Column("to do", 28, attrgetter("to_do")),
    )
    capped = Printed(ends, caps(draft).rows, "Ends to cap and label", size=2.6)
    return (capped, *_laid_tables(draft))


def _laid_tables(draft: Draft) -> tuple[Printed, ...]:
    names, unit = Names(draft), cut_unit(draft.aboard.profile.units)

    def measured(heading: str, width_mm: float, column: str, *, bold: bool) -> Column:
        def cell(row: Laid) -> str:
            return unit.text(float(getattr(row, column)))

        return Column(f"{heading} {unit.name}", width_mm, cell, True, bold)

    def way(row: Laid) -> str:
        return f"{names.station(row.from_station)} to {names.station(row.to_station)}"

    def from_part(row: Laid) -> str:
        to = f"the bonding bus, {names.station(row.to_station)}"
        return f"its stud, {names.station(row.from_station)}, to {to}"

    def laid(caption: str, columns: tuple[Column, ...], rows: Sequence[Laid]) -> Printed:
        return Printed(columns, rows, caption, size=2.6, remark=_along)

    cut = measured("cut", 14, "cut_length_mm", bold=True)
    spare = (
        Column("spare", 17, attrgetter("spare_id"), bold=True),
        Column("label at both ends", 35, lambda r: f"{r.label}, {r.kind}"),
        GAUGE,
        Column("from and to", 43, way),
        cut,
    )
    bond = (
        Column("bond", 25, attrgetter("part"), bold=True),
        GAUGE,
        Column("from and to", 44, from_part),
        Column("ends", 26, lambda r: f"{r.from_termination}, {r.to_termination}"),
        cut,
    )
    record = (
        Column("recorded", 39, lambda r: f"{r.name}, {r.kind}", bold=True),
        Column("colour", 14, attrgetter("colour")),
        Column("from and to", 40, way),
        Column("labels", 24, lambda r: f"{r.label_from}; {r.label_to}"),
        measured("length", 16, "routed_length_mm", bold=False),
    )
    recorded_here = laid("Recorded, not sized here", record, recorded(draft).rows)
    return (
        laid("Spare conductors and pull lines", spare, spares(draft).rows),
        laid("Bonding conductors", bond, bonding(draft).rows),
        recorded_here._replace(remark=lambda row: _along(row) + _joined(row, names)),
    )


def _joined(row: RecordedRow, names: Names) -> str:
    """Say what a piece of a recorded cable is, and where it goes on."""
    told = "" if row.piece == "cut to measure" else f" · {row.piece}"
    if row.joined_at:
        told += f" · transition piece at {names.station(row.joined_at)}"
    return told


def _along(row: Laid) -> str:
    return f"along {row.path.replace(';', ' ')}" if row.path else ""
