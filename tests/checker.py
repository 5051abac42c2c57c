"""An independent second look at a packet: from schedule.csv and cutlist.csv alone.

Written differently from the pipeline on purpose: graphs and plain resistivity instead of arrays
and tables, and no import from ``vivid_loom.drafting``.
"""

import csv
import io
import math
import re
from collections import Counter, defaultdict
from collections.abc import Mapping

import networkx as nx

from vivid_loom.boat import Boat

BARREL_MM2 = {"red": (0, 1.05), "blue": (1.05, 2.55), "yellow": (2.55, 6.1), "large": (6.05, 10.6)}
"""What insulated barrels take: 22-18, 16-14, 12-10 AWG; common practice, no source."""
Row = dict[str, str]
Node = tuple[str, str]


def read(data: bytes) -> list[Row]:
    """Return the rows of a CSV file."""
    return list(csv.DictReader(io.StringIO(data.decode())))


def cold_area_ohm_per_m(area_mm2: float) -> float:
    """Return copper's resistance at 50 °C from IEC 60028 resistivity, 2 % for stranding."""
    return 1.02 * 1.7241e-8 * (1 + 0.00393 * 30) / (area_mm2 * 1e-6)


def _runs_connect(wire: Row, boat: Boat) -> bool:
    ends = {run.id: run.ends for run in boat.runs}
    names = [name for name in wire["path"].split(";") if name]
    if not names:
        return True
    graph = nx.Graph()
    for name in names:
        graph.add_edge(*ends[name])
    degrees = [degree for _, degree in graph.degree()]
    return nx.is_connected(graph) and sorted(degrees)[:2] == [1, 1] and max(degrees) <= 2


def wire_problems(wires: list[Row], boat: Boat) -> list[str]:
    """Return what is wrong with single wires and their labels."""
    lengths = {run.id: run.length_m for run in boat.runs}
    found: list[str] = []
    labels = Counter(label for w in wires for label in (w["label_from"], w["label_to"]))
    found += [f"label {name} used {n} times" for name, n in labels.items() if n > 1]
    for wire in wires:
        name = wire["wire_id"]
        if not (wire["from_termination"] and wire["to_termination"]):
            found.append(f"{name} has an end without termination")
        if not (wire["label_from"] and wire["label_to"]):
            found.append(f"{name} has an end without label")
        if not _runs_connect(wire, boat):
            found.append(f"{name} does not follow connected runs")
        routed = 1000 * sum(lengths[run] for run in wire["path"].split(";") if run)
        if wire["path"] and abs(routed - float(wire["routed_length_mm"])) > 1:
            found.append(f"{name} is not as long as its runs")
        if float(wire["cut_length_mm"]) < float(wire["routed_length_mm"]):
            found.append(f"{name} is cut shorter than its run")
    return found


def point_problems(wires: list[Row], schedule: list[Row]) -> list[str]:
    """Return points used beyond their capacity."""
    points = Counter(
        (w[f"{side}_place"], w[f"{side}_point"])
        for w in wires
        for side in ("from", "to")
        if not w[f"{side}_place"].startswith("X")
    )
    found = []
    for (place, point), count in points.items():
        most = 4 if "stud" in point or "post" in point or "screw" in point else 2
        if count > most and point not in ("plus", "minus"):
            found.append(f"{place} {point} carries {count}")
    ways = Counter(r["protection_place"] for r in schedule if " way " in r["protection_place"])
    found += [f"{way} feeds {n} circuits" for way, n in ways.items() if n > 1]
    poles = Counter(
        (r["helm_position"], r["switch"].split(" pole ")[-1][:1])
        for r in schedule
        if r["helm_position"]
    )
    found += [f"helm {key} used {n} times" for key, n in poles.items() if n > 1]
    return found


CONTACT = re.compile(r"\d[CUD]")  # terminals of a switch, wherever it stands
POSITIVE = ("plus", "automatic", "manual", "up", "down", "lamp", "sense")


def _own_drop_v(wires: list[Row], source: str, bus: str) -> float:
    """Return the largest drop over the wires of one circuit, from its way to a load and home.

    A lead that brings nothing home ends at its load; a sensor's pair starts at its instrument.
    """
    graph = nx.MultiGraph()
    for wire in wires:
        a = (wire["from_place"], wire["from_point"])
        b = (wire["to_place"], wire["to_point"])
        ohm = cold_area_ohm_per_m(float(wire["area_mm2"])) * float(wire["routed_length_mm"]) / 1000
        graph.add_edge(a, b, volts=ohm * float(wire["current_a"]))
    for place, point in [node for node in graph if node[0].startswith("TS")]:
        if point.endswith(" in"):
            graph.add_edge((place, point), (place, point.replace(" in", " out")), volts=0.0)
    ways = {n for n in graph if n[0] == source and n[1] != "minus"}
    homes = {n for n in graph if n[0] == (bus or source) and n not in ways}
    return max(_thrown_v(graph, throw, ways, homes) for throw in "UD")


def _thrown_v(graph: nx.MultiGraph, throw: str, ways: set[Node], homes: set[Node]) -> float:
    """Return the largest drop with every lever thrown one way."""
    joined = graph.copy()
    for place, point in [node for node in graph if CONTACT.fullmatch(node[1])]:
        if point.endswith(throw) and (place, f"{point[0]}C") in graph:
            joined.add_edge((place, f"{point[0]}C"), (place, point), volts=0.0)
    for place, _ in [node for node in graph if node[1] == "2C" and (node[0], "2U") not in graph]:
        # a reversing pair: its links are inside, and the minus goes to the other lead
        joined.add_edge((place, "2C"), (place, "1D" if throw == "U" else "1U"), volts=0.0)
    plus = nx.multi_source_dijkstra_path_length(joined, ways, weight="volts")
    minus = {}
    if homes:
        minus = nx.multi_source_dijkstra_path_length(joined, homes, weight="volts")
    worst = 0.0
    for (place, point), volts in plus.items():
        if point in POSITIVE:
            other = {"up": "down", "down": "up"}.get(point, "")
            back = [minus[n] for n in ((place, "minus"), (place, other)) if n in minus]
            if back or not homes:
                worst = max(worst, volts + max(back, default=0.0))
    return worst


def _instrument_of(row: Row, schedule: list[Row]) -> Row:
    """Return the circuit of the instrument that a sensor's pair hangs on."""
    read_by = row["protection_place"].split(",")[0]
    return next(r for r in schedule if r["circuit_id"] == read_by)


def _guarded(row: Row, schedule: list[Row], boat: Boat) -> bool:
    """Tell whether a feeder without a device is protected by what comes before it.

    What leaves a relay or key must bear the device before it, what leaves a converter its limit; a
    conductor home has none.
    """
    if any(bus.id == row["return_bus"] for bus in boat.return_buses) and ", home" in row["label"]:
        return True
    if row["pattern"] == "sensor_pair":  # its instrument's device takes it too
        ahead = _instrument_of(row, schedule)["protection_rating_a"]
        return float(ahead or "inf") <= float(row["ampacity_a"])
    source = boat.supplies_by_id.get(row["source"])
    if source is None or not row["gauge"]:
        return False
    if source.output_v is not None:
        return float(row["ampacity_a"]) >= source.total_max_a
    before = [r for r in schedule if r["circuit_id"] in {feed.id for feed in source.feeds}]
    kept = source.kind in ("relay", "key_switch", "contactor") and before
    return bool(kept) and all(
        float(r["protection_rating_a"] or "inf") <= float(row["ampacity_a"]) for r in before
    )


def circuit_problems(schedule: list[Row], wires: list[Row], boat: Boat) -> list[str]:
    """Return what is wrong with protection, ampacity and drop of circuits."""
    found: list[str] = []
    by_circuit: dict[str, list[Row]] = defaultdict(list)
    for wire in wires:
        by_circuit[wire["circuit_id"]].append(wire)
    for row in schedule:
        name = row["circuit_id"]
        mine = by_circuit[name]
        if not row["gauge"]:
            found.append(f"{name} is not sized")
            continue
        # what feeds a switch's lamp is as thin as the device allows
        thinnest = min(float(w["area_mm2"]) for w in mine if w["serves"] == "load")
        if not math.isclose(thinnest, float(row["area_mm2"]), rel_tol=1e-6):
            found.append(f"{name} is cut from another gauge than scheduled")
        if not row["protection_rating_a"]:
            if _guarded(row, schedule, boat):
                continue
            found.append(f"{name} has no protection")
        elif float(row["protection_rating_a"]) > float(row["ampacity_a"]) + 0.01:
            found.append(f"{name} is protected above its wire")
        if float(row["drop_percent"]) > float(row["drop_limit_percent"]) + 1e-6:
            found.append(f"{name} drops too much")
        volts, nominal = float(row["drop_v"]), float(row["nominal_v"])
        if abs(100 * volts / nominal - float(row["drop_percent"])) > 0.01:
            found.append(f"{name} prints two different drops")
        if row["pattern"] == "feeder":
            continue
        source, bus = row["source"], row["return_bus"]
        if ", on the bar of " in row["protection_place"]:
            source = row["protection_place"].partition(",")[0]
        if row["pattern"] == "sensor_pair":
            source, bus = _instrument_of(row, schedule)["loads"], ""
        own = _own_drop_v(mine, source, bus)
        if own > volts * 1.03 + 1e-3:
            found.append(f"{name} drops {own:.3f} V in its own wires, {volts:.3f} V scheduled")
        # out along one chain of feeders and home along another, 3 % each at most
        if volts - own > 0.06 * nominal + 0.05 * volts:
            found.append(f"{name} leaves {volts - own:.3f} V to its feeders")
    return found


# Typed a second time, 105 °C insulation, from 33 CFR 183.425 table 5 and ISO 13297 annex A
FREE_AIR_A = {
    "18 AWG": 20,
    "16 AWG": 25,
    "14 AWG": 35,
    "12 AWG": 45,
    "10 AWG": 60,
    "8 AWG": 80,
    "6 AWG": 120,
    "4 AWG": 160,
    "3 AWG": 180,
    "2 AWG": 210,
    "1 AWG": 245,
    "1/0 AWG": 285,
    "2/0 AWG": 330,
    "3/0 AWG": 385,
    "4/0 AWG": 445,
    "0.75 mm²": 16,
    "1 mm²": 20,
    "1.5 mm²": 25,
    "2.5 mm²": 35,
    "4 mm²": 45,
    "6 mm²": 60,
    "10 mm²": 90,
    "16 mm²": 130,
    "25 mm²": 170,
    "35 mm²": 210,
    "50 mm²": 270,
    "70 mm²": 330,
    "95 mm²": 390,
    "120 mm²": 450,
}
CONTACT_A = {"20": 7.5, "16": 13.0, "12": 25.0, "8": 60.0, "4": 100.0}
MADE = {
    "blade fuse": (1, 2, 3, 4, 5, 7.5, 10, 15, 20, 25, 30, 35, 40),
    "breaker": (3, 5, 7.5, 8, 10, 15, 20, 25, 30, 35, 40, 50, 60, 70, 80, 90, 100, 120, 150),
}


def ampacity_problems(schedule: list[Row]) -> list[str]:
    """Return circuits whose printed ampacity is more than their wire has."""
    found = []
    for row in schedule:
        if not row["gauge"]:
            continue
        free = FREE_AIR_A[row["gauge"]]
        name, bears, share = row["circuit_id"], float(row["ampacity_a"]), float(row["derating"])
        if bears > free * share * 1.001 + 0.01 or share > 1:
            found.append(f"{name} prints {bears} A for {row['gauge']} at {share}")
        standard = MADE.get(row["protection_type"])
        rating = float(row["protection_rating_a"] or 0)
        if standard and rating and rating not in standard:
            found.append(f"{name} has a {rating} A device that nobody makes")
        if row["protection_type"] == "blade fuse" and float(row["nominal_v"]) > 32:
            found.append(f"{name} has a blade fuse at {row['nominal_v']} V")
    return found


def _factor(loaded: int, metric: bool) -> float:
    limits = (
        [(25, 0.5), (7, 0.6), (4, 0.7)] if metric else [(25, 0.4), (7, 0.5), (4, 0.6), (3, 0.7)]
    )
    return next((share for least, share in limits if loaded >= least), 1.0)


def bundle_problems(schedule: list[Row], wires: list[Row], boat: Boat, bundling: str) -> list[str]:
    """Count the loaded conductors of every loom and conduit again."""
    if bundling == "off":
        return []
    closed = {run.id: run.length_m for run in boat.runs if run.enclosure != "open"}
    rows = {r["circuit_id"]: r for r in schedule if r["gauge"] and r["pattern"] != "feeder"}
    loaded = {
        name
        for name, r in rows.items()
        if bundling == "all" or float(r["current_a"]) > 0.3 * FREE_AIR_A[r["gauge"]]
    }
    inside: Counter[str] = Counter()
    for wire in wires:
        if wire["circuit_id"] in loaded:
            inside.update(run for run in wire["path"].split(";") if run in closed)
    ways = legs_of(wires)
    found = []
    for name in loaded:
        most = lies_with(ways[name], inside, closed)
        metric = "mm" in rows[name]["gauge"]
        if float(rows[name]["derating"]) > _factor(most, metric) + 1e-3:
            found.append(f"{name} lies with {most} loaded and is derated {rows[name]['derating']}")
    return found


def legs_of(wires: list[Row]) -> dict[str, list[list[str]]]:
    """Return the runs that each leg of a circuit passes, in order, through plugs and splices."""
    legs: dict[tuple[str, str], list[str]] = defaultdict(list)
    for wire in sorted(wires, key=lambda w: w["wire_id"]):
        leg = wire["circuit_id"], wire["wire_id"].rstrip("abcdefgh")
        legs[leg].extend(filter(None, wire["path"].split(";")))
    found: dict[str, list[list[str]]] = defaultdict(list)
    for (name, _), runs in legs.items():
        found[name].append(runs)
    return found


def lies_with(ways: list[list[str]], inside: Mapping[str, int], closed_m: dict[str, float]) -> int:
    """Return the most loaded conductors that stay together for more than 610 mm.

    NEC 310.15(C)(1), 24 in, from memory. Tried number by number, from the greatest down.
    """
    for number in sorted(set(inside.values()), reverse=True):
        for way in ways:
            far_m = 0.0
            for run in way:
                thick = run in closed_m and inside.get(run, 0) >= number
                far_m = far_m + closed_m[run] if thick else 0.0
                if far_m > 0.61:
                    return number
    return 0


def end_problems(schedule: list[Row], wires: list[Row]) -> list[str]:
    """Look at every crimp: barrel for the wire, contact for the device, colour for the side."""
    rating = {r["circuit_id"]: float(r["protection_rating_a"] or 0) for r in schedule}
    found = []
    for wire in wires:
        name, area = wire["wire_id"], float(wire["area_mm2"])
        least = 0.74 if wire["cable_id"] else 0.99 if "mm" in wire["gauge"] else 1.30
        if area < least:
            found.append(f"{name} is thinner than a separate conductor may be")
        for side in ("from", "to"):
            kind = wire[f"{side}_termination"]
            for shade, (low, high) in BARREL_MM2.items():
                joined = "closed-end" in kind  # sized for all the wires it takes together
                if kind.startswith(shade) and not joined and not low <= area < high:
                    found.append(f"{name} has a {kind} on {wire['gauge']}")
            if "contact size" in kind:
                bears = CONTACT_A[kind.rsplit(" ", 1)[1]]
                if rating[wire["circuit_id"]] > bears:
                    found.append(f"{wire['circuit_id']} leads {bears} A contacts behind more")
        home = "minus" in (wire["from_point"], wire["to_point"])
        if home and wire["colour"] not in ("YE", "BK"):
            found.append(f"{name} goes home in {wire['colour']}")
        if wire["colour"] == "GN" and wire["tracer"] in ("", "YE"):
            found.append(f"{name} is green")  # with another stripe it is trim in, ABYC E-11
    return found


def joint_problems(wires: list[Row]) -> list[str]:
    """Look at both sides of every joint: the tail's barrel, and all that a closed end takes."""
    met: dict[Node, list[tuple[str, float, str, float | None]]] = defaultdict(list)
    for wire in wires:
        for side in ("from", "to"):
            tail = re.search(r"([\d.]+) (AWG|mm²)$", wire[f"{side}_tail"])
            mm2 = section_mm2(float(tail[1]), tail[2]) if tail else None
            end = wire["wire_id"], float(wire["area_mm2"]), wire[f"{side}_termination"], mm2
            met[wire[f"{side}_place"], wire[f"{side}_point"]].append(end)
    found = []
    for ends in met.values():
        for name, area, kind, tail_mm2 in ends:
            if "butt" in kind and tail_mm2:
                far = kind.split(" ")[0].split("-")[-1]
                low, high = BARREL_MM2[far]
                if not low <= tail_mm2 < high:
                    found.append(f"{name} has a {kind} on a tail of {tail_mm2:.2f} mm²")
            if "closed-end" in kind:
                # a tail of unknown size is as the wire
                total = sum(e[1] for e in ends) + (tail_mm2 or area)
                low, high = BARREL_MM2[kind.split(" ")[0]]
                if not low <= total < high:
                    found.append(f"{name} has a {kind} on {total:.2f} mm²")
    return found


def section_mm2(size: float, series: str) -> float:
    """ASTM B258; a metric size is its section."""
    return size if series == "mm²" else 0.012668 * 92 ** ((36 - size) / 19.5)


def far_end_problems(schedule: list[Row], boat: Boat) -> list[str]:
    """Short every blade-fused circuit at its far end, by resistivity alone, copper at 105 °C."""
    open_v, cells = 12.7 * boat.nominal_v / 12, boat.nominal_v / 2
    source_ohm = 0.5 * (12.7 / 6 - 1.2) * cells / boat.battery.cranking_a
    hot = 1.7241e-8 * (1 + 0.00393 * 85) * 1.02 / 1e-6

    def ohm(row: Row) -> float:
        return hot * float(row["loop_length_m"]) / float(row["area_mm2"])

    feeders = sum(ohm(row) for row in schedule if row["pattern"] == "feeder" and row["gauge"])
    found = []
    for row in schedule:
        if row["protection_type"] != "blade fuse" or not row["gauge"]:
            continue
        least_a = open_v / (source_ohm + feeders + ohm(row))
        if least_a < 1.35 * float(row["protection_rating_a"]):
            found.append(f"{row['circuit_id']} never opens on a short of {least_a:.0f} A")
    return found


def packet_problems(files: dict[str, bytes], boat: Boat, bundling: str = "off") -> list[str]:
    """Return everything wrong with a packet."""
    schedule, wires = read(files["schedule.csv"]), read(files["cutlist.csv"])
    return [
        *wire_problems(wires, boat),
        *point_problems(wires, schedule),
        *circuit_problems(schedule, wires, boat),
        *ampacity_problems(schedule),
        *bundle_problems(schedule, wires, boat, bundling),
        *end_problems(schedule, wires),
        *joint_problems(wires),
        *far_end_problems(schedule, boat),
    ]
