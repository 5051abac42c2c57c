"""Presses on random panels, against connected components of a graph library."""

import random
from itertools import product

import networkx as nx

from vivid_loom.netlist import (
    Actuator,
    Conductor,
    Contact,
    Element,
    NetList,
    Part,
    Presses,
    Terminal,
    TerminalId,
)
from vivid_loom.quantities import Gauge
from vivid_loom.standards.colours import InsulationColour
from vivid_loom.standards.terminals import form_of

FORM, GAUGE, SHADE = form_of("tab", ""), Gauge("AWG", 16), InsulationColour("BU", "")


class Random:
    """A battery, a few switches and loads, and wires between any of their terminals."""

    def __init__(self, seed: int) -> None:
        rng = self.rng = random.Random(seed)
        self.levers: dict[str, tuple[str, ...]] = {}
        self.terminals: list[TerminalId] = []
        self.contacts: list[Contact] = []
        self.elements: list[Element] = []
        self.parts = [Part("all", "panel", "All", "helm")]
        plus, minus = self.terminal("B +"), self.terminal("B -")
        self.elements.append(Element("battery", "all", plus, minus, "source", volts=12.0))
        for i in range(rng.randint(1, 4)):
            throws = rng.choice((("up",), ("up", "down")))
            self.levers[f"s{i}"] = ("off", *throws)
            for pole in range(rng.randint(1, 2)):
                common = self.terminal(f"s{i} {pole}C")
                for throw in throws:
                    onto = self.terminal(f"s{i} {pole}{throw}")
                    name = f"{common} {onto}"
                    self.contacts.append(Contact(name, "all", (common, onto), f"s{i}", (throw,)))
        for i in range(rng.randint(1, 6)):
            a, b = self.terminal(f"l{i} +"), self.terminal(f"l{i} -")
            self.elements.append(Element(f"l{i}", "all", a, b, rng.choice(("draw", "lamp"))))
        pairs = [rng.sample(self.terminals, 2) for _ in range(rng.randint(3, 16))]
        self.wires = [
            Conductor(f"w{i}", "C", (a, b), "feed", GAUGE, SHADE, 1.0)
            for i, (a, b) in enumerate(pairs)
        ]

    def terminal(self, name: str) -> TerminalId:
        self.terminals.append(TerminalId(name))
        return self.terminals[-1]

    @property
    def net(self) -> NetList:
        return NetList(
            parts=tuple(self.parts),
            terminals=tuple(Terminal(t, "all", t, "tab", FORM) for t in self.terminals),
            actuators=tuple(Actuator(n, "all", s) for n, s in self.levers.items()),
            contacts=tuple(self.contacts),
            elements=tuple(self.elements),
            conductors=tuple(self.wires),
        )

    def graph(self, states: dict[str, str]) -> "nx.Graph[str]":
        graph: nx.Graph[str] = nx.Graph()
        graph.add_nodes_from(self.terminals)
        graph.add_edges_from(wire.ends for wire in self.wires)
        graph.add_edges_from(c.ends for c in self.contacts if states[c.actuator] in c.closed_in)
        return graph


def in_series(boat: Random, graph: "nx.Graph[str]", plus: set[str], minus: set[str]) -> set[str]:
    """Return the loads on a way from plus to minus over nodes that are neither."""
    by_loads: nx.MultiGraph[str] = nx.MultiGraph()
    node = {t: min(c) for c in nx.connected_components(graph) for t in c}
    names = {"+": plus, "-": minus}

    def at(terminal: str, load: str) -> str:
        for sign, known in names.items():
            if terminal in known:
                return f"{sign} {load}"  # a source's own node is passed by nothing
        return node[terminal]

    loads = [e for e in boat.elements if e.law != "source"]
    for e in loads:
        by_loads.add_edge(at(e.plus, f"{e.id}+"), at(e.minus, f"{e.id}-"), key=e.id)
    found: set[str] = set()
    for group in nx.connected_components(by_loads):
        known = {name[0] for name in group if name[:2] in ("+ ", "- ")}
        floats = [name for name in group if name[:2] not in ("+ ", "- ")]
        if floats and known == {"+", "-"}:
            found |= {key for _, _, key in by_loads.subgraph(group).edges(keys=True)}
    return found


def test_five_thousand_random_panels_agree_with_connected_components() -> None:
    states_seen = sneaks = shorts = 0
    for seed in range(5000):
        boat = Random(seed)
        moving = list(boat.levers)[: boat.rng.randint(0, len(boat.levers))]
        base = {name: boat.rng.choice(states) for name, states in boat.levers.items()}
        presses = Presses(boat.net, base, moving)
        at_base = nx.node_connected_component(boat.graph(base), "B +")
        assert {t for t in boat.terminals if presses.at({}).is_live(t)} == at_base
        choices = [boat.levers[name] for name in moving]
        for chosen in boat.rng.sample([*product(*choices)], min(3, len([*product(*choices)]))):
            states = {**base, **dict(zip(moving, chosen, strict=True))}
            pressed = presses.at({name: states[name] for name in moving})
            graph = boat.graph(states)
            plus = nx.node_connected_component(graph, "B +")
            minus = nx.node_connected_component(graph, "B -")
            assert {t for t in boat.terminals if pressed.is_live(t)} == plus
            on = {
                e.id
                for e in boat.elements
                if e.law != "source" and e.plus in plus and e.minus in minus and plus != minus
            }
            assert pressed.on == on == {e.id for e in boat.elements if pressed.is_on(e.id)}
            rest = presses.at({})
            assert pressed.apart_from(rest) == on ^ rest.on
            assert bool(pressed.shorted) == (plus == minus)
            if plus != minus:
                assert set(pressed.sneaks) == in_series(boat, graph, plus, minus)
            states_seen += 1
            sneaks += bool(pressed.sneaks)
            shorts += bool(pressed.shorted)
    print(f"{states_seen} states, {sneaks} with loads in series, {shorts} shorted")
    assert sneaks > 300 and shorts > 300
