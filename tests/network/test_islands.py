"""Islands against connected components of a graph library."""

import networkx as nx
import numpy as np

from vivid_loom.network.islands import Breaks, Joined, dead_ends, islands


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


def _joined(
    branches: list[tuple[int, int]],
    taken: list[tuple[int, int]],
    size: int,
    source: tuple[int, int],
) -> Joined:
    ends = (
        np.array(pairs, dtype=np.int64).reshape(-1, 2).T for pairs in (branches, [source], taken)
    )
    return Joined(*ends, size)


def test_what_is_tied_at_one_end_takes_nothing() -> None:
    """Minus at 0, plus at 1; lamps from plus to node 2, whose way home is cut."""
    lamps = [(1, 2), (1, 2), (1, 2)]
    dead, dark = dead_ends(_joined([], lamps, 3, (1, 0)))
    assert dark.all(), "all hang from plus"
    assert not dead.any(), "but what ties node 2 is charged"
    _, dark = dead_ends(_joined([], [*lamps, (2, 0)], 3, (1, 0)))
    assert not dark.any(), "one lamp home, and all carry"
    _, dark = dead_ends(_joined([(0, 1)], lamps, 3, (1, 0)))
    assert not dark.any(), "a shorted battery is no longer one voltage"


def test_single_breaks_leave_dark_what_the_whole_network_says() -> None:
    """Every break of random networks, walked from its ends, against all islands anew."""
    dice = np.random.default_rng(11)
    told = some = 0
    for _ in range(1500):
        size = int(dice.integers(4, 14))
        branches = dice.integers(0, size, (int(dice.integers(2, 14)), 2))
        branches = branches[branches[:, 0] != branches[:, 1]]
        taken = dice.integers(0, size, (int(dice.integers(1, 6)), 2))
        taken = taken[taken[:, 0] != taken[:, 1]]
        source = tuple(dice.choice(size, 2, replace=False).tolist())
        net = _joined(branches.tolist(), taken.tolist(), size, source)
        before = dead_ends(net)[1]
        breaks = Breaks(net)
        for i in range(len(branches)):
            found = breaks.darkened(i)
            if found is None:
                continue
            left = _joined(np.delete(branches, i, 0).tolist(), taken.tolist(), size, source)
            new = set(np.flatnonzero(dead_ends(left)[1] & ~before).tolist())
            assert new <= set(found)
            assert all(dead_ends(left)[1][k] for k in found), "nothing is called dark that runs"
            told += 1
            some += bool(new)
    assert told > 1000 and some > 100, (told, some)
