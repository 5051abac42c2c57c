"""Rules about ways: each fires on its mistake, and not on something nearly the same."""

import dataclasses

import pytest

from vivid_loom.boat import Boat, Near
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import draft
from vivid_loom.order import Edit, Order, change_profile, change_run, send_by_way

STOCK = shipped_catalogue()


def codes(order: Order, boat: Boat, *edits: Edit) -> set[tuple[str, str]]:
    for _, change in edits:
        order = change(order)
    return {(f.code, f.subjects[0]) for f in draft(order, boat, STOCK).findings}


def changed(boat: Boat, run_id: str, **fields: object) -> Edit:
    run = next(r for r in boat.runs if r.id == run_id)
    return change_run(dataclasses.replace(run, **fields), "figures")  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("what", "near", "clear", "code"),
    [
        ("wet exhaust", 49.0, 50.0, "R01"), ("dry exhaust", 249.0, 250.0, "R01"),
        ("fuel line", 80.0, 100.0, "R01"), ("moving cable", 20.0, 60.0, "R01"),
        ("compass", 400.0, 610.0, "R02"),
    ],
)  # fmt: skip
def test_clearances(
    order: Order, boat: Boat, what: str, near: float, clear: float, code: str
) -> None:
    for distance, fires in ((near, True), (clear, False)):
        passing = (Near(what=what, distance_mm=distance),)  # type: ignore[arg-type]
        found = codes(order, boat, changed(boat, "K02", near=passing))
        assert ((code, "K02") in found) is fires
    unused = (Near(what=what, distance_mm=near),)  # type: ignore[arg-type]
    assert (code, "N01") not in codes(order, boat, changed(boat, "N01", near=unused))


def test_fill_and_room_for_growth(order: Order, boat: Boat) -> None:
    """H12 carries 20 wires in conduit: 40 % of the bore is allowed (NEC chapter 9, table 1)."""
    assert ("R03", "H12") in codes(order, boat, changed(boat, "H12", bore_mm=20.0))
    tight = codes(order, boat, changed(boat, "H12", bore_mm=25.0))
    assert ("R04", "H12") in tight and ("R03", "H12") not in tight
    roomy = codes(order, boat, changed(boat, "H12", bore_mm=32.0))
    assert not {("R03", "H12"), ("R04", "H12")} & roomy
    none = change_profile("growth_percent", 0.0, "growth")
    assert ("R04", "H12") not in codes(order, boat, changed(boat, "H12", bore_mm=25.0), none)


def test_a_way_of_a_circuit_that_is_not_aboard(order: Order, boat: Boat) -> None:
    mast = next(s for s in boat.stations if s.id == "mast")
    sent = send_by_way("C30", "Radar", (mast,))
    assert ("R05", "C30") not in codes(order, boat, sent)
    fewer = dataclasses.replace(order, options=tuple(o for o in order.options if o != "radar"))
    assert ("R05", "C30") in codes(fewer, boat, sent)
