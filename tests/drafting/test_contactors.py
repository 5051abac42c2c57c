"""Motors worked through contactor pairs: both coils at once, interlocks, and how they are fed."""

import dataclasses
from typing import Literal

import pytest

from tests.drafting.test_supply_shapes import circuit, codes, drafted, errors, load, order
from tests.drafting.test_supply_shapes import selector_boat as boat_with_a_selector
from vivid_loom.boat import Boat, ContactRequest, Feeding, Fit, Lead, Load, SwitchRequest
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.drafting.remedy import remedy
from vivid_loom.netlist import moved_by
from vivid_loom.order import Order, add_fit, remove_loads
from vivid_loom.order.new_loads import fed, given_up, refed
from vivid_loom.power.board import Board
from vivid_loom.power.powered import power_up
from vivid_loom.power.setting import Setting
from vivid_loom.power.sneak_boat import prove_draft
from vivid_loom.sheets.proof import proven

Kind = Literal["two directions", "reversed"]
STATIONS = ("", ", two stations")


def motor(*leads: str) -> Load:
    studs = tuple(Lead(function=f, ending="stud M8") for f in leads)  # type: ignore[arg-type]
    return dataclasses.replace(
        load("winch", "a3_port", 40.0, motor=True, function="heavy_motor", duty_percent=10.0),
        leads=studs,
        maker_fuse_a=60.0,
    )


def by_contactors(kind: Kind, stations: str) -> tuple[Order, Boat]:
    leads = ("up", "down", "minus") if kind == "two directions" else ("up", "down")
    feeding: Feeding = f"{kind} by contactors{stations}"  # type: ignore[assignment]
    boat = boat_with_a_selector()
    fit = fed([motor(*leads)], feeding, "Winch", {"winch"})
    circuits = [dataclasses.replace(c, supply="B1") if c.id == "N01" else c for c in fit.circuits]
    return order(list(fit.loads), circuits, *fit.switches), boat


def pressed(done: Draft, **states: str) -> tuple[set[str], dict[str, str]]:
    """Return what turns with the selector on 1 and levers pressed, and every lever's state."""
    now = power_up(Board(done), Setting(states={"SEL": "1", **states}))
    return {e for e in ("winch up", "winch down") if now.runs(e)}, dict(now.states)


def changed(done: Draft, fit: Fit) -> Draft:
    return draft(add_fit(fit)[1](done.aboard.order), done.aboard.boat, shipped_catalogue())


@pytest.mark.parametrize("stations", STATIONS)
@pytest.mark.parametrize("kind", ["two directions", "reversed"])
def test_it_turns_as_it_is_pressed_from_every_station(kind: Kind, stations: str) -> None:
    """Each station drives it either way; two against one another never drive it both ways."""
    done = drafted(*by_contactors(kind, stations))
    assert errors(done) == []
    levers = [s.request.id for s in done.switches if not s.request.coil]
    assert len(levers) == (2 if stations else 1)
    for lever in levers:
        for press in ("up", "down"):
            assert pressed(done, **{lever: press})[0] == {f"winch {press}"}
    assert pressed(done)[0] == set()
    if stations:
        against = pressed(done, **dict(zip(levers, ("up", "down"), strict=True)))
        assert len(against[0]) < 2
    proof = prove_draft(done, net_list(done))
    assert proof.holds, proof.sneaks
    assert proven(done).standing == ()


def plain_pair(done: Draft) -> Draft:
    """Return a draft with its pair one without break contacts."""
    pair = next(s.request for s in done.switches if s.request.coil)
    return changed(done, Fit(switches=(dataclasses.replace(pair, part="contactor-each-way-100"),)))


def test_two_stations_on_a_pair_without_interlock_are_found_and_remedied() -> None:
    """Pressed against one another they would feed both windings: the rule, proof and Power say."""
    done = plain_pair(drafted(*by_contactors("two directions", STATIONS[1])))
    assert codes(done) >= {"P38"}
    levers = [s.request.id for s in done.switches if not s.request.coil]
    turning, states = pressed(done, **dict(zip(levers, ("up", "down"), strict=True)))
    assert turning == {"winch up", "winch down"} and "both" in states.values()
    found = {what for sneak in prove_draft(done, net_list(done)).sneaks for what in sneak.what}
    assert found & {"winch up", "winch down"}
    fix = remedy(next(f for f in done.findings if f.code == "P38"), done, done.aboard.boat)
    assert fix is not None
    mended = draft(fix[1](done.aboard.order), done.aboard.boat, shipped_catalogue())
    assert "P38" not in codes(mended) and prove_draft(mended, net_list(mended)).holds
    wired = {w.start.point: w.end.point for w in mended.assembled.wires if w.start.point in "UC DC"}
    assert wired == {"UC": "up", "DC": "down"}  # each coil behind the other's break contact


def test_one_station_needs_no_interlock() -> None:
    done = plain_pair(drafted(*by_contactors("two directions", "")))
    assert "P38" not in codes(done) and prove_draft(done, net_list(done)).holds


def test_two_stations_straight_on_a_motor_are_put_behind_contactors() -> None:
    boat = boat_with_a_selector()
    fit = fed([motor("up", "down", "minus")], "two directions, two stations", "Winch", {"winch"})
    done = drafted(order(list(fit.loads), list(fit.circuits), *fit.switches), boat)
    fix = remedy(next(f for f in done.findings if f.code == "P38"), done, done.aboard.boat)
    assert fix is not None
    mended = draft(fix[1](done.aboard.order), done.aboard.boat, shipped_catalogue())
    assert "P38" not in codes(mended) and prove_draft(mended, net_list(mended)).holds
    by_hand = [s for s in mended.switches if not s.request.coil]
    assert {s.request.id for s in by_hand} == {s.request.id for s in done.switches}


def test_a_pair_is_one_part_of_four_studs() -> None:
    """Feed, return and both motor leads land on it; nothing crosses outside, and it is bought."""
    done = drafted(*by_contactors("reversed", ""))
    pair = next(s for s in done.switches if s.request.coil)
    landed = {
        end.point
        for wire in done.assembled.wires
        for end in (wire.start, wire.end)
        if end.place == pair.place
    }
    assert landed == {"1C", "1U", "1D", "2C"} == set(pair.part.terminals)
    assert not any(w.jumper for w in done.assembled.wires if w.start.place == pair.place)


def test_feeding_otherwise_changes_the_switch_and_takes_the_coils_away() -> None:
    """A latching rocker becomes a momentary one; back from contactors, their coils go."""
    boat = boat_with_a_selector()
    fit = fed([load("light", "a0_port", 1.0)], "helm switch", "Light", {"light"})
    done = drafted(order(list(fit.loads), list(fit.circuits), *fit.switches), boat)
    request = done.aboard.circuits[0]
    taken = {*done.aboard.loads, *done.aboard.switches, request.id}
    again = refed(request, "helm button", taken, done.aboard.fit, shipped_catalogue())
    assert [(s.id, s.part) for s in again.switches] == [("s_light", "rocker-momentary")]
    same = refed(request, "helm switch", taken, done.aboard.fit, shipped_catalogue())
    assert [s.part for s in same.switches] == ["rocker-spst"]

    done = drafted(*by_contactors("two directions", ""))
    request = next(c for c in done.aboard.circuits if c.loads == ("winch",))
    gone = given_up(request, done.aboard.fit)
    assert [x.id for x in gone] == ["winch_coils"]
    taken = {*done.aboard.loads, *done.aboard.switches, request.id}
    again = refed(request, "two directions", taken, done.aboard.fit, shipped_catalogue())
    put = add_fit(again)[1](remove_loads(gone)[1](done.aboard.order))
    after = draft(put, boat, shipped_catalogue())
    assert [s.request.id for s in after.switches] == ["s_winch_control"]
    assert not any(s.request.coil for s in after.switches) and len(after.aboard.circuits) == 1


def test_a_stronger_part_is_moved_by_what_moved_the_weaker() -> None:
    """A contactor is never replaced by something that a hand presses."""
    boat = boat_with_a_selector()
    fit = fed([load("light", "a0_port", 1.0)], "helm button", "Light", {"light"})
    coil = SwitchRequest(id="k", part="contactor-100", legend="K", station="a0_port", coil="coil")
    big = dataclasses.replace(motor("plus", "minus"), maker_fuse_a=150.0, running_a=130.0)
    circuits = [
        *fit.circuits,
        circuit("C1", "switched", "winch", supply="B1", contact=ContactRequest(switch="k")),
        circuit("C2", "device_switched", "coil"),
    ]
    loads = [*fit.loads, big, load("coil", "a0_port", 1.0)]
    done = drafted(order(loads, circuits, *fit.switches, coil), boat)
    fix = remedy(next(f for f in done.findings if f.code in ("S08", "S18")), done, done.aboard.boat)
    assert fix is not None
    mended = draft(fix[1](done.aboard.order), boat, shipped_catalogue())
    assert next(s for s in mended.switches if s.request.id == "k").part.id == "contactor-200"


@pytest.mark.parametrize(
    ("now", "live", "then"),
    [
        ("off", (), "off"),
        ("off", ("up", "down"), "up"),
        ("up", ("up", "down"), "both"),
        ("down", ("up", "down"), "both"),
        ("both", ("down",), "down"),
        ("both", (), "down"),
        ("down", (), "off"),
    ],
)
def test_one_coil_of_a_pair_moves_at_a_time(now: str, live: tuple[str, ...], then: str) -> None:
    assert moved_by(("off", "up", "down", "both"), now, live) == then


def test_the_first_to_pull_holds_where_something_inside_keeps_the_other_off() -> None:
    states = ("off", "up", "down")
    assert moved_by(states, "off", ("up", "down")) == "up"
    assert moved_by(states, "down", ("up", "down")) == "down"
    assert moved_by(states, "down", ("up",)) == "up"
