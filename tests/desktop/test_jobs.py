"""Small real jobs, built in the window from an empty boat, their steps counted."""

import dataclasses
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from tests.desktop.hand import Answer, Hand, errors
from vivid_loom.boat import BoatPlan, skeleton, usual_areas, write_boat
from vivid_loom.desktop.frame.window import MainWindow
from vivid_loom.order import Order, write_order

BARE = "bare.boat.json"


@pytest.fixture
def empty(tmp_path: Path, open_on: Callable[[Path], MainWindow]) -> MainWindow:
    """A window on an order of a boat with hull and runs, one battery, and nothing else."""
    plan = BoatPlan(
        id="bare",
        name="Bare",
        length_m=7.2,
        beam_m=2.5,
        depth_m=1.2,
        areas=usual_areas(7.2),
        battery_area=1,
        helm_area=2,
    )
    none: dict[str, Any] = {"supplies": (), "return_buses": (), "panels": ()}
    write_boat(tmp_path / BARE, dataclasses.replace(skeleton(plan), **none))
    path = tmp_path / "job.loom.json"
    write_order(path, Order(hull="1", title="Job", boat=BARE, station_date="2026-12-07"))
    return open_on(path)


def test_an_open_boat_with_two_batteries_is_wired_from_nothing(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    """Selector, block, always-live block, two negative buses, a panel; no text editor."""
    hand = Hand(empty, answer)
    do = hand.supply.hands
    post = {"family": "post fuse", "distance_mm": "60", "stud": "M10"}
    hand.fill(do.ask_battery, id="BST", name="Start battery")
    feeds = [{"source": "BAT", "port": "1", **post}, {"source": "BST", "port": "2", **post}]
    hand.part(
        ("battery", "BAT"),
        id="SEL",
        name="Selector",
        kind="selector",
        level="unswitched",
        total_max_a="300",
        feeds=feeds,
    )
    feed = [{"source": "SEL", "family": "breaker", "distance_mm": "150"}]
    hand.part(("part", "SEL"), id="HFB", name="Helm block", station="helm", ways="12", feeds=feed)
    hand.part(
        ("battery", "BAT"),
        id="ALW",
        name="Always live",
        station="blocks",
        ways="4",
        feeds=[{"source": "BAT", **post, "stud": "M6"}],
    )
    hand.fill(
        do.ask_bus,
        id="N0",
        name="Main negative",
        station="blocks",
        max_a="300",
        homes=[{"beside": "SEL", "to": "BAT"}, {"to": "BST"}],
    )
    hand.fill(do.ask_bus, id="N1", name="Helm negative", station="helm", homes=[{"beside": "HFB"}])
    hand.fill(do.ask_panel, id="left", name="Left panel", station="dash", positions="6")
    hand.fill(do.ask_panel, id="right", name="Right panel", station="helm", positions="6")
    boat = empty.session.boat
    assert sorted(f.id for f in empty.session.draft.feeders) == [f"F0{i}" for i in range(1, 6)]
    assert boat.positions == 12 and len(boat.batteries) == 2
    errors = [f for f in empty.session.draft.findings if f.severity == "error"]
    assert errors == [], [f.sentence() for f in errors]
    assert hand.steps == 8
    print(f"open boat, two batteries: {hand.steps} steps")
    assert "8 steps" in capsys.readouterr().out
    # all of it is undone step by step
    while empty.session.undo_stack.canUndo():
        empty.session.undo_stack.undo()
    assert empty.session.boat.supplies == () and empty.session.boat.panels == ()


def test_a_pump_and_a_battery_and_nothing_else(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    """A fuse on the post, the pump's own fuse in line behind it, home to the other post."""
    hand = Hand(empty, answer)
    hand.part(
        ("battery", "BAT"),
        id="PF",
        name="Post fuse",
        kind="stud",
        level="battery_direct",
        feeds=[{"source": "BAT", "family": "post fuse", "distance_mm": "60"}],
    )
    hand.load("Bilge pump, two-lead", "a1_bilge", "always live")
    (load,) = empty.session.draft.aboard.loads.values()
    assert any("no free way" in sentence for sentence in errors(empty))
    stage: Any = empty.view
    stage.select_loads((load.id,))
    hand.fill(stage.hands.ask_circuit, supply="PF")
    stage.select_loads((load.id,))
    hand.fill(stage.hands.ask_load, contact_a="15", ingress="submersible")
    assert errors(empty) == []
    (row,) = empty.session.draft.circuits
    assert row.planned.plan.start.place == "PF" and row.planned.bus == "BAT"
    print(f"pump and battery: {hand.steps} steps")
    assert "4 steps" in capsys.readouterr().out


def test_a_windlass_gets_its_contactor_and_a_second_station(
    window: MainWindow, answer: Answer, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A helm switch becomes a contactor at the motor; its coil is switched at two places."""
    hand = Hand(window, answer)
    hand.load("Power steering pump", "deck_s", "helm switch")
    hand.load("Windlass control circuit", "deck_s", "helm button")
    aboard = window.session.draft.aboard
    motor, coil = "power_steering_pump", "windlass_control_circuit"
    assert {motor, coil} <= set(aboard.loads)
    stage: Any = window.view
    stage.select_loads((motor,))
    hand.fill(stage.hands.ask_circuit, supply="HB", level="unswitched")
    stage.select_loads((motor,))
    fields = {"part": "contactor-200", "station": "deck_s", "coil": coil, "legend": "PUMP"}
    hand.fill(stage.hands.ask_switch, **fields)
    hand.feed(coil, "helm and second station")
    draft = window.session.draft
    heavy = next(r for r in draft.circuits if motor in r.planned.loads)
    control = next(r for r in draft.circuits if coil in r.planned.loads)
    assert heavy.planned.source == "HB" and heavy.planned.pattern == "switched"
    lugs = {w.end.termination.kind for w in heavy.wires if w.end.point == "1C"}
    assert lugs and all("M8" in kind for kind in lugs)
    assert len(control.planned.plan.paths) == 2 and control.planned.source == "HFB"
    named = {s for f in draft.findings if f.severity == "error" for s in f.subjects}
    assert not named & {heavy.id, control.id}
