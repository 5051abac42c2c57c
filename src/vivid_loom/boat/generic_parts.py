"""Generic parts of a supply to draw from; a shop can add its own to the file."""

import dataclasses
from collections.abc import Iterable
from functools import cache
from pathlib import Path
from typing import Annotated, Final, Literal

from annotated_types import Ge, Gt, Le

from vivid_loom.boat.boat import duplicates
from vivid_loom.boat.supply import DeviceFamily, Supply, SupplyKind
from vivid_loom.quantities import Id, record
from vivid_loom.quantities.document import DocumentError, read_document

__all__ = [
    "PARTS_FORMAT",
    "PARTS_VERSION",
    "GenericPart",
    "GenericParts",
    "generic_parts",
    "parts_kept",
]

PARTS_FORMAT: Final = "vivid-loom-parts"
PARTS_VERSION: Final = 1
SHOP_PARTS: Final = "parts.json"


@record
class GenericPart:
    """A part as bought; what its fields mean is told at ``Supply``."""

    id: Id
    name: str
    kind: SupplyKind
    total_max_a: Annotated[float, Gt(0)]
    ways: Annotated[int, Ge(0)] = 0
    way_max_a: Annotated[float, Gt(0)] = 30.0
    family: DeviceFamily = "blade fuse"
    ingress: Literal["dry", "spray", "submersible"] | None = None
    ignition_protected: bool = False
    output_v: Annotated[float, Gt(0)] | None = None
    efficiency_percent: Annotated[float, Gt(0), Le(100)] = 90.0

    def fitted(self, supply: Supply) -> Supply:
        """Return a supply with this part in its place; where it stands and its feeds stay."""
        fields = {f.name: getattr(self, f.name) for f in dataclasses.fields(self)}
        return dataclasses.replace(supply, **{**fields, "id": supply.id})


@record
class GenericParts:
    """A file of generic parts."""

    parts: tuple[GenericPart, ...]


def read_generic_parts(path: Path) -> tuple[GenericPart, ...]:
    """Read a file of generic parts.

    Raises:
        DocumentError: see ``read_document``; also an id used twice.
    """
    found = read_document(path, GenericParts, PARTS_FORMAT, PARTS_VERSION).parts
    for twice in duplicates(part.id for part in found):
        raise DocumentError(path, "parts", f"found id {twice!r} twice, expected every id once")
    return found


@cache
def generic_parts() -> tuple[GenericPart, ...]:
    """Return the generic parts that ship, by kind and name."""
    return _sorted(read_generic_parts(Path(__file__).parent / "data" / "generic.parts.json"))


def parts_kept(folder: Path) -> tuple[GenericPart, ...]:
    """Return the parts that ship with those of a shop's ``parts.json`` beside its orders.

    Raises:
        DocumentError: the shop's file cannot be taken; see ``read_generic_parts``.
    """
    own = folder / SHOP_PARTS
    if not own.exists():
        return generic_parts()
    merged = {part.id: part for part in (*generic_parts(), *read_generic_parts(own))}
    return _sorted(merged.values())


def _sorted(parts: Iterable[GenericPart]) -> tuple[GenericPart, ...]:
    return tuple(sorted(parts, key=lambda part: (part.kind, part.name)))
