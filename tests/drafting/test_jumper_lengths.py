"""Jumpers behind the panels, cut to a few common lengths where the shop wants it so."""

from collections import Counter, defaultdict
from itertools import combinations

import pytest

from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.making.cut_lengths import cut_decision
from vivid_loom.order import change_profile
from vivid_loom.sheets import packet_table
from vivid_loom.sheets.books import packet_sections
from vivid_loom.sheets.lists.switch_lists import feed_rows
from vivid_loom.sheets.paper.drawing import Text


def in_lengths(full: Draft, most: int) -> Draft:
    order = change_profile("jumper_lengths", most, "few lengths")[1](full.aboard.order)
    return draft(order, full.aboard.boat, shipped_catalogue())


@pytest.mark.parametrize("most", [1, 2, 3])
def test_no_kind_has_more_lengths_and_none_is_short(full: Draft, most: int) -> None:
    few = in_lengths(full, most)
    own = {wire.id: wire for wire in full.assembled.wires}
    kinds: dict[object, set[float]] = defaultdict(set)
    extra_mm = 0.0
    for wire in few.assembled.wires:
        if wire.jumper:
            assert wire.cut_mm >= own[wire.id].cut_mm
            kinds[wire.gauge, wire.colour].add(wire.cut_mm)
            extra_mm += wire.cut_mm - own[wire.id].cut_mm
        else:
            assert wire == own[wire.id]
    assert kinds and max(map(len, kinds.values())) <= most
    assert extra_mm == pytest.approx(least_extra_mm(full, most))
    rows = packet_table(few, "cutlist").rows
    cut = {row.wire_id: float(row.cut_length_mm) for row in rows}
    assert all(cut[w.id] == w.cut_mm for w in few.assembled.wires)


def least_extra_mm(full: Draft, most: int) -> float:
    """Try every choice of lengths, kind by kind: the longest is always one of them."""
    kinds: dict[object, list[float]] = defaultdict(list)
    for wire in full.assembled.wires:
        if wire.jumper:
            kinds[wire.gauge, wire.colour].append(wire.cut_mm)
    total = 0.0
    for lengths in kinds.values():
        distinct = sorted(set(lengths))
        more = [
            (*chosen, distinct[-1])
            for count in range(min(most, len(distinct)))
            for chosen in combinations(distinct[:-1], count)
        ]
        total += min(
            sum(min(c for c in chosen if c >= mm) - mm for mm in lengths) for chosen in more
        )
    return total


def test_the_reason_says_so(full: Draft) -> None:
    few = in_lengths(full, 2)
    jumper = next(wire for wire in few.assembled.wires if wire.jumper)
    other = next(wire for wire in few.assembled.wires if not wire.jumper)
    told = [cut_decision(wire, few.aboard.profile).steps[-1].text for wire in (jumper, other)]
    assert "then to one of 2 lengths of its gauge and colour" in told[0]
    assert "lengths" not in told[1]
    step = cut_decision(jumper, few.aboard.profile)
    assert step.value == jumper.cut_mm


@pytest.mark.parametrize("most", [1, 2])
def test_feeds_of_a_panel_come_in_few_lengths(full: Draft, most: int) -> None:
    order = change_profile("feed_lengths", most, "few lengths")[1](full.aboard.order)
    few = draft(order, full.aboard.boat, shipped_catalogue())
    own = {wire.id: wire for wire in full.assembled.wires}
    kinds: dict[object, set[float]] = defaultdict(set)
    before: dict[object, set[float]] = defaultdict(set)
    for wire in few.assembled.wires:
        leads = not wire.jumper and "tab" in (wire.start.kind, wire.end.kind)
        if leads:
            assert wire.cut_mm >= own[wire.id].cut_mm
            kinds[wire.gauge, wire.harness].add(wire.cut_mm)
            before[wire.gauge, wire.harness].add(own[wire.id].cut_mm)
        else:
            assert wire == own[wire.id]
    assert max(map(len, before.values())) > most >= max(map(len, kinds.values()))
    feed = next(w for w in few.assembled.wires if w.cut_mm > own[w.id].cut_mm)
    told = cut_decision(feed, few.aboard.profile)
    assert (
        f"then to one of {most} lengths of its gauge among a panel's feeds" in told.steps[-1].text
    )
    assert told.value == feed.cut_mm


def test_equal_feeds_stand_together_behind_the_panel(full: Draft) -> None:
    """Counted again on the cut list: every wire with one end on a switch of the panel."""
    panel = full.aboard.boat.panels[0]
    places = {s.place for s in full.switches if full.aboard.boat.panel_at(s.position) == panel}
    rows = [
        r
        for r in packet_table(full, "cutlist").rows
        if (r.from_place in places) != (r.to_place in places)
    ]
    found = feed_rows(full, places)
    assert {r.wire_id for r in found} == {r.wire_id for r in rows} and len(rows) > 20
    by_length = [(float(r.area_mm2), float(r.cut_length_mm)) for r in found]
    assert by_length == sorted(by_length, reverse=True)
    (section,) = [s for s in packet_sections(full) if s.title == "Switch panels"]
    text = " ".join(i.text for p in section.pages() for i in p.items if isinstance(i, Text))
    alike = Counter((r.gauge, r.cut_length_mm) for r in rows)
    for (gauge, length), count in alike.items():
        assert f"{gauge}, {float(length):g} mm: {count}" in " ".join(text.split())
