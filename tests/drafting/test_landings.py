"""What was issued with a number keeps it: ways, screws, poles, cavities, positions."""

import dataclasses
from collections import Counter
from typing import get_args

import pytest

from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo.generated import generated
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.as_built import as_built
from vivid_loom.drafting.after.landings import landings_of
from vivid_loom.drafting.making.plugs import CavityAsk, PlugBoard
from vivid_loom.drafting.places.numbers import Numbers
from vivid_loom.order import Landing, LandingKind, Order, Revision, drop_option, issue_revision
from vivid_loom.quantities import Gauge
from vivid_loom.sheets import packet_table
from vivid_loom.standards import terminals

PARTS = ("strip", "plug", "shell")  # what they are: many are alike
TABLES = ("schedule", "cutlist", "connectors", "landing", "labels")


def again(base: Draft, order: Order) -> Draft:
    return draft(order, base.aboard.boat, shipped_catalogue())


def issued(base: Draft) -> Order:
    """The order with the numbers that its sheets have."""
    return dataclasses.replace(base.aboard.order, landings=landings_of(base))


def labels(of: Draft) -> dict[str, tuple[str, str]]:
    return {wire.id: (wire.start.label, wire.end.label) for wire in of.assembled.wires}


def moved(before: Draft, after: Draft) -> list[str]:
    """Wires that both have, and whose labels differ."""
    old, new = labels(before), labels(after)
    return [name for name in old if name in new and old[name] != new[name]]


def test_issuing_changes_nothing(any_draft: Draft) -> None:
    same = again(any_draft, issued(any_draft))
    for name in TABLES:
        before, after = (packet_table(one, name).rows for one in (any_draft, same))
        assert [tuple(row) for row in before] == [tuple(row) for row in after], name
    assert landings_of(same) == landings_of(any_draft)


def test_an_issue_keeps_the_numbers(full: Draft) -> None:
    revision = Revision(number=1, date="2026-11-29", initials="IM", text="", digest="x")
    order = issue_revision(revision, landings_of(full))[1](full.aboard.order)
    assert order.landings == landings_of(full) and order.revision == 2
    kinds = Counter(one.kind for one in order.landings)
    assert kinds.keys() == {*get_args(LandingKind)}
    assert kinds["cavity"] == sum(len(plug.cavities) for plug in full.assembled.plugs)


@pytest.mark.parametrize("option", ["radar", "fridge", "deck_floods", "pot_hauler"])
def test_an_option_less_moves_no_label(full: Draft, option: str) -> None:
    """Before an issue a dropped load renumbers what comes behind it; afterwards nothing moves."""
    drop = drop_option(option, option)[1]
    free, held = again(full, drop(full.aboard.order)), again(full, drop(issued(full)))
    assert {w.circuit for w in full.assembled.wires} - {w.circuit for w in held.assembled.wires}
    assert [name for name in moved(full, held) if not _lamp(full, name)] == []
    assert option == "deck_floods" or len(moved(full, free)) > 4


def _lamp(of: Draft, name: str) -> bool:
    """Tell whether a wire is of the lamps' chain behind a panel: that is laid anew."""
    return any(wire.id == name and wire.for_lamp for wire in of.assembled.wires)


def numbers(of: Draft) -> Counter[tuple[str, str, int]]:
    every = (one for one in landings_of(of) if one.kind not in PARTS)
    return Counter((one.kind, one.place, one.number) for one in every)


def test_no_number_is_given_twice_whatever_is_dropped(full: Draft) -> None:
    order = issued(full)
    for circuit in [row.id for row in full.circuits][::5]:
        less = dataclasses.replace(order, removed=(*order.removed, circuit))
        try:
            done = again(full, less)
        except ValueError:
            continue  # something needs it
        assert max(numbers(done).values()) == 1
        assert not moved(full, done) or all(_lamp(full, name) for name in moved(full, done))


def test_what_is_new_takes_what_is_free_first(full: Draft) -> None:
    """A number that nobody aboard was issued with goes to what comes."""
    held = tuple(one for one in landings_of(full) if not one.subject.startswith("C31"))
    back = again(full, dataclasses.replace(full.aboard.order, landings=held))
    assert labels(back) == labels(full)  # C31 finds its own places empty


def test_a_landing_that_is_gone_or_taken_is_no_trouble(full: Draft) -> None:
    """A block that is not there, a number beyond the last, two that claim the same."""
    odd = (
        Landing(kind="way", subject="C05", place="NOWHERE", number=1),
        Landing(kind="way", subject="C31", place="HFB", number=999),
        Landing(kind="screw", subject="C05", place="NB0", number=3),
        Landing(kind="screw", subject="C31", place="NB0", number=3),
        Landing(kind="pole", subject="C05", place="TS9", number=2),
        Landing(kind="cavity", subject="C29-P2a", place="X77", number=2),
        Landing(kind="position", subject="s_demister", place="", number=9999),
    )
    done = again(full, dataclasses.replace(full.aboard.order, landings=odd))
    assert max(numbers(done).values()) == 1
    places = {(one.kind, one.subject): (one.place, one.number) for one in landings_of(done)}
    assert places["cavity", "C29-P2a"] == ("X77", 2)
    assert places["pole", "C05"] == ("TS9", 2)
    assert {wire.circuit for wire in done.assembled.wires} == {
        wire.circuit for wire in full.assembled.wires
    }


def numbered(*landings: tuple[str, str, int], kind: LandingKind = "way") -> Numbers:
    issued = [Landing(kind=kind, subject=s, place=p, number=n) for s, p, n in landings]
    return Numbers(kind, issued, lambda subject: subject != "dropped")


def test_a_number_that_is_spoken_for_waits_for_its_owner() -> None:
    ways = numbered(("late", "HFB", 1), ("dropped", "HFB", 2))
    assert ways.take("HFB", "new", 4) == 2  # what was dropped keeps nothing
    assert ways.take("HFB", "newer", 4) == 3
    assert ways.take("HFB", "late", 4) == 1
    assert ways.take("HFB", "last", 4) == 4 and not ways.has_room("HFB", 4)
    assert ways.take("HFB", "too many", 4) == 0
    full = numbered(("late", "HFB", 1))
    assert full.take("HFB", "new", 1) == 1  # rather than none at all


def test_two_that_claim_one_number_get_two() -> None:
    ways = numbered(("one", "HFB", 3), ("other", "HFB", 3))
    assert [ways.take("HFB", name, 8) for name in ("one", "other")] == [3, 1]
    assert ways.take("HBP", "one", 8) == 1  # it hangs elsewhere now


def test_a_new_plug_is_not_called_like_one_that_was_issued() -> None:
    contact = terminals.contact_for(Gauge.parse("16 AWG"), 5.0)
    assert contact is not None
    board = PlugBoard(numbered(("B-P1a", "X1", 2), kind="cavity"))

    asked = (("A-P1a", "fore"), ("B-P1a", "aft"), ("C-P1a", "aft"))
    board.book_all(
        [CavityAsk(at, "console", "hull", contact, "", w[0], (w, f"{w}b")) for w, at in asked]
    )
    assert board.numbered() == {"A-P1a": ("X2", 1), "B-P1a": ("X1", 2), "C-P1a": ("X1", 1)}


def test_a_draft_whose_bus_is_full_can_be_recorded() -> None:
    """A circuit that finds no screw has none to hold fast; issuing ended in an error."""
    order, boat = generated(3, 6)
    buses = tuple(dataclasses.replace(bus, screws=1) for bus in boat.return_buses)
    full = draft(order, dataclasses.replace(boat, return_buses=buses), shipped_catalogue())
    assert any(leg.end.name == "screw 0" for row in full.circuits for leg in row.planned.plan.legs)
    assert as_built(full).wires
    assert all(landing.number > 0 for landing in landings_of(full))
