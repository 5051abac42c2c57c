"""Volts that do not arrive aboard: the fault finder, fed reading by reading, names the reason."""

import statistics
from collections.abc import Iterator

import pytest

from tests.bench.flaws import generated_draft
from vivid_loom.bench.aboard.hunt import Hunter
from vivid_loom.bench.aboard.plan import AlivePlan, AliveStep, alive_plan
from vivid_loom.bench.aboard.results import Alive
from vivid_loom.bench.devices.simulated_boat import BuiltBoat
from vivid_loom.bench.progress import Result
from vivid_loom.drafting import Draft
from vivid_loom.power.fault import Fault


def read(alive: Alive, boat: BuiltBoat, step: AliveStep, given: float = 1.0) -> Result:
    boat.set(step.states, step.subject)
    return alive.judged(step, boat.read_volts(step.red, step.black) * given)


def read_out(alive: Alive, hunter: Hunter, boat: BuiltBoat, given: float = 1.0) -> Alive:
    """Read whatever the finder asks for, until it asks no more."""
    while left := [step for step in alive.left if step.part == "find"]:
        results = [*alive.results.values(), read(alive, boat, left[0], given)]
        alive = Alive(alive.plan, results, hunter)
    return alive


def faults_of(draft: Draft, plan: AlivePlan, every: int) -> Iterator[tuple[AliveStep, Fault]]:
    """Yield every so many wires of the circuits that are read, broken and corroded."""
    steps = [step for step in plan.steps if step.part == "circuits" and step.kind == "volts"]
    pairs = [(s, w.id) for s in steps for w in draft.circuit(s.subject).wires]  # type: ignore[union-attr]
    for step, wire in pairs[::every]:
        yield step, Fault("open", wire)
        yield step, Fault("corroded", wire, ohm=0.35)


def named(alive: Alive, step: AliveStep, fault: Fault) -> bool:
    """Tell whether the fault is among what explains the readings best."""
    suspects = alive.hunted[step.id].suspects
    by_place = {p.at: s for s in suspects for p in s.probes if p.kind == fault.kind}
    lost = step.figure - alive.results[step.id].value
    if lost < 0.1 + 0.02 * step.figure:  # no hand meter tells so little from nothing: not ruled out
        return fault.at in by_place
    return by_place.get(fault.at) == suspects[0]


@pytest.mark.parametrize("seed", [0, 3, 8])
def test_a_broken_or_corroded_wire_is_named(full: Draft, seed: int) -> None:
    draft = full if seed == 0 else generated_draft(seed)
    plan, hunter = alive_plan(draft), Hunter(draft)
    took, missed = list[int](), list[str]()
    for step, fault in faults_of(draft, plan, 25 if seed == 0 else 4):
        boat = BuiltBoat(draft, [fault])
        first = read(Alive(plan, []), boat, step)
        if first.passed:
            continue  # a wire of a lamp beside, or too little to be told
        alive = read_out(Alive(plan, [first], hunter), hunter, boat)
        took.append(len(alive.results) - 1)
        if not named(alive, step, fault):
            missed.append(f"{step.subject} {fault}")
    assert not missed
    assert len(took) > 8
    assert statistics.median(took) <= 5 and max(took) <= 12


def test_a_low_battery_is_not_a_fault(full: Draft) -> None:
    """The battery gives 6 % less than it is reckoned at, and one joint is bad besides."""
    plan, hunter = alive_plan(full), Hunter(full)
    step = next(s for s in plan.steps if s.id == "volts C29")
    battery = next(s for s in plan.steps if s.part == "battery" and s.is_read)
    known = [Result(battery.id, battery.figure * 0.94, True, battery.signature)]
    sound, bad = BuiltBoat(full), BuiltBoat(full, [Fault("corroded", "C29-P2b", ohm=0.12)])
    assert read(Alive(plan, known), sound, step, 0.94).passed
    results = [*known, read(Alive(plan, known), bad, step, 0.94)]
    alive = read_out(Alive(plan, results, hunter), hunter, bad, 0.94)
    assert named(alive, step, Fault("corroded", "C29-P2b"))


def test_nothing_is_asked_once_the_circuit_reads_as_it_should(full: Draft) -> None:
    plan, hunter = alive_plan(full), Hunter(full)
    step = next(s for s in plan.steps if s.id == "volts C29")
    bad = [Result(step.id, 0.0, False, step.signature)]
    asked = Alive(plan, bad, hunter)
    assert [s.part for s in asked.steps[len(plan.steps) :]] == ["find"]
    mended = Alive(plan, [*bad, Result(step.id, step.figure, True, step.signature)], hunter)
    assert mended.steps == plan.steps and not mended.hunted
    assert Alive(plan, bad).steps == plan.steps  # without a hunter nobody asks
