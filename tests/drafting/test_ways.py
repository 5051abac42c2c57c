"""Routes: true shortest paths, ways by way of stations, changed hulls, what of a boat can stay."""

import dataclasses
import itertools
import random

import networkx as nx
import pytest

from vivid_loom.boat import (
    Boat,
    Fit,
    Geography,
    Option,
    Run,
    Station,
    Swing,
    changed_boat,
    offering,
)
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, DraftError, built_wires, draft
from vivid_loom.drafting.places.route import RouteMap
from vivid_loom.order import (
    Order,
    add_fit,
    add_run,
    change_geography,
    change_loads,
    change_station,
    join_runs,
    make_option,
    move_loads,
    remove_run,
    send_by_way,
    split_run,
)
from vivid_loom.sheets import packet_files

STOCK = shipped_catalogue()


def random_geography(seed: int) -> tuple[tuple[Station, ...], tuple[Run, ...]]:
    rng = random.Random(seed)
    stations = tuple(
        Station(id=f"s{i}", name=f"S{i}", area="a", x_m=rng.uniform(0, 9), y_m=0, z_m=0)
        for i in range(rng.randrange(3, 30))
    )
    names = [s.id for s in stations]
    pairs = [tuple(rng.sample(names, 2)) for _ in range(rng.randrange(4, 90))]
    runs = tuple(
        Run(
            id=f"r{i}",
            ends=pair,
            length_m=rng.uniform(0.1, 4),
            harness="h",
            area="a",
            permitted=rng.random() > 0.15,
            swing=Swing(fixed_m=0.3, moving_m=0.2, sweep_deg=60) if rng.random() < 0.2 else None,
        )
        for i, pair in enumerate(pairs)
    )
    return stations, runs


@pytest.mark.parametrize("seed", range(40))
def test_shortest_paths_on_random_boats_agree_with_networkx(seed: int) -> None:
    stations, runs = random_geography(seed)
    graph = nx.MultiGraph()
    graph.add_nodes_from(s.id for s in stations)
    for run in runs:
        if run.permitted:
            graph.add_edge(*run.ends, weight=run.wire_m)
    routes = RouteMap(stations, runs)
    for a, b in itertools.islice(itertools.permutations([s.id for s in stations], 2), 120):
        if not nx.has_path(graph, a, b):
            with pytest.raises(DraftError):
                routes.path(a, b)
            continue
        path = routes.path(a, b)
        assert path.length_m == pytest.approx(nx.shortest_path_length(graph, a, b, "weight"))
        assert path.length_m == pytest.approx(sum(r.wire_m for r in path.runs))
        for run, (p, q) in zip(path.runs, itertools.pairwise(path.stations), strict=True):
            assert run.permitted and set(run.ends) == {p, q}


@pytest.mark.parametrize("circuit", ["C07", "C02", "C16", "C29", "C30"])
@pytest.mark.parametrize("station", ["mast", "galley", "aft_trunk"])
def test_a_circuit_sent_by_way_of_a_station_goes_there_both_ways(
    order: Order, boat: Boat, full: Draft, circuit: str, station: str
) -> None:
    there = next(s for s in boat.stations if s.id == station)
    after = draft(send_by_way(circuit, circuit, (there,))[1](order), boat, STOCK)
    row, old = after.circuit(circuit), full.circuit(circuit)
    assert row is not None and old is not None and row.sized and old.sized
    legs = dict(zip((leg.id for leg in row.planned.plan.legs), row.paths, strict=True))
    assert station in legs["N1"].stations
    assert any(station in path.stations for name, path in legs.items() if name != "N1")
    assert row.sized.loop_length_m >= old.sized.loop_length_m - 1e-9
    wires = [w for w in after.assembled.wires if w.circuit == circuit]
    assert any(station in w.stations for w in wires)


def test_the_shortest_way_comes_back(order: Order, boat: Boat, full: Draft) -> None:
    there = next(s for s in boat.stations if s.id == "mast")
    sent = send_by_way("C07", "Floods", (there,))[1](order)
    back = send_by_way("C07", "Floods", ())[1](sent)
    assert back == order
    with pytest.raises(DraftError, match="unknown station"):
        draft(
            send_by_way("C07", "x", (dataclasses.replace(there, id="no"),))[1](order), boat, STOCK
        )


def test_splitting_a_run_changes_no_length(order: Order, boat: Boat, full: Draft) -> None:
    run = next(r for r in boat.runs if r.id == "H12")
    middle = Station(id="mid", name="Mid", area="tanks", x_m=2.5, y_m=0.5, z_m=0.8)
    split = split_run(run, middle, 0.5)[1](order)
    after = draft(split, boat, STOCK)
    assert {w.id: w.cut_mm for w in after.assembled.wires} == {
        w.id: w.cut_mm for w in full.assembled.wires
    }
    runs = {r.id: r for r in after.aboard.boat.runs}
    assert runs["H12a"].length_m + runs["H12b"].length_m == pytest.approx(run.length_m)
    joined = join_runs(runs["H12a"], runs["H12b"])[1](split)
    again = draft(joined, boat, STOCK)
    assert sum(r.length_m for r in again.aboard.boat.runs) == pytest.approx(
        sum(r.length_m for r in boat.runs)
    )
    for bad in (0.0, run.length_m, 99.0):
        with pytest.raises(ValueError, match="within"):
            split_run(run, middle, bad)
    with pytest.raises(ValueError, match="meet"):
        join_runs(run, next(r for r in boat.runs if r.id == "D07"))


def test_a_shorter_new_run_is_taken_and_a_removed_one_is_not(order: Order, boat: Boat) -> None:
    short = Run(id="Y01", ends=("battery", "helm"), length_m=0.9, harness="console", area="battery")
    after = draft(add_run(short)[1](order), boat, STOCK)
    assert any("Y01" in w.runs for w in after.assembled.wires)
    gone = remove_run(short)[1](add_run(short)[1](order))
    assert not any("Y01" in w.runs for w in draft(gone, boat, STOCK).assembled.wires)
    only = next(r for r in boat.runs if r.id == "T02")
    with pytest.raises(DraftError, match="cannot be reached"):
        draft(remove_run(only)[1](order), boat, STOCK)


def test_moving_a_load_moves_its_wires(order: Order, boat: Boat) -> None:
    light = next(load for o in boat.options for load in o.adds.loads if load.id == "searchlight")
    mast = next(s for s in boat.stations if s.id == "mast")
    name, change = move_loads((light,), mast)
    assert name == f"move {light.name} to Mast foot"
    after = draft(change(order), boat, STOCK)
    assert after.aboard.loads["searchlight"].station == "mast"
    assert "mast" in {s for w in after.assembled.wires if w.circuit == "C29" for s in w.stations}


def test_changed_figures_of_an_option_go_with_it(order: Order, boat: Boat) -> None:
    light = next(load for o in boat.options for load in o.adds.loads if load.id == "searchlight")
    dimmer = dataclasses.replace(light, running_a=4.0)
    changed = change_loads((dimmer,), "running")[1](order)
    assert draft(changed, boat, STOCK).aboard.loads["searchlight"].running_a == 4.0
    fewer = dataclasses.replace(
        changed, options=tuple(o for o in order.options if o != "searchlight")
    )
    assert "searchlight" not in draft(fewer, boat, STOCK).aboard.loads


def test_a_hull_that_contradicts_itself_is_refused(order: Order, boat: Boat) -> None:
    nowhere = Station(id="x", name="X", area="no such area", x_m=0, y_m=0, z_m=0)
    with pytest.raises(DraftError, match="unknown area"):
        draft(change_station(nowhere, new=True)[1](order), boat, STOCK)
    assert changed_boat(boat, order.hull_changes) is boat


def test_what_an_order_adds_becomes_an_option_and_nothing_else_moves(
    order: Order, boat: Boat
) -> None:
    (light,) = (option.adds for option in boat.options if option.id == "searchlight")
    plain = dataclasses.replace(
        order, options=tuple(o for o in order.options if o != "searchlight"), removed=("usb_2",)
    )
    own = add_fit(light)[1](plain)
    option = Option(id="lamp", name="Lamp", group="Deck", removes=("usb_2",))
    made = make_option(option)[1](own)
    assert made.added == Fit() and made.removed == () and "lamp" in made.options
    before, after = draft(own, boat, STOCK), draft(made, boat, STOCK)
    cut = frozenset({"cutlist"})
    assert packet_files(before, cut) == packet_files(after, cut)
    assert [o.id for o in offering(boat, made.hull_changes).options][-1] == "lamp"
    without = dataclasses.replace(made, options=plain.options)
    assert "searchlight" not in draft(without, boat, STOCK).aboard.loads
    needing = dataclasses.replace(option, id="other", requires=("lamp",))
    refused = make_option(needing)[1](without)
    with pytest.raises(DraftError, match="'other' without 'lamp', which it requires"):
        draft(refused, boat, STOCK)


def test_a_hull_gets_other_areas_and_keeps_those_in_use(order: Order, boat: Boat) -> None:
    hot = dataclasses.replace(boat.areas[0], engine_heat=True, ambient_c=60.0)
    land = Geography(hull=boat.hull, areas=(hot, *boat.areas[1:]), assemblies=boat.assemblies)
    changed = draft(change_geography(land)[1](order), boat, STOCK)
    assert changed.aboard.boat.areas[0].engine_heat
    assert changed.circuit("C32").sized.drop_v > 0
    fewer = dataclasses.replace(land, areas=boat.areas[1:])
    with pytest.raises(DraftError, match="unknown area"):
        draft(change_geography(fewer)[1](order), boat, STOCK)


def test_a_built_boat_keeps_what_fits_and_loses_the_rest(
    order: Order, boat: Boat, full: Draft
) -> None:
    assert not full.reuse.kept
    built = dataclasses.replace(order, built=built_wires(full.assembled), based_on="0417")
    same = draft(built, boat, STOCK)
    assert len(same.reuse.kept) == len(same.assembled.wires) and not same.reuse.comes_off
    less = draft(
        dataclasses.replace(built, options=tuple(o for o in order.options if o != "radar")),
        boat,
        STOCK,
    )
    assert {b.circuit for b in less.reuse.comes_off} >= {"C30"}
    thicker = dataclasses.replace(
        built.built[0], gauge="4/0 AWG"
    )  # the wire that lies there is not the one drawn
    other = draft(dataclasses.replace(built, built=(thicker, *built.built[1:])), boat, STOCK)
    assert len(other.reuse.kept) == len(other.assembled.wires) - 1
    capped = tuple(dataclasses.replace(b, state="capped") for b in built.built)
    dead = draft(dataclasses.replace(built, built=capped), boat, STOCK)
    assert not dead.reuse.kept and not dead.reuse.comes_off


@pytest.mark.parametrize(
    ("swing", "slack_m"),
    [
        # straight across at rest: the span is longest amidships, no slack (law of cosines)
        (Swing(fixed_m=0.3, moving_m=0.2, sweep_deg=60, rest_deg=180), 0.0),
        # passes through straight on the way: longest span is 0.3 + 0.2
        (Swing(fixed_m=0.3, moving_m=0.4, sweep_deg=180, rest_deg=90), 0.7 - 0.5),
        # a 3-4-5 triangle at rest, hard over short of straight: 0.09 + 0.16 - 0.24 cos 120°
        (Swing(fixed_m=0.3, moving_m=0.4, sweep_deg=60, rest_deg=90), 0.37**0.5 - 0.5),
    ],
)
def test_slack_of_a_moving_joint_by_hand(swing: Swing, slack_m: float) -> None:
    assert swing.slack_m == pytest.approx(slack_m, abs=1e-9)


@pytest.mark.parametrize("seed", range(20))
def test_no_angle_of_the_sweep_wants_more_wire(seed: int) -> None:
    rng = random.Random(seed)
    swing = Swing(
        fixed_m=rng.uniform(0.05, 1),
        moving_m=rng.uniform(0.05, 1),
        sweep_deg=rng.uniform(5, 360),
        rest_deg=rng.uniform(0, 180),
    )
    spans = [swing.span_m(swing.sweep_deg * (i / 400 - 0.5)) for i in range(401)]
    assert max(spans) - swing.span_m(0) <= swing.slack_m + 1e-9
    assert swing.slack_m <= max(spans) - swing.span_m(0) + 0.01
