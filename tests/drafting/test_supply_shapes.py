"""Supplies of any shape: real small jobs drafted from an empty boat without a false finding."""

import dataclasses
from typing import Any

import pytest

from tests.launch import bare
from vivid_loom.boat import (
    Battery,
    Boat,
    CircuitRequest,
    ContactRequest,
    Evidence,
    Feed,
    HelmPanel,
    Home,
    Lead,
    Load,
    ReturnBus,
    Supply,
    SwitchRequest,
)
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo.free_shapes import free_shape
from vivid_loom.drafting import Draft, DraftError, draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.netlist import TerminalId, devices_between, loops, nodes
from vivid_loom.order import Order, Override
from vivid_loom.power.sneak_boat import prove_draft
from vivid_loom.quantities import Gauge
from vivid_loom.sheets import packet_table
from vivid_loom.sheets.lists.stores import fuse_chart
from vivid_loom.standards.conductor import area_mm2

POST = {"family": "post fuse", "distance_mm": 60.0}


def battery(name: str) -> Battery:
    return Battery(id=name, name=name, station="battery", cranking_a=600.0, capacity_ah=90.0)


def load(name: str, station: str, amps: float, *leads: str, **fields: Any) -> Load:
    tails = [
        Lead(function=f, ending="tail", gauge="14 AWG", length_mm=300.0, colour=c)  # type: ignore[arg-type]
        for f, c in zip(leads or ("plus", "minus"), ("BN", "BK", "GY"), strict=False)
    ]
    defaults = {"function": "accessory", "ingress": "submersible"}
    return Load(
        id=name,
        name=name,
        station=station,
        running_a=amps,
        evidence=Evidence(kind="maker", note="n", date="2026-09-01"),
        leads=tuple(tails),
        **{**defaults, **fields},
    )


def order(loads: list[Load], circuits: list[CircuitRequest], *switches: SwitchRequest) -> Order:
    plain = Order(hull="1", title="T", boat="b", station_date="2026-12-07")
    added = dataclasses.replace(
        plain.added, loads=tuple(loads), circuits=tuple(circuits), switches=switches
    )
    return dataclasses.replace(plain, added=added)


def circuit(name: str, pattern: str, *loads: str, **fields: Any) -> CircuitRequest:
    return CircuitRequest(id=name, label=name, pattern=pattern, loads=loads, **fields)


def drafted(asked: Order, boat: Boat) -> Draft:
    return draft(asked, boat, shipped_catalogue())


def errors(done: Draft) -> list[str]:
    return [f"{f.code} {f.sentence()}" for f in done.findings if f.severity == "error"]


def codes(done: Draft) -> set[str]:
    return {f.code for f in done.findings}


def test_a_pump_with_nothing_but_a_battery() -> None:
    """No block, no bus, no panel: fused in line at the post, home to the other post."""
    pump = load("pump", "a1_bilge", 4.0, function="bilge_pump", contact_a=15.0, motor=True)
    request = circuit("C1", "device_switched", "pump", supply="BAT", level="battery_direct")
    done = drafted(order([pump], [request]), bare())
    # 3.7 kA stand at the posts of 800 cranking amps: more than a blade breaks by itself
    assert {f.code for f in done.findings if f.severity == "error"} == {"K03"}
    row = done.circuits[0]
    plan = row.planned.plan
    assert plan.start[:2] == ("BAT", "plus post")
    (home,) = (leg.end for leg in plan.legs if leg.live == "return")
    assert home[:2] == ("BAT", "minus post")
    # the device sits in line: a stub leads to its holder, and both halves are cut and joined
    stub = next(wire for wire in row.wires if wire.leg == "S1")
    assert (stub.end.place, stub.routed_m) == ("C1 holder", 0.1)
    assert "butt" in stub.end.termination.kind
    # cut to the distance and its strips, not a service loop longer: the rule is along the wire
    strips = stub.start.termination.strip_mm + stub.end.termination.strip_mm
    assert 100 + strips <= stub.cut_mm < 100 + strips + 10
    stock = {r[1]: r[2] for r in packet_table(done, "materials").rows if r[0] == "holder"}
    assert stock == {"blade fuse holder, in line": "1"}
    assert done.feeders == () and row.sized is not None and row.sized.protection is not None
    where = dict(row.planned.places)
    assert where["Fed from"].value == "BAT stud, device in line"
    backed = drafted(
        order([pump], [dataclasses.replace(request, supply="PF")]),
        bare(supplies=(post_fuse("BAT"),)),
    )
    assert errors(backed) == []


def post_fuse(source: str) -> Supply:
    """A fuse on the battery's post with a stud behind it: what an inline blade relies on."""
    feed = Feed(source=source, stud="M8", **POST)  # type: ignore[arg-type]
    return Supply(
        id="PF",
        name="Post fuse",
        station="battery",
        kind="stud",
        level="battery_direct",
        feeds=(feed,),
    )


def selector_boat() -> Boat:
    selector = Supply(
        id="SEL",
        name="Selector",
        station="battery",
        kind="selector",
        level="unswitched",
        total_max_a=300.0,
        feeds=(
            Feed(source="B1", port="1", stud="M10", **POST),  # type: ignore[arg-type]
            Feed(source="B2", port="2", stud="M10", **POST),  # type: ignore[arg-type]
        ),
    )
    block = Supply(
        id="BLK",
        name="Block",
        station="helm",
        kind="fuse_block",
        level="unswitched",
        ways=14,
        feeds=(Feed(source="SEL", family="breaker", distance_mm=150.0),),
    )
    always = Supply(
        id="ALW",
        name="Always",
        station="blocks",
        kind="fuse_block",
        level="battery_direct",
        ways=4,
        total_max_a=60.0,
        feeds=(Feed(source="B1", stud="M6", **POST),),  # type: ignore[arg-type]
    )
    main = ReturnBus(
        id="N0",
        name="Main negative",
        station="blocks",
        screws=20,
        max_a=300.0,
        homes=(Home(beside="SEL", to="B1"), Home(to="B2")),
    )
    helm = ReturnBus(
        id="N1", name="Helm negative", station="helm", screws=20, homes=(Home(beside="BLK"),)
    )
    return bare(
        batteries=(battery("B1"), battery("B2")),
        supplies=(selector, block, always),
        return_buses=(main, helm),
        panels=(
            HelmPanel(id="left", name="Left panel", station="dash", positions=6),
            HelmPanel(id="right", name="Right panel", station="helm", positions=6),
        ),
    )


def test_a_small_open_boat_with_two_batteries_and_two_panels() -> None:
    """Selector, two negative buses, twelve switches on two panels, two-lead pump with a float."""
    lamps = [load(f"l{i}", "a3_port", 1.0) for i in range(11)]
    pump = load("pump", "a1_bilge", 4.0, function="bilge_pump", motor=True, safety="bilge")
    circuits = [
        circuit(f"C{i:02d}", "switched", f"l{i}", contact=ContactRequest(switch=f"s{i}"))
        for i in range(11)
    ]
    circuits.append(
        circuit(
            "C11",
            "either_contact",
            "pump",
            level="battery_direct",
            contact=ContactRequest(switch="s11"),
            also=(ContactRequest(switch="float"),),
        )
    )
    switches = [
        SwitchRequest(
            id=f"s{i}", part="rocker-spst", legend=f"S{i}", panel="right" if i < 6 else "left"
        )
        for i in range(12)
    ]
    switches.append(
        SwitchRequest(id="float", part="float-switch", legend="FLOAT", station="a1_bilge")
    )
    done = drafted(order([*lamps, pump], circuits, *switches), selector_boat())
    assert errors(done) == []
    at = done.allocation.positions
    assert all(at[f"s{i}"] > 6 for i in range(6)) and all(at[f"s{i}"] <= 6 for i in range(6, 12))
    assert "float" not in at
    stations = {
        leg.end.station
        for row in done.circuits
        for leg in row.planned.plan.legs
        if leg.end.name == "1C"
    }
    assert stations == {"dash", "helm", "a1_bilge"}
    row = done.circuit("C11")
    assert row is not None and len(row.planned.plan.paths) == 2
    # each contact has its own feed; both leads and the tail meet in one joint
    joined = [w.end.termination.kind for w in row.wires if w.end.place == "pump"]
    assert len(joined) == 2 and all("closed-end" in kind for kind in joined)
    homes = {
        leg.end.place: leg.end
        for f in done.feeders
        for leg in f.planned.plan.legs
        if leg.live == "return"
    }
    assert {end.place for end in homes.values()} == {"B1", "B2", "N0"}


def test_both_batteries_count_for_a_short_and_one_for_a_drop() -> None:
    """The greatest short comes from both at once; the drop of a branch from the worse way."""
    lamp = load("l", "a3_port", 3.0)
    request = circuit("C1", "device_switched", "l")
    both = drafted(order([lamp], [request]), selector_boat())
    boat = selector_boat()
    first = boat.supplies[0]
    one = dataclasses.replace(
        boat,
        supplies=(dataclasses.replace(first, feeds=first.feeds[:1]), *boat.supplies[1:]),
    )
    single = drafted(order([lamp], [request]), one)
    near_both, near_one = (d.circuits[0].fault for d in (both, single))
    assert near_both is not None and near_one is not None
    assert near_both.near_a > 1.1 * near_one.near_a  # what both share counts once
    assert near_both.far_a == pytest.approx(near_one.far_a, rel=0.05)
    asked = [step.text for _, d in near_both.decisions[:1] for step in d.steps]
    assert "all sources that may be joined, with their wires, as one network" in asked


def test_a_windlass_with_its_contactor() -> None:
    """Heavy leads over a contactor at the windlass; the control circuit on its own fuse."""
    boat = selector_boat()
    heavy = Supply(
        id="HB",
        name="Heavy bus",
        station="blocks",
        kind="bus",
        level="unswitched",
        ways=2,
        way_max_a=200.0,
        total_max_a=250.0,
        family="bolt-down fuse",
        feeds=(Feed(source="SEL", family="bolt-down fuse", distance_mm=120.0),),
    )
    boat = dataclasses.replace(boat, supplies=(*boat.supplies, heavy))
    windlass = dataclasses.replace(
        load("windlass", "a3_port", 60.0, motor=True, function="heavy_motor"),
        leads=(Lead(function="plus", ending="stud M8"), Lead(function="minus", ending="stud M8")),
    )
    coil = load("coil", "a3_port", 1.0)
    circuits = [
        circuit("C1", "switched", "windlass", supply="HB", contact=ContactRequest(switch="k")),
        circuit(
            "C2",
            "either_contact",
            "coil",
            contact=ContactRequest(switch="s"),
            also=(ContactRequest(switch="foot"),),
        ),
    ]
    switches = (
        SwitchRequest(id="k", part="contactor-200", legend="K", station="a3_port", coil="coil"),
        SwitchRequest(id="s", part="rocker-momentary", legend="UP", rank=2),
        SwitchRequest(id="foot", part="push-momentary", legend="FOOT", station="a3_port"),
    )
    done = drafted(order([windlass, coil], circuits, *switches), boat)
    assert errors(done) == []
    heavy_row, control = done.circuit("C1"), done.circuit("C2")
    assert heavy_row is not None and control is not None and heavy_row.sized and control.sized
    studs = [w.end.termination.kind for w in heavy_row.wires if w.end.place == "k"]
    assert studs and all("M8" in kind for kind in studs)
    assert heavy_row.sized.protection is not None and control.sized.protection is not None
    assert control.sized.protection.value < heavy_row.sized.protection.value


def test_a_trim_motor_with_a_second_station() -> None:
    motor = load("trim", "a0_port", 6.0, "up", "down", "minus", function="trim_pump")  # by relays
    both = ("up", "down")
    request = circuit(
        "C1",
        "two_directions",
        "trim",
        contact=ContactRequest(switch="s", throws=both),
        also=(ContactRequest(switch="far", throws=both),),
    )
    switches = (
        SwitchRequest(id="s", part="rocker-spdt-momentary", legend="TRIM"),
        SwitchRequest(
            id="far", part="toggle-spdt-momentary", legend="TRIM AFT", station="a0_starboard"
        ),
    )
    done = drafted(order([motor], [request], *switches), selector_boat())
    assert errors(done) == []
    row = done.circuits[0]
    onto = {leg.end.name for leg in row.planned.plan.legs if leg.end.place == "trim"}
    assert onto == {"up", "down"} and len(row.planned.plan.paths) == 4
    one_way = dataclasses.replace(request, contact=ContactRequest(switch="s"))
    with pytest.raises(Exception, match="a direction each"):
        drafted(order([motor], [one_way], *switches), selector_boat())


@pytest.mark.parametrize("stations", [2, 3, 4])
@pytest.mark.parametrize("pattern", ["two_directions", "either_contact"])
def test_any_number_of_stations(pattern: str, stations: int) -> None:
    """A third station put three wires on one way (P09); it is fed from the second's common."""
    turns = pattern == "two_directions"
    tails = ("up", "down", "minus") if turns else ()
    motor = load("trim", "a0_port", 3.0, *tails, function="trim_pump", demand="A")
    throws: tuple[Any, ...] = ("up", "down") if turns else ("up",)
    here = [f"s{n}" for n in range(stations)]
    contacts = [ContactRequest(switch=name, throws=throws) for name in here]
    request = circuit("C1", pattern, "trim", contact=contacts[0], also=tuple(contacts[1:]))
    part = "toggle-spdt-momentary" if turns else "push-momentary"
    places = ("", "a0_starboard", "a1_port", "a2_port")
    switches = [
        SwitchRequest(id=name, part=part, legend=name.upper(), station=place)
        for name, place in zip(here, places, strict=False)
    ]
    done = drafted(order([motor], [request], *switches), selector_boat())
    assert errors(done) == []
    (row,) = done.circuits
    on_way = [w for w in row.wires if w.start.place == row.planned.source]
    assert len(on_way) == 2
    net = net_list(done)
    for name in here:  # each drives it alone, every way it has, with no other touched
        for throw in throws:
            states = {"SEL": "1", name: throw}
            driven = [e.id for e in net.elements if e.part == "trim" and loops(net, e, states)]
            assert driven == [f"trim {throw}" if turns else "trim plus"], (name, throw)
    assert prove_draft(done, net).holds
    longest = max(len(legs) for _, legs in row.planned.plan.paths)
    assert longest == {2: 3, 3: 4, 4: 5}[stations]  # its drop is reckoned along all feeds


def turned(**fields: Any) -> tuple[Order, Boat]:
    motor = load("jack", "a0_port", 8.0, "up", "down", motor=True, function="heavy_motor")
    asked: dict[str, Any] = {
        "contact": ContactRequest(switch="s", throws=("up", "down")),
        "also": (ContactRequest(switch="s", pole=2, throws=("up", "down")),),
    }
    request = circuit("C1", "reversing", "jack", **{**asked, **fields})
    lever = SwitchRequest(id="s", part="rocker-dpdt-momentary", legend="JACK")
    return order([motor], [request], lever), selector_boat()


def test_a_post_takes_any_wire_and_a_rocker_on_its_way_does_not() -> None:
    """40 A to the bow asks for a heavy wire; a rocker's tab takes 10 AWG, and the drop is told."""
    motor = load("motor", "a3_port", 40.0, function="heavy_motor", maker_fuse_a=50.0)
    straight = circuit("C1", "device_switched", "motor", supply="B1", level="battery_direct")
    by_rocker = dataclasses.replace(
        straight, pattern="switched", contact=ContactRequest(switch="s")
    )
    rocker = SwitchRequest(id="s", part="rocker-spst", legend="MOTOR")
    gauges = []
    for request, switches in ((straight, ()), (by_rocker, (rocker,))):
        done = drafted(order([motor], [request], *switches), selector_boat())
        row = done.circuit("C1")
        assert row is not None and row.sized is not None
        gauges.append(area_mm2(row.sized.gauge.value))
        assert ("S01" in codes(done)) == bool(switches)
    assert gauges[0] > 10 > 6.05 > gauges[1]


def test_a_motor_of_two_leads_is_reversed_by_both_poles() -> None:
    """Up drives it one way, down the other, and in the middle it is cut off at both ends."""
    done = drafted(*turned())
    assert errors(done) == []
    net = net_list(done)
    base = {"SEL": "1"}
    for lever, name, other in (("up", "jack up", "jack down"), ("down", "jack down", "jack up")):
        states = {**base, "s": lever}
        at = nodes(net, states)
        plus, minus = (at[t] for t in (TerminalId("B1 plus post"), TerminalId("B1 minus post")))
        element = next(e for e in net.elements if e.id == name)
        assert (at[element.plus], at[element.minus]) == (plus, minus)
        whole = loops(net, element, states)
        assert whole and all(d.device for loop in whole for d in devices_between(net, loop))
        assert not loops(net, next(e for e in net.elements if e.id == other), states)
    middle = nodes(net, base)
    motor = {middle[TerminalId(f"jack {lead}")] for lead in ("up", "down")}
    assert len(motor) == 2 and middle[TerminalId("B1 minus post")] not in motor
    # no wire but the return and the feed leaves the panel twice: the crossing is two jumpers
    jumpers = [w for w in done.assembled.wires if w.jumper and not w.for_lamp]
    assert {(w.start.point, w.end.point) for w in jumpers} == {("2D", "1U"), ("2U", "1D")}
    assert all("piggyback" in w.end.termination.kind for w in jumpers)


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"also": ()}, "no second contact"),
        ({"also": (ContactRequest(switch="s", throws=("up", "down")),)}, "the second pole"),
        ({"also": (ContactRequest(switch="s", pole=2),)}, "a direction each"),
    ],
)
def test_reversing_wants_both_poles(fields: dict[str, Any], words: str) -> None:
    with pytest.raises(DraftError, match=words):
        drafted(*turned(**fields))


def test_a_second_voltage_behind_a_converter() -> None:
    """12 V radios of a 24 V boat: their limit is 3 % of 12 V, and the converter is the source."""
    block = Supply(
        id="BLK",
        name="Block",
        station="helm",
        kind="fuse_block",
        level="battery_direct",
        ways=4,
        feeds=(Feed(source="BAT", **POST),),  # type: ignore[arg-type]
    )
    cnv = Supply(
        id="CNV",
        name="Converter",
        station="helm",
        kind="converter",
        level="battery_direct",
        total_max_a=20.0,
        output_v=12.0,
        feeds=(Feed(source="BLK", family="blade fuse"),),
    )
    twelve = Supply(
        id="E12",
        name="12 V block",
        station="dash",
        kind="fuse_block",
        level="battery_direct",
        ways=4,
        feeds=(Feed(source="CNV"),),
    )
    bus = ReturnBus(id="N", name="N", station="helm", screws=9, homes=(Home(beside="BLK"),))
    boat = bare(nominal_v=24.0, supplies=(block, cnv, twelve), return_buses=(bus,))
    radio = load("vhf", "dash", 6.0, drop="critical", demand="A")
    plotter = load("plotter", "dash", 2.0, drop="critical", demand="A")
    requests = [
        circuit("C1", "device_switched", "vhf", supply="E12", level="battery_direct"),
        circuit("C2", "device_switched", "plotter", supply="BLK", level="battery_direct"),
    ]
    done = drafted(order([radio, plotter], requests), boat)
    assert errors(done) == []
    row = done.circuit("C1")
    assert row is not None and row.sized is not None
    assert row.sized.drop_percent == pytest.approx(100 * row.sized.drop_v / 12.0)
    # what the battery gives: P = 6 A × 12 V / 90 % at 24 V, and the plotter's 2 A
    feeders = {f.planned.feeds: done.needs[f.id] for f in done.feeders}
    assert feeders["CNV"].out.total_a == pytest.approx(6 * 12 / 0.9 / 24)
    assert feeders["BLK"].out.total_a == pytest.approx(6 * 12 / 0.9 / 24 + 2)
    assert feeders["BLK"].home.total_a == pytest.approx(feeders["BLK"].out.total_a)
    assert feeders["E12"].out.total_a == 6.0 and feeders["E12"].guard_a == 20.0
    # nothing but the converter's limit protects what it feeds: the wire bears all of that
    strong = dataclasses.replace(cnv, total_max_a=90.0)
    bears = drafted(
        order([radio, plotter], requests),
        dataclasses.replace(boat, supplies=(block, strong, twelve)),
    )
    (fed,) = (f for f in bears.feeders if f.planned.feeds == "E12")
    assert fed.sized is not None and fed.sized.ampacity_a >= 90.0
    assert fed.sized.gauge.governed_by == "protection"


def test_a_charger_sizes_what_its_current_passes() -> None:
    boat = selector_boat()
    charger = Supply(
        id="CHG",
        name="Charger",
        station="blocks",
        kind="charge_source",
        level="unswitched",
        total_max_a=80.0,
        feeds=(Feed(source="SEL", family="bolt-down fuse", distance_mm=100.0),),
    )
    done = drafted(order([], []), dataclasses.replace(boat, supplies=(*boat.supplies, charger)))
    assert errors(done) == []
    needs = {f.planned.feeds: done.needs[f.id] for f in done.feeders if f.planned.feeds}
    own = done.needs[done.aboard.boat.network.feeder_of("CHG").id]  # type: ignore[union-attr]
    assert own.out.total_a == 80.0 and needs["SEL"].charge_a == 80.0
    for name in ("CHG", "SEL"):
        feeder = done.aboard.boat.network.feeder_of(name)
        row = done.circuit(feeder.id) if feeder else None
        assert row is not None and row.sized is not None and row.sized.ampacity_a >= 80.0


def test_two_buses_beside_one_block_and_one_without_a_home() -> None:
    boat = selector_boat()
    second = ReturnBus(
        id="N2", name="Second", station="a3_trunk", screws=9, homes=(Home(beside="BLK"),)
    )
    lost = ReturnBus(id="N3", name="Lost", station="a0_trunk", screws=9)
    whole = dataclasses.replace(boat, return_buses=(*boat.return_buses, second, lost))
    fore, aft = load("fore", "a3_port", 5.0), load("aft", "a0_port", 5.0)
    requests = [circuit("C1", "device_switched", "fore"), circuit("C2", "device_switched", "aft")]
    done = drafted(order([fore, aft], requests), whole)
    assert {f.subjects[0] for f in done.findings if f.code == "P19"} == {"N3"}
    home = next(f for f in done.feeders if f.planned.bus == "N2")
    assert home.planned.plan.legs[0].live == "return" and len(home.planned.plan.legs) == 1
    assert home.wires and home.sized is not None
    # the fore lamp's drop counts the second bus's own conductor
    nearer = dataclasses.replace(boat, return_buses=boat.return_buses)
    without = drafted(order([fore, aft], requests), nearer)
    assert done.circuit("C1") is not None and without.circuit("C1") is not None


def test_what_leaves_a_relay_bears_the_device_before_it() -> None:
    boat = selector_boat()
    relay = Supply(
        id="REL",
        name="Relay",
        station="helm",
        kind="relay",
        level="ignition",
        total_max_a=40.0,
        coil="coil",
        feeds=(Feed(source="BLK", family="blade fuse", distance_mm=100.0),),
    )
    block = Supply(
        id="IGN",
        name="Ignition",
        station="helm",
        kind="fuse_block",
        level="ignition",
        ways=4,
        feeds=(Feed(source="REL"),),
    )
    whole = dataclasses.replace(boat, supplies=(*boat.supplies, relay, block))
    coil, lamp = load("coil", "helm", 0.2), load("lamp", "dash", 8.0)
    requests = [
        circuit("C1", "switched", "coil", contact=ContactRequest(switch="key")),
        circuit("C2", "device_switched", "lamp", level="ignition"),
    ]
    key = SwitchRequest(id="key", part="key-switch", legend="KEY", station="dash")
    done = drafted(order([coil, lamp], requests, key), whole)
    assert errors(done) == []
    net = done.aboard.boat.network
    into, out = (net.feeder_of(name) for name in ("REL", "IGN"))
    assert into is not None and out is not None
    held, stub = done.circuit(into.id), done.circuit(out.id)
    assert held is not None and stub is not None and held.sized and stub.sized
    assert stub.sized.protection is None and held.sized.protection is not None
    assert stub.sized.ampacity_a >= held.sized.protection.value
    unkeyed = dataclasses.replace(block, feeds=(Feed(source="BLK", family="blade fuse"),))
    straight = dataclasses.replace(boat, supplies=(*boat.supplies, unkeyed))
    assert "P22" in codes(drafted(order([coil, lamp], requests, key), straight))


def test_three_positions_and_an_inline_fuse_at_the_battery() -> None:
    pump = load("pump", "a1_bilge", 4.0, "automatic", "manual", "minus", function="bilge_pump")
    request = circuit(
        "C1",
        "pump_three_position",
        "pump",
        supply="PF",
        level="battery_direct",
        contact=ContactRequest(switch="s", throws=("up", "down")),
    )
    switch = SwitchRequest(id="s", part="rocker-spdt", legend="BILGE", rank=0)
    boat = selector_boat()
    boat = dataclasses.replace(boat, supplies=(*boat.supplies, post_fuse("B1")))
    done = drafted(order([pump], [request], switch), boat)
    assert errors(done) == []
    assert done.circuits[0].planned.plan.start == ("PF", "output stud", "battery", "stud")


@pytest.mark.parametrize(("output_a", "told"), [(8.0, False), (40.0, True)])
def test_a_short_that_its_source_limits_need_not_open_anything(output_a: float, told: bool) -> None:
    """12 m behind a converter: what the wire bears for good may flow for good."""
    cnv = Supply(
        id="CNV",
        name="Converter",
        station="helm",
        kind="converter",
        level="battery_direct",
        total_max_a=output_a,
        output_v=12.0,
        feeds=(Feed(source="BAT", **POST),),  # type: ignore[arg-type]
    )
    twelve = Supply(
        id="E12",
        name="12 V block",
        station="dash",
        kind="fuse_block",
        level="battery_direct",
        ways=4,
        feeds=(Feed(source="CNV", family="blade fuse"),),
    )
    bus = ReturnBus(id="N", name="N", station="helm", screws=9, homes=(Home(to="BAT"),))
    boat = bare(nominal_v=24.0, supplies=(cnv, twelve), return_buses=(bus,))
    radio = load("vhf", "a1_bilge", 5.0, maker_fuse_a=7.5)
    fed = circuit("C1", "device_switched", "vhf", supply="E12", level="battery_direct")
    asked = dataclasses.replace(
        order([radio], [fed]),
        overrides=(
            Override(subject="C1", field="protection_a", value="25", reason="r", initials="i"),
            Override(subject="C1", field="gauge", value="16 AWG", reason="r", initials="i"),
        ),
    )
    row = drafted(asked, boat).circuit("C1")
    assert row is not None and row.fault is not None and not row.fault.in_time
    assert ("K01" in codes(drafted(asked, boat))) is told


@pytest.mark.parametrize("kind", ["battery_switch", "stud", "selector"])
def test_a_circuit_straight_from_a_switch_or_stud(kind: str) -> None:
    tap = Supply(
        id="TAP",
        name="Tap",
        station="battery",
        kind=kind,  # type: ignore[arg-type]
        level="unswitched",
        total_max_a=300.0,
        feeds=(Feed(source="BAT", stud="M10", **POST),),  # type: ignore[arg-type]
    )
    lamp = load("l", "a1_port", 2.0)
    done = drafted(
        order([lamp], [circuit("C1", "device_switched", "l", supply="TAP")]), bare(supplies=(tap,))
    )
    assert errors(done) == []
    assert done.circuits[0].planned.plan.start.name == "output stud"


@pytest.mark.parametrize("kind", ["battery_switch", "selector", "stud"])
@pytest.mark.parametrize(("family", "amps"), [("breaker", 30.0), ("bolt-down fuse", 60.0)])
def test_a_chosen_device_straight_on_a_switch(kind: str, family: str, amps: float) -> None:
    """A winch behind a breaker that hangs on the battery switch, and nothing between."""
    tap = Supply(
        id="TAP",
        name="Tap",
        station="battery",
        kind=kind,  # type: ignore[arg-type]
        level="unswitched",
        total_max_a=300.0,
        feeds=(Feed(source="BAT", stud="M10", **POST),),  # type: ignore[arg-type]
    )
    winch = load("winch", "a1_port", amps, function="heavy_motor")
    asked = circuit("C1", "device_switched", "winch", supply="TAP", family=family)
    done = drafted(order([winch], [asked]), bare(supplies=(tap,)))
    assert errors(done) == []
    (row,) = done.circuits
    assert (row.planned.source, row.planned.family) == ("TAP", family)
    assert row.sized is not None and row.sized.protection is not None
    assert amps <= row.sized.protection.value <= row.sized.ampacity_a
    landed = {(w.start.place, w.start.point) for w in row.wires if w.live == "source"}
    assert ("TAP", "output stud") in landed
    (bought,) = (r for r in fuse_chart(done).rows if r.circuit_id == "C1")
    assert float(bought.rating_a) == row.sized.protection.value


@pytest.mark.parametrize("seed", [*range(24), 2213, 2930])
def test_no_feeder_is_thicker_than_what_is_behind_it_for_its_sake(seed: int) -> None:
    """Also where that has grown thinner on the way to the sizes that stand (2213, 2930)."""
    done = draft(*free_shape(seed), shipped_catalogue())
    gauges = {row.id: row.sized.gauge.value for row in done.rows if row.sized}
    behind: dict[str, set[Gauge]] = {}
    for row in done.rows:
        for feeder in done.aboard.boat.network.upstream(row.planned.source):
            behind.setdefault(feeder, set()).update([gauges[row.id]] if row.sized else [])
    for name, need in done.needs.items():
        if need.tops:  # a minus is as thick as what it brings current home of
            behind.setdefault(name, set()).update(gauges[top] for top in need.tops)
    for row in done.feeders:
        if row.sized and row.sized.gauge.governed_by == "branch behind":
            assert row.sized.gauge.value in behind[row.id], row.id
