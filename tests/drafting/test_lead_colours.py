"""Leads that are not of their circuit's colour, and what a row says of colours it has not."""

import dataclasses

import pytest

from tests.drafting.test_supply_shapes import drafted, turned
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.order import Override
from vivid_loom.sheets import packet_table


@pytest.mark.parametrize(
    ("scheme", "up", "down"),
    [("function", "BU/WH", "GN/WH"), ("iso", "BU/WH", "TQ/WH"), ("one", "RD", "RD")],
)
def test_each_direction_has_a_colour_of_its_own(scheme: str, up: str, down: str) -> None:
    """ABYC E-11, from memory: out is blue and in is green, each with a stripe."""
    order, boat = turned()
    asked = dataclasses.replace(order, profile_changes=(("colour_scheme", scheme),))
    done = drafted(asked, boat)
    (row,) = (r for r in done.circuits if any(w.lead == "up" for w in r.wires))
    found = {w.lead: str(w.colour) for w in row.wires if w.live == "switched" and not w.jumper}
    assert (found["up"], found["down"]) == (up, down)
    fed = {str(w.colour) for w in row.wires if w.live == "source"}
    assert fed == {row.letters[0]} and (scheme == "one" or not fed & {up, down})
    assert not [f for f in done.findings if f.code in ("I01", "I02", "I03", "I11")]
    told = next(r for r in packet_table(done, "schedule").rows if r.circuit_id == row.id)
    assert (f"up {up}; down {down}" == told.lead_colours) is (scheme != "one")


def test_what_the_engineer_colours_is_of_one_colour() -> None:
    order, boat = turned()
    (name,) = (r.id for r in drafted(order, boat).circuits if r.planned.pattern == "reversing")
    red = Override(subject=name, field="positive_colour", value="RD/BK", reason="r", initials="i")
    row = drafted(dataclasses.replace(order, overrides=(red,)), boat).circuit(name)
    assert row is not None and not row.colours.leads
    assert {str(w.colour) for w in row.wires if w.live != "return"} == {"RD/BK"}


def test_green_is_marked_on_nothing_and_blue_is() -> None:
    """Thick wire is kept in red and black: out is red marked blue, in stays red."""
    order, boat = turned()
    wires = tuple(
        dataclasses.replace(wire, colours=("RD", "BK", "YE")) for wire in shipped_catalogue().wires
    )
    stock = dataclasses.replace(shipped_catalogue(), wires=wires)
    (name,) = (r.id for r in drafted(order, boat).circuits if r.planned.pattern == "reversing")
    thick = Override(subject=name, field="gauge", value="4 AWG", reason="r", initials="i")
    done = draft(dataclasses.replace(order, overrides=(thick,)), boat, stock)
    row = done.circuit(name)
    assert row is not None
    found = {w.lead: (str(w.colour), w.sleeve) for w in row.wires if w.live == "switched"}
    assert found["up"] == ("RD", "BU/WH") and found["down"][0] == "RD"
    assert not found["down"][1].startswith("GN")


def test_a_row_names_no_colour_of_a_wire_that_it_has_not(any_draft: Draft) -> None:
    """Returns by themselves stood in red."""
    told = {r.circuit_id: r for r in packet_table(any_draft, "schedule").rows}
    for row in any_draft.rows:
        plus = {str(w.colour) for w in row.wires if w.live != "return"}
        minus = {str(w.colour) for w in row.wires if w.live == "return"}
        said = told[row.id]
        assert bool(said.positive_colour) == bool(plus) or not row.wires, row.id
        assert bool(said.negative_colour) == bool(minus) or not row.wires, row.id
