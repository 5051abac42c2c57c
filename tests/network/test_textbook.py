"""Printed circuits with printed answers, and theorems that hold of every network.

Circuits 1 to 10 are standard exercises of introductory circuit analysis, worked out by hand here:
common practice, no single source; each answer is arrived at by another route than nodal analysis.
"""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from vivid_loom.network import (
    Branch,
    Converter,
    Draw,
    Network,
    NoOperatingPointError,
    Source,
    solve,
)


def wired(
    *branches: tuple[str, str, float],
    sources: tuple[Source, ...],
    draws: tuple[Draw, ...] = (),
    converters: tuple[Converter, ...] = (),
) -> Network:
    return Network(
        branches=tuple(Branch(f"r{i}", *each) for i, each in enumerate(branches, 1)),
        sources=sources,
        draws=draws,
        converters=converters,
        reference="0",
    )


def battery(volts: float, ohm: float, plus: str = "a", name: str = "v") -> Source:
    return Source(name, plus, "0", volts, ohm)


def test_1_divider() -> None:
    at = solve(wired(("a", "b", 9.0), ("b", "0", 10.0), sources=(battery(10, 1),)))
    assert at.volts("b") == pytest.approx(10 * 10 / 20, rel=1e-9)


def test_2_bridge_in_balance_and_out() -> None:
    """Wheatstone: no current through the galvanometer where 100 : 200 = 150 : 300."""
    arms = (("a", "b", 100.0), ("b", "0", 200.0), ("a", "c", 150.0))
    source = (battery(12, 1e-3),)
    even = solve(wired(*arms, ("c", "0", 300.0), ("b", "c", 50.0), sources=source))
    assert even.amps["r5"] == pytest.approx(0, abs=1e-12)
    odd = solve(wired(*arms, ("c", "0", 310.0), ("b", "c", 50.0), sources=source))
    open_v = 12 * (200 / 300 - 310 / 460)  # by Thévenin, the source's own resistance aside
    ohm = 100 * 200 / 300 + 150 * 310 / 460
    assert odd.amps["r5"] == pytest.approx(open_v / (ohm + 50), rel=1e-4)


def test_3_ladder_of_ten_is_the_golden_ratio() -> None:
    """1 Ω in series and across, over and over: the input resistance tends to (1 + √5)/2."""
    rungs = [(f"n{i}", f"n{i + 1}", 1.0) for i in range(20)]
    rungs += [(f"n{i + 1}", "0", 1.0) for i in range(20)]
    at = solve(wired(*rungs, sources=(Source("v", "n0", "0", 1.0, 1e-6),)))
    assert 1 / at.amps["v"] == pytest.approx((1 + math.sqrt(5)) / 2, rel=1e-5)


def test_4_two_sources_by_millman() -> None:
    at = solve(wired(("a", "0", 6.0), sources=(battery(12, 1), battery(10, 2, name="w"))))
    volts = (12 / 1 + 10 / 2) / (1 / 1 + 1 / 2 + 1 / 6)
    assert at.volts("a") == pytest.approx(volts, rel=1e-9)
    assert at.amps["w"] == pytest.approx((10 - volts) / 2, rel=1e-9)  # it is charged


def test_5_superposition() -> None:
    rungs = (("a", "b", 3.0), ("b", "0", 5.0), ("b", "c", 2.0))

    def at(first: float, second: float) -> float:
        sources = (battery(first, 1), Source("w", "c", "0", second, 0.5))
        return solve(wired(*rungs, sources=sources)).volts("b")

    assert at(12, 7) == pytest.approx(at(12, 0) + at(0, 7), rel=1e-9)


def test_6_most_power_where_load_and_source_match() -> None:
    def watts(ohm: float) -> float:
        at = solve(wired(("a", "0", ohm), sources=(battery(12, 0.4),)))
        return at.volts("a") ** 2 / ohm

    assert watts(0.4) == pytest.approx(12**2 / (4 * 0.4), rel=1e-9)
    assert watts(0.4) > watts(0.35) and watts(0.4) > watts(0.46)


def test_7_of_two_regulated_sources_the_higher_one_feeds() -> None:
    sources = (
        Source("high", "a", "0", 14.2, 0.01, 40.0),
        Source("low", "a", "0", 13.6, 0.01, 40.0),
    )
    at = solve(wired(("a", "0", 1.4), sources=sources))
    assert at.amps["low"] == pytest.approx(0, abs=1e-4)  # its insulation
    assert at.amps["high"] == pytest.approx(14.2 / 1.41, rel=1e-5)


def test_8_a_source_at_its_limit() -> None:
    alternator = Source("alt", "a", "0", 14.4, 0.002, 45.0)
    at = solve(wired(("a", "0", 0.2), sources=(alternator, battery(12.6, 0.01))))
    volts = (45 + 12.6 / 0.01) / (1 / 0.2 + 1 / 0.01)
    assert at.volts("a") == pytest.approx(volts, rel=1e-6)
    assert at.amps["alt"] == pytest.approx(45, rel=1e-6)


def test_9_constant_power_by_the_quadratic() -> None:
    """P = v(V − v)/R, the upper root: 12 V behind 0.3 Ω, 60 W."""
    load = Draw("load", "a", "0", "power", 5.0, 12.0, 8.0)
    at = solve(wired(("a", "x", 1.0), sources=(battery(12, 0.3),), draws=(load,)))
    assert at.volts("a") == pytest.approx((12 + math.sqrt(144 - 4 * 0.3 * 60)) / 2, rel=1e-6)


def test_10_a_converter_takes_what_it_gives_and_its_loss() -> None:
    network = wired(
        ("out", "0", 6.0),
        sources=(battery(24, 0.02), Source("out", "out", "0", 12.0, 0.005, 20.0)),
        converters=(Converter("in", "out", "a", "0", 0.9, 18.0),),
    )
    at = solve(network)
    given = at.volts("out") * at.amps["out"]
    assert at.volts("a") * at.amps["in"] * 0.9 == pytest.approx(given, rel=1e-4)
    assert at.volts("out") == pytest.approx(12 * 6 / 6.005, rel=1e-5)


def test_two_lamps_in_series_glow_at_half() -> None:
    lamps = tuple(
        Draw(f"l{i}", a, b, "resistance", 2.0, 12.0, 3.0, both_ways=True)
        for i, (a, b) in enumerate((("a", "m"), ("m", "0")))
    )
    at = solve(wired(("a", "x", 1.0), sources=(battery(12, 1e-4),), draws=lamps))
    assert at.volts("m") == pytest.approx(6, rel=1e-4)


def test_what_hangs_in_the_air_has_no_voltage() -> None:
    at = solve(wired(("a", "0", 6.0), ("x", "y", 1.0), sources=(battery(12, 1),)))
    assert math.isnan(at.volts("x")) and at.amps["r2"] == 0


def test_a_source_without_resistance_is_refused() -> None:
    with pytest.raises(ValueError, match="v: found 0 Ω, expected above zero"):
        solve(wired(("a", "0", 1.0), sources=(battery(12, 0),)))


def test_a_converter_needs_a_limited_output() -> None:
    network = wired(
        ("a", "0", 1.0),
        sources=(battery(12, 0.1),),
        converters=(Converter("in", "v", "a", "0", 0.9, 8.0),),
    )
    with pytest.raises(ValueError, match="in: its output v has no current limit"):
        solve(network)


def test_what_gave_up_is_named() -> None:
    load = Draw("pump", "a", "0", "power", 20.0, 12.0, 10.0)
    at = solve(wired(("a", "0", 100.0), sources=(battery(12, 0.5),), draws=(load,)))
    assert at.gave_up == ("pump",) and at.volts("a") < 10
    assert NoOperatingPointError(["pump"]).ids == ("pump",)


@st.composite
def networks(draw: st.DrawFn) -> Network:
    """A boat-like net: plus and minus trees, loads of every law, a battery and a charger."""
    count = draw(st.integers(3, 14))
    seed = draw(st.integers(0, 2**32 - 1))
    dice = np.random.default_rng(seed)
    branches = [
        Branch(
            f"{side}{i}", f"{side}{i}", f"{side}{dice.integers(0, i)}", 10 ** dice.uniform(-4, -1)
        )
        for side in "pm"
        for i in range(1, count)
    ]
    laws = ("resistance", "current", "power")
    loads = [
        Draw(
            f"d{i}",
            f"p{i}",
            f"m{dice.integers(0, count)}",
            laws[int(dice.integers(0, 3))],
            float(10 ** dice.uniform(-1.5, 1)),
            12.0,
            float(dice.choice([3.0, 6.0, 9.0])),
            both_ways=bool(dice.integers(0, 2)),
        )
        for i in range(1, count)
    ]
    sources = (Source("bat", "p0", "m0", 12.7, 0.006), Source("alt", "p1", "m1", 14.2, 0.004, 30.0))
    return Network(branches=tuple(branches), sources=sources, draws=tuple(loads), reference="m0")


@settings(max_examples=150, deadline=None)
@given(networks())
def test_tellegen_and_balance(network: Network) -> None:
    """Σ v·i over everything is nothing (Tellegen 1952), and every node is in balance."""
    at = solve(network)
    watts = [at.across(b.a, b.b) * at.amps[b.id] for b in network.branches]
    watts += [at.across(d.plus, d.minus) * at.amps[d.id] for d in network.draws]
    watts += [-at.across(s.plus, s.minus) * at.amps[s.id] for s in network.sources]
    assert abs(sum(watts)) <= 1e-6 * max(1.0, max(map(abs, watts)))
    greatest = max(abs(a) for a in at.amps.values())
    assert at.imbalance_a <= 1e-6 * max(1.0, greatest)


@settings(max_examples=60, deadline=None)
@given(networks(), st.integers(0, 2**16))
def test_reciprocity(network: Network, seed: int) -> None:
    """A voltage here drives the current there that it would drive here from there."""
    dice = np.random.default_rng(seed)
    loads = tuple(d._replace(law="resistance", both_ways=True) for d in network.draws)
    ends = sorted({b.a for b in network.branches if b.a.startswith("p")})
    one, other = dice.choice(ends, 2, replace=len(ends) < 2)

    def through(driven: str, read: str) -> float:
        sources = (
            Source("here", driven, "m0", 10.0, 0.5),
            Source("there", read, "m0", 0.0, 0.5),
        )
        net = Network(branches=network.branches, sources=sources, draws=loads, reference="m0")
        return -solve(net).amps["there"]

    if one != other:
        assert through(one, other) == pytest.approx(through(other, one), rel=1e-6, abs=1e-9)
