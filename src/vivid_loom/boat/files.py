"""Reading and checking boat files."""

import dataclasses
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Final

from vivid_loom.boat.boat import Boat, Fit, duplicates
from vivid_loom.quantities import Gauge, GaugeError
from vivid_loom.quantities.document import DocumentError, read_document, write_document

__all__ = [
    "BOAT_FORMAT",
    "BOAT_VERSION",
    "check_boat",
    "fed_supply",
    "fit_problems",
    "read_boat",
    "write_boat",
]

BOAT_FORMAT: Final = "vivid-loom-boat"
BOAT_VERSION: Final = 2

Problem = tuple[str, str]  # place in the file, what is wrong


def fed_supply(supply: dict[str, Any]) -> dict[str, Any]:
    """Bring a supply of version 1, which had one feed in its own fields, up to version 2."""
    supply = dict(supply)
    feed = {"source": supply.pop("fed_from")}
    for field in ("family", "distance_mm", "sheathed", "stud"):
        if f"feed_{field}" in supply:
            feed[field] = supply.pop(f"feed_{field}")
    return {**supply, "feeds": [feed]}


def _from_1(body: dict[str, Any]) -> dict[str, Any]:
    """Version 1 knew one battery and panel, one feed a supply, buses in pairs with supplies."""
    body = dict(body)
    body["batteries"] = [body.pop("battery")]
    body["panels"] = [body.pop("helm")]
    body["supplies"] = [fed_supply(supply) for supply in body["supplies"]]
    buses = [dict(bus) for bus in body["return_buses"]]
    for bus in buses:
        bus["homes"] = [{"beside": bus.pop("paired_with")}]
    body["return_buses"] = buses
    return body


MIGRATIONS: Final = {1: _from_1}


def _unique(boat: Boat) -> Iterator[Problem]:
    if not boat.batteries:
        yield "batteries", "found none, expected at least one"
    for field in (
        "areas",
        "assemblies",
        "stations",
        "runs",
        "return_buses",
        "options",
        "bonds",
        "recorded",
    ):
        for twice in duplicates(item.id for item in getattr(boat, field)):
            yield field, f"found id {twice!r} twice, expected every id once"
    placed = (boat.batteries, boat.supplies, boat.return_buses)
    for twice in duplicates(item.id for items in placed for item in items):
        yield "supplies", f"found id {twice!r} twice, expected every id once"
    for twice in duplicates(panel.id for panel in boat.panels):
        yield "panels", f"found id {twice!r} twice, expected every id once"
    named = [feed.id for supply in boat.supplies for feed in supply.feeds if feed.id]
    for twice in duplicates(named):
        yield "supplies", f"found feeder {twice!r} twice, expected every id once"


def _plural(kind: str) -> str:
    plurals = {
        "bus": "buses",
        "assembly": "assemblies",
        "battery or supply": "batteries and supplies",
    }
    plurals |= {"supply": "supplies", "bus or battery": "buses and batteries"}
    return plurals.get(kind, f"{kind}s")


def _references(boat: Boat) -> Iterator[Problem]:
    stations = {s.id for s in boat.stations}
    areas = {a.id for a in boat.areas}
    assemblies = {a.id for a in boat.assemblies}
    supplies = {s.id for s in boat.supplies}

    def known(place: str, name: str, among: set[str], kind: str) -> Iterator[Problem]:
        if name not in among:
            yield (
                place,
                f"found unknown {kind} {name!r}, expected one of the file's {_plural(kind)}",
            )

    for i, station in enumerate(boat.stations):
        yield from known(f"stations[{i}].area", station.area, areas, "area")
    for i, run in enumerate(boat.runs):
        for k in (0, 1):
            yield from known(f"runs[{i}].ends[{k}]", run.ends[k], stations, "station")
        yield from known(f"runs[{i}].area", run.area, areas, "area")
        yield from known(f"runs[{i}].harness", run.harness, assemblies, "assembly")
    for i, battery in enumerate(boat.batteries):
        yield from known(f"batteries[{i}].station", battery.station, stations, "station")
    for i, bond in enumerate(boat.bonds):
        yield from known(f"bonds[{i}].station", bond.station, stations, "station")
    for i, item in enumerate(boat.recorded):
        for side, name in (("start", item.start), ("end", item.end)):
            yield from known(f"recorded[{i}].{side}", name, stations, "station")
    if boat.bonding_station:
        yield from known("bonding_station", boat.bonding_station, stations, "station")
    for i, name in enumerate(boat.hull_joins):
        yield from known(f"hull_joins[{i}]", name, stations, "station")
    for i, panel in enumerate(boat.panels):
        yield from known(f"panels[{i}].station", panel.station, stations, "station")
    batteries = {b.id for b in boat.batteries}
    for i, supply in enumerate(boat.supplies):
        yield from known(f"supplies[{i}].station", supply.station, stations, "station")
        if supply.case_on:
            buses = {b.id for b in boat.return_buses}
            yield from known(f"supplies[{i}].case_on", supply.case_on, buses, "bus")
        for k, feed in enumerate(supply.feeds):
            place = f"supplies[{i}].feeds[{k}].source"
            yield from known(place, feed.source, supplies | batteries, "battery or supply")
    for i, bus in enumerate(boat.return_buses):
        yield from known(f"return_buses[{i}].station", bus.station, stations, "station")
        for k, home in enumerate(bus.homes):
            place = f"return_buses[{i}].homes[{k}]"
            if home.beside:
                yield from known(f"{place}.beside", home.beside, supplies, "supply")
            if home.to:
                others = {b.id for b in boat.return_buses} | batteries
                yield from known(f"{place}.to", home.to, others, "bus or battery")


def _circles(boat: Boat) -> Iterator[Problem]:
    found = boat.network.circle()
    if found is not None:
        index = boat.supplies.index(boat.supplies_by_id[found.id])
        yield (
            f"supplies[{index}].feeds",
            f"found {found.id!r} in a feed circle, expected a way to a battery",
        )


def fit_problems(fit: Fit, boat: Boat, place: str) -> Iterator[Problem]:
    """Yield what is wrong with loads and circuits, whatever options hold."""
    stations = {s.id for s in boat.stations}
    for field in ("loads", "circuits", "switches"):
        for twice in duplicates(item.id for item in getattr(fit, field)):
            yield f"{place}.{field}", f"found id {twice!r} twice, expected every id once"
    for i, switch in enumerate(fit.switches):
        if switch.station and switch.station not in stations:
            yield (
                f"{place}.switches[{i}].station",
                f"found unknown station {switch.station!r}, expected one of the boat's stations",
            )
    for i, load in enumerate(fit.loads):
        where = f"{place}.loads[{i}]"
        if load.station not in stations:
            yield (
                f"{where}.station",
                (f"found unknown station {load.station!r}, expected one of the boat's stations"),
            )
        for name, text in (
            ("maker_smallest", load.maker_smallest),
            *((f"leads[{k}].gauge", lead.gauge) for k, lead in enumerate(load.leads)),
        ):
            if text:
                try:
                    Gauge.parse(text)
                except GaugeError as error:
                    yield f"{where}.{name}", str(error)


def check_boat(boat: Boat) -> Problem | None:
    """Return the first thing wrong with a boat, as (place, problem)."""
    for check in (_unique, _references, _circles):
        if problem := next(check(boat), None):
            return problem
    parts = [(boat.fit, "fit")]
    parts += [(option.adds, f"options[{i}].adds") for i, option in enumerate(boat.options)]
    for fit, place in parts:
        if problem := next(fit_problems(fit, boat, place), None):
            return problem
    return None


def read_boat(path: Path) -> Boat:
    """Read a boat file.

    Raises:
        DocumentError: see ``read_document``; also unknown names, ids used twice, feed circles.
    """
    boat = read_document(path, Boat, BOAT_FORMAT, BOAT_VERSION, MIGRATIONS)
    if problem := check_boat(boat):
        raise DocumentError(path, *problem)
    network = boat.network  # numbers of feeders stay, whatever is taken away from now on
    return dataclasses.replace(
        boat,
        supplies=tuple(network.supplies.values()),
        return_buses=tuple(network.buses.values()),
    )


def write_boat(path: Path, boat: Boat) -> None:
    """Write a boat file, atomically."""
    write_document(path, boat, BOAT_FORMAT, BOAT_VERSION)
