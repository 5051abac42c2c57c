"""Islands against connected components of a graph library."""

import networkx as nx
import numpy as np

from vivid_loom.network.islands import islands


def test_a_thousand_random_graphs_have_the_islands_of_networkx() -> None:
    dice = np.random.default_rng(1)
    several = 0
    for _ in range(1000):
        size = int(dice.integers(1, 60))
        ends = dice.integers(0, size, (2, int(dice.integers(0, 80))))
        graph = nx.empty_graph(size)
        graph.add_edges_from(ends.T.tolist())
        components = list(nx.connected_components(graph))
        count, island = islands(ends, size)
        assert count == len(components)
        assert [set(island[list(c)].tolist()) for c in components] == [
            {number}
            for number in range(count)  # numbered by their lowest nodes
        ]
        several += count > 1
    assert several > 500


def test_a_long_chain_in_the_worst_order_is_one_island() -> None:
    order = np.random.default_rng(3).permutation(3000)
    count, island = islands(np.stack((order[:-1], order[1:])), 3000)
    assert count == 1 and not island.any()
