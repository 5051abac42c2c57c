"""Facts of the trade and worked examples, drafted through the real pipeline."""

import dataclasses
import random

import networkx as nx
import pytest

from vivid_loom.boat import Boat, Evidence, Lead, Load
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo.generated import generated
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.places.protect import wanted_rating
from vivid_loom.drafting.places.route import RouteMap
from vivid_loom.order import Order
from vivid_loom.quantities import Gauge
from vivid_loom.standards.colours import colour_schemes
from vivid_loom.standards.protection import BLADE_COLOURS
from vivid_loom.standards.terminals import barrel_for, tensile_n


def pump(amps: float, maker_fuse_a: float | None = None) -> Load:
    return Load(
        id="p",
        name="pump",
        station="s0",
        function="bilge_pump",
        running_a=amps,
        evidence=Evidence(kind="maker"),
        leads=(Lead(function="plus"), Lead(function="minus")),
        maker_fuse_a=maker_fuse_a,
    )


@pytest.mark.parametrize(
    ("amps", "maker", "rating", "blade"),
    [(3.8, None, 5, "tan"), (2.1, 3.0, 3, "violet"), (9.5, 15.0, 15, "light blue")],
)
def test_pump_fuses(amps: float, maker: float | None, rating: float, blade: str) -> None:
    """Common practice, no source: 1.25 × continuous, but never above the maker's figure."""
    wanted = wanted_rating((pump(amps, maker),), "blade fuse")
    assert wanted is not None
    assert wanted.rating_a == rating
    assert BLADE_COLOURS[rating] == blade


def test_16_awg_takes_a_blue_terminal_and_the_blue_jaw() -> None:
    """Common practice, no source: red 22–18, blue 16–14, yellow 12–10 AWG."""
    colours = {n: barrel_for(Gauge("AWG", n)) for n in (18, 16, 14, 12, 10, 8)}
    assert {n: b.colour for n, b in colours.items()} == {
        18: "red",
        16: "blue",
        14: "blue",
        12: "yellow",
        10: "yellow",
        8: "bare",
    }
    assert colours[16].jaw == "blue"


def test_pull_test_of_16_awg_is_15_pounds() -> None:
    """ABYC E-11 tensile table (from memory)."""
    assert tensile_n(Gauge("AWG", 16)) == pytest.approx(66.7, abs=0.1)


def test_abyc_colours() -> None:
    """ABYC E-11 DC colour table (from memory)."""
    functions = colour_schemes()["function"].functions
    assert functions["bilge_blower"] == "BN/YE"
    assert functions["navigation_light"] == "GY"
    assert functions["cabin_light"] == "BU"
    assert functions["instrument"] == "VT"


def straight_boat(metres: float, amps: float, drop: str, gauge_floor: str) -> Draft:
    """One load at the end of one run from a helm block that stands at the battery."""
    _, boat = generated(0, 1)
    request = dataclasses.replace(
        boat.fit.circuits[0],
        pattern="device_switched",
        level="unswitched",
        contact=None,
        loads=("p",),
    )
    load = dataclasses.replace(
        pump(amps), station="bow", drop=drop, id="p", function="circulation_pump"
    )
    first = boat.stations[0]
    bow = dataclasses.replace(first, id="bow")
    run = dataclasses.replace(
        boat.runs[0],
        id="long",
        ends=(first.id, "bow"),
        length_m=metres,
        harness="aft",
        enclosure="open",
    )
    at = {"station": first.id}
    boat = dataclasses.replace(
        boat,
        nominal_v=12.0,
        areas=tuple(dataclasses.replace(a, engine_heat=False, ambient_c=30.0) for a in boat.areas),
        stations=(first, bow),
        runs=(run,),
        batteries=(dataclasses.replace(boat.battery, **at), *boat.batteries[1:]),
        supplies=tuple(dataclasses.replace(s, **at) for s in boat.supplies),
        return_buses=tuple(dataclasses.replace(b, **at) for b in boat.return_buses),
        panels=(dataclasses.replace(boat.panels[0], **at),),
        fit=dataclasses.replace(boat.fit, loads=(load,), circuits=(request,), switches=()),
    )
    changed = Order(
        hull="x",
        title="x",
        boat="x",
        station_date="2026-12-07",
        profile="us",
        profile_changes=(("shop_floor", gauge_floor), ("conductor_c", 29.0)),
    )
    return draft(changed, boat, shipped_catalogue())


def test_worked_example_gear_at_the_bow_counts_the_whole_loop() -> None:
    """Common practice, no source: bow of a 25 ft hull, battery at the transom: loop 50 ft."""
    done = straight_boat(25 * 0.3048, 1.0, "other", "16 AWG")
    sized = done.circuits[0].sized
    assert sized is not None
    assert sized.loop_length_m == pytest.approx(50 * 0.3048)


@pytest.mark.parametrize(
    ("amps", "loop_ft", "drop", "gauge"),
    [(5.0, 50, "critical", "10 AWG"), (10.0, 50, "other", "12 AWG"), (1.0, 30, "other", "16 AWG")],
)
def test_worked_examples_of_the_conductor_chart(
    amps: float, loop_ft: float, drop: str, gauge: str
) -> None:
    """Handbook charts at 12 V (from memory), at the charts' own conductor temperature."""
    done = straight_boat(loop_ft * 0.3048 / 2, amps, drop, "16 AWG")
    sized = done.circuits[0].sized
    assert sized is not None
    assert str(sized.gauge.value) == gauge


def test_routes_are_the_shortest_networkx_finds() -> None:
    """networkx's Dijkstra over the permitted runs of random boats."""
    rng = random.Random(5)
    for seed in range(12):
        _, boat = generated(seed, 60)
        extra = tuple(
            dataclasses.replace(
                boat.runs[0],
                id=f"x{i}",
                ends=tuple(s.id for s in rng.sample(boat.stations, 2)),
                length_m=rng.uniform(0.5, 4.0),
                permitted=i % 3 > 0,
            )
            for i in range(12)
        )
        runs = (*boat.runs, *extra)
        graph = nx.MultiGraph()
        for run in runs:
            if run.permitted:
                graph.add_edge(*run.ends, weight=run.length_m)
        routes = RouteMap(boat.stations, runs)
        for a in boat.stations[::3]:
            lengths = nx.single_source_dijkstra_path_length(graph, a.id)
            for b in boat.stations:
                if a is not b:
                    path = routes.path(a.id, b.id)
                    assert path.length_m == pytest.approx(lengths[b.id])
                    assert all(run.permitted for run in path.runs)


def test_return_bears_what_may_come_home_through_it(full: Draft, boat: Boat) -> None:
    """ABYC E-11 (from memory): area negatives by the protection behind them, not by demand."""
    for row in full.feeders:
        need = full.needs[row.id]
        assert row.sized
        if row.planned.bus and need.rating_a == need.rating_a:
            assert row.sized.alone_a >= need.return_a  # by itself: they never all flow
            assert need.return_a >= min(need.rating_a, need.home.total_a)
