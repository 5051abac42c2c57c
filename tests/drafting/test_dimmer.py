"""A dimmer in the feed of instrument lights: a knob that stands between off and full."""

import dataclasses

import pytest

from tests.changes import Setup, drafted, load, switch
from tests.conftest import drafted as drafted_order
from vivid_loom.bench.aboard.plan import alive_plan
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.power.board import Board
from vivid_loom.power.powered import power_up
from vivid_loom.power.setting import Setting
from vivid_loom.sheets.packet import packet_table
from vivid_loom.sheets.words.bench_words import alive_words


@pytest.fixture(scope="module")
def setup() -> Setup:
    done = drafted_order(DEMO_FOLDER / "hull-0609.loom.json")
    panels = tuple(dataclasses.replace(p, cut_out="") for p in done.aboard.boat.panels)
    boat = dataclasses.replace(done.aboard.boat, panels=panels)
    return Setup(boat, done.aboard.order, shipped_catalogue())


def test_a_dimmer_feeds_the_compass_light(setup: Setup) -> None:
    done = drafted(switch("s_compass_light", part="dimmer-knob")(setup))
    assert not [f for f in done.findings if f.severity == "error"]
    (row,) = [r for r in done.circuits if r.planned.label == "Compass light"]
    ends = {f"{end.place} {end.point}" for w in row.wires for end in (w.start, w.end)}
    assert {"SW7 1C", "SW7 1U"} <= ends
    assert not [w for w in row.wires if w.leg.startswith("L")]  # it has no lamp of its own
    tabs = {r.tab: r.live for r in packet_table(done, "switches").rows if r.place == "SW7"}
    assert tabs["1U"] == "knob turned up"
    step = next(s for s in alive_plan(done).steps if s.id == f"volts {row.id}")
    assert "Compass light turned up" in alive_words(done, step).asks
    board = Board(done)
    for state, runs in (("up", True), ("off", False)):
        now = power_up(board, Setting(states={"BSW": "on", "s_compass_light": state}))
        assert ("compass_light plus" in now.running) == runs


def test_a_dimmer_turns_no_motor(setup: Setup) -> None:
    done = drafted(switch("s_blower", part="dimmer-knob")(setup))
    told = [f.sentence() for f in done.findings if f.code == "S08" and "s_blower" in f.subjects]
    assert len(told) == 1


def test_it_is_too_small_for_floods(setup: Setup) -> None:
    changed = switch("s_deck_lights", part="dimmer-knob")(setup)
    heavy = load("deck_courtesy_light_port", running_a=6.0)(changed)
    assert [f for f in drafted(heavy).findings if f.code == "S08"]
