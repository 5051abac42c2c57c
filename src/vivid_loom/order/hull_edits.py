"""Edits of the boat as this hull has it: stations, measured runs, ways, blocks."""

import dataclasses
from collections.abc import Callable
from typing import Any, Final

from vivid_loom.boat import (
    Area,
    Battery,
    Boat,
    Bond,
    Fit,
    Geography,
    Grounding,
    HelmPanel,
    HullChanges,
    Option,
    Recorded,
    ReturnBus,
    Run,
    Station,
    Supply,
)
from vivid_loom.order.edits import Edit
from vivid_loom.order.records import Order, Via

__all__ = [
    "add_run",
    "change_area",
    "change_geography",
    "change_grounding",
    "change_option",
    "change_run",
    "change_station",
    "change_supply",
    "fit_helm",
    "fit_part",
    "join_runs",
    "make_option",
    "remove_part",
    "remove_run",
    "send_by_way",
    "split_run",
    "take_hull",
]

Part = Battery | Supply | ReturnBus | HelmPanel | Bond | Recorded


def _edit(name: str, change: Callable[[HullChanges], HullChanges]) -> Edit:
    return name, lambda order: dataclasses.replace(order, hull_changes=change(order.hull_changes))


def _with_runs(changes: HullChanges, *runs: Run) -> HullChanges:
    merged = {run.id: run for run in (*changes.runs, *runs)}
    back = {run.id for run in runs}
    return dataclasses.replace(
        changes,
        runs=tuple(merged.values()),
        removed_runs=tuple(name for name in changes.removed_runs if name not in back),
    )


def _without_run(changes: HullChanges, run_id: str) -> HullChanges:
    return dataclasses.replace(
        changes,
        runs=tuple(run for run in changes.runs if run.id != run_id),
        removed_runs=tuple(sorted({*changes.removed_runs, run_id})),
    )


def _with_station(changes: HullChanges, station: Station) -> HullChanges:
    merged = {item.id: item for item in (*changes.stations, station)}
    return dataclasses.replace(changes, stations=tuple(merged.values()))


def change_station(station: Station, *, new: bool = False) -> Edit:
    """Put a station elsewhere, rename it, or add one."""
    name = f"{'add' if new else 'change'} station {station.name}"
    return _edit(name, lambda changes: _with_station(changes, station))


def change_area(area: Area) -> Edit:
    """Give an area other zone attributes."""

    def apply(changes: HullChanges) -> HullChanges:
        merged = {item.id: item for item in (*changes.areas, area)}
        return dataclasses.replace(changes, areas=tuple(merged.values()))

    return _edit(f"change area {area.name}", apply)


def add_run(run: Run) -> Edit:
    """Lay a new run."""
    return _edit(f"add run {run.id}", lambda changes: _with_runs(changes, run))


def change_run(run: Run, what: str) -> Edit:
    """Change a run: its measured length, enclosure, bore, supports."""
    return _edit(f"set {what} of run {run.id}", lambda changes: _with_runs(changes, run))


def remove_run(run: Run) -> Edit:
    """Take a run out; wires go another way, or the edit is refused where there is none."""
    return _edit(f"remove run {run.id}", lambda changes: _without_run(changes, run.id))


def split_run(run: Run, station: Station, first_m: float) -> Edit:
    """Put a new station on a run, ``first_m`` of its length from its first end.

    Raises:
        ValueError: a length that does not lie on the run.
    """
    if not 0 < first_m < run.length_m:
        raise ValueError(f"found {first_m:g} m, expected a length within {run.length_m:g} m")
    rest_m = round(run.length_m - first_m, 6)
    halves = (
        dataclasses.replace(run, id=f"{run.id}a", ends=(run.ends[0], station.id), length_m=first_m),
        dataclasses.replace(
            run, id=f"{run.id}b", ends=(station.id, run.ends[1]), length_m=rest_m, swing=None
        ),
    )

    def apply(changes: HullChanges) -> HullChanges:
        return _with_runs(_without_run(_with_station(changes, station), run.id), *halves)

    return _edit(f"split run {run.id} at {station.name}", apply)


def join_runs(first: Run, second: Run) -> Edit:
    """Make one run of two that meet; the station between them is passed over.

    Raises:
        ValueError: runs that do not meet, or that lie in different harnesses.
    """
    shared = set(first.ends) & set(second.ends)
    if len(shared) != 1:
        raise ValueError(f"found {first.id} and {second.id}, expected two runs that meet")
    if first.harness != second.harness:
        raise ValueError(f"{first.id} and {second.id} lie in different harnesses")
    (middle,) = shared
    outer = [next(end for end in run.ends if end != middle) for run in (first, second)]
    joined = dataclasses.replace(
        first,
        id=f"{first.id}+{second.id}",
        ends=(outer[0], outer[1]),
        length_m=round(first.length_m + second.length_m, 6),
        permitted=first.permitted and second.permitted,
        low=first.low or second.low,
        near=(*first.near, *second.near),
        swing=first.swing or second.swing,
    )

    def apply(changes: HullChanges) -> HullChanges:
        return _with_runs(_without_run(_without_run(changes, first.id), second.id), joined)

    return _edit(f"join runs {first.id} and {second.id}", apply)


def send_by_way(circuit_id: str, label: str, stations: tuple[Station, ...]) -> Edit:
    """Send a circuit by way of stations; none for the shortest way."""
    name = " and ".join(s.name for s in stations)
    text = f"send {label} by way of {name}" if stations else f"send {label} the shortest way"

    def apply(order: Order) -> Order:
        ways = {via.circuit: via for via in order.ways}
        ways.pop(circuit_id, None)
        if stations:
            ways[circuit_id] = Via(circuit=circuit_id, stations=tuple(s.id for s in stations))
        return dataclasses.replace(order, ways=tuple(ways[key] for key in sorted(ways)))

    return text, apply


_LISTS: Final[dict[type, str]] = {
    Battery: "batteries",
    Supply: "supplies",
    ReturnBus: "return_buses",
    HelmPanel: "panels",
    Bond: "bonds",
    Recorded: "recorded",
}


def fit_part(part: Part, name: str = "") -> Edit:
    """Fit a battery, supply, bus, panel, bond or recorded system in its place, or one more."""
    field = _LISTS[type(part)]

    def apply(changes: HullChanges) -> HullChanges:
        merged = {item.id: item for item in (*getattr(changes, field), part)}
        kept = tuple(gone for gone in changes.removed_parts if gone != part.id)
        fields: dict[str, Any] = {field: tuple(merged.values()), "removed_parts": kept}
        return dataclasses.replace(changes, **fields)

    return _edit(name or f"fit {part.name}", apply)


def remove_part(part: Part) -> Edit:
    """Take a part off; the edit is refused while something hangs on it."""
    field = _LISTS[type(part)]

    def apply(changes: HullChanges) -> HullChanges:
        kept = tuple(item for item in getattr(changes, field) if item.id != part.id)
        gone = tuple(sorted({*changes.removed_parts, part.id}))
        fields: dict[str, Any] = {field: kept, "removed_parts": gone}
        return dataclasses.replace(changes, **fields)

    return _edit(f"remove {part.name}", apply)


def change_supply(supply: Supply) -> Edit:
    """Fit another block or panel in a supply's place, or one more."""
    return fit_part(supply, f"fit {supply.name} with {supply.ways} ways" if supply.ways else "")


def change_grounding(grounding: Grounding) -> Edit:
    """Say whose mains lie aboard, where the bonding bus stands, where negative joins the hull."""
    return _edit(
        "change mains, bonding and hull",
        lambda changes: dataclasses.replace(changes, grounding=grounding),
    )


def change_geography(geography: Geography) -> Edit:
    """Give the hull other lines, areas or harnesses."""
    return _edit(
        "change hull, areas and harnesses",
        lambda changes: dataclasses.replace(changes, geography=geography, areas=()),
    )


def _with_option(changes: HullChanges, option: Option) -> HullChanges:
    merged = {item.id: item for item in (*changes.options, option)}
    return dataclasses.replace(changes, options=tuple(merged.values()))


def change_option(option: Option) -> Edit:
    """Say otherwise what an option is called, requires, excludes, joins or removes."""
    return _edit(f"change option {option.name}", lambda changes: _with_option(changes, option))


def make_option(option: Option) -> Edit:
    """Make what this order adds of its own what an option adds, and tick the option."""

    def apply(order: Order) -> Order:
        whole = dataclasses.replace(option, adds=order.added)
        return dataclasses.replace(
            order,
            added=Fit(),
            removed=tuple(name for name in order.removed if name not in option.removes),
            options=tuple(sorted({*order.options, option.id})),
            hull_changes=_with_option(order.hull_changes, whole),
        )

    return f"make option {option.name}", apply


def fit_helm(positions: int) -> Edit:
    """Fit a helm panel of another size."""

    def apply(changes: HullChanges) -> HullChanges:
        return dataclasses.replace(changes, helm_positions=positions)

    return _edit(f"fit a helm panel with {positions} positions", apply)


def take_hull(boat: Boat, changes: HullChanges) -> Edit:
    """Take over stations and runs that were measured elsewhere, as one edit."""
    known = {run.id for run in boat.runs}
    kept = {run.id for run in changes.runs}

    def apply(before: HullChanges) -> HullChanges:
        for station in changes.stations:
            before = _with_station(before, station)
        before = _with_runs(before, *changes.runs)
        for name in changes.removed_runs:
            if name in known and name not in kept:
                before = _without_run(before, name)
        return before

    count = len(changes.stations), len(changes.runs)
    return _edit(f"take {count[0]} stations and {count[1]} measured runs", apply)
