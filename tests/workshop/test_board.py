"""The form board: true lengths, 45 and 90°, nothing over another; measured by another library."""

import dataclasses
import math
from itertools import combinations, pairwise

import pytest
from shapely import LineString, box

from tests.changes import Setup, drafted
from vivid_loom.boat import Boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo.generated import generated
from vivid_loom.drafting import Draft, draft
from vivid_loom.order import Order
from vivid_loom.sheets.board_files import all_boards
from vivid_loom.sheets.drawings.board_drawing import (
    HEADING_MM,
    LENGTH_MM,
    HarnessBoard,
    harness_boards,
    layers,
)
from vivid_loom.sheets.lists.harness_lists import branches
from vivid_loom.sheets.paper.drawing import Text, reach_y
from vivid_loom.sheets.paper.metrics import reach_x
from vivid_loom.workshop.harness.board import BoardPlan, lay_out
from vivid_loom.workshop.harness.limb import Limb, Note
from vivid_loom.workshop.harness.stems import STEM_MM


def problems(board: HarnessBoard) -> list[str]:
    """Return what is not as a form board must be."""
    plan = board.plan
    found = _measured(board)
    lines = {b.id: LineString(b.points) for b in plan.branches}
    ends = {b.id: (b.points[0], b.points[-1]) for b in plan.branches}
    for a, b in combinations(lines, 2):
        joined = set(ends[a]) & set(ends[b])
        if joined:  # leaving one node, they touch there and nowhere else
            met = lines[a].intersection(lines[b])
            if met.length > 1e-6 or met.geom_type != "Point":
                found.append(f"{a} lies along {b}")
        elif lines[a].distance(lines[b]) < 12.0:
            found.append(f"{a} is {lines[a].distance(lines[b]):.0f} mm from {b}")
    blocks = [box(b.x, b.y, b.x + b.width_mm, b.y + b.height_mm) for b in plan.blocks]
    names = [b.id for b in plan.blocks]
    found += [
        f"notes {names[i]} and {names[j]}"
        for i, j in combinations(range(len(blocks)), 2)
        if blocks[i].intersects(blocks[j])
    ]
    found += [
        f"note {name} over {branch}"
        for name, block in zip(names, blocks, strict=True)
        for branch, line in lines.items()
        if block.intersects(line)
    ]
    edge = box(0, 0, plan.width_mm, plan.height_mm)
    outside = [*lines.values(), *blocks]
    found += [f"{thing} beyond the edge" for thing in outside if not edge.contains(thing)]
    return found


def _measured(board: HarnessBoard) -> list[str]:
    found: list[str] = []
    laid = {b.id: b for b in board.plan.branches}
    for branch in board.tree.branches:
        tail = board.merged.get(branch.id)
        want = branch.length_mm + (tail.length_mm if tail else 0.0)
        if abs(laid[branch.id].length_mm - want) > 1e-6:
            found.append(f"{branch.id} is {laid[branch.id].length_mm:.1f}, not {want:.1f}")
        for a, b in pairwise(laid[branch.id].points):
            turn = math.degrees(math.atan2(b[1] - a[1], b[0] - a[0])) / 45
            if abs(turn - round(turn)) > 1e-6:
                found.append(f"{branch.id} lies at {turn * 45:.2f}°")
    for breakout in board.tree.breakouts:
        node = board.node(breakout.station)
        for at, mm, _ in board.peg_points(breakout.station):
            if math.dist(node, at) > max(mm, 1.0) + 1e-6:
                found.append(f"peg of {breakout.station} is {math.dist(node, at):.1f} away")
    return found


def test_nothing_lies_over_another(any_draft: Draft) -> None:
    boards = all_boards(any_draft)
    assert len(boards) >= 3
    assert {b.tree.id: problems(b) for b in boards if problems(b)} == {}


def test_a_map_of_a_board_says_what_can_be_read(any_draft: Draft) -> None:
    """At a tenth letters of 17 mm are 1.7 mm: smaller ones are left to the table beside it."""
    for board in all_boards(any_draft):
        words = [w for w in layers(board, any_draft, rows=False)["words"] if isinstance(w, Text)]
        blocks = [box(b.x, b.y, b.x + b.width_mm, b.y + b.height_mm) for b in board.plan.blocks]
        for word in words:
            (left, right), (top, low) = reach_x(word), reach_y(word)
            assert word.size >= LENGTH_MM, word.text
            assert any(block.buffer(1).contains(box(left, top, right, low)) for block in blocks)
        told = {word.text.split()[0] for word in words if word.bold and word.size < HEADING_MM}
        assert told == {branch.id for branch in board.tree.branches}


def test_a_harness_of_the_demo_order_fits_the_shops_board(full: Draft) -> None:
    for board in all_boards(full):
        assert (board.plan.width_mm, board.plan.height_mm) == (4800.0, 1200.0)
        left, top, right, low = board.plan.used
        assert board.plan.used_m2 == pytest.approx((right - left) * (low - top) / 1e6)
        assert board.plan.used_m2 < 4.8 * 1.2


def test_generated_harnesses_lie_flat(orders: int) -> None:
    """``--orders 2000`` for two hundred of them."""
    found: list[str] = []
    for seed in range(max(4, orders // 10) if orders > 300 else 4):
        order, boat = generated(seed, 2 + seed % 8, ("us", "iso", "shop")[seed % 3])
        for board in all_boards(draft(order, boat, shipped_catalogue())):
            found += [f"{seed} {board.tree.id}: {p}" for p in problems(board)]
    assert found == []


NOTE = Note("n", 200.0, 60.0)


def test_a_trunk_longer_than_the_board_is_folded() -> None:
    plan = lay_out((Limb("a", "root", "end", 9000.0, NOTE),), "root", (4800.0, 1200.0))
    assert plan.width_mm == 4800.0
    (branch,) = plan.branches
    assert branch.length_mm == pytest.approx(9000.0)
    assert len(branch.points) > 2


def test_what_no_board_of_the_shop_takes_gets_a_larger_one() -> None:
    limbs = tuple(Limb(f"l{i}", "root", f"e{i}", 1500.0, NOTE) for i in range(6))
    plan = lay_out(limbs, "root", (900.0, 600.0))
    assert plan.width_mm > 900.0
    assert plan.width_mm / plan.height_mm == pytest.approx(1.5)
    assert len(plan.blocks) == 6


def test_the_same_harness_gives_the_same_board() -> None:
    limbs = tuple(
        Limb(f"l{i}", "root" if i < 3 else f"e{i - 3}", f"e{i}", 700.0 + 90 * i, NOTE)
        for i in range(7)
    )
    lay_out.cache_clear()
    first: BoardPlan = lay_out(limbs, "root", (4800.0, 1200.0))
    lay_out.cache_clear()
    assert lay_out(limbs, "root", (4800.0, 1200.0)) == first


def test_a_harness_longer_than_any_board_is_listed_without_one(boat: Boat, order: Order) -> None:
    runs = tuple(
        dataclasses.replace(run, length_m=900.0) if run.id == "T01" else run for run in boat.runs
    )
    done = drafted(Setup(dataclasses.replace(boat, runs=runs), order))
    hardtop = next(a for a in done.aboard.boat.assemblies if a.id == "hardtop")
    assert harness_boards(done, hardtop) == ()
    assert any(row.branch == "T01" for row in branches(done).rows)


@pytest.mark.parametrize("count", [6, 8, 9, 14])
def test_more_branches_than_ways_leave_along_a_stem(count: int) -> None:
    """Every length stays true, and two branches share a stem at most."""
    limbs = [Limb("trunk", "root", "hub", 900.0)]
    limbs += [Limb(f"b{i}", "hub", f"e{i}", 500.0 + 40 * i, NOTE) for i in range(count)]
    limbs.append(Limb("tail", "hub", "t", 230.0, NOTE, straight=True))
    plan = lay_out(tuple(limbs), "root", (4800.0, 2400.0))
    assert [b.id for b in plan.branches] == [limb.id for limb in limbs]
    laid = {b.id: b for b in plan.branches}
    for limb in limbs:
        assert laid[limb.id].length_mm == pytest.approx(limb.length_mm)
        assert laid[limb.id].points[-1] == plan.nodes[limb.far]
    hub = plan.nodes["hub"]
    shared = 0
    for a, b in combinations([f"b{i}" for i in range(count)], 2):
        assert laid[a].points[0] == laid[b].points[0] == hub
        met = LineString(laid[a].points).intersection(LineString(laid[b].points))
        assert met.length < 1e-6 or met.length % STEM_MM == pytest.approx(0, abs=1e-6)
        shared += met.length > 1e-6
    assert bool(shared) == (count + 2 > 8)
    assert len(plan.blocks) == count + 1
