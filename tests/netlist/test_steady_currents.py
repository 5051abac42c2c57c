"""What guards let flow, by a linear program over the net list: every wire of the supply bears it.

The draft takes the greatest flow between devices; here every wire has its resistance, every node
its potential, and currents divide as they must. Loads, and faults beside them, may draw whatever
their devices let pass; batteries give and take what they like; sources give what they state.
"""

import random
from collections.abc import Iterator

import numpy as np
import pytest
from scipy.optimize import linprog
from scipy.sparse import coo_array

from tests.drafting.test_supply_shapes import bare, circuit, drafted, load, order
from vivid_loom.boat import Battery, Boat, Feed, Home, ReturnBus, Supply
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.demo.free_shapes import free_supply
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.netlist import NetList, nodes
from vivid_loom.opening import open_draft
from vivid_loom.standards.conductor import ohm_per_m

UNLIMITED_A = 1e5
HULLS = ("0417", "0421", "0609", "0611", "1102", "1104")


def everything_joined(net: NetList) -> dict[str, str]:
    """Return the states in which the supply joins all it can, and every lever is up."""
    states = {}
    for actuator in net.actuators:
        joining = ("both", "on", "pulled", "closed", "mated", "up")
        states[actuator.id] = next((s for s in joining if s in actuator.states), actuator.states[0])
    return states


def some_joined(done: Draft, net: NetList, rng: random.Random) -> dict[str, str]:
    """Return every lever up, and each part of the supply in a state of its own."""
    parts = {supply.id for supply in done.aboard.boat.supplies}
    drawn = {a.id: rng.choice(a.states) for a in net.actuators if a.id in parts}
    return everything_joined(net) | drawn


class Steady:
    """The linear program of one draft: potentials, and what devices and elements pass."""

    def __init__(self, done: Draft, net: NetList, states: dict[str, str]) -> None:
        apart = {c.id for c in net.conductors} | {c.id for c in net.contacts if c.device}
        at = nodes(net, states, broken=apart)
        self.find = at.__getitem__
        self.count = max(at.values()) + 1
        self.rows: list[int] = []
        self.columns: list[int] = []
        self.values: list[float] = []
        nominal = done.aboard.boat.nominal_v
        self.bounds: list[tuple[float, float]] = [(-3 * nominal, 3 * nominal)] * self.count
        self.wires = {c.id: c for c in net.conductors}
        self.differ: list[tuple[int, int, tuple[float, float]]] = []
        for wire in net.conductors:
            a, b = map(self.find, wire.ends)
            siemens = 1 / (ohm_per_m(wire.gauge, 20.0) * max(wire.length_m, 0.01))
            for row, column, value in ((a, a, 1), (a, b, -1), (b, b, 1), (b, a, -1)):
                self._add(row, column, value * siemens)
        for contact in net.contacts:
            if contact.device:
                a, b = map(self.find, contact.ends)
                self._flow(a, b, (-contact.device.rating_a, contact.device.rating_a))
                self.differ.append((a, b, (0.0, 0.0)))
        outputs = {s.id: s.total_max_a for s in done.aboard.boat.supplies}
        banks = done.aboard.boat.network.batteries
        for element in net.elements:
            plus, minus = self.find(element.plus), self.find(element.minus)
            if element.id in banks:
                self._flow(minus, plus, (-UNLIMITED_A, UNLIMITED_A))
                self.differ.append((plus, minus, (0.8 * nominal, 1.25 * nominal)))
            elif element.law == "source":
                self._flow(minus, plus, (0.0, outputs[element.part]))
            elif element.law != "lamp" and not element.id.endswith(" down"):  # levers are up
                self._flow(plus, minus, (0.0, UNLIMITED_A))
                self.differ.append((plus, minus, (0.0, 2 * nominal)))  # it only takes

    def _add(self, row: int, column: int, value: float) -> None:
        self.rows.append(row)
        self.columns.append(column)
        self.values.append(value)

    def _flow(self, start: int, end: int, most: tuple[float, float]) -> None:
        column = len(self.bounds)
        self.bounds.append(most)
        self._add(start, column, 1.0)
        self._add(end, column, -1.0)

    def most_a(self, wire_id: str) -> float:
        """Return the greatest current of a wire, either way, A."""
        wire = self.wires[wire_id]
        a, b = map(self.find, wire.ends)
        rows, columns, values = list(self.rows), list(self.columns), list(self.values)
        bounds = list(self.bounds)
        for i, (x, y, volts) in enumerate(self.differ):
            rows += [self.count + i] * 3
            columns += [x, y, len(bounds)]
            values += [1.0, -1.0, -1.0]
            bounds.append(volts)
        height, width = self.count + len(self.differ), len(bounds)
        laws = coo_array((values, (rows, columns)), shape=(height, width)).tocsr()
        siemens = 1 / (ohm_per_m(wire.gauge, 20.0) * max(wire.length_m, 0.01))
        found = 0.0
        for sign in (1.0, -1.0):
            aim = np.zeros(width)
            aim[a], aim[b] = -sign * siemens, sign * siemens
            answer = linprog(aim, A_eq=laws, b_eq=np.zeros(height), bounds=bounds)
            assert answer.status == 0, answer.message
            found = max(found, -answer.fun)
        return found


def overloaded(done: Draft, rng: random.Random | None = None) -> Iterator[str]:
    """Yield the wires of feeders that may carry more than they bear while no error names them.

    Args:
        rng: draws the states of the supply; everything is joined without.
    """
    named = {s for f in done.findings if f.severity == "error" for s in f.subjects}
    net = net_list(done)
    states = some_joined(done, net, rng) if rng else everything_joined(net)
    steady = Steady(done, net, states)
    for row in done.feeders:
        if row.sized is None or row.id in named:
            continue
        for wire in row.wires:
            amps = steady.most_a(wire.id)
            if amps > row.sized.alone_a * (1 + 1e-6):
                yield f"{wire.id} may carry {amps:.0f} A and bears {row.sized.alone_a:.0f} A"


@pytest.mark.parametrize("hull", HULLS)
def test_every_feeder_of_a_demo_boat_bears_what_its_guards_let_flow(hull: str) -> None:
    assert list(overloaded(open_draft(DEMO_FOLDER / f"hull-{hull}.loom.json"))) == []


def test_every_feeder_of_any_supply_bears_what_its_guards_let_flow(orders: int) -> None:
    """``--orders 10000`` for all of them: four batteries, ties, selectors, chargers, converters."""
    found: list[str] = []
    tied = 0
    for seed in range(min(orders, 60) if orders < 1000 else orders):
        done = draft(*free_supply(seed), shipped_catalogue())
        found += [f"{seed}: {told}" for told in overloaded(done)]
        found += [f"{seed}, parted: {told}" for told in overloaded(done, random.Random(seed))]
        kinds = {s.kind for s in done.aboard.boat.supplies}
        tied += bool(kinds & {"combining_relay", "selector"})
    assert found == []
    assert tied > 15


def post(source: str, port: str = "") -> Feed:
    """Return a feed from a battery by a fuse on its post."""
    return Feed(source=source, port=port, family="post fuse", distance_mm=60.0, stud="M10")


def tied_boat() -> Boat:
    """Two batteries, an 80 A alternator and a 100 A combiner on the second, 200 A post fuses."""
    first = bare().batteries[0]
    second = Battery(id="B2", name="Second", station=first.station, cranking_a=800, capacity_ah=90)
    tie = Supply(
        id="TIE",
        name="Combiner",
        station=first.station,
        kind="combining_relay",
        level="battery_direct",
        feeds=(post(first.id, "1"), post("B2", "2")),
    )
    alternator = Supply(
        id="ALT",
        name="Alternator",
        station="a0_port",
        kind="charge_source",
        level="battery_direct",
        feeds=(post("B2"),),
        total_max_a=80.0,
    )
    block = Supply(
        id="BLK",
        name="Block",
        station="blocks",
        kind="fuse_block",
        level="battery_direct",
        feeds=(post(first.id),),
        ways=6,
    )
    bus = ReturnBus(
        id="N0",
        name="Main",
        station="blocks",
        screws=20,
        homes=(Home(to=first.id), Home(to="B2")),
    )
    return bare(supplies=(tie, alternator, block), batteries=(first, second), return_buses=(bus,))


def test_a_second_batterys_minus_bears_what_its_post_fuse_lets_through() -> None:
    """One 3 A flood on the first battery: 16 AWG was drafted, which reaches about 1,080 °C."""
    flood = load("flood", "blocks", 3.0)
    asked = order([flood], [circuit("C1", "device_switched", "flood", level="battery_direct")])
    done = drafted(asked, tied_boat())
    network = done.aboard.boat.network
    for battery in network.batteries:
        (minus,) = (n for n, f in network.feeders.items() if network.home_of(f) == battery)
        row, need = done.circuit(minus), done.needs[minus]
        posts = [done.needs[n].rating_a for n in network.feeders if network.source_of(n) == battery]
        assert row is not None and row.sized is not None
        assert row.sized.alone_a >= need.return_a >= 100.0 and row.sized.alone_a >= max(posts)
