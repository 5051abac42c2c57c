"""Lights by the rules of the road: COLREGs 72, part C, as remembered; a line is a case of one."""

import pytest

from vivid_loom.standards.navigation_lights import at_anchor, under_way

SIDE, MAST, STERN, ROUND, TRI = "side", "masthead", "stern", "all-round white", "tricolour"


@pytest.mark.parametrize(
    ("length_m", "sails", "lights", "may"),
    [
        (40.0, False, {SIDE, MAST, STERN}, True),  # 23a
        (40.0, False, {SIDE, ROUND}, False),  # 23d i is for less than 12 m
        (12.0, False, {SIDE, ROUND}, False),
        (11.9, False, {SIDE, ROUND}, True),
        (8.6, False, {SIDE, MAST, STERN}, True),  # in lieu, not instead of
        (8.6, False, {ROUND}, False),
        (6.9, False, {ROUND}, True),  # 23d ii, where it makes no more than 7 knots
        (7.0, False, {ROUND}, False),
        (6.2, False, {SIDE, STERN}, False),  # a sailing vessel's
        (9.0, True, {SIDE, STERN}, True),  # 25a
        (9.0, True, {TRI}, True),  # 25b
        (20.0, True, {TRI}, False),
        (9.0, False, {TRI}, False),
        (9.0, True, {TRI, STERN}, False),  # in lieu of the other two
        (9.0, True, {SIDE, MAST, STERN}, True),  # with its engine it is a power-driven vessel
        (9.0, True, {SIDE}, False),
    ],
)
def test_under_way(length_m: float, sails: bool, lights: set[str], may: bool) -> None:
    assert (lights in under_way(length_m, sails=sails)) == may


@pytest.mark.parametrize(
    ("length_m", "lights", "may"),
    [
        (30.0, {ROUND}, True),  # 30b
        (30.0, set(), False),
        (6.9, set(), True),  # 30e, away from where others pass
        (7.0, set(), False),
        (9.0, {SIDE, ROUND}, False),
        (9.0, {STERN}, False),
    ],
)
def test_at_anchor(length_m: float, lights: set[str], may: bool) -> None:
    assert (lights in at_anchor(length_m)) == may
