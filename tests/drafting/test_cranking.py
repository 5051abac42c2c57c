"""Leads that an engine's starter draws through: no device, but copper for it there and home."""

import dataclasses
import random

import pytest

from tests.drafting.test_supply_shapes import battery, circuit, codes, drafted, errors, load, order
from tests.launch import bare
from vivid_loom.boat import Battery, Boat, Feed, Home, ReturnBus, Supply
from vivid_loom.demo.free_shapes import free_supply
from vivid_loom.drafting import Draft
from vivid_loom.quantities import Gauge
from vivid_loom.sheets.proof import proven
from vivid_loom.standards.conductor import is_thinner

ENGINE = "1/0"


def engine_boat(kind: str = "battery_switch", *, cranks: bool = True) -> Boat:
    """The engine's battery cable lands on the switch, its block on the main bus."""
    batteries: tuple[Battery, ...] = (battery("B1"),)
    if kind == "selector":
        batteries += (battery("B2"),)
    cranking = f"{ENGINE} AWG" if cranks else ""
    feeds = tuple(
        Feed(source=b.id, port=port, stud="M10", cranking=cranking)
        for b, port in zip(batteries, ("1", "2") if kind == "selector" else ("",), strict=True)
    )
    switch = Supply(
        id="SW",
        name="Switch",
        station="battery",
        kind=kind,  # type: ignore[arg-type]
        level="unswitched",
        total_max_a=300.0,
        feeds=feeds,
    )
    block = Supply(
        id="BLK",
        name="Block",
        station="blocks",
        kind="fuse_block",
        level="unswitched",
        ways=6,
        feeds=(Feed(source="SW", family="class T fuse", distance_mm=100.0),),
    )
    alternator = Supply(
        id="ALT",
        name="Alternator",
        station="a0_port",
        kind="charge_source",
        level="battery_direct",
        total_max_a=60.0,
        case_on="ENG",
        feeds=(Feed(source="B1", family="post fuse", distance_mm=60.0, stud="M10"),),
    )
    main = ReturnBus(
        id="N0",
        name="Main negative",
        station="battery",
        screws=20,
        screw="M8",
        max_a=300.0,
        homes=tuple(Home(to=b.id) for b in batteries),
    )
    block_of = ReturnBus(
        id="ENG",
        name="Engine",
        station="a0_port",
        screws=4,
        screw="M8",
        homes=(Home(to="N0", gauge=cranking),),
    )
    return bare(
        batteries=batteries, supplies=(switch, block, alternator), return_buses=(main, block_of)
    )


def drawn(kind: str = "battery_switch", *, cranks: bool = True) -> Draft:
    flood = load("flood", "blocks", 3.0)
    asked = order([flood], [circuit("C1", "device_switched", "flood")])
    return drafted(asked, engine_boat(kind, cranks=cranks))


@pytest.mark.parametrize("kind", ["battery_switch", "selector"])
def test_every_lead_that_the_starter_draws_through_is_as_thick_as_its_maker_asks(kind: str) -> None:
    """There and home: the engine's block lands on a bus, and the battery's minus starts at it."""
    done = drawn(kind)
    least = Gauge.parse(f"{ENGINE} AWG")
    network = done.aboard.boat.network
    through = [n for n, f in network.feeders.items() if f.feed and f.feed.cranking]
    home = network.homeward("ENG")
    assert len(through) == len(done.aboard.boat.batteries) and len(home) == 1 + len(through)
    for name in (*through, *home):
        row = done.circuit(name)
        assert row is not None and row.sized is not None
        assert not is_thinner(row.sized.gauge.value, least), name
    assert errors(done) == []
    assert [f.code for f in proven(done).standing if f.severity == "error"] == []


def test_a_starting_lead_without_a_device_is_judged_and_any_other_is_an_error() -> None:
    done = drawn()
    (told,) = [f for f in done.findings if f.code == "P40"]
    assert "SW" in told.subjects and "B1 to Switch" in told.sentence()
    assert "P01" not in codes(done)
    assert "P01" in codes(drawn(cranks=False))


def test_what_leaves_the_switch_beside_the_starter_wants_a_device_there() -> None:
    boat = engine_boat()
    switch, block, alternator = boat.supplies
    bare_feed = dataclasses.replace(block, feeds=(Feed(source="SW"),))
    done = drafted(
        order([load("flood", "blocks", 3.0)], [circuit("C1", "device_switched", "flood")]),
        dataclasses.replace(boat, supplies=(switch, bare_feed, alternator)),
    )
    assert any(f.code == "P01" and "BLK" in f.subjects for f in done.findings)


def test_batteries_joined_by_starting_leads_push_no_more_than_they_can() -> None:
    """Set to both, a full one evens a flat one out: 1.3 V over both resistances of 600 A cells;
    the alternator's 60 A and what the 4 A fuse lets pass may come on top. The cables bear it.
    """
    done = drawn("selector")
    ohm = 0.5 * (12.7 - 7.2) / 600
    for name in ("F05", "F06"):
        row, need = done.circuit(name), done.needs[name]
        assert need.return_a == pytest.approx(1.3 / (2 * ohm) + 60 + 4)
        assert row is not None and row.sized is not None
        assert row.sized.alone_a >= need.return_a


@pytest.mark.parametrize("seed", range(24))
def test_in_a_supply_of_any_shape_the_starters_way_is_thick(seed: int) -> None:
    """Some part is said to feed a starter: every lead on the way there is as thick, none of them
    without a device is an error, and each such lead is judged.
    """
    asked, boat = free_supply(seed)
    taking = [s for s in boat.supplies if s.kind != "charge_source"]
    if not taking:
        pytest.skip("nothing in it takes current")
    chosen = random.Random(seed).choice(taking)
    first, *rest = chosen.feeds
    feed = dataclasses.replace(first, family=None, cranking=f"{ENGINE} AWG")
    starts = dataclasses.replace(chosen, feeds=(feed, *rest))
    supplies = tuple(starts if s.id == chosen.id else s for s in boat.supplies)
    done = drafted(asked, dataclasses.replace(boat, supplies=supplies))
    network, least = done.aboard.boat.network, Gauge.parse(f"{ENGINE} AWG")
    lead = network.supplies[chosen.id].feeds[0]
    way = {lead.id, *network.upstream(lead.source)}
    for name in way:
        row = done.circuit(name)
        assert row is not None
        assert row.sized is None or not is_thinner(row.sized.gauge.value, least), name
    told = {(f.code, f.subjects[0]) for f in done.findings if f.code in ("P01", "P40")}
    guarded = done.needs[lead.id].guard_a == done.needs[lead.id].guard_a
    assert ("P01", lead.id) not in told
    assert guarded or ("P40", lead.id) in told
