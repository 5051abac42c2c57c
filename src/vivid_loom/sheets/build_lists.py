"""Lists a harness builder works from: cut list, landings, connectors, labels."""

import re
from collections import defaultdict
from typing import Final

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.assemble import End, Wire
from vivid_loom.drafting.making.terminate import end_steps
from vivid_loom.sheets.schedule import number
from vivid_loom.sheets.table import Table
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.joints import Zone, zone_of

__all__ = [
    "connectors",
    "cut_list",
    "end_procedures",
    "labels",
    "landings",
]

CUT_COLUMNS: Final = (
    "wire_id",
    "circuit_id",
    "harness",
    "gauge",
    "area_mm2",
    "colour",
    "tracer",
    "from_place",
    "from_point",
    "from_termination",
    "from_strip_mm",
    "to_place",
    "to_point",
    "to_termination",
    "to_strip_mm",
    "path",
    "routed_length_mm",
    "cut_length_mm",
    "label_from",
    "label_to",
    "current_a",
    "cable_id",
    "core",
    "from_jaw",
    "to_jaw",
    "device_lead",
    "conductor_state",
    "sleeve",
    "join",
)
LANDING_COLUMNS: Final = (
    "place",
    "point",
    "order",
    "wire_id",
    "terminal",
    "label",
    "expected_off_v",
    "expected_on_v",
)


def _cut_row(wire: Wire, kept: frozenset[str]) -> tuple[str, ...]:
    device = " · ".join(end.device_lead for end in (wire.start, wire.end) if end.device_lead)
    return (
        wire.id,
        wire.circuit,
        wire.harness,
        str(wire.gauge),
        f"{area_mm2(wire.gauge):.3f}",
        wire.colour.base,
        wire.colour.tracer,
        wire.start.place,
        wire.start.point,
        wire.start.termination.kind,
        number(wire.start.termination.strip_mm),
        wire.end.place,
        wire.end.point,
        wire.end.termination.kind,
        number(wire.end.termination.strip_mm),
        ";".join(wire.runs),
        f"{wire.routed_m * 1000:.0f}",
        number(wire.cut_mm),
        wire.start.label,
        wire.end.label,
        f"{wire.current_a:.3f}",
        wire.cable,
        str(wire.core or ""),
        wire.start.termination.jaw,
        wire.end.termination.jaw,
        device,
        "existing" if wire.id in kept else "new",
        wire.sleeve,
        _join(wire),
    )


def _join(wire: Wire) -> str:
    """Say which colours meet where a supplier's tail is joined: told by function."""
    joins = [
        f"harness {wire.colour} ↔ device {end.lead_colour}, {end.point}"
        for end in (wire.start, wire.end)
        if end.kind == "lead" and end.lead_colour
    ]
    return " · ".join(joins)


def cut_list(draft: Draft) -> Table:
    """Return every wire to cut, grouped by harness, then in circuit order."""
    wires = sorted(draft.assembled.wires, key=lambda w: w.harness)
    kept = frozenset(draft.reuse.kept)
    return Table("cutlist", "Cut list", CUT_COLUMNS, tuple(_cut_row(w, kept) for w in wires))


def _expected_v(draft: Draft, wire: Wire) -> tuple[str, str]:
    if wire.live == "return":
        return "0", "0"
    row = draft.circuit(wire.circuit)
    assert row is not None
    level = draft.aboard.levels
    at_battery = level[row.planned.source] == "battery_direct"
    nominal = number(draft.aboard.boat.network.voltage(row.planned.source))
    return (nominal if at_battery and wire.live == "source" else "0"), nominal


def _by_point(draft: Draft) -> dict[tuple[str, str], list[tuple[Wire, End]]]:
    points: dict[tuple[str, str], list[tuple[Wire, End]]] = defaultdict(list)
    for wire in draft.assembled.wires:
        for end in (wire.start, wire.end):
            if end.kind != "plug" and "adhesive" not in end.termination.kind:
                points[(end.place, end.point)].append((wire, end))
    return points


def _in_reading_order(item: tuple[tuple[str, str], object]) -> tuple[tuple[str, int, str], ...]:
    """Sort 'screw 9' before 'screw 10', and 'SW2' before 'SW10'."""

    def key(text: str) -> tuple[str, int, str]:
        match = re.match(r"(\D*)(\d*)(.*)", text)
        assert match is not None
        return match[1], int(match[2] or 0), match[3]

    return tuple(key(text) for text in item[0])


def landings(draft: Draft) -> Table:
    """Return what lands where, largest terminal at the bottom, with the voltages to expect.

    Off: battery switch and every switch off. On: battery switch and the circuit's switch on.
    """
    rows: list[tuple[str, ...]] = []
    for (place, point), ends in sorted(_by_point(draft).items(), key=_in_reading_order):
        stacked = sorted(ends, key=lambda item: (-area_mm2(item[0].gauge), item[0].id))
        for order, (wire, end) in enumerate(stacked, 1):
            off, on = _expected_v(draft, wire)
            kind = end.termination.kind
            rows.append((place, point, str(order), wire.id, kind, end.label, off, on))
    return Table("landing", "Landing list", LANDING_COLUMNS, tuple(rows))


def connectors(draft: Draft) -> Table:
    """Return every cavity of every plug, seen from the wire side."""
    wires = {wire.id: wire for wire in draft.assembled.wires}
    rows: list[tuple[str, ...]] = []
    for plug in draft.assembled.plugs:
        for cavity in plug.cavities:
            first, second = (wires[name] for name in cavity.wires)
            rows.append(
                (
                    plug.id,
                    plug.station,
                    f"{plug.ways}-way size {plug.contact}",
                    plug.key,
                    plug.live,
                    plug.dead,
                    str(cavity.number),
                    cavity.circuit,
                    first.id,
                    second.id,
                    str(first.gauge),
                    str(first.colour),
                )
            )
        rows.extend(
            (
                plug.id,
                plug.station,
                f"{plug.ways}-way size {plug.contact}",
                plug.key,
                plug.live,
                plug.dead,
                str(number),
                "",
                "sealing plug",
                "sealing plug",
                "",
                "",
            )
            for number in range(len(plug.cavities) + 1, plug.ways + 1)
        )
    columns = (
        "plug",
        "station",
        "shell",
        "key",
        "socket_harness",
        "pin_harness",
        "cavity",
        "circuit_id",
        "wire_id",
        "mates_with",
        "gauge",
        "colour",
    )
    return Table("connectors", "Connectors", columns, tuple(rows))


def labels(draft: Draft) -> Table:
    """Return every label to print, two for each wire."""
    rows = [
        (end.label, wire.id, side, wire.harness, end.place, end.point)
        for wire in sorted(draft.assembled.wires, key=lambda w: w.harness)
        for side, end in (("from", wire.start), ("to", wire.end))
    ]
    return Table(
        "labels", "Labels", ("label", "wire_id", "end", "harness", "place", "point"), tuple(rows)
    )


def end_procedures(draft: Draft) -> Table:
    """Return the steps of each kind of end, in the order a builder does them."""
    profile = draft.aboard.profile
    where = draft.aboard.boat.area_at
    ends: set[tuple[str, Zone, str, float]] = set()
    for wire in draft.assembled.wires:
        for end in (wire.start, wire.end):
            done = end.termination
            area = where[end.station]
            lives = zone_of(area.water, engine_heat=area.engine_heat)
            ends.add((done.kind, lives, done.jaw, done.strip_mm))
    rows = []
    for kind, zone, jaw, strip in sorted(ends):
        steps = end_steps(
            kind,
            grease=profile.grease,
            shrink_now=profile.shrink == "at_once",
            joint=profile.joint,
            zone=zone,
        )
        rows.append((kind, zone, jaw, number(strip), " → ".join(steps)))
    columns = ("end", "zone", "jaw", "strip_mm", "steps")
    return Table("ends", "Steps of each end", columns, tuple(rows))
