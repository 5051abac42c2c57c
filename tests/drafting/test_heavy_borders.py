"""Heavy conductors where harnesses meet: whole through a gland, or a heavy plug of one way."""

import dataclasses
import re
from itertools import pairwise

import pytest

from tests.conftest import drafted as drafted_order
from tests.netlist.test_drafts import misread, problems
from tests.sheets.test_harness_lists import Row, read_tables
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft, draft
from vivid_loom.order import change_profile
from vivid_loom.sheets.drawings.build_card import build_card
from vivid_loom.sheets.packet import packet_table
from vivid_loom.sheets.pages.harness_pages import harness_pages
from vivid_loom.sheets.pages.install_pages import install_pages
from vivid_loom.sheets.paper.drawing import Text
from vivid_loom.sheets.paper.layout import Setting
from vivid_loom.sheets.words.names import Names
from vivid_loom.workshop.harness.whole import crimped_aboard

# outside diameter of 105 °C marine wire by gauge, and metric glands' clamping ranges, mm: generic
# tables, from memory
WIRE_MM = {"2 AWG": 10.7, "1/0 AWG": 13.6}
CLAMPS_MM = {"M16": (5, 10), "M20": (7, 13), "M25": (11, 17)}


def borders(row: Row, done: Draft) -> int:
    """Count how often a wire of the cut list goes on in another harness."""
    boat = done.aboard.boat
    inside = [boat.runs_by_id[name].harness for name in row["path"].split(";") if name]
    return sum(before != after for before, after in pairwise(inside))


@pytest.fixture(scope="module")
def plugged(full: Draft) -> Draft:
    order = change_profile("heavy_border", "plug", "plugs")[1](full.aboard.order)
    return draft(order, full.aboard.boat, shipped_catalogue())


def test_a_conductor_that_passes_whole_has_a_gland_at_every_border(full: Draft) -> None:
    rows = [row._asdict() for row in packet_table(full, "cutlist").rows]
    passing = [row for row in rows for _ in range(borders(row, full))]
    assert {row["wire_id"] for row in passing} == {"F05-N1", "C27-P1", "C27-N1"}
    glands = [r for r in packet_table(full, "materials").rows if r.kind == "gland"]
    assert sum(int(r.quantity) for r in glands) == len(passing) == 5
    for row in glands:
        match = re.fullmatch(r"cable gland (M\d+) for ([\d.]+) mm", row.item)
        assert match
        low, high = CLAMPS_MM[match[1]]
        assert low <= float(match[2]) <= high
    wanted = sorted(WIRE_MM[row["gauge"]] for row in passing)
    told = [float(r.item.split()[-2]) for r in glands for _ in range(int(r.quantity))]
    assert sorted(told) == wanted
    steps = [r for r in packet_table(full, "install").rows if r.whole]
    assert {w for r in steps for w in r.whole.split(";")} == {r["wire_id"] for r in passing}
    text = " ".join(
        item.text
        for page in install_pages(full, Setting("order", "foot"))
        for item in page.items
        if isinstance(item, Text)
    )
    assert "C27-P1 goes on whole into the next harness, through a gland" in " ".join(text.split())


def test_its_end_behind_the_gland_is_left_bare_on_the_bench(full: Draft) -> None:
    """No lug passes a gland: the harness builder crimps one end, the installer the other."""
    beyond = {"F05-N1": "NB0", "C27-P1": "hauler_contactor", "C27-N1": "NB0"}
    assert {name: end.place for name, end in crimped_aboard(full).items()} == beyond
    setting, names = Setting("order", "foot"), Names(full)
    for assembly in full.aboard.boat.assemblies:
        items = [i for p in harness_pages(full, assembly, setting) for i in p.items]
        text = " ".join(item.text for item in items if isinstance(item, Text))
        for wire in full.assembled.wires:
            if wire.id in beyond and wire.harness == assembly.id:
                at = names.place(beyond[wire.id])
                assert f"leave its end at {at} " in text
    rows = {row.wire_id: row for row in packet_table(full, "cutlist").rows}
    for name, place in beyond.items():
        card = build_card(full, rows[name])
        bare = [end.remark for end in card.ends if "crimped aboard" in end.remark]
        assert len(bare) == 1, (name, place)
    assert not any("aboard" in end.remark for end in build_card(full, rows["F02-P1"]).ends)


def test_with_heavy_plugs_every_harness_comes_off_by_itself(full: Draft, plugged: Draft) -> None:
    rows = [row._asdict() for row in packet_table(plugged, "cutlist").rows]
    assert not [row["wire_id"] for row in rows if borders(row, plugged)]
    heavy = [p for p in plugged.assembled.plugs if p.ways == 1]
    assert len(heavy) == 5 and all(len(p.cavities) == 1 for p in heavy)
    assert {w for p in heavy for w in p.cavities[0].wires} == {
        r["wire_id"] for r in rows if r["wire_id"].startswith(("F05-N1", "C27-P1", "C27-N1"))
    }
    at = [(p.station, p.contact, p.key) for p in heavy]
    assert len(set(at)) == len(at)  # a plus is never pushed onto a minus
    for plug in heavy:
        circuit = plugged.circuit(plug.cavities[0].circuit)
        device = circuit.sized.protection.value if circuit.sized and circuit.sized.protection else 0
        assert plug.contact_max_a >= device
    materials = packet_table(plugged, "materials").rows
    priced = [r for r in materials if " battery, " not in r.item]  # those go by size and maker
    assert not [r for r in priced if r.kind == "gland" or not r.price]
    assert not [r for r in packet_table(plugged, "install").rows if r.whole]
    assert problems(plugged) == misread(plugged) == []
    errors = {f.code for f in plugged.findings if f.severity == "error"}
    assert errors == {f.code for f in full.findings if f.severity == "error"} == set()


def test_halves_of_heavy_plugs_are_on_the_connector_list(plugged: Draft) -> None:
    tables = read_tables(plugged)
    halves = [row for row in tables["connectors"] if row["ways"] == "1"]
    assert len(halves) == 10
    assert {row["gender"] for row in halves} == {"socket", "pin"}
    for row in halves:
        assert row["mates_with"] in {r["wire_id"] for r in tables["cutlist"]}


@pytest.fixture(scope="module")
def posted(full: Draft) -> Draft:
    order = change_profile("heavy_border", "post", "posts")[1](full.aboard.order)
    return draft(order, full.aboard.boat, shipped_catalogue())


def test_with_posts_both_sides_land_on_one_stud_and_nothing_passes_whole(
    full: Draft, posted: Draft
) -> None:
    rows = [row._asdict() for row in packet_table(posted, "cutlist").rows]
    assert not [row["wire_id"] for row in rows if borders(row, posted)]
    assert len(posted.assembled.posts) == 5
    assert posted.assembled.plugs == full.assembled.plugs
    met: dict[str, list[Row]] = {}
    for row in rows:
        for side in ("from", "to"):
            if row[f"{side}_place"].endswith(" post"):
                met.setdefault(row[f"{side}_place"], []).append(row)
                assert row[f"{side}_termination"].endswith("M10")
    assert met.keys() == {post.place for post in posted.assembled.posts}
    for one, other in met.values():
        assert one["harness"] != other["harness"] and one["gauge"] == other["gauge"]
        assert one["circuit_id"] == other["circuit_id"]
    assert problems(posted) == misread(posted) == []
    (item,) = [r for r in packet_table(posted, "materials").rows if "insulated post" in r.item]
    assert (item.item, item.quantity) == ("insulated post M10", "5") and item.price
    landed = [r for r in packet_table(posted, "landing").rows if r.place.endswith(" post")]
    assert len(landed) == 10 and {r.torque_nm for r in landed} != {""}
    assert {r.boot for r in landed if "-P" in r.wire_id} == {"boot"}
    codes = {r.code for r in packet_table(posted, "key").rows}
    assert codes >= met.keys()


def test_a_post_is_no_good_where_fuel_vapour_is(posted: Draft) -> None:
    """A gland or a plug belongs there."""
    boat = posted.aboard.boat
    here = boat.area_at["battery"].id
    areas = (
        dataclasses.replace(area, fuel_vapour=True) if area.id == here else area
        for area in boat.areas
    )
    moved = dataclasses.replace(boat, areas=tuple(areas))
    told = [
        {
            f.subjects[0]
            for f in done.findings
            if f.code in ("Z15", "Z16") and "post" in f.sentence()
        }
        for done in (posted, draft(posted.aboard.order, moved, shipped_catalogue()))
    ]
    assert told == [set(), {"F05", "C27"}]


@pytest.mark.parametrize("border", ["gland", "plug", "post"])
@pytest.mark.parametrize("hull", ["0421", "1102"])
def test_whatever_stands_at_the_borders_the_net_list_holds(hull: str, border: str) -> None:
    """Limits of every terminal, every load's way, and the printed tables read back."""
    drawn = drafted_order(DEMO_FOLDER / f"hull-{hull}.loom.json")
    order = change_profile("heavy_border", border, border)[1](drawn.aboard.order)
    done = draft(order, drawn.aboard.boat, shipped_catalogue())
    assert problems(done) == misread(done) == []
    heavy = len(done.assembled.posts) + sum(p.ways == 1 for p in done.assembled.plugs)
    assert bool(heavy) == (border != "gland")
    # drafted again from the other, as the window does, it is the same
    again = draft(order, drawn.aboard.boat, shipped_catalogue(), drawn)
    assert again.assembled == done.assembled
