"""Ringing out: the plan covers everything, every single flaw is named, nothing else is."""

import itertools
import math

import networkx as nx
import numpy as np
import pytest

from tests.bench.flaws import every_flaw, generated_draft, is_named, rung
from vivid_loom.bench.devices.simulated import BuiltHarness, Flaw, FlawError, parse_flaw
from vivid_loom.bench.progress import Result
from vivid_loom.bench.ringing.limits import band_of, highest
from vivid_loom.bench.ringing.moves import fewest_moves, fewest_places, moves_of
from vivid_loom.bench.ringing.plan import RingPlan, cross_step, ring_plan, ring_plans
from vivid_loom.bench.ringing.resistance import effective_ohm
from vivid_loom.bench.ringing.results import Ringing
from vivid_loom.bench.ringing.specimen import specimens
from vivid_loom.drafting import Draft
from vivid_loom.sheets.lists import loose_lists
from vivid_loom.sheets.words.bench_words import pin_code, read_words, ring_words


def by_themselves(draft: Draft) -> list[RingPlan]:
    """Return the plans of the harnesses and panels, each by itself."""
    return [plan for plan in ring_plans(draft) if not plan.specimen.mates]


def test_every_wire_net_and_neighbour_is_covered(any_draft: Draft) -> None:
    rung_wires: list[str] = []
    for plan in by_themselves(any_draft):
        specimen = plan.specimen
        steps = [step.subject for step in plan.steps if step.kind == "wire"]
        assert sorted(steps) == sorted(specimen.wires)
        rung_wires += steps
        nets = [step for step in plan.steps if step.kind == "net"]
        assert len(nets) == len(specimen.nets)
        assert {pin for step in nets for pin in specimen.net_of[step.red].pins} == set(
            specimen.pins
        )
        looked = {frozenset((s.red, s.black)) for s in plan.steps if s.kind == "labels"}
        told = 0
        for a, b in specimen.neighbours:
            apart = specimen.net_of[a] != specimen.net_of[b]
            told += apart
            assert apart != (frozenset((a, b)) in looked)
        assert (plan.neighbours, plan.told) == (len(specimen.neighbours), told)
        assert [s.subject for s in plan.steps if s.kind == "seated"] == [
            half.plug.id for half in specimen.plugs
        ]
    spares = [row.spare_id for row in loose_lists.spares(any_draft).rows if row.gauge]
    assert sorted(rung_wires) == sorted([*(w.id for w in any_draft.assembled.wires), *spares])


def test_cavities_beside_one_another_are_neighbours(any_draft: Draft) -> None:
    counted = 0
    for specimen in specimens(any_draft):
        beside = {frozenset(pair) for pair in specimen.neighbours}
        for half in specimen.plugs:
            at, wide = half.cavities, half.plug.ways if half.plug.ways <= 3 else half.plug.ways // 2
            for a, b in itertools.combinations(sorted(at), 2):  # 1 2 3 over 4 5 6
                touch = abs((a - 1) % wide - (b - 1) % wide) <= 1
                assert (frozenset((at[a], at[b])) in beside) == touch, (half.plug, a, b)
                counted += not touch
    assert counted or "06" in any_draft.aboard.order.hull  # some lie apart


def test_probing_takes_few_moves(any_draft: Draft) -> None:
    for plan in ring_plans(any_draft):
        assert plan.bound <= plan.moves <= max(plan.bound + 1, 1.05 * plan.bound)
        pins = plan.specimen.pins
        pairs = [
            (pins[s.red].connector, pins[s.black].connector)
            for s in plan.steps
            if s.kind in ("wire", "path")
        ]
        places = {pins[s.red].connector for s in plan.steps if s.kind == "net"}
        assert moves_of(pairs) + len(places) == plan.moves


def test_small_orders_are_the_best_of_all() -> None:
    chance = np.random.default_rng(4)
    for _ in range(60):
        count = int(chance.integers(2, 7))
        names = "ABCDEF"[: int(chance.integers(2, 7))]
        pairs = {tuple(sorted(chance.choice(list(names), 2))) for _ in range(count)}
        order = fewest_moves(sorted(pairs))  # type: ignore[arg-type]
        best = min(moves_of(p) for p in itertools.permutations(sorted(pairs)))  # type: ignore[type-var]
        assert order.moves == best == moves_of(order.pairs)
        assert order.bound <= best
        assert set(order.pairs) == pairs


def test_a_spider_of_legs_is_bound_by_its_feet() -> None:
    legs = [pair for i in range(4) for pair in (("hub", f"knee {i}"), (f"foot {i}", f"knee {i}"))]
    order = fewest_moves(legs)
    # each stretch without a double move has at most two feet: two stretches of 4 pairs
    assert (order.moves, order.bound) == (2 + 6 + 2, 2 + 6 + 2)


def test_the_fewest_places_see_every_net() -> None:
    assert set(fewest_places([("a", "b"), ("b", "c"), ("d",), ("d", "a")])) == {"b", "d"}
    assert fewest_places([]) == ()


def test_resistance_between_pins_is_that_of_a_reference_library() -> None:
    chance = np.random.default_rng(7)
    for _ in range(40):
        graph = nx.gnm_random_graph(7, 10, seed=int(chance.integers(1e6)))
        edges = [(str(a), str(b), float(chance.uniform(0.1, 9))) for a, b in graph.edges]
        known = nx.Graph()
        known.add_weighted_edges_from(edges, weight="ohm")
        for a, b in (("0", "5"), ("2", "3")):
            if a in known and b in known and nx.has_path(known, a, b):
                part = known.subgraph(nx.node_connected_component(known, a))
                expected = nx.resistance_distance(part, a, b, "ohm", invert_weight=True)
                assert effective_ohm(edges, a, b) == pytest.approx(expected, rel=1e-9)
            else:
                assert math.isinf(effective_ohm(edges, a, b))
    with pytest.raises(ValueError, match="above 0"):
        effective_ohm([("a", "b", 0.0)], "a", "b")


OHM_PER_KFT_75 = {18: 8.45, 16: 5.29, 14: 3.26, 12: 2.05, 10: 1.29, 8: 0.809, 6: 0.51, 4: 0.321}
OHM_PER_KFT_75 |= {3: 0.254, 2: 0.201, 1: 0.16, 0: 0.127, -1: 0.101, -2: 0.0797, -3: 0.0626}


def test_limits_are_those_of_an_independent_reckoning(full: Draft) -> None:
    """NEC chapter 9 table 8, coated strands (from memory), brought to the bench's temperature."""
    for celsius in (5.0, 20.0, 33.0):
        for specimen in specimens(full):
            for wire in specimen.wires.values():
                gauge = wire.wire.gauge
                mm2 = math.pi / 4 * (0.127 * 92 ** ((36 - gauge.size) / 39)) ** 2
                warm = (1 + 0.00393 * (celsius - 20)) / (1 + 0.00393 * 55)
                per_m = OHM_PER_KFT_75[int(gauge.size)] / 304.8 * warm * 1000
                copper = per_m * wire.wire.cut_mm / 1000
                crimps = 2 * 2 * (1.0 / mm2 + 0.02)
                low, high = band_of(specimen, wire, celsius)
                assert high == pytest.approx((1.05 * copper + crimps) * 1.005 + 0.02, rel=1e-6)
                assert low == pytest.approx(max(0.9 * copper * 0.995 - 0.02, 0), rel=1e-6)


def test_the_limit_tells_its_formula(full: Draft) -> None:
    wire = next(iter(specimens(full)[0].wires.values()))
    most = highest(wire.wire.gauge, wire.wire.cut_mm, 20.0)
    keyed = most.formula.replace("×", "*").replace("−", "-")
    assert eval(keyed) == pytest.approx(most.value, rel=1e-4)


def test_every_single_flaw_of_a_demo_order_is_named(any_draft: Draft) -> None:
    for plan in by_themselves(any_draft):
        flaws = list(every_flaw(plan.specimen))
        for turn, flaw in enumerate(flaws[:: max(1, len(flaws) // 60)]):
            found = rung(plan, BuiltHarness(plan.specimen, [flaw], seed=turn))
            assert is_named(flaw, found.causes), (plan.specimen.id, flaw, found.causes)
            assert not found.proven


def test_every_single_flaw_of_generated_orders_is_named(orders: int) -> None:
    """A sixtieth of ``--orders`` boats whole; 500 were run before the plan was first landed."""
    for seed in range(orders // 60):
        for plan in by_themselves(generated_draft(seed)):
            for turn, flaw in enumerate(every_flaw(plan.specimen)):
                found = rung(plan, BuiltHarness(plan.specimen, [flaw], seed=turn))
                assert is_named(flaw, found.causes), (seed, plan.specimen.id, flaw, found.causes)


def test_a_sound_harness_raises_no_alarm(full: Draft) -> None:
    for plan in by_themselves(full):
        for seed in range(max(3, 1000 // len(plan.steps))):
            found = rung(plan, BuiltHarness(plan.specimen, seed=seed, copper_c=20.0))
            assert found.proven
            assert not found.causes


def test_two_flaws_at_once_are_both_named(full: Draft) -> None:
    plan = next(p for p in ring_plans(full) if p.specimen.id == "hull")
    wires = list(plan.specimen.wires)
    flaws = [Flaw("open", (wires[3],)), Flaw("short", (wires[10], wires[20]))]
    found = {
        (c.kind, frozenset(c.at)) for c in rung(plan, BuiltHarness(plan.specimen, flaws)).causes
    }
    nets = {plan.specimen.net_of[plan.specimen.wires[wires[i]].start].id for i in (10, 20)}
    assert found == {("open", frozenset({wires[3]})), ("short", frozenset(nets))}


def test_limits_at_another_temperature_still_hold_a_sound_harness(full: Draft) -> None:
    specimen = next(s for s in specimens(full) if s.id == "deck")
    for celsius in (2.0, 35.0):
        plan = ring_plan(specimen, celsius)
        assert rung(plan, BuiltHarness(specimen, copper_c=celsius)).proven
    cold, hot = ring_plan(specimen, 2.0), BuiltHarness(specimen, copper_c=35.0)
    assert rung(cold, hot).failed  # the temperature that was told matters


def test_a_result_counts_as_long_as_what_it_proves_is_as_it_was(full: Draft) -> None:
    plan = next(p for p in ring_plans(full) if p.specimen.id == "deck")
    done = rung(plan, BuiltHarness(plan.specimen))
    stale = [r._replace(signature="other") for r in done.results.values()]
    assert Ringing(plan, stale).left == plan.steps
    other = ring_plan(plan.specimen, 27.0)
    assert not Ringing(other, done.results.values()).left  # warmer air undoes nothing


def test_a_reading_that_is_none_passes_nothing(full: Draft) -> None:
    plan = ring_plans(full)[0]
    step = next(s for s in plan.steps if s.kind == "wire")
    judged = Ringing(plan, []).judged(step, math.nan)
    assert judged == Result(step.id, judged.value, False, step.signature)


@pytest.mark.parametrize(
    "text", ["open", "open:A,B", "melted:A", "gauge:A,thick", "swap:A/to", ":", "short:A"]
)
def test_a_flaw_that_is_none_is_refused(text: str) -> None:
    with pytest.raises(FlawError, match=r"found|expected"):
        parse_flaw(text)


def test_a_flaw_reads_back(full: Draft) -> None:
    specimen = specimens(full)[0]
    for flaw in every_flaw(specimen):
        assert parse_flaw(str(flaw)) == flaw
    with pytest.raises(FlawError, match="expected a wire of harness hull"):
        BuiltHarness(specimen, [Flaw("open", ("X",))])


def test_a_reading_across_two_pins_says_which(full: Draft) -> None:
    """Asked for once a harness has failed: its message must tell one from the next."""
    plan = ring_plans(full)[0]
    specimen = plan.specimen
    red, black = sorted(specimen.probed)[:2]
    step = cross_step(specimen, red, black)
    title = ring_words(full, plan, step).title
    codes = [pin_code(specimen.pins[name]) for name in (red, black)]
    assert title == "Between {} and {}".format(*codes) and codes[0] != codes[1]
    assert read_words(step, Result(step.id, -20.42, False, step.signature)) == "−20.4 mΩ"
    assert read_words(step, Result(step.id, math.inf, True, step.signature)) == "open"
