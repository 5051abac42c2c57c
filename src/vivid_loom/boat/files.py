"""Reading and checking boat files."""

from collections.abc import Iterator
from pathlib import Path
from typing import Final

from vivid_loom.boat.boat import Boat, Fit, duplicates
from vivid_loom.quantities import Gauge, GaugeError
from vivid_loom.quantities.document import DocumentError, read_document, write_document

__all__ = ["BOAT_FORMAT", "BOAT_VERSION", "check_boat", "fit_problems", "read_boat", "write_boat"]

BOAT_FORMAT: Final = "vivid-loom-boat"
BOAT_VERSION: Final = 1

Problem = tuple[str, str]  # place in the file, what is wrong


def _unique(boat: Boat) -> Iterator[Problem]:
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
    for twice in duplicates([boat.battery.id, *(s.id for s in boat.supplies)]):
        yield "supplies", f"found id {twice!r} twice, expected every id once"


def _references(boat: Boat) -> Iterator[Problem]:
    stations = {s.id for s in boat.stations}
    areas = {a.id for a in boat.areas}
    assemblies = {a.id for a in boat.assemblies}
    supplies = {s.id for s in boat.supplies}

    def known(place: str, name: str, among: set[str], kind: str) -> Iterator[Problem]:
        if name not in among:
            yield place, f"found unknown {kind} {name!r}, expected one of the file's {kind}s"

    for i, station in enumerate(boat.stations):
        yield from known(f"stations[{i}].area", station.area, areas, "area")
    for i, run in enumerate(boat.runs):
        for k in (0, 1):
            yield from known(f"runs[{i}].ends[{k}]", run.ends[k], stations, "station")
        yield from known(f"runs[{i}].area", run.area, areas, "area")
        yield from known(f"runs[{i}].harness", run.harness, assemblies, "assembly")
    yield from known("battery.station", boat.battery.station, stations, "station")
    for i, bond in enumerate(boat.bonds):
        yield from known(f"bonds[{i}].station", bond.station, stations, "station")
    for i, item in enumerate(boat.recorded):
        for side, name in (("start", item.start), ("end", item.end)):
            yield from known(f"recorded[{i}].{side}", name, stations, "station")
    if boat.bonding_station:
        yield from known("bonding_station", boat.bonding_station, stations, "station")
    for i, name in enumerate(boat.hull_joins):
        yield from known(f"hull_joins[{i}]", name, stations, "station")
    yield from known("helm.station", boat.helm.station, stations, "station")
    for i, supply in enumerate(boat.supplies):
        yield from known(f"supplies[{i}].station", supply.station, stations, "station")
        yield from known(
            f"supplies[{i}].fed_from", supply.fed_from, supplies | {boat.battery.id}, "supply"
        )
    for i, bus in enumerate(boat.return_buses):
        yield from known(f"return_buses[{i}].station", bus.station, stations, "station")
        yield from known(f"return_buses[{i}].paired_with", bus.paired_with, supplies, "supply")


def _supply_loops(boat: Boat) -> Iterator[Problem]:
    by_id = boat.supplies_by_id
    for i, supply in enumerate(boat.supplies):
        last = by_id[boat.supply_chain(supply.id)[-1]]
        if last.fed_from != boat.battery.id:
            yield (
                f"supplies[{i}].fed_from",
                (f"found {supply.id!r} in a feed circle, expected a chain to the battery"),
            )


def fit_problems(fit: Fit, boat: Boat, place: str) -> Iterator[Problem]:
    """Yield what is wrong with loads and circuits, whatever options hold."""
    stations = {s.id for s in boat.stations}
    for field in ("loads", "circuits", "switches"):
        for twice in duplicates(item.id for item in getattr(fit, field)):
            yield f"{place}.{field}", f"found id {twice!r} twice, expected every id once"
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
    for check in (_unique, _references, _supply_loops):
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
    boat = read_document(path, Boat, BOAT_FORMAT, BOAT_VERSION)
    if problem := check_boat(boat):
        raise DocumentError(path, *problem)
    return boat


def write_boat(path: Path, boat: Boat) -> None:
    """Write a boat file, atomically."""
    write_document(path, boat, BOAT_FORMAT, BOAT_VERSION)
