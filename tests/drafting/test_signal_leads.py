"""Leads that only tell something: sense and control leads on feeds of their own, sensors' pairs."""

import dataclasses

import pytest

from tests.drafting.test_supply_shapes import (
    circuit,
    drafted,
    errors,
    load,
    order,
    post_fuse,
    selector_boat,
)
from tests.launch import bare
from vivid_loom.boat import (
    CircuitRequest,
    ContactRequest,
    Feed,
    Lead,
    Load,
    Supply,
    SwitchRequest,
)
from vivid_loom.drafting import Draft, DraftError
from vivid_loom.drafting.after.net import net_list
from vivid_loom.netlist import TerminalId, loops, nodes
from vivid_loom.order.new_loads import sensing, sensing_for
from vivid_loom.sheets import packet_table
from vivid_loom.sheets.lists.stores import fuse_chart


def told_by(item: Load, function: str, **fields: object) -> Load:
    """Return a load with one more lead, which only tells something."""
    lead = Lead(function=function, gauge="18 AWG", length_mm=300.0, colour="VT", **fields)  # type: ignore[arg-type]
    return dataclasses.replace(item, leads=(*item.leads, lead))


def test_a_sense_lead_has_a_fuse_of_its_own_and_nothing_home() -> None:
    """A charger's sense lead from the battery's post: one conductor, next to no current."""
    charger = told_by(load("reg", "a1_bilge", 20.0), "sense", fuse_a=3.0)
    main = circuit("C1", "device_switched", "reg", supply="PF", level="battery_direct")
    sense = dataclasses.replace(main, id="C2", lead="sense")
    done = drafted(order([charger], [main, sense]), bare(supplies=(post_fuse("BAT"),)))
    assert errors(done) == []
    row = done.circuit("C2")
    assert row is not None and row.sized is not None and row.sized.protection is not None
    assert row.sized.protection.value == 3.0 and row.sized.current_a == 0.1
    assert str(row.sized.gauge.value) == "16 AWG" and row.planned.bus == ""
    assert {w.live for w in row.wires} == {"source"} and "Return" not in dict(row.planned.places)
    roles = {c.id: c.role for c in net_list(done).conductors if c.circuit == "C2"}
    assert roles == {"C2-P1": "sense", "C2-S1": "feed"}  # the stub to its fuse, then the lead
    # it asks nothing of the feeder, and its load's minus takes one conductor
    feeder = done.needs[next(f.id for f in done.feeders if f.planned.feeds == "PF")]
    assert feeder.out.total_a == 20.0  # of two that need not run at once the larger counts
    assert feeder.home.total_a == 0.0  # both land on the battery's own post
    assert ("3", "C2") in {(r[3], r[5]) for r in fuse_chart(done).rows}


def meter() -> tuple[Load, list[CircuitRequest]]:
    """A voltmeter for two batteries: fed from the block, a sense lead to each battery's post."""
    item = load("meter", "dash", 0.05)
    main = circuit("C1", "device_switched", "meter")
    fits = []
    for number, name in enumerate(("B1", "B2"), 1):
        fits.append(
            sensing(item, name, {"C1", "meter"} | {f"N0{n}" for n in range(number)}, number)
        )
        item = fits[-1].loads[0]
    return item, [main, *(c for fit in fits for c in fit.circuits)]


def test_one_meter_has_a_sense_lead_for_every_battery() -> None:
    """Each with its own fuse at its own post, landing on its own lead; nothing joins the two."""
    item, circuits = meter()
    assert item.names("sense") == ("sense", "sense 2")
    done = drafted(order([item], circuits), selector_boat())
    assert {e[:3] for e in errors(done)} <= {"K03"}  # a blade in line on a post of 2.7 kA
    leads = {
        row.planned.source: leg.end.name
        for row in done.circuits
        if row.planned.signals
        for leg in row.planned.plan.legs
        if leg.end.place == "meter"
    }
    assert leads == {"B1": "sense", "B2": "sense 2"}
    assert len({r[5] for r in fuse_chart(done).rows} & {"N01", "N02"}) == 2
    net = net_list(done)
    at = nodes(net, {"SEL": "off"})
    one, two = (TerminalId(f"meter {name}") for name in item.names("sense"))
    assert at[one] != at[two]
    assert at[one] == at[TerminalId("B1 plus post")] and at[two] == at[TerminalId("B2 plus post")]
    twice = [*circuits, dataclasses.replace(circuits[-1], id="C9")]
    told = drafted(order([item], twice), selector_boat()).findings
    assert any("sense 2" in f.sentence() and "C9 and N02" in f.sentence() for f in told)


def test_a_charger_of_the_supply_has_its_sense_lead() -> None:
    """From the battery's post by its own fuse to the charger, home by the charger's negative."""
    charger = Supply(
        id="CHG",
        name="Charger",
        station="helm",
        kind="charge_source",
        level="battery_direct",
        total_max_a=20.0,
        charges_by="shore",
        feeds=(Feed(source="B1", family="post fuse", distance_mm=60.0, stud="M10"),),
    )
    whole = selector_boat()
    boat = dataclasses.replace(whole, supplies=(*whole.supplies, charger))
    fit = sensing_for(charger, "B1", {"CHG"})
    asked = order(list(fit.loads), list(fit.circuits))
    done = drafted(asked, boat)
    assert "A24" not in {f.code for f in done.findings}
    (row,) = done.circuits
    assert row.planned.bus == "" and {w.live for w in row.wires} == {"source"}
    assert any("charger_sense" in {w.start.place, w.end.place} for w in row.wires)
    stray = dataclasses.replace(fit.loads[0], lead_of="")
    done = drafted(order([stray], list(fit.circuits)), boat)
    assert ("A24", ("N01", stray.id)) in {(f.code, f.subjects) for f in done.findings}


def test_a_control_lead_behind_a_switch_of_its_own() -> None:
    """A plotter that is fed at once and woken by a switch: two feeds, one way home."""
    plotter = told_by(load("plotter", "dash", 3.0), "control", fuse_a=1.0)
    circuits = [
        circuit("C1", "device_switched", "plotter"),
        circuit("C2", "switched", "plotter", lead="control", contact=ContactRequest(switch="s")),
    ]
    wake = SwitchRequest(id="s", part="rocker-spst", legend="WAKE")
    done = drafted(order([plotter], circuits, wake), selector_boat())
    assert errors(done) == []
    row = done.circuit("C2")
    assert row is not None and row.sized is not None
    # beside its own two, the rocker's lamps: both lit with it, and home together
    assert [leg.id for leg in row.planned.plan.legs] == ["P1", "P2", "L1", "L2", "G1"]
    assert {leg.end.name for leg in row.planned.plan.legs[:2]} == {"1C", "control"}
    roles = {c.id: c.role for c in net_list(done).conductors if c.circuit == "C2"}
    assert roles["C2-P2"] == "control"
    assert [name for name, role in roles.items() if role == "lamp"] == ["C2-G1", "C2-L1", "C2-L2"]
    # no fuse is drafted where the lead taps the plus: it taps nothing
    assert [r for r in fuse_chart(done).rows if "control lead of" in r[2]] == []


def lamps(*names: str) -> Draft:
    """Gauges behind the key whose lamps hang on a rocker of their own."""
    gauges = [told_by(load(name, "dash", 0.2, function="instrument"), "lamp") for name in names]
    circuits = [circuit(f"C{n}", "device_switched", name) for n, name in enumerate(names, 1)]
    lit = circuit("L1", "switched", *names, lead="lamp", contact=ContactRequest(switch="s"))
    rocker = SwitchRequest(id="s", part="rocker-spst", legend="LAMPS")
    return drafted(order(gauges, [*circuits, lit], rocker), selector_boat())


def test_lamps_of_instruments_hang_on_a_switch_of_their_own() -> None:
    """From rocker to lamp to lamp, dark blue, and home by each gauge's own minus."""
    done = lamps("oil", "fuel")
    assert errors(done) == []
    row = done.circuit("L1")
    assert row is not None and row.sized is not None
    assert row.sized.current_a == pytest.approx(0.6) and row.planned.bus == ""
    laid = [leg for leg in row.planned.plan.legs if leg.carries]
    ends = [(leg.start.name, leg.end.name) for leg in laid[1:]]
    assert ends == [("1U", "lamp"), ("lamp", "lamp")]
    assert {str(w.colour) for w in row.wires if w.live != "return"} == {"BU"}
    net = net_list(done)
    dark, burns = {"SEL": "1"}, {"SEL": "1", "s": "up"}
    for name in ("oil lamp", "fuel lamp"):
        lamp = next(e for e in net.elements if e.id == name)
        assert lamp.law == "lamp" and lamp.minus == f"{lamp.part} minus"
        assert loops(net, lamp, burns) and not loops(net, lamp, dark)
        assert loops(net, next(e for e in net.elements if e.id == f"{lamp.part} plus"), dark)


def test_a_lamp_without_a_feed_or_a_way_home_is_named() -> None:
    gauge = told_by(load("oil", "dash", 0.2), "lamp")
    plain = circuit("C1", "device_switched", "oil")
    done = drafted(order([gauge], [plain]), selector_boat())
    assert ("A05", ("oil",)) in {(f.code, f.subjects) for f in done.findings}
    only = dataclasses.replace(plain, lead="lamp")
    bare_lamp = dataclasses.replace(
        gauge, leads=tuple(lead for lead in gauge.leads if lead.function == "lamp")
    )
    done = drafted(order([bare_lamp], [only]), selector_boat())
    assert ("A24", ("C1", "oil")) in {(f.code, f.subjects) for f in done.findings}


def sensed() -> tuple[list[Load], list[CircuitRequest]]:
    gauge = told_by(load("gauge", "dash", 0.2), "sense")
    sender = told_by(load("sender", "a1_bilge", 0.05), "sense")
    sender = dataclasses.replace(
        sender, leads=tuple(lead for lead in sender.leads if lead.function != "plus")
    )
    return [gauge, sender], [
        circuit("C1", "device_switched", "gauge"),
        circuit("C2", "sensor_pair", "sender", instrument="gauge"),
    ]


def pair(done: Draft) -> tuple[str, ...]:
    row = done.circuit("C2")
    assert row is not None
    ends = (f"{leg.start.place} {leg.start.name}" for leg in row.planned.plan.legs)
    return tuple(ends)


def test_a_sensors_pair_hangs_on_its_instrument() -> None:
    loads, circuits = sensed()
    done = drafted(order(loads, circuits), selector_boat())
    assert errors(done) == []
    row, instrument = done.circuit("C2"), done.circuit("C1")
    assert row is not None and instrument is not None and row.sized and instrument.sized
    assert pair(done) == ("gauge sense", "sender minus")
    assert row.sized.protection is None and row.planned.way == 0
    assert row.planned.source == instrument.planned.source
    # two conductors in one joint at the instrument's minus: the pair's and its own way home
    kinds = [w.end.termination.kind for w in row.wires if w.live == "return"]
    assert any("closed-end" in kind for kind in kinds)
    # what the sensor draws, the instrument draws: the feeder counts it once
    without = drafted(order(loads[:1], circuits[:1]), selector_boat())
    for feeder in done.feeders:
        assert done.needs[feeder.id].out == without.needs[feeder.id].out
    assert "C2" not in {r[5] for r in fuse_chart(done).rows}
    where = packet_table(done, "schedule")
    at = where.columns.index("protection_place")
    assert next(r for r in where.rows if r[0] == "C2")[at] == "C1, its instrument's"


def test_the_instruments_device_sizes_the_pair() -> None:
    """A 40 A fuse on the instrument's circuit asks for wire that bears it, all the way."""
    loads, circuits = sensed()
    plain = drafted(order(loads, circuits), selector_boat()).circuit("C2")
    heavy = dataclasses.replace(loads[0], running_a=24.0)
    done = drafted(order([heavy, loads[1]], circuits), selector_boat())
    row, instrument = done.circuit("C2"), done.circuit("C1")
    assert plain and plain.sized and row and row.sized and instrument and instrument.sized
    assert instrument.sized.protection is not None
    rating = instrument.sized.protection.value
    assert row.sized.ampacity_a >= rating and row.sized.gauge.governed_by == "plug contact"
    assert row.sized.gauge.value != plain.sized.gauge.value


@pytest.mark.parametrize(
    ("tail", "scheme", "wire"),
    [
        ("PK", "function", "PK"),
        ("LB/WH", "function", "LB/WH"),
        ("", "function", "VT"),  # nobody has said: by what it does
        ("BK", "function", "VT"),  # a negative's colour on a sense lead would be taken for one
        ("GN", "iso", "VT"),
        ("PK", "one", "RD"),  # the shop tells circuits by number
    ],
)
def test_a_senders_lead_is_as_its_tail(tail: str, scheme: str, wire: str) -> None:
    """Common practice, no source: pink is a fuel sender from the tank to the gauge."""
    loads, circuits = sensed()
    sense = dataclasses.replace(loads[1].leads[-1], colour=tail)
    loads[1] = dataclasses.replace(
        loads[1], leads=(*loads[1].leads[:-1], sense), function="instrument"
    )
    school = ("colour_scheme", scheme)
    asked = dataclasses.replace(order(loads, circuits), profile_changes=(school,))
    row = drafted(asked, selector_boat()).circuit("C2")
    assert row is not None
    assert {str(w.colour) for w in row.wires if w.lead == "sense"} == {wire}
    assert {str(w.colour) for w in row.wires if w.live == "return"} == {"YE"}


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"instrument": ""}, "expected a load aboard that a circuit feeds"),
        ({"instrument": "sender"}, "expected a load aboard that a circuit feeds"),
        ({"pattern": "device_switched", "lead": "sense"}, "expected none but for a sensor"),
        ({"loads": ("sender", "gauge")}, "expected one sensor"),
    ],
)
def test_a_sensor_without_its_instrument_is_refused(change: dict[str, object], words: str) -> None:
    loads, (first, second) = sensed()
    with pytest.raises(DraftError, match=words):
        drafted(
            order(loads, [first, dataclasses.replace(second, **change)]),  # type: ignore[arg-type]
            selector_boat(),
        )


def test_an_instrument_that_reads_nothing_is_refused() -> None:
    loads, circuits = sensed()
    deaf = dataclasses.replace(
        loads[0], leads=tuple(lead for lead in loads[0].leads if lead.function != "sense")
    )
    with pytest.raises(DraftError, match="no 'sense' lead, expected one for its sensor"):
        drafted(order([deaf, loads[1]], circuits), selector_boat())


@pytest.mark.parametrize("fuse_a", [None, 2.0])
def test_a_control_lead_that_nothing_feeds_taps_the_plus(fuse_a: float | None) -> None:
    plotter = told_by(load("plotter", "dash", 3.0), "control", fuse_a=fuse_a)
    plotter = told_by(plotter, "control")
    plain = drafted(order([load("plotter", "dash", 3.0)], PLOTTER), selector_boat())
    done = drafted(order([plotter], PLOTTER), selector_boat())
    assert errors(done) == []
    wires = {w.leg: w for w in done.assembled.wires if w.circuit == "C1"}
    taps = [w for leg, w in wires.items() if leg.startswith("K")]
    assert len(taps) == (3 if fuse_a else 2) and all(w.routed_m == 0.06 for w in taps)
    ends = {(end.place, end.point) for w in taps for end in (w.start, w.end)}
    assert {("plotter", "control"), ("plotter", "control 2"), ("plotter", "plus")} <= ends
    # all that tap and feed the plus meet in one joint; the rest of the circuit stays as it is
    at_plus = [
        end.termination.kind
        for w in wires.values()
        for end in (w.start, w.end)
        if (end.place, end.point) == ("plotter", "plus")
    ]
    assert len(at_plus) == 3 and all("closed-end" in kind for kind in at_plus)
    assert {w.id for w in plain.assembled.wires} == {
        w.id for w in done.assembled.wires if w not in taps
    }
    stock = {(r[0], r[1]): r[2] for r in packet_table(done, "materials").rows}
    assert stock.get(("protection", "blade fuse 2 A")) == ("1" if fuse_a else None)
    assert stock.get(("holder", "blade fuse holder, in line")) == ("1" if fuse_a else None)
    net = net_list(done)
    devices = [c.device for c in net.contacts if c.part == "plotter control holder"]
    assert [d.rating_a for d in devices if d] == ([2.0] if fuse_a else [])


def test_a_fused_tap_is_thin_behind_a_thick_circuit() -> None:
    """Its own fuse protects it; without one it bears what the circuit's device lets through."""
    heavy = dataclasses.replace(load("amp", "dash", 28.0), maker_smallest="8 AWG")
    request = [circuit("C1", "device_switched", "amp", supply="BLK")]
    gauges = []
    for fuse_a in (3.0, None):
        done = drafted(order([told_by(heavy, "control", fuse_a=fuse_a)], request), selector_boat())
        row = done.circuit("C1")
        assert row is not None and row.sized is not None
        gauges.append({str(w.gauge) for w in row.wires if w.leg.startswith("K")})
        assert str(row.sized.gauge.value) not in ("16 AWG",)
    assert gauges[0] == {"16 AWG"} and gauges[1] == {str(row.sized.gauge.value)}


PLOTTER = [circuit("C1", "device_switched", "plotter")]
