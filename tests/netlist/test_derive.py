"""Nodes, loops and what is alive, on nets small enough to see through."""

import networkx as nx
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vivid_loom.netlist import (
    Actuator,
    Conductor,
    Contact,
    Device,
    Element,
    NetList,
    Part,
    Terminal,
    TerminalId,
    devices_between,
    live_terminals,
    loops,
    nodes,
)
from vivid_loom.quantities import Gauge
from vivid_loom.standards.colours import InsulationColour
from vivid_loom.standards.terminals import form_of

FORM = form_of("stud", "M8")
AWG16, RED = Gauge("AWG", 16), InsulationColour("RD", "")
T = TerminalId


def wire(name: str, a: str, b: str) -> Conductor:
    return Conductor(name, "C1", (T(a), T(b)), "feed", AWG16, RED, 1.0)


def lamp() -> NetList:
    """Battery, fuse, switch and lamp."""
    names = ("B+", "B-", "F1", "F2", "SC", "SU", "SD", "L+", "L-")
    return NetList(
        parts=(Part("B", "battery", "B", "s"),),
        terminals=tuple(Terminal(T(n), n[0], n, "stud", FORM) for n in names),
        actuators=(Actuator("S", "S", ("off", "up", "down")),),
        contacts=(
            Contact("fuse", "F", (T("F1"), T("F2")), device=Device("blade fuse", 5.0, "C1")),
            Contact("up", "S", (T("SC"), T("SU")), "S", ("up",)),
            Contact("down", "S", (T("SC"), T("SD")), "S", ("down",)),
        ),
        elements=(
            Element("B", "B", T("B+"), T("B-"), "source", volts=12.0),
            Element("L", "L", T("L+"), T("L-"), "draw", amps=2.0),
        ),
        conductors=(
            wire("w1", "B+", "F1"),
            wire("w2", "F2", "SC"),
            wire("w3", "SU", "L+"),
            wire("w4", "L-", "B-"),
        ),
    )


def test_a_lamp_burns_with_its_switch_and_its_fuse() -> None:
    net = lamp()
    load = net.elements_of("L")[0]
    assert loops(net, load, {}) == ()
    (loop,) = loops(net, load, {"S": "up"})
    assert (loop.out, loop.home) == (("w1", "w2", "w3"), ("w4",))
    assert [contact.id for contact in devices_between(net, loop)] == ["fuse"]
    assert loops(net, load, {"S": "down"}) == ()
    for broken in ("w1", "w2", "w3", "w4", "fuse", "up"):
        assert loops(net, load, {"S": "up"}, broken={broken}) == ()


@pytest.mark.parametrize(
    ("states", "broken", "live"),
    [
        ({}, (), {"B+", "F1", "F2", "SC"}),
        ({"S": "up"}, (), {"B+", "F1", "F2", "SC", "SU", "L+"}),
        ({"S": "up"}, ("fuse",), {"B+", "F1"}),
        ({"S": "down"}, (), {"B+", "F1", "F2", "SC", "SD"}),
    ],
)
def test_what_is_alive(states: dict[str, str], broken: tuple[str, ...], live: set[str]) -> None:
    assert live_terminals(lamp(), states, broken=broken) == live


def test_landings_count_conductors() -> None:
    net = lamp()
    assert [w.id for w in net.landings[T("F2")]] == ["w2"] and net.landings[T("SD")] == ()


@given(
    st.lists(st.tuples(st.integers(0, 9), st.integers(0, 9)), max_size=20),
    st.sets(st.integers(0, 19)),
)
def test_nodes_are_the_connected_components(pairs: list[tuple[int, int]], broken: set[int]) -> None:
    """Checked by networkx."""
    terminals = tuple(Terminal(T(f"t{i}"), "p", f"t{i}", "stud", FORM) for i in range(10))
    wires = tuple(wire(f"w{i}", f"t{a}", f"t{b}") for i, (a, b) in enumerate(pairs))
    net = NetList(
        parts=(), terminals=terminals, actuators=(), contacts=(), elements=(), conductors=wires
    )
    found = nodes(net, {}, broken={f"w{i}" for i in broken})
    graph = nx.Graph()
    graph.add_nodes_from(t.id for t in terminals)
    graph.add_edges_from(w.ends for i, w in enumerate(wires) if i not in broken)
    for component in nx.connected_components(graph):
        assert len({found[name] for name in component}) == 1
    assert len(set(found.values())) == nx.number_connected_components(graph)
