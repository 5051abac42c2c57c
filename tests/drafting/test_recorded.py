"""Recorded cables as they come: where they are joined, and that no piece is short."""

import dataclasses
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.changes import Setup, drafted
from tests.conftest import drafted as drafted_order
from vivid_loom.boat import Boat, Recorded
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft
from vivid_loom.drafting.beside.recorded import DraftedRecord, drafted_records
from vivid_loom.drafting.places.route import RouteMap
from vivid_loom.order import Order
from vivid_loom.sheets import packet_table

CODES = {"R11"}
LOOP_M = 0.15  # of the shop's profile, at each end
LOOM = Recorded(
    id="REC2", name="Loom", kind="engine loom", start="dash", end="bracket", diameter_mm=14.0
)


def with_record(boat: Boat, order: Order, **fields: object) -> tuple[Draft, DraftedRecord]:
    """Draft QH-86 with one recorded cable, changed."""
    made = dataclasses.replace(LOOM, **fields)  # type: ignore[arg-type]
    done = drafted(Setup(dataclasses.replace(boat, recorded=(made,)), order, shipped_catalogue()))
    return done, done.recorded[0]


def told(done: Draft) -> list[str]:
    return [f.sentence() for f in done.findings if f.code == "R11"]


def test_what_is_cut_to_measure_is_one_piece_with_a_loop_at_each_end(
    boat: Boat, order: Order
) -> None:
    done, record = with_record(boat, order)
    (piece,) = record.pieces
    routed_m = sum(run.wire_m for run in record.path.runs)
    assert (piece.id, piece.kind) == ("REC2", "cut to measure")
    assert piece.length_m == pytest.approx(routed_m + 2 * LOOP_M)
    assert told(done) == []


@pytest.mark.parametrize(
    ("comes_from", "comes_m", "joint"),
    [
        ("end", 7.65, ""),  # 7.35 m of runs and two loops
        ("end", 7.64, "helm"),
        ("end", 5.65, "house_aft"),
        ("start", 7.64, "transom"),
    ],
)
def test_a_lead_is_continued_from_the_furthest_station_it_reaches(
    boat: Boat, order: Order, comes_from: str, comes_m: float, joint: str
) -> None:
    done, record = with_record(boat, order, comes_from=comes_from, comes_m=comes_m)
    own = record.pieces[-1] if comes_from == "end" else record.pieces[0]
    assert own.kind == "as it comes" and own.length_m == comes_m
    if not joint:
        assert len(record.pieces) == 1 and told(done) == []
        return
    assert len(record.pieces) == 2
    # walked by hand from the end it comes from: the next station would be out of its reach
    runs = list(record.path.runs)
    stations = list(record.path.stations)
    if comes_from == "end":
        runs.reverse()
        stations.reverse()
    reach, at = 0.0, stations[0]
    for run, station in zip(runs, stations[1:], strict=True):
        if reach + run.wire_m + 2 * LOOP_M > comes_m:
            break
        reach, at = reach + run.wire_m, station
    assert record.pieces[0].end == at == joint
    tail = next(p for p in record.pieces if p is not own)
    total = sum(run.wire_m for run in record.path.runs)
    assert tail.length_m == pytest.approx(total - reach + 2 * LOOP_M)
    assert f"an extension tail of {tail.length_m:.1f} m" in told(done)[0]


def test_one_that_reaches_no_station_is_told_as_such(boat: Boat, order: Order) -> None:
    done, record = with_record(boat, order, comes_m=0.2)
    assert len(record.pieces) == 1
    assert "no station for a joint lies within its reach" in told(done)[0]


def test_what_comes_apart_has_a_joint_at_every_border(boat: Boat, order: Order) -> None:
    done, record = with_record(boat, order, start="radio", end="mast", kind="coax", parts=True)
    for piece in record.pieces:
        assert len({run.harness for run in piece.runs}) == 1
    for one, other in zip(record.pieces, record.pieces[1:], strict=False):
        assert one.end == other.start and one.runs[-1].harness != other.runs[0].harness
    assert len(record.pieces) == 2 and told(done) == []
    whole = with_record(boat, order, start="radio", end="mast", kind="coax")[1]
    assert len(whole.pieces) == 1


def test_every_piece_is_on_paper_with_its_labels_and_its_transition() -> None:
    done = drafted_order(DEMO_FOLDER / "hull-1102.loom.json")
    rows = packet_table(done, "recorded").rows
    pieces = [piece for item in done.recorded for piece in item.pieces]
    assert [row.record_id for row in rows] == [piece.id for piece in pieces]
    joints = [row for row in rows if row.joined_at]
    assert len(joints) == len(rows) - len(done.recorded) > 1
    runs = done.aboard.boat.runs_by_id
    for row in rows:
        laid_mm = 1000 * sum(runs[name].wire_m for name in row.path.split(";"))
        assert float(row.routed_length_mm) >= laid_mm + 2000 * LOOP_M - 1
    labels = {row.line_1 for row in packet_table(done, "labels").rows if row.kind == "recorded"}
    assert labels == {label for row in rows for label in (row.label_from, row.label_to)}
    bought = {r.item: r.quantity for r in packet_table(done, "materials").rows}
    # never short, and less than a tenth of a metre too long
    ordered = sorted(
        float(item.split()[-2])
        for item, count in bought.items()
        if item.startswith("extension tail")
        for _ in range(int(count))
    )
    asked = sorted(float(r.routed_length_mm) / 1000 for r in rows if r.piece == "extension tail")
    assert len(ordered) == len(asked) > 0
    for length_m, needs_m in zip(ordered, asked, strict=True):
        assert -1e-6 <= length_m - needs_m < 0.1 - 1e-6
    assert any(length_m > needs_m + 0.01 for length_m, needs_m in zip(ordered, asked, strict=True))


@settings(max_examples=60, deadline=None)
@given(
    comes_m=st.one_of(st.just(0.0), st.floats(0.1, 12.0)),
    comes_from=st.sampled_from(["start", "end"]),
    parts=st.booleans(),
    ends=st.sampled_from([("dash", "bracket"), ("radio", "mast"), ("bracket", "mast")]),
)
def test_pieces_lie_end_to_end_and_none_is_short(
    full: Draft, comes_m: float, comes_from: str, parts: bool, ends: tuple[str, str]
) -> None:
    """Whatever a lead comes with: its pieces make its way, each as long as it lies."""
    item = dataclasses.replace(
        LOOM,
        start=ends[0],
        end=ends[1],
        comes_m=comes_m,
        comes_from=comes_from,  # type: ignore[arg-type]
        parts=parts,
    )
    boat = dataclasses.replace(full.aboard.boat, recorded=(item,))
    routes = RouteMap(boat.stations, boat.runs)
    (record,) = drafted_records(dataclasses.replace(full.aboard, boat=boat), routes)
    pieces = record.pieces
    assert (pieces[0].start, pieces[-1].end) == ends
    assert tuple(run for piece in pieces for run in piece.runs) == record.path.runs
    assert all(one.end == other.start for one, other in pairwise(pieces))
    for piece in pieces:
        lies_m = sum(run.wire_m for run in piece.runs) + 2 * LOOP_M
        if piece.kind != "as it comes":
            assert piece.length_m == pytest.approx(lies_m)
        elif len(pieces) > 1 or not record.falls_short:
            assert piece.length_m == comes_m >= lies_m - 1e-9 or (parts and record.falls_short)
    own = [piece for piece in pieces if piece.kind == "as it comes"]
    assert len(own) == (comes_m > 0)
    if own:
        assert own[0] is (pieces[0] if comes_from == "start" else pieces[-1])
    if not parts:
        assert len(pieces) <= 2
        assert (len(pieces) == 2) <= record.falls_short
