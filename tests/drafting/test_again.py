"""After an edit only what it touched is drafted again, and nobody can tell."""

import dataclasses
import random
from collections.abc import Callable
from pathlib import Path

import pytest

from tests.random_edits import random_edit
from vivid_loom.boat import read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER, DEMO_ORDER, find_boat
from vivid_loom.drafting import Draft, DraftError, draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.drafting.after.truth import Truth, truth_of
from vivid_loom.order import (
    Edit,
    HandJumper,
    Override,
    change_loads,
    change_profile,
    decide_jumper,
    move_loads,
    read_order,
    remove_loads,
    set_override,
)
from vivid_loom.quantities import LimitError
from vivid_loom.sheets.draft_json import draft_json_bytes


def same(left: Draft, right: Draft) -> list[str]:
    """Return which of two drafts' parts are other, down to every reason."""
    found = [
        field.name
        for field in dataclasses.fields(Draft)
        if field.name not in ("aboard", "kept")
        and getattr(left, field.name) != getattr(right, field.name)
    ]
    if draft_json_bytes(left) != draft_json_bytes(right):
        found.append("draft.json")
    if truth_of(left).rows != truth_of(right).rows:
        found.append("presses")
    if net_list(left) != net_list(right):
        found.append("net list")
    return found


@pytest.mark.parametrize("hull", ["0417", "0609", "1102"])
def test_edits_at_random_are_drafted_as_if_anew(hull: str, pytestconfig: pytest.Config) -> None:
    """Edit upon edit, each taking over what it can; what is refused is refused either way."""
    path = DEMO_FOLDER / f"hull-{hull}.loom.json"
    order, catalogue = read_order(path), shipped_catalogue()
    model = read_boat(find_boat(path, order.boat))
    start = standing = draft(order, model, catalogue)
    rng, done, refused = random.Random(hull), 0, 0
    count = pytestconfig.getoption("--edits") // 3
    for turn in range(count):
        if turn % 40 == 0:
            standing = start
        try:
            name, change = random_edit(rng, standing)
            edited = change(standing.aboard.order)
            whole = draft(edited, model, catalogue)
        except (DraftError, LimitError, ValueError):
            refused += 1
            continue
        after = draft(edited, model, catalogue, standing)
        assert same(after, whole) == [], f"{turn}: {name}"
        standing, done = after, done + 1
    print(f"{done} edits drafted again, {refused} refused")
    assert done > count // 2


def test_what_an_edit_does_not_touch_is_the_same_object() -> None:
    """One gauge set: no other circuit's conductors, shorts or wires are worked out anew."""
    order, model = read_order(DEMO_ORDER), read_boat(DEMO_FOLDER / "qh-86.boat.json")
    before = draft(order, model, shipped_catalogue())
    by_hand = Override(subject="C24", field="gauge", value="6 AWG", reason="r", initials="VL")
    after = draft(set_override(by_hand)[1](order), model, shipped_catalogue(), before)
    other = [r for r in after.rows if r.id != "C24"]
    for row in other:
        was = before.circuit(row.id)
        assert was is not None
        assert row.planned is was.planned and row.paths is was.paths and row.fault is was.fault
    kept = sum(
        a.wires == b.wires and all(x is y for x, y in zip(a.wires, b.wires, strict=True))
        for a in other
        if (b := before.circuit(a.id)) is not None
    )
    assert kept >= len(other) - 8  # but for neighbours in its plugs
    changed = after.circuit("C24")
    assert changed is not None and changed.sized is not None
    assert str(changed.sized.gauge.value) == "6 AWG" and changed.wires[0].gauge.size == 6


def test_a_moved_load_leaves_the_others_in_place() -> None:
    order, model = read_order(DEMO_ORDER), read_boat(DEMO_FOLDER / "qh-86.boat.json")
    before = draft(order, model, shipped_catalogue())
    load = before.aboard.loads["washdown"]
    area = next(s.area for s in model.stations if s.id == load.station)
    there = next(s for s in model.stations if s.area == area and s.id != load.station)
    after = draft(move_loads([load], there)[1](order), model, shipped_catalogue(), before)
    moved = [r.id for r in after.rows if (b := before.circuit(r.id)) and r.planned is not b.planned]
    assert moved == ["C24"]


def test_presses_stand_while_the_same_is_joined() -> None:
    """A lamp moved to the end of its chain, and home by another bus; not one that is taken out."""
    order, model = read_order(DEMO_ORDER), read_boat(DEMO_FOLDER / "qh-86.boat.json")
    before = draft(order, model, shipped_catalogue())
    stations = {station.id: station for station in model.stations}
    chained, pump = (before.aboard.loads[name] for name in ("cabin_1", "bp_aft"))
    moved = [((chained,), stations["stem"]), ((pump,), stations["dash"])]
    for loads, there in moved:
        after = draft(move_loads(loads, there)[1](order), model, shipped_catalogue(), before)
        assert truth_of(after) is truth_of(before), loads[0].id
        lands = [
            {(leg.start[:2], leg.end[:2]) for row in one.circuits for leg in row.planned.plan.legs}
            for one in (before, after)
        ]
        assert lands[0] != lands[1], loads[0].id
    without = draft(remove_loads((chained,))[1](order), model, shipped_catalogue(), before)
    assert truth_of(without) is not truth_of(before)


@pytest.mark.parametrize("hull", ["0417", "0609", "1102"])
def test_wires_behind_panels_follow_what_ends_on_their_tabs(hull: str) -> None:
    """Instrument lights are chained from where they are now; other loads change no jumper."""
    path = DEMO_FOLDER / f"hull-{hull}.loom.json"
    order = read_order(path)
    model = read_boat(find_boat(path, order.boat))
    before = draft(order, model, shipped_catalogue())
    lights = [x for x in before.aboard.loads.values() if x.function == "instrument_light"]
    others = [x for x in before.aboard.loads.values() if x not in lights][::5]
    for load in (*lights, *others):
        there = next(s for s in model.stations[3:] if s.id != load.station)
        edited = move_loads((load,), there)[1](order)
        after = draft(edited, model, shipped_catalogue(), before)
        assert same(after, draft(edited, model, shipped_catalogue())) == [], load.id
    assert lights


def _load(name: str, **fields: object) -> Callable[[Draft], Edit]:
    return lambda done: change_loads(
        (dataclasses.replace(done.aboard.loads[name], **fields),),  # type: ignore[arg-type]
        "it",
    )


def _between_outputs(done: Draft) -> HandJumper:
    """Join what two switches feed."""
    one, other = [s.request.id for s in done.switches if len(s.uses) == 1 and s.position][:2]
    return HandJumper(start=f"{one} 1U", end=f"{other} 1U", laid=True, reason="r", initials="VL")


@pytest.mark.parametrize(
    "change",
    [
        _load("side_p", lit_in=("down",)),
        _load("washdown", contact_a=10.0),  # a float inside it, which hangs down
        _load("fridge", running_a=None),  # it is not cut
        lambda _: change_profile("second_lamp", "backlight", "second lamp"),
        lambda done: decide_jumper(_between_outputs(done)),
        lambda _: set_override(
            Override(subject="s_nav", field="helm_position", value="9", reason="r", initials="VL")
        ),
    ],
    ids=["lit in", "contact inside", "not sized", "lamps", "jumper", "position"],
)
def test_presses_are_worked_out_anew_for_what_they_tell(change: Callable[[Draft], Edit]) -> None:
    order, model = read_order(DEMO_ORDER), read_boat(DEMO_FOLDER / "qh-86.boat.json")
    before = draft(order, model, shipped_catalogue())
    after = draft(change(before)[1](order), model, shipped_catalogue(), before)
    assert truth_of(after) is not truth_of(before)
    assert truth_of(after).rows == Truth(after).rows


def test_a_draft_lets_go_of_the_one_before() -> None:
    """A day of edits keeps two drafts at most, not all of them."""
    order, model = read_order(DEMO_ORDER), read_boat(DEMO_FOLDER / "qh-86.boat.json")
    standing = draft(order, model, shipped_catalogue())
    for _ in range(3):
        standing = draft(order, model, shipped_catalogue(), standing)
        assert standing.aboard.kept._made == standing.aboard.kept._before == {}
        assert standing.kept._before == {} and standing.kept._made


def test_another_boat_takes_nothing_over(tmp_path: Path) -> None:
    order, model = read_order(DEMO_ORDER), read_boat(DEMO_FOLDER / "qh-86.boat.json")
    before = draft(order, model, shipped_catalogue())
    again = read_boat(DEMO_FOLDER / "qh-86.boat.json")
    wider = dataclasses.replace(again, hull=dataclasses.replace(again.hull, beam_m=3.4))
    assert (
        same(
            draft(order, wider, shipped_catalogue(), before),
            draft(order, wider, shipped_catalogue()),
        )
        == []
    )


def test_another_device_is_another_net_list() -> None:
    """Its circuit has the new rating, and the conductors of the circuits beside it are the same."""
    order, model = read_order(DEMO_ORDER), read_boat(DEMO_FOLDER / "qh-86.boat.json")
    before = draft(order, model, shipped_catalogue())
    was = net_list(before)
    larger = Override(
        subject="C24", field="protection_a", value="20", reason="in stock", initials="VL"
    )
    edited = set_override(larger)[1](order)
    after = draft(edited, model, shipped_catalogue(), before)
    now = net_list(after)
    assert now == net_list(draft(edited, model, shipped_catalogue()))
    ratings = [
        {c.device.rating_a for c in net.contacts if c.device and c.device.listed == "C24"}
        for net in (was, now)
    ]
    assert ratings[0] != ratings[1] == {20.0}
    assert [c for c in was.conductors if c.circuit == "C23"] == [
        c for c in now.conductors if c.circuit == "C23"
    ]
