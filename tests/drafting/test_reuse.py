"""What of a built boat may stay: only what fits in every respect, and each conductor once."""

import dataclasses

import pytest

from vivid_loom.boat import Boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, Reuse, built_wires, draft
from vivid_loom.drafting.beside.existing import NOTHING_LIES
from vivid_loom.order import BuiltWire, Order


@pytest.fixture(scope="module")
def built(full: Draft) -> tuple[BuiltWire, ...]:
    """Hull 0417 as built, as drawn."""
    return built_wires(full.assembled)


def reused(order: Order, boat: Boat, built: tuple[BuiltWire, ...]) -> Reuse:
    return draft(dataclasses.replace(order, built=built), boat, shipped_catalogue()).reuse


def one_otherwise(
    built: tuple[BuiltWire, ...], wire: str, **fields: object
) -> tuple[BuiltWire, ...]:
    return tuple(
        dataclasses.replace(b, **fields) if b.id == wire else b  # type: ignore[arg-type]
        for b in built
    )


def test_a_boat_built_as_drawn_keeps_everything(
    order: Order, boat: Boat, full: Draft, built: tuple[BuiltWire, ...]
) -> None:
    found = reused(order, boat, built)
    assert set(found.kept) == {wire.id for wire in full.assembled.wires}
    assert all(name == conductor.id for name, conductor in found.kept.items())
    assert found.comes_off == ()


@pytest.mark.parametrize(
    "fields",
    [
        {"gauge": "8 AWG"},
        {"colour": "GN"},
        {"runs": ()},
        {"end": "elsewhere 2", "length_mm": 1.0},
    ],
)
def test_what_differs_in_one_respect_comes_off(
    order: Order, boat: Boat, full: Draft, built: tuple[BuiltWire, ...], fields: dict[str, object]
) -> None:
    wire = next(w for w in full.assembled.wires if w.runs and w.circuit == "C29")
    found = reused(order, boat, one_otherwise(built, wire.id, **fields))
    assert wire.id not in found.kept
    assert [off.id for off in found.comes_off] == [wire.id]


@pytest.mark.parametrize(
    ("fields", "made"),
    [({"start": "elsewhere 1"}, ["start"]), ({"end": "else 2"}, ["end"]), ({"circuit": "C99"}, [])],
)
def test_what_reaches_is_landed_anew(
    order: Order,
    boat: Boat,
    full: Draft,
    built: tuple[BuiltWire, ...],
    fields: dict[str, object],
    made: list[str],
) -> None:
    """Only its end that lands elsewhere is made; one of another circuit is labelled anew."""
    wire = next(w for w in full.assembled.wires if w.runs and w.circuit == "C29")
    found = reused(order, boat, one_otherwise(built, wire.id, **fields))
    assert found.comes_off == () and [*found.moved] == [wire.id] and not found.is_new(wire)
    assert [*found.new_ends(wire)] == [getattr(wire, side) for side in made]


@pytest.mark.parametrize(
    ("state", "stays"), [("differs", True), ("capped", False), ("removed", False)]
)
def test_only_what_is_connected_stays(
    order: Order, boat: Boat, full: Draft, built: tuple[BuiltWire, ...], state: str, stays: bool
) -> None:
    """A capped or removed conductor is neither kept nor taken off once more."""
    wire = full.assembled.wires[0].id
    found = reused(order, boat, one_otherwise(built, wire, state=state))
    assert (wire in found.kept) is stays
    assert found.comes_off == ()


def test_a_conductor_under_another_id_stays_and_serves_once(
    order: Order, boat: Boat, full: Draft, built: tuple[BuiltWire, ...]
) -> None:
    wire = full.assembled.wires[0].id
    found = reused(order, boat, one_otherwise(built, wire, id="old-7"))
    assert found.kept[wire].id == "old-7"
    serving = [conductor.id for conductor in found.kept.values()]
    assert len(serving) == len(set(serving))


def test_a_new_boat_keeps_nothing(full: Draft) -> None:
    assert full.reuse == NOTHING_LIES and all(map(full.reuse.is_new, full.assembled.wires))
