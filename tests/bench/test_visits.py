"""What was proven aboard stays proven of what is still the same, and each visit begins safely."""

import dataclasses

import pytest

from tests.conftest import drafted
from vivid_loom.bench.aboard.plan import AlivePlan, alive_plan, circuit_signature
from vivid_loom.bench.aboard.results import Alive
from vivid_loom.bench.progress import Result
from vivid_loom.boat import read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.as_built import as_built
from vivid_loom.order import Override, record_built, remove_loads, set_override

SAFETY = ("before", "battery", "rest", "after")


@pytest.fixture(scope="module")
def small() -> Draft:
    return drafted(DEMO_FOLDER / "hull-0611.loom.json")


def all_passed(plan: AlivePlan) -> list[Result]:
    return [Result(step.id, step.figure, True, step.signature) for step in plan.steps]


def change_order(done: Draft, without: str) -> Draft:
    """The boat as built, called 0611-B, with a load less."""
    built = record_built(*as_built(done))[1](done.aboard.order)
    load = done.aboard.loads[without]
    order = remove_loads([load])[1](
        dataclasses.replace(built, hull=f"{built.hull}-B", based_on=built.hull)
    )
    model = read_boat(DEMO_FOLDER / order.boat)
    return draft(order, model, shipped_catalogue())


def signed(plan: AlivePlan) -> dict[str, str]:
    return {step.id: step.signature for step in plan.steps}


def test_a_visit_begins_with_a_step_of_its_own(small: Draft) -> None:
    plan = alive_plan(small)
    results = all_passed(plan)
    done = Alive(plan, results)
    assert done.proven and not done.left
    today = Alive(plan, results, visit="2026-12-02")
    assert [step.id for step in today.left] == ["visit begins"]
    assert today.proven  # what was proven yesterday is
    first, second = today.steps[:2]
    assert today.waits_for(second) == first and today.waits_for(first) is None
    begun = Alive(plan, [*results, today.judged(first, 1.0)], visit="2026-12-02")
    assert begun.waits_for(second) is None and not begun.left
    tomorrow = Alive(plan, [*results, today.judged(first, 1.0)], visit="2026-12-03")
    assert tomorrow.waits_for(second) is not None
    refused = Alive(plan, [*results, today.judged(first, 0.0)], visit="2026-12-02")
    assert refused.waits_for(second) is not None


def test_last_years_safety_steps_say_nothing_of_a_change_order(small: Draft) -> None:
    """Minus off, devices out, vented, no short, volts, standing draw: all of them anew."""
    old, new = alive_plan(small), alive_plan(change_order(small, "horn"))
    now = Alive(new, all_passed(old))
    left = {step.id for step in now.left}
    assert {step.id for step in new.steps if step.part in SAFETY} <= left
    stays = [step for step in new.steps if step.id not in left]
    assert {"circuits", "presses"} <= {step.part for step in stays}
    assert len(stays) > len(new.steps) / 3


def moved_end(done: Draft, circuit: str) -> Draft:
    """The same wires, one of whose ends lies elsewhere."""

    def elsewhere(wire):  # type: ignore[no-untyped-def]
        if wire.circuit != circuit or not wire.runs:
            return wire
        return dataclasses.replace(wire, end=wire.end._replace(point="elsewhere"))

    def row(one):  # type: ignore[no-untyped-def]
        return dataclasses.replace(one, wires=tuple(elsewhere(w) for w in one.wires))

    return dataclasses.replace(
        done,
        circuits=tuple(row(one) for one in done.circuits),
        feeders=tuple(row(one) for one in done.feeders),
    )


def test_a_wire_whose_end_has_moved_is_proven_anew(small: Draft) -> None:
    for row in small.circuits:
        if not any(wire.runs for wire in row.wires):
            continue
        other = moved_end(small, row.id)
        now = next(one for one in other.circuits if one.id == row.id)
        assert circuit_signature(small, row) != circuit_signature(other, now), row.id
        beside = next(one for one in other.circuits if one.id != row.id)
        was = next(one for one in small.circuits if one.id == beside.id)
        assert circuit_signature(small, was) == circuit_signature(other, beside)


def test_a_feeder_that_is_another_is_passed_by_everything_behind_it(small: Draft) -> None:
    """The volts behind a feeder say nothing of the boat once the feeder is another."""
    feeder = next(row for row in small.feeders if row.planned.feeds == "HFB")
    thick = Override(subject=feeder.id, field="gauge", value="35 mm²", reason="x", initials="IM")
    model = read_boat(DEMO_FOLDER / small.aboard.order.boat)
    order = set_override(thick)[1](small.aboard.order)
    other = draft(order, model, shipped_catalogue())
    old, new = signed(alive_plan(small)), signed(alive_plan(other))
    behind = {row.id for row in small.circuits if row.planned.source == "HFB"}
    for name in old.keys() & new.keys():
        step = next(s for s in alive_plan(other).steps if s.id == name)
        if step.part == "circuits" and step.subject in behind and step.kind in ("see", "volts"):
            assert old[name] != new[name], name
