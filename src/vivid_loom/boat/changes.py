"""What one hull has otherwise than its model: measured runs, own stations, other blocks."""

import dataclasses
from collections.abc import Iterable
from typing import Annotated, TypeVar

from annotated_types import Gt

from vivid_loom.boat.boat import Boat
from vivid_loom.boat.geography import Area, Run, Station
from vivid_loom.boat.supply import Supply
from vivid_loom.quantities import record

__all__ = ["HullChanges", "changed_boat"]

Item = TypeVar("Item", Area, Station, Run, Supply)


@record
class HullChanges:
    """Changes to the model's geography and supply; an id the model has already is replaced.

    Attributes:
        removed_runs: ids of the model's runs that this hull does not have.
        helm_positions: size of the helm panel that is fitted; None for the model's.
    """

    areas: tuple[Area, ...] = ()
    stations: tuple[Station, ...] = ()
    runs: tuple[Run, ...] = ()
    removed_runs: tuple[str, ...] = ()
    supplies: tuple[Supply, ...] = ()
    helm_positions: Annotated[int, Gt(0)] | None = None


def _replaced(base: Iterable[Item], changes: Iterable[Item]) -> tuple[Item, ...]:
    merged = {item.id: item for item in base}
    merged.update({item.id: item for item in changes})
    return tuple(merged.values())


def changed_boat(boat: Boat, changes: HullChanges) -> Boat:
    """Return the model as this hull has it; the same object where nothing is changed."""
    if changes == HullChanges():
        return boat
    gone = set(changes.removed_runs)
    helm = boat.helm
    if changes.helm_positions:
        helm = dataclasses.replace(helm, positions=changes.helm_positions)
    return dataclasses.replace(
        boat,
        areas=_replaced(boat.areas, changes.areas),
        stations=_replaced(boat.stations, changes.stations),
        runs=tuple(run for run in _replaced(boat.runs, changes.runs) if run.id not in gone),
        supplies=_replaced(boat.supplies, changes.supplies),
        helm=helm,
    )
