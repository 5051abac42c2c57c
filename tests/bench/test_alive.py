"""Making alive: in safe order, every circuit and lever once, by the figures of Power."""

import math
import re

import pytest

from vivid_loom.bench.aboard.alone import Alone
from vivid_loom.bench.aboard.plan import alive_plan
from vivid_loom.bench.aboard.results import Alive
from vivid_loom.bench.devices.simulated_boat import BuiltBoat
from vivid_loom.bench.progress import Result
from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.power.board import Board, Conditions
from vivid_loom.power.fault import Fault
from vivid_loom.power.powered import power_up
from vivid_loom.power.setting import Setting
from vivid_loom.quantities import figure
from vivid_loom.sheets.words.bench_words import alive_cause_words, alive_words


def test_minus_comes_off_first_and_on_last(any_draft: Draft) -> None:
    ids = [step.id for step in alive_plan(any_draft).steps]
    assert ids[:3] == ["before minus off", "before devices out", "before switches off"]
    minus, plus = ids.index("battery minus on last"), ids.index("battery plus on")
    assert plus < minus
    fitted = [i for i, name in enumerate(ids) if name.startswith(("feeders ", "circuits "))]
    assert minus < min(fitted)
    assert ids[-1] == "after looked at again"
    assert ids.index("rest everything off") > max(fitted)
    assert len(set(ids)) == len(ids)


def test_every_circuit_device_and_lever_has_its_turn(any_draft: Draft) -> None:
    plan = alive_plan(any_draft)
    once = [
        s.subject
        for s in plan.steps
        if s.part == "circuits" and not s.is_read and not s.id.endswith(" by float")
    ]
    fed = [r.id for r in any_draft.circuits if r.planned.loads and not r.planned.signals]
    assert sorted(once) == sorted(fed)
    feeders = [s.subject for s in plan.steps if s.part == "feeders" and s.subject]
    bolted = [s.subject for s in plan.steps if s.part == "bolted"]
    held = [r.id for r in any_draft.feeders if r.sized and r.sized.protection]
    assert set(feeders) | (set(bolted) - set(once)) == set(held)
    assert not set(feeders) & set(bolted)
    families = {r.id: r.planned.family for r in any_draft.rows if r.sized and r.sized.protection}
    spanner = ("post fuse", "class T fuse", "bolt-down fuse")
    assert set(bolted) == {name for name, family in families.items() if family in spanner}
    order = [s.id for s in plan.steps]
    last = max(order.index(f"bolted {name}") for name in bolted)
    assert order.index("before minus off") < last < order.index("battery minus on last")
    seen = [s for s in plan.steps if s.subject in bolted and s.kind == "see"]
    assert not any(s.device for s in seen)
    levers = {(s.subject, s.states[s.subject]) for s in plan.steps if s.part == "presses"}
    assert levers == {
        (switch.request.id, state)
        for switch in any_draft.switches
        if not switch.request.coil
        for state in switch.part.states
    }
    read = {s.subject for s in plan.steps if s.kind == "volts" and s.part == "circuits"}
    assert read | set(plan.unread) | {
        s.subject for s in plan.steps if s.id.endswith("for later")
    } == set(fed)


def test_lights_come_before_motors(full: Draft) -> None:
    loads = full.aboard.loads
    order = [s.subject for s in alive_plan(full).steps if s.part == "circuits" and s.kind == "see"]
    motors = [any(loads[n].motor for n in full.circuit(c).planned.loads) for c in order]  # type: ignore[union-attr]
    assert motors == sorted(motors)
    names = [full.circuit(c).planned.label for c in order]  # type: ignore[union-attr]
    turns = [names.index(name) for name in ("Side lights", "VHF radio", "Bilge pump aft")]
    assert turns == sorted(turns)


def test_upstream_devices_are_fitted_first(any_draft: Draft) -> None:
    network = any_draft.aboard.boat.network
    order = [s.subject for s in alive_plan(any_draft).steps if s.part == "feeders" and s.subject]
    for name in order:
        row = any_draft.circuit(name)
        assert row is not None
        for chain in network.chains(row.planned.source):
            assert all(up not in order or order.index(up) <= order.index(name) for up in chain)


def test_figures_are_what_power_reckons_with_the_circuit_alone(full: Draft) -> None:
    board = Board(full, Conditions(copper_c=20.0), net_list(full))
    for step in alive_plan(full).steps:
        if step.part == "circuits" and step.kind == "volts":
            row = full.circuit(step.subject)
            assert row is not None
            coils = {load.id for load in full.aboard.loads.values() if "coil" in load.name}
            idle = frozenset(full.aboard.loads) - frozenset(row.planned.loads) - coils
            now = power_up(board, Setting(states=dict(step.states), idle=idle))
            assert step.figure == pytest.approx(now.point.across(step.red, step.black), abs=1e-9)
            assert step.low < step.figure < step.high


def test_volts_follow_the_battery_as_it_was_read(full: Draft) -> None:
    plan = alive_plan(full)
    batteries = [s for s in plan.steps if s.id.startswith("battery volts")]
    step = next(s for s in plan.steps if s.id == "volts C10")
    known = [Result(s.id, s.figure - 0.6, True, s.signature) for s in batteries]
    low = Alive(plan, known)
    assert low.offset_v == pytest.approx(-0.6)
    assert not Alive(plan, []).judged(step, step.figure - 0.6).passed
    assert low.judged(step, step.figure - 0.6).passed
    assert not low.judged(step, step.low - 0.61).passed
    assert not low.judged(step, math.nan).passed


def test_battery_switches_and_keys_are_turned_on_before_what_hangs_on_them(
    any_draft: Draft,
) -> None:
    steps = alive_plan(any_draft).steps
    ids = [step.id for step in steps]
    turned = {
        s.id: s.name
        for s in any_draft.aboard.boat.supplies
        if s.kind in ("battery_switch", "selector", "key_switch")
    }
    first = min(i for i, step in enumerate(steps) if step.part == "circuits")
    last = max(i for i, step in enumerate(steps) if step.part == "feeders" and step.device)
    for name, words in turned.items():
        at = ids.index(f"feeders on {name}")
        assert last < at < first
        told = alive_words(any_draft, steps[at])
        assert told.title == f"{name} {words}"
        assert re.match(r"Turn it to (on|1)\. Nothing runs", told.asks)


def test_what_hangs_on_a_relay_waits_for_what_pulls_it(full: Draft) -> None:
    """Hull 0417 has its engine's instruments behind the ignition relay, whose coil is C50's."""
    steps = alive_plan(full).steps
    ids = [step.id for step in steps]
    for circuit, key, words in (("C19", "C50", "IGNITION on"), ("C27", "C28", "HAULER up")):
        for name in (f"circuits {circuit}", f"volts {circuit}"):
            at = ids.index(name)
            assert ids.index(f"circuits {key}") < at
            assert alive_words(full, steps[at]).asks.find(words) >= 0
        read = steps[ids.index(f"volts {circuit}")]
        boat = BuiltBoat(full)
        boat.set(dict(read.states), circuit)
        alive = Alive(alive_plan(full), [])
        assert alive.judged(read, boat.read_volts(read.red, read.black)).passed
        legend = words.split(" ")[0].lower()
        lever = next(s.request.id for s in full.switches if s.request.legend.lower() == legend)
        boat.set({**read.states, lever: "off"}, circuit)  # the relay lets go
        assert boat.read_volts(read.red, read.black) < 1


def test_relays_that_hold_one_another_are_asked_once(full: Draft) -> None:
    """C19 hangs on the ignition relay, C27 on the hauler's contactor: each pulls the other's."""
    aboard = Alone(full)
    first, second = full.circuit("C19"), full.circuit("C27")
    assert first and second
    aboard.pulled_by = {"IGR": second, "hauler_contactor": first}
    assert aboard.waits_for(first) == (second,) and aboard.waits_for(second) == (first,)


def test_the_automatic_lead_of_a_pump_is_proven_by_its_float_alone(any_draft: Draft) -> None:
    """A pump that runs by its lever proves nothing of the lead that must run it by itself."""
    plan = alive_plan(any_draft)
    steps = {s.id: s for s in plan.steps}
    pumps = [
        row
        for row in any_draft.circuits
        if row.planned.pattern in ("pump_auto_manual", "pump_three_position")
    ]
    assert pumps or any_draft.aboard.order.hull == "0423"
    for row in pumps:
        by_hand, by_float = steps[f"volts {row.id}"], steps[f"volts {row.id} by float"]
        (pump,) = row.planned.loads
        assert f"{pump} float" not in by_hand.states
        assert by_float.states[f"{pump} float"] == "up"
        switch = next(s for s in any_draft.switches if s.request.id in by_hand.states)
        lever = by_float.states.get(switch.request.id)
        assert lever == (None if row.planned.pattern == "pump_auto_manual" else "down")
        seen = steps[f"circuits {row.id} by float"]
        assert "its float" in alive_words(any_draft, seen).asks and seen.runs == by_float.runs
        wires = [w.id for w in row.wires if w.lead == "automatic" and w.live != "return"]
        assert wires
        for wire in wires:  # broken, its lever still runs it, its float does not
            boat = BuiltBoat(any_draft, [Fault("open", wire)])
            alive = Alive(plan, [])
            boat.set(dict(by_hand.states), row.id)
            by_lever = boat.read_volts(by_hand.red, by_hand.black)
            boat.set(dict(by_float.states), row.id)
            lifted = boat.read_volts(by_float.red, by_float.black)
            shared = row.planned.pattern == "pump_three_position" and "P1" in wire
            assert alive.judged(by_hand, by_lever).passed != shared
            assert not alive.judged(by_float, lifted).passed, wire


def test_what_draws_when_all_is_off_has_its_limit(full: Draft) -> None:
    steps = {s.id: s for s in alive_plan(full).steps}
    house = steps["rest draw BAT"]
    assert 0.05 < house.figure < 0.3  # alarm and memories, always live
    assert house.high == pytest.approx(1.25 * house.figure + 0.02)
    assert steps["rest draw BST"].figure < 0.001


def test_a_circuit_wired_for_later_stays_without_its_fuse(full: Draft) -> None:
    (step,) = [s for s in alive_plan(full).steps if s.id.endswith("for later")]
    assert "its fuse stays out" in alive_words(full, step).asks
    row = full.circuit(step.subject)
    assert row is not None
    assert full.aboard.loads[row.planned.loads[0]].state == "wired_for_later"


def test_every_step_says_what_to_do(any_draft: Draft) -> None:
    for step in alive_plan(any_draft).steps:
        words = alive_words(any_draft, step)
        assert words.title
        assert len(words.asks) > 15, (step.id, words)
        if step.device and step.kind == "see":
            assert step.device in words.asks


def test_a_reading_that_fails_says_where_to_look(full: Draft) -> None:
    step = next(s for s in alive_plan(full).steps if s.id == "volts C29")

    def told(volts: float) -> tuple[str, str]:
        return alive_cause_words(full, step, Result(step.id, volts, False, step.signature))

    assert "nothing arrives" in told(0.01)[0]
    load = full.aboard.loads["searchlight"]
    words, where = told(step.figure - 1.0)
    assert load.running_a is not None
    assert f"1 V lost beyond its figure, some {figure(1.0 / load.running_a)} Ω too much" in words
    assert where.startswith("read volts along ") and "Searchlight" in where
    assert "more than the battery gives" in told(step.high + 0.5)[0]
    draw = next(s for s in alive_plan(full).steps if s.id == "rest draw BAT")
    lost = alive_cause_words(full, draw, Result(draw.id, 3.0, False, draw.signature))
    assert lost[0] == "Standing draw, BAT: 3 A."


def test_every_bond_is_read_and_a_green_one_is_found(full: Draft) -> None:
    """NEC chapter 9 table 8, 8 AWG coated at 75 °C and its note 2 (from memory), at 20 °C."""
    plan = alive_plan(full)
    steps = {s.subject: s for s in plan.steps if s.part == "bonds"}
    assert steps.keys() == {bond.id for bond in full.bonds} and len(steps) >= 3
    parts = [step.part for step in plan.steps]
    assert max(i for i, p in enumerate(parts) if p == "bonds") < parts.index("battery")
    boat = BuiltBoat(full, [Fault("corroded", "bond_hauler", ohm=0.4), Fault("open", "bond_tanks")])
    alive = Alive(plan, [])
    for name, step in steps.items():
        bond = next(b for b in full.bonds if b.id == name)
        copper = bond.cut_mm / 1000 * 2.653e-3 * (1 - 0.00323 * 55)
        assert copper < step.figure < copper + 0.001
        read = boat.read_ohm(step.red, step.black)
        assert alive.judged(step, read).passed == (name not in ("bond_hauler", "bond_tanks"))
        assert alive.judged(step, -0.01).passed  # a meter a little below nought
    words = alive_cause_words(full, steps["bond_hauler"], alive.judged(steps["bond_hauler"], 0.4))
    assert words[0] == "Bond, Pot hauler: 0.4 Ω." and "bright metal" in words[1]


def test_every_coil_is_read_by_polarity(any_draft: Draft) -> None:
    """Red on its plus: one that is turned round reads below nought."""
    plan = alive_plan(any_draft)
    coils = {actuator.coil for actuator in net_list(any_draft).actuators if actuator.coil}
    assert coils <= {n for s in plan.steps if s.kind == "volts" for n in s.runs}
    for step in plan.steps:
        if step.kind == "volts" and step.part == "circuits":
            turned = Alive(plan, []).judged(step, -step.figure)
            assert not turned.passed
            told = alive_cause_words(any_draft, step, turned)[0]
            assert told == f"{step.subject}: plus and minus are turned round."
