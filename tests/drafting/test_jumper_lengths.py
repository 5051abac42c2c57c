"""Jumpers behind the panels, cut to a few common lengths where the shop wants it so."""

from collections import defaultdict
from itertools import combinations

import pytest

from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.making.assemble import cut_decision
from vivid_loom.order import change_profile
from vivid_loom.sheets import packet_table


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
