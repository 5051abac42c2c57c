"""What one hull has otherwise than its model: measured runs, own stations, other blocks."""

import dataclasses
from collections.abc import Iterable
from typing import Annotated, Literal, TypeVar

from annotated_types import Gt

from vivid_loom.boat.boat import Boat, Bond, Recorded
from vivid_loom.boat.geography import Area, Run, Station
from vivid_loom.boat.supply import Battery, HelmPanel, ReturnBus, Supply
from vivid_loom.quantities import record

__all__ = ["Grounding", "HullChanges", "changed_boat"]

Item = TypeVar("Item", Area, Station, Run, Supply, Battery, ReturnBus, HelmPanel, Bond, Recorded)


@record
class Grounding:
    """Whose mains lie aboard, where the bonding bus stands, and where negative joins the hull."""

    ac_aboard: Literal["none", "US", "Europe"] = "none"
    bonding_station: str = ""
    hull_joins: tuple[str, ...] = ()


@record
class HullChanges:
    """Changes to the model's geography and supply; an id the model has already is replaced.

    Attributes:
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
    helm_positions: Annotated[int, Gt(0)] | None = None


def _replaced(
    base: Iterable[Item], changes: Iterable[Item], gone: Iterable[str] = ()
) -> tuple[Item, ...]:
    merged = {item.id: item for item in base}
    merged.update({item.id: item for item in changes})
    left_out = set(gone)
    return tuple(item for item in merged.values() if item.id not in left_out)


def changed_boat(boat: Boat, changes: HullChanges) -> Boat:
    """Return the model as this hull has it; the same object where nothing is changed."""
    if changes == HullChanges():
        return boat
    gone = changes.removed_parts
    panels = _replaced(boat.panels, changes.panels, gone)
    if changes.helm_positions and panels:
        first = dataclasses.replace(panels[0], positions=changes.helm_positions)
        panels = (first, *panels[1:])
    return dataclasses.replace(
        boat,
        areas=_replaced(boat.areas, changes.areas),
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
