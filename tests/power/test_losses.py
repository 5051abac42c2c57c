"""Where a load's volts go: its own copper, copper that it shares, joints, and the source."""

import dataclasses

import pytest

from vivid_loom.drafting import Draft
from vivid_loom.power.board import Board, Conditions
from vivid_loom.power.fault import faulted, read_fault
from vivid_loom.power.powered import Powered, power_up
from vivid_loom.power.profile import Losses, Profiles
from vivid_loom.power.setting import scenario_setting
from vivid_loom.sheets.lists.power_lists import load_table

NIGHT = "under way by night"


def powered(board: Board) -> Powered:
    return power_up(board, scenario_setting(board.draft, NIGHT))


def losses(now: Powered) -> dict[str, tuple[float, Losses]]:
    """By load that runs: all that is lost, and its parts."""
    ways = Profiles(now)
    found = {name: ways.of(name) for name in now.running if name in now.board.volts}
    return {name: (p.lost_v, ways.losses(p)) for name, p in found.items() if p is not None}


def test_the_parts_are_all_that_is_lost(any_draft: Draft) -> None:
    """Reckoned from the wires one by one, with resistances of their own."""
    board = Board(any_draft)
    now = powered(board)
    each = losses(now)
    assert len(each) > 5
    for name, (lost_v, parts) in each.items():
        assert parts.own_v + parts.feeders_v + parts.joints_v == pytest.approx(lost_v, abs=1e-9)
        assert min(parts) >= 0 and parts.joints_v > 0, name
        if board.elements[name].part in any_draft.aboard.loads:
            assert parts.own_v > 0, name
    assert any(parts.inside_v > 0.01 for _, parts in each.values())


def test_without_joints_nothing_is_lost_but_in_copper(full: Draft) -> None:
    now = powered(Board(full, Conditions(joints=False)))
    for name, (lost_v, parts) in losses(now).items():
        assert parts.joints_v < 1e-5 + 1e-3 * lost_v, name


def test_what_a_circuit_alone_loses_in_copper_is_what_the_schedule_says(full: Draft) -> None:
    """One circuit on and nothing else: its own copper drops what its figures come to."""
    board = Board(full)
    setting = scenario_setting(full, NIGHT)
    for circuit in ("C10", "C30", "C22"):
        row = full.circuit(circuit)
        assert row is not None and row.sized is not None
        now = power_up(board, dataclasses.replace(setting, idle=board.idle_beside(circuit)))
        ways = Profiles(now)
        mine = (n for n in board.volts if board.elements[n].part in row.planned.loads)
        profile = next(filter(None, map(ways.of, mine)))
        per_m = board.ohm_per_m[row.sized.gauge.value]
        own_v = row.sized.current_a * row.sized.loop_length_m * per_m
        assert ways.losses(profile).own_v == pytest.approx(own_v, rel=0.05), circuit


def test_what_corrodes_is_a_joint(full: Draft) -> None:
    board = Board(full)
    sound = losses(powered(board))
    rotten = losses(powered(faulted(board, read_fault("corroded:C10-P1=0.1")).board))
    own, other = (each["vhf plus"][1] for each in (sound, rotten))
    assert other.joints_v - own.joints_v == pytest.approx(0.1 * 6.25, rel=0.1)
    assert other.own_v == pytest.approx(own.own_v, rel=0.1)


def test_the_list_adds_up(full: Draft) -> None:
    for row in load_table(powered(Board(full))).rows:
        parts = map(float, (row.own_percent, row.feeders_percent, row.joints_percent))
        assert sum(parts) == pytest.approx(float(row.lost_percent), abs=0.02)
