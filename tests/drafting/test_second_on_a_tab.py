"""Two conductors on one tab: one carries the other's blade, or both sit on a doubler."""

import csv
import dataclasses
import io
from collections import Counter, defaultdict

import pytest

from tests.netlist.test_drafts import misread
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.tab_steps import tab_steps
from vivid_loom.order import change_profile
from vivid_loom.sheets import packet_files, packet_table


@pytest.fixture(scope="module")
def doubled(full: Draft) -> Draft:
    order = change_profile("second_on_a_tab", "doubler", "doublers")[1](full.aboard.order)
    return draft(order, full.aboard.boat, shipped_catalogue())


def stacked(done: Draft) -> int:
    """Count ends beyond the first of their tab on the landing list, which knows of no school."""
    text = packet_files(done, frozenset({"landing"}))["landing.csv"].decode()
    rows = csv.DictReader(io.StringIO(text))
    on = Counter((r["place"], r["point"]) for r in rows if "push-on" in r["terminal"])
    assert max(count for (place, _), count in on.items() if place.startswith("SW")) == 2
    return sum(count - 1 for count in on.values())


def materials(done: Draft) -> dict[str, str]:
    text = packet_files(done, frozenset({"materials"}))["materials.csv"].decode()
    return {row["item"]: row["quantity"] for row in csv.DictReader(io.StringIO(text))}


def test_a_doubler_for_every_shared_tab_and_no_piggyback(full: Draft, doubled: Draft) -> None:
    ends = [e for w in doubled.assembled.wires for e in (w.start, w.end)]
    assert not any("piggyback" in end.termination.kind for end in ends)
    needed = stacked(doubled)
    assert needed == stacked(full) > 10
    told, usual = materials(doubled), materials(full)
    assert told["tab doubler 6.3 mm"] == str(needed)
    assert "tab doubler 6.3 mm" not in usual
    assert sum(int(n) for item, n in usual.items() if "piggyback" in item) == needed
    plain = sum(int(n) for item, n in usual.items() if "push-on" in item)
    assert sum(int(n) for item, n in told.items() if "push-on" in item) == plain


def test_the_wires_are_the_same_but_for_their_ends(full: Draft, doubled: Draft) -> None:
    for one, other in zip(full.assembled.wires, doubled.assembled.wires, strict=True):
        ends = {"start": one.start, "end": one.end}
        assert dataclasses.replace(other, **ends) == one


def test_the_doubler_goes_on_before_both(doubled: Draft) -> None:
    seen = 0
    for switch in doubled.switches:
        steps = tab_steps(switch.place, switch.part, doubled.assembled.wires)
        on = Counter(step.tab for step in steps)
        for tab, count in on.items():
            onto = [step.onto for step in steps if step.tab == tab]
            alone = [f"the {switch.part.terminal}"]
            assert onto == (["a doubler", "the doubler"] if count == 2 else alone)
            seen += count == 2
    assert seen > 10


@pytest.fixture(scope="module")
def forked(full: Draft) -> Draft:
    order = change_profile("second_on_a_tab", "forked", "forks")[1](full.aboard.order)
    return draft(order, full.aboard.boat, shipped_catalogue())


def test_two_jumpers_share_one_push_on(forked: Draft) -> None:
    """Read from the cut list: on each tab of a switch, what are its ends crimped into?"""
    text = packet_files(forked, frozenset({"cutlist"}))["cutlist.csv"].decode()
    on: dict[tuple[str, str], list[tuple[str, str, float]]] = defaultdict(list)
    for row in csv.DictReader(io.StringIO(text)):
        for side in ("from", "to"):
            if row[f"{side}_place"].startswith("SW"):
                at = row[f"{side}_place"], row[f"{side}_point"]
                on[at].append((row["kind"], row[f"{side}_termination"], float(row["area_mm2"])))
    shared = 0
    for at, ends in on.items():
        assert len(ends) <= 2, at
        forks = ["forked" in terminal for _, terminal, _ in ends]
        both_jumpers = len(ends) == 2 and all(kind == "jumper" for kind, _, _ in ends)
        assert all(forks) == both_jumpers == any(forks), (at, ends)
        if both_jumpers:
            shared += 1
            # yellow barrels take 2.63 to 6.64 mm²: two of 16 AWG; common practice, no source
            assert {terminal.split()[0] for _, terminal, _ in ends} == {"yellow"}
        elif len(ends) == 2:
            assert sum("piggyback" in terminal for _, terminal, _ in ends) == 1
    assert shared > 15
    rides = sum("piggyback" in t for ends in on.values() for _, t, _ in ends)
    assert rides + shared == sum(len(ends) == 2 for ends in on.values()) > rides > 0
    stock = packet_table(forked, "materials").rows
    rows = {r.item: int(r.quantity) for r in stock if r.price and r.unit == "pcs"}
    assert rows["yellow forked push-on 6.3 mm"] == shared
    assert "tab doubler 6.3 mm" not in rows
    assert misread(forked) == []


def test_forked_ends_go_on_together(forked: Draft) -> None:
    switch = next(s for s in forked.switches if s.place == "SW2")
    steps = tab_steps("SW2", switch.part, forked.assembled.wires)
    by_tab: dict[str, list[str]] = defaultdict(list)
    for step in steps:
        if "fork" in step.terminal:
            by_tab[step.tab].append(step.onto)
    assert by_tab and all(on[0] == "the tab" for on in by_tab.values())
    assert all(on[1].startswith("with ") and len(on) == 2 for on in by_tab.values())
