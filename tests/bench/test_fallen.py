"""No state stands on what is no longer so."""

import dataclasses

import pytest

from tests.conftest import drafted
from vivid_loom.bench.fallen import fallen
from vivid_loom.boat import read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.as_built import as_built
from vivid_loom.order import (
    Deviation,
    Edit,
    Order,
    OrderState,
    Override,
    note_deviation,
    record_built,
    remove_loads,
    set_heading,
    set_override,
    set_state,
    tick_wire,
    untick_wires,
)
from vivid_loom.sheets.lists.bench_lists import draft_crimps
from vivid_loom.workshop.harness.built import lying_wires, tick_of

PAST: tuple[OrderState, ...] = ("checked", "released", "built", "tested", "handed_over")


@pytest.fixture(scope="module")
def small() -> Draft:
    return drafted(DEMO_FOLDER / "hull-0611.loom.json")


def after(before: Draft, edit: Edit) -> Draft:
    model = read_boat(DEMO_FOLDER / before.aboard.order.boat)
    return draft(edit[1](before.aboard.order), model, shipped_catalogue(), before)


def called(small: Draft, state: OrderState) -> Draft:
    """The order with every wire ticked, called so."""

    def apply(order: Order) -> Order:
        for wire in small.assembled.wires:
            order = tick_wire(tick_of(wire))[1](order)
        return set_state(state)[1](order)

    return after(small, ("build", apply))


@pytest.mark.parametrize("state", PAST)
def test_other_work_makes_a_draft_of_it_again(small: Draft, state: OrderState) -> None:
    before = called(small, state)
    horn = before.aboard.loads["horn"]
    gauge = Override(subject="N10", field="gauge", value="4 mm²", reason="x", initials="IM")
    device = Override(subject="N10", field="protection_a", value="15", reason="x", initials="IM")
    for edit in (remove_loads([horn]), set_override(gauge), set_override(device)):
        assert fallen(before, after(before, edit)) == "drafting", edit[0]


@pytest.mark.parametrize("state", PAST)
def test_words_about_it_take_nothing_back(small: Draft, state: OrderState) -> None:
    before = called(small, state)
    order = before.aboard.order
    words = set_heading(
        title=order.title, customer="Somebody else", station_date=order.station_date, notes="n"
    )
    assert fallen(before, after(before, words)) == state
    assert fallen(before, after(before, set_state("drafting"))) == "drafting"


@pytest.mark.parametrize(
    ("state", "falls_to"),
    [("checked", "checked"), ("released", "released"), *((s, "released") for s in PAST[2:])],
)
def test_a_tick_taken_back_is_no_longer_built(
    small: Draft, state: OrderState, falls_to: OrderState
) -> None:
    before = called(small, state)
    wire = small.assembled.wires[0].id
    assert fallen(before, after(before, untick_wires((wire,)))) == falls_to


def test_an_open_deviation_is_not_handed_over(small: Draft) -> None:
    noted = Deviation(
        number=1, kind="joint", subject="N10-P1", value="deck", reason="short", initials="IM"
    )
    for state in PAST:
        before = called(small, state)
        now = fallen(before, after(before, note_deviation(noted)))
        assert now == ("tested" if state == "handed_over" else state)


def test_an_error_that_opens_again_is_told(small: Draft) -> None:
    """An acceptance withdrawn: the work is the same, and nobody answers for the finding."""
    before = called(small, "released")
    finding = before.findings[0]
    assert all(f.severity != "error" for f in before.findings)
    worse = finding._replace(kind=finding.kind._replace(severity="error"))
    opened = dataclasses.replace(before, findings=(*before.findings, worse))
    assert fallen(before, opened) == "drafting"
    assert fallen(opened, opened) == "released"  # called so in spite of it: nothing is new


def recorded(done: Draft, **heading: str) -> Draft:
    built = record_built(*as_built(done))[1]
    return after(done, ("record", lambda order: dataclasses.replace(built(order), **heading)))


def test_what_an_order_records_as_built_it_has_yet_to_prove(small: Draft) -> None:
    """Crimps made in this order are sampled, in a change order those alone; a record is no tick."""
    every = sum(len(group.crimps) for group in draft_crimps(small))
    new_boat = recorded(small)
    assert not lying_wires(new_boat)
    assert sum(len(group.crimps) for group in draft_crimps(new_boat)) == every > 100
    change = recorded(small, hull="0611-B", based_on="0611")
    assert lying_wires(change) == {wire.id for wire in small.assembled.wires}
    assert draft_crimps(change) == ()
    thick = Override(subject="N10", field="gauge", value="4 mm²", reason="x", initials="IM")
    changed = after(change, set_override(thick))
    made = {wire.id for wire in changed.assembled.wires} - lying_wires(changed)
    assert made and {wire.circuit for wire in changed.assembled.wires if wire.id in made} == {"N10"}
    ends = {crimp.end.partition("/")[0] for g in draft_crimps(changed) for crimp in g.crimps}
    assert ends and ends <= made
    again = recorded(changed)  # in the change order itself
    assert lying_wires(again) == lying_wires(changed)
    assert draft_crimps(again) == draft_crimps(changed)
