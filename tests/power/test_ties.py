"""Two batteries that a switch joins: what flows between them, by hand; a thin wire is found."""

from collections.abc import Callable

import networkx as nx
import numpy as np
import pytest

from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.power import ties as module
from vivid_loom.power.board import Board
from vivid_loom.power.course import Wires, wires_of
from vivid_loom.power.powered import open_contacts
from vivid_loom.power.sneak import Sneak
from vivid_loom.power.sneak_boat import prove_draft
from vivid_loom.sheets.words.power_words import sneak_words
from vivid_loom.standards import batteries, short_circuit


def bearing(amps: float) -> Callable[[Board], Wires]:
    """Return what makes every wire of a board bear so much and no more."""

    def made(board: Board) -> Wires:
        wires = wires_of(board)
        return wires._replace(ampacity_a=np.full(len(wires.ids), amps))

    return made


def by_hand(board: Board, sneak: Sneak) -> float:
    """Return the current by Ohm: open voltages over the batteries' own and the copper between."""
    graph = nx.MultiGraph()
    shut = open_contacts(board, sneak.states)
    for branch in board.network.branches:
        if branch.id not in shut:
            graph.add_edge(branch.a, branch.b, ohm=max(branch.ohm, 1e-9))
    full, flat = (board.elements[name] for name in sneak.what[:2])
    ohm, volts = 0.0, []
    for a, b in ((full.plus, flat.plus), (full.minus, flat.minus)):
        part = graph.subgraph(nx.node_connected_component(graph, a))
        ohm += nx.resistance_distance(part, a, b, "ohm", invert_weight=True)
    for name, charge in zip(sneak.what[:2], (1.0, module.FLAT), strict=True):
        battery = board.batteries[name]
        ohm += battery.internal_ohm or short_circuit.battery_ohm(12.0, battery.cranking_a)
        volts.append(batteries.open_v(12.0, battery.chemistry, charge))
    return (volts[0] - volts[1]) / ohm


def test_no_demo_order_ties_batteries_over_a_thin_wire(any_draft: Draft) -> None:
    assert module.ties(any_draft, net_list(any_draft)) == ()


def test_what_flows_is_what_resistances_by_hand_let_flow(
    full: Draft, monkeypatch: pytest.MonkeyPatch
) -> None:
    board = Board(full)
    monkeypatch.setattr(module, "wires_of", bearing(0.5))
    found = module.ties(full, board.net)
    assert found and {sneak.kind for sneak in found} == {"tie"}
    joined = {tuple(sorted(s.states.items())): s for s in found}
    both = found[0]._replace(states={k: v for s in found for k, v in s.states.items()})
    most = max(by_hand(board, sneak) for sneak in (*joined.values(), both))  # every way at once
    assert 5 < most < 500
    monkeypatch.setattr(module, "wires_of", bearing(0.97 * most))
    assert module.ties(full, board.net)
    monkeypatch.setattr(module, "wires_of", bearing(1.03 * most))
    assert module.ties(full, board.net) == ()


def test_a_tie_breaks_the_proof_and_is_said(full: Draft, monkeypatch: pytest.MonkeyPatch) -> None:
    net = net_list(full)
    assert prove_draft(full, net).holds
    monkeypatch.setattr(module, "wires_of", bearing(0.5))
    proof = prove_draft(full, net)
    assert not proof.holds and {sneak.kind for sneak in proof.sneaks} == {"tie"}
    first = min(proof.sneaks, key=lambda sneak: len(sneak.states))
    told = sneak_words(full, first)
    assert f"{first.what[0]} full, {first.what[1]} flat: {first.what[2]} between them" in told
    assert first.states and not any(  # the fewest levers: without one of them nothing is joined
        other.what == first.what and len(other.states) < len(first.states) for other in proof.sneaks
    )
