"""Edits at random, from a seed: for tests of what an edit must never upset."""

import dataclasses
import random
from collections.abc import Callable
from typing import Any, Final

from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.as_built import as_built
from vivid_loom.order import (
    Edit,
    Override,
    add_fit,
    change_circuit,
    change_loads,
    change_profile,
    change_run,
    change_station,
    change_switch,
    choose_option,
    clear_override,
    drop_option,
    fit_part,
    move_loads,
    record_built,
    remove_loads,
    send_by_way,
    set_override,
    use_profile,
)
from vivid_loom.order.choices import CHOICES
from vivid_loom.order.new_loads import fed, free_id, refed
from vivid_loom.order.ways_of_feeding import FEEDINGS

__all__ = ["random_edit"]

Maker = Callable[[random.Random, Draft], Edit]


def _gauge(rng: random.Random, draft: Draft) -> Edit:
    row = rng.choice(draft.rows)
    size = rng.choice(draft.catalogue.wires).gauge
    return set_override(_overruled(row.id, "gauge", str(size)))


def _overruled(subject: str, field: str, value: str) -> Override:
    return Override(
        subject=subject,
        field=field,
        value=value,
        reason="tried",
        initials="VL",
    )


def _rating(rng: random.Random, draft: Draft) -> Edit:
    amps = rng.choice(("3", "7.5", "15", "30", "60"))
    return set_override(_overruled(rng.choice(draft.rows).id, "protection_a", amps))


def _place(rng: random.Random, draft: Draft) -> Edit:
    boat, row = draft.aboard.boat, rng.choice(draft.circuits)
    if rng.random() < 0.4 and draft.switches:
        switch = rng.choice(draft.switches).request.id
        position = str(rng.randint(1, max(1, boat.positions)))
        return set_override(_overruled(switch, "helm_position", position))
    if rng.random() < 0.5:
        supply = rng.choice([s.id for s in boat.supplies])
        return set_override(_overruled(row.id, "supply", supply))
    bus = rng.choice([b.id for b in boat.return_buses])
    return set_override(_overruled(row.id, "return_bus", bus))


def _colour(rng: random.Random, draft: Draft) -> Edit:
    shade = rng.choice(("RD", "BN/WH", "BU", "OG"))
    return set_override(_overruled(rng.choice(draft.rows).id, "positive_colour", shade))


def _clear(rng: random.Random, draft: Draft) -> Edit:
    standing = draft.aboard.order.overrides
    if not standing:
        return _gauge(rng, draft)
    one = rng.choice(standing)
    return clear_override(one.subject, one.field)


def _move(rng: random.Random, draft: Draft) -> Edit:
    load = rng.choice(list(draft.aboard.loads.values()))
    return move_loads([load], rng.choice(draft.aboard.boat.stations))


def _figures(rng: random.Random, draft: Draft) -> Edit:
    load = rng.choice(list(draft.aboard.loads.values()))
    fields: dict[str, Any] = rng.choice(
        (
            {"running_a": round(rng.uniform(0.1, 30), 1), "peak_a": None},
            {"running_a": None},
            {"drop": rng.choice(("critical", "other"))},
            {"motor": True, "locked_rotor_a": 40.0},
            {"maker_fuse_a": rng.choice((5.0, 15.0, None))},
            {"ingress": "dry"},
            {"state": "wired_for_later"},
            {"name": f"{load.name} again"[:60]},
        )
    )
    return change_loads([dataclasses.replace(load, **fields)], "figures")


def _option(rng: random.Random, draft: Draft) -> Edit:
    chosen = draft.aboard.order.options
    option = rng.choice(draft.aboard.boat.options)
    change = drop_option if option.id in chosen else choose_option
    return change(option.id, option.name)


def _profile(rng: random.Random, draft: Draft) -> Edit:
    if rng.random() < 0.2:
        return use_profile(rng.choice(("us", "iso", "shop")))
    choice = rng.choice(CHOICES)
    value = rng.choice(choice.schools)[0]
    return change_profile(choice.field, value, str(value))


def _run(rng: random.Random, draft: Draft) -> Edit:
    run = rng.choice(draft.aboard.boat.runs)
    fields: dict[str, Any] = rng.choice(
        (
            {"length_m": round(rng.uniform(0.2, 4), 2)},
            {"permitted": not run.permitted},
            {"enclosure": rng.choice(("open", "loom"))},
        )
    )
    return change_run(dataclasses.replace(run, **fields), "measure")


def _station(rng: random.Random, draft: Draft) -> Edit:
    station = rng.choice(draft.aboard.boat.stations)
    area = rng.choice(draft.aboard.boat.areas).id
    return change_station(dataclasses.replace(station, area=area))


def _supply(rng: random.Random, draft: Draft) -> Edit:
    supply = rng.choice(draft.aboard.boat.supplies)
    fields: dict[str, Any] = rng.choice(
        ({"ways": 6}, {"way_max_a": 60.0}, {"total_max_a": 150.0}, {"way_distance_mm": 90.0})
    )
    if rng.random() < 0.5:
        battery = rng.choice(draft.aboard.boat.batteries)
        return fit_part(dataclasses.replace(battery, cranking_a=rng.choice((500.0, 1200.0))))
    return fit_part(dataclasses.replace(supply, **fields))


def _circuit(rng: random.Random, draft: Draft) -> Edit:
    request = rng.choice(draft.aboard.circuits)
    if rng.random() < 0.5:
        feeding = rng.choice(list(FEEDINGS))
        loads = [draft.aboard.loads[name] for name in request.loads]
        if FEEDINGS[feeding].alone and len(loads) > 1:
            feeding = "own switch"
        taken = {*draft.aboard.loads, *draft.aboard.switches, *draft.aboard.boat.places_by_id}
        return add_fit(refed(request, feeding, taken, draft.aboard.fit, draft.catalogue))
    fields: dict[str, Any] = rng.choice(
        ({"cable": "cable"}, {"cable": ""}, {"level": "ignition"}, {"label": "Other"})
    )
    return change_circuit(dataclasses.replace(request, **fields), "one field")


def _switch(rng: random.Random, draft: Draft) -> Edit:
    request = rng.choice(list(draft.aboard.switches.values()))
    part = rng.choice(draft.catalogue.switches).id
    fields = rng.choice(({"rank": rng.randint(0, 3)}, {"part": part}, {"legend": "OTHER"}))
    return change_switch(dataclasses.replace(request, **fields))


def _add(rng: random.Random, draft: Draft) -> Edit:
    taken = {*draft.aboard.loads, *draft.aboard.switches, *(c.id for c in draft.aboard.circuits)}
    like = rng.choice(list(draft.aboard.loads.values()))
    name = free_id("extra", taken)
    load = dataclasses.replace(like, id=name, name=name, safety="")
    return add_fit(fed([load], "own switch", name, {*taken, name}))


def _remove(rng: random.Random, draft: Draft) -> Edit:
    return remove_loads([rng.choice(list(draft.aboard.loads.values()))])


def _send(rng: random.Random, draft: Draft) -> Edit:
    row = rng.choice(draft.circuits)
    via = (rng.choice(draft.aboard.boat.stations),) if rng.random() < 0.7 else ()
    return send_by_way(row.id, row.planned.label, via)


def _record(rng: random.Random, draft: Draft) -> Edit:
    """Record the boat as built, but for a wire or two."""
    wires = [wire.id for wire in draft.assembled.wires]
    return record_built(*as_built(draft, without=rng.sample(wires, min(2, len(wires)))))


_MAKERS: Final[tuple[Maker, ...]] = (
    _gauge,
    _gauge,
    _rating,
    _place,
    _colour,
    _clear,
    _clear,
    _move,
    _move,
    _figures,
    _figures,
    _option,
    _profile,
    _run,
    _station,
    _supply,
    _circuit,
    _switch,
    _add,
    _remove,
    _send,
    _record,
)


def random_edit(rng: random.Random, draft: Draft) -> Edit:
    """Return some edit of what is aboard; it may be one that is refused."""
    return rng.choice(_MAKERS)(rng, draft)
