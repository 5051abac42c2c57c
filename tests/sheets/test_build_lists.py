"""What the builder and the installer read, held against facts of the trade and other sheets."""

import csv
import dataclasses
import io
import re
from collections import Counter, defaultdict

import pytest

from vivid_loom.boat import Boat
from vivid_loom.drafting import Draft, built_wires, draft
from vivid_loom.order import Order, Shop
from vivid_loom.quantities import Gauge
from vivid_loom.sheets import packet_files, packet_table
from vivid_loom.sheets.lists.stores import materials
from vivid_loom.standards.conductor import area_mm2

Row = dict[str, str]

# ISO 8820-3, colours of blade fuses, typed from memory a second time
BLADES = {
    "1": "black",
    "2": "grey",
    "3": "violet",
    "4": "pink",
    "5": "tan",
    "7.5": "brown",
    "10": "red",
    "15": "light blue",
    "20": "yellow",
    "25": "clear",
    "30": "green",
    "35": "blue-green",
    "40": "orange",
}


@pytest.fixture(scope="module")
def sheets(full: Draft) -> dict[str, list[Row]]:
    """Every table of hull 0417 as another program reads it."""
    return {
        name.removesuffix(".csv"): list(csv.DictReader(io.StringIO(data.decode())))
        for name, data in packet_files(full).items()
        if name.endswith(".csv")
    }


def test_the_side_that_can_be_live_when_apart_has_the_sockets(full: Draft) -> None:
    """Common practice, no source: sockets are shrouded, pins are not."""
    wires = {wire.id: wire for wire in full.assembled.wires}
    seen = Counter()
    for plug in full.assembled.plugs:
        for cavity in plug.cavities:
            for name in cavity.wires:
                wire = wires[name]
                end = wire.start if wire.start.place == plug.id else wire.end
                wanted = "socket" if wire.harness == plug.live else "pin"
                assert end.termination.kind.startswith(wanted), (plug.id, name)
                assert (end.termination.why == "shrouded: live when apart") == (wanted == "socket")
                seen[wanted] += 1
    assert seen["socket"] == seen["pin"] > 20


def test_current_meets_the_socket_before_the_pin(full: Draft) -> None:
    """From the block on, the first half of a plug that a positive wire meets is the live one."""
    for wire in full.assembled.wires:
        if wire.live == "source" and wire.end.kind == "plug":
            assert wire.end.termination.kind.startswith("socket"), wire.id
        if wire.live == "return" and wire.end.kind == "plug":
            assert wire.end.termination.kind.startswith("pin"), wire.id


def test_of_rings_on_one_stud_the_largest_lies_at_the_bottom(full: Draft) -> None:
    """33 CFR 183.445 and common practice: order 1 is the bottom."""
    gauges = {wire.id: area_mm2(wire.gauge) for wire in full.assembled.wires}
    rows = csv.DictReader(
        io.StringIO(packet_files(full, frozenset({"landing"}))["landing.csv"].decode())
    )
    stacks: dict[tuple[str, str], list[tuple[int, float]]] = defaultdict(list)
    for row in rows:
        if not row["terminal"].endswith("on its mount"):  # a fuse's, below all wires
            stacks[row["place"], row["point"]].append((int(row["order"]), gauges[row["wire_id"]]))
    mixed = [stack for stack in stacks.values() if len({area for _, area in stack}) > 1]
    assert mixed  # otherwise this would prove nothing
    for stack in stacks.values():
        areas = [area for _, area in sorted(stack)]
        assert areas == sorted(areas, reverse=True)
        assert [order for order, _ in sorted(stack)] == list(range(1, len(stack) + 1))


def test_blades_have_their_iso_colour_and_nothing_else_has_one(
    full: Draft, sheets: dict[str, list[Row]]
) -> None:
    families = {row.id: row.planned.family for row in full.rows}
    seen: set[str] = set()
    for row in sheets["fusechart"]:
        if families[row["circuit_id"]] == "blade fuse" and row["rating_a"] != "not sized":
            assert row["blade_colour"] == BLADES[row["rating_a"]]
            seen.add(row["rating_a"])
        else:
            assert row["blade_colour"] == ""
    assert len(seen) >= 5


def test_what_a_probe_reads_with_everything_off(full: Draft, sheets: dict[str, list[Row]]) -> None:
    """Alive with the battery switch off is what hangs on the battery itself, up to its switch."""
    always = {s.id for s in full.aboard.boat.supplies if s.level == "battery_direct"}
    always |= {battery.id for battery in full.aboard.boat.batteries}
    live = {wire.id: wire.live for wire in full.assembled.wires}
    source = {row.id: row.planned.source for row in full.rows}
    circuit = {wire.id: wire.circuit for wire in full.assembled.wires}
    told = Counter()
    for row in sheets["landing"]:
        wire = row["wire_id"]
        if row["terminal"].endswith("on its mount"):
            assert (row["expected_off_v"], row["expected_on_v"]) == ("12", "12"), wire
            continue
        hot = live[wire] == "source" and source[circuit[wire]] in always
        assert row["expected_off_v"] == ("12" if hot else "0"), wire
        assert row["expected_on_v"] == ("0" if live[wire] == "return" else "12"), wire
        told[hot] += 1
    assert told[True] > 3 and told[False] > 50


def test_strips_read_like_the_conductor_on_their_pole(
    full: Draft, sheets: dict[str, list[Row]]
) -> None:
    wires = {(w.end.place, w.end.point): w for w in full.assembled.wires}
    always = {s.id for s in full.aboard.boat.supplies if s.level == "battery_direct"}
    source = {row.id: row.planned.source for row in full.circuits}
    used = [row for row in sheets["testpoints"] if row["circuit_id"]]
    assert used
    for row in used:
        arriving = wires[row["strip"], f"pole {row['pole']} in"]
        assert arriving.circuit == row["circuit_id"]
        hot = arriving.live == "source" and source[arriving.circuit] in always
        assert row["expected_off_v"] == ("12" if hot else "0")
        assert row["expected_on_v"] == "12"


def test_a_cut_length_is_run_loops_tails_and_strips_rounded_up(full: Draft) -> None:
    """Added up again from the profile, wire by wire."""
    p = full.aboard.profile
    for wire in full.assembled.wires:
        strips = wire.start.termination.strip_mm + wire.end.termination.strip_mm
        need = wire.routed_m * 1000 + strips
        if not wire.jumper and not wire.leg.startswith("S"):  # the stub before a device
            devices = [wire.start.kind, wire.end.kind].count("lead")
            need += devices * p.service_loop_mm + 2 * p.tail_mm
        assert need - 1e-6 <= wire.cut_mm < need + p.cut_step_mm, wire.id
        assert wire.cut_mm / p.cut_step_mm == pytest.approx(round(wire.cut_mm / p.cut_step_mm))


def test_a_maker_wire_is_joined_by_function_not_by_colour(full: Draft) -> None:
    """A pump's brown is positive and meets the harness's positive, its black meets the negative."""
    joined = 0
    for wire in full.assembled.wires:
        for end in (wire.start, wire.end):
            if end.kind == "lead":
                assert (end.point == "minus") == (wire.live == "return"), wire.id
                joined += bool(end.lead_colour)
    assert joined > 20


def test_every_end_has_its_own_label_naming_its_wire(sheets: dict[str, list[Row]]) -> None:
    rows = [row for row in sheets["labels"] if row["kind"] == "wire"]
    texts = Counter(row["label"] for row in rows)
    assert max(texts.values()) == 1
    assert all(row["label"].startswith(f"{row['wire_id']} ") for row in rows)
    assert len(rows) == 2 * len(sheets["cutlist"])
    on_the_list = {row[side] for row in sheets["cutlist"] for side in ("label_from", "label_to")}
    assert on_the_list == set(texts)  # what is printed on the sleeve is what the cut list says


def test_materials_count_what_the_cut_list_takes(sheets: dict[str, list[Row]]) -> None:
    """Metres by gauge and colour, terminations one by one, devices one a circuit."""
    metres: Counter[str] = Counter()
    ends: Counter[str] = Counter()
    joints: set[tuple[str, str]] = set()
    for row in sheets["cutlist"]:
        if not row["cable_id"]:
            colour = "/".join(filter(None, (row["colour"], row["tracer"])))
            metres[f"{row['gauge']} {colour}"] += float(row["cut_length_mm"]) / 1000  # type: ignore[assignment]
        for side in ("from", "to"):
            kind = row[f"{side}_termination"]
            joint = (row[f"{side}_place"], row[f"{side}_point"])
            if "closed-end" in kind and joint in joints:
                continue  # one barrel takes all that meet there
            joints.add(joint)
            ends[kind] += 1
    told = {row["item"]: row for row in sheets["materials"]}
    for name, length_m in metres.items():
        assert float(told[name]["quantity"]) == pytest.approx(length_m, abs=0.006), name
    for kind, count in ends.items():
        assert int(told[kind]["quantity"]) >= count, kind
    boots = Counter(r["terminal"] for r in sheets["landing"] if r["boot"])
    for kind, count in boots.items():
        assert told[f"boot over {kind}"]["quantity"] == str(count), kind
    bought = [int(r["quantity"]) for r in sheets["materials"] if r["kind"] == "boot"]
    assert sum(bought) == sum(boots.values()) > 10
    devices = sum(int(r["quantity"]) for r in sheets["materials"] if r["kind"] == "protection")
    devices += sum(int(r["quantity"]) for r in sheets["materials"] if "with breaker, " in r["item"])
    protected = [row for row in sheets["schedule"] if row["protection_rating_a"]]
    assert devices == len(protected)


def test_a_shop_in_feet_takes_feet_and_never_less(full: Draft) -> None:
    in_feet = dataclasses.replace(full.aboard.profile, units="ft")
    feet = dataclasses.replace(full, aboard=dataclasses.replace(full.aboard, profile=in_feet))
    lengths = 0
    for metric, imperial in zip(
        materials(full, Shop()).rows, materials(feet, Shop()).rows, strict=True
    ):
        if metric.unit == "m":
            taken_m = float(imperial.quantity) * 0.3048
            assert imperial.unit == "ft", metric.item
            assert float(metric.quantity) - 0.006 <= taken_m < float(metric.quantity) + 0.04
            assert imperial.price == metric.price
            lengths += 1
        else:
            assert imperial == metric
    assert lengths > 20


def test_materials_name_everything_on_the_shelf(full: Draft, sheets: dict[str, list[Row]]) -> None:
    """Counted a second time from the other sheets and the boat."""
    count: Counter[str] = Counter()
    for row in sheets["materials"]:
        count[row["kind"]] += float(row["quantity"])  # type: ignore[assignment]
        assert row["currency"] == ("EUR" if row["price"] else "")
        # what a battery costs goes by its size and maker: the bill counts it as unpriced
        assert row["price"] or " battery, " in row["item"], row["item"]
    wires = sheets["cutlist"]
    ends = [(w["gauge"], w[f"{s}_termination"], w["sleeve"]) for w in wires for s in ("from", "to")]
    contacts = sum("contact" in kind for _, kind, _ in ends)
    assert count["seal"] == contacts > 50
    marked = sum(bool(sleeve) for _, _, sleeve in ends)
    assert count["label"] == len(ends) + marked and marked
    boat = full.aboard.boat
    parts = [s for s in boat.supplies if s.kind != "charge_source"]
    mounts = [r for r in sheets["landing"] if r["terminal"].endswith("on its mount")]
    blocks = {s.case_on for s in boat.supplies if s.case_on}  # come with their engines
    assert count["supply"] == len(parts) + len(boat.return_buses) - len(blocks) + len(mounts)
    assert len(mounts) == 6
    assert count["strip"] == len({row["strip"] for row in sheets["testpoints"]})
    switches = {row["position"] for row in sheets["switches"] if row["position"]}
    assert count["panel"] == len(boat.panels) - 1 + len(switches)  # one comes with its breakers
    plates = [r["item"] for r in sheets["materials"] if r["item"].startswith("switch panel")]
    assert plates == ["switch panel, 20 positions, with gasket"]
    sleeved = [kind for _, kind, _ in ends if "contact" not in kind and "end cap" not in kind]
    shrink = [r for r in sheets["materials"] if r["kind"] == "heat-shrink"]
    first = sum(float(r["quantity"]) for r in shrink if "heat-shrink," in r["item"])
    assert 0.04 * len(sleeved) <= first <= 0.06 * len(sleeved)
    taken = {run for w in wires for run in w["path"].split(";") if run}
    runs = [r for r in boat.runs if r.id in taken and r.enclosure != "open"]
    metres = sum(r.wire_m for r in runs)
    laid = [r for r in sheets["materials"] if r["kind"] == "loom and conduit"]
    assert sum(float(r["quantity"]) for r in laid) == pytest.approx(metres, abs=0.01 * len(laid))
    assert sum(r["item"].startswith("legend ") for r in sheets["materials"]) == len(switches)


def test_the_batteries_are_on_the_bill_of_a_boat_that_is_new(full: Draft) -> None:
    """Each with a box of its size; what is built has them."""
    rows = [r for r in packet_table(full, "materials").rows if r.kind == "battery"]
    assert {(r.item, r.quantity) for r in rows} == {
        ("flooded battery, 12 V 95 Ah, 800 A cranking", "1"),
        ("flooded battery, 12 V 180 Ah, 900 A cranking", "1"),
        ("battery box with straps, 12 V 95 Ah", "1"),
        ("battery box with straps, 12 V 180 Ah", "1"),
    }
    assert [bool(r.price) for r in rows] == [r.item.startswith("battery box") for r in rows]
    lies = built_wires(full.assembled)
    order = dataclasses.replace(full.aboard.order, built=lies, based_on="0417")
    built = draft(order, full.aboard.boat, full.catalogue)
    assert "battery" not in {r.kind for r in packet_table(built, "materials").rows}


def test_what_the_shop_has_not_is_marked(full: Draft) -> None:
    shop = Shop(stock=(("blade fuse", (1.0, 2.0, 3.0, 5.0)),))
    rows = packet_table(full, "materials", shop).rows
    blades = {r.item: r.stock for r in rows if r.item.startswith("blade fuse ") and "A" in r.item}
    assert blades["blade fuse 3 A"] == "" and blades["blade fuse 7.5 A"] == "not in stock"
    assert not any(r.stock for r in rows if r.item.startswith("breaker"))


def test_a_built_boat_has_its_blocks_and_panels_already(
    full: Draft, order: Order, boat: Boat
) -> None:
    built = dataclasses.replace(order, built=built_wires(full.assembled)[:1])
    kinds = {row.kind for row in packet_table(draft(built, boat, full.catalogue), "materials").rows}
    assert "supply" not in kinds and "termination" in kinds


def test_a_barrel_takes_its_wire(full: Draft) -> None:
    """Red 22–18, blue 16–14, yellow 12–10 AWG (common practice, no source); the jaw follows."""
    colours = {18: "red", 16: "blue", 14: "blue", 12: "yellow", 10: "yellow"}
    for wire in full.assembled.wires:
        for end in (wire.start, wire.end):
            kind = end.termination.kind
            if wire.gauge.series == "AWG" and re.match(
                r"(red|blue|yellow) (ring|push|.*butt)", kind
            ):
                wanted = colours[int(Gauge.parse(str(wire.gauge)).size)]
                assert kind.startswith(wanted), (wire.id, kind)
                assert end.termination.jaw == wanted


def test_the_kit_has_a_spare_of_whatever_is_fitted(sheets: dict[str, list[Row]]) -> None:
    """At least two of each fuse; a fifth of them where there are many."""
    kit = {row["item"]: row for row in sheets["kit"]}
    for row in sheets["materials"]:
        if row["kind"] == "protection" and not row["item"].startswith("breaker"):
            spare = kit[row["item"]]
            assert spare["fitted"] == row["quantity"]
            assert int(spare["quantity"]) >= max(2, float(row["quantity"]) / 5)
    assert not any(item.startswith("lug ") or item.endswith(" post") for item in kit)
    panel = [r for r in sheets["cutlist"] if is_switch(r["from_place"], r["to_place"])]
    longest = max(float(r["cut_length_mm"]) for r in panel if r["gauge"] == "16 AWG")
    assert f"jumper 16 AWG, {longest:g} mm, push-on and piggyback" in kit


def is_switch(*places: str) -> bool:
    return all(re.fullmatch(r"SW\d+", place) for place in places)


def test_hours_add_up_and_cost_what_an_hour_costs(full: Draft) -> None:
    plain = packet_table(full, "hours").rows
    assert all(row.price == "" for row in plain)
    dear = packet_table(full, "hours", Shop(hour_price=60.0)).rows
    for row in dear:
        assert float(row.hours) == pytest.approx(
            float(row.times) * float(row.minutes_each) / 60, abs=0.006
        )
        assert float(row.price) == pytest.approx(float(row.hours) * 60, abs=0.4)
    slow = Shop(minutes=(("ring out a wire", 6.0),))
    rung = [r for r in packet_table(full, "hours", slow).rows if r.operation == "ring out a wire"]
    assert sum(float(r.hours) for r in rung) == pytest.approx(
        len(full.assembled.wires) / 10, abs=0.1
    )
