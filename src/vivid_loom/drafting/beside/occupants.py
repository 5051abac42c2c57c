"""What lies in each run: wires, cables as one circle each, spares, bonding, recorded systems."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from vivid_loom.catalogue import Catalogue
from vivid_loom.drafting.beside.bonds import DraftedBond
from vivid_loom.drafting.beside.recorded import DraftedRecord
from vivid_loom.drafting.beside.spares import DraftedSpare
from vivid_loom.drafting.making.assemble import Assembled
from vivid_loom.standards.colours import InsulationColour

__all__ = ["Occupant", "Occupants", "occupants"]


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


Occupants = dict[str, tuple[Occupant, ...]]


def _conductors(assembled: Assembled, over_mm: dict[str, float]) -> Iterator[tuple[str, Occupant]]:
    for wire in assembled.wires:
        if not wire.runs:
            continue
        gauge = str(wire.gauge)
        alone = Occupant(wire.id, wire.circuit, gauge, wire.colour, over_mm[gauge])
        for run in wire.runs:
            if run not in wire.cable_runs:
                yield run, alone
    for cable in assembled.cables:
        stock = cable.stock
        jacket = InsulationColour(stock.jacket)
        whole = Occupant(cable.id, cable.circuit, stock.name, jacket, stock.diameter_mm)
        for run in cable.runs:
            yield run, whole


def _beside(
    spares: Sequence[DraftedSpare],
    bonds: Sequence[DraftedBond],
    recorded: Sequence[DraftedRecord],
    over_mm: dict[str, float],
) -> Iterator[tuple[str, Occupant]]:
    for spare in spares:
        if spare.gauge is None:
            continue
        for index in range(spare.spare.count):
            gauge = str(spare.gauge)
            name = f"{spare.id}.{index + 1}"
            one = Occupant(name, spare.id, gauge, spare.colour, over_mm[gauge])
            for passed in spare.path.runs:
                yield passed.id, one
    for bond in bonds:
        gauge = str(bond.gauge)
        strap = Occupant(bond.id, bond.id, gauge, bond.colour, over_mm[gauge])
        for passed in bond.path.runs:
            yield passed.id, strap
    for item in recorded:
        kept = Occupant(item.id, item.id, item.record.kind, item.colour, item.record.diameter_mm)
        for passed in item.path.runs:
            yield passed.id, kept


def occupants(
    catalogue: Catalogue,
    assembled: Assembled,
    spares: Sequence[DraftedSpare] = (),
    bonds: Sequence[DraftedBond] = (),
    recorded: Sequence[DraftedRecord] = (),
) -> Occupants:
    """Return what lies in each run, thickest first; empty runs are left out."""
    over_mm = {wire.gauge: wire.diameter_mm for wire in catalogue.wires}
    found: dict[str, list[Occupant]] = {}
    for run, occupant in _conductors(assembled, over_mm):
        found.setdefault(run, []).append(occupant)
    for run, occupant in _beside(spares, bonds, recorded, over_mm):
        found.setdefault(run, []).append(occupant)
    return {
        run: tuple(sorted(inside, key=lambda o: (-o.diameter_mm, o.wire)))
        for run, inside in found.items()
    }
