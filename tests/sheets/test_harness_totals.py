"""What each harness comes to, against the cut list; cards of joints; torque and boots."""

import dataclasses
import re
from collections import Counter

import pytest

from vivid_loom.boat import Assembly
from vivid_loom.drafting import Draft, built_wires, draft
from vivid_loom.order import Shop
from vivid_loom.sheets.lists.build_lists import cut_list, landings
from vivid_loom.sheets.lists.harness_lists import TAIL, joints
from vivid_loom.sheets.lists.harness_totals import harness_totals
from vivid_loom.sheets.pages.harness_pages import harness_pages
from vivid_loom.sheets.paper.drawing import Text
from vivid_loom.sheets.paper.layout import Setting
from vivid_loom.workshop.hours import hour_lines


def test_totals_are_those_of_the_cut_list(any_draft: Draft) -> None:
    *each, whole = harness_totals(any_draft, Shop(hour_price=50.0)).rows
    cut = cut_list(any_draft).rows
    for row in each:
        mine = [c for c in cut if c.harness == row.harness]
        assert int(row.wires) == len(mine)
        metres = sum(float(c.cut_length_mm) for c in mine) / 1000
        assert float(row.wire_m) == pytest.approx(metres, abs=0.06)
        copper = sum(float(c.cut_length_mm) / 1000 * float(c.area_mm2) * 8.89e-3 for c in mine)
        assert float(row.copper_kg) == pytest.approx(copper, abs=0.02)
        halves = sum(row.harness in (p.live, p.dead) for p in any_draft.assembled.plugs)
        assert int(row.plug_halves) == halves
        hours = [line for line in hour_lines(any_draft) if line.harness == row.harness]
        bench = sum(line.hours for line in hours if not line.aboard)
        assert float(row.bench_h) == pytest.approx(bench, abs=0.06)
        assert float(row.work_price) == pytest.approx(50 * sum(h.hours for h in hours), abs=0.01)
    assert int(whole.wires) == len(cut) == sum(int(row.wires) for row in each)
    assert float(whole.wire_price) == pytest.approx(
        sum(float(r.wire_price) for r in each), abs=0.05
    )


def test_work_without_a_price_has_none(full: Draft) -> None:
    assert {row.work_price for row in harness_totals(full, Shop()).rows} == {""}


TORQUE = {"M4": "1.5", "M5": "2.5", "M6": "5", "M8": "10", "M10": "18"}  # from memory, ours


def test_every_ring_and_lug_is_told_its_torque_and_nothing_else(any_draft: Draft) -> None:
    wires = {wire.id: wire for wire in any_draft.assembled.wires}
    booted = 0
    for row in landings(any_draft).rows:
        thread = re.search(r"(?:ring|lug).* (M\d+)", row.terminal)
        mount = row.terminal.endswith("on its mount")  # bolted to a post
        assert bool(row.torque_nm) if mount else True
        assert mount or row.torque_nm == (TORQUE[thread[1]] if thread else ""), row
        if row.boot:
            booted += 1
            assert wires[row.wire_id].live != "return"
    assert booted


def test_a_shared_joint_has_its_card(full: Draft) -> None:
    rows = [row for row in joints(full).rows if row.harness == "console"]
    wires = Counter(row.joint for row in rows if row.member != TAIL)
    shared = [row for row in rows if wires[row.joint] > 1]
    assert len({row.joint for row in shared}) > 3
    console = next(a for a in full.aboard.boat.assemblies if a.id == "console")
    pages = harness_pages(full, console, Setting("hull", "caution"))
    text = [item.text for page in pages for item in page.items if hasattr(item, "text")]
    cards = text[text.index("Its joints") :]
    for row in shared:
        assert any(line.startswith(f"{row.joint} ") for line in cards), row.joint
        assert row.member in cards
    assert cards.count(TAIL) == sum(row.member == TAIL for row in shared)


def test_the_heading_of_a_harness_counts_what_is_cut(full: Draft) -> None:
    """What lies in the boat is neither cut nor ticked: '40 wires from 21 spools' stood over it."""

    def hull_of(done: Draft) -> Assembly:
        return next(each for each in done.aboard.boat.assemblies if each.id == "hull")

    def headings(done: Draft) -> tuple[str, int]:
        pages = harness_pages(done, hull_of(done), Setting("hull", "caution"))
        texts = [item.text for page in pages for item in page.items if isinstance(item, Text)]
        return next(t for t in texts if "Label of an end" in t), texts.count("☐")

    lies = built_wires(full.assembled)
    own = [wire for wire in full.assembled.wires if wire.harness == "hull"]
    told, ticks = headings(full)
    assert told.startswith(f"{len(own)} wires from ") and ticks == len(own)
    order = dataclasses.replace(full.aboard.order, built=lies, based_on="0417")
    told, ticks = headings(draft(order, full.aboard.boat, full.catalogue))
    assert told.startswith(f"Nothing is cut: {len(own)} wires of it stay") and ticks == 0
    but_one = tuple(b for b in lies if b.id != own[0].id)
    order = dataclasses.replace(order, built=but_one)
    told, ticks = headings(draft(order, full.aboard.boat, full.catalogue))
    assert told.startswith(f"1 wire from 1 spool, 0 changes of spool. {len(own) - 1} more stay")
    assert ticks == 1
