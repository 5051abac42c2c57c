"""Sections of the demo boat's runs: wires, bores, supports, what goes on where."""

import dataclasses
import math

import pytest

from vivid_loom.boat import Boat, Swing
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.order import Order, Spare, add_spare, change_run
from vivid_loom.sheets.drawings.section_drawing import section_items
from vivid_loom.sheets.lists.loose_lists import caps
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.standards.conduit import BORES_MM, fill_limit_percent
from vivid_loom.standards.work_times import MINUTES
from vivid_loom.workshop.bundles import departures, section
from vivid_loom.workshop.effects import effect, effect_words, figures_of
from vivid_loom.workshop.hours import bench_hours, hour_lines

TONES = Tones(
    page="#ffffff",
    ink="#000000",
    quiet="#555555",
    rule="#cccccc",
    band="#eeeeee",
    part="#fafafa",
    wire_edge="#444444",
    alarm="#aa0000",
    warn="#885500",
    bar="#888888",
    focus="#224477",
)


def test_every_wire_lies_in_each_of_its_runs_once_a_pass(full: Draft) -> None:
    by_run = full.occupants
    passes = sum(len(wire.runs) - len(wire.cable_runs) for wire in full.assembled.wires)
    passes += sum(len(cable.runs) for cable in full.assembled.cables)
    passes += sum(len(item.path.runs) for item in (*full.bonds, *full.recorded))
    assert sum(len(inside) for inside in by_run.values()) == passes


def test_a_section_holds_its_wires_with_room_to_grow(full: Draft) -> None:
    by_run = full.occupants
    for run in full.aboard.boat.runs:
        inside = by_run.get(run.id, ())
        made = section(full, run, inside)
        assert len(made.packing.centres) == len(inside)
        if not inside:
            assert made.needed_bore_mm is None
            continue
        assert made.grown_mm == pytest.approx(made.diameter_mm * math.sqrt(1.25))
        assert made.needed_bore_mm in BORES_MM
        area = sum(m.diameter_mm**2 for m in inside)
        if run.enclosure == "conduit":
            limit = fill_limit_percent(len(inside)) / 100
            assert 1.25 * area / made.needed_bore_mm**2 <= limit + 1e-9
        else:
            assert made.needed_bore_mm >= made.grown_mm
        items = section_items(made, 300, 260, TONES, frozenset(("C07",)))
        assert len(items) >= len(inside)


@pytest.mark.parametrize(("spacing", "full_spacings"), [(150.0, 20), (230.0, 13), (300.0, 10)])
def test_supports_on_a_branch_of_three_metres(
    full: Draft, spacing: float, full_spacings: int
) -> None:
    """Common practice, no source."""
    run = dataclasses.replace(full.aboard.boat.runs[0], length_m=3.0, support_mm=spacing)
    assert section(full, run, ()).supports == full_spacings


def test_wires_dropping_away_add_up(full: Draft) -> None:
    by_run = full.occupants
    runs = {run.id: run for run in full.aboard.boat.runs}
    for end, onward in departures(full, runs["K06"], by_run).items():
        assert end in runs["K06"].ends
        assert sum(onward.values()) == len({m.wire for m in by_run["K06"]})


def test_a_moving_run_bends_wider_and_takes_slack(order: Order, boat: Boat, full: Draft) -> None:
    run = next(r for r in boat.runs if r.id == "H02")
    swing = Swing(fixed_m=0.3, moving_m=0.25, sweep_deg=70.0, rest_deg=120.0)
    moving = dataclasses.replace(run, swing=swing)
    after = draft(change_run(moving, "joint")[1](order), boat, shipped_catalogue())
    old, new = ({w.id: w for w in d.assembled.wires if "H02" in w.runs} for d in (full, after))
    for name, wire in new.items():
        assert wire.routed_m == pytest.approx(old[name].routed_m + swing.slack_m)
    made = section(after, moving, after.occupants["H02"])
    assert made.bend_mm == pytest.approx(10 * made.diameter_mm)


def test_spares_take_room_and_are_cut(order: Order, boat: Boat, full: Draft) -> None:
    spare = Spare(
        id="sp",
        label="Spare to mast",
        kind="conductor",
        start="helm",
        end="masthead",
        count=3,
        gauge="16 AWG",
    )
    line = Spare(id="pl", label="Pull line", kind="pull line", start="helm", end="mast")
    changed = add_spare(line)[1](add_spare(spare)[1](order))
    after = draft(changed, boat, shipped_catalogue())
    before, now = full.occupants, after.occupants
    assert len(now["T02"]) == len(before["T02"]) + 3
    assert len(now["T01"]) == len(before["T01"]) + 3
    rows = [row for row in caps(after).rows if row[1] == "spare conductor"]
    assert len(rows) == 6 and {row[2] for row in rows} == {"helm", "masthead"}
    seat = [row for row in caps(after).rows if "device end" in row[1]]
    assert {row[0] for row in seat} == {"Heated helm seat"} and len(seat) == 2
    pulled = next(s for s in after.spares if s.id == "pl")
    assert pulled.cut_mm >= pulled.path.length_m * 1000 + 2000


def test_hours_and_effects_count_what_changes(order: Order, boat: Boat, full: Draft) -> None:
    lines = hour_lines(full)
    assert bench_hours(full) == pytest.approx(sum(x.hours for x in lines if not x.aboard))
    assert {x.harness for x in lines} == {"hull", "console", "deck", "hardtop"}
    assert sum(x.hours for x in lines if x.aboard) > 5
    slower = hour_lines(full, {**MINUTES, "lay a metre": 4.0})
    metres = sum(w.cut_mm for w in full.assembled.wires) / 1000
    longer = sum(x.hours for x in slower) - sum(x.hours for x in lines)
    assert longer == pytest.approx(metres * (4.0 - MINUTES["lay a metre"]) / 60)
    fewer = dataclasses.replace(order, options=tuple(o for o in order.options if o != "radar"))
    after = draft(fewer, boat, shipped_catalogue())
    change = effect(full, after)
    first, second = figures_of(full), figures_of(after)
    assert change.by.wires == second.wires - first.wires < 0
    assert change.by.hours < 0 and change.by.metres < 0
    assert change.by.watts == pytest.approx(-3.5 * 12)
    assert "wires" in effect_words(change) and "−42 W" in effect_words(change)
    assert effect_words(effect(full, full)) == "changes no wire"
