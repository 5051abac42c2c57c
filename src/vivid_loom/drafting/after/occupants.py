"""What lies in each run: wires, cables as one circle each, spares, bonding, recorded systems."""

from collections.abc import Iterator
from typing import NamedTuple

from vivid_loom.drafting.drafted import Draft
from vivid_loom.standards.colours import InsulationColour

__all__ = ["Occupant", "occupants"]


class Occupant(NamedTuple):
    """One circle in a bundle.

    Attributes:
        wire: id of the wire, cable, spare or bonding conductor.
        gauge: or the cable's name.
        colour: of the insulation or jacket.
    """

    wire: str
    circuit: str
    gauge: str
    colour: InsulationColour
    diameter_mm: float


def _placed(draft: Draft) -> Iterator[tuple[str, Occupant]]:
    over = {wire.gauge: wire.diameter_mm for wire in draft.catalogue.wires}
    for wire in draft.assembled.wires:
        gauge = str(wire.gauge)
        alone = Occupant(wire.id, wire.circuit, gauge, wire.colour, over[gauge])
        for run in wire.runs:
            if run not in wire.cable_runs:
                yield run, alone
    for cable in draft.assembled.cables:
        stock = cable.stock
        jacket = InsulationColour(stock.jacket)
        whole = Occupant(cable.id, cable.circuit, stock.name, jacket, stock.diameter_mm)
        for run in cable.runs:
            yield run, whole
    for spare in draft.spares:
        if spare.gauge is None:
            continue
        for index in range(spare.spare.count):
            gauge = str(spare.gauge)
            one = Occupant(f"{spare.id}.{index + 1}", spare.id, gauge, spare.colour, over[gauge])
            for passed in spare.path.runs:
                yield passed.id, one
    for bond in draft.bonds:
        gauge = str(bond.gauge)
        strap = Occupant(bond.id, bond.id, gauge, bond.colour, over[gauge])
        for passed in bond.path.runs:
            yield passed.id, strap
    for item in draft.recorded:
        kept = Occupant(item.id, item.id, item.record.kind, item.colour, item.record.diameter_mm)
        for passed in item.path.runs:
            yield passed.id, kept


def occupants(draft: Draft) -> dict[str, tuple[Occupant, ...]]:
    """Return what lies in each run, thickest first; empty runs are left out."""
    found: dict[str, list[Occupant]] = {}
    for run, occupant in _placed(draft):
        found.setdefault(run, []).append(occupant)
    return {
        run: tuple(sorted(inside, key=lambda o: (-o.diameter_mm, o.wire)))
        for run, inside in found.items()
    }
