"""A change to a built boat touches what the change is about, or a rule asks for more.

What comes off is found here by what lies in the boat and what is drafted, each as ends, size,
colour and way; not by what the draft says of it.
"""

import dataclasses
import random
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import pytest

from tests.conftest import demo_orders, drafted
from vivid_loom.boat import Boat, Load, read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import find_boat
from vivid_loom.demo.generated import generated
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.as_built import as_built
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.order import BuiltWire, Order, record_built, remove_loads
from vivid_loom.quantities import Gauge
from vivid_loom.standards.conductor import is_thinner
from vivid_loom.workshop.change import change_steps
from vivid_loom.workshop.taken_off import taken_off

Lying = tuple[frozenset[str], str, str, tuple[str, ...]]


def built(done: Draft) -> Order:
    """Return the order once its boat is built as drawn."""
    return record_built(*as_built(done))[1](done.aboard.order)


def ends(wire: Wire) -> frozenset[str]:
    return frozenset(f"{end.place} {end.point}" for end in (wire.start, wire.end))


def torn_out(done: Draft) -> Iterator[BuiltWire]:
    """Yield the conductors that nothing drafted is like."""
    asked: Counter[Lying] = Counter(
        (ends(w), str(w.gauge), str(w.colour), w.runs) for w in done.assembled.wires
    )
    for lies in done.aboard.order.built:
        like = (frozenset((lies.start, lies.end)), lies.gauge, lies.colour, lies.runs)
        asked[like] -= 1
        if asked[like] < 0:
            yield lies


def own(done: Draft, load: Load) -> set[str]:
    """Return the circuits that feed a load or read it."""
    rows = (r for r in done.circuits if r.planned.request)
    return {r.id for r in rows if load.id in (*r.planned.loads, r.planned.request.instrument)}  # type: ignore[union-attr]


def switches(done: Draft, circuits: set[str]) -> set[str]:
    """Return the places of the switches that circuits go through, and of those beside them."""
    through = {
        contact.switch
        for row in done.circuits
        if row.id in circuits and row.planned.request
        for contact in row.planned.request.contacts
    }
    return {switch.place for switch in done.switches if switch.request.id in through}


def behind_a_panel(lies: BuiltWire, tabs: set[str], places: set[str]) -> bool:
    """Tell whether a jumper ends on a tab that nothing lands on, or on a switch that changes."""
    points = {lies.start, lies.end}
    return not lies.runs and (
        bool(points - tabs) or any(p.startswith(f"{at} ") for p in points for at in places)
    )


def asked_by_a_branch(done: Draft, lies: BuiltWire) -> bool:
    """Tell whether a feeder is thickened for a branch that could not hold its limit before."""
    row = next((row for row in done.feeders if row.id == lies.circuit), None)
    return bool(row and row.sized and row.sized.decider)


def strange(done: Draft, before: Draft, load: Load) -> list[str]:
    """Return what comes off a boat for a load that neither is the load's own nor its switch's."""
    mine = own(before, load) | own(done, load)
    places = switches(before, mine) | switches(done, mine)
    tabs = {point for wire in done.assembled.wires for point in ends(wire)}
    return [
        f"{load.id}: {lies.id} {lies.gauge} {lies.start} to {lies.end}"
        for lies in torn_out(done)
        if lies.circuit not in mine and not behind_a_panel(lies, tabs, places)
        if not asked_by_a_branch(done, lies)
    ]


def without(done: Draft, load: Load, model: Boat) -> Draft:
    """Return the change order in which a load of a built boat is left out."""
    return draft(remove_loads([load])[1](built(done)), model, shipped_catalogue())


def with_more(done: Draft, load: Load, model: Boat) -> tuple[Draft, Draft]:
    """Return a boat built without a load, and the change order that brings it."""
    less = draft(remove_loads([load])[1](done.aboard.order), model, shipped_catalogue())
    order = built(less)
    lies = {name: getattr(order, name) for name in ("built", "built_with", "landings")}
    more = dataclasses.replace(done.aboard.order, **lies)
    return less, draft(more, model, shipped_catalogue())


def unexplained(done: Draft, before: Draft, load: Load) -> list[str]:
    """Return what comes off for a load more and is not too thin for a rule that *Why* names."""
    rows = {row.id: row for row in done.rows}
    thin = {
        lies.id
        for lies in done.aboard.order.built
        if (row := rows.get(lies.circuit)) and row.sized
        if is_thinner(Gauge.parse(lies.gauge), row.sized.gauge.value)
        if row.sized.gauge.governed_by != "as built"
    }
    return [told for told in strange(done, before, load) if told.split(" ")[1] not in thin]


def new_boat(path: Path) -> tuple[Draft, Boat]:
    """Return a demo order as of a boat that is not built, and its model."""
    order = drafted(path).aboard.order
    model = read_boat(find_boat(path, order.boat))
    plain = dataclasses.replace(order, built=(), landings=())
    return draft(plain, model, shipped_catalogue()), model


@pytest.mark.parametrize("path", demo_orders(), ids=lambda path: path.name[:9])
def test_a_load_less_takes_off_its_own_wires_alone(path: Path, orders: int) -> None:
    """Dropping one pump tore 56 conductors out of a sound boat."""
    done, model = new_boat(path)
    every = 1 if orders > 500 else 3
    for load in list(done.aboard.loads.values())[::every]:
        after = without(done, load, model)
        assert not strange(after, done, load)
        devices = {step.circuit for step in change_steps(after) if step.kind == "device"}
        sound = not any(f.severity == "error" for f in done.findings)
        assert not sound or devices <= own(done, load), load.id
        told = {off.wire.id: off for off in taken_off(after)}
        assert told.keys() == {lies.id for lies in torn_out(after)}, load.id
        mine = own(done, load)
        assert all(off.reason != "gauge" for off in told.values() if off.wire.circuit not in mine)


@pytest.mark.parametrize("path", demo_orders(), ids=lambda path: path.name[:9])
def test_a_load_more_takes_off_only_what_a_rule_names(path: Path, orders: int) -> None:
    done, model = new_boat(path)
    every = 1 if orders > 500 else 3
    for load in list(done.aboard.loads.values())[1::every]:
        before, after = with_more(done, load, model)
        assert not unexplained(after, before, load)
        for off in taken_off(after):
            if off.reason == "gauge" and off.wire.circuit not in own(after, load):
                assert off.rule and off.rule != "as built", off


def problems(seed: int) -> list[str]:
    """Build a generated boat, drop a load of it and bring another; return what is not right."""
    rng = random.Random(seed)
    order, boat = generated(seed, 2 + seed % 24, ("us", "iso", "shop")[seed % 3], schools=True)
    done = draft(order, boat, shipped_catalogue())
    loads = list(done.aboard.loads.values())
    less, more = rng.choice(loads), rng.choice(loads)
    found = strange(without(done, less, boat), done, less)
    before, after = with_more(done, more, boat)
    found += unexplained(after, before, more)
    return [f"{seed}: {told}" for told in found]


def test_generated_boats_keep_what_lies_in_them(orders: int) -> None:
    """``--orders 1000`` for that many boats."""
    seeds = range(orders)
    if orders > 500:
        with ProcessPoolExecutor() as pool:
            found = [told for each in pool.map(problems, seeds, chunksize=25) for told in each]
    else:
        found = [told for seed in seeds[::3] for told in problems(seed)]
    assert not found, found[:20]
