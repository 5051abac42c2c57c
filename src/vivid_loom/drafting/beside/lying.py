"""Bonding and spare conductors of a built boat: which lie there, are to be made, or come off."""

import dataclasses
from collections.abc import Iterable
from typing import NamedTuple

from vivid_loom.drafting.beside.bonds import DraftedBond
from vivid_loom.drafting.beside.spares import DraftedSpare
from vivid_loom.order import BuiltBeside

__all__ = ["Beside", "as_built_beside", "beside"]


class Beside(NamedTuple):
    """What of a draft's bonds and spares is work.

    Attributes:
        bonds, spares: to be made; of spares that lie there in part those that are missing.
        comes_off: lies there, and nothing asks for it.
        is_known: somebody has recorded what lies there; all of it is to be made where nobody has.
    """

    bonds: tuple[DraftedBond, ...]
    spares: tuple[DraftedSpare, ...]
    comes_off: tuple[BuiltBeside, ...]
    is_known: bool


def _bond(bond: DraftedBond, onto: str) -> BuiltBeside:
    return BuiltBeside(
        kind="bond",
        id=bond.id,
        gauge=str(bond.gauge),
        colour=str(bond.colour),
        start=bond.bond.station,
        end=onto,
        length_mm=bond.cut_mm,
        runs=tuple(run.id for run in bond.path.runs),
    )


def _spare(item: DraftedSpare) -> BuiltBeside:
    return BuiltBeside(
        kind=item.spare.kind,
        id=item.id,
        gauge=str(item.gauge or ""),
        colour=str(item.colour) if item.gauge else "",
        start=item.spare.start,
        end=item.spare.end,
        length_mm=item.cut_mm,
        runs=tuple(run.id for run in item.path.runs),
        count=item.spare.count,
    )


def as_built_beside(
    bonds: Iterable[DraftedBond], spares: Iterable[DraftedSpare], onto: str
) -> tuple[BuiltBeside, ...]:
    """Return a draft's bonds and spares as they lie in the boat once they are built.

    Args:
        onto: station of the bonding bus.
    """
    return (*(_bond(bond, onto) for bond in bonds), *map(_spare, spares))


def beside(
    bonds: Iterable[DraftedBond],
    spares: Iterable[DraftedSpare],
    onto: str,
    built: Iterable[BuiltBeside] | None,
) -> Beside:
    """Set what is drafted against what lies there."""
    lying = {one.lies: one for one in built or ()}
    new_bonds = [bond for bond in bonds if lying.pop(_bond(bond, onto).lies, None) is None]
    new_spares: list[DraftedSpare] = []
    for item in spares:
        there = lying.pop(_spare(item).lies, None)
        missing = item.spare.count - (there.count if there else 0)
        if missing > 0:
            spare = dataclasses.replace(item.spare, count=missing)
            new_spares.append(dataclasses.replace(item, spare=spare))
    return Beside(tuple(new_bonds), tuple(new_spares), tuple(lying.values()), built is not None)
