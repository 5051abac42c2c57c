"""An independent second look at a packet: from schedule.csv and cutlist.csv alone.

Written differently from the pipeline on purpose: graphs and plain resistivity instead of arrays
and tables, and no import from ``vivid_loom.drafting``.
"""

import csv
import io
import math
from collections import Counter, defaultdict

import networkx as nx

from vivid_loom.boat import Boat

Row = dict[str, str]


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


def _own_drop_v(wires: list[Row], source: str, bus: str) -> float:
    """Return the largest drop over the wires of one circuit, walking from way to each load."""
    graph = nx.MultiGraph()
    for wire in wires:
        a = (wire["from_place"], wire["from_point"])
        b = (wire["to_place"], wire["to_point"])
        ohm = cold_area_ohm_per_m(float(wire["area_mm2"])) * float(wire["routed_length_mm"]) / 1000
        graph.add_edge(a, b, volts=ohm * float(wire["current_a"]))
    for place in {node[0] for node in graph if node[0].startswith("SW")}:
        tabs = sorted(node for node in graph if node[0] == place)
        common = [node for node in tabs if node[1].endswith("C")]
        for tab in tabs:
            if common and tab != common[0]:
                graph.add_edge(common[0], tab, volts=0.0)
    ways = [n for n in graph if n[0] == source]
    homes = [n for n in graph if n[0] == bus]
    plus = nx.multi_source_dijkstra_path_length(graph, set(ways), weight="volts")
    minus = nx.multi_source_dijkstra_path_length(graph, set(homes), weight="volts")
    worst: dict[str, float] = defaultdict(float)
    for node, volts in plus.items():
        place, point = node
        if point in ("plus", "automatic", "manual") and (place, "minus") in minus:
            worst[place] = max(worst[place], volts + minus[(place, "minus")])
    return max(worst.values(), default=0.0)


def circuit_problems(schedule: list[Row], wires: list[Row]) -> list[str]:
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
        thinnest = min(float(w["area_mm2"]) for w in mine)
        if not math.isclose(thinnest, float(row["area_mm2"]), rel_tol=1e-6):
            found.append(f"{name} is cut from another gauge than scheduled")
        if not row["protection_rating_a"]:
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
        own = _own_drop_v(mine, row["source"], row["return_bus"])
        if own > volts * 1.03 + 1e-3:
            found.append(f"{name} drops {own:.3f} V in its own wires, {volts:.3f} V scheduled")
        # out along one chain of feeders and home along another, 3 % each at most
        if volts - own > 0.06 * nominal + 0.05 * volts:
            found.append(f"{name} leaves {volts - own:.3f} V to its feeders")
    return found


def packet_problems(files: dict[str, bytes], boat: Boat) -> list[str]:
    """Return everything wrong with a packet."""
    schedule, wires = read(files["schedule.csv"]), read(files["cutlist.csv"])
    return [
        *wire_problems(wires, boat),
        *point_problems(wires, schedule),
        *circuit_problems(schedule, wires),
    ]
