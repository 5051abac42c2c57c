"""Rules about ways: each fires on its mistake, and not on something nearly the same."""

import dataclasses

import pytest

from tests.launch import LAUNCH
from vivid_loom.boat import (
    Boat,
    Home,
    Near,
    ReturnBus,
    generic_loads,
    skeleton,
)
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import draft
from vivid_loom.drafting.rules.runs import fill_of
from vivid_loom.order import Edit, Order, add_fit, change_profile, change_run, send_by_way
from vivid_loom.order.new_loads import fed_each

STOCK = shipped_catalogue()

CODES = ("R01", "R02", "R03", "R04", "R05", "R06")


def codes(order: Order, boat: Boat, *edits: Edit) -> set[tuple[str, str]]:
    for _, change in edits:
        order = change(order)
    return {(f.code, f.subjects[0]) for f in draft(order, boat, STOCK).findings}


def changed(boat: Boat, run_id: str, **fields: object) -> Edit:
    run = next(r for r in boat.runs if r.id == run_id)
    return change_run(dataclasses.replace(run, **fields), "figures")  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("what", "near", "clear", "code"),
    [
        ("wet exhaust", 49.0, 50.0, "R01"),
        ("dry exhaust", 249.0, 250.0, "R01"),
        ("fuel line", 80.0, 100.0, "R01"),
        ("moving cable", 20.0, 60.0, "R01"),
        ("compass", 400.0, 610.0, "R02"),
    ],
)
def test_clearances(
    order: Order, boat: Boat, what: str, near: float, clear: float, code: str
) -> None:
    for distance, fires in ((near, True), (clear, False)):
        passing = (Near(what=what, distance_mm=distance),)  # type: ignore[arg-type]
        found = codes(order, boat, changed(boat, "K02", near=passing))
        assert ((code, "K02") in found) is fires
    unused = (Near(what=what, distance_mm=near),)  # type: ignore[arg-type]
    assert (code, "N01") not in codes(order, boat, changed(boat, "N01", near=unused))


def test_fill_and_room_for_growth(order: Order, boat: Boat) -> None:
    """H12 carries 23 circles in conduit: 40 % of the bore is allowed (NEC chapter 9, table 1)."""
    assert ("R03", "H12") in codes(order, boat, changed(boat, "H12", bore_mm=20.0))
    tight = codes(order, boat, changed(boat, "H12", bore_mm=42.0))
    assert ("R04", "H12") in tight and ("R03", "H12") not in tight
    roomy = codes(order, boat, changed(boat, "H12", bore_mm=47.0))
    assert not {("R03", "H12"), ("R04", "H12")} & roomy
    none = change_profile("growth_percent", 0.0, "growth")
    assert ("R04", "H12") not in codes(order, boat, changed(boat, "H12", bore_mm=42.0), none)


def test_too_full_is_never_told_as_what_is_allowed(order: Order, boat: Boat) -> None:
    """'40 % of the conduit, 40 % is allowed' stood there."""
    run = next(r for r in boat.runs if r.id == "H12")
    filled = fill_of(draft(order, boat, STOCK), run, 42.0)
    assert filled is not None
    for over in (1.001, 1.01, 1.2):
        bore_mm = 42.0 * (filled.percent / (filled.limit * over)) ** 0.5
        _, change = changed(boat, "H12", bore_mm=bore_mm)
        done = draft(change(order), boat, STOCK)
        told = dict(next(f for f in done.findings if f.code == "R03").values)
        assert float(told["fill"]) > float(told["limit"]) == filled.limit


def test_a_way_of_a_circuit_that_is_not_aboard(order: Order, boat: Boat) -> None:
    mast = next(s for s in boat.stations if s.id == "mast")
    sent = send_by_way("C30", "Radar", (mast,))
    assert ("R05", "C30") not in codes(order, boat, sent)
    fewer = dataclasses.replace(order, options=tuple(o for o in order.options if o != "radar"))
    assert ("R05", "C30") in codes(fewer, boat, sent)


@pytest.mark.parametrize(("count", "fires"), [(23, False), (25, True)])
def test_plugs_that_can_be_swapped(count: int, fires: bool) -> None:
    """Six shells of size 16 in four keys each: the fore bus's own takes one
    of them, and the twenty-fifth plug must repeat one."""
    boat = skeleton(LAUNCH)
    boat = dataclasses.replace(
        boat,
        supplies=tuple(
            dataclasses.replace(s, ways=60) if s.id == "HFB" else s for s in boat.supplies
        ),
        return_buses=(
            *boat.return_buses,
            ReturnBus(
                id="NB2", name="Fore bus", station="a3_port", homes=(Home(beside="HFB"),), screws=80
            ),
        ),
    )
    lamp = next(load for load in generic_loads() if load.id == "courtesy")
    loads = [
        dataclasses.replace(lamp.load(f"l{i}", f"L{i}", "a3_port", 12.0), safety="apart")
        for i in range(count)
    ]
    fit = fed_each(loads, "own switch", {load.id for load in loads})
    order = add_fit(fit)[1](Order(hull="1", title="T", boat="b", station_date="2026-12-07"))
    found = draft(order, boat, STOCK)
    assert len(found.assembled.plugs) >= count
    assert any(f.code == "R06" for f in found.findings) is fires
