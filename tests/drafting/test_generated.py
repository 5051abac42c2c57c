"""What must hold on every order, proved on generated ones."""

import dataclasses
from concurrent.futures import ProcessPoolExecutor

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.checker import packet_problems
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo.generated import generated
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.patterns import PATTERNS
from vivid_loom.quantities import Gauge
from vivid_loom.sheets import packet_files
from vivid_loom.standards.conductor import area_mm2

PARTS = frozenset({"schedule", "cutlist"})


def made(seed: int, circuits: int, profile: str) -> Draft:
    order, boat = generated(seed, circuits, profile)
    return draft(order, boat, shipped_catalogue())


def problems(seed: int) -> tuple[int, list[str]]:
    """Draft one order under drawn schools; return its errors and what the checker holds
    against it that no error names.
    """
    profile = ("us", "iso", "shop")[seed % 3]
    order, boat = generated(seed, 1 + seed % 24, profile, schools=True)
    done = draft(order, boat, shipped_catalogue())
    bundling = done.aboard.profile.bundling
    found = packet_problems(packet_files(done, PARTS), done.aboard.boat, bundling)
    errors = [f for f in done.findings if f.severity == "error"]
    flagged = {s for f in errors for s in f.subjects}
    return len(errors), [
        f"{seed}: {p}" for p in found if not {p.split(" ")[0], p.split("-")[0]} & flagged
    ]


def test_a_draft_without_errors_passes_the_independent_checker(orders: int) -> None:
    """``./vivid-loom test tests/drafting/test_generated.py --orders 10000`` for all of them."""
    seeds = range(orders)
    if orders > 500:
        with ProcessPoolExecutor() as pool:
            results = list(pool.map(problems, seeds, chunksize=50))
    else:
        results = [problems(seed) for seed in seeds]
    unexplained = [problem for _, found in results for problem in found]
    assert not unexplained, unexplained[:20]
    clean = sum(errors == 0 for errors, _ in results)
    if orders >= 100:  # of few orders it is chance how many are clean
        assert clean > orders / 2  # otherwise this would prove little


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6), st.integers(1, 30))
def test_every_positive_lead_has_exactly_one_feed(seed: int, circuits: int) -> None:
    done = made(seed, circuits, "shop")
    ends = [
        (end.place, end.point)
        for wire in done.assembled.wires
        for end in (wire.start, wire.end)
        if end.kind == "lead"
    ]
    for row in done.circuits:
        functions = PATTERNS[row.planned.pattern].plus_leads or ("plus",)
        for name in row.planned.loads:
            for function in functions:
                assert (name, function) in ends
    assert not [f for f in done.findings if f.code in ("A05", "A06")]


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6), st.integers(1, 30), st.sampled_from(("us", "iso")))
def test_one_size_thinner_breaks_a_named_rule(seed: int, circuits: int, profile: str) -> None:
    done = made(seed, circuits, profile)
    for row in done.circuits:
        assert row.sized is not None
        for other in row.sized.gauge.alternatives[:1]:
            thinner = area_mm2(Gauge.parse(other.value)) < area_mm2(row.sized.gauge.value)
            assert not (thinner and other.acceptable), (row.id, other)


@settings(max_examples=2, deadline=None)
@given(st.integers(0, 10**6))
def test_the_same_order_gives_the_same_bytes(seed: int) -> None:
    first, second = made(seed, 12, "shop"), made(seed, 12, "shop")
    assert packet_files(first) == packet_files(second)


@pytest.mark.parametrize("bundling", ["off", "loaded", "all"])
def test_bundling_only_ever_thickens(bundling: str) -> None:
    order, boat = generated(3, 40)
    warm = ("insulation_c", 75)
    off = dataclasses.replace(order, profile_changes=(("bundling", "off"), warm))
    other = dataclasses.replace(order, profile_changes=(("bundling", bundling), warm))
    catalogue = shipped_catalogue()
    plain, bundled = draft(off, boat, catalogue), draft(other, boat, catalogue)
    grown = 0
    for a, b in zip(plain.circuits, bundled.circuits, strict=True):
        assert a.sized and b.sized
        thin, thick = a.sized.ampacity_a / a.sized.derating, b.sized.ampacity_a / b.sized.derating
        assert thick >= thin - 1e-9
        grown += b.sized.derating < a.sized.derating - 1e-9
    assert (grown > 0) == (bundling != "off")
