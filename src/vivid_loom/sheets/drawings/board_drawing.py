"""A harness on its form board at full size: branches, pegs, ties, and what ends at each peg."""

import math
from collections.abc import Iterator, Sequence
from contextlib import suppress
from itertools import pairwise
from typing import Final, NamedTuple

from vivid_loom.boat import Assembly
from vivid_loom.drafting import Draft
from vivid_loom.quantities import CutUnit, counted, cut_unit
from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect, Scene, Spot, Text
from vivid_loom.sheets.paper.metrics import text_width, wrapped
from vivid_loom.sheets.paper.tones import PAPER, Tones
from vivid_loom.sheets.paper.wire_paint import wire_lines
from vivid_loom.sheets.words.names import Names
from vivid_loom.workshop.bundles import Section
from vivid_loom.workshop.harness.board import (
    BoardPlan,
    LaidBlock,
    NoBoardError,
    Point,
    lay_out,
)
from vivid_loom.workshop.harness.limb import Limb, Note
from vivid_loom.workshop.harness.tree import (
    Branch,
    Breakout,
    HarnessTree,
    WireEnd,
    harness_trees,
    tree_sections,
)

__all__ = ["BOARD_MM", "LAYERS", "HarnessBoard", "board_scene", "harness_boards", "layers"]

BOARD_MM: Final = (4800.0, 1200.0)
"""Width and height of the shop's form board; common practice, no source."""

LAYERS: Final = ("board", "branches", "ties", "pegs", "frames", "words")
HEADING_MM: Final = 28.0  # read from across the shop
LENGTH_MM: Final = 17.0
ROW_MM, ROW_PITCH_MM = 4.2, 5.8
PAD_MM: Final = 6.0
CHIP_MM: Final = 9.0
NOTE_LEAST_MM: Final = 230.0
PEG_MM: Final = 7.0
TIE_MM: Final = 5.0
OPEN_END: Final = "…"


class HarnessBoard(NamedTuple):
    """A harness with its place on the board.

    Attributes:
        sections: of its branches, by run: bundle, loom, ties.
        merged: breakouts whose tail goes straight on from the branch that ends there, by run.
    """

    tree: HarnessTree
    plan: BoardPlan
    sections: dict[str, Section]
    merged: dict[str, Breakout]

    def peg_points(self, station: str) -> tuple[tuple[Point, float, tuple[WireEnd, ...]], ...]:
        """Return the pegs of a station's breakout: where, how far out, what ends there."""
        breakout = next((b for b in self.tree.breakouts if b.station == station), None)
        if breakout is None:
            return ()
        run = next((run for run, b in self.merged.items() if b is breakout), "")
        laid = next(b for b in self.plan.branches if b.id == (run or _tail_id(station)))
        past = laid.length_mm - breakout.length_mm if run else 0.0
        return tuple((_at(laid.points, past + mm), mm, ends) for mm, ends in breakout.pegs)

    def node(self, station: str) -> Point:
        """Return where a station is on the board, before its tail."""
        run = next((run for run, b in self.merged.items() if b.station == station), "")
        if not run:
            return self.plan.nodes[station]
        laid = next(b for b in self.plan.branches if b.id == run)
        return _at(laid.points, laid.length_mm - self.merged[run].length_mm)


def _tail_id(station: str) -> str:
    return f"tail {station}"


def _at(points: Sequence[Point], along_mm: float) -> Point:
    """Return the point so far along a polyline."""
    for a, b in pairwise(points):
        length = math.dist(a, b)
        if along_mm <= length + 1e-9:
            share = along_mm / length if length else 0.0
            return a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])
        along_mm -= length
    return points[-1]


class _Words(NamedTuple):
    """What a station's note says: its heading in lines, and rows in columns."""

    heading: tuple[str, ...]
    about: str
    rows: tuple[tuple[WireEnd | None, str], ...]
    columns: int
    column_mm: float

    @property
    def size(self) -> tuple[float, float]:
        deep = math.ceil(len(self.rows) / self.columns)
        heading = max(text_width(line, HEADING_MM, bold=True) for line in self.heading)
        width = max(heading, self.columns * self.column_mm, text_width(self.about, LENGTH_MM))
        high = len(self.heading) * HEADING_MM * 1.15 + LENGTH_MM * 1.35 + deep * ROW_PITCH_MM
        return width + 2 * PAD_MM, high + 2 * PAD_MM


def _row(one: WireEnd) -> str:
    wire = one.wire
    return f"{one.end.label}  {wire.gauge} {wire.colour}"


def _words(breakout: Breakout, tree: HarnessTree, names: Names, unit: CutUnit) -> _Words:
    rows: list[tuple[WireEnd | None, str]] = []
    for mm, ends in breakout.pegs:
        rows.append((None, f"at {unit.told(round(mm))}" if mm else "cut to length"))
        rows += [(one, _row(one)) for one in ends]
    column = CHIP_MM + 8 + max(text_width(words, ROW_MM) for _, words in rows)
    columns = max(1, round(math.sqrt(len(rows) * ROW_PITCH_MM / column * 1.8)))
    heading = wrapped(names.station(breakout.station), NOTE_LEAST_MM, HEADING_MM, bold=True)
    count = len({one.wire.id for one in breakout.ends})
    far = tree.distance_mm(breakout.station)
    start = f"datum, 0 {unit.name}"
    if breakout.station != tree.datum:
        start = f"{unit.told(round(far))} from datum"
    about = f"{start} · {counted(count, 'wire')}"
    return _Words(heading, about, tuple(rows), columns, column)


def _side_words(branch: Branch, cut: Section, unit: CutUnit) -> tuple[str, str]:
    wires = len(branch.wires)
    return (
        f"{branch.id} {unit.text(round(branch.length_mm))}",
        f"{counted(wires, 'wire')}, {cut.diameter_mm:.0f} mm thick",
    )


def _side_note(branch: Branch, cut: Section, unit: CutUnit) -> Note:
    first, second = _side_words(branch, cut, unit)
    width = max(text_width(first, LENGTH_MM, bold=True), text_width(second, LENGTH_MM * 0.8))
    return Note(branch.id, width + PAD_MM, LENGTH_MM * 2.2)


def _laid(draft: Draft, tree: HarnessTree, size_mm: tuple[float, float]) -> HarnessBoard:
    names, unit = Names(draft), cut_unit(draft.aboard.profile.units)
    sections = tree_sections(draft, tree)
    notes = {b.station: Note(b.station, *_words(b, tree, names, unit).size) for b in tree.breakouts}
    by_station = {b.station: b for b in tree.breakouts}
    left = {branch.near for branch in tree.branches}
    merged: dict[str, Breakout] = {}
    limbs: list[Limb] = []
    for branch in tree.branches:
        tip = None if branch.closes or branch.far in left else by_station.get(branch.far)
        far = f"{branch.far}{OPEN_END}{branch.id}" if branch.closes else branch.far
        length = branch.length_mm
        if tip:
            merged[branch.id] = tip
            length += tip.length_mm
        note = notes[tip.station] if tip else None
        side = _side_note(branch, sections[branch.id], unit)
        limbs.append(Limb(branch.id, branch.near, far, length, note, side))
    for station, breakout in by_station.items():
        if breakout not in merged.values():
            name = _tail_id(station)
            length = max(breakout.length_mm, 1.0)  # a peg even where all is cut to length
            limbs.append(Limb(name, station, name, length, notes[station], straight=True))
    return HarnessBoard(tree, lay_out(tuple(limbs), tree.datum, size_mm), sections, merged)


def harness_boards(
    draft: Draft, assembly: Assembly, size_mm: tuple[float, float] = BOARD_MM
) -> tuple[HarnessBoard, ...]:
    """Return an assembly on the form board; several where it does not hang together.

    A part so long that no board takes it is left out: its branches are listed all the same.

    Args:
        size_mm: width and height of the board.
    """
    found: list[HarnessBoard] = []
    for tree in harness_trees(draft, assembly):
        with suppress(NoBoardError):
            found.append(_laid(draft, tree, size_mm))
    return tuple(found)


def _ties(board: HarnessBoard, branch: Branch, points: Sequence[Point]) -> Iterator[Line]:
    """Yield a short stroke across the branch at every tie."""
    cut = board.sections[branch.id]
    half = cut.diameter_mm / 2 + TIE_MM
    for turn in range(1, cut.supports + 1):
        along = turn * cut.support_mm
        if along >= branch.length_mm - 10:
            break
        (x, y), (ax, ay) = _at(points, along), _at(points, along - 1.0)
        dx, dy = x - ax, y - ay
        size = math.hypot(dx, dy) or 1.0
        nx, ny = -dy / size * half, dx / size * half
        yield Line(((x - nx, y - ny), (x + nx, y + ny)), PAPER.quiet, 1.6)


def _words_items(
    block: LaidBlock, words: _Words, tones: Tones, far: float
) -> Iterator[tuple[str, Primitive, Spot | None]]:
    """Yield layer, item and spot of everything a station's note says."""
    x, y = block.x + PAD_MM, block.y + PAD_MM
    heading = max(HEADING_MM, far)
    for line in words.heading:
        y += heading
        yield "words", Text(x, y, line, heading, tones.ink, True), None
        y += heading * 0.15
    if far > HEADING_MM:
        return
    y += LENGTH_MM
    yield "words", Text(x, y, words.about, LENGTH_MM, tones.quiet), None
    y += LENGTH_MM * 0.35
    deep = math.ceil(len(words.rows) / words.columns)
    for i, (one, told) in enumerate(words.rows):
        left = x + (i // deep) * words.column_mm
        base = y + (i % deep + 1) * ROW_PITCH_MM
        if one is None:
            yield "words", Text(left, base, told, ROW_MM, tones.quiet, True), None
            continue
        middle = base - ROW_MM * 0.35
        chip = ((left, middle), (left + CHIP_MM, middle))
        for stroke in wire_lines(chip, one.wire.colour, 2.8, tones.wire_edge, 2.0):
            yield "words", stroke, None
        rect = (left, base - ROW_MM, words.column_mm - 2, ROW_PITCH_MM)
        spot = Spot("wire", one.wire.id, rect)
        yield "words", Text(left + CHIP_MM + 3, base, told, ROW_MM, tones.ink), spot


def _leader(block: LaidBlock, tones: Tones) -> Line:
    x, y = block.about
    at = (
        min(max(x, block.x), block.x + block.width_mm),
        min(max(y, block.y), block.y + block.height_mm),
    )
    return Line((block.about, at), tones.quiet, 1.2, (6.0, 5.0))


def _branch_items(
    board: HarnessBoard, tones: Tones
) -> Iterator[tuple[str, Primitive, Spot | None]]:
    by_run = {branch.id: branch for branch in board.tree.branches}
    for laid in board.plan.branches:
        branch = by_run.get(laid.id)
        width = board.sections[laid.id].diameter_mm if branch else 3.0
        xs, ys = zip(*laid.points, strict=True)
        rect = (min(xs) - 8, min(ys) - 8, max(xs) - min(xs) + 16, max(ys) - min(ys) + 16)
        spot = Spot("branch", laid.id, rect) if branch else None
        yield "branches", Line(laid.points, tones.bar, max(3.0, width)), spot
        if branch:
            for tie in _ties(board, branch, laid.points):
                yield "ties", tie._replace(colour=tones.ink), None
        for x, y in laid.points[1:-1]:
            yield "pegs", Circle(x, y, PEG_MM, tones.page, tones.quiet, 1.6), None


def _peg_items(board: HarnessBoard, tones: Tones) -> Iterator[tuple[str, Primitive, Spot | None]]:
    tree = board.tree
    for station in tree.stations:
        x, y = board.node(station)
        rect = (x - 16, y - 16, 32.0, 32.0)
        fill = tones.ink if station == tree.datum else tones.page
        spot = Spot("station", station, rect)
        yield "pegs", Circle(x, y, PEG_MM * 1.5, fill, tones.ink, 2.2), spot
        for (px, py), _, _ in board.peg_points(station):
            yield "pegs", Circle(px, py, PEG_MM * 0.8, tones.page, tones.ink, 1.8), None
    if tree.branches:
        x, y = board.node(tree.free_end())
        yield "words", Text(x + 14, y - 14, "coil, tape, mark the pull", 11.0, tones.quiet), None


def _note_items(
    board: HarnessBoard, draft: Draft, tones: Tones, far: float
) -> Iterator[tuple[str, Primitive, Spot | None]]:
    names, unit = Names(draft), cut_unit(draft.aboard.profile.units)
    breakouts = {b.station: b for b in board.tree.breakouts}
    branches = {b.id: b for b in board.tree.branches}
    for block in board.plan.blocks:  # all of them first: a frame covers what passes under it
        yield "frames", _leader(block, tones), None
    for block in board.plan.blocks:
        rect = (block.x, block.y, block.width_mm, block.height_mm)
        if block.id in breakouts:
            frame = Rect(*rect, tones.part, tones.rule, 1.2, 4.0)
            yield "frames", frame, Spot("station", block.id, rect)
            words = _words(breakouts[block.id], board.tree, names, unit)
            yield from _words_items(block, words, tones, far)
        else:
            branch = branches[block.id]
            first, second = _side_words(branch, board.sections[block.id], unit)
            x, y = block.x + PAD_MM / 2, block.y + LENGTH_MM
            spot = Spot("branch", block.id, rect)
            yield "words", Text(x, y, first, LENGTH_MM, tones.ink, True), spot
            yield "words", Text(x, y + LENGTH_MM, second, LENGTH_MM * 0.8, tones.quiet), None


def _board_items(
    board: HarnessBoard, draft: Draft, tones: Tones, far: float = 0.0
) -> Iterator[tuple[str, Primitive, Spot | None]]:
    plan = board.plan
    edge = Rect(0, 0, plan.width_mm, plan.height_mm, "", tones.rule, 2.0)
    yield "board", edge, None
    yield from _branch_items(board, tones)
    yield from _peg_items(board, tones)
    yield from _note_items(board, draft, tones, far)


def layers(
    board: HarnessBoard, draft: Draft, *, rows: bool = True
) -> dict[str, tuple[Primitive, ...]]:
    """Return the drawing at full size by layer, in mm; branches in the order of the plan.

    Args:
        rows: list what ends at each station; else only what can be read in small.
    """
    found: dict[str, list[Primitive]] = {name: [] for name in LAYERS}
    for layer, item, _ in _board_items(board, draft, PAPER):
        shown = item if rows or layer != "words" else _in_small(item)
        if shown:
            found[layer].append(shown)
    return {name: tuple(items) for name, items in found.items()}


def _in_small(item: Primitive) -> Primitive | None:
    """Return a word as a map has it: what nobody could read is left out, and the table beside it
    says it; a branch's name and length take the room.
    """
    if not isinstance(item, Text) or item.size < LENGTH_MM:
        return None
    if not item.bold or item.size > LENGTH_MM:
        return item
    return item._replace(y=item.y + LENGTH_MM / 2, size=1.3 * LENGTH_MM)


def board_scene(
    board: HarnessBoard,
    draft: Draft,
    tones: Tones,
    marked: tuple[str, str] = ("", ""),
    far: float = 0.0,
) -> Scene:
    """Return the board in mm as a picture to look around in.

    Args:
        marked: kind and id of what is selected: a wire is drawn in its colour along its way.
        far: least size of stations' names in mm; where they must grow, what ends there is left
            out until one comes nearer.
    """
    by_layer: dict[str, list[Primitive]] = {name: [] for name in LAYERS}
    spots: list[Spot] = []
    lit: list[Primitive] = []
    for layer, item, spot in _board_items(board, draft, tones, far):
        by_layer[layer].append(item)
        if spot:
            spots.append(spot)
            if (spot.kind, spot.id) == marked and spot.kind != "branch":
                x, y, w, h = spot.rect
                lit.append(Rect(x - 2, y - 1, w + 4, h + 2, "", tones.focus, 2.4, 3.0))
    lit += _marked_items(board, marked, tones)
    items = [item for name in LAYERS for item in by_layer[name]]
    plan = board.plan
    return Scene((*items, *lit), tuple(spots), plan.width_mm, plan.height_mm)


def _marked_items(
    board: HarnessBoard, marked: tuple[str, str], tones: Tones
) -> Iterator[Primitive]:
    kind, name = marked
    laid = {branch.id: branch.points for branch in board.plan.branches}
    if kind == "branch" and name in laid:
        yield Line(laid[name], tones.focus, 6.0)
    if kind != "wire":
        return
    wire = next((w for w in board.tree.wires if w.id == name), None)
    if wire is None:
        return
    for run in wire.runs:
        yield from wire_lines(laid[run], wire.colour, 10.0, tones.wire_edge, 24.0)
