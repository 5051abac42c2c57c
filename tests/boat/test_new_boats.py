"""New boats: skeletons that can be wired, surveys that are read row by row, generic loads."""

import dataclasses

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from vivid_loom.boat import (
    Boat,
    BoatPlan,
    PlannedArea,
    changed_boat,
    check_boat,
    generic_loads,
    parametric_hull,
    plan_outline,
    read_survey,
    skeleton,
    usual_areas,
)
from vivid_loom.boat.shape import half_beam_m
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import draft
from vivid_loom.order import Order, add_fit
from vivid_loom.order.new_loads import fed
from vivid_loom.quantities.grid import grid_of_text


def plan(length: float = 7.2, **fields: object) -> BoatPlan:
    given_: dict[str, object] = {
        "id": "new",
        "name": "New",
        "length_m": length,
        "beam_m": 2.5,
        "depth_m": 1.2,
        "areas": usual_areas(length),
        "battery_area": 1,
        "helm_area": 2,
        **fields,
    }
    return BoatPlan(**given_)  # type: ignore[arg-type]


@settings(max_examples=25, deadline=None)
@given(
    length=st.floats(4, 30),
    beam=st.floats(1.5, 8),
    battery=st.integers(0, 3),
    helm=st.integers(0, 3),
    house=st.booleans(),
    side=st.sampled_from(("port", "starboard")),
)
def test_any_skeleton_can_be_wired_from_end_to_end(
    length: float, beam: float, battery: int, helm: int, house: bool, side: str
) -> None:
    length = round(length, 2)
    boat = skeleton(
        plan(length, beam_m=beam, battery_area=battery, helm_area=helm, house=house, side=side)
    )
    assert check_boat(boat) is None
    order = Order(hull="1", title="T", boat="new.boat.json", station_date="2026-12-07")
    lamp = next(load for load in generic_loads() if load.id == "courtesy")
    loads = [lamp.load(f"l{i}", f"L{i}", s.id, 12.0) for i, s in enumerate(boat.stations)]
    taken: set[str] = {load.id for load in loads}
    for load in loads[:18]:
        fit = fed([load], "own switch", load.name, taken)
        taken.add(fit.circuits[0].id)
        order = add_fit(fit)[1](order)
    drafted = draft(order, boat, shipped_catalogue())
    assert len(drafted.circuits) == min(18, len(loads))
    assert all(row.sized for row in drafted.circuits)


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"areas": ()}, "further forward"),
        ({"areas": (PlannedArea(name="a", to_m=5), PlannedArea(name="b", to_m=4))}, "further"),
        ({"areas": (PlannedArea(name="a", to_m=5),)}, "expected 7.2 m"),
        ({"helm_area": 9}, "helm area"),
        ({"battery_area": 4}, "battery area"),
    ],
)
def test_answers_that_make_no_boat(fields: dict[str, object], words: str) -> None:
    with pytest.raises(ValueError, match=words):
        skeleton(plan(**fields))


def test_the_plan_is_a_hull() -> None:
    hull = parametric_hull(8.6, 2.9, 1.3, material="grp")
    outline = plan_outline(hull)
    assert max(y for _, y in outline) == pytest.approx(1.45, rel=1e-3)
    assert {(x, -y) for x, y in outline} == set(outline)
    assert half_beam_m(hull, 0.0) == pytest.approx(hull.transom_share * 1.45)
    assert half_beam_m(hull, 8.6) == pytest.approx(0.0)
    sides = [half_beam_m(hull, 8.6 * i / 50) for i in range(51)]
    widest = sides.index(max(sides))
    assert sides[: widest + 1] == sorted(sides[: widest + 1])
    assert sides[widest:] == sorted(sides[widest:], reverse=True)


SHEET = """
Measured on hull 7;;;;;;
station;name;area;x;y;z
locker;Gear locker;deck;6,1;-0.8;1.2
bad;Nowhere;engine room;1;1;1
battery;;battery;2,7 m;300 mm;0.4

run;from;to;length;harness;area;enclosure
H12;tank_trunk;battery;1,35 m;;;
L1;locker;deck_p;900 mm;deck;deck;conduit
L2;locker;moon;2;;;
L3;locker;locker;2;;;
L4;locker;deck_p;;;;
L5;locker;deck_p;2;rigging;;
"""


def test_a_survey_is_read_row_by_row(boat: Boat) -> None:
    survey = read_survey(grid_of_text(SHEET.strip()), boat)
    assert {s.id for s in survey.changes.stations} == {"locker", "battery"}
    moved = next(s for s in survey.changes.stations if s.id == "battery")
    assert (moved.name, moved.x_m, moved.y_m) == ("Battery box", 2.7, 0.3)
    runs = {r.id: r for r in survey.changes.runs}
    assert set(runs) == {"H12", "L1"}
    assert runs["H12"].length_m == 1.35 and runs["H12"].enclosure == "conduit"
    assert runs["L1"].length_m == 0.9
    told = dict(survey.left_out)
    assert set(told) == {1, 4, 10, 11, 12, 13}
    assert "above any heading" in told[1] and "engine room" in told[4]
    assert "moon" in told[10] and "to itself" in told[11]
    assert "length" in told[12] and "rigging" in told[13]
    after = changed_boat(boat, survey.changes)
    assert check_boat(after) is None and len(after.runs) == len(boat.runs) + 1


def test_there_are_eighty_generic_loads_and_each_can_be_fed() -> None:
    loads = generic_loads()
    assert len(loads) >= 80
    boat = skeleton(plan(12.0))
    wide = dataclasses.replace(
        boat,
        supplies=tuple(dataclasses.replace(s, ways=40) if s.ways else s for s in boat.supplies),
    )
    for generic in loads:
        order = Order(hull="1", title="T", boat="b", station_date="2026-12-07")
        load = generic.load("one", generic.name, "a1_port", 12.0)
        assert load.evidence.kind == "estimate"
        fit = fed([load], generic.feeding, generic.name, {"one"}, generic.rank)
        drafted = draft(add_fit(fit)[1](order), wide, shipped_catalogue())
        assert len(drafted.circuits) == len(fit.circuits) >= 1, generic.id
        assert not drafted.aboard.unfed
