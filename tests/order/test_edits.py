"""Edits are pure, named, and say what they do; the shop's calendar counts."""

import dataclasses
import datetime
import json
from pathlib import Path

import pytest

from vivid_loom.boat import Boat, Fit, Supply, generic_loads
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import DraftError, draft
from vivid_loom.order import (
    PROFILES,
    Order,
    Revision,
    Spare,
    Wish,
    add_fit,
    add_spare,
    change_profile,
    change_supply,
    due_date,
    issue_revision,
    order_text,
    parse_order,
    read_shop,
    remove_loads,
    remove_spare,
    set_heading,
    set_wishes,
)
from vivid_loom.order.choices import CHOICES, choice_words
from vivid_loom.order.new_loads import (
    at_battery,
    fed,
    fed_each,
    free_id,
    id_from_name,
    joined,
    missing_leads,
    sensed,
    sensing,
)
from vivid_loom.quantities.document import DocumentError
from vivid_loom.standards.ampacity import insulation_ratings_c

LAMP = next(load for load in generic_loads() if load.id == "courtesy")
PUMP = next(load for load in generic_loads() if load.id == "bilge_auto_s")


def same_on_disk(order: Order) -> None:
    assert parse_order(Path("x"), order_text(order)) == order


def test_adding_and_removing_own_loads_leaves_nothing_behind(order: Order) -> None:
    load = LAMP.load("my_lamp", "My lamp", "dash", 12.0)
    fit = fed([load], "helm switch", "My lamp", {"my_lamp"})
    name, change = add_fit(fit)
    added = change(order)
    assert name == "add My lamp" and added.added.switches and added.added.circuits
    same_on_disk(added)
    gone = remove_loads(added.added.loads)[1](added)
    assert gone == order


def test_removing_a_standard_load_is_remembered_and_can_come_back(order: Order, boat: Boat) -> None:
    horn = next(load for load in boat.fit.loads if load.id == "horn")
    less = remove_loads((horn,))[1](order)
    assert less.removed == ("horn",)
    drafted = draft(less, boat, shipped_catalogue())
    assert "horn" not in drafted.aboard.loads and drafted.circuit("C01") is None
    back = add_fit(Fit(loads=(horn,)))[1](less)
    assert "horn" in draft(back, boat, shipped_catalogue()).aboard.loads


def test_a_string_of_lights_joins_a_circuit(order: Order, boat: Boat) -> None:
    before = draft(order, boat, shipped_catalogue())
    row = before.circuit("C16")
    assert row is not None and row.planned.request is not None
    lamps = [LAMP.load(f"s{i}", f"String {i}", "galley", 12.0) for i in range(4)]
    after = draft(add_fit(joined(lamps, row.planned.request))[1](order), boat, shipped_catalogue())
    now = after.circuit("C16")
    assert now is not None and set(now.planned.loads) >= {"s0", "s1", "s2", "s3"}
    assert len(after.circuits) == len(before.circuits)


def test_new_circuits_take_free_names() -> None:
    loads = [LAMP.load(f"l{i}", f"Lamp {i}", "dash", 12.0) for i in range(3)]
    fit = fed_each(loads, "helm switch", {"N01", "s_lamp_1", "l0", "l1", "l2"})
    assert [c.id for c in fit.circuits] == ["N02", "N03", "N04"]
    assert [s.id for s in fit.switches] == ["s_lamp_0", "s_lamp_1_2", "s_lamp_2"]
    assert free_id("a", ["a", "a_2"]) == "a_3"
    assert id_from_name("Überfall-Lampe, 12 V") == "uberfall_lampe_12_v"
    assert id_from_name("日本") == "load"


def test_an_automatic_pump_is_fed_alone_with_all_its_leads() -> None:
    pumps = [PUMP.load(f"p{i}", f"Pump {i}", "dash", 12.0) for i in range(2)]
    with pytest.raises(ValueError, match="of its own"):
        fed(pumps, "automatic pump", "Pumps", set())
    bare = dataclasses.replace(pumps[0], leads=())
    assert missing_leads(bare, "automatic pump") == ("automatic", "manual", "minus")
    fit = fed([bare], "automatic pump", "Pump", set())
    assert {lead.function for lead in fit.loads[0].leads} == {"automatic", "manual", "minus"}
    assert fit.circuits[0].level == "battery_direct"


@pytest.mark.parametrize(
    ("feeding", "lead"),
    [("always live", "automatic"), ("at the battery", "automatic"), ("helm switch", "manual")],
)
def test_a_pump_without_a_plus_is_fed_by_the_lead_that_is_one(feeding: str, lead: str) -> None:
    pump = PUMP.load("p", "Pump", "dash", 12.0)
    fit = fed([pump], feeding, "Pump", set())  # type: ignore[arg-type]
    assert fit.circuits[0].lead == lead and fit.loads[0].leads == pump.leads
    hung = at_battery(fit, feeding, "BAT")  # type: ignore[arg-type]
    assert hung.circuits[0].supply == ("BAT" if feeding == "at the battery" else "")
    bare = dataclasses.replace(pump, leads=())
    assert fed([bare], feeding, "P", set()).circuits[0].lead == "plus"  # type: ignore[arg-type]


def test_a_sensor_gives_up_its_plus_and_keeps_its_circuit() -> None:
    gauge, sender = (LAMP.load(name, name, "dash", 12.0) for name in ("gauge", "sender"))
    alone = fed([sender], "own switch", "Tank", {"gauge"}).circuits[0]
    fit = sensed(sender, gauge, alone, {"gauge", "sender", alone.id})
    assert [c.id for c in fit.circuits] == [alone.id] and fit.circuits[0].instrument == "gauge"
    leads = {load.id: {lead.function for lead in load.leads} for load in fit.loads}
    assert leads == {"sender": {"sense", "minus"}, "gauge": {"plus", "minus", "sense"}}
    anew = sensed(sender, gauge, None, {"N01"})
    assert anew.circuits[0].id == "N02"
    (sense,) = sensing(gauge, "BAT", {"N01"}).circuits
    assert (sense.lead, sense.supply, sense.level) == ("sense", "BAT", "battery_direct")


def test_spares_wishes_revisions_heading(order: Order) -> None:
    spare = Spare(
        id="sp", label="Spare", kind="conductor", start="helm", end="mast", gauge="16 AWG"
    )
    with_spare = add_spare(spare)[1](order)
    assert with_spare.spares == (spare,)
    same_on_disk(with_spare)
    assert remove_spare(spare)[1](with_spare) == order
    wished = set_wishes((Wish(text="quiet pump"),), "add a wish")[1](order)
    assert not wished.wishes[0].answer
    issued = issue_revision(
        Revision(number=1, date="2026-11-23", initials="QH", text="first", digest="d")
    )[1](wished)
    assert (order.revision, issued.revision) == (1, 2)
    same_on_disk(issued)
    named = set_heading(title="T", customer="C", notes="", station_date="2026-12-24")[1](order)
    assert named.title == "T" and named.options == order.options


@pytest.mark.parametrize("choice", CHOICES, ids=lambda c: c.field)
def test_every_choice_can_be_made_and_taken_back(order: Order, boat: Boat, choice: object) -> None:
    profile = order.effective_profile()
    standing = getattr(profile, choice.field)  # type: ignore[attr-defined]
    for value, words in choice.schools:  # type: ignore[attr-defined]
        if value == standing:
            continue
        made = change_profile(choice.field, value, words)[1](order)  # type: ignore[attr-defined]
        assert choice_words(choice, made.effective_profile()) == words  # type: ignore[arg-type]
        same_on_disk(made)
        if choice.field == "insulation_c" and value not in insulation_ratings_c("AWG"):  # type: ignore[attr-defined]
            with pytest.raises(DraftError, match="has no row"):
                draft(made, boat, shipped_catalogue())
        else:
            draft(made, boat, shipped_catalogue())
        back = change_profile(choice.field, standing, "back")[1](made)  # type: ignore[attr-defined]
        assert back == order  # and what is drafted follows from it alone


def test_another_block_is_fitted_in_place(order: Order, boat: Boat) -> None:
    block = next(s for s in boat.supplies if s.id == "ALB")
    edit = change_supply(dataclasses.replace(block, ways=12))
    after = draft(edit[1](order), boat, shipped_catalogue())
    fitted = next(s for s in after.aboard.boat.supplies if s.id == "ALB")
    assert isinstance(fitted, Supply) and fitted.ways == 12
    assert "12 ways" in edit[0]


def test_a_harness_for_monday_is_due_on_friday_and_closed_days_push_it() -> None:
    """Common practice, no source."""
    monday = datetime.date(2026, 12, 7)
    assert due_date(monday) == datetime.date(2026, 12, 4)
    closed = frozenset((datetime.date(2026, 12, 4), datetime.date(2026, 12, 3)))
    assert due_date(monday, closed) == datetime.date(2026, 12, 2)


def test_the_shop_file(tmp_path: Path) -> None:
    assert read_shop(tmp_path).closed == ()
    path = tmp_path / "shop.json"
    heading = {"format": "vivid-loom-shop", "version": 1}
    path.write_text(json.dumps({**heading, "name": "S", "closed": ["2026-12-24"]}))
    assert read_shop(tmp_path).closed_days == {datetime.date(2026, 12, 24)}
    path.write_text(json.dumps({**heading, "closed": ["Christmas"]}))
    with pytest.raises(DocumentError, match=r"closed\[0\].*Christmas"):
        read_shop(tmp_path)


def test_profiles_name_only_what_the_profile_has() -> None:
    for choice in CHOICES:
        for profile in PROFILES.values():
            assert hasattr(profile, choice.field)
