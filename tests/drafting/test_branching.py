"""How the loads of one circuit are joined: trees of least copper, chains, stars."""

import dataclasses
import itertools

import networkx as nx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from vivid_loom.boat import Run, Station, read_boat
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.patterns import PATTERNS, Places, Point
from vivid_loom.drafting.places.branching import joined_to
from vivid_loom.drafting.places.route import RouteMap
from vivid_loom.order import PROFILES

PROFILE = PROFILES["shop"]


def routes_of(lengths: list[float], branches: list[int]) -> tuple[RouteMap, list[str]]:
    """Return a random tree of runs: station i hangs on an earlier one."""
    names = [f"s{i}" for i in range(len(lengths) + 1)]
    stations = tuple(Station(id=n, name=n, area="a", x_m=0, y_m=0, z_m=0) for n in names)
    runs = tuple(
        Run(id=f"r{i}", ends=(names[at % (i + 1)], names[i + 1]), length_m=m, harness="h", area="a")
        for i, (m, at) in enumerate(zip(lengths, branches, strict=True))
    )
    return RouteMap(stations, runs), names


def metres(joined: tuple[int, ...], loads: list[str], start: str, routes: RouteMap) -> float:
    """Length there and home, the circuit's home being its start."""
    ends = [start if parent < 0 else loads[parent] for parent in joined]
    return sum(2 * routes.distance_m(a, b) for a, b in zip(ends, loads, strict=True))


@settings(max_examples=150, deadline=None)
@given(
    st.lists(st.floats(0.2, 5.0), min_size=3, max_size=9),
    st.data(),
)
def test_no_way_of_joining_is_shorter(lengths: list[float], data: st.DataObject) -> None:
    """Against networkx: never below the least spanning tree, equal to it where joints allow."""
    branches = data.draw(st.lists(st.integers(0, 20), min_size=len(lengths), max_size=len(lengths)))
    routes, names = routes_of(lengths, branches)
    loads = data.draw(st.permutations(names[1:]).map(lambda p: sorted(p[:6])))
    loads.sort(key=lambda n: (routes.distance_m("s0", n), n))
    tree = joined_to(loads, "s0", "s0", routes, PROFILE)
    chain = joined_to(loads, "s0", "s0", routes, dataclasses.replace(PROFILE, branching="chain"))
    assert chain == tuple(range(-1, len(loads) - 1))
    length = metres(tree, loads, "s0", routes)
    graph = nx.Graph()
    for a, b in itertools.combinations(["s0", *loads], 2):
        graph.add_edge(a, b, weight=2 * routes.distance_m(a, b))
    least = nx.minimum_spanning_tree(graph).size(weight="weight")
    assert length >= least - 1e-9
    assert (
        length <= metres(chain, loads, "s0", routes) + 1e-9
        or max(tree.count(i) for i in range(-1, len(loads))) == 2
    )
    if all(degree <= 2 for _, degree in nx.minimum_spanning_tree(graph).degree()):
        assert length == pytest.approx(least)


def test_joints_take_no_more_than_two_wires_on() -> None:
    routes, names = routes_of([1.0] * 6, [0] * 6)  # a star of runs around the start
    tree = joined_to(names[1:], "s0", "s0", routes, PROFILE)
    assert all(tree.count(i) <= 2 for i in range(-1, 6)) and len(set(tree)) > 2
    star = joined_to(names[1:], "s0", "s0", routes, dataclasses.replace(PROFILE, branching="star"))
    assert star == (-1,) * 6


def test_a_tree_of_conductors_carries_what_is_beyond() -> None:
    places = Places(
        way=Point("FB", "way 1", "helm", "way"),
        contact=(),
        also=(),
        loads=("a", "b", "c", "d"),
        stations=("sa", "sb", "sc", "sd"),
        home=Point("NB", "screw 1", "helm", "screw"),
        joined_to=(-1, 0, 0, 2),
    )
    plan = PATTERNS["device_switched"].plan(places)
    carries = {leg.id: leg.carries for leg in plan.legs}
    assert carries["P1"] == carries["N1"] == (0, 1, 2, 3)
    assert carries["P2"] == (1,) and carries["P3"] == (2, 3) and carries["P4"] == (3,)
    assert dict(plan.paths)[3] == (0, 2, 3, 4, 6, 7)


def test_the_least_copper_is_less_than_a_chain(any_draft: Draft) -> None:
    aboard = any_draft.aboard
    boat = read_boat(DEMO_FOLDER / aboard.order.boat)
    drafted = {}
    for school in ("least_copper", "chain", "star"):
        changes = (*aboard.order.profile_changes, ("branching", school))
        order = dataclasses.replace(aboard.order, profile_changes=changes, overrides=())
        done = draft(order, boat, any_draft.catalogue)
        drafted[school] = sum(wire.routed_m for wire in done.assembled.wires)
    assert drafted["least_copper"] <= drafted["chain"] + 1e-6
    assert drafted["least_copper"] <= drafted["star"] + 1e-6
