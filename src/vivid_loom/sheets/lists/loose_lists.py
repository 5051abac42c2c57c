"""Lists of what lands nowhere or lies there already: spares, ends to cap, changes."""

from collections.abc import Iterator
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.links import link_fates
from vivid_loom.drafting.beside.lying import as_built_beside
from vivid_loom.sheets.lists.schedule import number
from vivid_loom.sheets.paper.table import Table
from vivid_loom.workshop.taken_off import Reason, taken_off

__all__ = ["bonding", "caps", "changes", "recorded", "spares", "test_points"]


class SpareRow(NamedTuple):
    """A spare conductor or pull line."""

    spare_id: str
    kind: str
    label: str
    gauge: str
    colour: str
    from_station: str
    to_station: str
    path: str
    cut_length_mm: str


class BondRow(NamedTuple):
    """A bonding conductor."""

    bond_id: str
    part: str
    gauge: str
    colour: str
    from_station: str
    from_termination: str
    to_station: str
    to_termination: str
    path: str
    cut_length_mm: str


class RecordedRow(NamedTuple):
    """A piece of a system that others size; its routed length with a service loop at each end."""

    record_id: str
    kind: str
    name: str
    colour: str
    from_station: str
    to_station: str
    path: str
    routed_length_mm: str
    label_from: str
    label_to: str
    piece: str
    joined_at: str


class PoleRow(NamedTuple):
    """A pole of a strip and what a probe reads there."""

    strip: str
    station: str
    pole_rated_a: str
    pole: str
    circuit_id: str
    label: str
    expected_off_v: str
    expected_on_v: str


class CapRow(NamedTuple):
    """An end that lands nowhere."""

    what: str
    end: str
    station: str
    gauge: str
    label: str
    to_do: str


class ChangeRow(NamedTuple):
    """A conductor that stays, is new or comes off."""

    what: str
    wire_id: str
    circuit_id: str
    gauge: str
    colour: str
    from_: str
    to: str
    length_mm: str
    note: str
    why: str = ""


def spares(draft: Draft) -> Table[SpareRow]:
    """Return spare conductors and pull lines, one row a piece; capped and labelled."""
    rows = tuple(
        SpareRow(
            f"{item.id}.{index + 1}" if item.spare.count > 1 else item.id,
            item.spare.kind,
            item.spare.label,
            str(item.gauge or ""),
            str(item.colour) if item.gauge else "",
            item.spare.start,
            item.spare.end,
            ";".join(run.id for run in item.path.runs),
            number(item.cut_mm),
        )
        for item in draft.spares
        for index in range(item.spare.count)
    )
    return Table("spares", "Spare conductors and pull lines", SpareRow, rows)


def bonding(draft: Draft) -> Table[BondRow]:
    """Return every bonding conductor, one row each."""
    rows = tuple(
        BondRow(
            bond.id,
            bond.bond.name,
            str(bond.gauge),
            str(bond.colour),
            bond.bond.station,
            bond.ends[0].kind,
            draft.aboard.boat.bonded_at,
            bond.ends[1].kind,
            ";".join(run.id for run in bond.path.runs),
            number(bond.cut_mm),
        )
        for bond in draft.bonds
    )
    return Table("bonding", "Bonding conductors", BondRow, rows)


def recorded(draft: Draft) -> Table[RecordedRow]:
    """Return systems that are recorded and not sized: mains, coax, data, engine looms."""
    rows = tuple(
        RecordedRow(
            piece.id,
            item.record.kind,
            item.record.name,
            str(item.colour),
            piece.start,
            piece.end,
            ";".join(run.id for run in piece.runs),
            f"{piece.length_m * 1000:.0f}",
            *piece.labels,
            piece.kind,
            piece.end if piece is not item.pieces[-1] else "",
        )
        for item in draft.recorded
        for piece in item.pieces
    )
    return Table("recorded", "Recorded, not sized here", RecordedRow, rows)


def test_points(draft: Draft) -> Table[PoleRow]:
    """Return the strips' poles: where a probe finds each circuit, and what it should read."""
    level = draft.aboard.levels
    network = draft.aboard.boat.network
    rows: list[PoleRow] = []
    for strip in draft.allocation.strips:
        for pole in strip.used:
            row = draft.circuit(pole.circuit)
            assert row is not None
            live = next(leg.live for leg in row.planned.plan.legs if leg.id == pole.leg)
            nominal = number(network.voltage(row.planned.source))
            direct = level[row.planned.source] == "battery_direct" and live == "source"
            rows.append(
                PoleRow(
                    strip.id,
                    strip.station,
                    number(strip.rated_a),
                    str(pole.number),
                    row.id,
                    row.planned.label,
                    nominal if direct else "0",
                    nominal,
                )
            )
        rows += [
            PoleRow(strip.id, strip.station, number(strip.rated_a), str(n), "", "free", "", "")
            for n in range(len(strip.used) + 1, strip.poles + 1)
        ]
    return Table("testpoints", "Strips and test points", PoleRow, tuple(rows))


def _spare_cores(draft: Draft) -> list[CapRow]:
    """Return both ends of every core that no conductor takes: it is kept, not cut off."""
    runs = draft.aboard.boat.runs_by_id
    rows: list[CapRow] = []
    for cable in draft.assembled.cables:
        row = draft.circuit(cable.circuit)
        if row is None or not cable.runs:
            continue
        load = draft.aboard.loads[cable.load].station
        last = set(runs[cable.runs[-1]].ends)
        far = last - set(runs[cable.runs[-2]].ends) if len(cable.runs) > 1 else last - {load}
        for core, colour in cable.spare:
            for station in (load, *sorted(far)[:1]):
                rows.append(
                    CapRow(
                        row.planned.label,
                        f"spare core {core}, {colour}",
                        station,
                        cable.stock.gauge,
                        f"{cable.id} core {core} spare {station}",
                        "keep as long as the others, cap, coil, label",
                    )
                )
    return rows


def caps(draft: Draft) -> Table[CapRow]:
    """Return every end that lands nowhere: unused leads, devices to come, spare conductors."""
    rows: list[CapRow] = []
    for load in sorted(draft.aboard.loads.values(), key=lambda x: x.id):
        for lead in load.leads:
            if lead.function == "unused":
                rows.append(
                    CapRow(
                        load.name,
                        f"unused lead {lead.colour}".strip(),
                        load.station,
                        lead.gauge,
                        f"{load.id} unused {lead.colour}".strip(),
                        "insulate alone, label",
                    )
                )
        if load.state == "wired_for_later":
            ends = [
                end
                for w in draft.assembled.wires
                for end in (w.start, w.end)
                if end.kind == "lead" and end.place == load.id
            ]
            rows += [
                CapRow(
                    load.name,
                    f"device end, {end.point}",
                    load.station,
                    "",
                    end.label,
                    "cap for the device to come, label",
                )
                for end in ends
            ]
    for item in draft.spares:
        for index in range(item.spare.count if item.gauge else 0):
            for station in (item.spare.start, item.spare.end):
                label = f"{item.id}.{index + 1} {station}"
                rows.append(
                    CapRow(
                        item.spare.label,
                        "spare conductor",
                        station,
                        str(item.gauge),
                        label,
                        "cap, coil, label",
                    )
                )
    rows += _spare_cores(draft)
    rows += _cut_links(draft)
    return Table("caps", "Ends to cap and label", CapRow, tuple(rows))


def _cut_links(draft: Draft) -> Iterator[CapRow]:
    """Yield both ends of every factory link that is cut: the free lead, and the bare tab's."""
    for fate in link_fates(draft):
        if fate.stays:
            continue
        told = f"{fate.panel.name}, factory link"
        freed = f"cut close to {fate.end.words}, insulate"
        if fate.start.feed:
            feed = fate.start.feed
            verdict = (
                f"long enough to be {feed.id}" if fate.reaches else f"too short to be {feed.id}"
            )
            freed = f"{freed}; {fate.freed_mm:g} mm left, {verdict}"
        for end, to_do in ((fate.start, freed), (fate.end, "insulate, or take off")):
            label = f"{fate.panel.id} {end.words}"
            yield CapRow(told, end.words, fate.panel.station, fate.link.gauge, label, to_do)


WHY_OFF: Final[dict[Reason, str]] = {
    "circuit": "{asked} is left out",
    "switch": "{asked} is left out",
    "tab": "nothing else lands on {asked} any more",
    "gauge": "{asked} is asked for: {rule}; to keep it, overrule the gauge, signed",
    "colour": "{asked} is asked for; to keep it, sleeve both ends and overrule the colour",
    "way": "another way is asked for: {asked}; to keep it, send the circuit its way",
    "ends": "lands on {asked} from now on",
    "spare": "nothing needs it any more",
}
"""Why a conductor comes off, and what keeping it would take."""

MOVES: Final = "landed anew as {wire}"


def _changed_beside(draft: Draft) -> Iterator[ChangeRow]:
    """Yield which bonds and spares stay, are new and come off, where somebody has recorded them."""
    if not draft.beside.is_known:
        return
    onto = draft.aboard.boat.bonded_at
    asked = as_built_beside(draft.bonds, draft.spares, onto)
    new = as_built_beside(draft.beside.bonds, draft.beside.spares, onto)
    missing = {one.id: one.count for one in new}
    for what, found in (("stays", asked), ("new", new), ("comes off", draft.beside.comes_off)):
        for one in found:
            count = one.count - missing.get(one.id, 0) if what == "stays" else one.count
            if count:
                pieces = f"{one.kind}, {count} of them" if count > 1 else one.kind
                ends = (one.start, one.end, number(one.length_mm), pieces)
                yield ChangeRow(what, one.id, "", one.gauge, one.colour, *ends)


def changes(draft: Draft) -> Table[ChangeRow]:
    """Return, for a change order, what stays, moves, is new and comes off."""
    rows: list[ChangeRow] = []
    found = draft.reuse
    landed = {lies.id: wire for wire, lies in found.moved.items()}
    if draft.aboard.order.built:
        for wire in draft.assembled.wires:
            old = found.kept.get(wire.id)
            rows.append(
                ChangeRow(
                    "stays" if old else "moves" if wire.id in found.moved else "new",
                    old.id if old else wire.id,
                    wire.circuit,
                    str(wire.gauge),
                    str(wire.colour),
                    wire.start.words,
                    wire.end.words,
                    number(old.length_mm if old else wire.cut_mm),
                    old.note if old else "",
                )
            )
        rows += [
            ChangeRow(
                "freed" if (b := off.wire).id in landed else "comes off",
                b.id,
                b.circuit,
                b.gauge,
                b.colour,
                b.start,
                b.end,
                number(b.length_mm),
                b.note,
                MOVES.format(wire=landed[b.id])
                if b.id in landed
                else WHY_OFF[off.reason].format(asked=off.asked, rule=off.rule),
            )
            for off in taken_off(draft)
        ]
        rows += [
            ChangeRow(
                "look",
                b.id,
                b.circuit,
                b.gauge,
                b.colour,
                b.start,
                b.end,
                number(b.length_mm) if b.length_mm else "",
                b.note,
            )
            for b in found.unknown
        ]
        rows += _changed_beside(draft)
    return Table("changes", "Changes to the built boat", ChangeRow, tuple(sorted(rows)))
