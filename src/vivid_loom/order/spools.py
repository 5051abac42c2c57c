"""What wire is in the shop: spools and remnants, in a CSV file beside the orders."""

import csv
import io
from collections.abc import Iterable
from pathlib import Path
from typing import Annotated, Final

from annotated_types import Ge

from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.order.csv_rows import csv_rows, limits_told
from vivid_loom.quantities import Gauge, record
from vivid_loom.quantities.document import DocumentError
from vivid_loom.standards.colours import InsulationColour

__all__ = ["SPOOL_FILE", "Spool", "read_spools", "spools_text"]

SPOOL_FILE: Final = "spools.csv"


@record
class Spool:
    """A length of wire or cable on a shelf.

    Attributes:
        id: what is written on it.
        wire: gauge, or the name of a cable.
        colour: of insulation or jacket, in letters.
        place: where it is kept.
    """

    id: str
    wire: str
    colour: str
    length_m: Annotated[float, Ge(0)]
    place: str = ""


COLUMNS: Final = ("id", "wire", "colour", "length_m", "place")


def _spool(row: dict[str, str], path: Path, line: int) -> Spool:
    place = f"line {line}"
    name, wire = row["id"].strip(), row["wire"].strip()
    if not name or not wire:
        raise DocumentError(path, place, "found no id or no wire, expected both")
    try:
        length_m = float(row["length_m"])
    except ValueError:
        length_m = -1.0
    if not 0 <= length_m <= 100_000:
        asked = "metres from 0 to 100000"
        raise DocumentError(
            path, f"{place}, length_m", f"found {row['length_m']!r}, expected {asked}"
        )
    try:
        colour = str(InsulationColour.parse(row["colour"].strip()))
    except ValueError as error:
        raise DocumentError(path, f"{place}, colour", str(error)) from error
    if wire not in {cable.name for cable in shipped_catalogue().cables}:
        try:
            wire = str(Gauge.parse(wire))
        except ValueError as error:
            told = f"{error}, or the name of a cable in the catalogue"
            raise DocumentError(path, f"{place}, wire", told) from error
    return Spool(id=name, wire=wire, colour=colour, length_m=length_m, place=row["place"].strip())


def read_spools(path: Path) -> tuple[Spool, ...]:
    """Return the shop's spools and remnants; none where there is no file.

    Raises:
        DocumentError: a file that cannot be taken: no such columns, lengths, gauges or colours,
            or one id twice.
    """
    if not path.exists():
        return ()
    spools: dict[str, Spool] = {}
    for line, row in csv_rows(path, COLUMNS[:4], COLUMNS):
        with limits_told(path, line):
            spool = _spool(row, path, line)
        if spool.id in spools:
            told = f"found {spool.id!r} a second time, expected each id once"
            raise DocumentError(path, f"line {line}, id", told)
        spools[spool.id] = spool
    return tuple(spools.values())


def spools_text(spools: Iterable[Spool]) -> str:
    """Return spools as CSV."""
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\n")
    writer.writerow(COLUMNS)
    for spool in spools:
        length = f"{spool.length_m:.3f}".rstrip("0").rstrip(".")
        writer.writerow((spool.id, spool.wire, spool.colour, length, spool.place))
    return stream.getvalue()
