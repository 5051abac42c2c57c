"""Scenarios: who draws what, for how long, and how many days are left."""

import dataclasses

import pytest

from vivid_loom.boat import Boat, Evidence, generic_loads
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import SCENARIOS, Draft, draft, scenario_total
from vivid_loom.drafting.after.propose import proposals
from vivid_loom.order import Order, change_loads, change_supply, fit_helm

STOCK = shipped_catalogue()


def with_load(order: Order, boat: Boat, load_id: str, **fields: object) -> Draft:
    standing = draft(order, boat, STOCK).aboard.loads[load_id]
    changed = dataclasses.replace(standing, **fields)  # type: ignore[arg-type]
    return draft(change_loads((changed,), "figures")[1](order), boat, STOCK)


def test_left_alone_only_what_is_always_live_draws(full: Draft) -> None:
    total = scenario_total(full, "moored and left")
    level = {s.id: s.level for s in full.aboard.boat.supplies}
    assert total.uses
    for use in total.uses:
        row = next(r for r in full.circuits if use.load.id in r.planned.loads)
        assert level[row.planned.source] == "battery_direct"


@pytest.mark.parametrize("scenario", SCENARIOS)
def test_sums_are_the_sums_of_their_lines(full: Draft, scenario: str) -> None:
    total = scenario_total(full, scenario)  # type: ignore[arg-type]
    assert total.ah == pytest.approx(sum(use.ah for use in total.uses))
    assert sum(total.amps.values()) == pytest.approx(
        sum(use.load.running_a or 0 for use in total.uses)
    )
    assert total.days == pytest.approx(0.5 * full.aboard.boat.battery.capacity_ah / total.ah)
    for step in total.steps:
        assert step.result == pytest.approx(eval(step.formula.replace("×", "*")), rel=1e-3)


def test_two_hundred_ah_to_half_at_2_71_a(order: Order, boat: Boat) -> None:
    """36.9 h without Peukert: common practice, no source."""
    big = dataclasses.replace(
        boat, batteries=(dataclasses.replace(boat.battery, capacity_ah=200.0), *boat.batteries[1:])
    )
    after = with_load(
        order, big, _alarm(order, big), running_a=2.71, hours=(("moored and left", 24.0),)
    )
    total = scenario_total(after, "moored and left")
    alarm = next(use for use in total.uses if use.load.running_a == 2.71)
    assert 0.5 * 200 / alarm.ah * 24 == pytest.approx(36.9, abs=0.05)


def _alarm(order: Order, boat: Boat) -> str:
    loads = draft(order, boat, STOCK).aboard.loads.values()
    return next(load.id for load in loads if load.function == "bilge_alarm")


def test_own_hours_and_duty_count_and_unknowns_are_named(order: Order, boat: Boat) -> None:
    fridge = next(
        load.id
        for load in draft(order, boat, STOCK).aboard.loads.values()
        if load.function == "refrigerator"
    )
    after = with_load(
        order, boat, fridge, running_a=5.0, duty_percent=40.0, hours=(("at anchor", 10.0),)
    )
    use = next(u for u in scenario_total(after, "at anchor").uses if u.load.id == fridge)
    assert use.ah == pytest.approx(5.0 * 0.4 * 10) and not use.usual
    lost = with_load(order, boat, fridge, running_a=None, evidence=Evidence(kind="unknown"))
    assert fridge in scenario_total(lost, "at anchor").unknown
    assert any(f.code == "L01" and fridge in f.subjects for f in lost.findings)


def test_a_usb_outlet_draws_its_loss_too() -> None:
    """Two 3 A outlets at 5 V, 85 %: 2.94 A at 12 V; domain arithmetic, no source."""
    usb = next(load for load in generic_loads() if load.id == "usb")
    assert usb.load("u", "USB", "dash", 12.0).running_a == pytest.approx(2.94, abs=0.005)


def test_proposed_blocks_have_room_for_what_hangs_on_them(
    order: Order, boat: Boat, full: Draft
) -> None:
    small = dataclasses.replace(
        boat,
        supplies=tuple(
            dataclasses.replace(s, ways=3) if s.id == "ALB" else s for s in boat.supplies
        ),
    )
    short = draft(order, small, STOCK)
    assert any(f.code == "P05" for f in short.findings)
    found = {p.subject: p for p in proposals(short)}
    assert found["ALB"].wants >= found["ALB"].used + 2
    taken = order
    for proposal in found.values():
        edit = change_supply(proposal.supply) if proposal.supply else fit_helm(proposal.wants)
        taken = edit[1](taken)
    after = draft(taken, small, STOCK)
    assert not after.allocation.shortages
    assert after.aboard.boat.panels[0].positions == found["helm"].wants
    for proposal in proposals(after):
        assert proposal.wants == proposal.has
