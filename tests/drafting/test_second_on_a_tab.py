"""Two conductors on one tab: one carries the other's blade, or both sit on a doubler."""

import csv
import dataclasses
import io
from collections import Counter

import pytest

from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.tab_steps import tab_steps
from vivid_loom.order import change_profile
from vivid_loom.sheets import packet_files


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
            assert onto == (["a doubler", "the doubler"] if count == 2 else ["the tab"])
            seen += count == 2
    assert seen > 10
