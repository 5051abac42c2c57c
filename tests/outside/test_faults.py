"""Shorts, stalls, duty and fuse bands against published figures and by another route."""

import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.linalg import solve

from tests.changes import Setup, drafted, feed, load, nothing, override
from vivid_loom.boat import Battery, Boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft
from vivid_loom.drafting.sizing.coordination import selective_to_a
from vivid_loom.order import Order
from vivid_loom.quantities import Gauge
from vivid_loom.standards import ampacity, conductor, duty, short_circuit, time_current


@pytest.mark.parametrize(
    ("start_c", "limit_c", "k"), [(70, 160, 115), (90, 250, 143), (105, 160, 88)]
)
def test_k_of_copper(start_c: float, limit_c: float, k: int) -> None:
    """IEC 60364-5-54 table A.54.4 prints 115 and 143; 88 for 105 °C is derived, from memory."""
    assert short_circuit.withstand_k(start_c, limit_c) == pytest.approx(k, abs=1.0)


def test_k_by_heating_a_wire_step_by_step() -> None:
    """Integrate the adiabatic heating of copper: ρ(T)·J²dt = c·dT, by another route."""
    # IEC 60949: volumetric heat 3.45e6 J/(K·m³), reciprocal of the coefficient at 0 °C 234.5 K
    joule = 400.0  # A/mm²
    rho = lambda c: 1.7241e-8 * (234.5 + c) / (234.5 + 20)  # noqa: E731
    heat = solve_ivp(
        lambda _, c: rho(c) * (joule * 1e6) ** 2 / 3.45e6,
        (0, 5),
        [70.0],
        rtol=1e-9,
        events=(event := _reaches(160.0)),
    )
    assert event.terminal
    seconds = float(heat.t_events[0][0])
    assert joule * math.sqrt(seconds) == pytest.approx(
        short_circuit.withstand_k(70, 160), rel=0.005
    )


def _reaches(celsius: float):  # type: ignore[no-untyped-def]
    def event(_: float, c: np.ndarray) -> float:
        return float(c[0]) - celsius

    event.terminal = True  # type: ignore[attr-defined]
    return event


@pytest.mark.parametrize(
    ("multiple", "least_s", "most_s"),
    [(1.35, 0.75, 1800), (1.6, 0.25, 50), (2.0, 0.15, 5), (3.5, 0.04, 0.5), (6.0, 0.02, 0.1)],
)
def test_blade_gates(multiple: float, least_s: float, most_s: float) -> None:
    """ISO 8820-3 time–current gates of a standard blade (from memory)."""
    assert time_current.holds_s("blade fuse", 15, 15 * multiple) == pytest.approx(least_s)
    assert time_current.opens_s("blade fuse", 15, 15 * multiple) == pytest.approx(most_s)


def test_a_blade_carries_110_percent_for_100_hours() -> None:
    """ISO 8820-3 (from memory)."""
    assert time_current.holds_s("blade fuse", 10, 11.0) >= 100 * 3600
    assert time_current.opens_s("blade fuse", 10, 11.0) == math.inf


def test_short_and_long_duty_have_their_known_limits() -> None:
    """Cycles short against the wire are RMS; stretches long against it are continuous."""
    assert duty.equivalent_a(80, 1.0, 0.25, 600) == pytest.approx(40, rel=0.01)
    assert duty.equivalent_a(80, 3600, 0.25, 60) == pytest.approx(80, rel=1e-6)


@pytest.mark.parametrize("on_s", [30.0, 120.0, 600.0])
def test_equivalent_current_by_heating_a_wire_on_and_off(on_s: float) -> None:
    """Step the same wire through many cycles and compare the hottest moment, by another route."""
    tau, share, amps = 148.0, 0.2, 90.0
    heat = 0.0
    for _ in range(60):
        heat = amps**2 + (heat - amps**2) * math.exp(-on_s / tau)
        hottest = heat
        heat *= math.exp(-on_s * (1 / share - 1) / tau)
    assert duty.equivalent_a(amps, on_s, share, tau) == pytest.approx(math.sqrt(hottest), rel=1e-6)


def test_the_time_constant_of_16_mm2_is_some_minutes() -> None:
    """Common practice, no source: bare 16 mm² settles within about ten minutes."""
    gauge = Gauge("mm2", 16)
    tau = duty.time_constant_s(
        16, ampacity.ampacity_a(gauge, 105), conductor.ohm_per_m(gauge, 105), 105
    )
    assert 100 < tau < 300


@pytest.fixture(scope="module")
def setup(boat: Boat, order: Order) -> Setup:
    return Setup(boat, order, shipped_catalogue())


def nodal_far_end_a(done: Draft, circuit: str, battery: Battery) -> float:
    """Short a circuit's far end and solve the whole network of conductors for its current."""
    row = done.circuit(circuit)
    assert row is not None
    assert row.sized is not None
    boat, hot = done.aboard.boat, float(done.aboard.profile.insulation_c)
    nodes: dict[object, int] = {}
    branches: list[tuple[int, int, float]] = []

    def node(key: object) -> int:
        return nodes.setdefault(key, len(nodes))

    def lay(name: str, ends: list[tuple[object, object]]) -> None:
        item = done.circuit(name)
        assert item is not None
        assert item.sized is not None
        ohm = conductor.ohm_per_m(item.sized.gauge.value, hot)
        for (a, b), path in zip(ends, item.paths, strict=False):
            branches.append((node(a), node(b), 1 / (ohm * path.length_m)))

    at_rest = {s.id for s in boat.supplies if s.kind == "combining_relay"}
    for feeder in done.feeders:
        if feeder.planned.feeds in at_rest:
            continue  # open
        ends: list[tuple[object, object]] = []
        for leg in feeder.planned.plan.legs:
            side = "minus" if leg.live == "return" else "plus"
            places = (leg.start.place, leg.end.place)
            ends.append(
                tuple((side, "terminal" if p == battery.id else p) for p in places)  # type: ignore[arg-type]
            )
        lay(feeder.id, ends)
    plan = row.planned.plan
    _, longest = max(plan.paths, key=lambda p: sum(row.paths[i].length_m for i in p[1]))
    ohm = conductor.ohm_per_m(row.sized.gauge.value, hot)
    total = sum(row.paths[i].length_m for i in longest)
    at = {battery.id: "terminal", f"{battery.id}-": "terminal"}
    start = ("plus", at.get(row.planned.source, row.planned.source))
    end = ("minus", at.get(row.planned.bus, row.planned.bus))
    branches.append((node(start), node(end), 1 / (ohm * total)))
    inside = short_circuit.battery_ohm(boat.nominal_v, battery.cranking_a)
    top, ground = node(("plus", "terminal")), node(("minus", "terminal"))
    matrix = np.zeros((len(nodes), len(nodes)))
    for a, b, siemens in branches:
        matrix[[a, b], [a, b]] += siemens
        matrix[[a, b], [b, a]] -= siemens
    injected = np.zeros(len(nodes))
    matrix[top, top] += 1 / inside
    injected[top] = short_circuit.battery_open_v(boat.nominal_v) / inside
    keep = [i for i in range(len(nodes)) if i != ground]
    volts = np.zeros(len(nodes))
    volts[keep] = solve(matrix[np.ix_(keep, keep)], injected[keep])
    return float((volts[node(start)] - volts[node(end)]) / (ohm * total))


@pytest.mark.parametrize("circuit", ["C07", "C10", "C16", "C24", "C27"])
def test_a_far_end_short_by_nodal_analysis(full: Draft, circuit: str) -> None:
    row = full.circuit(circuit)
    assert row is not None
    assert row.fault is not None
    least = min(nodal_far_end_a(full, circuit, battery) for battery in full.aboard.boat.batteries)
    assert row.fault.far_a == pytest.approx(least, rel=1e-6)


def test_stall_of_a_pump_far_from_its_battery(setup: Setup) -> None:
    """A 15 A stall behind 5 A opens; wires make it less than 15 A, and less hot than cold."""
    done = drafted(load("bp_aft", locked_rotor_a=15.0)(setup))
    row = done.circuit("C02")
    assert row is not None
    assert row.fault is not None
    stall = row.fault.stalls[0]
    assert stall.hot_a < stall.cold_a < 15.0
    assert stall.opens_s < 60
    # in the way beside the rotor: its own loop, hot, and less than as much again ahead of it
    own_m = sum(
        row.paths[i].length_m for i in max(row.planned.plan.paths, key=lambda p: len(p[1]))[1]
    )
    gauge = row.sized.gauge.value if row.sized else None
    assert gauge is not None
    loop_ohm = own_m * conductor.ohm_per_m(gauge, float(done.aboard.profile.insulation_c))
    assert loop_ohm < 12 / stall.hot_a - 12 / 15.0 < 2 * loop_ohm


def test_two_blades_of_one_size_are_not_selective_and_a_slow_main_is() -> None:
    """Common practice, no source: 5 A in front of 30 A is told apart, 10 A of 10 A is not."""
    assert selective_to_a(("blade fuse", 10.0), ("blade fuse", 10.0), 500.0) == 0.0
    assert selective_to_a(("blade fuse", 5.0), ("bolt-down fuse", 100.0), 500.0) == 500.0


def test_no_main_protection_is_an_error_whatever_the_branches(setup: Setup) -> None:
    """Common practice, no source."""
    codes = {f.code for f in drafted(feed("BSW", family=None)(setup)).findings}
    assert "P01" in codes
    assert "P01" not in {f.code for f in drafted(nothing(setup)).findings}


def test_a_13_a_contact_behind_a_15_a_fuse_is_a_finding(setup: Setup) -> None:
    """Common practice, no source."""
    changed = override("C24", gauge="14 AWG", protection_a="15")
    weak = drafted(load("washdown", contact_a=13.0)(changed(setup)))
    strong = drafted(load("washdown", contact_a=15.0)(changed(setup)))
    assert "K09" in {f.code for f in weak.findings}
    assert "K09" not in {f.code for f in strong.findings}
