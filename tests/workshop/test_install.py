"""How a harness goes in: every branch once, outward; every plug through every hole before it."""

from itertools import pairwise

import networkx as nx

from vivid_loom.drafting import Draft
from vivid_loom.standards.terminals import SHELL_MM
from vivid_loom.workshop.harness.install import install_steps
from vivid_loom.workshop.harness.tree import harness_trees


def test_branches_go_in_outward_each_once(any_draft: Draft) -> None:
    for assembly in any_draft.aboard.boat.assemblies:
        for tree in harness_trees(any_draft, assembly):
            steps = install_steps(any_draft, tree)
            assert sorted(s.branch.id for s in steps) == sorted(b.id for b in tree.branches)
            reached = {tree.datum}
            for step in steps:
                assert step.branch.near in reached
                reached.add(step.branch.far)


def test_every_plug_passes_the_holes_on_its_way(any_draft: Draft) -> None:
    """Shortest way by another library: whatever lies on it must pass the plug's shell."""
    narrow = 0
    for assembly in any_draft.aboard.boat.assemblies:
        for tree in harness_trees(any_draft, assembly):
            steps = {step.branch.id: step for step in install_steps(any_draft, tree)}
            graph = nx.Graph()
            for branch in tree.branches:
                graph.add_edge(branch.near, branch.far, run=branch.id)
            for plug in any_draft.assembled.plugs:
                if assembly.id not in (plug.live, plug.dead) or plug.station not in graph:
                    continue
                way = nx.shortest_path(graph, tree.datum, plug.station)
                shell = SHELL_MM[plug.contact, plug.ways]
                for pair in pairwise(way):
                    step = steps[graph.edges[pair]["run"]]
                    assert step.hole_mm >= shell
                    narrow += plug.id in step.late
                if len(way) > 1:
                    last = steps[graph.edges[way[-2], way[-1]]["run"]]
                    assert plug.id in last.mates
    if any_draft.aboard.order.hull == "0417":
        assert narrow  # some conduit there is narrower than a shell


def test_holes_take_the_bundle_with_room_to_grow(full: Draft) -> None:
    (tree,) = harness_trees(full, full.aboard.boat.assemblies[0])
    diameter = {stock.gauge: stock.diameter_mm for stock in full.catalogue.wires}
    wires = {wire.id: wire for wire in full.assembled.wires}
    cores = {wire.id: wire.cable for wire in full.assembled.wires}
    grown = 1 + full.aboard.profile.growth_percent / 100
    assert any(len(branch.wires) > 20 for branch in tree.branches)
    for step in install_steps(full, tree):
        over = [wires[name] for name in step.branch.wires if not cores[name]]
        copper = sum(diameter[str(wire.gauge)] ** 2 for wire in over)
        assert step.hole_mm**2 >= grown * copper  # no hole is fuller than its wires are thick
        assert step.passes == (step.areas[0] != step.areas[1])
