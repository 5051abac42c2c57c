"""No feeder becomes thicker because a load was taken away, and shares are the best of one row."""

import random
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import minimize

from tests.conftest import demo_orders, drafted
from vivid_loom.boat import Boat, Load, read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import find_boat
from vivid_loom.demo.generated import generated
from vivid_loom.drafting import Draft, DraftedCircuit, DraftError, draft
from vivid_loom.drafting.sizing.shares import Row, shares
from vivid_loom.order import remove_loads
from vivid_loom.standards.conductor import is_thinner

SEEDS = 40


def without(done: Draft, load: Load, model: Boat) -> Draft | None:
    """Return the boat without a load; None where something of the order is about it."""
    order = remove_loads([load])[1](done.aboard.order)
    try:
        return draft(order, model, shipped_catalogue(), done)
    except DraftError:
        return None


def thicker(before: Draft, after: Draft) -> Iterator[DraftedCircuit]:
    """Yield the feeders that are thicker than before."""
    was = {row.id: row.sized.gauge.value for row in before.feeders if row.sized}
    for row in after.feeders:
        if row.sized and row.id in was and is_thinner(was[row.id], row.sized.gauge.value):
            yield row


def explained(before: Draft, after: Draft, row: DraftedCircuit) -> bool:
    """Tell whether something else than a load less asks for it, as *Why* says.

    A freed position counts as a spare; a freed way or screw is taken by another circuit, whose
    current then flows elsewhere; a branch that asks its feeders for more asks all of them.
    """
    was, is_now = before.needs[row.id], after.needs[row.id]
    spares = is_now.out.spare_sum_a > was.out.spare_sum_a
    homes = {r.id: (r.planned.source, r.planned.bus) for r in before.circuits}
    moved = any((r.planned.source, r.planned.bus) != homes.get(r.id) for r in after.circuits)
    return spares or moved or bool(row.sized and row.sized.decider)


@pytest.mark.parametrize("path", demo_orders(), ids=lambda path: path.name[:9])
def test_no_feeder_of_a_demo_order_grows_without_a_load(path: Path, orders: int) -> None:
    """Each load of each order is taken away: 4, 3, 2, 1 floods gave 8, 6, 4 and 8 AWG."""
    done = drafted(path)
    model = read_boat(find_boat(path, done.aboard.order.boat))
    removed = 0
    every = 1 if orders > 500 else 2  # of all loads with --orders 1000
    for load in list(done.aboard.loads.values())[::every]:
        after = without(done, load, model)
        if after is not None:
            removed += 1
            assert not [r.id for r in thicker(done, after)], load.id
    assert removed > 5


def test_no_feeder_of_generated_boats_grows_without_a_load_but_as_explained() -> None:
    grown = removed = 0
    for seed in range(SEEDS):
        order, boat = generated(seed, 2 + seed % 12, ("us", "iso", "shop")[seed % 3])
        done = draft(order, boat, shipped_catalogue())
        load = random.Random(seed).choice(sorted(done.aboard.loads.values(), key=lambda x: x.id))
        after = without(done, load, boat)
        assert after is not None
        removed += 1
        for row in thicker(done, after):
            grown += 1
            assert explained(done, after, row), (seed, load.id, row.id)
    assert grown < removed / 20


AMPS = st.lists(st.floats(0.5, 300), min_size=1, max_size=6)


@settings(max_examples=60, deadline=None)
@given(AMPS, st.data())
def test_less_current_anywhere_asks_no_feeder_for_more(
    amps: list[float], data: st.DataObject
) -> None:
    """Feeders in a tree of rows, some of them at what their terminals take."""
    names = [f"F{i}" for i in range(len(amps))]
    metres = [data.draw(st.floats(0.2, 20)) for _ in names]
    ohm = {n: data.draw(st.sampled_from([1e-4, 5e-4, 1e-3, 1e-2])) for n in names}
    ends = [data.draw(st.sets(st.sampled_from(names), min_size=1)) for _ in range(3)]
    fewer = data.draw(st.sampled_from(range(len(amps))))
    less = [a * (0.5 if i == fewer else 1.0) for i, a in enumerate(amps)]

    def asked(now: list[float]) -> dict[str, float]:
        weights = {n: m * a**0.25 for n, m, a in zip(names, metres, now, strict=True)}
        moments = {n: m * a for n, m, a in zip(names, metres, now, strict=True)}
        rows = [Row({n: moments[n] for n in sorted(end)}, 0.3) for end in ends]
        found = shares(rows, weights, ohm)
        return {n: max(ohm[n], share.ohm_per_m) for n, share in found.items()}

    before, after = asked(amps), asked(less)
    for name, permitted in before.items():
        assert after[name] >= permitted * (1 - 1e-9), name


def test_the_shares_of_one_row_take_little_more_copper_than_there_must_be() -> None:
    """Against SciPy's least Σ section × length that keeps to the drop, with a resistivity of 1."""
    dice = np.random.default_rng(6)
    for _ in range(30):
        count = int(dice.integers(2, 7))
        amps, metres = 10 ** dice.uniform(0, 2, count), dice.uniform(1, 15, count)
        names, moments = [f"F{i}" for i in range(count)], amps * metres
        weights = dict(zip(names, metres * amps**0.25, strict=True))
        row = Row(dict(zip(names, moments.tolist(), strict=True)), 0.3)
        found = shares([row], weights, dict.fromkeys(names, 0.0))
        sections = np.array([1 / found[n].ohm_per_m for n in names])
        assert float(moments @ (1 / sections)) == pytest.approx(0.3)
        ours = float(sections @ metres)
        best = minimize(
            lambda x, m=metres, o=ours: float(np.exp(x) @ m) / o,
            np.log(sections),
            constraints={"type": "ineq", "fun": lambda x, m=moments: 0.3 - float(m @ np.exp(-x))},
        )
        # Kantorovich 1948, for currents as 1 to 100 at most: (1 + r)² / 4r with r = ⁴√100
        assert best.success and 1 / 1.37 < best.fun < 1 + 1e-6


def test_what_a_terminal_does_not_take_the_others_make_good() -> None:
    row = Row({"a": 100.0, "b": 100.0}, 0.2)
    free = shares([row], {"a": 1.0, "b": 1.0}, {"a": 0.0, "b": 0.0})
    assert free["a"].ohm_per_m == pytest.approx(0.001)
    capped = shares([row], {"a": 1.0, "b": 1.0}, {"a": 0.0015, "b": 0.0})
    assert capped["b"].ohm_per_m == pytest.approx(0.0005)
    assert capped["b"].left_v == pytest.approx(0.05) and capped["b"].row_v == 0.2


def test_a_feeder_in_several_rows_keeps_to_the_least() -> None:
    rows = [Row({"a": 50.0, "b": 50.0}, 0.4), Row({"a": 50.0}, 0.1, "C1")]
    found = shares(rows, {"a": 1.0, "b": 1.0}, {"a": 0.0, "b": 0.0})
    assert found["a"].branch == "C1" and found["a"].ohm_per_m == pytest.approx(0.002)
    assert found["b"].branch == "" and found["b"].ohm_per_m == pytest.approx(0.004)
