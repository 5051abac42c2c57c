"""What one hull has otherwise than its model: runs, stations, blocks, lines, options."""

import dataclasses
from collections.abc import Iterable
from typing import Annotated, Literal, TypeVar

from annotated_types import Gt

from vivid_loom.boat.boat import Assembly, Boat, Bond, Option, Recorded
from vivid_loom.boat.geography import Area, Hull, Run, Station
from vivid_loom.boat.supply import Battery, HelmPanel, ReturnBus, Supply
from vivid_loom.quantities import record

__all__ = ["Geography", "Grounding", "HullChanges", "changed_boat", "offering"]

Item = TypeVar(
    "Item", Area, Station, Run, Supply, Battery, ReturnBus, HelmPanel, Bond, Recorded, Option
)


@record
class Grounding:
    """Whose mains lie aboard, where the bonding bus stands, and where negative joins the hull."""

    ac_aboard: Literal["none", "US", "Europe"] = "none"
    bonding_station: str = ""
    hull_joins: tuple[str, ...] = ()


@record
class Geography:
    """A hull's lines, the areas it is divided into and the harnesses it is built with."""

    hull: Hull
    areas: tuple[Area, ...]
    assemblies: tuple[Assembly, ...]


@record
class HullChanges:
    """Changes to the model's geography and supply; an id the model has already is replaced.

    Attributes:
        geography: in the place of the model's; ``areas`` come on top of it.
        options: what this hull offers beside or in place of the model's options.
        removed_runs: ids of the model's runs that this hull does not have.
        removed_parts: ids of the model's batteries, supplies, buses, panels, bonds and recorded
            systems it does not have.
        helm_positions: size of the first panel that is fitted; None for the model's.
    """

    areas: tuple[Area, ...] = ()
    stations: tuple[Station, ...] = ()
    runs: tuple[Run, ...] = ()
    removed_runs: tuple[str, ...] = ()
    batteries: tuple[Battery, ...] = ()
    supplies: tuple[Supply, ...] = ()
    return_buses: tuple[ReturnBus, ...] = ()
    panels: tuple[HelmPanel, ...] = ()
    removed_parts: tuple[str, ...] = ()
    bonds: tuple[Bond, ...] = ()
    recorded: tuple[Recorded, ...] = ()
    grounding: Grounding | None = None
    geography: Geography | None = None
    options: tuple[Option, ...] = ()
    helm_positions: Annotated[int, Gt(0)] | None = None


def _replaced(
    base: Iterable[Item], changes: Iterable[Item], gone: Iterable[str] = ()
) -> tuple[Item, ...]:
    merged = {item.id: item for item in base}
    merged.update({item.id: item for item in changes})
    left_out = set(gone)
    return tuple(item for item in merged.values() if item.id not in left_out)


def offering(boat: Boat, changes: HullChanges) -> Boat:
    """Return the model with the options this hull offers; the same object where it has no own."""
    if not changes.options:
        return boat
    return dataclasses.replace(boat, options=_replaced(boat.options, changes.options))


def changed_boat(boat: Boat, changes: HullChanges) -> Boat:
    """Return the model as this hull has it; the same object where nothing is changed.

    What it offers is left to ``offering``: options are chosen before they are fitted.
    """
    if changes == HullChanges():
        return boat
    gone = changes.removed_parts
    land = changes.geography or Geography(
        hull=boat.hull, areas=boat.areas, assemblies=boat.assemblies
    )
    panels = _replaced(boat.panels, changes.panels, gone)
    if changes.helm_positions and panels:
        first = dataclasses.replace(panels[0], positions=changes.helm_positions)
        panels = (first, *panels[1:])
    return dataclasses.replace(
        boat,
        hull=land.hull,
        areas=_replaced(land.areas, changes.areas),
        assemblies=land.assemblies,
        stations=_replaced(boat.stations, changes.stations),
        runs=_replaced(boat.runs, changes.runs, changes.removed_runs),
        batteries=_replaced(boat.batteries, changes.batteries, gone) or boat.batteries,
        supplies=_replaced(boat.supplies, changes.supplies, gone),
        return_buses=_replaced(boat.return_buses, changes.return_buses, gone),
        panels=panels,
        bonds=_replaced(boat.bonds, changes.bonds, gone),
        recorded=_replaced(boat.recorded, changes.recorded, gone),
        **(vars(changes.grounding) if changes.grounding else {}),
    )
