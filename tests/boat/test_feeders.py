"""What feeds what: chains, levels of 'on', voltages and ways home, of any shape."""

import dataclasses
import json
from pathlib import Path

import networkx as nx
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vivid_loom.boat import Battery, Feed, Home, Network, ReturnBus, Supply, numbered, read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import draft
from vivid_loom.order import read_order
from vivid_loom.sheets.draft_json import draft_json_bytes

BATTERIES = tuple(
    Battery(id=name, name=name, station="s", cranking_a=600.0, capacity_ah=90.0)
    for name in ("B1", "B2")
)


def part(name: str, kind: str, *sources: str, coil: str = "", **fields: object) -> Supply:
    return Supply(
        id=name,
        name=name,
        station="s",
        kind=kind,  # type: ignore[arg-type]
        level="unswitched",
        feeds=tuple(Feed(source=source) for source in sources),
        coil=coil,
        **fields,  # type: ignore[arg-type]
    )


def network(*parts: Supply, buses: tuple[ReturnBus, ...] = (), volts: float = 24.0) -> Network:
    return Network(BATTERIES, *numbered(parts, buses), volts)


def bus(name: str, *homes: Home) -> ReturnBus:
    return ReturnBus(id=name, name=name, station="s", screws=9, homes=homes)


def test_a_selector_has_a_chain_from_each_battery() -> None:
    net = network(part("SEL", "selector", "B1", "B2"), part("BLK", "fuse_block", "SEL"))
    assert net.chains("BLK") == (("F03", "F01"), ("F03", "F02"))
    assert [b.id for b in net.batteries_behind("BLK")] == ["B1", "B2"]
    assert net.upstream("BLK") == {"F01", "F02", "F03"}
    assert net.bus_at("BLK") == "" and net.level("BLK", {}) == "unswitched"


@pytest.mark.parametrize(
    ("parts", "coils", "level"),
    [
        ((part("X", "fuse_block", "B1"),), {}, "battery_direct"),
        ((part("S", "battery_switch", "B1"), part("X", "bus", "S")), {}, "unswitched"),
        ((part("K", "key_switch", "B1"), part("X", "bus", "K")), {}, "ignition"),
        (
            (part("R", "relay", "B1", coil="c"), part("X", "bus", "R")),
            {"c": "ignition"},
            "ignition",
        ),
        ((part("R", "relay", "B1", coil="c"), part("X", "bus", "R")), {}, "ignition"),
        # of two ways the one that is alive sooner counts
        ((part("S", "battery_switch", "B1"), part("X", "bus", "S", "B2")), {}, "battery_direct"),
    ],
)
def test_levels_follow_from_what_is_on_the_way(
    parts: tuple[Supply, ...], coils: dict[str, str], level: str
) -> None:
    assert network(*parts).level("X", coils) == level  # type: ignore[arg-type]


def test_nothing_is_fed_from_a_charge_source() -> None:
    net = network(part("ALT", "charge_source", "B1"), part("X", "fuse_block", "ALT"))
    assert net.chains("ALT") == () and net.chains("X") == ()


def test_a_converter_cuts_the_chain_and_sets_the_voltage() -> None:
    net = network(
        part("A", "fuse_block", "B1"),
        part("CNV", "converter", "A", output_v=12.0),
        part("E12", "fuse_block", "CNV"),
    )
    assert net.voltage("A") == 24.0 and net.voltage("E12") == net.voltage("CNV") == 12.0
    assert net.to_source("E12") == (("F03",),) and len(net.chains("E12")[0]) == 3
    assert net.regulated("E12") and not net.regulated("A")


def test_two_buses_beside_one_supply_both_get_home() -> None:
    block = part("BLK", "fuse_block", "B1")
    net = network(block, buses=(bus("N1", Home(beside="BLK")), bus("N2", Home(beside="BLK"))))
    assert net.homes("N1") == (("F01",),) and net.homes("N2") == (("F02",),)
    alone = net.feeders["F02"]
    assert alone.supply is None and alone.bus is not None and alone.bus.id == "N2"


def test_a_bus_without_a_conductor_home_has_no_way() -> None:
    net = network(buses=(bus("N1"), bus("N2", Home(to="N1")), bus("N3", Home(to="N3"))))
    assert net.homes("N1") == net.homes("N2") == net.homes("N3") == ()


def test_a_circle_of_feeds_is_found() -> None:
    assert network(part("A", "bus", "C"), part("C", "bus", "A")).circle() is not None
    assert network(part("A", "bus", "B1"), part("C", "bus", "A")).circle() is None


def test_numbers_once_given_stay() -> None:
    """A feeder keeps its number when another part goes; only new ones take what is free."""
    parts, _ = numbered((part("A", "bus", "B1"), part("C", "bus", "A"), part("D", "bus", "A")), ())
    assert [s.feeds[0].id for s in parts] == ["F01", "F02", "F03"]
    fewer, _ = numbered((parts[0], parts[2], part("E", "bus", "A")), ())
    assert [s.feeds[0].id for s in fewer] == ["F01", "F03", "F02"]


@st.composite
def shapes(draw: st.DrawFn) -> tuple[Supply, ...]:
    """Parts in any order of levels, each fed from one to three of those before, or batteries."""
    made: list[Supply] = []
    kinds = ("bus", "fuse_block", "battery_switch", "selector", "relay")
    for i in range(draw(st.integers(1, 9))):
        known = [*(b.id for b in BATTERIES), *(s.id for s in made)]
        sources = draw(st.lists(st.sampled_from(known), min_size=0, max_size=3, unique=True))
        made.append(part(f"P{i}", draw(st.sampled_from(kinds)), *sources))
    return tuple(made)


@given(shapes())
def test_chains_are_the_simple_paths_of_the_graph(parts: tuple[Supply, ...]) -> None:
    """Checked by networkx: every simple path from a battery, and no other."""
    net = network(*parts)
    graph = nx.MultiDiGraph()
    graph.add_nodes_from([b.id for b in BATTERIES])
    for supply in net.supplies.values():
        graph.add_node(supply.id)
        for feed in supply.feeds:
            graph.add_edge(feed.source, supply.id, key=feed.id)
    for name in net.supplies:
        expected = {
            tuple(key for _, _, key in reversed(path))
            for battery in BATTERIES
            for path in nx.all_simple_edge_paths(graph, battery.id, name)
        }
        assert set(net.chains(name)) == expected
        assert net.upstream(name) == {key for path in expected for key in path}
    assert net.circle() is None


def test_a_boat_of_version_1_drafts_as_its_own_re_saved_file(tmp_path: Path) -> None:
    """One battery, one feed a supply, buses in pairs with supplies: what version 1 knew."""
    from vivid_loom.boat import write_boat

    old = Path(__file__).parent / "data" / "version-1.boat.json"
    assert json.loads(old.read_text())["version"] == 1
    boat = read_boat(old)
    again = tmp_path / "again.boat.json"
    write_boat(again, boat)
    order = read_order(DEMO_FOLDER / "hull-0421.loom.json")
    first, second = (draft(order, b, shipped_catalogue()) for b in (boat, read_boat(again)))
    assert draft_json_bytes(first) == draft_json_bytes(second)
    assert [f.id for f in first.feeders] == ["F01", "F02", "F03", "F04", "F05", "F06"]
    assert [f.planned.feeds for f in first.feeders] == ["ALB", "BSW", "HB", "HBP", "HFB", "IGN"]
    # feeders keep their numbers whatever is taken away since the file was read
    without = dataclasses.replace(boat, supplies=boat.supplies[1:])
    assert boat.network.feeder_of("IGN") is not None and without.network is not boat.network


def test_a_way_goes_home_to_the_battery_it_comes_from() -> None:
    """Two batteries, each with its own bus home: no loop leaves one and comes back to the other."""
    selector = part("SEL", "selector", "B1", "B2")
    net = network(
        selector, buses=(bus("N", Home(to="B1", id="F11"), Home(to="B2", id="F12")),), volts=12.0
    )
    assert net.loops("SEL", "N") == ((("F01",), ("F11",)), (("F02",), ("F12",)))
    # no conductor leads home to the second battery: what there is is taken, and a rule says so
    one = network(selector, buses=(bus("N", Home(to="B1", id="F11")),))
    assert one.loops("SEL", "N") == ((("F01",), ("F11",)), (("F02",), ("F11",)))


@pytest.mark.parametrize(
    ("lever", "first", "second"),
    [("off", 0, 0), ("1", 1, 0), ("both", 1, 1), ("2", 0, 1)],
)
def test_a_selector_lets_through_what_it_says(lever: str, first: int, second: int) -> None:
    """Whichever of two switches ahead of it is on: its posts pass in the positions they name."""
    feeds = (Feed(source="S1", port="1"), Feed(source="S2", port="2"))
    selector = dataclasses.replace(part("SEL", "selector"), feeds=feeds)
    net = network(part("S1", "battery_switch", "B1"), part("S2", "battery_switch", "B2"), selector)
    for switch, passes in (("S1", first), ("S2", second)):
        assert ("SEL" in net.alive({"SEL": lever, switch: "on"}, {})) == bool(passes)


def test_a_relay_is_pulled_by_a_live_coil_only() -> None:
    net = network(part("KEY", "key_switch", "B1"), part("R", "relay", "B1", coil="coil"))
    pulled, by_key = {"R": "pulled"}, {"coil": "KEY"}
    assert "R" not in net.alive(pulled, by_key)
    assert "R" in net.alive({**pulled, "KEY": "on"}, by_key)
    assert "R" in net.alive(pulled, {})  # nobody said what feeds its coil
