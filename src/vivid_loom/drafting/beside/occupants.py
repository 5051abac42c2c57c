"""What lies in each run: wires, cables as one circle each, spares, bonding, recorded systems."""

from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

from vivid_loom.catalogue import Catalogue
from vivid_loom.drafting.beside.bonds import DraftedBond
from vivid_loom.drafting.beside.recorded import DraftedRecord
from vivid_loom.drafting.beside.spares import DraftedSpare
from vivid_loom.drafting.making.assemble import Assembled
from vivid_loom.drafting.places.route import Path
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


Lying = tuple[Occupant, Iterable[str]]
"""An occupant and the runs that it lies in."""


def _conductors(assembled: Assembled, over_mm: dict[str, float]) -> Iterator[Lying]:
    for wire in assembled.wires:
        if not wire.runs:
            continue
        gauge = str(wire.gauge)
        alone = Occupant(wire.id, wire.circuit, gauge, wire.colour, over_mm[gauge])
        under = wire.cable_runs
        yield alone, [run for run in wire.runs if run not in under] if under else wire.runs
    for cable in assembled.cables:
        stock = cable.stock
        jacket = InsulationColour(stock.jacket)
        yield Occupant(cable.id, cable.circuit, stock.name, jacket, stock.diameter_mm), cable.runs


def _beside(
    spares: Sequence[DraftedSpare],
    bonds: Sequence[DraftedBond],
    recorded: Sequence[DraftedRecord],
    over_mm: dict[str, float],
) -> Iterator[Lying]:
    for spare in spares:
        if spare.gauge is None:
            continue
        gauge, runs = str(spare.gauge), _passed(spare.path)
        for index in range(spare.spare.count):
            name = f"{spare.id}.{index + 1}"
            yield Occupant(name, spare.id, gauge, spare.colour, over_mm[gauge]), runs
    for bond in bonds:
        gauge = str(bond.gauge)
        strap = Occupant(bond.id, bond.id, gauge, bond.colour, over_mm[gauge])
        yield strap, _passed(bond.path)
    for item in recorded:
        kept = Occupant(item.id, item.id, item.record.kind, item.colour, item.record.diameter_mm)
        yield kept, _passed(item.path)


def _passed(path: Path) -> list[str]:
    return [run.id for run in path.runs]


def occupants(
    catalogue: Catalogue,
    assembled: Assembled,
    spares: Sequence[DraftedSpare] = (),
    bonds: Sequence[DraftedBond] = (),
    recorded: Sequence[DraftedRecord] = (),
) -> Occupants:
    """Return what lies in each run, thickest first; empty runs are left out."""
    over_mm = {wire.gauge: wire.diameter_mm for wire in catalogue.wires}
    lying = [*_conductors(assembled, over_mm), *_beside(spares, bonds, recorded, over_mm)]
    found: dict[str, list[Occupant]] = defaultdict(list)
    for occupant, runs in sorted(lying, key=lambda one: (-one[0].diameter_mm, one[0].wire)):
        for run in runs:
            found[run].append(occupant)
    return {run: tuple(inside) for run, inside in found.items()}
