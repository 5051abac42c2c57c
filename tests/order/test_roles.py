"""Functions proposed from the words of a name, and taken with what is usual for them."""

import dataclasses

import pytest

from tests.changes import Setup, drafted, load
from vivid_loom.boat import Boat, generic_loads
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting.remedy import remedy
from vivid_loom.order import Order
from vivid_loom.order.load_list import guess_mapping, understand
from vivid_loom.order.roles import proposals, proposed_kind, take_roles
from vivid_loom.quantities.grid import grid_of_text


@pytest.mark.parametrize(
    ("name", "function"),
    [
        ("Bilge pump aft", "bilge_pump"),
        ("NAV LIGHTS", "navigation_light"),
        ("Anchor light", "anchor_light"),
        ("VHF radio", "radio"),
        ("Fridge, galley", "refrigerator"),
        ("Windscreen wipers", "wiper"),
        ("Horn", "horn"),
        ("LED strip saloon", "cabin_light"),
        ("Fish finder", "electronics"),
        ("USB sockets", "socket"),
        ("Deck wash", "fresh_water_pump"),
        ("Bilge blower", "bilge_blower"),
        ("High water alarm", "bilge_alarm"),
        ("Compass light", "instrument_light"),
        ("Demister fan", "heater"),
        ("Bow thruster", "heavy_motor"),
    ],
)
def test_a_name_says_what_a_load_is(name: str, function: str) -> None:
    """Common practice, no source: what a list calls them."""
    kind = proposed_kind(name)
    assert kind is not None and kind.function == function


@pytest.mark.parametrize(
    "name", ["Widget", "Bow roller", "Gangway", "", "12 V", "Hornblower cabinet", "Lightning rod"]
)
def test_a_name_that_says_nothing_gets_nothing(name: str) -> None:
    assert proposed_kind(name) is None


def test_every_generic_load_is_found_by_its_own_name() -> None:
    for kind in generic_loads():
        found = proposed_kind(kind.name.split(",")[0])
        assert found is not None and found.function == kind.function, kind.id


def test_a_pasted_load_has_no_function_until_somebody_says(boat: Boat) -> None:
    rows = grid_of_text("Name\tAmps\tFunction\nBilge pump\t4\t\nLamp\t1\tdeck light\n")
    account = understand(rows, guess_mapping(rows), boat.stations, "helm", 12.0, ())
    functions = {x.name: x.function for x in account.loads}
    assert functions == {"Bilge pump": "unknown", "Lamp": "deck_light"}
    assert [p.load.name for p in proposals(account.loads)] == ["Bilge pump"]


def test_a_load_without_a_function_is_work_and_its_fix_says_what_it_is(
    order: Order, boat: Boat
) -> None:
    plain = dataclasses.replace(order, options=(), overrides=(), accepted=())
    setup = Setup(boat, plain, shipped_catalogue())
    before = drafted(load("horn", function="unknown", demand="A")(setup))
    (finding,) = (f for f in before.findings if f.code == "L07")
    assert finding.severity == "error" and finding.subjects == ("horn",)
    edit = remedy(finding, before, before.aboard.boat)
    assert edit is not None and edit[0] == "take Horn for a horn"
    after = drafted(setup._replace(boat=before.aboard.boat, order=edit[1](before.aboard.order)))
    horn = after.aboard.loads["horn"]
    assert (horn.function, horn.demand) == ("horn", "B")
    assert horn.role_note.startswith("usual for this function")
    assert not [f for f in after.findings if f.code == "L07"]
    assert after.aboard.switches["s_horn"].rank == 0


def test_roles_bring_safety_rank_and_drop(order: Order, boat: Boat) -> None:
    pump = next(x for x in boat.fit.loads if x.id == "washdown")
    bare = dataclasses.replace(
        pump, name="Bilge pump port", function="unknown", safety="", drop="other"
    )
    ((_, kind),) = proposals([bare])
    assert kind is not None and kind.id == "bilge_two_lead"
    name, change = take_roles([(bare, kind)], boat.fit.circuits, boat.fit.switches)
    assert name == f"take the function of {bare.name}"
    changed = change(order)
    given = next(x for x in changed.changed_loads if x.id == "washdown")
    assert (given.safety, given.drop, given.motor, given.demand) == ("bilge", "critical", True, "A")
    ranks = {s.id: s.rank for s in changed.added.switches}
    assert ranks["s_washdown"] == 0


def test_a_peak_below_the_running_current_is_a_finding(order: Order, boat: Boat) -> None:
    plain = dataclasses.replace(order, options=(), overrides=(), accepted=())
    setup = Setup(boat, plain, shipped_catalogue())
    for peak, fires in ((4.9, True), (5.0, False)):
        found = {f.code for f in drafted(load("horn", peak_a=peak)(setup)).findings}
        assert ("L08" in found) is fires
