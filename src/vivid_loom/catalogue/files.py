"""Reading catalogue files and the catalogue that ships."""

from functools import cache
from pathlib import Path
from typing import Final

from vivid_loom.catalogue.records import Catalogue
from vivid_loom.quantities import Gauge, GaugeError
from vivid_loom.quantities.document import DocumentError, read_document

__all__ = ["CATALOGUE_FORMAT", "CATALOGUE_VERSION", "read_catalogue", "shipped_catalogue"]

CATALOGUE_FORMAT: Final = "vivid-loom-catalogue"
CATALOGUE_VERSION: Final = 1


def read_catalogue(path: Path) -> Catalogue:
    """Read a catalogue.

    Raises:
        DocumentError: see ``read_document``; also a gauge that cannot be read, an id used twice.
    """
    catalogue = read_document(path, Catalogue, CATALOGUE_FORMAT, CATALOGUE_VERSION)
    for index, wire in enumerate(catalogue.wires):
        try:
            Gauge.parse(wire.gauge)
        except GaugeError as error:
            raise DocumentError(path, f"wires[{index}].gauge", str(error)) from error
    for index, cable in enumerate(catalogue.cables):
        try:
            Gauge.parse(cable.gauge)
        except GaugeError as error:
            raise DocumentError(path, f"cables[{index}].gauge", str(error)) from error
        if len(cable.core_colours) != cable.cores:
            raise DocumentError(
                path,
                f"cables[{index}].core_colours",
                f"found {len(cable.core_colours)} colours, expected one for each of {cable.cores} "
                "cores",
            )
    seen: set[str] = set()
    for index, part in enumerate(catalogue.switches):
        if part.id in seen:
            raise DocumentError(
                path, f"switches[{index}].id", f"found {part.id!r} a second time, expected it once"
            )
        seen.add(part.id)
        if part.is_pair and part.actuator != "coil":
            raise DocumentError(
                path,
                f"switches[{index}].arrangement",
                f"found a {part.arrangement} moved by a {part.actuator}, expected coils",
            )
        if part.interlock and not part.is_pair:
            raise DocumentError(
                path,
                f"switches[{index}].interlock",
                f"found {part.interlock!r} of a {part.arrangement}, expected it of a pair only",
            )
        if part.breaker and (part.arrangement, part.actuator) != ("SPST", "lever"):
            raise DocumentError(
                path,
                f"switches[{index}].breaker",
                f"found a {part.actuator}, {part.arrangement}, expected a lever, SPST: a breaker "
                "holds one circuit",
            )
    return catalogue


@cache
def shipped_catalogue() -> Catalogue:
    """Return the generic catalogue that ships with the application."""
    return read_catalogue(Path(__file__).parent / "data" / "generic.catalogue.json")
