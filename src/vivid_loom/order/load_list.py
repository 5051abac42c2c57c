"""Load lists from spreadsheets: columns recognised, every row imported or named with the reason."""

import dataclasses
import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Final, Literal, NamedTuple, get_args

from vivid_loom.boat import Evidence, Lead, Load, Station
from vivid_loom.order.new_loads import free_id, id_from_name
from vivid_loom.quantities import (
    LimitError,
    QuantityError,
    figure,
    one_line,
    parse_amps,
    parse_gauge,
)
from vivid_loom.quantities.grid import UNSAVED_FORMULA, Row

__all__ = [
    "CURRENTS",
    "FIELDS",
    "UNITS",
    "Account",
    "ColumnMap",
    "Field",
    "Line",
    "guess_mapping",
    "understand",
]

Field = Literal[
    "name",
    "count",
    "running",
    "peak",
    "stall",
    "fuse",
    "smallest",
    "place",
    "function",
    "evidence",
    "note",
    "ignored",
]
FIELDS: Final[tuple[Field, ...]] = get_args(Field)
CURRENTS: Final[frozenset[Field]] = frozenset({"running", "peak", "stall", "fuse"})
"""What a column of figures may hold; a bare figure there has the column's unit."""
UNITS: Final = {"a": "A", "ma": "mA", "w": "W", "kw": "kW"}
"""How units are written, by what a column map calls them."""

_WORDS: Final[tuple[tuple[Field, str], ...]] = (
    ("stall", r"stall|locked|blocked"),
    ("fuse", r"fuse|breaker|protection|sicherung"),
    ("peak", r"peak|start|inrush|max.*(amp|curr|a\b)|surge"),
    ("smallest", r"wire|gauge|awg|mm²|mm2|cable|conductor"),
    ("count", r"^(qty|count|quantity|no\.?|number|pcs|pieces)\b"),
    ("place", r"where|place|location|station|position|fitted at"),
    ("evidence", r"source|evidence|figure from|basis"),
    ("note", r"note|remark|comment"),
    ("function", r"function|type|kind|group|category"),
    ("running", r"amp|current|watt|power|load \(|draw|\bw\b|\ba\b|running"),
    ("name", r"name|load|device|item|consumer|equipment|description"),
)
_UNIT_IN_HEADING: Final = (
    ("kw", r"\bkw\b"),
    ("w", r"watt|\bw\b|power"),
    ("ma", r"\bma\b|milliamp"),
)
_EVIDENCE: Final = {
    "maker": "maker",
    "paper": "maker",
    "sheet": "maker",
    "manual": "maker",
    "label": "maker",
    "measured": "measured",
    "meter": "measured",
    "estimate": "estimate",
    "guess": "estimate",
    "typical": "estimate",
    "unknown": "unknown",
}


class ColumnMap(NamedTuple):
    """Which column holds what, and the unit of a bare number there.

    Attributes:
        first_row: number of the first row below the headings.
        columns: per column; its field and default unit ('a', 'ma', 'w', 'kw').
    """

    first_row: int
    columns: tuple[tuple[Field, str], ...]


class Line(NamedTuple):
    """What became of one row: 'imported', 'in part', 'left out', 'blank' or 'heading'."""

    row: int
    verdict: Literal["imported", "in part", "left out", "blank", "heading"]
    told: str


class Account(NamedTuple):
    """The loads understood, and a line for every row of the sheet."""

    loads: tuple[Load, ...]
    lines: tuple[Line, ...]


def _field_of(heading: str) -> Field:
    plain = heading.lower().strip()
    return next((field for field, words in _WORDS if re.search(words, plain)), "ignored")


def _unit_of(heading: str) -> str:
    plain = heading.lower()
    return next((unit for unit, words in _UNIT_IN_HEADING if re.search(words, plain)), "a")


def _is_figure(cell: str) -> bool:
    return bool(re.match(r"^\s*[-+]?[\d.,]+\s*\D{0,8}$", cell))


def _headings(rows: Sequence[Row]) -> tuple[int, list[str]]:
    """Return the index of the first row below the headings, and one heading per column.

    The last of the leading rows that names columns counts; a merged row above it is put before.
    """
    for index, row in enumerate(rows[:25]):
        texts = [cell for cell in row.cells if cell]
        known = {_field_of(cell) for cell in texts} - {"ignored"}
        if "name" in known and len(known) >= 2 and not any(map(_is_figure, texts)):
            below = rows[index + 1].cells if index + 1 < len(rows) else ()
            more = [c for c in below if c and not _is_figure(c)]
            merged = any(not a and b for a, b in zip(row.cells, below, strict=False))
            split = (
                (merged or len(set(row.cells)) < len(row.cells))
                and len(more) > 1
                and not any(map(_is_figure, filter(None, below)))
            )
            if split:
                pairs = zip(_carried(row.cells, below), below, strict=False)
                return index + 2, [f"{a} {b}".strip() if a != b else a for a, b in pairs]
            return index + 1, list(row.cells)
    return 0, []


def _carried(above: Sequence[str], below: Sequence[str]) -> list[str]:
    """Return headings with a merged one over all its columns: its cells but the first are empty."""
    found: list[str] = []
    for heading, under in zip(above, below, strict=False):
        found.append(heading or (found[-1] if found and under else ""))
    return found


def guess_mapping(rows: Sequence[Row]) -> ColumnMap:
    """Recognise the columns by their headings; without headings, by a name and a figure first."""
    start, headings = _headings(rows)
    if not headings:
        width = max((len(row.cells) for row in rows), default=0)
        plain: list[Field] = ["name", "running", "fuse", "smallest", "place"]
        padded = [*plain, *["ignored"] * width][:width]
        return ColumnMap(rows[0].number if rows else 1, tuple((f, "a") for f in padded))  # type: ignore[misc]
    taken: set[Field] = set()
    columns: list[tuple[Field, str]] = []
    for heading in headings:
        field = _field_of(heading)
        if field in taken:
            field = "ignored"
        if field != "ignored":
            taken.add(field)
        columns.append((field, _unit_of(heading)))
    first = rows[start].number if start < len(rows) else rows[-1].number + 1
    return ColumnMap(first, tuple(columns))


def _place(text: str, stations: Sequence[Station]) -> str | None:
    plain = text.lower().strip()
    for station in stations:
        if plain in (station.id.lower(), station.name.lower()):
            return station.id
    starting = [s.id for s in stations if plain and s.name.lower().startswith(plain)]
    return starting[0] if len(starting) == 1 else None


def _evidence(text: str, note: str, known: bool) -> Evidence:
    plain = text.lower()
    kind = next((kind for word, kind in _EVIDENCE.items() if word in plain), "")
    if not known:
        kind = "unknown"
    told = "; ".join(part for part in (text if text.lower() != kind else "", note) if part)
    return Evidence(kind=kind or "estimate", note=told or "from a load list")  # type: ignore[arg-type]


class _Reader:
    """Reads the cells of one row; what it cannot read it keeps as a complaint."""

    def __init__(self, cells: Mapping[Field, tuple[str, str]], nominal_v: float) -> None:
        self.cells, self.nominal_v = cells, nominal_v
        self.complaints: list[str] = []

    def text(self, field: Field) -> str:
        text = self.cells.get(field, ("", ""))[0]
        return one_line(text, longest=len(text))  # a cell may hold line breaks

    def read(self, field: Field, parse: Callable[[str], float | str]) -> float | str | None:
        text = self.text(field)
        if not text or text.strip().lower() in ("-", "–", "?", "n/a", "tbd", "unknown"):
            return None
        try:
            if UNSAVED_FORMULA in text:
                raise QuantityError(text, "a figure; open and save the sheet to store its result")
            return parse(text)
        except ValueError as error:
            self.complaints.append(f"{field}: {error}")
            return None

    def amps(self, field: Field) -> float | None:
        unit = self.cells.get(field, ("", "a"))[1]

        def positive(text: str) -> float:
            amps = parse_amps(text, self.nominal_v, unit)
            if amps <= 0:
                raise QuantityError(text, "a current above zero")
            return round(amps, 4)

        found = self.read(field, positive)
        return found if isinstance(found, float) else None


def _read_as(load: Load, nominal_v: float) -> str:
    """Say how a row's figures were read."""
    assert load.running_a is not None
    told = [f"draws {figure(load.running_a)} A, {figure(load.running_a * nominal_v)} W"]
    told += [f"peak {figure(load.peak_a)} A"] if load.peak_a else []
    told += [f"stalled {figure(load.locked_rotor_a)} A"] if load.locked_rotor_a else []
    told += [f"fuse {figure(load.maker_fuse_a)} A"] if load.maker_fuse_a else []
    return ", ".join(told)


def _count(text: str) -> float:
    match = re.fullmatch(r"\s*[x×]?\s*(\d{1,3})(?:\.0+)?\s*(?:x|×|pcs|off)?\s*", text.lower())
    if not match or not 1 <= int(match.group(1)) <= 200:
        raise QuantityError(text, "a count from 1 to 200")
    return float(match.group(1))


def _loads_of(
    reader: _Reader, stations: Sequence[Station], default_place: str, taken: set[str]
) -> list[Load]:
    name = reader.text("name").strip()
    running = reader.amps("running")
    count = reader.read("count", _count)
    place, found = default_place, None
    if wanted := reader.text("place"):
        found = _place(wanted, stations)
        if found is None:
            reader.complaints.append(f"place: found {wanted!r}, expected one of the stations")
        else:
            place = found
    smallest = reader.read("smallest", lambda text: str(parse_gauge(text)))
    evidence = _evidence(reader.text("evidence"), reader.text("note"), running is not None)
    first = Load(
        id="",
        name=name,
        station=place,
        running_a=running,
        evidence=evidence,
        function=id_from_name(reader.text("function")) if reader.text("function") else "unknown",
        leads=(Lead(function="plus"), Lead(function="minus")),
        peak_a=reader.amps("peak"),
        locked_rotor_a=reader.amps("stall"),
        maker_fuse_a=reader.amps("fuse"),
        maker_smallest=smallest if isinstance(smallest, str) else None,
        state="fitted" if found else "provisional_place",
    )
    made: list[Load] = []
    total = int(count) if isinstance(count, float) else 1
    for number in range(1, total + 1):
        load_id = free_id(id_from_name(name), taken)
        taken.add(load_id)
        shown = f"{name} {number}" if total > 1 else name
        made.append(dataclasses.replace(first, id=load_id, name=shown))
    return made


def understand(
    rows: Iterable[Row],
    mapping: ColumnMap,
    stations: Sequence[Station],
    default_place: str,
    nominal_v: float,
    taken: Iterable[str],
) -> Account:
    """Read loads from rows; nothing is guessed, and no row goes unmentioned.

    Args:
        default_place: station of loads whose row names none.
        taken: ids already in use.
    """
    used = set(taken)
    loads: list[Load] = []
    lines: list[Line] = []
    for row in rows:
        if row.number < mapping.first_row:
            lines.append(Line(row.number, "heading", "above the list"))
            continue
        if not any(row.cells):
            lines.append(Line(row.number, "blank", ""))
            continue
        cells: dict[Field, tuple[str, str]] = {
            field: (cell, unit)
            for (field, unit), cell in zip(mapping.columns, row.cells, strict=False)
            if field != "ignored"
        }
        reader = _Reader(cells, nominal_v)
        name = reader.text("name").strip()
        if not name:
            lines.append(Line(row.number, "left out", "no name in it"))
            continue
        if len({cell for cell in row.cells if cell}) == 1:
            lines.append(Line(row.number, "left out", f"{name!r} stands alone: a title, no load"))
            continue
        if re.match(r"(?i)^(sub)?total\b|^sum\b", name):
            lines.append(Line(row.number, "left out", "a total, no load"))
            continue
        try:
            made = _loads_of(reader, stations, default_place, used)
        except LimitError as error:
            lines.append(Line(row.number, "left out", str(error)))
            continue
        loads += made
        told = "; ".join(reader.complaints)
        if made[0].running_a is None and not told:
            told = "no current: it stands as unknown"
        count = f"{len(made)} loads" if len(made) > 1 else made[0].name
        count = f"{count}, {_read_as(made[0], nominal_v)}" if made[0].running_a else count
        verdict: Literal["in part", "imported"] = "in part" if told else "imported"
        lines.append(Line(row.number, verdict, f"{count}: {told}" if told else count))
    return Account(tuple(loads), tuple(lines))
