"""Branches, plugs and joints as they are printed, read by a reader of its own."""

import csv
import dataclasses
import io
import itertools
import math
import re
from collections import defaultdict

import pytest

from tests.changes import Setup, drafted
from vivid_loom.boat import Boat, Run, Swing
from vivid_loom.drafting import Draft
from vivid_loom.order import Order, Via
from vivid_loom.sheets import packet_files
from vivid_loom.sheets.drawings.board_drawing import harness_boards
from vivid_loom.workshop.harness.tree import harness_trees

Row = dict[str, str]
PARTS = frozenset({"cutlist", "branches", "connectors", "joints"})


@pytest.fixture(scope="module")
def read(any_draft: Draft) -> dict[str, list[Row]]:
    return read_tables(any_draft)


def read_tables(done: Draft) -> dict[str, list[Row]]:
    return {
        name.removesuffix(".csv"): list(csv.DictReader(io.StringIO(data.decode())))
        for name, data in packet_files(done, PARTS).items()
    }


def test_every_wire_lies_in_branches_that_add_up_to_its_way(read: dict[str, list[Row]]) -> None:
    """Branches of a wire sum to its routed length; tails, strips and those to its cut length."""
    along: dict[str, float] = defaultdict(float)
    tails: dict[str, list[float]] = defaultdict(list)
    for row in read["branches"]:
        for wire in row["wire_ids"].split(";"):
            if row["kind"] == "branch":
                along[wire] += float(row["length_mm"])
            else:
                tails[wire].append(float(row["length_mm"]))
    measured = 0
    for row in read["cutlist"]:
        wire = row["wire_id"]
        if row["path"]:
            assert along[wire] == pytest.approx(float(row["routed_length_mm"]), abs=1), wire
            assert len(tails[wire]) in (1, 2), wire  # one peg where both ends meet the same
            measured += 1
        if len(tails[wire]) == 2:
            strips = float(row["from_strip_mm"]) + float(row["to_strip_mm"])
            least = float(row["routed_length_mm"]) + sum(tails[wire]) + strips
            assert float(row["cut_length_mm"]) >= least - 1, wire
    assert measured > 20


def test_each_branch_begins_where_another_ends(any_draft: Draft) -> None:
    for assembly in any_draft.aboard.boat.assemblies:
        for tree in harness_trees(any_draft, assembly):
            reached = {tree.datum: 0.0}
            for branch in tree.branches:
                assert branch.start_mm == pytest.approx(reached[branch.near])
                if not branch.closes:
                    assert branch.far not in reached
                    reached[branch.far] = branch.start_mm + branch.length_mm
            assert set(reached) == set(tree.stations)
            here = {branch.id: set(branch.wires) for branch in tree.branches}
            for wire in tree.wires:
                assert {run for run, wires in here.items() if wire.id in wires} == set(wire.runs)


def test_a_moving_joints_slack_is_part_of_its_branch(boat: Boat, order: Order) -> None:
    swing = Swing(fixed_m=0.3, moving_m=0.25, sweep_deg=70)
    runs = tuple(
        dataclasses.replace(run, swing=swing) if run.id == "H02" else run for run in boat.runs
    )
    done = drafted(Setup(dataclasses.replace(boat, runs=runs), order))
    branch = next(row for row in read_tables(done)["branches"] if row["branch"] == "H02")
    measured = next(run.length_m for run in boat.runs if run.id == "H02")
    assert swing.slack_m > 0.01
    assert float(branch["length_mm"]) == pytest.approx(1000 * (measured + swing.slack_m), abs=1)
    assert "slack at the moving joint" in branch["remark"]


def test_wires_of_each_section_drop_away_along_a_branch(full: Draft) -> None:
    """What goes into a station comes out of it: by other branches, or to an end there."""
    (hull,) = harness_trees(full, full.aboard.boat.assemblies[0])
    for station in hull.stations:
        passing = [b for b in hull.branches if station in (b.near, b.far)]
        ends = {e.wire.id for b in hull.breakouts if b.station == station for e in b.ends}
        for branch in passing:
            onward = {w for other in passing if other.id != branch.id for w in other.wires}
            assert set(branch.wires) <= onward | ends


def test_a_ring_is_laid_open_at_one_end(boat: Boat, order: Order) -> None:
    """One circuit sent the other way round closes a ring: its last branch hangs on one station."""
    between = ("transom", "aft_arch_s")
    area = boat.stations_by_id["transom"].area
    short = Run(id="H99", ends=between, length_m=0.4, harness="hull", area=area)
    order = dataclasses.replace(
        order, ways=(*order.ways, Via(circuit="C07", stations=("transom",)))
    )
    done = drafted(Setup(dataclasses.replace(boat, runs=(*boat.runs, short)), order))
    trees = [t for a in done.aboard.boat.assemblies for t in harness_trees(done, a)]
    closing = [(t, b) for t in trees for b in t.branches if b.closes]
    assert closing
    for tree, branch in closing:
        assert {branch.near, branch.far} <= set(tree.stations)
    used = {run for wire in done.assembled.wires for run in wire.runs}
    assert used == {branch.id for tree in trees for branch in tree.branches}
    boards = [b for a in done.aboard.boat.assemblies for b in harness_boards(done, a)]
    laid = {branch.id for board in boards for branch in board.plan.branches}
    assert {branch.id for _, branch in closing} <= laid


def test_halves_of_a_plug_fit_each_other(read: dict[str, list[Row]]) -> None:
    """Both halves have every cavity once; sockets meet pins, and the same circuit on both sides."""
    halves: dict[tuple[str, str], dict[str, Row]] = defaultdict(dict)
    for row in read["connectors"]:
        half = halves[row["plug"], row["harness"]]
        assert row["cavity"] not in half
        half[row["cavity"]] = row
    cut = {row["wire_id"]: row for row in read["cutlist"]}
    plugs = {plug for plug, _ in halves}
    assert len(halves) == 2 * len(plugs)
    for plug in plugs:
        one, other = (half for (name, _), half in halves.items() if name == plug)
        assert set(one) == set(other) == {str(n) for n in range(1, int(one["1"]["ways"]) + 1)}
        for number, row in one.items():
            mate = other[number]
            assert {row["gender"], mate["gender"]} == {"socket", "pin"}
            assert (row["mates_with"], mate["mates_with"]) == (mate["wire_id"], row["wire_id"])
            if not row["wire_id"]:
                assert row["seal"] == mate["seal"] == "sealing plug"
                continue
            for side in (row, mate):
                wire = cut[side["wire_id"]]
                assert side["contact"].startswith(side["gender"])
                assert wire["harness"] == side["harness"]
                assert side["gauge"] == wire["gauge"]
                points = {(wire[f"{e}_place"], wire[f"{e}_point"]) for e in ("from", "to")}
                assert (plug, f"cavity {number}") in points


def test_no_two_plugs_alike_reach_each_other(any_draft: Draft, read: dict[str, list[Row]]) -> None:
    """Halves hang free from the last support and by their tails: 300 + 80 mm on each side."""
    at = {s.id: (s.x_m, s.y_m, s.z_m) for s in any_draft.aboard.boat.stations}
    profile = any_draft.aboard.profile
    free_m = 2 * (profile.tie_spacing_mm + profile.tail_mm) / 1000
    plugs = {
        row["plug"]: (row["family"], row["ways"], row["key"], row["station"])
        for row in read["connectors"]
    }
    near = 0
    for (_, one), (_, other) in itertools.combinations(plugs.items(), 2):
        if math.dist(at[one[3]], at[other[3]]) <= free_m:
            near += one[3] != other[3]
            assert one[:3] != other[:3], (one, other)
    if any_draft.aboard.order.hull in ("1102", "1104"):
        assert near  # two stations there lie within reach of each other


def test_a_joint_lists_what_its_wires_say(read: dict[str, list[Row]]) -> None:
    """Members of a joint name each other on the cut list; a tail stands where there is one."""
    cut = {row["wire_id"]: row for row in read["cutlist"]}
    met: dict[str, list[Row]] = defaultdict(list)
    for row in read["joints"]:
        met[row["joint"]].append(row)
    assert met
    for rows in met.values():
        wires = [row for row in rows if row["member"] != "device tail"]
        assert wires and len(rows) - len(wires) <= 1
        for row in wires:
            wire = cut[row["member"]]
            side = next(
                s
                for s in ("from", "to")
                if (wire[f"{s}_place"], wire[f"{s}_point"]) == (row["place"], row["point"])
            )
            others = {r["member"] for r in wires} - {row["member"]}
            told = set(filter(None, wire[f"{side}_mates"].split(";")))
            assert told == others
            assert row["terminal"] == wire[f"{side}_termination"]
            assert row["recipe"] == wire[f"{side}_recipe"]


def test_a_harness_comes_off_whole(any_draft: Draft, read: dict[str, list[Row]]) -> None:
    """Whatever lands on one bus, block, strip or switch is of one harness: the others end at
    plugs beside it, so that nothing is left to be unscrewed there. Heavy feeders apart.
    """
    runs = any_draft.aboard.boat.runs_by_id
    on: dict[str, set[str]] = defaultdict(set)
    landed = 0
    for wire in read["cutlist"]:
        harnesses = {runs[name].harness for name in wire["path"].split(";") if name}
        if wire["circuit_id"].startswith("F") or len(harnesses) > 1:
            continue
        for side in ("from", "to"):
            place, point = wire[f"{side}_place"], wire[f"{side}_point"]
            if re.match(r"(way|pole|screw|\d)", point):
                on[place].add(wire["harness"])
                landed += 1
    assert landed > 40
    assert {place: found for place, found in on.items() if len(found) > 1} == {}
    if any_draft.aboard.order.hull in ("1102", "1104"):  # they have a roof on the helm's station
        roof = [w for w in read["cutlist"] if w["harness"] == "hardtop"]
        ends = {w[f"{s}_place"] for w in roof for s in ("from", "to")}
        assert len(roof) > 5 and not ends & set(on)
