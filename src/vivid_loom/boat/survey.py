"""Stations and measured runs from spreadsheets: every row taken or named with the reason."""

import dataclasses
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from vivid_loom.boat.boat import Boat
from vivid_loom.boat.changes import HullChanges
from vivid_loom.boat.geography import Run, Station
from vivid_loom.quantities import QuantityError, parse_length_m
from vivid_loom.quantities.grid import Row

__all__ = ["Survey", "read_survey"]


class Survey(NamedTuple):
    """What a sheet held: changes to take, and (row number, complaint) for what was left out."""

    changes: HullChanges
    left_out: tuple[tuple[int, str], ...]


def _heading(row: Row) -> dict[str, int]:
    return {
        cell.lower().split("(")[0].split("_m")[0].strip(): i for i, cell in enumerate(row.cells)
    }


class _Cells:
    """One row by heading, with the unit a heading names for bare numbers."""

    def __init__(self, row: Row, columns: Mapping[str, int]) -> None:
        self._row, self._columns = row, columns

    def __getitem__(self, name: str) -> str:
        at = self._columns.get(name)
        return self._row.cells[at] if at is not None and at < len(self._row.cells) else ""

    def metres(self, name: str, *, signed: bool = False) -> float:
        text = self[name]
        if not text:
            raise ValueError(f"{name}: found nothing, expected a length")
        minus = signed and text.lstrip().startswith(("-", "−"))
        try:
            value = parse_length_m(text.lstrip(" -−") if minus else text)
        except QuantityError as error:
            raise ValueError(f"{name}: {error}") from error
        return -value if minus else value


def _station(cells: _Cells, boat: Boat, known: Mapping[str, Station]) -> Station:
    name = cells["station"]
    old = known.get(name)
    area = cells["area"] or (old.area if old else "")
    areas = {a.id for a in boat.areas} | {a.name for a in boat.areas}
    if area not in areas:
        raise ValueError(f"area: found {area!r}, expected one of {', '.join(sorted(areas))}")
    area = next(a.id for a in boat.areas if area in (a.id, a.name))
    return Station(
        id=name,
        name=cells["name"] or (old.name if old else name),
        area=area,
        x_m=cells.metres("x", signed=True),
        y_m=cells.metres("y", signed=True),
        z_m=cells.metres("z", signed=True),
    )


def _run(cells: _Cells, boat: Boat, known: Mapping[str, Station]) -> Run:
    ends = (cells["from"], cells["to"])
    for end in ends:
        if end not in known:
            raise ValueError(f"found unknown station {end!r}, expected one of the boat's stations")
    if ends[0] == ends[1]:
        raise ValueError(f"found a run from {ends[0]!r} to itself")
    length = cells.metres("length")
    if length <= 0:
        raise ValueError(f"length: found {length:g} m, expected more than nothing")
    old = next((run for run in boat.runs if run.id == cells["run"]), None)
    if old is not None:
        return dataclasses.replace(old, ends=ends, length_m=length)
    harness = cells["harness"] or boat.assemblies[0].id
    if harness not in {a.id for a in boat.assemblies}:
        raise ValueError(f"harness: found {harness!r}, expected one of the boat's assemblies")
    enclosure = cells["enclosure"] or "loom"
    if enclosure not in ("open", "loom", "conduit"):
        raise ValueError(f"enclosure: found {enclosure!r}, expected open, loom or conduit")
    area = cells["area"] or known[ends[1]].area
    if area not in {a.id for a in boat.areas}:
        raise ValueError(f"area: found {area!r}, expected one of the boat's areas")
    return Run(
        id=cells["run"],
        ends=ends,
        length_m=length,
        harness=harness,
        area=area,
        enclosure=enclosure,  # type: ignore[arg-type]
    )


def read_survey(rows: Sequence[Row], boat: Boat) -> Survey:
    """Read stations and runs; a heading row with 'station' or 'run' opens each list.

    A run whose id the boat has keeps its harness and zone and takes the new length and ends.
    """
    stations: dict[str, Station] = {}
    runs: dict[str, Run] = {}
    left: list[tuple[int, str]] = []
    columns: dict[str, int] = {}
    for row in rows:
        if not any(row.cells):
            continue
        heading = _heading(row)
        if ("station" in heading and "x" in heading) or ("run" in heading and "length" in heading):
            columns = heading
            continue
        if not columns:
            left.append((row.number, "stands above any heading with 'station' or 'run'"))
            continue
        cells = _Cells(row, columns)
        known = boat.stations_by_id | stations
        try:
            if "run" in columns:
                if not cells["run"]:
                    raise ValueError("run: found nothing, expected an id")
                runs[cells["run"]] = _run(cells, boat, known)
            elif not cells["station"]:
                raise ValueError("station: found nothing, expected an id")
            else:
                stations[cells["station"]] = _station(cells, boat, known)
        except ValueError as error:
            left.append((row.number, str(error)))
    changes = HullChanges(stations=tuple(stations.values()), runs=tuple(runs.values()))
    return Survey(changes, tuple(left))
