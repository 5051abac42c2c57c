"""Rules about the way wires take: what they pass, what they lie in, where they end."""

import math
from collections import defaultdict
from collections.abc import Iterator
from itertools import combinations
from typing import NamedTuple

from vivid_loom.boat import Run
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.drafting.making.plugs import Plug, Reach
from vivid_loom.standards.conduit import (
    CLEARANCE_MM,
    CLEARANCE_SOURCE,
    FILL_SOURCE,
    fill_limit_percent,
)
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = ["RULES", "Fill", "fill_of"]

TOO_NEAR = FindingKind(
    "R01",
    "error",
    "run too near to what it passes",
    "Run {it} passes {what} at {distance} mm; wires keep {least} mm clear.",
    "Move the run, or shield it and measure the distance again.",
    CLEARANCE_SOURCE,
)
COMPASS = FindingKind(
    "R02",
    "judge",
    "wires near a compass",
    "Run {it} passes the compass at {distance} mm: within {least} mm only twisted pairs go.",
    "Twist the pairs here, or move the run.",
    CLEARANCE_SOURCE,
)
OVERFULL = FindingKind(
    "R03",
    "error",
    "conduit too full",
    "Run {it}: {count} wires take {fill} % of its {bore} mm conduit, {limit} % is allowed.",
    "Fit a wider conduit, or send circuits another way.",
    FILL_SOURCE,
)
NO_GROWTH = FindingKind(
    "R04",
    "judge",
    "no room for growth",
    "Run {it}: its {bore} mm bore leaves less than the {growth} % room the profile asks for.",
    "Fit a wider one now, or lay a spare conductor and a pull line.",
    OUR_CHOICE,
)
IDLE_WAY = FindingKind(
    "R05",
    "note",
    "way of a circuit that is not aboard",
    "Circuit {it} is sent by way of {stations}, and is not aboard.",
    "Nothing, or take the way out.",
    OUR_CHOICE,
)
ALIKE = FindingKind(
    "R06",
    "error",
    "plugs that can be swapped",
    "{plugs} reach each other and are {ways}-way with key {key}: they will be swapped ({station}).",
    "Let circuits share a plug, or send some of them by way of another station.",
    Source("common practice", "no two plugs alike side by side", "no source"),
)
SAGGING = FindingKind(
    "R07",
    "error",
    "supports too far apart",
    "Run {it} is supported every {spacing} mm; {least} mm is the most.",
    "Add clamps or ties.",
    Source("33 CFR 183.445", "conductors: supports at most 18 in apart", "from memory"),
)
HEAVY_SAG = FindingKind(
    "R08",
    "judge",
    "battery conductors supported too far apart",
    "Run {it} carries feeder {feeder} and is supported every {spacing} mm; 300 mm is asked for.",
    "Clamp battery conductors every 300 mm, the first within 1 m of the battery.",
    Source("ISO 13297", "supports of battery conductors", "from memory"),
)
MAINS_BESIDE = FindingKind(
    "R09",
    "error",
    "mains in a DC run",
    "{name} lies in run {it} beside {count} DC conductors.",
    "Give mains a conduit and a way of its own; it belongs to licensed people.",
    Source("ABYC E-11", "AC and DC conductors kept apart", "from memory"),
)
DATA_BESIDE = FindingKind(
    "R10",
    "note",
    "data beside power",
    "{name} lies in run {it} beside {feeder}, a heavy circuit.",
    "Lead data and antennas another way, or cross at right angles.",
    Source("common practice", "data and power kept apart", "no source"),
)
FALLS_SHORT = FindingKind(
    "R11",
    "judge",
    "recorded lead falls short",
    "{name} comes with {comes} m and takes {needs} m: {tail}.",
    "Order it longer, or have the joint where a hand reaches it; a lead of mains is for licensed "
    "people.",
    OUR_CHOICE,
)
HEAVY_A = 60.0  # a circuit from here up disturbs; our choice
SUPPORT_MM = 457.2  # 18 in
HEAVY_SUPPORT_MM = 300.0
LOOM_FULL = 78.0  # % of a loom's bore that round wires can take at best; our choice


class Fill(NamedTuple):
    """How full a bore is, and how full it may be, in % of its area."""

    percent: float
    limit: float


def fill_of(draft: Draft, run: Run, bore_mm: float) -> Fill | None:
    """Return how full a run would be with a bore; None where nothing lies in it or it is open."""
    inside = draft.occupants.get(run.id, ())
    if not inside or run.enclosure == "open":
        return None
    limit = fill_limit_percent(len(inside)) if run.enclosure == "conduit" else LOOM_FULL
    return Fill(100 * sum(o.diameter_mm**2 for o in inside) / bore_mm**2, limit)


def _clearances(draft: Draft) -> Iterator[Finding]:
    used = {run for wire in draft.assembled.wires for run in wire.runs}
    twisted = {cable.id for cable in draft.assembled.cables if cable.stock.twisted}
    for run in draft.aboard.boat.runs:
        for near in run.near:
            least = CLEARANCE_MM[near.what]
            if run.id not in used or near.distance_mm >= least:
                continue
            inside = draft.occupants.get(run.id, ()) if near.what == "compass" else ()
            if near.what == "compass" and all(o.wire in twisted for o in inside):
                continue
            kind = COMPASS if near.what == "compass" else TOO_NEAR
            told = words(what=near.what, distance=f"{near.distance_mm:g}", least=f"{least:g}")
            yield Finding(kind, (run.id,), told)


def _fill(draft: Draft) -> Iterator[Finding]:
    growth = draft.aboard.profile.growth_percent
    for run in draft.aboard.boat.runs:
        filled = fill_of(draft, run, run.bore_mm) if run.bore_mm else None
        if filled is None or run.bore_mm is None:
            continue
        bore = f"{run.bore_mm:g}"
        if filled.percent > filled.limit:
            # never printed as what is allowed
            exact = math.ceil(100 * filled.percent) / 100
            told = words(
                count=len(draft.occupants[run.id]),
                fill=f"{exact:.2f}" if exact < filled.limit + 1 else f"{exact:.0f}",
                bore=bore,
                limit=f"{filled.limit:g}",
            )
            yield Finding(OVERFULL, (run.id,), told)
        elif filled.percent * (1 + growth / 100) > filled.limit:
            yield Finding(NO_GROWTH, (run.id,), words(bore=bore, growth=f"{growth:g}"))


def _idle_ways(draft: Draft) -> Iterator[Finding]:
    for via in draft.aboard.order.ways:
        if draft.circuit(via.circuit) is None:
            yield Finding(IDLE_WAY, (via.circuit,), words(stations=", ".join(via.stations)))


def _plugs_alike(draft: Draft) -> Iterator[Finding]:
    """Two plugs of one shell and key whose halves reach each other will be swapped."""
    boat = draft.aboard.boat
    reach = Reach(boat.stations, boat.runs, draft.aboard.profile)
    alike: dict[tuple[int, int, str], list[Plug]] = defaultdict(list)
    for plug in draft.assembled.plugs:
        alike[plug.contact, plug.ways, plug.key].append(plug)
    for first, second in (pair for plugs in alike.values() for pair in combinations(plugs, 2)):
        if reach.meet(first.station, second.station):
            at = " and ".join(dict.fromkeys((first.station, second.station)))
            told = words(
                plugs=f"{first.id} and {second.id}", ways=first.ways, key=first.key, station=at
            )
            yield Finding(ALIKE, (first.id, second.id), told)


def _supports(draft: Draft) -> Iterator[Finding]:
    """Runs are held often enough; conduit holds its own."""
    usual = draft.aboard.profile.tie_spacing_mm
    heavy = {run.id: row.id for row in draft.feeders for path in row.paths for run in path.runs}
    used = {run for wire in draft.assembled.wires for run in wire.runs}
    for run in draft.aboard.boat.runs:
        if run.id not in used or run.enclosure == "conduit":
            continue
        spacing = run.support_mm or usual
        if spacing > SUPPORT_MM:
            told = words(spacing=f"{spacing:g}", least=f"{SUPPORT_MM:g}")
            yield Finding(SAGGING, (run.id,), told)
        elif run.id in heavy and spacing > HEAVY_SUPPORT_MM:
            yield Finding(HEAVY_SAG, (run.id,), words(feeder=heavy[run.id], spacing=f"{spacing:g}"))


def _recorded(draft: Draft) -> Iterator[Finding]:
    """Mains keeps to itself; data and antennas keep away from heavy circuits."""
    inside = draft.occupants
    heavy = {row.id for row in draft.rows if row.sized and row.sized.current_a >= HEAVY_A}
    circuits = {row.id for row in draft.rows}
    for item in draft.recorded:
        for passed in item.path.runs:
            others = [o for o in inside[passed.id] if o.wire != item.id]
            dc = [o for o in others if o.circuit in circuits]
            if item.record.kind == "mains" and dc:
                told = words(name=item.record.name, count=len(dc))
                yield Finding(MAINS_BESIDE, (passed.id, item.id), told)
            strong = sorted({o.circuit for o in dc if o.circuit in heavy})
            if item.record.kind in ("coax", "data") and strong:
                told = words(name=item.record.name, feeder=strong[0])
                yield Finding(DATA_BESIDE, (passed.id, item.id), told)


def _recorded_leads(draft: Draft) -> Iterator[Finding]:
    """What comes with a length reaches, or is continued where a hand finds the joint."""
    stations = draft.aboard.boat.stations_by_id
    for item in draft.recorded:
        if not item.falls_short:
            continue
        tails = [piece for piece in item.pieces if piece.kind == "extension tail"]
        whole = len(item.pieces) == 1
        tail = (
            "no station for a joint lies within its reach"
            if whole
            else "an extension tail of "
            + " and ".join(f"{p.length_m:.1f} m" for p in tails)
            + f", joined at {' and '.join(stations[p.end].name for p in item.pieces[:-1])}"
        )
        told = words(
            name=item.record.name,
            comes=f"{item.record.comes_m:.1f}",
            needs=f"{item.needs_m:.1f}",
            tail=tail,
        )
        yield Finding(FALLS_SHORT, (item.id,), told)


RULES = (_clearances, _fill, _idle_ways, _plugs_alike, _supports, _recorded, _recorded_leads)
