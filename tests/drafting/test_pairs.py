"""A device that comes off by itself: each of its two leads ends at a plug of its own."""

import pytest

from tests.changes import Setup, drafted, load, override
from tests.conftest import drafted as drafted_order
from tests.netlist.test_drafts import misread
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft
from vivid_loom.sheets.packet import packet_table


@pytest.fixture(scope="module")
def launch() -> Draft:
    return drafted_order(DEMO_FOLDER / "hull-1104.loom.json")


def ends(done: Draft, name: str) -> dict[str, str]:
    """Return what is on the harness's end at each lead of a load."""
    return {
        end.point: end.termination.kind
        for wire in done.assembled.wires
        for end in (wire.start, wire.end)
        if end.place == name
    }


def test_plus_and_minus_cannot_be_crossed(launch: Draft) -> None:
    """Opposite genders; the side that can be live when apart is shrouded: the harness's plus,
    and the device's own minus, which its motor joins to the plus. Common practice, no source.
    """
    assert ends(launch, "fresh_water_pump") == {
        "plus": "socket contact of a pair size 16",
        "minus": "pin contact of a pair size 16",
    }
    stock = {r.item: r for r in packet_table(launch, "materials").rows if r.kind == "pair"}
    assert {item: row.quantity for item, row in stock.items()} == {
        "one-way shells of a pair, size 16": "2",
        "tail's half of a pair, pin and seal, size 16": "1",
        "tail's half of a pair, socket and seal, size 16": "1",
    }
    assert all(row.price for row in stock.values())
    cut = [r for r in packet_table(launch, "cutlist").rows if "pair" in r.to_termination]
    steps = {r.recipe: r.steps for r in packet_table(launch, "ends").rows}
    assert cut and "seal on → crimp → tug → push home" in steps[cut[0].to_recipe]
    assert misread(launch) == []


@pytest.fixture(scope="module")
def setup() -> Setup:
    done = drafted_order(DEMO_FOLDER / "hull-1104.loom.json")
    return Setup(done.aboard.boat, done.aboard.order, shipped_catalogue())


def test_a_stronger_device_takes_a_larger_contact(setup: Setup) -> None:
    changed = override("N16", protection_a="20")(setup)
    done = drafted(changed)
    assert ends(done, "fresh_water_pump")["plus"] == "socket contact of a pair size 12"
    assert "S07" not in {f.code for f in done.findings if "N16" in f.subjects}
    thin = override("N16", gauge="16 AWG")(changed)  # too thin for a contact of 20 A
    weak = [f for f in drafted(thin).findings if (f.code, f.subjects[0]) == ("S07", "N16")]
    found = next(f for f in weak if f.subjects[1] == "fresh_water_pump")
    assert "contacts bear 13 A, behind 20 A" in found.sentence()


def test_what_others_are_joined_to_does_not_come_off(setup: Setup) -> None:
    done = drafted(load("aft_flood_port", replaceable=True)(setup))
    (found,) = [f for f in done.findings if f.code == "L09"]
    assert found.subjects == ("aft_flood_port",) and "joined on to its tails" in found.sentence()
    last = drafted(load("aft_flood_starboard", replaceable=True)(setup))
    assert not [f for f in last.findings if f.code == "L09"]
    assert set(ends(last, "aft_flood_starboard").values()) == {
        "socket contact of a pair size 16",
        "pin contact of a pair size 16",
    }


def test_a_screw_or_tab_needs_no_pair(setup: Setup) -> None:
    done = drafted(load("twin_horn", replaceable=True)(setup))
    assert {lead.ending for lead in done.aboard.loads["twin_horn"].leads} == {"tab"}
    assert all("push-on" in kind for kind in ends(done, "twin_horn").values())
