"""The sneak proof against every state tried one by one, and the planted sneaks of the demo."""

import json
from itertools import product

import networkx as nx
from click.testing import CliRunner

from tests.netlist.test_pressed import Random
from vivid_loom.cli import main
from vivid_loom.demo import DEMO_FOLDER, DEMO_ORDER
from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.power.sneak import prove
from vivid_loom.power.sneak_boat import prove_draft

BOATS = 2000
Found = set[tuple[str, tuple[str, ...]]]


def meant(element: str, states: object) -> bool:
    """The first load is only to run while the last lever is up."""
    assert hasattr(states, "get")
    return element != "l0" or states.get("s1", "off") != "off"


def brute(boat: Random) -> Found:
    """Try every state of every lever on the whole graph, by the definitions alone."""
    found: Found = set()
    sources = [e for e in boat.elements if e.law == "source"]
    loads = [e for e in boat.elements if e.law != "source"]
    for combination in product(*boat.levers.values()):
        states = dict(zip(boat.levers, combination, strict=True))
        supplied = boat.graph({**dict.fromkeys(boat.levers, "none"), "s0": states["s0"]})
        whole = boat.graph(states)
        first = {t: min(c) for c in nx.connected_components(supplied) for t in c}
        then = {t: min(c) for c in nx.connected_components(whole) for t in c}
        fixed = {
            t: min(c)
            for c in nx.connected_components(boat.graph(dict.fromkeys(boat.levers, "none")))
            for t in c
        }
        home = {fixed[e.minus] for e in sources}
        bars = {fixed[e.plus] for e in sources}
        bars |= {fixed[end] for c in boat.contacts if c.actuator == "s0" for end in c.ends}
        bars -= home
        live_now = {first[e.plus] for e in sources}
        live = {then[b] for b in bars if first[b] in live_now}
        homes = {then[h] for h in home}
        dead = {then[b] for b in bars if first[b] not in live_now} - live - homes
        if live & homes:
            found.add(("short", ()))
            continue
        roots = {first[b] for b in bars} - {first[h] for h in home}
        ends = {then[r] for r in roots}
        if len(ends) < len(roots) or ends & homes:
            found.add(("joined", ()))
            continue
        known = live | dead | homes
        net: nx.MultiGraph[str] = nx.MultiGraph()
        through: set[str] = set()
        for load in loads:
            a, b = then[load.plus], then[load.minus]
            if {a, b} & live and {a, b} & dead:
                through.add(load.id)
            net.add_edge(
                a if a not in known else f"{a} {load.id}", b if b not in known else f"{b} {load.id}"
            )
        for group in nx.connected_components(net):
            hanging = {n for n in group if n not in known and n.split(" l")[0] not in known}
            ends = {n.rsplit(" l", 1)[0] for n in group if n not in hanging}
            if hanging and ends & live and ends & (dead | homes):
                through |= {
                    x.id
                    for x in loads
                    if ({then[x.plus], then[x.minus]} & hanging) and then[x.plus] != then[x.minus]
                }
        if through:
            found.add(("series", tuple(sorted(through))))
        moved = {n: s for n, s in states.items() if s != boat.levers[n][0]}
        for load in loads:
            on = then[load.plus] in live and then[load.minus] in homes
            if on and not meant(load.id, moved):
                found.add(("unasked", (load.id,)))
    return found


def test_the_proof_is_what_trying_everything_says() -> None:
    """2,000 random panels: the proof holds exactly where no state of all shows a sneak."""
    held = compared = 0
    for seed in range(BOATS):
        boat = Random(seed)
        theirs = brute(boat)
        ours = prove(boat.net, ["s0"], ["battery"], meant)
        assert ours.holds == (not theirs), seed
        held += ours.holds
        kinds = {kind for kind, _ in theirs}
        if theirs and not kinds & {"joined", "short"}:
            assert {s.kind for s in ours.sneaks} == kinds, seed
            mine = {s.what for s in ours.sneaks if s.kind == "unasked"}
            assert mine == {what for kind, what in theirs if kind == "unasked"}, seed
            compared += 1
    assert held > 200 and compared > 80, (held, compared)


def test_sound_orders_are_proven(any_draft: Draft) -> None:
    proof = prove_draft(any_draft, net_list(any_draft))
    assert proof.examined < proof.combinations
    if any_draft.aboard.order.hull != "0423":
        assert proof.holds and proof.groups >= 8


def test_planted_sneaks_are_found(mistakes: Draft) -> None:
    proof = prove_draft(mistakes, net_list(mistakes))
    kinds = {(sneak.kind, sneak.what) for sneak in proof.sneaks}
    assert ("unasked", ("pump_split manual",)) in kinds, "its two leads hang on two blocks"
    assert ("unasked", ("tank_pump_p plus",)) in kinds, "its output is joined with the other's"
    assert any(kind == "short" for kind, _ in kinds)
    assert any(kind == "joined" for kind, _ in kinds)
    short = next(s for s in proof.sneaks if s.kind == "short")
    assert set(short.states) <= {"BSW", "s_demister"}, "the fewest levers that bring it about"


def test_the_command_line_prints_proof_and_counterexample() -> None:
    sound = CliRunner().invoke(main, ["sneak", str(DEMO_ORDER)])
    assert sound.exit_code == 0 and "Proven: " in sound.output
    order = DEMO_FOLDER / "hull-0423.loom.json"
    wrong = CliRunner().invoke(main, ["sneak", str(order)])
    assert (
        wrong.exit_code == 1 and "NOT PROVEN" in wrong.output and "plus meets minus" in wrong.output
    )
    record = json.loads(CliRunner().invoke(main, ["sneak", str(order), "--json"]).output)
    assert record["holds"] is False and record["sneaks"][0]["states"]
