"""Every rule fires on its mistake, and not on something nearly the same."""

import dataclasses
from pathlib import Path
from typing import Any

import pytest

from tests.changes import (
    Change,
    Setup,
    area,
    battery,
    boat,
    bus,
    catalogue,
    chained,
    circuit,
    drafted,
    feed,
    load,
    nothing,
    override,
    profile,
    run,
    supply,
)
from tests.drafting import (
    test_breaker_levers,
    test_helm,
    test_makers,
    test_recorded,
    test_rules,
    test_rules_runs,
)
from vivid_loom.boat import (
    Boat,
    Bond,
    CircuitRequest,
    ContactRequest,
    Evidence,
    Feed,
    Home,
    Lead,
    Load,
    Recorded,
    SwitchRequest,
)
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting.rules.verify import kinds
from vivid_loom.order import Order
from vivid_loom.sheets.words.rules_text import rules_markdown

PLUS, MINUS = Lead(function="plus"), Lead(function="minus")
CONTROL = Lead(function="control", gauge="18 AWG", length_mm=300)
THICK_CONTROL = Lead(function="control", gauge="12 AWG", length_mm=300, fuse_a=50.0)


def leads(load_id: str, *more: Lead, minus: bool = True) -> Change:
    """Give a load plain leads and some more."""
    return load(load_id, leads=(PLUS, *((MINUS,) if minus else ()), *more))


def tail(length_mm: float) -> Change:
    """Give the washdown pump a thin tail on a big fuse that no maker has limited."""
    plus = Lead(function="plus", gauge="18 AWG", length_mm=length_mm)
    return chained(
        load("washdown", leads=(plus, MINUS), maker_fuse_a=None, maker_smallest=None),
        override("C24", protection_a="25", gauge="10 AWG"),
    )


def big_breaker(*more: Lead) -> Change:
    """Put a load with control leads behind 35 A."""
    return chained(
        leads("washdown", *more),
        override("C24", protection_a="35", gauge="8 AWG"),
    )


PLAIN_SWITCH = supply(
    "BSW",
    kind="battery_switch",
    total_max_a=59.0,
    feeds=(Feed(id="F02", source="BAT", family="post fuse", distance_mm=60.0, stud="M10"),),
)
BARE_PUMP: dict[str, Any] = {"pattern": "device_switched", "contact": None}


def float_pump(level: str) -> Change:
    """Lead an automatic pump over a loose float on a level."""

    def apply(setup: Setup) -> Setup:
        away = SwitchRequest(id="away", part="float-switch", legend="FLOAT", station="aft_bilge")
        fit = dataclasses.replace(setup.boat.fit, switches=(*setup.boat.fit.switches, away))
        return circuit(
            "C02",
            pattern="either_contact",
            lead="manual",
            level=level,
            supply="",
            also=(ContactRequest(switch="away"),),
        )(boat(fit=fit)(setup))

    return apply


def panel(**fields: Any) -> Change:
    """Change the first switch panel."""

    def apply(setup: Setup) -> Setup:
        first, *others = setup.boat.panels
        return boat(panels=(dataclasses.replace(first, **fields), *others))(setup)

    return apply


def sealed_switches(setup: Setup) -> Setup:
    """Have the shop keep sealed switches only."""
    parts = (dataclasses.replace(part, ingress="spray") for part in setup.catalogue.switches)
    return catalogue(switches=tuple(parts))(setup)


def helm(positions: int) -> Change:
    """Give the helm so many positions."""
    return panel(positions=positions)


def without_safety(setup: Setup) -> Setup:
    """Take from all loads what tells that they must not share: their word, or their function."""

    def other(item: Load) -> Load:
        plain = dataclasses.replace(item, safety="")
        return dataclasses.replace(plain, function="deck_light") if plain.separation else plain

    loads = tuple(map(other, setup.boat.fit.loads))
    return boat(fit=dataclasses.replace(setup.boat.fit, loads=loads))(setup)


def without_words(setup: Setup) -> Setup:
    """Take the safety words from all loads: what they are is told by their functions."""
    loads = tuple(dataclasses.replace(item, safety="") for item in setup.boat.fit.loads)
    return boat(fit=dataclasses.replace(setup.boat.fit, loads=loads))(setup)


def grp(setup: Setup) -> Setup:
    """Build the hull of something that does not conduct."""
    return boat(hull=dataclasses.replace(setup.boat.hull, material="grp"))(setup)


def bonded(gauge: str) -> Change:
    """Bond the transom."""
    return boat(bonds=(Bond(id="b1", name="Bracket", station="transom", gauge=gauge),))


def all_drums(setup: Setup) -> Setup:
    """Keep every size in every colour."""
    wires = tuple(dataclasses.replace(wire, colours=()) for wire in setup.catalogue.wires)
    return catalogue(wires=wires)(setup)


def red_only_14(setup: Setup) -> Setup:
    """Keep 14 AWG in red and yellow only."""
    wires = tuple(
        dataclasses.replace(wire, colours=("RD", "YE")) if wire.gauge == "14 AWG" else wire
        for wire in setup.catalogue.wires
    )
    return catalogue(wires=wires)(setup)


def three_cores_only(setup: Setup) -> Setup:
    """Keep no cable of two cores."""
    cables = tuple(cable for cable in setup.catalogue.cables if cable.cores == 3)
    return catalogue(cables=cables)(setup)


def options(*names: str) -> Change:
    """Tick options."""
    return lambda s: s._replace(order=dataclasses.replace(s.order, options=names))


def recorded(kind: str) -> Change:
    """Lay a cable that others size from the battery to the helm."""
    item = Recorded(id="REC", name="Cable", kind=kind, start="alb", end="helm", diameter_mm=9.0)  # type: ignore[arg-type]
    return boat(recorded=(item,))


PETROL = area("bracket", fuel_vapour=True)  # where the engines are


def hull(**fields: Any) -> Change:
    """Change the hull."""
    return lambda s: boat(hull=dataclasses.replace(s.boat.hull, **fields))(s)


def on_the_key(load_id: str) -> Change:
    """Feed a load behind the key, on a circuit of its own."""

    def apply(setup: Setup) -> Setup:
        fit = setup.boat.fit
        alone = tuple(
            dataclasses.replace(c, loads=tuple(x for x in c.loads if x != load_id))
            for c in fit.circuits
        )
        late = CircuitRequest(
            id="C91",
            label="Late",
            pattern="device_switched",
            loads=(load_id,),
            level="ignition",
            supply="IGN",
        )
        kept = tuple(c for c in alone if c.loads)
        return boat(fit=dataclasses.replace(fit, circuits=(*kept, late)))(setup)

    return apply


def brief_horn(amps: float) -> Change:
    """Have a horn with a motor, pressed for a moment, draw so much."""
    brief = {"longest_on_min": 0.2, "duty_percent": 10.0, "maker_fuse_a": None, "peak_a": None}
    return load("horn", motor=True, running_a=amps, **brief)


def turned_from(*stations: str) -> Change:
    """Add a small motor that is turned either way from each of some stations."""

    def apply(setup: Setup) -> Setup:
        fit = setup.boat.fit
        like = next(x for x in fit.loads if x.id == "washdown")
        ways = tuple(Lead(function=f) for f in ("up", "down", "minus"))  # type: ignore[arg-type]
        motor = dataclasses.replace(like, id="jack", name="Jack", leads=ways, motor=True)
        contacts = [ContactRequest(switch=name, throws=("up", "down")) for name in stations]
        turned = CircuitRequest(
            id="C90",
            label="Jack",
            pattern="two_directions",
            loads=("jack",),
            contact=contacts[0],
            also=tuple(contacts[1:]),
        )
        switches = tuple(
            SwitchRequest(id=name, part="toggle-spdt-momentary", legend=name, station="helm")
            for name in stations
        )
        whole = dataclasses.replace(
            fit,
            loads=(*fit.loads, motor),
            circuits=(*fit.circuits, turned),
            switches=(*fit.switches, *switches),
        )
        return boat(fit=whole)(setup)

    return apply


def heavy_helm(setup: Setup) -> Setup:
    """Draw a heavy current at the helm."""
    return load("demister", running_a=70.0, demand="A", maker_fuse_a=None)(setup)


IN_CABLE = circuit("C10", cable="cable")
IN_PAIR = circuit("C12", cable="twisted pair")
FAR_RETURN = override("C12", return_bus="NB0")
MANY_ORANGE = options("ais", "beacon", "cameras", "fridge", "hailer", "plotter_pack", "searchlight")
GUESSED = Evidence(kind="estimate", note="by its likes")
FAINT = load("sounder", running_a=0.05)
FAR_RADIO = load("vhf", station="transom", running_a=6.0)
WEAK = chained(battery(internal_ohm=2.0), feed("IGR", family="bolt-down fuse"))

CASES: list[tuple[str, Change, Change]] = [
    # code, what makes it fire, nearly the same that does not
    ("L03", leads("vhf", Lead(function="unused", colour="GN")), leads("vhf")),
    (
        "L04",
        load("wiper_p", motor=True),
        chained(
            *(
                load(n, self_protected=True)
                for n in (
                    "wiper_p",
                    "wiper_s",
                    "tank_pump_p",
                    "tank_pump_s",
                    "washer",
                    "washdown",
                    "demister",
                    "heater",
                )
            )
        ),
    ),
    (
        "L05",
        load("demister", running_a=5.0, maker_fuse_a=None),
        chained(
            load("demister", running_a=4.9, maker_fuse_a=None),
            load("heater", maker_fuse_a=15.0),
            load("socket", maker_fuse_a=10.0),
        ),
    ),
    (
        "S15",
        load("vhf", running_a=20.0, station="stem", maker_fuse_a=None),
        load("vhf", running_a=0.4, station="stem"),
    ),
    (
        "S16",
        chained(
            profile(bundling="off"),
            load("washdown", running_a=20.1, maker_fuse_a=None),
            override("C24", gauge="18 AWG"),
        ),
        chained(
            profile(bundling="off"),
            load("washdown", running_a=19.9, maker_fuse_a=None),
            override("C24", gauge="18 AWG"),
        ),
    ),
    (
        "S17",
        chained(profile(one_gauge="14 AWG"), override("C01", gauge="16 AWG")),
        profile(one_gauge="14 AWG"),
    ),
    ("S18", boat(nominal_v=48.0), boat(nominal_v=24.0)),
    (
        "K01",
        override("C16", gauge="16 AWG", protection_a="30"),
        override("C16", gauge="16 AWG", protection_a="10"),
    ),
    (
        "K02",
        override("C24", gauge="18 AWG", protection_a="25"),
        override("C24", gauge="18 AWG", protection_a="15"),
    ),
    ("K03", feed("BSW", family="bolt-down fuse"), feed("BSW", family="post fuse")),
    ("L07", load("horn", function="unknown"), nothing),
    ("L08", load("horn", peak_a=4.9), load("horn", peak_a=5.0)),
    ("L09", load("cabin_1", replaceable=True), load("cabin_3", replaceable=True)),
    ("K04", nothing, battery(internal_ohm=0.04)),
    ("K16", nothing, battery(internal_ohm=0.04)),
    (
        "K05",
        load("bp_aft", locked_rotor_a=5.5),
        load("bp_aft", locked_rotor_a=5.5, self_protected=True),
    ),
    ("K06", load("washdown", peak_a=60.0), load("washdown", peak_a=20.0)),
    ("K06", load("washdown", peak_a=60.0), load("washdown", peak_a=60.0, evidence=GUESSED)),
    ("K19", load("washdown", peak_a=60.0, evidence=GUESSED), load("washdown", peak_a=60.0)),
    ("K07", nothing, chained(WEAK, override("F04", protection_a="60"))),
    ("K08", override("F04", protection_a="15"), override("F04", protection_a="40")),
    ("K09", load("bp_aft", contact_a=4.9), load("bp_aft", contact_a=5.0)),
    ("K10", big_breaker(CONTROL), big_breaker(dataclasses.replace(CONTROL, fuse_a=3.0))),
    (
        "K11",
        big_breaker(dataclasses.replace(CONTROL, fuse_a=25.0)),
        big_breaker(dataclasses.replace(CONTROL, fuse_a=20.0)),
    ),
    (
        "K11",
        big_breaker(THICK_CONTROL),
        chained(big_breaker(THICK_CONTROL), profile(tolerance="next_standard")),
    ),
    ("K12", tail(178.0), tail(177.8)),
    ("K13", boat(nominal_v=48.0), boat(nominal_v=24.0)),
    (
        "K14",
        chained(
            load("washdown", running_a=8.1), override("C24", "substitution", protection_a="10")
        ),
        chained(
            load("washdown", running_a=8.0), override("C24", "substitution", protection_a="10")
        ),
    ),
    ("K15", battery(internal_ohm=0.0005), battery(internal_ohm=0.02)),
    ("I01", override("C01", positive_colour="GN"), override("C01", positive_colour="TQ")),
    (
        "I02",
        override("C01", positive_colour="YE", negative_colour="BK"),
        override("C01", positive_colour="YE/RD", negative_colour="BK"),
    ),
    (
        "I03",
        chained(profile(colour_scheme="iso"), override("C01", positive_colour="BK")),
        chained(profile(colour_scheme="iso"), override("C01", positive_colour="GY")),
    ),
    ("I04", chained(boat(ac_aboard="US"), profile(negative_colour="BK")), boat(ac_aboard="US")),
    ("I05", boat(ac_aboard="Europe"), nothing),
    ("I06", red_only_14, all_drums),
    ("I07", override("F05", positive_colour="GN"), override("F05", positive_colour="BN")),
    ("I08", override("F05", gauge="2/0 AWG"), chained(all_drums, override("F05", gauge="2/0 AWG"))),
    (
        "I09",
        leads("vhf", Lead(function="plus", colour="YE")),
        leads("vhf", Lead(function="plus", colour="RD")),
    ),
    ("I10", chained(MANY_ORANGE, profile(alike="tracer")), MANY_ORANGE),
    ("I11", override("C01", positive_colour="YE"), override("C01", positive_colour="OG")),
    ("P10", supply("HFB", ways_protected=False), nothing),
    ("P11", supply("HFB", way_distance_mm=177.9), supply("HFB", way_distance_mm=177.8)),
    ("P12", bus("NB1", max_a=20.0), bus("NB1", max_a=150.0)),
    (
        "P13",
        chained(override("F05", protection_a="100"), supply("HFB", total_max_a=99.0)),
        chained(override("F05", protection_a="100"), supply("HFB", total_max_a=100.0)),
    ),
    ("P14", feed("HFB", stud="M4"), feed("HFB", stud="M8")),
    ("P15", override("C24", protection_a="25"), override("C24", protection_a="20")),
    ("P16", override("F05", gauge="10 AWG"), override("F05", gauge="4/0 AWG")),
    ("P17", PLAIN_SWITCH, chained(PLAIN_SWITCH, supply("BSW", total_max_a=300.0))),
    ("P19", bus("NB1", homes=()), bus("NB1", homes=(Home(to="NB0"),))),
    ("P20", supply("HBP", feeds=()), supply("HBP", feeds=(Feed(source="BSW", family="breaker"),))),
    (
        "P21",
        chained(
            bus("NB0", homes=(Home(beside="BSW", to="BAT"),)),
            bus("ENG", homes=(Home(to="BAT"),)),
        ),
        nothing,
    ),
    ("K17", override("F04", gauge="10 AWG"), override("F04", gauge="2 AWG")),
    (
        "K18",
        chained(
            feed("BSW", family="breaker"),
            override("F02", protection_a="150"),
            override("F04", gauge="12 AWG"),
        ),
        chained(
            feed("BSW", family="breaker"),
            override("F02", protection_a="150"),
            override("F04", gauge="4/0 AWG"),
            override("F05", gauge="4/0 AWG"),
            override("F03", gauge="4/0 AWG"),
        ),
    ),
    (
        "P01",  # a thin wire behind the main fuse
        chained(feed("HBP", family=None), override("F04", gauge="8 AWG")),
        feed("HBP", family=None),
    ),
    ("P32", supply("CRL", feeds=(Feed(source="BAT"), Feed(source="BST"))), nothing),
    ("P33", supply("ALT", case_on=""), nothing),
    (
        "P34",
        bus("ENG", homes=(Home(to="BST", gauge="2 AWG"), Home(to="NB0"))),
        bus("ENG", homes=(Home(to="BST", gauge="2 AWG"), Home(to="NB0", gauge="2 AWG"))),
    ),
    ("P35", override("F13", gauge="4 AWG"), override("F13", gauge="1/0 AWG")),
    ("P36", feed("ALT", source="BSW"), nothing),
    (
        "P40",
        feed("BSW", family=None, cranking="1/0 AWG"),
        feed("BSW", cranking="1/0 AWG"),
    ),
    ("P28", bus("NB0", homes=(Home(beside="BSW", to="BAT"),)), nothing),
    ("P22", feed("IGN", source="HFB", family="blade fuse"), nothing),
    ("P23", feed("ALB", source="BSW"), nothing),
    ("P24", supply("BSW", total_max_a=59.0), nothing),
    ("P25", supply("IGR", coil=""), nothing),
    ("S20", brief_horn(12.0), brief_horn(9.0)),
    ("Z19", PETROL, chained(PETROL, load("washdown", function="bilge_blower"))),
    (
        "Z20",
        chained(PETROL, load("sounder", function="bilge_blower"), on_the_key("sounder")),
        chained(PETROL, load("sounder", function="bilge_blower")),
    ),
    ("Z21", hull(length_m=7.9, thrust_n=512.0), hull(length_m=7.9, thrust_n=511.0)),
    ("Z22", hull(length_m=7.9), hull(length_m=7.95)),
    ("P38", turned_from("jack_helm", "jack_aft"), turned_from("jack_helm")),
    ("P39", nothing, supply("HB", total_max_a=40.0)),  # without options nothing hangs on it
    ("P37", circuit("C50", supply="IGN"), circuit("C50", supply="HFB")),
    ("P26", override("F01", gauge="16 AWG"), override("F01", gauge="10 AWG")),
    ("P27", supply("CRL", feeds=(Feed(source="BAT", family="post fuse"),)), nothing),
    (
        "S19",
        load("horn", running_a=8.1, peak_a=None, maker_fuse_a=10.0),
        load("horn", running_a=8.0, peak_a=None, maker_fuse_a=10.0),
    ),
    ("P31", FAR_RADIO, chained(FAR_RADIO, load("vhf", drop="other"))),
    ("P30", override("F12", gauge="10 AWG"), override("F12", gauge="2/0 AWG")),
    ("P29", override("F05", protection_a="60"), override("F05", protection_a="70")),
    ("P18", supply("ALB", ways=3), supply("ALB", ways=4)),
    ("A16", nothing, without_safety),
    ("A17", load("tank_pump_p", safety="navigation"), without_safety),
    ("A18", nothing, without_safety),
    ("A19", nothing, without_safety),
    ("A20", nothing, without_safety),
    ("A20", without_words, without_safety),
    (
        "A28",
        chained(load("bp_aft", leads=(PLUS, MINUS)), circuit("C02", **BARE_PUMP)),
        chained(load("bp_aft", leads=(PLUS, MINUS), contact_a=15.0), circuit("C02", **BARE_PUMP)),
    ),
    ("A29", chained(float_pump("unswitched")), chained(float_pump("battery_direct"))),
    ("A30", circuit("C08", contact=ContactRequest(switch="s_horn")), nothing),
    ("A31", profile(automatic_pump="helm_manual"), nothing),
    ("A21", profile(automatic_pump="automatic_only"), nothing),
    ("A22", profile(pump_switch="three_position"), nothing),
    ("A23", profile(helm_protection="one_fuse"), nothing),
    ("A24", leads("horn", minus=False), leads("horn")),
    ("A25", circuit("C04", level="unswitched"), circuit("C04", level="battery_direct")),
    ("A26", override("s_horn", helm_position="20"), override("s_horn", helm_position="1")),
    ("A26", override("s_horn", helm_position="20"), override("s_horn", helm_position="21")),
    ("A27", helm(12), helm(13)),
    ("Z01", area("battery", fuel_vapour=True), area("deck", fuel_vapour=True)),
    (
        "Z02",
        chained(area("wheelhouse", water="spray"), supply("HFB", ingress="dry")),
        chained(area("wheelhouse", water="spray"), supply("HFB", ingress="spray")),
    ),
    ("Z03", load("horn", heat_c=29.0), load("horn", heat_c=30.0)),
    (
        "Z04",
        chained(area("wheelhouse", engine_heat=True), profile(insulation_c=60)),
        chained(area("wheelhouse", engine_heat=True), profile(insulation_c=75)),
    ),
    ("Z05", area("battery", fuel_vapour=True), area("wheelhouse", fuel_vapour=True)),
    ("Z06", profile(grease="in_barrel"), profile(grease="at_landing")),
    ("Z07", area("wheelhouse", water="submersible"), area("wheelhouse", water="spray")),
    ("Z08", area("wheelhouse", ambient_c=81.0), area("wheelhouse", ambient_c=80.0)),
    ("Z09", boat(bonds=()), grp),
    ("Z10", bonded("10 AWG"), bonded("8 AWG")),
    (
        "Z11",
        boat(hull_joins=("transom", "battery")),
        chained(boat(hull_joins=("battery",)), profile(negative_to_hull="one_point")),
    ),
    (
        "Z12",
        boat(hull_joins=("battery",)),
        chained(boat(hull_joins=("battery",)), profile(negative_to_hull="one_point")),
    ),
    (
        "Z13",
        profile(negative_to_hull="one_point"),
        chained(boat(hull_joins=("battery",)), profile(negative_to_hull="one_point")),
    ),
    ("Z14", area("wheelhouse", water="spray"), area("wheelhouse", water="dry")),
    (
        "Z14",
        chained(area("wheelhouse", water="spray"), sealed_switches, panel(gasket=False)),
        chained(area("wheelhouse", water="spray"), sealed_switches, panel(gasket=True)),
    ),
    ("Z15", override("C02", gauge="4 AWG"), override("C01", gauge="4 AWG")),
    ("Z16", area("wheelhouse", water="spray"), area("wheelhouse", water="dry")),
    ("Z17", area("wheelhouse", water="submersible"), area("wheelhouse", water="spray")),
    ("Z23", area("battery", fuel_vapour=True), area("bracket", fuel_vapour=True)),
    ("Z18", area("wheelhouse", fuel_vapour=True), area("battery", fuel_vapour=True)),
    ("G01", chained(FAINT, IN_PAIR, FAR_RETURN), chained(FAINT, IN_PAIR)),
    ("G02", chained(IN_CABLE, load("vhf", station="helm")), IN_CABLE),
    ("G03", chained(IN_CABLE, three_cores_only), IN_CABLE),
    ("G04", chained(IN_CABLE, override("C10", return_bus="NB0")), IN_CABLE),
    ("R09", recorded("mains"), recorded("data")),
    ("R10", chained(recorded("coax"), heavy_helm), recorded("coax")),
    (
        "R07",
        run("K06", support_mm=457.3, enclosure="loom"),
        run("K06", support_mm=457.2, enclosure="loom"),
    ),
    ("R08", profile(tie_spacing_mm=450.0), profile(tie_spacing_mm=300.0)),
]


@pytest.fixture(scope="module")
def setup(boat: Boat, order: Order) -> Setup:
    """The standard fit without options."""
    plain = dataclasses.replace(order, options=(), overrides=(), accepted=())
    return Setup(boat, plain, shipped_catalogue())


def codes(setup: Setup) -> set[str]:
    return {finding.code for finding in drafted(setup).findings}


@pytest.mark.parametrize(
    ("code", "mistake", "near"), CASES, ids=[f"{c[0]}-{i}" for i, c in enumerate(CASES)]
)
def test_a_rule_fires_on_its_mistake_only(
    setup: Setup, code: str, mistake: Change, near: Change
) -> None:
    assert code in codes(mistake(setup))
    assert code not in codes(near(setup))


ELSEWHERE = {"S11", "P08", "P09", "A02", "A03"}  # tests of their own in test_rules


def test_no_rule_is_left_untested() -> None:
    tested = {case[0] for case in (*CASES, *test_rules.CASES, *test_rules.OVERRULED)}
    tested |= {*test_makers.CODES, *test_rules_runs.CODES, *test_helm.CODES, *ELSEWHERE}
    tested |= test_breaker_levers.CODES | test_recorded.CODES
    assert {kind.code for kind in kinds()} == tested
    assert len(kinds()) >= 80


def test_every_rule_says_what_to_do_and_whence() -> None:
    for kind in kinds():
        assert kind.title and kind.sentence.endswith(".") and kind.remedy.endswith(".")
        assert str(kind.source)
        assert kind.severity in ("error", "judge", "note")


def test_the_page_of_rules_is_the_one_the_command_writes() -> None:
    page = Path(__file__).parents[2] / "docs" / "rules.md"
    assert page.read_text() == rules_markdown()
    assert all(f"| {kind.code}" in page.read_text() for kind in kinds())
