"""Feeders' devices: the largest the wire, the part, the device upstream and every return allow."""

import dataclasses
from typing import Any

import pytest

from tests.conftest import drafted as opened
from tests.drafting.test_supply_shapes import circuit, codes, drafted, load, order
from tests.launch import bare
from vivid_loom.boat import (
    Boat,
    ContactRequest,
    Feed,
    HelmPanel,
    Home,
    ReturnBus,
    Supply,
    SwitchRequest,
    read_boat,
)
from vivid_loom.demo import DEMO_FOLDER, find_boat
from vivid_loom.drafting import Draft
from vivid_loom.order import change_loads, set_override
from vivid_loom.order.records import Override
from vivid_loom.quantities import Gauge
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.demand import feeder_demand

CLEAN = ("0417", "0421", "0609", "0611", "1102", "1104")


def helm_boat(total_max_a: float = 100.0, stands: str = "blocks", **fields: Any) -> Boat:
    """A battery switch and a helm block, each on its own device, the negative beside them."""
    switch = Supply(
        id="BSW",
        name="Battery switch",
        station="battery",
        kind="battery_switch",
        level="unswitched",
        total_max_a=300.0,
        feeds=(Feed(source="BAT", family="post fuse", distance_mm=60.0, stud="M10"),),
    )
    block = Supply(
        id="HFB",
        name="Helm block",
        station=stands,
        kind="fuse_block",
        level="unswitched",
        ways=12,
        total_max_a=total_max_a,
        feeds=(Feed(source="BSW", family="bolt-down fuse", distance_mm=150.0, stud="M8"),),
    )
    main = ReturnBus(id="N0", name="N0", station="battery", screws=9, homes=(Home(beside="BSW"),))
    helm = ReturnBus(id="N1", name="N1", station=stands, screws=20, homes=(Home(beside="HFB"),))
    return bare(supplies=(switch, block), return_buses=(main, helm), **fields)


def helm(amps: float, boat: Boat, **gauges: str) -> Draft:
    """Draft loads of some amperes that must run, at the helm."""
    count = max(1, round(amps / 10))
    names = [f"l{i}" for i in range(count)]
    loads = [load(name, "helm", amps / count, demand="A") for name in names]
    asked = order(loads, [circuit(f"C{i}", "device_switched", n) for i, n in enumerate(names)])
    for subject, value in gauges.items():
        override = Override(subject=subject, field="gauge", value=value, reason="r", initials="i")
        asked = set_override(override)[1](asked)
    return drafted(asked, boat)


def feeder(done: Draft, fed: str) -> tuple[float, str]:
    row = next(r for r in done.feeders if r.planned.feeds == fed)
    assert row.sized is not None and row.sized.protection is not None
    return row.sized.protection.value, row.sized.protection.governed_by


def test_eighty_amperes_on_eight_gauge_behind_a_block_of_a_hundred() -> None:
    """Demand 42 A, 8 AWG at 105 °C bears 80 A, the block 100: 80 A, not the next above 42.

    ABYC E-11: a device protects its conductor; the least is 1.25 × the demand (common practice).
    """
    named = {r.planned.feeds: r.id for r in helm(42.0, helm_boat()).feeders}
    helm_feeder, gauges = named["HFB"], {named["BSW"]: "2 AWG", named["HFB"]: "8 AWG"}
    done = helm(42.0, helm_boat(), **gauges)
    assert feeder(done, "HFB") == (80.0, "headroom")
    need = done.needs[helm_feeder]
    assert (need.least_a, need.bounds[0]) == (60.0, ("its wire", 80.0))
    # a weaker block, a weaker stud, a device upstream: each is what stops it then
    weak = helm(42.0, helm_boat(total_max_a=70.0), **gauges)
    assert feeder(weak, "HFB")[0] == 70.0
    assert weak.needs[helm_feeder].bounds[0][0] == "Helm block"
    through = helm(42.0, helm_boat(stands="helm"), **gauges)
    assert through.needs[helm_feeder].bounds[0] == ("its plug contacts", 60.0)
    assert feeder(through, "HFB")[0] == 60.0


def test_the_next_device_towards_the_battery_stays_the_larger() -> None:
    done = helm(42.0, helm_boat(total_max_a=300.0))
    ahead, behind = feeder(done, "BSW")[0], feeder(done, "HFB")[0]
    assert ahead > behind > 42.0 * 1.25
    held = next(r.id for r in done.feeders if r.planned.feeds == "BSW")
    override = Override(subject=held, field="protection_a", value="60", reason="r", initials="i")
    lower = drafted(set_override(override)[1](done.aboard.order), helm_boat(total_max_a=300.0))
    assert feeder(lower, "BSW")[0] == 60.0
    assert feeder(lower, "HFB")[0] == 60.0  # its least: nothing below the 60 A bears the demand
    row = lower.circuit(held)
    assert row is not None and row.sized is not None and row.sized.protection is not None
    assert row.sized.protection.drafted > 60.0  # what the draft would take stands beside it


def test_a_thick_wire_behind_a_small_device_takes_one_still_smaller() -> None:
    """70 A, not 80: so near to 90 A either could open first."""
    boat = helm_boat(total_max_a=300.0)
    named = names_by_fed(helm(30.0, boat))
    asked = helm(30.0, boat, **{named["HFB"]: "2/0 AWG"}).aboard.order
    main = Override(
        subject=named["BSW"], field="protection_a", value="90", reason="r", initials="i"
    )
    done = drafted(set_override(main)[1](asked), boat)
    assert (feeder(done, "BSW")[0], feeder(done, "HFB")[0]) == (90.0, 70.0)
    assert done.needs[named["HFB"]].bounds[0][1] > 200.0


def test_a_way_home_keeps_a_device_small() -> None:
    """What hangs on the battery comes home by a bus's own conductor, which bears 80 A."""
    block = Supply(
        id="ALB",
        name="Always-live block",
        station="blocks",
        kind="fuse_block",
        level="battery_direct",
        ways=12,
        total_max_a=300.0,
        feeds=(Feed(source="BAT", family="post fuse", distance_mm=60.0, stud="M10"),),
    )
    bus = ReturnBus(id="N0", name="N0", station="blocks", screws=20, homes=(Home(to="BAT"),))
    boat = bare(supplies=(block,), return_buses=(bus,))
    loads = [load(f"l{i}", "blocks", 10.0, demand="A") for i in range(3)]
    loads += [load(f"m{i}", "blocks", 1.0, maker_fuse_a=30.0) for i in range(4)]
    asked = order(
        loads,
        [circuit(f"C{x.id}", "device_switched", x.id, level="battery_direct") for x in loads],
    )
    plain = drafted(asked, boat)
    plus = names_by_fed(plain)["ALB"]
    minus = next(name for name, need in plain.needs.items() if need.feed is None)
    assert plain.needs[minus].circulation.most_a({}) > 150.0
    gauges = {plus: "2/0 AWG", minus: "8 AWG"}
    for subject, value in gauges.items():
        forced = Override(subject=subject, field="gauge", value=value, reason="r", initials="i")
        asked = set_override(forced)[1](asked)
    done = drafted(asked, boat)
    assert feeder(done, "ALB")[0] == 80.0 and done.needs[minus].return_a == 80.0
    assert "P08" not in codes(done) and "P30" in codes(done)


def test_a_weak_battery_keeps_a_device_small_enough_to_open() -> None:
    """0.04 Ω: some 300 A flow into a short, and the device must be over it within 5 s."""
    weak = dataclasses.replace(bare().batteries[0], internal_ohm=0.04)
    boat = dataclasses.replace(helm_boat(total_max_a=300.0), batteries=(weak,))
    done = helm(20.0, boat, **dict.fromkeys(names_by_fed(helm(20.0, boat)).values(), "2/0 AWG"))
    row = next(r for r in done.feeders if r.planned.feeds == "BSW")
    assert row.fault is not None and row.fault.in_time and row.fault.near_a < 330.0
    assert feeder(done, "BSW")[0] < 150.0 < done.needs[row.id].bounds[0][1]


def test_what_stands_behind_two_relays_is_guarded_as_well() -> None:
    """Key, relay and block without devices between: all their wires bound the one before."""
    boat = helm_boat()

    def part(name: str, kind: str, source: str, **fields: Any) -> Supply:
        feeds = (Feed(source=source, stud="M6", **fields),)
        level = "ignition"
        return Supply(  # type: ignore[arg-type]
            id=name,
            name=name,
            station="blocks",
            kind=kind,
            level=level,
            feeds=feeds,
            ways=4 * (kind == "fuse_block"),
        )

    chain = (
        part("KEY", "key_switch", "HFB", family="blade fuse", distance_mm=100.0),
        part("IGR", "relay", "KEY"),
        part("IGN", "fuse_block", "IGR"),
    )
    boat = dataclasses.replace(boat, supplies=(*boat.supplies, *chain))
    gauge = load("gauge", "helm", 1.0)
    done = drafted(
        order([gauge], [circuit("C1", "device_switched", "gauge", level="ignition")]), boat
    )
    named = names_by_fed(done)
    told = [what for what, _ in done.needs[named["KEY"]].bounds]
    assert {f"the wire of {named['IGR']}", f"the wire of {named['IGN']}"} <= set(told)
    device = feeder(done, "KEY")[0]
    for name in (named["IGR"], named["IGN"]):
        row = done.circuit(name)
        assert row is not None and row.sized is not None and device <= row.sized.ampacity_a


@pytest.mark.parametrize("hull", CLEAN)
def test_every_demo_feeder_has_headroom_and_none_is_thinner_than_what_it_feeds(hull: str) -> None:
    done = opened(DEMO_FOLDER / f"hull-{hull}.loom.json")
    network = done.aboard.boat.network
    checked = 0
    for row in done.feeders:
        assert row.sized is not None
        need, held = done.needs[row.id], row.sized.protection
        if held:
            checked += 1
            assert held.value >= need.margin * need.borne_a - 1e-9, row.id
            assert held.value <= row.sized.ampacity_a + 1e-9, row.id
            assert need.return_a <= row.sized.alone_a + 1e-9, row.id
        behind = [r for r in done.rows if row.id in network.upstream(r.planned.source) and r.sized]
        for other in behind:
            if network.regulated(other.planned.source) and not network.regulated(row.planned.feeds):
                continue
            assert other.sized is not None
            thick, thin = row.sized.gauge.value, other.sized.gauge.value
            assert area_mm2(thick) >= area_mm2(thin) - 1e-9, (row.id, other.id)
    assert checked > 2


def test_a_batterys_minus_is_as_thick_as_its_plus() -> None:
    """A main bus home to two batteries: what one gives comes back by its own conductor."""
    full = opened(DEMO_FOLDER / "hull-0417.loom.json")
    plain = dataclasses.replace(full.aboard.order, options=(), overrides=(), accepted=())
    path = DEMO_FOLDER / "hull-0417.loom.json"
    done = drafted(plain, read_boat(find_boat(path, plain.boat)))
    plus, minus = done.circuit("F07"), done.circuit("F12")
    assert plus is not None and minus is not None and plus.sized and minus.sized
    assert area_mm2(minus.sized.gauge.value) >= area_mm2(plus.sized.gauge.value)


def test_headroom_makes_no_wire_thicker() -> None:
    """Whatever the devices were raised to, every wire still serves by what it had to."""
    done = opened(DEMO_FOLDER / "hull-0417.loom.json")
    for row in done.feeders:
        assert row.sized is not None
        asked = {step.text: step for step in row.sized.gauge.steps}
        device = next((s for t, s in asked.items() if t.startswith("ampacity the device")), None)
        if device:
            assert device.result is not None
            assert device.result * row.sized.derating <= row.sized.ampacity_a + 1e-6, row.id
    raised = [n for n, need in done.needs.items() if need.rating_a > need.least_a]
    assert len(raised) >= 4


def test_spares_and_switched_circuits_count_in_the_demand() -> None:
    """An allowance is not void beside the largest B-load; four floods on one switch are one."""
    assert feeder_demand([("B", 8.0), *[("spare", 5.0)] * 4]).total_a == 13.0
    assert feeder_demand([("spare", 5.0)] * 30).total_a == pytest.approx(15.0)
    panel = HelmPanel(id="panel", name="P", station="helm", positions=3)
    with_spares = helm(10.0, helm_boat(panels=(panel,)))
    without = helm(10.0, helm_boat())
    name = names_by_fed(without)["HFB"]
    demand = [d.needs[name].out.total_a for d in (with_spares, without)]
    assert demand == [15.0, 10.0]
    lamps = [load(f"f{i}", "helm", 4.0, demand="B") for i in range(3)]
    names = [lamp.id for lamp in lamps]
    rocker = SwitchRequest(id="s", part="rocker-spst", legend="FLOODS")
    by_switch = circuit("C1", "switched", *names, contact=ContactRequest(switch="s"))
    own = circuit("C1", "device_switched", *names)
    demand = [
        drafted(order(lamps, [request], *switches), helm_boat()).needs[name].out.total_a
        for request, switches in ((by_switch, (rocker,)), (own, ()))
    ]
    assert demand == [12.0, 12.0]  # nor of a circuit whose loads have their own


def names_by_fed(done: Draft) -> dict[str, str]:
    return {row.planned.feeds: row.id for row in done.feeders}


def test_a_device_close_to_its_demand_is_judged() -> None:
    done = helm(42.0, helm_boat())
    name = next(r.id for r in done.feeders if r.planned.feeds == "HFB")
    close = Override(subject=name, field="protection_a", value="50", reason="r", initials="i")
    judged = drafted(set_override(close)[1](done.aboard.order), helm_boat())
    told = next(f.sentence() for f in judged.findings if f.code == "P29")
    assert "42 A behind a 50 A device: 84 %" in told and "P29" not in codes(done)


def test_a_converters_device_stays_near_what_it_takes() -> None:
    """20 A at 12 V from 24 V at 90 %: 11.1 A, so 15 A; its own limit protects what it feeds."""
    done = opened(DEMO_FOLDER / "hull-1104.loom.json")
    row = done.circuit("F06")
    assert row is not None and row.sized is not None and row.sized.protection is not None
    assert row.sized.protection.value == 15.0


def test_a_branch_that_decides_the_trunk_is_named_with_its_copper() -> None:
    """7 A at the transom, 10 AWG at most on its way: the helm's feeder pays, and says for whom."""
    path = DEMO_FOLDER / "hull-0417.loom.json"
    plain = opened(path)
    pump = next(x for x in plain.aboard.loads.values() if x.name == "Autopilot pump")
    strict = change_loads((dataclasses.replace(pump, drop="critical"),), "drop class")
    model = read_boat(find_boat(path, plain.aboard.order.boat))
    done = drafted(strict[1](plain.aboard.order), model)
    assert plain.circuit("F05").sized.gauge.value == Gauge("AWG", 0)  # type: ignore[union-attr]
    told = next(f for f in done.findings if f.code == "P31")
    helm, branch = done.circuit("F05"), done.circuit("C32")
    assert helm is not None and branch is not None and helm.sized and branch.sized
    assert told.subjects[0] == "C32" and "F05" in told.subjects
    assert helm.sized.decider == "C32" and str(branch.sized.gauge.value) == "10 AWG"
    steps = [step.text for step in helm.sized.gauge.steps]
    assert "C32 behind it holds its own limit only from here on" in steps
    # without that branch the feeders are what the finding says they would be
    order_ = done.aboard.order
    kept = tuple(name for name in order_.options if name != "autopilot")
    less = drafted(
        dataclasses.replace(order_, options=kept, accepted=()),
        model,
    )
    thinner = less.circuit("F05")
    assert thinner is not None and thinner.sized is not None and helm.sized.without is not None
    assert area_mm2(thinner.sized.gauge.value) <= area_mm2(helm.sized.without)
    kilograms = float(dict(told.values)["kg"])
    wires = [w for name in told.subjects[1:] for w in done.circuit(name).wires]  # type: ignore[union-attr]
    whole = sum(area_mm2(w.gauge) * w.routed_m * 8.89e-3 for w in wires)
    assert 0.3 < kilograms < whole
