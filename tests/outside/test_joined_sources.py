"""The greatest short of a supply with several sources, against networkx's resistance distance
(D. J. Klein and M. Randić, Resistance distance, Journal of Mathematical Chemistry 12, 1993).
"""

import random

import networkx as nx
import pytest

from tests.drafting.test_supply_shapes import circuit, drafted, load, order
from tests.netlist.test_steady_currents import tied_boat
from vivid_loom.drafting.sizing.joined_sources import Branch, resistances_ohm
from vivid_loom.standards import conductor, short_circuit


@pytest.mark.parametrize("seed", range(40))
def test_the_resistance_between_two_points_of_any_network(seed: int) -> None:
    rng = random.Random(seed)
    graph = nx.gnm_random_graph(rng.randint(2, 12), rng.randint(1, 24), seed=seed)
    ohms = {edge: rng.uniform(1e-4, 0.1) for edge in graph.edges}
    branches = tuple(Branch(str(a), str(b), ohm) for (a, b), ohm in ohms.items())
    joined = nx.node_connected_component(graph, 0)
    apart = set(graph) - joined
    for other in sorted(joined - {0}):
        weighted = nx.Graph()
        weighted.add_weighted_edges_from((a, b, r) for (a, b), r in ohms.items() if a in joined)
        expected = nx.resistance_distance(weighted, 0, other, weight="weight")
        assert resistances_ohm(branches, "0")[str(other)] == pytest.approx(expected, rel=1e-9)
    assert not {str(other) for other in apart} & set(resistances_ohm(branches, "0"))


def test_a_short_sees_the_bank_behind_the_combiner_and_the_alternator() -> None:
    """Each battery 12.8 V behind its own resistance: what ties them counts, not one alone."""
    flood = load("flood", "blocks", 3.0)
    asked = order([flood], [circuit("C1", "device_switched", "flood", level="battery_direct")])
    done = drafted(asked, tied_boat())
    row = done.circuit("C1")
    assert row is not None and row.fault is not None
    network, graph = done.aboard.boat.network, nx.Graph()
    for battery in network.batteries.values():
        own = short_circuit.battery_resistance(12.0, battery.cranking_a).value
        graph.add_edge(f"{battery.id}+", f"{battery.id}-", weight=own)
    open_v = short_circuit.battery_open_v(12.0)
    graph.add_edge("ALT+", "ALT-", weight=open_v / 80.0)
    for feeder in done.feeders:
        assert feeder.sized is not None
        legs = zip(feeder.planned.plan.legs, feeder.paths, strict=True)
        for leg, path in legs:
            ohm = path.length_m * conductor.ohm_per_m(feeder.sized.gauge.value, 20.0)
            sign = "-" if leg.live == "return" else "+"
            graph.add_edge(f"{leg.start.place}{sign}", f"{leg.end.place}{sign}", weight=ohm)
    ohm = nx.resistance_distance(graph, "BLK+", "BAT-", weight="weight")  # no bus beside it
    assert row.fault.near_a == pytest.approx(open_v / ohm, rel=1e-6)
    alone = nx.Graph(graph)
    alone.remove_edge("B2+", "B2-")
    alone.remove_edge("ALT+", "ALT-")
    only = nx.resistance_distance(alone, "BLK+", "BAT-", weight="weight")
    assert row.fault.near_a > 1.1 * open_v / only  # more than the first battery alone gives
