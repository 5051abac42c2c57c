"""Small real jobs, built in the window from an empty boat, their steps counted."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from tests.desktop.hand import Answer, Hand, errors
from tests.launch import bare
from vivid_loom.boat import write_boat
from vivid_loom.desktop.frame.window import MainWindow
from vivid_loom.order import Order, write_order
from vivid_loom.sheets import packet_table
from vivid_loom.sheets.lists.loose_lists import caps

BARE = "bare.boat.json"


@pytest.fixture
def empty(
    tmp_path: Path, open_on: Callable[[Path], MainWindow], request: pytest.FixtureRequest
) -> MainWindow:
    """A window on an order of a boat with hull and runs, one battery, and nothing else."""
    write_boat(tmp_path / BARE, bare(nominal_v=getattr(request, "param", 12.0)))
    path = tmp_path / "job.loom.json"
    write_order(path, Order(hull="1", title="Job", boat=BARE, station_date="2026-12-07"))
    return open_on(path)


POST = {"family": "post fuse", "distance_mm": "60", "stud": "M10"}


def post_fuse(hand: Hand) -> None:
    """A fuse on the battery's post, and a stud behind it."""
    hand.part(("battery", "BAT"), id="PF", name="Post fuse", **fused_stud("BAT"))


def fused_stud(battery: str) -> dict[str, Any]:
    feed = {"source": battery, "family": "post fuse", "distance_mm": "60"}
    return {"kind": "stud", "level": "battery_direct", "feeds": [feed]}


def two_batteries(hand: Hand) -> None:
    """Two batteries, off-1-both-2, a helm block, an always-live block, two buses, two panels."""
    do = hand.supply.hands
    hand.fill(do.ask_battery, id="BST", name="Start battery")
    feeds = [{"source": "BAT", "port": "1", **POST}, {"source": "BST", "port": "2", **POST}]
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
    hand.part(("part", "SEL"), id="HFB", name="Helm block", station="helm", ways="14", feeds=feed)
    hand.part(
        ("battery", "BAT"),
        id="ALW",
        name="Always live",
        station="blocks",
        ways="4",
        feeds=[{"source": "BAT", **POST, "stud": "M6"}],
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


def heavy_bus(hand: Hand, family: str = "bolt-down fuse") -> None:
    """A bus by the main negative for what is heavy."""
    feed = [{"source": "SEL", "family": "bolt-down fuse", "distance_mm": "120"}]
    hand.part(
        ("part", "SEL"),
        id="HB",
        name="Heavy bus",
        kind="bus",
        level="unswitched",
        station="blocks",
        ways="3",
        way_max_a="250",
        total_max_a="300",
        family=family,
        feeds=feed,
    )


def told(hand: Hand, job: str, capsys: pytest.CaptureFixture[str]) -> None:
    """Print the steps of a job; nothing of it was refused or is found wrong."""
    assert errors(hand.window) == []
    print(f"{job}: {hand.steps} steps")
    with capsys.disabled():
        print(f"\n    {job}: {hand.steps} steps", end="")


def row_of(window: MainWindow, load: str) -> Any:
    """Return the circuit of a load."""
    return next(r for r in window.session.draft.circuits if load in r.planned.loads)


def test_an_open_boat_with_two_batteries_is_wired_from_nothing(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    """Selector, two negative buses, twelve switches on two panels, two-lead pump with a float."""
    hand = Hand(empty, answer)
    two_batteries(hand)
    assert hand.steps == 8 and errors(empty) == []
    assert sorted(f.id for f in empty.session.draft.feeders) == [f"F0{i}" for i in range(1, 6)]
    for i in range(11):
        hand.load("Courtesy light", "a3_port" if i % 2 else "a1_port", "helm switch", f"Light {i}")
    pump = hand.load("Bilge pump, two-lead", "a1_bilge", "helm switch and float")
    draft = empty.session.draft
    on = sorted(draft.allocation.positions.values())
    assert on == list(range(1, 13))
    stations = {
        leg.end.station
        for row in draft.circuits
        for leg in row.planned.plan.legs
        if leg.end.kind == "tab"
    }
    assert stations == {"dash", "helm"}
    assert len(row_of(empty, pump).planned.plan.paths) == 2
    assert {row.planned.bus for row in draft.circuits} == {"N0", "N1"}
    told(hand, "open boat, twelve switches", capsys)
    while empty.session.undo_stack.canUndo():
        empty.session.undo_stack.undo()
    assert empty.session.boat.supplies == () and empty.session.draft.aboard.loads == {}


def test_a_pump_and_a_battery_and_nothing_else(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    """A fuse on the post, the pump's own fuse in line behind it, home to the other post."""
    hand = Hand(empty, answer)
    post_fuse(hand)
    hand.load("Bilge pump, two-lead", "a1_bilge", "always live")
    (load,) = empty.session.draft.aboard.loads.values()
    stage: Any = empty.view
    stage.select_loads((load.id,))
    hand.fill(stage.hands.ask_load, contact_a="15", ingress="submersible")
    assert errors(empty) == []
    (row,) = empty.session.draft.circuits
    assert row.planned.plan.start.place == "PF" and row.planned.bus == "BAT"
    print(f"pump and battery: {hand.steps} steps")
    assert "3 steps" in capsys.readouterr().out


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


def test_an_automatic_pump_on_a_polarised_pair_its_third_lead_capped(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    """Nothing but a battery: the pump's run is a harness of its own, so that it unplugs."""
    hand = Hand(empty, answer)
    post_fuse(hand)
    pump = hand.load("Bilge pump, automatic, small", "a1_bilge", "at the battery")
    hand.fill(hand.at(pump).ask_circuit, supply="PF")
    leads = [
        {"function": "automatic", "gauge": "16 AWG", "length_mm": "900"},
        {"function": "unused", "gauge": "16 AWG", "length_mm": "900"},
        {"function": "minus", "gauge": "16 AWG", "length_mm": "900"},
    ]
    hand.fill(hand.at(pump).ask_load, leads=leads, contact_a="15")
    run = next(r for r in empty.session.boat.runs if set(r.ends) == {"a1_trunk", "a1_bilge"})
    hand.harness(run.id, "deck")
    row = row_of(empty, pump)
    assert row.planned.request.lead == "automatic" and row.planned.stub_m > 0
    (plug,) = empty.session.draft.assembled.plugs
    assert plug.ways == 2 and plug.key == "A" and plug.station == "a1_trunk"
    capped = [r for r in caps(empty.session.draft).rows if r[2] == "a1_bilge"]
    assert len(capped) == 1 and "unused" in " ".join(capped[0])
    told(hand, "pump on a polarised pair", capsys)


def test_a_three_position_switch_in_the_engine_space(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    """Automatic – off – manual beside the pump, fused in line at the battery's stud."""
    hand = Hand(empty, answer)
    post_fuse(hand)
    pump = hand.load("Bilge pump, automatic, small", "a0_bilge", "three-position pump")
    hand.fill(hand.at(pump).ask_circuit, supply="PF")
    hand.fill(hand.at(pump).ask_switch, station="a0_port", part="toggle-spdt-sealed")
    row = row_of(empty, pump)
    ends = {leg.end.station for leg in row.planned.plan.legs}
    assert "a0_port" in ends and row.planned.stub_m > 0
    holders = [r for r in packet_table(empty.session.draft, "materials").rows if r[0] == "holder"]
    assert [r[1:3] for r in holders] == [("blade fuse holder, in line", "1")]
    told(hand, "three-position pump switch", capsys)


def test_a_windlass_from_nothing(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    """Tails on posts, a breaker, a contactor at the bow, its coil on a fuse of its own."""
    hand = Hand(empty, answer)
    two_batteries(hand)
    heavy_bus(hand, "breaker")
    motor = hand.load("Windlass motor", "a3_port", "helm switch")
    coil = hand.load("Windlass control circuit", "a3_port", "helm and second station")
    hand.fill(hand.at(motor).ask_circuit, supply="HB")
    there = {"part": "contactor-200", "station": "a3_port", "coil": coil}
    hand.fill(hand.at(motor).ask_switch, legend="WINDLASS", **there)
    tails = [
        {"function": f, "ending": "tail", "gauge": "8 AWG", "length_mm": "150"}
        for f in ("plus", "minus")
    ]
    hand.fill(
        hand.at(motor).ask_load,
        leads=tails,
        maker_fuse_a="100",
        self_protected=True,
        duty_percent="25",
    )
    hand.fill(hand.at(coil).ask_load, ingress="submersible")
    heavy, control = row_of(empty, motor), row_of(empty, coil)
    assert heavy.planned.source == "HB" and heavy.planned.family == "breaker"
    kinds = {w.end.termination.kind for w in heavy.wires if w.end.place == motor}
    assert kinds and all("sealed post" in kind for kind in kinds)  # at the bow
    assert control.planned.source == "HFB" and len(control.planned.plan.paths) == 2
    assert control.sized.protection.value < 10 < heavy.sized.protection.value
    told(hand, "windlass with its contactor", capsys)


def test_a_windlass_with_a_pair_and_two_stations_in_one_step(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    """The catalogue brings pair, coils, their fuse and both stations; its power is by a breaker."""
    hand = Hand(empty, answer)
    two_batteries(hand)
    heavy_bus(hand, "breaker")
    before = hand.steps
    motor = hand.load("Windlass motor", "a3_port", "reversed by contactors, two stations")
    assert hand.steps == before + 1
    heavy, control = row_of(empty, motor), row_of(empty, f"{motor}_coils")
    assert heavy.planned.source == "HB" and heavy.planned.family == "breaker"
    assert len(control.planned.plan.paths) == 4 and control.sized.protection.value < 10
    told(hand, "windlass with its pair", capsys)


def test_always_on_and_ignition_blocks_a_motor_on_the_bus_a_pump_on_one_battery(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    hand = Hand(empty, answer)
    two_batteries(hand)
    heavy_bus(hand)
    feed = [{"source": "HFB", "family": "blade fuse"}]
    key = {"id": "KEY", "name": "Ignition key", "kind": "key_switch", "station": "helm"}
    hand.part(("part", "HFB"), **key, level="ignition", total_max_a="40", feeds=feed)
    hand.part(
        ("part", "KEY"),
        id="IGN",
        name="Ignition block",
        level="ignition",
        station="helm",
        ways="6",
        feeds=[{"source": "KEY"}],
    )
    gauges = hand.load("Engine instruments", "dash", "ignition")
    steering = hand.load("Power steering pump", "a0_port", "helm switch")
    pump = hand.load("Bilge pump, automatic, small", "a1_bilge", "automatic pump")
    alarm = hand.load("High-water alarm", "dash", "always live")
    hand.feed(steering, "own switch")
    hand.fill(hand.at(steering).ask_circuit, supply="HB", level="unswitched")
    hand.part(
        ("battery", "BST"),
        id="PF",
        name="Post fuse",
        kind="stud",
        level="battery_direct",
        feeds=[{"source": "BST", "family": "post fuse", "distance_mm": "60"}],
    )
    hand.fill(hand.at(pump).ask_circuit, supply="PF")
    rows = {name: row_of(empty, name) for name in (gauges, steering, pump, alarm)}
    sources = {name: row.planned.source for name, row in rows.items()}
    assert sources == {gauges: "IGN", steering: "HB", pump: "PF", alarm: "ALW"}
    levels = empty.session.draft.aboard.levels
    assert levels["IGN"] == "ignition" and levels["ALW"] == "battery_direct"
    assert rows[pump].planned.stub_m > 0
    told(hand, "two batteries, key and bus", capsys)


def test_a_cruising_boat_with_one_gauge_and_thirteen_lamps(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    """One gauge everywhere, strips at the panel, a shore inlet that is recorded and not sized."""
    hand = Hand(empty, answer)
    two_batteries(hand)
    hand.choose("one_gauge", "14 AWG")
    hand.choose("strip_from_loads", 10)
    reading = hand.lamps("Reading light", "a2_port", 7)
    dome = hand.lamps("Cabin dome light", "a3_port", 6)
    hand.lay("a0_port", "a2_starboard", "hull")  # mains lie in a run of their own
    hand.fill(
        hand.supply.hands.ask_recorded,
        id="SHORE",
        name="Shore inlet",
        kind="mains",
        start="a0_port",
        end="a2_starboard",
        diameter_mm="12",
    )
    draft = empty.session.draft
    assert sum(len(r.planned.loads) for r in draft.circuits) == len(reading) + len(dome) == 13
    assert {str(r.sized.gauge.value) for r in draft.circuits if r.sized} == {"14 AWG"}
    assert draft.allocation.strips and [r.id for r in draft.recorded] == ["SHORE"]
    told(hand, "one gauge, thirteen lamps", capsys)


def test_a_cable_with_a_spare_core(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    hand = Hand(empty, answer)
    two_batteries(hand)
    light = hand.load("Anchor light", "mast", "helm switch")
    hand.fill(hand.at(light).ask_circuit, cable="cable", cores="3")
    hand.fill(hand.at(light).ask_switch, panel="right")  # beside the bus it comes home to
    (cable,) = empty.session.draft.assembled.cables
    assert cable.stock.cores == 3 and len(cable.spare) == 1
    assert sum("spare core" in r[1] for r in caps(empty.session.draft).rows) == 2
    told(hand, "cable with a spare core", capsys)


def test_sockets_of_10_and_5_amps_behind_one_switch(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    """Two sockets that stood on ways of their own move to a small block behind a switch."""
    hand = Hand(empty, answer)
    two_batteries(hand)
    big = hand.load("Power socket", "dash", "own switch", "Socket 10 A")
    small = hand.load("USB outlet, twin", "a2_port", "own switch", "Socket 5 A")
    feed = [{"source": "HFB", "family": "blade fuse"}]
    lever = {"id": "SKS", "name": "Sockets switch", "kind": "battery_switch", "station": "dash"}
    hand.part(("part", "HFB"), **lever, level="unswitched", total_max_a="40", feeds=feed)
    hand.part(
        ("part", "SKS"),
        id="GRP",
        name="Socket group",
        level="unswitched",
        station="dash",
        ways="2",
        feeds=[{"source": "SKS", "family": None}],
    )
    hand.fill(hand.at(big).ask_load, maker_fuse_a="10", running_a="8")
    hand.fill(hand.at(small).ask_load, maker_fuse_a="5", running_a="3")
    for name in (big, small):
        hand.fill(hand.at(name).ask_circuit, supply="GRP")
    rows = [row_of(empty, name) for name in (big, small)]
    assert {row.planned.source for row in rows} == {"GRP"}
    assert [row.sized.protection.value for row in rows] == [10.0, 5.0]
    network = empty.session.draft.aboard.boat.network
    assert {"GRP"} <= network.alive({"SEL": "1", "SKS": "on"}, {})
    assert "GRP" not in network.alive({"SEL": "1"}, {})
    told(hand, "sockets behind one switch", capsys)


TRIM = "two directions by contactors, two stations"


def test_a_trim_motor_with_a_second_station_from_nothing(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    hand = Hand(empty, answer)
    two_batteries(hand)
    trim = hand.load("Trim motor, a lead each way", "a0_port", TRIM)
    hand.fill(hand.at(trim).ask_load, self_protected=True, running_a="6", peak_a="10")
    row = row_of(empty, trim)
    assert row.planned.pattern == "two_directions"
    control = row_of(empty, f"{trim}_coils")
    assert len(control.planned.plan.paths) == 4
    starts = {leg.start.station for leg in control.planned.plan.legs if leg.id[0] in "UD"}
    assert len(starts) == 2 and "a0_port" in starts
    told(hand, "trim motor, two stations", capsys)


@pytest.mark.parametrize("empty", [24.0], indirect=True)
def test_a_24_v_launch_with_a_12_v_bus_from_a_pasted_sheet(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    hand = Hand(empty, answer)
    hand.part(
        ("battery", "BAT"),
        id="BLK",
        name="24 V block",
        level="battery_direct",
        station="helm",
        ways="6",
        feeds=[{"source": "BAT", **POST, "stud": "M8"}],
    )
    hand.fill(
        hand.supply.hands.ask_bus,
        id="N",
        name="Negative",
        station="helm",
        homes=[{"beside": "BLK"}],
    )
    hand.part(
        ("part", "BLK"),
        id="CNV",
        name="Converter",
        kind="converter",
        level="battery_direct",
        station="helm",
        total_max_a="20",
        output_v="12",
        feeds=[{"source": "BLK", "family": "blade fuse"}],
    )
    hand.part(
        ("part", "CNV"),
        id="E12",
        name="12 V electronics bus",
        level="battery_direct",
        station="dash",
        ways="6",
        feeds=[{"source": "CNV", "family": None}],
    )
    sheet = "Name\tAmps\tFunction\nRadio\t5\telectronics\nPlotter\t2\telectronics\nSounder\t0.8\t"
    hand.paste(sheet, source="E12", place="dash")
    assert "L07" in {f.code for f in empty.session.draft.findings}
    hand.roles()
    draft = empty.session.draft
    assert {r.planned.source for r in draft.circuits} == {"E12"} and len(draft.circuits) == 3
    shares = [(r.sized.drop_percent, 100 * r.sized.drop_v / 12) for r in draft.circuits]
    assert all(percent == pytest.approx(of_12_v) for percent, of_12_v in shares)
    told(hand, "24 V launch, 12 V bus", capsys)


def test_a_sensor_and_a_sense_lead_are_fed_in_the_window(
    empty: MainWindow, answer: Answer, capsys: pytest.CaptureFixture[str]
) -> None:
    """A tank sender read at the dash, and a regulator that senses at the battery's post."""
    hand = Hand(empty, answer)
    two_batteries(hand)
    post_fuse(hand)
    gauge = hand.load("Tank level system", "dash", "own switch")
    sender = hand.load("Tank sender", "a3_port", "own switch")
    hand.feed(sender, "sensor of an instrument", gauge)
    pair = row_of(empty, sender)
    assert pair.planned.pattern == "sensor_pair" and pair.planned.guard.loads == (gauge,)
    assert {leg.start.place for leg in pair.planned.plan.legs} == {gauge, sender}
    regulator = hand.load("Autopilot computer", "helm", "own switch", "Charge regulator")
    hand.feed(regulator, "sense lead at the battery")
    (sense,) = (r for r in empty.session.draft.circuits if r.planned.signals and r.id != pair.id)
    assert sense.planned.plan.start.place == "PF" and sense.planned.bus == ""
    hand.part(("battery", "BST"), id="PF2", name="Post fuse 2", **fused_stud("BST"))
    hand.feed(regulator, "sense lead at the battery")  # and one for the other battery
    both = [r for r in empty.session.draft.circuits if r.planned.signals and r.id != pair.id]
    assert {r.planned.source for r in both} == {"PF", "PF2"}
    assert {r.planned.request.lead_name for r in both} == {"sense", "sense 2"}
    for one, others in ((gauge, 1), (hand.load("Tank level system", "dash", "own switch"), 2)):
        hand.feed(one, "lamp with the instruments' lamps")
        (lit,) = (c for c in empty.session.draft.aboard.circuits if c.lead == "lamp")
        assert lit.loads[-1] == one and len(lit.loads) == others
        assert row_of(empty, one).planned.request.lead == "plus"
    told(hand, "sensor, sense lead and lamps", capsys)
