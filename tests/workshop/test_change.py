"""A change to a built boat: its steps in order, leads that move, joints opened, the unknown."""

import dataclasses

import pytest

from tests.conftest import drafted
from vivid_loom.boat import Boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft, built_wires, draft
from vivid_loom.drafting.after.as_built import as_built
from vivid_loom.order import BuiltWire, Order, Shop, Spare, drop_option, record_built
from vivid_loom.sheets.lists.bench_lists import draft_crimps
from vivid_loom.sheets.lists.build_lists import cut_list
from vivid_loom.sheets.lists.label_lists import labels
from vivid_loom.sheets.lists.loose_lists import changes
from vivid_loom.sheets.lists.stores import materials, wire_totals
from vivid_loom.sheets.pages.change_pages import change_pages, change_plan
from vivid_loom.sheets.paper.layout import Setting
from vivid_loom.workshop.change import ORDER, change_steps
from vivid_loom.workshop.cutting.plan import pieces
from vivid_loom.workshop.hours import bench_hours, hour_lines


@pytest.fixture(scope="module")
def lies(full: Draft) -> tuple[BuiltWire, ...]:
    """Hull 0417 as built, as drawn."""
    return built_wires(full.assembled)


def changed(order: Order, boat: Boat, built: tuple[BuiltWire, ...]) -> Draft:
    made = dataclasses.replace(order, built=built, based_on=order.hull)
    return draft(made, boat, shipped_catalogue())


def other(built: tuple[BuiltWire, ...], wire: str, **fields: object) -> tuple[BuiltWire, ...]:
    return tuple(dataclasses.replace(b, **fields) if b.id == wire else b for b in built)  # type: ignore[arg-type]


def test_a_boat_as_drawn_needs_no_step_and_no_hours(
    order: Order, boat: Boat, full: Draft, lies: tuple[BuiltWire, ...]
) -> None:
    assert change_steps(full) == ()  # not built at all
    same = changed(order, boat, lies)
    assert change_steps(same) == ()
    assert bench_hours(same) == 0.0
    assert bench_hours(full) > 10


def test_an_option_less_is_freed_and_made_dead_first(
    order: Order, boat: Boat, full: Draft, lies: tuple[BuiltWire, ...]
) -> None:
    less = changed(drop_option("radar", "radar")[1](order), boat, lies)
    steps = change_steps(less)
    kinds = [step.kind for step in steps]
    assert kinds == sorted(kinds, key=ORDER.index)
    radar = {wire.id for wire in full.assembled.wires if wire.circuit == "C30"}
    freed = {step.wire for step in steps if step.kind == "free"}
    assert radar <= freed
    assert {step.circuit for step in steps if step.kind == "dead"} >= {"C30"}
    gone = [step for step in steps if step.kind in ("cap", "draw out")]
    moved = {step.about for step in steps if step.kind == "move"}
    assert {step.wire for step in gone} | moved == freed
    # nothing can be pulled from a bundle that stays
    runs = {run.id: run for run in boat.runs}
    for step in gone:
        built = next(b for b in lies if b.id == step.wire)
        open_runs = [r for r in built.runs if runs[r].enclosure != "conduit"]
        if step.kind == "draw out":
            assert all(not less.occupants[r] for r in open_runs)


def test_a_freed_lead_that_reaches_is_landed_anew(
    order: Order, boat: Boat, full: Draft, lies: tuple[BuiltWire, ...]
) -> None:
    wire = next(w for w in full.assembled.wires if w.circuit == "C29" and w.runs)
    far = other(lies, wire.id, end="elsewhere 2", length_mm=wire.cut_mm + 50)
    (move,) = [s for s in change_steps(changed(order, boat, far)) if s.kind == "move"]
    assert (move.wire, move.about) == (wire.id, wire.id)
    short = other(lies, wire.id, end="elsewhere 2", length_mm=wire.cut_mm - 1)
    kinds = {s.kind for s in change_steps(changed(order, boat, short))}
    assert "move" not in kinds and "draw in" in kinds
    thin = other(lies, wire.id, end="elsewhere 2", gauge="18 AWG")
    assert "move" not in {s.kind for s in change_steps(changed(order, boat, thin))}


def test_a_lead_that_moves_is_not_cut_again(
    order: Order, boat: Boat, full: Draft, lies: tuple[BuiltWire, ...]
) -> None:
    """It stood in cut list, hours and materials as a new wire, and both its ends were freed."""
    wire = next(w for w in full.assembled.wires if w.circuit == "C29" and w.runs)
    far = other(lies, wire.id, end="elsewhere 2", length_mm=wire.cut_mm + 50)
    done = changed(order, boat, far)
    assert {row.wire_id: row.conductor_state for row in cut_list(done).rows}[wire.id] == "moves"
    assert wire.id not in {piece.id for piece in pieces(done)}
    assert (str(wire.gauge), str(wire.colour)) not in wire_totals(done)
    spent = {line.operation: line.times for line in hour_lines(done)}
    assert "cut and label a wire" not in spent and "lay a metre" not in spent
    assert spent["land an end"] == 1
    fitted = [row.item for row in materials(done, Shop()).rows if row.kind == "termination"]
    assert wire.end.termination.kind in fitted
    (free,) = [row.to_do for row in change_plan(done).rows if row.what == "free"]
    assert free == f"free one end and tag it; the other stays at {wire.start.words}"
    assert [crimp.end for group in draft_crimps(done) for crimp in group.crimps] == [
        f"{wire.id}/to"
    ]


def test_what_lies_in_the_boat_is_neither_bought_nor_labelled_again(
    order: Order, boat: Boat, full: Draft
) -> None:
    """A change order's list of materials had every device, switch, terminal and label aboard."""
    made = record_built(*as_built(full))[1](order)
    change = dataclasses.replace(made, hull=f"{order.hull}-B", based_on=order.hull)
    same = draft(change, boat, full.catalogue)
    kinds = {row.kind for row in materials(same, Shop()).rows}
    assert kinds <= {"recorded"}, kinds
    assert not [row for row in labels(same).rows if row.kind == "wire"]
    less = draft(drop_option("radar", "radar")[1](change), boat, full.catalogue)
    assert {row.kind for row in materials(less, Shop()).rows} <= kinds


def test_a_joint_that_is_opened_is_made_anew(
    order: Order, boat: Boat, full: Draft, lies: tuple[BuiltWire, ...]
) -> None:
    ends = [(w, e) for w in full.assembled.wires for e in (w.start, w.end) if e.is_joint]
    wire, end, mate = next(
        (w, e, m)
        for w, e in ends
        for m, f in ends
        if m is not w and (e.place, e.point) == (f.place, f.point)
    )
    done = changed(order, boat, other(lies, wire.id, gauge="8 AWG"))
    again = [s for s in change_steps(done) if s.kind == "again"]
    assert mate.id in {s.wire for s in again}
    assert any(f"{end.place} {end.point}" in s.about for s in again)
    assert mate.circuit in {s.circuit for s in change_steps(done) if s.kind == "dead"}


def test_what_a_survey_does_not_know_stays_unknown(
    order: Order, boat: Boat, full: Draft, lies: tuple[BuiltWire, ...]
) -> None:
    wire = next(w for w in full.assembled.wires if w.circuit == "C29" and w.runs)
    blank = changed(order, boat, other(lies, wire.id, gauge="", runs=()))
    assert [b.id for b in blank.reuse.unknown] == [wire.id]
    assert blank.reuse.comes_off == ()
    first = change_steps(blank)[0]
    assert (first.kind, first.wire, first.about) == ("look", wire.id, "gauge, way")
    rows = change_plan(blank).rows
    assert "nobody knows its gauge, way" in rows[0].to_do
    pages = change_pages(blank, Setting("hull", "caution"))
    text = " ".join(i.text for page in pages for i in page.items if hasattr(i, "text"))
    assert "In this order" in text and wire.id in text


def test_a_factory_link_says_what_goes_dark_by_it() -> None:
    """The chain of the panel as found is cut link by link: each feeds all that lie behind it."""
    found = drafted(DEMO_FOLDER / "hull-0423.loom.json")
    order, boat = found.aboard.order, found.aboard.boat
    lies = built_wires(found.assembled)
    assert not [s for s in change_steps(changed(order, boat, lies)) if s.kind == "split"]
    at = {switch.position: switch for switch in found.switches}
    tabs = {(at[n].place, "1C") for n in range(1, 6)}
    feeds = {w.id: w for w in found.assembled.wires if (w.end.place, w.end.point) in tabs}
    before = changed(order, boat, tuple(b for b in lies if b.id not in feeds))
    steps = change_steps(before)
    split = [step for step in steps if step.kind == "split"]
    assert [step.ends for step in split] == [
        (f"{at[n].place} 1C", f"{at[n + 1].place} 1C") for n in range(1, 5)
    ]
    for first, step in enumerate(split, 1):
        for n in range(1, 6):
            assert (f"{at[n].request.legend} until" in step.about) == (n > first), step
    named = {name for name in feeds if f"until {name} is landed" in split[0].about}
    assert len(named) == 4
    kinds = [step.kind for step in steps]
    assert kinds.index("split") < kinds.index("draw in")
    told = [row.to_do for row in change_plan(before).rows if row.what == "split"]
    assert told[0].startswith("cut this factory link and insulate both ends; dark by it: ")


def test_bonds_and_spares_lie_in_the_boat_too(order: Order, boat: Boat, full: Draft) -> None:
    """Every change order bought, cut and crimped the boat's bonds and spares again."""
    pair = Spare(id="S1", label="to the mast", kind="conductor", start="dash", end="transom_p")
    stations = [station.id for station in boat.stations]
    ends = {"start": stations[0], "end": stations[1], "gauge": "16 AWG"}
    one = dataclasses.replace(pair, **ends)
    line = dataclasses.replace(one, id="L1", kind="pull line", gauge="")
    begun = draft(dataclasses.replace(order, spares=(one, line)), boat, full.catalogue)
    lies = as_built(begun)
    assert {b.kind for b in lies.beside} == {"bond", "conductor", "pull line"}
    built = record_built(*lies)[1](begun.aboard.order)
    change = dataclasses.replace(built, hull=f"{order.hull}-B", based_on=order.hull)
    same = draft(change, boat, full.catalogue)
    assert same.beside == ((), (), (), True)
    assert {row.what for row in changes(same).rows} == {"stays"}
    assert {b.id for b in same.bonds} | {"S1", "L1"} <= {row.wire_id for row in changes(same).rows}
    assert not list(pieces(same)) and not wire_totals(same)

    more = dataclasses.replace(one, count=3)
    fewer = dataclasses.replace(boat, bonds=boat.bonds[1:])
    other = draft(dataclasses.replace(change, spares=(more,)), fewer, full.catalogue)
    gone = boat.bonds[0].id
    assert [s.spare.count for s in other.beside.spares] == [2] and other.beside.bonds == ()
    assert {b.id for b in other.beside.comes_off} == {gone, "L1"}
    told = {(row.what, row.wire_id) for row in changes(other).rows if not row.circuit_id}
    assert {("comes off", gone), ("comes off", "L1"), ("new", "S1"), ("stays", "S1")} <= told
    steps = [(step.kind, step.wire) for step in change_steps(other)]
    out = [kind for kind, name in steps if name == gone]
    assert out[0] == "free" and out[1] in ("cap", "draw out") and len(out) == 2
    assert ("draw in", "S1") in steps and ("free", "L1") not in steps
    assert [piece.id for piece in pieces(other)] == ["S1.1", "S1.2"]

    for other_than in ({"gauge": "14 AWG"}, {"colour": "GY"}, {"runs": ()}, {"end": stations[2]}):
        lying = tuple(
            dataclasses.replace(b, **other_than) if b.id == "S1" else b for b in lies.beside
        )
        differs = draft(dataclasses.replace(change, built_beside=lying), boat, full.catalogue)
        assert [s.id for s in differs.beside.spares] == ["S1"], other_than
        assert [b.id for b in differs.beside.comes_off] == ["S1"], other_than

    old = dataclasses.replace(change, built_beside=None)  # recorded before December 2026
    unknown = draft(old, boat, full.catalogue)
    assert len(unknown.beside.bonds) == len(boat.bonds) and not unknown.beside.comes_off
    assert {row.what for row in changes(unknown).rows} == {"stays"}
