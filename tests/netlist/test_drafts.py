"""The net list of whole drafts: demo orders, and boats whose supply has any shape."""

import csv
import io

import pytest

from vivid_loom.boat import STATES
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.demo.free_shapes import free_shape
from vivid_loom.demo.generated import generated
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.net import intended_states, net_list
from vivid_loom.netlist import NetList, TerminalId, devices_between, live_terminals, loops, nodes
from vivid_loom.opening import open_draft
from vivid_loom.sheets import packet_files
from vivid_loom.sheets.drawings.supply_drawing import alive_parts
from vivid_loom.standards.conductor import area_mm2

HULLS = ("0417", "0421", "0609", "0611", "1102", "1104", "0423")
Row = dict[str, str]


@pytest.fixture(scope="module", params=HULLS)
def done(request: pytest.FixtureRequest) -> Draft:
    return open_draft(DEMO_FOLDER / f"hull-{request.param}.loom.json")


def flagged(done: Draft) -> set[str]:
    """Return whatever an error speaks of."""
    return {s for f in done.findings if f.severity == "error" for s in f.subjects}


def problems(done: Draft) -> list[str]:
    """Return what the net list contradicts: loads that do not close, sources without protection."""
    net = net_list(done)
    known = set(net.terminals_by_id)
    found = [c.id for c in net.conductors if not set(c.ends) <= known]
    named = flagged(done)
    for row in done.circuits:
        if row.sized is None or row.id in named:
            continue
        found += _loads_that_do_not_close(done, net, row.id)
    found += _unprotected(done, net, named)
    found += _crowded(done, net, named)
    return found


def _loads_that_do_not_close(done: Draft, net: NetList, circuit: str) -> list[str]:
    row = done.circuit(circuit)
    assert row is not None
    if row.planned.guard:  # a sensor: both its leads are those of its instrument
        (sensor,), request = row.planned.loads, row.planned.request
        at = nodes(net, {})
        pairs = ((f"{sensor} {x}", f"{request.instrument} {x}") for x in ("sense", "minus"))
        return [f"{circuit}: {a} is not on {b}" for a, b in pairs if at.get(a, a) != at.get(b)]
    closes: dict[str, bool] = dict.fromkeys(row.planned.loads, False)
    found: list[str] = []
    lamp = row.planned.request is not None and row.planned.request.lead == "lamp"
    for states in intended_states(done, row):
        for name in row.planned.loads:
            for element in (e for e in net.elements_of(name) if (e.law == "lamp") == lamp):
                whole = loops(net, element, states)
                closes[name] |= bool(whole)
                for loop in whole:
                    devices = devices_between(net, loop)
                    own = [d for d in devices if d.device and d.device.listed == circuit]
                    if row.sized and row.sized.protection and not (own or devices):
                        found.append(f"{circuit}: {name} closes without a device")
    return found + [f"{circuit}: {name} closes to no source" for name, c in closes.items() if not c]


def _unprotected(done: Draft, net: NetList, named: set[str]) -> list[str]:
    """Open every device: what is alive then is a stub, a bar or a lead that says so itself."""
    devices = {contact.id for contact in net.contacts if contact.device}
    everything = {a.id: a.states[-1] for a in net.actuators if "mating" not in a.id}
    live = live_terminals(net, everything, broken=devices)
    limited = {s.id for s in done.aboard.boat.supplies if s.output_v or s.kind == "charge_source"}
    stubs = {wire.id for row in done.rows for wire in row.wires if wire.leg == "S1"}
    bare = set()
    for conductor in net.conductors:
        if conductor.role == "return" or conductor.id in stubs:
            continue
        fed_by = done.aboard.boat.network.feeders.get(conductor.circuit)
        if fed_by and fed_by.feed and fed_by.feed.source in limited:
            continue
        if fed_by and fed_by.supply and fed_by.supply.id in limited:
            continue  # alive from its far end, where the source limits itself
        if set(conductor.ends) <= live and conductor.circuit not in named:
            bare.add(conductor.circuit)
    return [f"{name}: alive with every device open" for name in sorted(bare)]


def _crowded(done: Draft, net: NetList, named: set[str]) -> list[str]:
    """Every terminal bears its conductors: how many, how thick, and their current."""
    found: list[str] = []
    for terminal in net.terminals:
        landed, form = net.landings[terminal.id], terminal.form
        if terminal.part in named or named & {c.circuit for c in landed}:
            continue
        if len(landed) > form.most:
            found.append(f"{terminal.id}: {len(landed)} conductors, {form.most} fit")
        for conductor in landed:
            if area_mm2(conductor.gauge) > form.thickest_mm2 + 1e-9:
                found.append(f"{terminal.id}: {conductor.gauge} on {form.size or terminal.kind}")
            if conductor.current_a > form.rated_a + 1e-9:
                found.append(f"{terminal.id}: {conductor.current_a:g} A on {form.rated_a:g} A")
    return found


def test_every_load_closes_and_every_source_is_protected(done: Draft) -> None:
    assert problems(done) == []


def test_a_missing_conductor_is_noticed(done: Draft) -> None:
    """The checks above can fail: cut one wire of each sized circuit."""
    net = net_list(done)
    cut = 0
    for row in done.circuits[:6]:
        if row.sized is None or row.id in flagged(done) or len(row.planned.plan.paths) > 1:
            continue
        wire = row.wires[0].id
        for states in intended_states(done, row):
            for name in row.planned.loads:
                for element in net.elements_of(name):
                    assert not loops(net, element, states, broken={wire})
                    cut += 1
    assert cut


def _rows(files: dict[str, bytes], name: str) -> list[Row]:
    return list(csv.DictReader(io.StringIO(files[name].decode())))


def misread(done: Draft) -> list[str]:
    """Return what the printed tables, read back, tell otherwise than the net list: conductors in
    the cut list, plug sides among the connectors, devices on the fuse chart.
    """
    net = net_list(done)
    files = packet_files(done, frozenset({"cutlist", "connectors", "joints", "fusechart"}))
    devices = {contact.device.listed for contact in net.contacts if contact.device}
    before = {f"{contact.ends[1]}": contact.ends[0] for contact in net.contacts if contact.device}

    def printed(place: str, point: str, harness: str) -> str:
        return f"{place} {point} {harness}" if point.startswith("cavity") else f"{place} {point}"

    read = {}
    for row in _rows(files, "cutlist.csv"):
        ends = [
            printed(row[f"{s}_place"], row[f"{s}_point"], row["harness"]) for s in ("from", "to")
        ]
        read[row["wire_id"]] = (row["circuit_id"], *ends, row["gauge"])
    told = {}
    for conductor in net.conductors:
        # a device without a holder is told by the fuse chart, not by the cut list
        ends = [str(before.get(e, e)) if e.endswith(" device") else str(e) for e in conductor.ends]
        told[conductor.id] = (conductor.circuit, *ends, str(conductor.gauge))
    found = [f"{name} is cut otherwise" for name in told if read.get(name) != told[name]]
    found += [f"{name} is no conductor" for name in read if name not in told]
    charted = {row["circuit_id"] for row in _rows(files, "fusechart.csv")}
    found += [f"{name} is on no chart" for name in sorted(devices - charted)]
    return found + _plugs_misread(done, net, files) + _joints_misread(net, files)


def _plugs_misread(done: Draft, net: NetList, files: dict[str, bytes]) -> list[str]:
    """Return halves whose cavities the connector list fills otherwise than the net list."""
    rows = _rows(files, "connectors.csv")
    read = {
        (row["plug"], row["cavity"], row["harness"]): row["wire_id"]
        for row in rows
        if row["wire_id"]
    }
    landed = {
        (t.part, t.name.split(" ")[1], t.name.split(" ")[2]): net.landings[t.id][0].id
        for t in net.terminals
        if t.kind == "cavity"
    }
    found = [f"{half} of the plugs" for half in set(read) ^ set(landed)]
    found += [f"{half} takes {wire}" for half, wire in read.items() if landed.get(half) != wire]
    live = {plug.id: plug.live for plug in done.assembled.plugs}
    found += [
        f"{row['plug']} on {row['harness']} has {row['gender']}s"
        for row in rows
        if row["gender"] != ("socket" if row["harness"] == live[row["plug"]] else "pin")
    ]
    for row in rows:
        other = _other(row["plug"], row["harness"], done)
        if read.get((row["plug"], row["cavity"], other), "") != row["mates_with"]:
            found.append(f"{row['plug']} {row['cavity']} mates with {row['mates_with']}")
    return found


def _other(plug: str, harness: str, done: Draft) -> str:
    found = next(p for p in done.assembled.plugs if p.id == plug)
    return found.dead if harness == found.live else found.live


def _joints_misread(net: NetList, files: dict[str, bytes]) -> list[str]:
    """Return joints whose members are not what lands on that terminal."""
    met: dict[str, set[str]] = {}
    for row in _rows(files, "joints.csv"):
        if row["member"] != "device tail":
            met.setdefault(f"{row['place']} {row['point']}", set()).add(row["member"])
    known = {str(t.id): {c.id for c in net.landings[t.id]} for t in net.terminals}
    return [f"{point} joins {met[point]}" for point in met if known.get(point) != met[point]]


def test_the_printed_tables_give_the_same_net_list(done: Draft) -> None:
    assert misread(done) == []


def test_what_the_supply_picture_calls_alive_is_alive(done: Draft) -> None:
    """The picture walks the boat's parts; the net list walks the wires that were cut for it."""
    net = net_list(done)
    supplies = done.aboard.boat.supplies
    fed_by = {feed.id: supply.kind for supply in supplies for feed in supply.feeds}
    turned = [s for s in supplies if s.kind in STATES and not s.coil]
    for chosen in range(3):
        states = {s.id: tuple(STATES[s.kind])[min(chosen, len(STATES[s.kind]) - 1)] for s in turned}
        alive = alive_parts(done, states)
        # with the engine stopped and the shore lead out
        silent = {w.id for w in net.conductors if fed_by.get(w.circuit) == "charge_source"}
        live = live_terminals(net, states, broken=silent)
        for supply in supplies:
            if supply.kind in ("charge_source", "combining_relay", "relay", "contactor"):
                continue
            behind_relay = any(
                (part := done.aboard.boat.supplies_by_id.get(f.source)) and part.coil
                for f in supply.feeds
            )
            sized = [done.circuit(f.id) for f in supply.feeds]
            if behind_relay or not all(row and row.sized for row in sized):
                continue
            if supply.output_v or any(
                done.aboard.boat.network.converts(f.source) for f in supply.feeds
            ):
                continue  # a converter gives its own voltage only while it is fed
            assert (TerminalId(f"{supply.id} bar") in live) == (supply.id in alive), supply.id


def test_boats_of_any_shape_hold_together(orders: int) -> None:
    """``--orders 10000`` for all of them: selectors, levels, buses, taps as they come."""
    found: list[str] = []
    clean = 0
    for seed in range(min(orders, 200) if orders < 1000 else orders):
        order, boat = free_shape(seed)
        done = draft(order, boat, shipped_catalogue())
        found += [f"{seed}: {problem}" for problem in (*problems(done), *misread(done))]
        clean += not flagged(done)
    assert found == []
    assert clean > 20


def test_generated_trees_hold_together() -> None:
    found: list[str] = []
    for seed in range(40):
        order, boat = generated(seed, 1 + seed % 20, ("us", "iso", "shop")[seed % 3], schools=True)
        done = draft(order, boat, shipped_catalogue())
        found += [f"{seed}: {problem}" for problem in problems(done)]
    assert found == []
