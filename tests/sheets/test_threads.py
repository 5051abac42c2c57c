"""The thread drawing: what stands where, for every circuit of every order."""

import itertools

from tests.conftest import drafted
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft
from vivid_loom.sheets.drawings.threads import boat_axis, thread
from vivid_loom.sheets.pages.thread_pages import PAPER
from vivid_loom.sheets.paper.drawing import Circle, Line, Rect, Text, moved
from vivid_loom.sheets.paper.wire_paint import BLADE_HUES, WIRE_HUES, wire_width
from vivid_loom.standards.colours import CODES
from vivid_loom.standards.protection import BLADE_COLOURS

LEFT, RIGHT = 200.0, 900.0


def test_the_axis_is_the_boat_without_gaps(any_draft: Draft) -> None:
    axis = boat_axis(any_draft, LEFT, RIGHT)
    assert axis.bands[0].left == LEFT
    assert abs(axis.bands[-1].right - RIGHT) < 1e-6
    for band, following in itertools.pairwise(axis.bands):
        assert band.right == following.left
        assert band.right - band.left >= 40
    places = [axis.at(x / 10) for x in range(-5, 95)]
    assert places == sorted(places)


def test_crowded_areas_get_more_than_their_metres(full: Draft) -> None:
    axis = boat_axis(full, LEFT, RIGHT)
    helm = next(b for b in axis.bands if b.name.startswith("Wheelhouse"))
    by_metres = (helm.to_m - helm.from_m) / 8.6
    assert (helm.right - helm.left) / (RIGHT - LEFT) > by_metres


def test_every_thread_is_a_closed_loop_inside_its_row(any_draft: Draft) -> None:
    axis = boat_axis(any_draft, LEFT, RIGHT)
    for row in any_draft.rows:
        items = thread(any_draft, row, axis, 0.0, PAPER)
        boxes = [i for i in items if isinstance(i, Rect) and i.w == 12 and i.h > 20]
        dots = [i for i in items if isinstance(i, Circle)]
        loads = len(row.planned.loads) or 1
        assert len(boxes) == loads, row.id
        has_return = any(leg.live == "return" for leg in row.planned.plan.legs)
        assert len(dots) == has_return
        for item in items:
            if isinstance(item, Rect):
                assert item.y >= -21 and item.y + item.h <= 21
                assert item.x > LEFT - 60 and item.x + item.w < RIGHT + 60, row.id
        lefts = sorted(box.x for box in boxes)
        assert all(b - a >= 12 for a, b in itertools.pairwise(lefts)), row.id


def test_a_return_by_itself_is_drawn_from_its_bus_to_its_battery(full: Draft) -> None:
    """The outboard's block stood at the battery, and its 4.6 m of cable were not seen."""
    axis = boat_axis(full, LEFT, RIGHT)
    row = full.circuit("F13")
    assert row is not None
    items = thread(full, row, axis, 0.0, PAPER)
    (box,) = (i for i in items if isinstance(i, Rect) and i.w == 12 and i.h > 20)
    (dot,) = (i for i in items if isinstance(i, Circle))
    stations = full.aboard.boat.stations_by_id
    (leg,) = row.planned.plan.legs
    block, battery = (axis.at(stations[p.station].x_m) for p in (leg.start, leg.end))
    assert abs(box.x + 6 - block) < 18 and abs(dot.x - battery) < 4 and battery - block > 100
    drawn = [i for i in items if isinstance(i, Line) and i.colour == WIRE_HUES["BK"]]
    assert any(max(x for x, _ in i.points) - min(x for x, _ in i.points) > 100 for i in drawn)


def test_the_chip_shows_rating_and_blade(full: Draft) -> None:
    row = full.circuit("C02")
    assert row is not None
    items = thread(full, row, boat_axis(full, LEFT, RIGHT), 0.0, PAPER)
    assert any(isinstance(i, Text) and i.text == "5" and i.bold for i in items)
    assert any(isinstance(i, Rect) and i.fill == BLADE_HUES["tan"] for i in items)
    colours = {i.colour for i in items if isinstance(i, Line)}
    assert {WIRE_HUES["BN"], WIRE_HUES["WH"], WIRE_HUES["YE"]} <= colours


def test_a_circuit_without_protection_or_current_says_so() -> None:
    done = drafted(DEMO_FOLDER / "hull-0423.loom.json")
    axis = boat_axis(done, LEFT, RIGHT)
    for name, word in (("F04", "none"), ("E05", "?")):
        row = done.circuit(name)
        assert row is not None
        items = thread(done, row, axis, 0.0, PAPER)
        assert any(isinstance(i, Text) and i.text == word for i in items)


def test_thicker_copper_is_drawn_thicker_and_every_colour_has_a_hue() -> None:
    widths = [wire_width(area) for area in (0.8, 1.3, 2.1, 5.3, 13, 34)]
    assert widths == sorted(set(widths))
    assert set(WIRE_HUES) == set(CODES)
    assert set(BLADE_HUES) == set(BLADE_COLOURS.values())


def test_moving_scales_everything_alike() -> None:
    line = Line(((1, 2), (3, 4)), "#000000", 2.0, (4.0, 2.0))
    assert moved(line, 10, 0, 2) == Line(((12, 4), (16, 8)), "#000000", 4.0, (8.0, 4.0))
    assert moved(Rect(1, 1, 2, 2), 0, 5, 3) == Rect(3, 8, 6, 6)
    assert moved(Circle(1, 1, 1), 0, 0, 2).r == 2  # type: ignore[union-attr]
    assert moved(Text(1, 1, "a", 3), 0, 0, 2).size == 6  # type: ignore[union-attr]
