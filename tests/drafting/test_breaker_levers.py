"""Breakers whose levers stand on a panel: one thing on every sheet, one in every circuit."""

import dataclasses
from pathlib import Path

import pytest

from tests.changes import (
    Change,
    Setup,
    catalogue,
    chained,
    drafted,
    nothing,
    profile,
    supply,
    switch,
)
from tests.conftest import drafted as demo_draft
from vivid_loom.bench.aboard.plan import alive_plan
from vivid_loom.boat import Boat, generic_loads
from vivid_loom.catalogue import SwitchPart, instead_of, read_catalogue, shipped_catalogue
from vivid_loom.catalogue.files import CATALOGUE_FORMAT, CATALOGUE_VERSION
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.drafting.after.tab_steps import tab_steps
from vivid_loom.drafting.after.truth import Truth
from vivid_loom.drafting.remedy import remedy
from vivid_loom.order import Order, add_fit
from vivid_loom.order.new_loads import fed
from vivid_loom.power.board import Board
from vivid_loom.power.powered import power_up
from vivid_loom.power.setting import Setting, scenario_setting
from vivid_loom.quantities.document import DocumentError, document_text
from vivid_loom.sheets import packet_table
from vivid_loom.sheets.words.bench_words import alive_words

LEVERS = {"C16": "s_c16", "C17": "s_c17", "C18": "s_c18", "C20": "s_c20"}


@pytest.fixture(scope="module")
def setup(boat: Boat, order: Order) -> Setup:
    """The standard fit without options."""
    plain = dataclasses.replace(order, options=(), overrides=(), accepted=())
    return Setup(boat, plain, shipped_catalogue())


def panels(**changed: object) -> Change:
    """Have the breakers' panel otherwise."""

    def apply(setup: Setup) -> Setup:
        made = (
            dataclasses.replace(panel, **changed) if panel.id == "breakers" else panel  # type: ignore[arg-type]
            for panel in setup.boat.panels
        )
        return setup._replace(boat=dataclasses.replace(setup.boat, panels=tuple(made)))

    return apply


def strong(rated_a: float) -> Change:
    """Have toggles with breakers made up to another rating."""
    parts = tuple(
        dataclasses.replace(part, rated_a=rated_a) if part.id == "breaker-toggle" else part
        for part in shipped_catalogue().switches
    )
    return catalogue(switches=parts)


CASES: list[tuple[str, str, Change, Change]] = [
    ("A51", "a rocker that holds none", switch("s_c20", part="rocker-spst-dark"), nothing),
    ("A52", "a fuse and a breaker", switch("s_tank_p", part="breaker-rocker"), nothing),
    ("A53", "at another station", panels(station="roof_fore"), panels(station="dash")),
    ("A54", "15 A asked of 14", strong(14.0), strong(15.0)),
]


CODES = {case[0] for case in CASES}


@pytest.mark.parametrize(
    ("code", "mistake", "near"), [pytest.param(c, m, n, id=f"{c} {w}") for c, w, m, n in CASES]
)
def test_a_lever_and_its_breaker_belong_together(
    setup: Setup, code: str, mistake: Change, near: Change
) -> None:
    assert code in {f.code for f in drafted(mistake(setup)).findings}
    assert code not in {f.code for f in drafted(near(setup)).findings}


@pytest.mark.parametrize("code", ["A51", "A52"])
def test_one_key_fits_the_lever_that_belongs_there(setup: Setup, code: str) -> None:
    wrong = next(mistake for c, _, mistake, _ in CASES if c == code)(setup)
    done = drafted(wrong)
    finding = next(f for f in done.findings if f.code == code)
    fix = remedy(finding, done, done.aboard.boat)
    assert fix is not None
    mended = draft(fix[1](wrong.order), wrong.boat, wrong.catalogue)
    assert code not in {f.code for f in mended.findings}
    assert "would do" in finding.sentence()


def test_the_bar_feeds_the_lever_and_the_lever_its_circuit(full: Draft) -> None:
    net = net_list(full)
    contacts = {contact.ends: contact for contact in net.contacts}
    for name, lever in LEVERS.items():
        row = full.circuit(name)
        assert row is not None and row.sized is not None and row.sized.protection is not None
        place = full.breaker_levers[name].place
        assert contacts["HBP bar", f"{place} 1C"].actuator == ""
        assert contacts[f"{place} 1C", f"{place} 1U"].actuator == lever
        device = contacts[f"{place} 1U", f"{name} device"].device
        assert device is not None
        assert (device.family, device.rating_a) == ("breaker", row.sized.protection.value)
        assert not any(a.id == f"{name} breaker" for a in net.actuators)  # one hand, one lever


def test_a_breaker_without_a_lever_is_thrown_where_it_sits() -> None:
    """Hull 0423's panel has no levers for its breakers: the hand that moves each is its own."""
    done = demo_draft(DEMO_FOLDER / "hull-0423.loom.json")
    by_hand = [row for row in done.circuits if row.planned.pattern == "breaker"]
    assert len(by_hand) == 6 and not done.breaker_levers
    net = net_list(done)
    held = {c.device.listed: c for c in net.contacts if c.device}
    for row in by_hand:
        hand = net.actuators_by_id[f"{row.id} breaker"]
        assert (hand.part, hand.states) == (row.planned.source, ("on", "off"))
        assert (held[row.id].actuator, held[row.id].closed_in) == (hand.id, ("on",))
    hands = {a.id for a in net.actuators if a.id.endswith(" breaker")}
    assert hands == {f"{row.id} breaker" for row in by_hand}


def test_its_lever_alone_makes_its_loads_run(full: Draft) -> None:
    truth = Truth(full)
    for name, lever in LEVERS.items():
        row = full.circuit(name)
        assert row is not None
        runs = {f"{load} plus" for load in row.planned.loads}
        woken = truth.at({lever: "up"}).on - truth.rest.on
        assert runs == {name for name in woken if not name.endswith(" lamp")}
        assert not runs & truth.rest.on
    board = Board(full)
    up = {"BSW": "1", "s_c20": "up"}
    assert power_up(board, Setting(states=up)).amps["C20-P1"] > 1.0
    assert abs(power_up(board, Setting(states=up | {"s_c20": "off"})).amps["C20-P1"]) < 1e-3


def test_levers_are_off_by_day_where_nobody_uses_what_they_feed(full: Draft) -> None:
    by_day = scenario_setting(full, "under way by day").states
    by_night = scenario_setting(full, "under way by night").states
    assert "s_c18" not in by_day and by_night["s_c18"] == "up"
    assert by_day["s_c20"] == "up"


def test_it_is_bought_once_with_its_rating_and_named_alike(full: Draft) -> None:
    rows = packet_table(full, "materials").rows
    bought = {row.item: row.quantity for row in rows if "breaker" in row.item}
    assert bought["toggle with breaker, 3 A"] == "3"
    assert bought["toggle with breaker, 15 A"] == "2"
    levers = sum(int(n) for item, n in bought.items() if item.startswith("toggle with breaker"))
    assert levers == len(full.breaker_levers) == 8
    rows_ = [row for row in full.rows if row.id not in full.breaker_levers]
    others = [row for row in rows_ if row.planned.family == "breaker"]
    apart = [int(row.quantity) for row in rows if row.item.startswith("breaker ")]
    assert sum(apart) - 1 == len(others)  # and the panel with its bar
    place = full.breaker_levers["C20"].place
    row = next(r for r in packet_table(full, "schedule").rows if r.circuit_id == "C20")
    assert row.protection_place == f"{place}, on the bar of HBP"
    chart = next(r for r in packet_table(full, "fusechart").rows if r.circuit_id == "C20")
    assert (chart.block, chart.way) == ("HBP", place)
    step = next(s for s in alive_plan(full).steps if s.id == "circuits C20")
    assert "Its lever is a breaker 10 A" in alive_words(full, step).asks


def test_what_lands_on_its_screws_is_put_on_step_by_step(full: Draft) -> None:
    lever = full.breaker_levers["C20"]
    (step,) = tab_steps(lever.place, lever.part, full.assembled.wires)
    assert (step.tab, step.onto, step.wire) == ("1U", "the screw", "C20-P1")


def test_a_spare_lever_counts_on_the_bar_that_would_feed_it(full: Draft, setup: Setup) -> None:
    """Three rockers' places are free, and two of ten levers'; a bar without a way feeds none."""
    allowance = full.aboard.profile.spare_allowance_a
    spare = {name: full.needs[name].out.spare_sum_a / allowance for name in ("F04", "F05")}
    assert spare == {"F04": 2, "F05": 3}
    tight = drafted(supply("HBP", ways=6)(setup))
    assert tight.needs["F04"].out.spare_sum_a == 0
    assert tight.needs["F05"].out.spare_sum_a > 0


def test_levers_take_the_holes_they_fit(setup: Setup) -> None:
    """Rockers and toggles share no hole while each has one of its own kind left."""
    done = drafted(setup)
    for one in done.switches:
        panel = done.aboard.boat.panel_at(one.position)
        assert panel is None or panel.cut_out == one.part.cut_out
    tight = drafted(chained(panels(positions=4))(setup))
    left = [s for s in tight.switches if s.part.breaker and s.position <= 20]
    assert len(left) == 2 and {f.code for f in tight.findings} >= {"A50"}


def test_the_school_of_fuses_leaves_a_lever_in_its_place(setup: Setup) -> None:
    before = drafted(setup).allocation.positions
    fused = drafted(profile(helm_protection="fuse_block")(setup))
    assert fused.breaker_levers == {}
    row = fused.circuit("C20")
    assert row is not None and row.planned.pattern == "switched"
    lever = next(s for s in fused.switches if s.request.id == "s_c20")
    assert lever.part.id == "rocker-spst" and lever.request.legend == "12 V SOCKET"
    assert before.keys() == fused.allocation.positions.keys()


def test_only_its_like_stands_in_for_a_breaker() -> None:
    kept = shipped_catalogue()
    plain, breaker = kept.switch("rocker-spst"), kept.switch("breaker-toggle")
    assert plain is not None and breaker is not None
    assert "breaker" not in instead_of(plain, kept, lambda part: True)
    assert instead_of(breaker, kept, lambda part: True) == (
        "rocker with breaker, lamp inside would do"
    )


@pytest.mark.parametrize("arrangement", ["DPST", "SPDT"])
def test_a_breaker_holds_one_circuit(tmp_path: Path, arrangement: str) -> None:
    part = SwitchPart(
        id="two",
        name="two in one",
        arrangement=arrangement,  # type: ignore[arg-type]
        action="latching",
        rated_a=10.0,
        breaker=True,
    )
    kept = dataclasses.replace(shipped_catalogue(), switches=(part,))
    path = tmp_path / "two.catalogue.json"
    path.write_text(document_text(kept, CATALOGUE_FORMAT, CATALOGUE_VERSION), "utf-8")
    with pytest.raises(
        DocumentError, match=r"switches\[0\].breaker: found a lever, " + arrangement
    ):
        read_catalogue(path)


def test_a_lit_rocker_with_a_breaker_shows_its_own_circuit(setup: Setup) -> None:
    """Its lamp hangs inside on its output: lit while the lever is up, dark with its fuse open."""
    done = drafted(switch("s_c20", part="breaker-rocker")(setup))
    assert not [f.sentence() for f in done.findings if f.severity == "error"]
    lever = done.breaker_levers["C20"]
    assert done.lever_ratings_a["s_c20"] == 10.0
    lamp = f"{lever.place} upper lamp"
    truth = Truth(done)
    assert lamp not in truth.rest.on and lamp in truth.at({"s_c20": "up"}).on
    minus = [
        w
        for w in done.assembled.wires
        if (lever.place, "L-") in ((w.start.place, w.start.point), (w.end.place, w.end.point))
    ]
    assert minus  # it comes home by the chain of minus tabs, or by a wire of its own
    board = Board(done)
    lit = power_up(board, Setting(states={"BSW": "1", "s_c20": "up"}))
    dark = power_up(board, Setting(states={"BSW": "1"}))
    assert lamp in lit.running and lamp not in dark.running


def test_a_load_is_fed_by_a_breaker_on_a_panel(setup: Setup) -> None:
    """*Feed … → breaker on a panel*: one new circuit with its lever, on the bar at the helm."""
    done = drafted(setup)
    kind = next(load for load in generic_loads() if load.id == "usb")
    load = kind.load("usb_new", "USB outlet, new", "dash", 12.0)
    taken = {*done.aboard.loads, *done.aboard.switches, *done.aboard.boat.places_by_id}
    fit = fed([load], "breaker on a panel", "USB outlet, new", taken)
    (circuit,), (lever,) = fit.circuits, fit.switches
    assert circuit.pattern == "breaker" and lever.part == "breaker-toggle"
    order = add_fit(fit)[1](setup.order)
    after = draft(order, setup.boat, setup.catalogue)
    assert not [f.sentence() for f in after.findings if f.severity == "error"]
    fitted = after.breaker_levers[circuit.id]
    panel = after.aboard.boat.panel_at(fitted.position)
    assert panel is not None and panel.id == "breakers"
    assert after.circuit(circuit.id) is not None
