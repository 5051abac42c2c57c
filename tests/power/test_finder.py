"""The fault finder: over single faults, against the best tree, no true fault ranked out."""

import math
import statistics
from collections.abc import Iterator
from functools import cache

import networkx as nx
import numpy as np
import pytest
from click.testing import CliRunner

from vivid_loom.cli import main
from vivid_loom.demo import DEMO_FOLDER, DEMO_ORDER
from vivid_loom.opening import open_draft
from vivid_loom.power.advice import Advice, next_reading
from vivid_loom.power.board import Board
from vivid_loom.power.course import course
from vivid_loom.power.fault import CORRODED_OHM, SHORT_OHM, return_of
from vivid_loom.power.finder import SURE, Finder, Reading, Symptom, scenario_finder, told_apart
from vivid_loom.power.powered import open_contacts
from vivid_loom.power.scan import Scan
from vivid_loom.sheets.words.power_words import advice_words


@pytest.fixture(scope="module")
def finder() -> Finder:
    """Every fault of hull 0611, the smallest order, under way by night."""
    return scenario_finder(
        Board(open_draft(DEMO_FOLDER / "hull-0611.loom.json")), "under way by night"
    )


def noticed(finder: Finder) -> list[int]:
    """Return the faults that anybody would see as the scan has them: not all corrosion is."""
    return [i for i in range(len(finder.probes)) if finder.shown(i) or finder.opened(i)]


def test_every_single_fault_is_found(finder: Finder) -> None:
    """Every third of them, by the finder's own advice from what anybody would see."""
    took = []
    for index in noticed(finder)[::3]:
        readings = finder.hunt(index)
        weights = finder.weights(finder.shown(index), readings)
        suspects = finder.suspects(weights)
        assert any(finder.probes[index] in s.probes for s in suspects), finder.probes[index]
        assert finder.probes[index] in suspects[0].probes, finder.probes[index]
        took.append(len(readings))
    assert len(took) > 80
    assert statistics.median(took) <= 5 and max(took) <= 30


def test_a_meter_a_little_off_rules_nothing_out(finder: Finder) -> None:
    dice = np.random.default_rng(5)
    for index in dice.choice(len(finder.probes), 40, replace=False).tolist():
        readings = [
            r._replace(value=r.value * 1.002 + float(dice.normal(0, 0.015)))
            for r in finder.hunt(index)
        ]
        weights = finder.weights(finder.shown(index), readings)
        assert weights[index] >= 0.2 * weights.max(), finder.probes[index]


@pytest.mark.parametrize("ohm", [0.08, 0.2, 0.5, 1.0, 2.0])
def test_corrosion_of_any_size_is_never_ruled_out(finder: Finder, ohm: float) -> None:
    """The scan's is 0.2 Ω; 13 of 26 joints of 0.08 to 2 Ω were ruled out by true readings."""
    joints = [i for i, p in enumerate(finder.probes) if p.kind == "corroded"][::4]
    scan = Scan(finder.board, finder.scenario).corroded({finder.probes[i].at: ohm for i in joints})
    true = Finder(scan, [finder.probes[i] for i in joints], noticed=False, losses_ohm=())
    tried = 0
    for index in joints:
        probe = finder.probes[index]
        there = true.probes.index(probe)
        symptoms = true.shown(there)
        if not symptoms:
            continue
        tried += 1
        readings: list[Reading] = []
        weights = finder.weights(symptoms, readings)
        while len(readings) < 12 and finder.suspects(weights)[0].share < SURE:
            point = finder.next_point(weights, [r.at for r in readings])
            if point is None:
                break
            readings.append(Reading(point.terminal, true.read(there, point.terminal)))
            weights = finder.weights(symptoms, readings)
        suspects = finder.suspects(weights)
        assert any(probe in suspect.probes for suspect in suspects), (probe, ohm)
        assert weights[index] >= 0.05 * weights.max(), (probe, ohm)
    assert tried >= (8 if ohm >= 0.5 else 0)


def best_tree(columns: tuple[tuple[int, ...], ...]) -> float:
    """Return the least readings on average that tell faults apart, by trying every tree.

    Args:
        columns: by fault, what each point shows.
    """
    points = range(len(columns[0]))

    @cache
    def total(left: frozenset[int]) -> float:
        if len({columns[i] for i in left}) <= 1:
            return 0.0
        best = float("inf")
        for point in points:
            parts: dict[int, set[int]] = {}
            for i in left:
                parts.setdefault(columns[i][point], set()).add(i)
            if len(parts) > 1:
                spent = len(left) + sum(total(frozenset(part)) for part in parts.values())
                best = min(best, spent)
        return best

    return total(frozenset(range(len(columns)))) / len(columns)


def greedy(finder: Finder, faults: list[int], points: list[int]) -> float:
    """Return the readings that the finder's advice takes on average among these faults."""
    taken = 0
    for true in faults:
        left, read = set(faults), set[int]()
        while len({tuple(finder.volts[points, i].round(2)) for i in left}) > 1:
            weights = np.zeros(len(finder.probes))
            weights[list(left)] = 1 / len(left)
            gains = finder.gains(weights)
            point = max((p for p in points if p not in read), key=lambda p: gains[p])
            read.add(point)
            taken += 1
            row = finder.volts[point]
            left = {i for i in left if abs(row[i] - row[true]) < 0.3}
            if len(read) == len(points):
                break
    return taken / len(faults)


def test_advice_is_near_the_best_tree(finder: Finder) -> None:
    """Small cases, each point as easy as any: within 1.3 × of the best possible tree."""
    dice = np.random.default_rng(2)
    ours = theirs = 0.0
    for _ in range(30):
        points = dice.choice(len(finder.points), 9, replace=False).tolist()
        faults: list[int] = []
        shapes: set[tuple[int, ...]] = set()
        for i in dice.permutation(len(finder.probes)).tolist():
            shape = tuple(np.round(finder.volts[points, i] / 3).astype(int).tolist())
            near = any(
                (np.abs(finder.volts[points, i] - finder.volts[points, j]) < 0.3)[
                    np.abs(finder.volts[points, i] - finder.volts[points, j]) > 0.02
                ].any()
                for j in faults
            )
            if shape not in shapes and not near:
                shapes.add(shape)
                faults.append(i)
            if len(faults) == 7:
                break
        columns = tuple(tuple((finder.volts[points, i] / 0.3).round().astype(int)) for i in faults)
        if len(faults) < 3:
            continue
        ours += greedy(finder, faults, points)
        theirs += best_tree(columns)
    assert theirs > 20 and ours <= 1.3 * theirs, (ours, theirs)


def test_what_is_not_there_is_refused(finder: Finder) -> None:
    with pytest.raises(KeyError):
        finder.weights([Symptom("moon plus", "dark")], [])
    with pytest.raises(KeyError):
        finder.weights([], [Reading("nowhere", 12.0)])


def test_the_command_line() -> None:
    order = str(DEMO_FOLDER / "hull-0611.loom.json")
    run = CliRunner().invoke(
        main, ["find", str(DEMO_ORDER), "--dark", "demister", "--runs", "washdown"]
    )
    assert run.exit_code == 0 and "C22-P1 broken" in run.output and "read next: " in run.output
    for words, said in (
        (["--dark", "moon"], "found 'moon', expected a load that runs"),
        (["--read", "nowhere=1"], "--read: found 'nowhere', expected a terminal"),
        (["--read", "BAT plus post=3A"], "--read: found 'BAT plus post', expected a wire"),
        (
            ["--read", "BAT plus post=x"],
            "--read BAT plus post: found 'x', expected a figure in volts, A or ohm",
        ),
    ):
        bad = CliRunner().invoke(main, ["find", order, *words])
        assert bad.exit_code == 2 and said in bad.output


def every(finder: Finder, step: int) -> list[int]:
    return noticed(finder)[::step]


def test_amps_are_those_of_each_fault_by_itself(finder: Finder) -> None:
    """The clamp around a fault's own wire, and around one beside it, against the fault's course."""
    board, setting = finder.board, finder.base.setting
    wires = [wire.id for wire in board.net.conductors]
    for index in every(finder, 17):
        probe = finder.probes[index]
        rest = course(board, setting, probe.fault).rest
        mine = [probe.at] if probe.at in wires and probe.kind in ("open", "corroded") else []
        for wire in (*mine, *wires[::9]):
            if wire != probe.at or mine:
                told = finder.read(index, wire, "A")
                assert told == pytest.approx(abs(rest.amps.get(wire, 0.0)), abs=2e-3), (probe, wire)


def test_ohms_are_those_of_a_reference_library(finder: Finder) -> None:
    """Power off, nothing draws: networkx's resistance distance on what is left of the boat."""
    board, setting = finder.board, finder.base.setting
    shut = open_contacts(board, setting.states)
    black = board.network.reference
    points = [point.terminal for point in finder.points]
    seen = set()
    for index in every(finder, 10):
        probe = finder.probes[index]
        gone = {*shut, *finder.opened(index)}
        graph = nx.MultiGraph()
        graph.add_nodes_from(points)
        for branch in board.network.branches:
            more = {"open": math.inf, "corroded": CORRODED_OHM}.get(probe.kind, 0.0)
            ohm = branch.ohm + (more if branch.id == probe.at else 0.0)
            if branch.id not in gone and math.isfinite(ohm):
                graph.add_edge(branch.a, branch.b, ohm=max(ohm, 1e-9))
        if probe.kind.startswith("short"):
            wire = board.conductors[probe.at]
            bare = wire.ends[0 if probe.kind == "short near" else 1]
            graph.add_edge(bare, return_of(board, wire), ohm=SHORT_OHM)
        for red in points[index % 7 :: 61]:
            told = finder.read(index, red, "Ω")
            if not nx.has_path(graph, red, black):
                assert math.isinf(told), (probe, red)
            else:
                part = graph.subgraph(nx.node_connected_component(graph, red))
                expected = nx.resistance_distance(part, red, black, "ohm", invert_weight=True)
                assert told == pytest.approx(expected, abs=1e-3, rel=1e-3), (probe, red)
            seen.add((probe.kind, math.isinf(told)))
    assert {kind for kind, _ in seen} == {"open", "corroded", "short near", "short far"}


def test_amps_and_ohms_find_a_fault_as_volts_do(finder: Finder) -> None:
    """What was read in other units never rules the true fault out, and tells others apart."""
    wires = [wire.id for wire in finder.board.net.conductors][::5]
    points = [point.terminal for point in finder.points][::12]
    better = 0
    for index in every(finder, 29):
        seen = finder.shown(index)
        readings = [Reading(w, finder.read(index, w, "A"), unit="A") for w in wires]
        readings += [Reading(p, finder.read(index, p, "Ω"), unit="Ω") for p in points]
        before, after = finder.weights(seen, []), finder.weights(seen, readings)
        assert after[index] == after.max()
        better += (after > 0.01).sum() < (before > 0.01).sum()
    assert better > 10


@pytest.mark.parametrize(
    ("shown", "weights", "bits"),
    [
        ((0.0, 10.0), (0.5, 0.5), 1.0),
        ((0.0, 0.2), (0.5, 0.5), 0.0),
        ((0.0, 9.0, 0.0), (0.25, 0.5, 0.25), 1.0),
        ((0.0, 50.0, 100.0, 150.0), (0.25,) * 4, 2.0),
        ((0.0, 50.0), (1.0, 0.0), 0.0),
    ],
)
def test_a_reading_is_worth_what_it_tells_apart(
    shown: tuple[float, ...], weights: tuple[float, ...], bits: float
) -> None:
    """A meter that is off by 1 tells 10 from 0, and 0.2 not."""
    spread = np.ones(len(shown))
    assert told_apart(np.array(shown), spread, np.array(weights)) == pytest.approx(bits)


def advised(finder: Finder, index: int, most: int) -> Iterator[tuple[Advice, list[Reading]]]:
    """Follow the advice for a hidden fault; yield each, and what had been read before it."""
    seen, readings = finder.shown(index), list[Reading]()
    while len(readings) < most:
        advice = next_reading(finder, finder.weights(seen, readings), readings)
        if advice is None:
            break
        yield advice, readings
        value = finder.read(index, advice.at, advice.unit)
        readings.append(Reading(advice.at, value, unit=advice.unit))


def test_amps_and_ohms_are_asked_for_where_volts_tell_no_more(finder: Finder) -> None:
    """By its advice the true fault is found, among fewer that look alike than by volts alone."""
    units: set[str] = set()
    alike = {"volts": 0, "all": 0}
    for index in every(finder, 9):
        seen, read = finder.shown(index), list[Reading]()
        for advice, read in advised(finder, index, 20):
            assert (advice.at, advice.unit) not in {(r.at, r.unit) for r in read}
            units.add(advice.unit)
        found = finder.suspects(finder.weights(seen, read))[0]
        assert finder.probes[index] in found.probes
        alike["all"] += len(found.probes)
        by_volts = finder.suspects(finder.weights(seen, finder.hunt(index)))[0]
        alike["volts"] += len(by_volts.probes)
    assert units == {"V", "A", "Ω"}
    assert alike["all"] < alike["volts"]


def test_advice_says_what_a_sound_boat_shows(finder: Finder) -> None:
    """A clamp against the powered boat, ohms against networkx, the power off."""
    board, shown = finder.board, set[str]()
    graph = nx.MultiGraph()
    shut = open_contacts(board, finder.base.setting.states)
    for branch in board.network.branches:
        if branch.id not in shut:
            graph.add_edge(branch.a, branch.b, ohm=max(branch.ohm, 1e-9))
    minus = board.network.reference
    for index in every(finder, 23):
        for advice, _ in advised(finder, index, 12):
            if advice.unit == "A":
                assert advice.sound == pytest.approx(abs(finder.base.amps[advice.at]))
            elif advice.unit == "Ω" and nx.has_path(graph, advice.at, minus):
                part = graph.subgraph(nx.node_connected_component(graph, minus))
                told = nx.resistance_distance(part, advice.at, minus, "ohm", invert_weight=True)
                assert advice.sound == pytest.approx(told, abs=1e-3, rel=1e-3)
            elif advice.unit == "Ω":
                assert advice.sound >= 1e6
            shown.add(advice.unit)
    assert shown >= {"V", "Ω"}


def test_what_was_read_is_not_asked_for_again(finder: Finder) -> None:
    """Whatever the weights: with these, every unit would come first for ever."""
    weights = np.ones(len(finder.probes)) / len(finder.probes)
    readings: list[Reading] = []
    for _ in range(40):
        advice = next_reading(finder, weights, readings)
        if advice is None:
            break
        assert (advice.at, advice.unit) not in {(r.at, r.unit) for r in readings}
        readings.append(Reading(advice.at, 0.0, unit=advice.unit))
    # with the points out of the way, wires are all that is left to read
    points = [Reading(p.terminal, 0.0) for p in finder.points]
    asked = set()
    for _ in range(6):
        advice = next_reading(finder, weights, points)
        assert advice is not None and advice.unit == "A" and advice.at not in asked
        assert advice.sound == pytest.approx(abs(finder.base.amps[advice.at]))
        asked.add(advice.at)
        points.append(Reading(advice.at, 0.0, unit="A"))


@pytest.mark.parametrize(
    ("advice", "words"),
    [
        (Advice("HFB way 3", "V", 12.36, 1.0), "Read next: HFB way 3. Sound it shows 12.36 V."),
        (
            Advice("C05-P2", "A", 0.7, 1.0),
            "Read next: a clamp round C05-P2. Sound it shows 0.70 A.",
        ),
        (
            Advice("horn plus", "Ω", 0.04, 1.0),
            "Read next, the power off: horn plus to minus. Sound it shows 0.04 Ω.",
        ),
        (
            Advice("horn plus", "Ω", 1e6, 1.0),
            "Read next, the power off: horn plus to minus. Sound it shows no way through.",
        ),
    ],
)
def test_advice_says_how_the_meter_is_held(advice: Advice, words: str) -> None:
    assert advice_words(advice) == words
