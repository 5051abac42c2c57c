"""Whole boats of kinds that no demo order is: drafted without an error, and proven."""

import dataclasses
from collections.abc import Sequence
from typing import Any

from tests.drafting.test_born_right import errors, new_boat
from vivid_loom.boat import (
    Battery,
    Boat,
    Feed,
    GenericLoad,
    HelmPanel,
    Home,
    ReturnBus,
    Supply,
    generic_loads,
)
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.order import Order, add_fit
from vivid_loom.order.new_loads import at_battery, fed, free_id, id_from_name
from vivid_loom.sheets.proof import proven

KINDS = {kind.id: kind for kind in generic_loads()}
POST: dict[str, Any] = {"family": "post fuse", "distance_mm": 60.0, "stud": "M10"}
Wanted = tuple[str | GenericLoad, str, str]


def fitted(boat: Boat, wanted: Sequence[Wanted]) -> Draft:
    """Draft a boat with loads of the catalogue, each fed as the catalogue proposes."""
    order = Order(hull="1", title="T", boat="b.boat.json", station_date="2026-12-07")
    taken = set(boat.places_by_id)
    for what, name, station in wanted:
        kind = KINDS[what] if isinstance(what, str) else what
        load_id = free_id(id_from_name(name), taken)
        load = kind.load(load_id, name, station, boat.nominal_v)
        load = dataclasses.replace(load, ingress="submersible")
        fit = fed([load], kind.feeding, name, {*taken, load_id}, kind.rank)
        fit = at_battery(fit, kind.feeding, boat.battery.id)
        taken |= {item.id for item in (*fit.loads, *fit.circuits, *fit.switches)}
        order = add_fit(fit)[1](order)
    return draft(order, boat, shipped_catalogue())


def sound(done: Draft) -> None:
    """Hold a draft to the rules and to the proofs."""
    assert errors(done) == set()
    assert [f.sentence() for f in proven(done).standing if f.severity == "error"] == []


def test_an_electric_dinghy_with_one_motor_and_one_lamp() -> None:
    """A lithium battery and nothing else: each by a device that breaks what it may give."""
    boat = new_boat(
        3.2,
        nominal_v=24.0,
        supply="battery",
        capacity_ah=60.0,
        cranking_a=300.0,
        chemistry="lithium",
        house=False,
    )
    motor = dataclasses.replace(
        KINDS["windlass_motor"],
        watts=1200.0,
        feeding="at the battery",
        leads="studs",
        peak_ratio=1.0,
        duty_percent=100.0,
        longest_on_min=None,
    )
    lamp = dataclasses.replace(KINDS["courtesy"], feeding="at the battery")
    done = fitted(boat, [(motor, "Propulsion motor", "a0_port"), (lamp, "Lamp", "a2_port")])
    sound(done)
    assert {(row.planned.source, row.planned.bus) for row in done.circuits} == {("BAT", "BAT")}
    driven, lit = (row.planned for row in done.circuits)
    assert driven.mount is not None and driven.stub_m == 0.0
    assert (lit.family, lit.mount, lit.stub_m) == ("breaker", None, 0.1)
    assert {f.code for f in proven(done).standing} == {"W08"}  # what leads to the breaker


def test_a_catamaran_with_two_helms() -> None:
    """A block, a negative bus and a panel to port as well; a fault ahead of its device is borne."""
    boat = new_boat(11.0, beam_m=5.0, depth_m=1.5, capacity_ah=400.0, cranking_a=1000.0)
    block = Supply(
        id="HF2",
        name="Port helm block",
        station="a2_port",
        kind="fuse_block",
        level="unswitched",
        ways=12,
        total_max_a=80.0,
        feeds=(Feed(source="BSW", family="bolt-down fuse", distance_mm=150.0, stud="M8"),),
    )
    bus = ReturnBus(
        id="NB2",
        name="Port helm negative",
        station="a2_port",
        screws=24,
        max_a=100.0,
        homes=(Home(beside="HF2"),),
    )
    panel = HelmPanel(id="port", name="Port helm panel", station="a2_port", positions=8)
    boat = dataclasses.replace(
        boat,
        supplies=(*boat.supplies, block),
        return_buses=(*boat.return_buses, bus),
        panels=(*boat.panels, panel),
    )
    wanted: list[Wanted] = [
        ("side_port", "Side port", "a3_port"),
        ("side_starboard", "Side starboard", "a3_starboard"),
        ("stern_light", "Stern", "a0_port"),
        ("masthead", "Masthead", "mast"),
        ("anchor_light", "Anchor", "mast"),
        ("bilge_auto_m", "Pump port", "a1_bilge"),
        ("bilge_auto_m", "Pump starboard", "a0_bilge"),
        ("high_water_alarm", "High water", "a1_bilge"),
        ("plotter_m", "Plotter", "dash"),
        ("vhf", "Radio", "dash"),
        ("horn", "Horn", "roof"),
        ("courtesy", "Courtesy", "a1_port"),
        ("windlass_motor", "Windlass", "a3_port"),
        ("fridge_s", "Fridge", "a2_port"),
        ("fresh_pump", "Fresh water", "a1_starboard"),
        ("socket_12", "Socket", "a2_port"),
        ("wiper", "Wiper", "dash"),
        ("instrument_light", "Instruments", "dash"),
    ]
    done = fitted(boat, wanted)
    sound(done)
    assert {row.planned.source for row in done.circuits} >= {"HFB", "HF2", "ALB", "BSW"}


def test_a_sport_boat_with_three_batteries_two_combiners_and_a_windlass() -> None:
    """House, starting and bow battery; an alternator on the second, the third 6 m away."""
    boat = new_boat(7.5, battery_area=0, house=False, capacity_ah=100.0, cranking_a=700.0)
    batteries = (
        Battery(id="BST", name="Start", station="battery", cranking_a=800.0, capacity_ah=80.0),
        Battery(id="BTW", name="Bow", station="a3_trunk", cranking_a=600.0, capacity_ah=90.0),
    )
    alternator = Supply(
        id="ALT",
        name="Alternator",
        station="a0_port",
        kind="charge_source",
        level="battery_direct",
        total_max_a=60.0,
        feeds=(Feed(source="BST", **POST),),
    )
    ties = tuple(
        Supply(
            id=name,
            name=f"Combiner {other}",
            station="battery",
            kind="combining_relay",
            level="battery_direct",
            total_max_a=140.0,
            feeds=(Feed(source="BAT", port="1", **POST), Feed(source=other, port="2", **POST)),
        )
        for name, other in (("TIE", "BST"), ("TI2", "BTW"))
    )
    main, *others = boat.return_buses
    main = dataclasses.replace(main, homes=(*main.homes, Home(to="BST"), Home(to="BTW")))
    boat = dataclasses.replace(
        boat,
        batteries=(*boat.batteries, *batteries),
        supplies=(*boat.supplies, alternator, *ties),
        return_buses=(main, *others),
    )
    wanted: list[Wanted] = [
        ("windlass_motor", "Windlass", "a3_port"),
        ("bilge_auto_s", "Pump", "a0_bilge"),
        ("stereo", "Stereo", "dash"),
        ("amplifier", "Amplifier", "dash"),
        ("bicolour", "Bow light", "a3_port"),
        ("all_round", "All round", "a0_starboard"),
        ("plotter_s", "Plotter", "dash"),
        ("courtesy", "Courtesy", "a1_port"),
        ("trim_tabs", "Tabs", "a0_port"),
        ("horn", "Horn", "dash"),
        ("engine_feed", "Engine feed", "a0_port"),
    ]
    done = fitted(boat, wanted)
    sound(done)
    for tie in ties:  # a device bears what the contact does, and no more
        for feed in boat.network.feeders.values():
            if feed.supply and feed.supply.id == tie.id:
                row = done.circuit(feed.id)
                assert row and row.sized and row.sized.protection
                assert 100.0 <= row.sized.protection.value <= tie.total_max_a


def test_a_24_v_launch_of_thirty_five_loads() -> None:
    boat = new_boat(12.0, nominal_v=24.0, capacity_ah=220.0, cranking_a=900.0)
    names = [
        *("side_port", "side_starboard", "stern_light", "masthead", "anchor_light", "bilge_auto_m"),
        *("bilge_auto_l", "high_water_alarm", "blower", "plotter_l", "radar_dome", "vhf", "ais"),
        *("sounder", "autopilot_computer", "camera", "horn", "wiper", "washer", "demister"),
        *("searchlight", "flood_m", "flood_s", "courtesy", "dome", "chart_light", "fresh_pump"),
        *("washdown", "live_well", "fridge_s", "socket_12", "usb", "gas_alarm", "compass_light"),
        "instrument_light",
    ]
    at = {"side_port": "a3_port", "side_starboard": "a3_starboard", "bilge_auto_m": "a1_bilge"}
    at |= {"bilge_auto_l": "a0_bilge", "blower": "a0_port", "washdown": "a1_port"}
    wanted: list[Wanted] = [(k, KINDS[k].name, at.get(k, "dash")) for k in names]
    assert len(wanted) == 35
    roomy = tuple(
        dataclasses.replace(s, ways=40, total_max_a=200.0) if s.id == "HFB" else s
        for s in boat.supplies
    )
    panels = tuple(dataclasses.replace(p, positions=30) for p in boat.panels)
    done = fitted(dataclasses.replace(boat, supplies=roomy, panels=panels), wanted)
    sound(done)
