"""A new boat has no error at birth, and every load of the catalogue none when it comes aboard."""

import dataclasses
from collections.abc import Iterator
from typing import Any

import pytest

from tests.boat.test_new_boats import plan
from vivid_loom.boat import Boat, generic_loads, skeleton, usual_areas
from vivid_loom.boat.generic_loads import GenericLoad
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.order import Order, add_fit, change_profile
from vivid_loom.order.new_loads import at_battery, fed

SUPPLIES = ("battery", "switch", "blocks", "key")


def new_boat(length_m: float = 7.2, **fields: Any) -> Boat:
    return skeleton(plan(length_m, **fields))


def empty(**fields: Any) -> Order:
    return Order(hull="1", title="T", boat="new.boat.json", station_date="2026-12-07", **fields)


def errors(done: Draft) -> set[str]:
    return {f"{f.code} {f.sentence()}" for f in done.findings if f.severity == "error"}


@pytest.mark.parametrize("supply", SUPPLIES)
@pytest.mark.parametrize("profile", ["us", "iso", "shop"])
def test_a_new_boat_has_no_error_at_birth(supply: str, profile: str) -> None:
    for length_m, volts, material, battery, helm in (
        (3.2, 12.0, "grp", 3, 0),
        (7.2, 24.0, "aluminium", 0, 2),
        (14.0, 48.0, "wood", 2, 2),
        (9.0, 12.0, "steel", 3, 1),
    ):
        boat = new_boat(
            length_m,
            supply=supply,
            nominal_v=volts,
            material=material,
            battery_area=battery,
            helm_area=helm,
        )
        done = draft(empty(profile=profile), boat, shipped_catalogue())
        assert errors(done) == set(), (length_m, volts)


@pytest.mark.parametrize("supply", SUPPLIES)
def test_a_petrol_boat_has_no_error_at_birth(supply: str) -> None:
    """33 CFR 183.410: what stands where vapour may gather is asked for ignition-protected."""
    areas = tuple(dataclasses.replace(area, fuel_vapour=area.bilge) for area in usual_areas(7.2))
    done = draft(empty(), new_boat(supply=supply, areas=areas), shipped_catalogue())
    assert errors(done) == set()
    asked = {s.id for s in done.aboard.boat.supplies if s.ignition_protected}
    assert asked == {"BSW", "ALB"} & {s.id for s in done.aboard.boat.supplies}


def test_a_switch_is_made_for_the_boats_voltage() -> None:
    """On 48 V a 32 V rocker was put in, with an error."""
    boat = new_boat(9.0, nominal_v=48.0)
    kind = next(load for load in generic_loads() if load.id == "courtesy")
    lamp = kind.load("lamp", "Lamp", "a1_port", 48.0)
    order = add_fit(fed([lamp], "helm switch", "Lamp", {"lamp"}, volts=48.0))[1](empty())
    done = draft(order, boat, shipped_catalogue())
    (switch,) = done.switches
    assert switch.part.rated_v >= 48.0 and errors(done) == set()


def test_a_battery_is_as_large_as_its_boat() -> None:
    """800 A of cranking stood in a dinghy."""
    dinghy, launch = (new_boat(m).battery for m in (3.2, 12.0))
    assert dinghy.cranking_a <= 400 < launch.cranking_a
    asked = new_boat(3.2, capacity_ah=50.0, cranking_a=90.0, chemistry="lithium").battery
    assert (asked.capacity_ah, asked.cranking_a, asked.chemistry) == (50.0, 90.0, "lithium")


def test_a_battery_forward_of_the_helm_is_joined_to_it_by_one_harness() -> None:
    """What leads from battery to helm crosses no border between hull and deck."""
    boat = new_boat(battery_area=3, helm_area=1)
    trunks = {r.harness for r in boat.runs if all(end.endswith("trunk") for end in r.ends)}
    assert trunks == {"hull"}
    done = draft(empty(), boat, shipped_catalogue())
    crossed = {(p.live, p.dead) for p in done.assembled.plugs}
    assert not any("deck" in pair for pair in crossed)


def test_a_changed_profile_on_a_boat_without_circuits_is_drafted() -> None:
    boat = new_boat(supply="battery")
    before = draft(empty(), boat, shipped_catalogue())
    changed = change_profile("shop_floor", "14 AWG", "the thinnest wire")[1](empty())
    assert errors(draft(changed, boat, shipped_catalogue(), before)) == set()


def _catalogue() -> Iterator[GenericLoad]:
    # a sender wants its instrument, a steering pump more than the key of a small boat bears, and
    # a pilot's drive at the bow, where nobody has one, more than its tail takes at 3 %
    told = {"tank_sender", "steering_pump", "autopilot"}
    yield from (load for load in generic_loads() if load.id not in told)


@pytest.mark.parametrize("station", ["dash", "a3_port"])
def test_every_load_of_the_catalogue_comes_aboard_without_an_error(station: str) -> None:
    """Fed as the catalogue proposes, at the helm and at the bow of a new boat."""
    boat = new_boat()
    before = draft(empty(), boat, shipped_catalogue())
    found: dict[str, set[str]] = {}
    for kind in _catalogue():
        load = kind.load(kind.id, kind.name, station, boat.nominal_v)
        fit = fed([load], kind.feeding, kind.name, {kind.id, *boat.places_by_id}, kind.rank)
        order = add_fit(at_battery(fit, kind.feeding, boat.battery.id))[1](empty())
        if wrong := errors(draft(order, boat, shipped_catalogue(), before)):
            found[kind.id] = wrong
    assert not found
