"""A survey of a boat that nobody has drawings of: what is found in it, and what stays unknown."""

import dataclasses
from pathlib import Path
from typing import Final

from vivid_loom.order.csv_rows import csv_rows, limits_told
from vivid_loom.order.edits import Edit
from vivid_loom.order.records import BuiltWire, Order
from vivid_loom.quantities import Gauge, parse_length_m
from vivid_loom.quantities.document import DocumentError
from vivid_loom.standards.colours import InsulationColour

__all__ = ["SURVEY_COLUMNS", "read_survey", "take_survey"]

SURVEY_COLUMNS: Final = (
    "wire_id",
    "circuit_id",
    "from",
    "to",
    "gauge",
    "colour",
    "length",
    "path",
    "state",
    "note",
)
STATES: Final = ("as drawn", "differs", "capped", "removed")


def _conductor(row: dict[str, str], path: Path, line: int) -> BuiltWire:
    place = f"line {line}"
    if not row["from"] and not row["to"]:
        raise DocumentError(path, place, "found neither from nor to, expected one at least")

    def read(column: str, parse: object, blank: object) -> object:
        if not row[column] or row[column] == "?":
            return blank
        try:
            return parse(row[column])  # type: ignore[operator]
        except ValueError as error:
            raise DocumentError(path, f"{place}, {column}", str(error)) from error

    state = row["state"] or "as drawn"
    if state not in STATES:
        told = f"found {state!r}, expected one of {', '.join(STATES)}"
        raise DocumentError(path, f"{place}, state", told)
    length_m = read("length", parse_length_m, 0.0)
    assert isinstance(length_m, float)
    return BuiltWire(
        id=row["wire_id"] or f"found {line - 1}",
        circuit=row["circuit_id"],
        start=row["from"],
        end=row["to"],
        gauge=str(read("gauge", Gauge.parse, "")),
        colour=str(read("colour", InsulationColour.parse, "")),
        length_mm=1000 * length_m,
        runs=tuple(name for name in row["path"].split(";") if name),
        state=state,  # type: ignore[arg-type]
        note=row["note"],
    )


def read_survey(path: Path) -> tuple[BuiltWire, ...]:
    """Return the conductors that were found; a cell that is blank or '?' stays unknown.

    Raises:
        DocumentError: a file that cannot be taken: no such columns, a gauge, colour, length or
            state that is none, a conductor without ends, or one id twice.
    """
    found: dict[str, BuiltWire] = {}
    for line, row in csv_rows(path, ("from", "to"), SURVEY_COLUMNS):
        with limits_told(path, line):
            wire = _conductor(row, path, line)
        if wire.id in found:
            told = f"found {wire.id!r} a second time, expected each id once"
            raise DocumentError(path, f"line {line}, wire_id", told)
        found[wire.id] = wire
    return tuple(found.values())


def take_survey(found: tuple[BuiltWire, ...], hull: str) -> Edit:
    """Start from what was found in a boat in place of what was known to lie in it."""

    def apply(order: Order) -> Order:
        return dataclasses.replace(order, built=found, based_on=order.based_on or hull)

    return f"take in a survey of {len(found)} conductors", apply
