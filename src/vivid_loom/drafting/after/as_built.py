"""What lies in the boat once a draft has been built: conductors, sizes, devices and numbers."""

import dataclasses
from collections.abc import Collection
from typing import NamedTuple

from vivid_loom.drafting.after.landings import landings_of
from vivid_loom.drafting.beside.existing import built_wires
from vivid_loom.drafting.beside.lying import as_built_beside
from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.order import BuiltBeside, BuiltCircuit, BuiltWire, Landing

__all__ = ["AsBuilt", "as_built"]


class AsBuilt(NamedTuple):
    """What an order keeps of what was built, for the orders that change it."""

    wires: tuple[BuiltWire, ...]
    circuits: tuple[BuiltCircuit, ...]
    landings: tuple[Landing, ...]
    beside: tuple[BuiltBeside, ...]


def _built_with(row: DraftedCircuit) -> BuiltCircuit:
    family, rating_a = row.device
    return BuiltCircuit(
        circuit=row.id,
        gauge=str(row.sized.gauge.value) if row.sized else "",
        family=family,
        rating_a=rating_a,
        colour=str(row.colours.shown),
        sleeve=row.colours.positive_sleeve,
    )


def as_built(draft: Draft, without: Collection[str] = ()) -> AsBuilt:
    """Return a draft as it was built.

    Args:
        without: wires that were not.
    """
    hull, kept = draft.aboard.order.hull, draft.reuse.kept
    wires = tuple(
        dataclasses.replace(w, made_in=kept[w.id].made_in if w.id in kept else hull)
        for w in built_wires(draft.assembled)
        if w.id not in without
    )
    there = {wire.circuit for wire in wires}
    circuits = tuple(_built_with(row) for row in draft.rows if row.id in there)
    onto = draft.aboard.boat.bonded_at
    lies = as_built_beside(draft.bonds, draft.spares, onto)
    return AsBuilt(wires, circuits, landings_of(draft), lies)
