"""The back of a panel: what its jumpers do, and that a wrong one never passes unseen."""

import dataclasses

import pytest

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
    switch,
)
from vivid_loom.boat import Boat, ContactRequest
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.order import Order

BOTH_WAYS = chained(
    switch("s_flood_aft", part="rocker-spdt"),
    circuit("C07", contact=ContactRequest(switch="s_flood_aft", throws=("up", "down"))),
)


def deep(part_mm: float, panel_mm: float) -> Change:
    """Fit rockers of one depth before a space of another."""
    switches = shipped_catalogue().switches
    parts = tuple(dataclasses.replace(part, depth_mm=part_mm) for part in switches)

    def apply(setup: Setup) -> Setup:
        panels = (dataclasses.replace(p, depth_mm=panel_mm) for p in setup.boat.panels)
        return boat(panels=tuple(panels))(catalogue(switches=parts)(setup))

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
    ("A09", "anchor light left out of the lower press", lost("s_nav 2U", "s_nav 2D"), nothing),
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
