"""Every row of every demo packet reckoned again: own tables, own rules, own nodal solution.

The order with planted mistakes is reckoned like the others: its figures are right, and what is
wrong with it stands in its findings. Drops are solved again in test_nodal.
"""

import itertools
import math
from collections import defaultdict

import networkx as nx
import pytest

from tests.checker import FREE_AIR_A, MADE, Row, legs_of, lies_with, read
from tests.outside.test_faults import nodal_far_end_a
from vivid_loom.drafting import Draft
from vivid_loom.sheets import packet_files
from vivid_loom.standards.conductor import area_mm2

ENGINE_SPACE = {"AWG": 0.85, "mm²": 0.86}  # 33 CFR 183.425 note; ISO 13297 annex A, at 105 °C
BUNDLE = {
    "ABYC": ((25, 0.4), (7, 0.5), (4, 0.6), (3, 0.7)),  # ABYC E-11
    "ISO": ((25, 0.5), (7, 0.6), (4, 0.7)),  # ISO 13297, from memory
}
LOADED_ABOVE = 0.3  # of what the wire bears in free air
COPPER_K = 226 * math.sqrt(math.log((234.5 + 160) / (234.5 + 105)))  # IEC 60364-5-54, 105 → 160 °C


@pytest.fixture(scope="module")
def sheets(any_draft: Draft) -> dict[str, list[Row]]:
    wanted = frozenset({"schedule", "cutlist"})
    return {name: read(data) for name, data in packet_files(any_draft, wanted).items()}


def _sized(sheets: dict[str, list[Row]]) -> list[Row]:
    return [row for row in sheets["schedule.csv"] if row["gauge"]]


def _heat(gauge: str, runs: set[str], done: Draft) -> float:
    """Return the factor of the hottest place on the way: engine space, or ambient elsewhere."""
    areas = {area.id: area for area in done.aboard.boat.areas}
    worst = 1.0
    for run in done.aboard.boat.runs:
        if run.id not in runs:
            continue
        area = areas[run.area]
        if area.engine_heat:
            worst = min(worst, ENGINE_SPACE[gauge.split()[1]])
        else:
            worst = min(worst, math.sqrt((105 - area.ambient_c) / (105 - 30)))
    return worst


def _derating(done: Draft, sheets: dict[str, list[Row]]) -> dict[str, float]:
    """Count the loaded conductors of every loom and conduit again, and what each makes of it."""
    boat = done.aboard.boat
    closed = {run.id: run.length_m for run in boat.runs if run.enclosure != "open"}
    rows = {row["circuit_id"]: row for row in _sized(sheets)}
    carries: dict[str, float] = defaultdict(float)
    ways: dict[str, set[str]] = defaultdict(set)
    wires: dict[str, list[set[str]]] = defaultdict(list)
    for wire in sheets["cutlist.csv"]:
        name, runs = wire["circuit_id"], set(filter(None, wire["path"].split(";")))
        carries[name] = max(carries[name], float(wire["current_a"]))
        ways[name] |= runs
        wires[name].append(runs & set(closed))
    feeder = {name for name, row in rows.items() if row["pattern"] == "feeder"}
    loaded = set()
    for name, row in rows.items():
        amps = carries[name] if name in feeder else float(row["current_a"])
        if amps > LOADED_ABOVE * FREE_AIR_A[row["gauge"]]:
            loaded.add(name)
    inside: dict[str, int] = defaultdict(int)
    for name in loaded:
        for runs in wires[name]:
            for run in runs:
                inside[run] += 1
    legs = legs_of(sheets["cutlist.csv"])
    found = {}
    for name, row in rows.items():
        factor = _heat(row["gauge"], ways[name], done)
        if name in loaded:
            most = lies_with(legs[name], inside, closed)
            steps = BUNDLE[done.aboard.profile.school]
            factor *= next((share for least, share in steps if most >= least), 1.0)
        found[name] = factor
    return found


def test_every_ampacity(any_draft: Draft, sheets: dict[str, list[Row]]) -> None:
    """33 CFR 183.425 table 5 and ISO 13297 annex A, by heat and by what lies in the same run."""
    profile = any_draft.aboard.profile
    assert profile.insulation_c == 105 and profile.bundling == "loaded"
    derating = _derating(any_draft, sheets)
    for row in _sized(sheets):
        name, share = row["circuit_id"], derating[row["circuit_id"]]
        assert float(row["derating"]) == pytest.approx(share, abs=6e-4), name
        bears = FREE_AIR_A[row["gauge"]] * share
        assert float(row["ampacity_a"]) == pytest.approx(bears, abs=6e-3), name


def test_every_device_is_made_and_suits_load_and_wire(
    any_draft: Draft, sheets: dict[str, list[Row]]
) -> None:
    """Above the load; at most what the wire bears; a rating somebody makes."""
    open_ = {s for f in any_draft.findings if f.severity == "error" for s in f.subjects}
    alone = {row.id for row in any_draft.feeders if row.planned.request is None}
    relays = {s.id for s in any_draft.aboard.boat.supplies if s.kind == "combining_relay"}
    ties = {row.id for row in any_draft.feeders if row.planned.feeds in relays}
    for row in _sized(sheets):
        name, rating = row["circuit_id"], float(row["protection_rating_a"] or 0)
        if not rating or name in open_:
            continue
        made = MADE.get(row["protection_type"])
        assert made is None or rating in made, name
        assert rating <= float(row["ampacity_a"]) + 1e-6, name
        least = 1.25 if name in alone else 1.0  # a feeder; a maker may set a circuit's own
        if name in ties:
            least = 1.0  # a combining relay's contact is its own limit
        assert rating >= least * float(row["current_a"]) - 1e-6, name


def _fed(done: Draft) -> "nx.DiGraph[str]":
    """Return what feeds what, combining relays open."""
    graph: nx.DiGraph[str] = nx.DiGraph()
    for feeder in done.aboard.boat.network.feeders.values():
        if feeder.feed and feeder.supply and feeder.supply.kind != "combining_relay":
            graph.add_edge(feeder.feed.source, feeder.supply.id)
    return graph


def test_every_feeder_bears_its_worksheet(any_draft: Draft, sheets: dict[str, list[Row]]) -> None:
    """ABYC E-11: A-loads, and of the B-loads a tenth or the largest; spares likewise.

    By another route: the loads behind a feeder are those a graph of the schedule reaches.
    """
    boat, network = any_draft.aboard.boat, any_draft.aboard.boat.network
    graph = _fed(any_draft)
    spare = max(0, boat.positions - len(any_draft.allocation.positions))
    checked = 0
    for row in any_draft.feeders:
        feeder = network.feeders[row.id]
        if feeder.supply is None or feeder.supply.kind in ("charge_source", "combining_relay"):
            continue
        below = {feeder.supply.id, *nx.descendants(graph, feeder.supply.id)}
        if any(s.output_v or s.kind == "converter" for s in boat.supplies if s.id in below):
            continue  # amps of another voltage
        if any(s.kind == "charge_source" for s in boat.supplies):
            charges = {
                f.source for s in boat.supplies for f in s.feeds if s.kind == "charge_source"
            }
            if charges & below:
                continue
        sums = {"A": 0.0, "B": 0.0}
        largest = 0.0
        for circuit in any_draft.circuits:
            if circuit.planned.source not in below or circuit.planned.guard:
                continue  # what hangs on an instrument is the instrument's
            loads = circuit.planned.drawing(any_draft.aboard.loads)
            amps = [load.running_a or 0.0 for load in loads]
            for load, a in zip(loads, amps, strict=True):
                sums[load.demand] += a
            b = [a for load, a in zip(loads, amps, strict=True) if load.demand == "B"]
            largest = max(largest, sum(b))  # all of one circuit may be on
        plain = sums["A"] + max(0.1 * sums["B"], largest)
        helm = any_draft.needs[row.id].out.spare_sum_a
        allowance = any_draft.aboard.profile.spare_allowance_a if spare and helm else 0.0
        extra = max(0.1 * spare * allowance, allowance) if allowance else 0.0
        assert row.sized is not None
        assert row.sized.current_a == pytest.approx(plain + extra, rel=1e-6), row.id
        checked += 1
    assert checked > 1


def test_every_far_end_short(any_draft: Draft) -> None:
    """The whole network of conductors solved for each circuit; the least over the batteries."""
    boat = any_draft.aboard.boat
    graph, checked = _fed(any_draft), 0
    for row in any_draft.circuits:
        if row.fault is None or not row.planned.bus or row.planned.guard or row.planned.stub_m:
            continue
        if boat.network.regulated(row.planned.source):
            continue  # a converter limits what is behind it
        feeding = {row.planned.source, *nx.ancestors(graph, row.planned.source)}
        sources = [battery for battery in boat.batteries if battery.id in feeding]
        least = min(nodal_far_end_a(any_draft, row.id, battery) for battery in sources)
        assert row.fault.far_a == pytest.approx(least, rel=1e-6), row.id
        checked += 1
    assert checked > 10


def test_every_wire_outlasts_its_blade(any_draft: Draft) -> None:
    """I²t of the slow edge of ISO 8820-3 against k²S² of IEC 60364-5-54, at the far end's short."""
    gates = ((1.35, 1800.0), (1.6, 50.0), (2.0, 5.0), (3.5, 0.5), (6.0, 0.1))
    open_ = {s for f in any_draft.findings for s in f.subjects}
    checked = 0
    for row in any_draft.circuits:
        held = row.sized.protection if row.sized else None
        if row.fault is None or held is None or row.planned.family != "blade fuse":
            continue
        if row.id in open_ and any_draft.aboard.order.hull == "0423":
            continue
        multiple = row.fault.far_a / held.value
        assert multiple > 1.35, row.id
        slow_s = gates[-1][1]
        for (m0, t0), (m1, t1) in itertools.pairwise(gates):
            if m0 <= multiple < m1:
                share = math.log(multiple / m0) / math.log(m1 / m0)
                slow_s = t0 * (t1 / t0) ** share
        assert slow_s <= 5.0 + 1e-9, row.id
        assert row.sized is not None
        area = area_mm2(row.sized.gauge.value)
        melts_a = min(row.fault.far_a, 6 * held.value)  # beyond, I²t stays (common practice)
        let = melts_a**2 * slow_s
        assert let <= (COPPER_K * area) ** 2 * 1.02, row.id
        checked += 1
    assert checked > 5
