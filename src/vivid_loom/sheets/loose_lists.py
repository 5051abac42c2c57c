"""Lists of what lands nowhere or lies there already: spares, ends to cap, changes."""

from vivid_loom.drafting import Draft
from vivid_loom.sheets.schedule import number
from vivid_loom.sheets.table import Table

__all__ = ["bonding", "caps", "changes", "recorded", "spares", "test_points"]


def spares(draft: Draft) -> Table:
    """Return spare conductors and pull lines, one row a piece; capped and labelled."""
    rows = tuple(
        (
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
    columns = (
        "spare_id",
        "kind",
        "label",
        "gauge",
        "colour",
        "from_station",
        "to_station",
        "path",
        "cut_length_mm",
    )
    return Table("spares", "Spare conductors and pull lines", columns, rows)


def bonding(draft: Draft) -> Table:
    """Return every bonding conductor, one row each."""
    rows = tuple(
        (
            bond.id,
            bond.bond.name,
            str(bond.gauge),
            str(bond.colour),
            bond.bond.station,
            bond.ends[0].kind,
            draft.aboard.boat.bonding_station or draft.aboard.boat.battery.station,
            bond.ends[1].kind,
            ";".join(run.id for run in bond.path.runs),
            number(bond.cut_mm),
        )
        for bond in draft.bonds
    )
    columns = (
        "bond_id",
        "part",
        "gauge",
        "colour",
        "from_station",
        "from_termination",
        "to_station",
        "to_termination",
        "path",
        "cut_length_mm",
    )
    return Table("bonding", "Bonding conductors", columns, rows)


def recorded(draft: Draft) -> Table:
    """Return systems that are recorded and not sized: mains, coax, data, engine looms."""
    rows = tuple(
        (
            item.id,
            item.record.kind,
            item.record.name,
            str(item.colour),
            item.record.start,
            item.record.end,
            ";".join(run.id for run in item.path.runs),
            f"{item.path.length_m * 1000:.0f}",
            *item.labels,
        )
        for item in draft.recorded
    )
    columns = (
        "record_id",
        "kind",
        "name",
        "colour",
        "from_station",
        "to_station",
        "path",
        "routed_length_mm",
        "label_from",
        "label_to",
    )
    return Table("recorded", "Recorded, not sized here", columns, rows)


def test_points(draft: Draft) -> Table:
    """Return the strips' poles: where a probe finds each circuit, and what it should read."""
    level = draft.aboard.levels
    network = draft.aboard.boat.network
    rows: list[tuple[str, ...]] = []
    for strip in draft.allocation.strips:
        for pole in strip.used:
            row = draft.circuit(pole.circuit)
            assert row is not None
            live = next(leg.live for leg in row.planned.plan.legs if leg.id == pole.leg)
            nominal = number(network.voltage(row.planned.source))
            direct = level[row.planned.source] == "battery_direct" and live == "source"
            rows.append(
                (
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
            (strip.id, strip.station, number(strip.rated_a), str(n), "", "free", "", "")
            for n in range(len(strip.used) + 1, strip.poles + 1)
        ]
    columns = (
        "strip",
        "station",
        "pole_rated_a",
        "pole",
        "circuit_id",
        "label",
        "expected_off_v",
        "expected_on_v",
    )
    return Table("testpoints", "Strips and test points", columns, tuple(rows))


def _spare_cores(draft: Draft) -> list[tuple[str, ...]]:
    """Return both ends of every core that no conductor takes: it is kept, not cut off."""
    runs = draft.aboard.boat.runs_by_id
    rows: list[tuple[str, ...]] = []
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
                    (
                        row.planned.label,
                        f"spare core {core}, {colour}",
                        station,
                        cable.stock.gauge,
                        f"{cable.id} core {core} spare {station}",
                        "keep as long as the others, cap, coil, label",
                    )
                )
    return rows


def caps(draft: Draft) -> Table:
    """Return every end that lands nowhere: unused leads, devices to come, spare conductors."""
    rows: list[tuple[str, ...]] = []
    for load in sorted(draft.aboard.loads.values(), key=lambda x: x.id):
        for lead in load.leads:
            if lead.function == "unused":
                rows.append(
                    (
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
                (
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
                    (
                        item.spare.label,
                        "spare conductor",
                        station,
                        str(item.gauge),
                        label,
                        "cap, coil, label",
                    )
                )
    rows += _spare_cores(draft)
    columns = ("what", "end", "station", "gauge", "label", "to_do")
    return Table("caps", "Ends to cap and label", columns, tuple(rows))


def changes(draft: Draft) -> Table:
    """Return, for a change order, what stays, what is new and what comes off."""
    rows: list[tuple[str, ...]] = []
    if draft.aboard.order.built:
        for wire in draft.assembled.wires:
            old = draft.reuse.kept.get(wire.id)
            rows.append(
                (
                    "stays" if old else "new",
                    old.id if old else wire.id,
                    wire.circuit,
                    str(wire.gauge),
                    str(wire.colour),
                    f"{wire.start.place} {wire.start.point}",
                    f"{wire.end.place} {wire.end.point}",
                    number(old.length_mm if old else wire.cut_mm),
                    old.note if old else "",
                )
            )
        rows += [
            (
                "comes off",
                b.id,
                b.circuit,
                b.gauge,
                b.colour,
                b.start,
                b.end,
                number(b.length_mm),
                b.note,
            )
            for b in draft.reuse.comes_off
        ]
    columns = (
        "what",
        "wire_id",
        "circuit_id",
        "gauge",
        "colour",
        "from",
        "to",
        "length_mm",
        "note",
    )
    return Table("changes", "Changes to the built boat", columns, tuple(sorted(rows)))
