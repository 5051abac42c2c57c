"""The back of a panel: what its jumpers do, and that a wrong one never passes unseen."""

import dataclasses
import itertools

import numpy as np
import pytest
from scipy.optimize import linear_sum_assignment

from tests.changes import (
    Change,
    Setup,
    boat,
    by_hand,
    catalogue,
    chained,
    circuit,
    drafted,
    load,
    nothing,
    override,
    profile,
    switch,
)
from tests.conftest import drafted as drafted_order
from vivid_loom.boat import Boat, ContactRequest, FactoryLink, Lead
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.net import lamp_element, net_list
from vivid_loom.drafting.after.truth import Truth, press_rows
from vivid_loom.order import Order
from vivid_loom.quantities import Gauge
from vivid_loom.sheets import packet_table
from vivid_loom.standards.ampacity import ampacity_a
from vivid_loom.standards.conductor import area_mm2

BOTH_WAYS = chained(
    switch("s_flood_aft", part="rocker-spdt"),
    circuit("C07", contact=ContactRequest(switch="s_flood_aft", throws=("up", "down"))),
)


def deep(part_mm: float, panel_mm: float) -> Change:
    """Fit rockers of one depth before a space of another."""
    switches = shipped_catalogue().switches
    parts = tuple(dataclasses.replace(part, depth_mm=part_mm) for part in switches)

    def apply(setup: Setup) -> Setup:
        first, *others = setup.boat.panels
        panels = (dataclasses.replace(first, depth_mm=panel_mm), *others)
        return boat(panels=panels)(catalogue(switches=parts)(setup))

    return apply


def holed(cut_out: str) -> Change:
    """Have the panel arrive with cut-outs."""

    def apply(setup: Setup) -> Setup:
        first, *others = setup.boat.panels
        return boat(panels=(dataclasses.replace(first, cut_out=cut_out), *others))(setup)

    return apply


def linked(from_tab: str, to_tab: str, length_mm: float = 80.0) -> Change:
    """Have the panel arrive with a link."""

    def apply(setup: Setup) -> Setup:
        link = FactoryLink(from_tab=from_tab, to_tab=to_tab, length_mm=length_mm)
        first, *others = setup.boat.panels
        return boat(panels=(dataclasses.replace(first, links=(*first.links, link)), *others))(setup)

    return apply


def lost(*ends: str) -> Change:
    return by_hand(*ends, laid=False)


CASES: list[tuple[str, str, Change, Change]] = [
    ("A32", "two outputs joined", by_hand("s_tank_p 1U", "s_tank_s 1U"), nothing),
    ("A32", "output joined to a feed", by_hand("s_tank_p 1U", "s_tank_s 1C"), nothing),
    ("A32", "a lamp fed from another's output", by_hand("s_tank_p A+", "s_washdown 1U"), nothing),
    (
        "A33",
        "lower press left dead",
        chained(BOTH_WAYS, lost("s_flood_aft 1U", "s_flood_aft 1D")),
        BOTH_WAYS,
    ),
    ("A34", "output joined to the minus chain", by_hand("s_tank_p 1U", "s_tank_p L-"), nothing),
    ("A34", "feed joined to a minus", by_hand("s_tank_p 1C", "s_tank_s L-"), nothing),
    ("A35", "minus chain cut in two", lost("s_tank_p L-", "s_tank_s L-"), nothing),
    ("A36", "a lamp's feed left out", lost("s_tank_p 1U", "s_tank_p A+"), nothing),
    ("A36", "second lamp's feed left out", lost("s_tank_p A+", "s_tank_p B+"), nothing),
    ("A36", "a lamp on the feed", by_hand("s_tank_p 1C", "s_tank_p A+"), nothing),
    ("A36", "minus of the last switch left out", lost("s_tank_p L-", "s_tank_s L-"), nothing),
    (
        "A37",
        "lower press of an on-off rocker",
        switch("s_tank_p", upper_lamp="down"),
        switch("s_tank_p", upper_lamp="up"),
    ),
    ("A38", "a switch that is not aboard", by_hand("s_search 1U", "s_tank_p 1U"), nothing),
    ("A38", "a tab that the part lacks", by_hand("s_tank_p 2U", "s_tank_p 1U"), nothing),
    ("A49", "decided by hand", by_hand("s_tank_p 1U", "s_washdown B+"), nothing),
    ("P09", "three on a tab", by_hand("s_tank_p 1U", "s_washdown B+"), nothing),
    ("A39", "two feeds joined", by_hand("s_tank_p 1C", "s_tank_s 1C"), nothing),
    ("A39", "a lamp on two outputs", by_hand("s_tank_p A+", "s_tank_s 1C"), nothing),
    (
        "A40",
        "a legend from stock",
        switch("s_tank_p", legend_says="AERATOR"),
        switch("s_tank_p", legend_says="TANK PORT"),
    ),
    ("A41", "one legend twice", switch("s_tank_s", legend="TANK PORT"), nothing),
    (
        "A42",
        "navigation lights that spring back",
        switch("s_nav", part="rocker-dpdt-momentary"),
        nothing,
    ),
    ("A43", "a horn that stays on", switch("s_horn", part="rocker-spst"), nothing),
    ("A44", "a switch too deep", deep(46.0, 45.0), deep(45.0, 45.0)),
    ("A50", "rockers in round holes", holed("12 mm round"), holed("37 × 21 mm")),
    (
        "A50",
        "a toggle in a rocker's hole",
        chained(holed("37 × 21 mm"), switch("s_flood_aft", part="toggle-light")),
        holed(""),
    ),
    ("A09", "anchor light left out of the lower press", lost("s_nav 2U", "s_nav 2D"), nothing),
    (
        "A09",
        "side lights at both presses",
        circuit("C05", contact=ContactRequest(switch="s_nav", throws=("up", "down"))),
        nothing,
    ),
    ("A09", "side lights joined to the all-round light", by_hand("s_nav 1U", "s_nav 2U"), nothing),
    ("A08", "half a double pole", circuit("C05", contact=ContactRequest(switch="s_horn")), nothing),
]
# a stern light alone is of no power-driven vessel; nor is a press that leaves the white light out
CASES += [
    ("A45", "side lights alone", load("all_round", shows="stern"), nothing),
    (
        "A45",
        "no side lights on a boat of 8.6 m",
        chained(load("side_s", shows=""), load("side_p", shows="stern")),
        chained(load("side_s", shows=""), nothing),
    ),
    ("A46", "never a light at anchor", load("all_round", shows="masthead"), nothing),
]
CASES += [
    ("A47", "feeds joined by the maker", linked("1 1C", "2 1C"), linked("1 L-", "2 L-")),
    ("A48", "a tab that is not there", linked("1 1C", "2 7C"), linked("1 1C", "19 1C")),
    ("A48", "no position at all", linked("one 1C", "2 1C"), linked("1 1C", "2 1C")),
]
CODES = {case[0] for case in CASES if "A31" < case[0] < "B"}


@pytest.fixture(scope="module")
def setup(boat: Boat, order: Order) -> Setup:
    """The standard fit without options."""
    plain = dataclasses.replace(order, options=(), overrides=(), accepted=())
    return Setup(boat, plain, shipped_catalogue())


def told(setup: Setup) -> set[str]:
    return {finding.code for finding in drafted(setup).findings}


@pytest.mark.parametrize(
    ("code", "mistake", "near"),
    [pytest.param(c, m, n, id=f"{c} {words}") for c, words, m, n in CASES],
)
def test_a_mistake_behind_the_panel_is_found_and_named(
    setup: Setup, code: str, mistake: Change, near: Change
) -> None:
    assert code in told(mistake(setup))
    assert code not in told(near(setup))


def cut_ends(setup: Setup) -> list[tuple[str, str]]:
    rows = packet_table(drafted(setup), "caps").rows
    return [(row.end, row.to_do) for row in rows if "factory link" in row.what]


def test_a_factory_chain_is_split_and_its_ends_are_listed(setup: Setup) -> None:
    """A short lead is insulated; one as long as the new feed may be it."""
    short = cut_ends(linked("1 1C", "2 1C", 80.0)(setup))
    assert [end for end, _ in short] == ["SW1 1C", "SW2 1C"]
    assert "cut close to SW2 1C" in short[0][1] and "80 mm left, too short to be" in short[0][1]
    long = cut_ends(linked("1 1C", "2 1C", 5000.0)(setup))
    assert "5000 mm left, long enough to be C02-M1b" in long[0][1]


def test_a_minus_chain_of_the_maker_stays_and_takes_the_place_of_a_jumper(setup: Setup) -> None:
    plain = drafted(setup)
    position = {switch.place: switch.position for switch in plain.switches}

    def chain(done: Draft) -> set[frozenset[str]]:
        ends = [(w.start, w.end) for w in done.assembled.wires if w.for_lamp and w.jumper]
        return {frozenset((a.place, b.place)) for a, b in ends if (a.point, b.point) == ("L-",) * 2}

    first, second = sorted(next(iter(chain(plain))))
    by_maker = linked(f"{position[first]} L-", f"{position[second]} L-")(setup)
    done = drafted(by_maker)
    assert cut_ends(by_maker) == []
    assert chain(plain) - chain(done) == {frozenset((first, second))}
    # and every lamp still burns as it did: the link is in the net list
    lit = [[row.lit for row in press_rows(one)] for one in (plain, done)]
    assert lit[0] == lit[1] and not any(row.wrong for row in press_rows(done))
    net = net_list(done)
    kept = tuple(c for c in net.conductors if " link " not in c.id)
    assert len(kept) == len(net.conductors) - 1
    without = Truth(done, dataclasses.replace(net, conductors=kept))
    assert any(row.wrong for row in without.rows)


@pytest.mark.parametrize("insulation_c", [60, 75, 105])
def test_a_lamps_wire_is_no_thinner_than_its_device_protects(
    setup: Setup, insulation_c: int
) -> None:
    heavy = chained(
        profile(insulation_c=insulation_c),
        switch("s_washdown", part="rocker-heavy"),
        override("C24", protection_a="25", gauge="8 AWG"),
        load("washdown", maker_fuse_a=None),
    )
    done = drafted(heavy(setup))
    lamps = [w for w in done.assembled.wires if w.for_lamp]
    assert lamps
    for wire in lamps:
        row = done.circuit(wire.circuit)
        assert row is not None and row.sized is not None and row.sized.protection is not None
        bears = ampacity_a(wire.gauge, insulation_c)
        assert bears >= row.sized.protection.value or wire.gauge == row.sized.gauge.value
    jumper = next(w for w in lamps if w.circuit == "C24" and w.jumper)
    assert area_mm2(jumper.gauge) < area_mm2(Gauge.parse("8 AWG"))


def test_a_coil_pulls_what_a_press_is_for() -> None:
    done = drafted_order(DEMO_FOLDER / "hull-0417.loom.json")
    for name in ("s_hauler", "hauler_station"):
        row = next(r for r in press_rows(done) if (r.switch, r.state) == (name, "up"))
        assert row.runs == ("hauler plus", "hauler_control plus")
    done = drafted_order(DEMO_FOLDER / "hull-1102.loom.json")
    for state in ("up", "down"):
        row = next(r for r in press_rows(done) if (r.switch, r.state) == ("s_windlass", state))
        assert f"windlass {state}" in row.runs and not row.wrong


def test_switches_come_by_urgency_and_those_of_one_use_stand_together() -> None:
    done = drafted_order(DEMO_FOLDER / "hull-1102.loom.json")
    placed = sorted((s for s in done.switches if s.position), key=lambda s: s.position)
    ranks = [s.request.rank for s in placed]
    assert ranks == sorted(ranks) and ranks[0] == 0
    at = done.allocation.positions
    for one, other in (
        ("s_aft_floods", "s_fore_floods"),
        ("s_cabin_lights", "s_engine_space_light"),
        ("s_wiper_port", "s_wiper_starboard"),
    ):
        assert at[other] - at[one] == 1


def test_positions_are_the_best_assignment_of_urgency_to_reach() -> None:
    """Sorted is as good as solved: reach grows with the position, urgency falls with the rank."""
    for hull in ("0417", "0609", "1102"):
        done = drafted_order(DEMO_FOLDER / f"hull-{hull}.loom.json")
        placed = [s for s in done.switches if s.position]
        urgency = np.array([4.0 - s.request.rank for s in placed])
        reach = np.arange(1.0, done.aboard.boat.positions + 1)
        cost = urgency[:, None] * reach[None]
        holes = [p.cut_out for p in done.aboard.boat.panels for _ in range(p.positions)]
        fits = np.array([[hole in ("", s.part.cut_out) for hole in holes] for s in placed])
        cost[~fits] = 1e6
        rows, columns = linear_sum_assignment(cost)
        drafted_cost = sum(cost[i, s.position - 1] for i, s in enumerate(placed))
        assert drafted_cost == pytest.approx(cost[rows, columns].sum())


def test_a_devices_own_tab_takes_no_third_conductor(setup: Setup) -> None:
    """The feed and two arms of the night chain meet at the backlights: a screw bears that."""

    def crowded(ending: str) -> set[str]:
        ends = tuple(Lead(function=name, ending=ending) for name in ("plus", "minus"))
        done = drafted(load("backlights", leads=ends)(setup))
        met = [e for w in done.assembled.wires for e in (w.start, w.end)]
        assert sum((e.place, e.point) == ("backlights", "plus") for e in met) == 3
        return {f.subjects[0] for f in done.findings if f.code == "P09"}

    assert crowded("tab") == {"backlights"}
    assert crowded("screw") == set()


@pytest.mark.parametrize("together", ["use", "area"])
def test_switches_that_belong_together_stand_side_by_side(together: str, setup: Setup) -> None:
    done = drafted(profile(switches_together=together)(setup))
    areas = {s.id: s.area for s in done.aboard.boat.stations}
    ranks: dict[tuple[int, str], list[str]] = {}
    for switch_ in sorted((s for s in done.switches if s.position), key=lambda s: s.position):
        row = done.circuit(switch_.uses[0].circuit)
        assert row is not None
        load_ = done.aboard.loads[row.planned.loads[0]]
        belongs = areas[load_.station] if together == "area" else load_.function
        panel = done.aboard.boat.panel_at(switch_.position)
        assert panel is not None
        ranks.setdefault((switch_.request.rank, panel.id), []).append(belongs)
    for told in ranks.values():
        runs = [what for what, _ in itertools.groupby(told)]
        assert len(runs) == len(set(runs)), told
    assert any(len(told) > len(set(told)) > 1 for told in ranks.values())


def test_a_press_shows_what_the_whole_boat_would_show(any_draft: Draft) -> None:
    truth, switches = Truth(any_draft), {s.request.id: s for s in any_draft.switches}
    at_rest = set(truth.wrong({}))
    lamps = {lamp_element(s.place, use.lamp) for s in switches.values() for use in s.lamps}
    seen = 0
    for row in truth.rows:
        if row.switch and row.state != switches[row.switch].part.states[0]:
            states = {row.switch: row.state}
            assert set(row.runs) == truth.at(states).on - truth.rest.on - lamps
            every = set(truth.wrong(states)) - at_rest
            assert every <= set(row.wrong)
            assert all(one.what[0] in lamps for one in set(row.wrong) - every)
            seen += 1
    assert seen > 3
