"""The Runs picture: trunks weighted by what is asked of them, stations, names that do not clash."""

from collections import Counter
from collections.abc import Mapping
from functools import lru_cache
from math import ceil, floor, log10
from typing import Final, Literal, NamedTuple

from vivid_loom.boat import Boat, Run
from vivid_loom.drafting import Draft
from vivid_loom.quantities.once import once
from vivid_loom.sheets.drawings.boat_plan import BoatScale, Shown, boat_scale, hull_items
from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect, Text
from vivid_loom.sheets.paper.metrics import text_width
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.workshop.bundles import Section

__all__ = [
    "BY_BUNDLE",
    "MEASURES",
    "Measure",
    "RunsPicture",
    "measure_words",
    "runs_picture",
    "shown_of",
]

Point = tuple[float, float]
Box = tuple[float, float, float, float]
Measure = Literal["wires", "bundle", "fill", "heat", "harness", "code"]
MEASURES: Final[tuple[tuple[Measure, str], ...]] = (
    ("wires", "number of wires"),
    ("bundle", "bundle diameter, mm"),
    ("fill", "fill of loom or conduit, %"),
    ("heat", "heat, °C"),
    ("harness", "harness"),
    ("code", "harness, with each run's code"),
)
BY_BUNDLE: Final = frozenset({"bundle", "fill"})  # measures that wait until bundles are packed
BY_HARNESS: Final = frozenset({"harness", "code"})  # told by dashes
_DASHES: Final[tuple[tuple[float, ...], ...]] = ((), (9, 4), (3, 3), (14, 4, 3, 4), (6, 8))
HALO = 3.0


class RunsPicture(NamedTuple):
    """What is drawn, and where a hand finds it.

    Attributes:
        items: the picture without selection and words.
        words: names and figures, to be played over what is selected.
        stations: id → its two places, in plan and in profile.
        runs: id → its two lines, in plan and in profile.
        taken: boxes of names, figures and stations, as (left, top, right, bottom).
    """

    items: tuple[Primitive, ...]
    words: tuple[Primitive, ...]
    stations: dict[str, tuple[Point, Point]]
    runs: dict[str, tuple[tuple[Point, Point], tuple[Point, Point]]]
    scale: BoatScale
    taken: tuple[Box, ...]

    def station_at(self, at: Point, within: float = 11.0) -> str:
        """Return the station nearest a point, '' where none is near."""
        best, found = within, ""
        for name, places in self.stations.items():
            for x, y in places:
                away = ((x - at[0]) ** 2 + (y - at[1]) ** 2) ** 0.5
                if away < best:
                    best, found = away, name
        return found

    def run_at(self, at: Point, within: float = 7.0) -> str:
        """Return the run nearest a point, '' where none is near."""
        best, found = within, ""
        for name, lines in self.runs.items():
            for a, b in lines:
                away = _distance(at, a, b)
                if away < best:
                    best, found = away, name
        return found


def _distance(p: Point, a: Point, b: Point) -> float:
    dx, dy = b[0] - a[0], b[1] - a[1]
    length2 = dx * dx + dy * dy
    t = 0.0 if not length2 else max(0, min(1, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / length2))
    return float(((p[0] - a[0] - t * dx) ** 2 + (p[1] - a[1] - t * dy) ** 2) ** 0.5)


def _heat(run: Run, boat: Boat) -> float:
    return next(area.ambient_c for area in boat.areas if area.id == run.area)


def measure_of(measure: Measure, run: Run, section: Section | None, draft: Draft) -> float | None:
    """Return a run's figure; None where there is none, or where its bundle is not packed yet."""
    boat = draft.aboard.boat
    if measure == "wires":
        return float(len(draft.occupants.get(run.id, ()))) or None
    if measure == "heat":
        return _heat(run, boat)
    if measure in BY_HARNESS:
        return float([a.id for a in boat.assemblies].index(run.harness))
    if section is None or not section.members:
        return None
    if measure == "bundle":
        return section.diameter_mm
    bore = run.bore_mm or section.needed_bore_mm
    if bore is None or run.enclosure == "open":
        return None
    return 100 * sum(m.diameter_mm**2 for m in section.members) / bore**2


def measure_words(measure: Measure, run: Run, section: Section | None, draft: Draft) -> str:
    """Return a run's figure as it is written beside it."""
    value = measure_of(measure, run, section, draft)
    if measure in BY_HARNESS:
        return run.harness if measure == "harness" else run.id
    if value is None:
        return ""
    return f"{value:.1f}" if measure == "bundle" else f"{value:.0f}"


@lru_cache(maxsize=256)
def mixed(a: str, b: str, share: float) -> str:
    """Return a colour between two, ``share`` of the way to the second."""
    pairs = [(int(a[i : i + 2], 16), int(b[i : i + 2], 16)) for i in (1, 3, 5)]
    return "#" + "".join(f"{round(x + (y - x) * share):02x}" for x, y in pairs)


def _rounded_up(most: float) -> float:
    """Return the next round figure, by half its leading digit."""
    step = 10 ** floor(log10(most)) / 2 if most > 0 else 1.0
    return ceil(most / step) * step


def _weights(draft: Draft, sections: Mapping[str, Section], measure: Measure) -> dict[str, float]:
    boat = draft.aboard.boat
    values = {r.id: measure_of(measure, r, sections.get(r.id), draft) for r in boat.runs}
    known = [v for v in values.values() if v is not None]
    low, high = (min(known), max(known)) if known else (0.0, 1.0)
    if measure not in ("heat", *BY_HARNESS):
        low, high = 0.0, _rounded_up(high)  # so that one wire more leaves other trunks as they are
    span = high - low or 1.0
    return {name: (v - low) / span for name, v in values.items() if v is not None}


CELL = 48.0  # px; a name lies in a handful of cells


class _Crowd:
    """Boxes by the cells of a grid, so that only what lies near is asked."""

    def __init__(self) -> None:
        self.boxes: list[Box] = []
        self._cells: dict[tuple[int, int], list[Box]] = {}

    def add(self, box: Box) -> None:
        """Put a box there."""
        self.boxes.append(box)
        for cell in _cells(box):
            self._cells.setdefault(cell, []).append(box)

    def touches(self, box: Box) -> bool:
        """Tell whether a box lies over one of these."""
        x0, y0, x1, y1 = box
        for cell in _cells(box):  # asked for thousands of boxes a picture: no generators
            for left, top, right, bottom in self._cells.get(cell, ()):
                if x0 < right and left < x1 and y0 < bottom and top < y1:
                    return True
        return False


@lru_cache(maxsize=4096)
def _cells(box: Box) -> list[tuple[int, int]]:
    """Return the cells of the grid that a box lies in: mostly those of the picture before."""
    down = range(int(box[1] // CELL), int(box[3] // CELL) + 1)
    return [(i, j) for i in range(int(box[0] // CELL), int(box[2] // CELL) + 1) for j in down]


class _Room:
    """Where names may stand beside the runs of a boat; edits leave those where they are."""

    def __init__(self, width: float, height: float, lines: tuple[tuple[Point, Point], ...]) -> None:
        self._width, self._height = width, height
        self._along = _Crowd()
        for (ax, ay), (bx, by) in lines:
            steps = max(1, int(((ax - bx) ** 2 + (ay - by) ** 2) ** 0.5 / 9))
            for i in range(steps + 1):
                x, y = ax + (bx - ax) * i / steps, ay + (by - ay) * i / steps
                self._along.add((x - 4, y - 4, x + 4, y + 4))
        self._beside: dict[tuple[Point, float, float], tuple[tuple[Box, bool], ...]] = {}

    def beside(self, at: Point, wide: float, size: float) -> tuple[tuple[Box, bool], ...]:
        """Return the boxes for a name beside its place, those off the runs first, the best first;
        with each whether it lies across a run.
        """
        key = (at, wide, size)
        if key not in self._beside:
            x, y = at
            corners = (
                (x + 8, y + 4),
                (x - 8 - wide, y + 4),
                (x - wide / 2, y - 8),
                (x - wide / 2, y + 17),
                (x + 6, y - 7),
                (x + 6, y + 15),
                (x - 6 - wide, y - 7),
                (x - 6 - wide, y + 15),
            )
            boxes = [(left - 2, base - size, left + wide + 2, base + 3) for left, base in corners]
            inside = [
                (left, top, right, low)
                for left, top, right, low in boxes
                if left > 0 and right < self._width and top > 0 and low < self._height
            ]
            clear = [box for box in inside if not self._along.touches(box)]
            self._beside[key] = (*((b, False) for b in clear), *((b, True) for b in inside))
        return self._beside[key]


class _Ground(NamedTuple):
    """What most edits leave as it is.

    Attributes:
        lines, stations: by id, where they are in plan and in profile.
    """

    scale: BoatScale
    hull: tuple[Primitive, ...]
    lines: dict[str, tuple[tuple[Point, Point], tuple[Point, Point]]]
    stations: dict[str, tuple[Point, Point]]
    room: _Room


@once
def _ground(boat: Boat, width: float, height: float, tones: Tones, shown: Shown) -> _Ground:
    """Lay out hull, runs and stations."""
    scale = boat_scale(boat, width, height, shown)
    plan = scale.profile if shown == "profile" else scale.plan
    profile = scale.plan if shown == "plan" else scale.profile
    stations = {station.id: (plan(station), profile(station)) for station in boat.stations}
    lines: dict[str, tuple[tuple[Point, Point], tuple[Point, Point]]] = {}
    for run in boat.runs:
        (a, a_side), (b, b_side) = (stations[end] for end in run.ends)
        lines[run.id] = ((a, b), (a_side, b_side))
    room = _Room(width, height, tuple(ends for pair in lines.values() for ends in pair))
    return _Ground(scale, tuple(hull_items(boat, scale, tones, shown)), lines, stations, room)


class _Names:
    """Places names where nothing stands yet, and off the runs where there is room elsewhere."""

    def __init__(self, room: _Room) -> None:
        self._taken, self._room = _Crowd(), room

    @property
    def boxes(self) -> tuple[Box, ...]:
        """Everything that is written or stands somewhere."""
        return tuple(self._taken.boxes)

    def take(self, x0: float, y0: float, x1: float, y1: float) -> None:
        self._taken.add((x0, y0, x1, y1))

    def is_free(self, box: Box) -> bool:
        """Tell whether nothing is written there, and nothing stands there."""
        return not self._taken.touches(box)

    def place(self, at: Point, text: str, size: float, tones: Tones, bold: bool) -> list[Primitive]:
        """Return a name beside its place; over a run it gets a ground of its own."""
        wide = text_width(text, size, bold=bold)
        for box, across in self._room.beside(at, wide, size):
            if self._taken.touches(box):
                continue
            self._taken.add(box)
            left, top, right, low = box
            ground = [Rect(left, top, right - left, low - top, tones.part, "", 0, 3)]
            written = Text(left + 2, low - 3, text, size, tones.ink, bold)
            return [*(ground if across else ()), written]
        return []


def _run_items(
    run: Run,
    ends: tuple[Point, Point],
    weight: float | None,
    measure: Measure,
    rank: int,
    tones: Tones,
) -> list[Primitive]:
    if not run.permitted:
        (x0, y0), (x1, y1) = ends
        mx, my = (x0 + x1) / 2, (y0 + y1) / 2
        cross = [Line(((mx - 5, my - d), (mx + 5, my + d)), tones.alarm, 1.8) for d in (5, -5)]
        return [Line(ends, tones.alarm, 1.2, (2, 5)), *cross]
    if weight is None:
        return [Line(ends, tones.rule, 2.5, (), "round")]
    dash = _DASHES[rank % len(_DASHES)] if measure in BY_HARNESS else ()
    wide = 4.0 if measure in ("heat", *BY_HARNESS) else 2.5 + 7.5 * weight
    ink = mixed(tones.bar, tones.ink, weight if measure not in BY_HARNESS else 0.6)
    if dash:
        return [Line(ends, tones.rule, wide + 2), Line(ends, ink, wide, dash)]
    return [Line(ends, ink, wide, (), "round")]


def shown_of(draft: Draft) -> object:
    """Return what this picture says of a draft, bundles apart: two that are equal look alike."""
    wires = {run: len(inside) for run, inside in draft.occupants.items()}
    return draft.aboard.boat, wires, Counter(load.station for load in draft.aboard.loads.values())


def runs_picture(
    draft: Draft,
    sections: Mapping[str, Section],
    measure: Measure,
    width: float,
    height: float,
    tones: Tones,
    named: frozenset[str] = frozenset(),
    shown: Shown = "both",
) -> RunsPicture:
    """Compose plan and profile with all runs, weighted by ``measure``.

    Args:
        shown: plan and profile, or one of them larger.
        named: stations whose names come first where room is short.
    """
    boat = draft.aboard.boat
    scale, hull, lines, stations, room = _ground(boat, width, height, tones, shown)
    weights = _weights(draft, sections, measure)
    ranks = {assembly.id: i for i, assembly in enumerate(boat.assemblies)}
    items = list(hull)
    for run in sorted(boat.runs, key=lambda r: weights.get(r.id, -1.0)):
        for ends in dict.fromkeys(lines[run.id]):
            items += _run_items(run, ends, weights.get(run.id), measure, ranks[run.harness], tones)
    busy = Counter(load.station for load in draft.aboard.loads.values())
    for name, places in stations.items():
        for x, y in dict.fromkeys(places):
            r = 4.5 if busy[name] else 3.0
            items.append(Circle(x, y, r, tones.part, tones.ink, 1.3))
    names = _Names(room)
    for x, y in (place for places in stations.values() for place in places):
        names.take(x - 5, y - 5, x + 5, y + 5)
    words = _figures(draft, lines, sections, measure, names, tones)
    order = sorted(boat.stations, key=lambda s: (s.id not in named, -busy[s.id], s.id))
    apart = any(a != b for a, b in stations.values())
    for view in (0, 1) if apart else (0,):
        for station in order:
            at, bold = stations[station.id][view], station.id in named
            words += names.place(at, station.name, 10.5, tones, bold)
    if shown != "profile":
        words.append(Text(10, 16, "Plan", 11, tones.quiet))
    if shown != "plan":
        y = scale.profile_top if shown == "both" else 16
        words.append(Text(10, y, "Profile", 11, tones.quiet))
    return RunsPicture(tuple(items), tuple(words), stations, lines, scale, names.boxes)


def _figures(
    draft: Draft,
    lines: Mapping[str, tuple[tuple[Point, Point], tuple[Point, Point]]],
    sections: Mapping[str, Section],
    measure: Measure,
    names: _Names,
    tones: Tones,
) -> list[Primitive]:
    """Write figures on the trunks in plan, wherever along them nothing else stands."""
    items: list[Primitive] = []
    if measure == "harness":
        return items
    for run in sorted(draft.aboard.boat.runs, key=lambda r: r.id):
        words = measure_words(measure, run, sections.get(run.id), draft)
        views = lines[run.id] if measure == "code" else lines[run.id][:1]
        if words:
            items += next(
                (found for ends in views if (found := _figure(ends, words, names, tones))), ()
            )
    return items


def _figure(
    ends: tuple[Point, Point], words: str, names: _Names, tones: Tones
) -> tuple[Primitive, ...]:
    """Write a figure somewhere along a run; () where nothing is free or the run is too short."""
    (x0, y0), (x1, y1) = ends
    if ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5 <= 34:
        return ()
    half = text_width(words, 11, bold=True) / 2 + HALO
    for share in (0.5, 0.38, 0.62, 0.28, 0.72):
        mx, my = x0 + (x1 - x0) * share, y0 + (y1 - y0) * share
        box = (mx - half, my - 8, mx + half, my + 8)
        if names.is_free(box):
            names.take(*box)
            return (
                Rect(box[0], box[1], 2 * half, 16, tones.part, tones.rule, 0.8, 4),
                Text(mx, my + 4, words, 11, tones.ink, True, "middle"),
            )
    return ()
