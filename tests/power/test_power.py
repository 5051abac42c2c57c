"""A draft powered up: drops, states, coils, faults, the scan, energy and the command line."""

import dataclasses
import json
import math
from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner

from tests.conftest import drafted
from vivid_loom.boat import STATES, Scenario
from vivid_loom.cli import main
from vivid_loom.demo import DEMO_FOLDER, DEMO_ORDER
from vivid_loom.drafting import Draft, draft
from vivid_loom.netlist import Device
from vivid_loom.power.board import Board, Conditions
from vivid_loom.power.course import course
from vivid_loom.power.energy import energy, mooring
from vivid_loom.power.fault import Fault, FaultError, faulted, read_fault
from vivid_loom.power.powered import power_up, pulled, running
from vivid_loom.power.profile import Profiles
from vivid_loom.power.scan import Probe, probes_of, scan_scenario, worst_first
from vivid_loom.power.setting import Setting, floats, scenario_setting
from vivid_loom.sheets.words.power_words import told_powered
from vivid_loom.standards import heating
from vivid_loom.standards.batteries import open_v, peukert_ah
from vivid_loom.standards.short_circuit import withstand_a2s

NIGHT: Scenario = "under way by night"


def everything_on(draft: Draft) -> Setting:
    """Return every battery switch and key on, every latching lever in its first press."""
    states = {
        s.id: tuple(STATES[s.kind])[1] for s in draft.aboard.boat.supplies if s.kind in STATES
    }
    coils = {supply.id for supply in draft.aboard.boat.supplies if supply.coil}
    for switch in draft.switches:
        press = switch.part.presses[0]
        if not switch.request.coil and not switch.part.springs_back(press):
            states[switch.request.id] = press
    states |= floats(draft.aboard.loads.values())
    return Setting(states={k: v for k, v in states.items() if k not in coils})


def alone(board: Board, circuit: str, states: dict[str, str]) -> Setting:
    """Return a setting in which only one circuit's loads draw."""
    row = board.draft.circuit(circuit)
    assert row is not None
    idle = frozenset(board.kinds) - frozenset(row.planned.loads) - {"ign_coil"}
    return Setting(states=states, idle=idle)


def test_a_circuit_drops_what_the_draft_says(any_draft: Draft) -> None:
    """Copper alone, the circuit's own current: its own wires drop what the schedule prints."""
    board = Board(any_draft, Conditions(joints=False))
    everything = everything_on(any_draft)
    checked = 0
    for row in any_draft.circuits:
        request = row.planned.request
        if (
            row.sized is None
            or request is None
            or row.planned.pattern not in ("switched", "breaker")
        ):
            continue
        if len(request.contacts) > 1 or any(
            any_draft.aboard.loads[name].lit_in for name in row.planned.loads
        ):
            continue
        feeders = next(s for s in row.sized.gauge.steps if s.text.startswith("shared feeders"))
        assert feeders.result is not None
        states = dict(everything.states)
        for contact in request.contacts:
            states[contact.switch] = contact.throws[0]
        coils = {x.actuator for x in board.pulls}
        states |= {a: board.net.actuators_by_id[a].states[1] for a in coils}
        now = power_up(board, alone(board, row.id, states))
        elements = [f"{name} {request.fed_lead}" for name in row.planned.loads]
        if any(e not in board.volts for e in elements) or not now.runs(elements[0]):
            continue
        if min(now.volts_at(e) / board.volts[e] for e in elements) < 0.75:
            continue  # it gives up: the draft goes on reckoning with its current
        held = next((c for c in board.devices if c.device and c.device.listed == row.id), None)
        drawn = sum(now.amps[e] for e in elements)
        if held is None or abs(now.amps[held.id] - drawn) > 1e-4:
            continue  # a jumper by hand joins it with others
        start = f"{row.id} device"
        bar = f"{row.planned.bus} bar"
        if start not in now.point.solver.node or bar not in now.point.solver.node:
            continue
        ahead = now.point.across(start, bar)
        worst = max(ahead - now.volts_at(e) for e in elements)
        assert worst == pytest.approx(row.sized.drop_v - feeders.result, rel=2e-3), row.id
        checked += 1
    assert checked >= 4


def test_a_wire_has_its_copper_and_two_ends(full: Draft) -> None:
    """NEC chapter 9 table 8: 16 AWG, coated stranded copper, 5.29 Ω a thousand feet at 75 °C."""
    copper, joined = (
        Board(full, Conditions(copper_c=75.0, joints=joints)) for joints in (False, True)
    )
    wire = next(w for w in full.assembled.wires if str(w.gauge) == "16 AWG" and w.routed_m > 2)
    ohm = 5.29 / 304.8 * wire.routed_m
    found, with_ends = (
        next(branch.ohm for branch in board.network.branches if branch.id == wire.id)
        for board in (copper, joined)
    )
    assert found == pytest.approx(ohm, rel=1e-6)
    ends = with_ends - ohm
    assert ends == pytest.approx(2 * (1 / 1.309 + 0.02) / 1000, rel=1e-3)


def test_scenarios_differ_as_they_should(full: Draft) -> None:
    board = Board(full)
    night = power_up(board, scenario_setting(full, NIGHT))
    left = power_up(board, scenario_setting(full, "moored and left"))
    assert night.runs("side_s plus") and not left.runs("side_s plus")
    assert night.amps["ALT"] == pytest.approx(45.0, abs=0.01)
    assert left.amps["ALT"] == pytest.approx(0.0, abs=1e-4)
    assert left.runs("bp_aft manual"), "a bilge pump runs with everything off"
    anchor = power_up(board, scenario_setting(full, "at anchor"))
    assert anchor.runs("all_round plus") and not anchor.runs("side_s plus")


def test_currents_meet_at_every_terminal(any_draft: Draft) -> None:
    """Kirchhoff, from the net list's own ends: nothing of the solver takes part."""
    board = Board(any_draft)
    now = power_up(board, scenario_setting(any_draft, NIGHT))
    sums: dict[str, float] = {}

    def flows(a: str, b: str, amps: float) -> None:
        sums[a] = sums.get(a, 0.0) - amps
        sums[b] = sums.get(b, 0.0) + amps

    for conductor in board.net.conductors:
        flows(*conductor.ends, now.amps[conductor.id])
    for contact in board.net.contacts:
        flows(*contact.ends, now.amps[contact.id])
    for element in board.net.elements:
        sign = -1 if element.law == "source" else 1
        flows(element.plus, element.minus, sign * now.amps[element.id])
    assert max(map(abs, sums.values())) < 1e-6


def test_a_key_pulls_the_relay_and_a_dead_battery_does_not(full: Draft) -> None:
    on = scenario_setting(full, NIGHT)
    assert power_up(Board(full), on).states["IGR"] == "pulled"
    off = on.moved({"key": "off"})
    assert power_up(Board(full), off).states.get("IGR", "released") == "released"
    board = Board(full)
    weak = board.altered(sources=tuple(s._replace(volts=5.0) for s in board.network.sources))
    assert power_up(weak, Setting(states=on.states)).states.get("IGR", "released") == "released"


def test_a_relay_that_starves_itself_chatters(full: Draft) -> None:
    """A load behind the relay so heavy that the coil lets go: it pulls and lets go in turn."""
    board = Board(full)
    sources = tuple(s._replace(ohm=0.5) if s.limit_a is None else s for s in board.network.sources)
    draws = tuple(
        d._replace(law="resistance", amps=400.0) if d.id == "trim_tabs plus" else d
        for d in board.network.draws
    )
    weak = board.altered(sources=sources, draws=draws)
    everything = everything_on(full)
    quiet = frozenset(board.kinds) - {"ign_coil", "trim_tabs"}
    now = power_up(weak, Setting(states=everything.states, idle=quiet))
    assert set(now.chatters) == {"IGR", "hauler_contactor"}  # the one is fed by the other


def test_a_short_opens_its_own_fuse(full: Draft) -> None:
    board = Board(full)
    found = course(board, scenario_setting(full, NIGHT), Fault("short", "C22-P1"))
    assert [board.contacts[name].device.listed for name in found.opened] == ["C22"]  # type: ignore[union-attr]
    assert found.events[0].late_s < 0.1 and not found.burnt
    assert "demister plus" in found.lost


def test_a_bridged_fuse_leaves_the_fault_to_the_next(full: Draft) -> None:
    board = Board(full)
    setting = scenario_setting(full, NIGHT)
    bridged = faulted(board, Fault("bridged", "C22"))
    assert list(bridged.devices.values()) == [None]
    missing = course(board, setting, Fault("device", "C22"))
    assert "demister plus" in missing.lost and not missing.opened
    wrong = faulted(board, read_fault("device:C22=30"))
    assert next(iter(wrong.devices.values())).rating_a == 30  # type: ignore[union-attr]


def test_faults_of_every_kind(full: Draft) -> None:
    board = Board(full)
    setting = scenario_setting(full, "at anchor")
    corroded = course(board, setting, read_fault("corroded:C22-P1=2"))
    before, after = corroded.before, corroded.rest
    assert after.volts_at("demister plus") < before.volts_at("demister plus") or (
        not before.runs("demister plus")
    )
    welded = course(board, setting, Fault("welded", "s_horn"))
    assert "horn plus" in welded.woken
    dead = course(board, setting, Fault("dead", "s_nav"))
    assert "all_round plus" in dead.lost
    turned = course(board, setting, Fault("reversed", "BAT"))
    assert turned.rest.volts_at("all_round plus") <= 0.1
    stalled = course(board, setting, Fault("stall", "bp_aft"))
    assert stalled.opened and stalled.rest.volts_at("bp_aft manual") < 1
    crossed = course(board, setting, Fault("swapped", "X1", "X2"))
    assert crossed.before.running != crossed.rest.running
    hull = course(board, setting, Fault("short", "C22-P1", to="hull"))
    assert not hull.opened, "nothing flows into an isolated hull"
    touching = course(board, setting, read_fault("short:C22-P1:C23-P1@0.5"))
    assert touching.events


@pytest.mark.parametrize(
    ("told", "words"),
    [
        ("melt:C22", "expected one of open, short"),
        ("short:", "and a place"),
        ("short:C22-P1@x", "expected a number"),
        ("short:C22-P1@2", "share from 0 to 1"),
        ("open:nowhere", "expected the id of a wire or a contact"),
        ("short:nowhere", "expected the id of a wire"),
        ("short:C22-P1:mars", "expected 'return', 'hull' or a wire"),
        ("welded:C22", "expected a switch"),
        ("device:Q9", "expected a circuit or feeder"),
        ("reversed:C22", "expected one of BAT"),
        ("swapped:X1:Q", "expected two plugs"),
        ("stall:compass", "expected a load with a motor"),
    ],
)
def test_faults_that_cannot_be(full: Draft, told: str, words: str) -> None:
    with pytest.raises(FaultError, match=words):
        faulted(Board(full), read_fault(told))


def test_the_scan_says_what_each_fault_says_by_itself(full: Draft) -> None:
    """Fifty faults of the scan against the course of each, worked out afresh."""
    board = Board(full)
    setting = scenario_setting(full, NIGHT)
    rows = scan_scenario(board, NIGHT)
    assert len(rows) > 1000
    dice = np.random.default_rng(11)
    own = {r.probe: r for r in rows}
    checked = 0
    for probe in dice.permutation(np.array(list(own), dtype=object)).tolist()[:50]:
        row = own[Probe(*probe)]
        if row.chatters:
            continue
        found = course(board, setting, row.probe.fault)
        assert found.opened == row.opens, row.probe
        if row.opens:
            assert found.events[0].late_s == pytest.approx(row.late_s, rel=1e-4)
        assert set(found.lost) == set(row.lost) | set(row.own), row.probe
        assert {n for n, _ in found.burnt[:1]} == ({row.burnt[0]} - {""}), row.probe
        checked += 1
    assert checked > 40


def test_the_scan_ranks_fire_first(full: Draft) -> None:
    board = Board(full)
    rows = worst_first(full, scan_scenario(board, "at anchor"))
    burnt = [bool(row.burnt[0]) for row in rows]
    assert burnt == sorted(burnt, reverse=True) and len(rows) < len(probes_of(board))


def test_a_wire_behind_too_large_a_device_burns(full: Draft) -> None:
    """The demister's fuse as large as the main one: its short heats the wire past its limit."""
    net = Board(full).net
    contacts = tuple(
        c._replace(device=Device("post fuse", 250.0, "C22"))
        if c.device and c.device.listed == "C22"
        else c
        for c in net.contacts
    )
    board = Board(full, net=dataclasses.replace(net, contacts=contacts))
    setting = scenario_setting(full, NIGHT)
    assert not course(Board(full), setting, Fault("short", "C22-P1")).burnt
    burnt = dict(course(board, setting, Fault("short", "C22-P1")).burnt)
    assert burnt.get("C22-P1", 0.0) > 160.0


def test_heat_is_adiabatic_at_first_and_settles_at_the_rating() -> None:
    area, bears, rated = 1.31, 25.0, 105.0
    tau = heating.time_constant_s(area, bears, rated)
    seconds = withstand_a2s(area, 30.0, 160.0) / 800.0**2  # IEC 60364-5-54
    assert heating.after_c(30.0, 800.0, seconds, area, tau) == pytest.approx(160.0, abs=0.3)
    assert heating.resting_c(bears, area, tau) == pytest.approx(rated)
    assert heating.after_c(30.0, bears, 1e5, area, tau) == pytest.approx(rated, abs=0.01)
    assert heating.resting_c(10 * bears, area, tau) == heating.MELTED_C


def test_batteries_at_rest_and_peukert() -> None:
    assert open_v(12, "flooded", 1.0) == pytest.approx(12.7) and open_v(
        24, "AGM", 0.5
    ) == pytest.approx(24.5)
    assert open_v(12, "lithium", 0.55) == pytest.approx(13.15)
    with pytest.raises(ValueError, match="expected 0 to 1"):
        open_v(12, "gel", 1.2)
    assert peukert_ah(100, 5.0, "flooded") == pytest.approx(100)
    assert peukert_ah(100, 20.0, "flooded") == pytest.approx(100 * 0.25**0.25)
    assert peukert_ah(100, 1.0, "flooded") == 100


def test_energy_adds_up(full: Draft) -> None:
    day = energy(full, NIGHT)
    assert day.drawn_ah == pytest.approx(sum(use.ah for use in day.uses))
    assert day.charged_ah == pytest.approx(45 * 8 * 0.85, rel=1e-3)
    assert [share for share, _ in day.banks] == [0.5, 1.0, 1.5, 2.0]
    assert day.days == day.banks[1][1] and day.banks[3][1] > 2 * day.days
    lies = mooring(full, starts_per_h=6, seconds=30)
    pumps = sum(full.aboard.loads[n].running_a or 0 for n in ("bp_aft", "bp_fore", "bp_tank"))
    assert lies.pump_ah == pytest.approx(pumps * 24 * 6 * 30 / 3600)
    assert mooring(full, 0, 0).days > lies.days
    assert {one.load for one in lies.standing} == {"bilge_alarm"}
    with pytest.raises(ValueError, match="more than an hour has"):
        mooring(full, 200, 30)
    with pytest.raises(ValueError, match="none below 0"):
        mooring(full, -1, 30)


def run(*words: str) -> tuple[int, str]:
    result = CliRunner().invoke(main, list(words))
    return result.exit_code, result.output


def test_the_command_line(tmp_path: Path) -> None:
    order = str(DEMO_ORDER)
    code, told = run("power", order, "--json")
    record = json.loads(told)
    assert code == 0 and record["sources"]["BAT"] > 50 and record["states"]["IGR"] == "pulled"
    drawn = sum(float(row["amps"]) for row in record["loads"])
    assert math.isclose(sum(record["sources"].values()), drawn, rel_tol=0.02)  # lamps aside
    code, told = run("power", order, "--fault", "short:C22-P1", "--json")
    assert code == 0 and json.loads(told)["events"][0]["opens"].endswith("C22 device")
    deck = tmp_path / "network.cir"
    code, told = run("power", order, "--scenario", "at anchor", "--spice", str(deck))
    assert deck.read_text().endswith(".op\n.end\n") and "C22-P1" in deck.read_text()
    code, told = run("scan", order, "--scenario", "moored and left", "--most", "3")
    assert "faults change something" in told and code in (0, 1)
    code, told = run("energy", order)
    assert code == 0 and "half the battery is gone after" in told
    code, told = run("energy", order, "--json")
    assert json.loads(told)["scenarios"][0]["days"] > 0


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (("power", "--scenario", "at noon"), "--scenario: found 'at noon', expected one of"),
        (("power", "--state", "foo=up"), "--state: found 'foo', expected one of"),
        (("power", "--state", "s_horn=sideways"), "--state s_horn: found 'sideways', expected off"),
        (("power", "--state", "IGR=pulled"), "it is moved by its coil"),
        (("power", "--fault", "open:Q"), "--fault: found 'Q', expected the id"),
        (("power", "--spice", "/nowhere/x.cir"), "/nowhere/x.cir: No such file"),
        (("scan", "--scenario", "x"), "--scenario: found 'x'"),
        (("energy", "--starts", "-1"), "expected none below 0"),
    ],
)
def test_the_command_line_refuses_in_one_line(words: tuple[str, ...], said: str) -> None:
    code, told = run(words[0], str(DEMO_ORDER), *words[1:])
    assert code == 2 and said in told and len(told.strip().splitlines()) == 1


def test_a_load_nobody_has_looked_up_is_named(full: Draft) -> None:
    mistakes = DEMO_FOLDER / "hull-0423.loom.json"
    code, told = run("power", str(mistakes), "--json")
    assert code in (0, 1) and json.loads(told)["gave_up"]


@pytest.mark.parametrize(
    ("by", "by_day", "at_anchor_ah"), [("shore", False, 0.0), ("sun", True, 15.0 * 4.0 * 0.85)]
)
def test_a_shore_charger_is_not_taken_to_sea(by: str, by_day: bool, at_anchor_ah: float) -> None:
    """The engine's source runs under way; the sun's by day; a cable from the quay never."""
    plain = drafted(DEMO_FOLDER / "hull-1104.loom.json")
    boat, order = plain.aboard.boat, plain.aboard.order
    supplies = tuple(
        dataclasses.replace(s, charges_by=by) if s.id == "CHG" else s for s in boat.supplies
    )
    done = draft(order, dataclasses.replace(boat, supplies=supplies), plain.catalogue)
    assert boat.network.batteries["BAT"].chemistry == "flooded"  # 85 % is had back

    def charging(scenario: Scenario) -> set[str]:
        return set(scenario_setting(done, scenario).charging)

    assert charging("under way by day") == {"ALT", *(["CHG"] if by_day else [])}
    assert charging("under way by night") == {"ALT"}
    assert charging("at anchor") == charging("moored and left") == set()
    assert energy(done, "at anchor").charged_ah == pytest.approx(at_anchor_ah)
    under_way = energy(done, "under way by night").charged_ah - at_anchor_ah
    assert under_way == pytest.approx(60.0 * 8.0 * 0.85, rel=0.02)


def test_a_way_leads_from_its_source_to_its_load_and_home(any_draft: Draft) -> None:
    """Piece joins piece, and what all of them lose is what the load does not get."""
    board = Board(any_draft)
    ways = Profiles(power_up(board, scenario_setting(any_draft, "under way by night")))
    ends = {branch.id: frozenset((branch.a, branch.b)) for branch in board.network.branches}
    followed = 0
    for element in board.elements.values():
        profile = ways.of(element.id) if element.law not in ("source", "converter") else None
        if profile is None:
            continue
        source, way = board.elements[profile.source], ways.way(profile)
        for at, pieces, last in (
            (source.plus, way.out, element.plus),
            (element.minus, way.home, source.minus),
        ):
            for piece in pieces:
                assert at in ends[piece.id]
                (at,) = ends[piece.id] - {at}
            assert at == last
        lost_v = sum(piece.lost_v for piece in (*way.out, *way.home))
        assert lost_v == pytest.approx(profile.lost_v, abs=1e-9)
        followed += 1
    assert followed > 5


def test_a_coil_pulls_at_seven_tenths_and_holds_on_down_to_three(any_draft: Draft) -> None:
    board = Board(any_draft)
    dead = {element: 0.0 for pull in board.pulls for element in pull.by}
    for pull in board.pulls:
        rest = pull.states[0]
        for element, state in pull.by.items():
            for share, from_rest, from_pulled in (
                (0.29, rest, rest),
                (0.31, rest, state),
                (0.69, rest, state),
                (0.71, state, state),
            ):
                volts = {**dead, element: share * board.volts[element]}
                assert pulled(board, {}, volts)[pull.actuator] == from_rest
                assert pulled(board, {pull.actuator: state}, volts)[pull.actuator] == from_pulled


def test_electronics_run_down_to_three_quarters_of_their_voltage(full: Draft) -> None:
    board, setting = Board(full), scenario_setting(full, "under way by night")
    now = power_up(board, setting)
    nominal = board.volts["plotter plus"]
    for share, works in ((0.76, True), (0.74, False)):
        x = now.point.x * (share * nominal / now.volts_at("plotter plus"))
        assert ("plotter plus" in running(board, setting, x)) is works


def test_power_says_why_nothing_runs(full: Draft) -> None:
    """With the selector off, and for a relay whose coil has no current."""
    board = Board(full)
    dead = power_up(board, Setting(states={}, idle=frozenset(full.aboard.loads)))
    told = told_powered(dead)
    assert "0 loads run: Battery selector is off" in told
    assert "Ignition relay has not pulled: " in told and "has no current" in told
