"""Form boards as files: measured in SVG and DXF, and put together again from sheets of paper."""

import io
import math
import os
import subprocess
import sys
from collections.abc import Sequence
from itertools import pairwise
from xml.etree import ElementTree

import ezdxf
import pytest
from pypdf import PdfReader

from vivid_loom.drafting import Draft
from vivid_loom.sheets.board_files import all_boards, board_dxf, board_pages, board_svg
from vivid_loom.sheets.drawings.board_drawing import HarnessBoard
from vivid_loom.sheets.paper.dxf import APP_ID
from vivid_loom.sheets.paper.pdf import pdf_bytes
from vivid_loom.sheets.paper.tiles import BORDER_MM, PAPERS_MM, tiling

Point = tuple[float, float]
SVG = "{http://www.w3.org/2000/svg}"
MM = 72 / 25.4


@pytest.fixture(scope="module")
def boards(full: Draft) -> tuple[HarnessBoard, ...]:
    return all_boards(full)


def length(points: Sequence[Point]) -> float:
    return sum(math.dist(a, b) for a, b in pairwise(points))


def expected(boards: tuple[HarnessBoard, ...]) -> dict[str, float]:
    """Return what each branch measures with the tail that goes straight on, from the tree alone."""
    found = {}
    for board in boards:
        for branch in board.tree.branches:
            tail = board.merged.get(branch.id)
            found[f"{board.tree.id} {branch.id}"] = branch.length_mm + (
                tail.length_mm if tail else 0.0
            )
    return found


def check(measured: dict[str, float], boards: tuple[HarnessBoard, ...]) -> None:
    want = expected(boards)
    assert set(want) <= set(measured)
    for name, mm in want.items():
        assert measured[name] == pytest.approx(mm, abs=0.5), name


def test_branches_measure_right_in_svg(full: Draft, boards: tuple[HarnessBoard, ...]) -> None:
    root = ElementTree.fromstring(board_svg(full, boards))
    assert root.attrib["width"].endswith("mm")
    box = [float(v) for v in root.attrib["viewBox"].split()]
    assert float(root.attrib["width"].removesuffix("mm")) == box[2]  # one unit is one mm
    measured = {}
    for group in root.iter(f"{SVG}g"):
        if group.attrib["id"] == "branches":
            for line in group.iter(f"{SVG}polyline"):
                pairs = (pair.split(",") for pair in line.attrib["points"].split())
                points = [(float(x), float(y)) for x, y in pairs]
                measured[line.attrib["id"]] = length(points)
    check(measured, boards)


def test_branches_measure_right_in_dxf(full: Draft, boards: tuple[HarnessBoard, ...]) -> None:
    document = ezdxf.read(io.StringIO(board_dxf(full, boards).decode()))
    assert document.units == ezdxf.units.MM
    assert not document.audit().has_errors
    assert {"branches", "pegs", "ties", "words"} <= {layer.dxf.name for layer in document.layers}
    measured = {}
    for line in document.modelspace().query('LWPOLYLINE[layer=="branches"]'):
        (told,) = [value for code, value in line.get_xdata(APP_ID) if code == 1000]
        measured[told] = length([(x, y) for x, y, *_ in line.get_points()])
    check(measured, boards)


def paths(page: object) -> list[list[Point]]:
    """Return the open paths that a page strokes, in mm from its upper left."""
    height = float(page.mediabox.height)  # type: ignore[attr-defined]
    found: list[list[Point]] = []

    def visit(op: bytes, args: list[float], _cm: object, _tm: object) -> None:
        if op == b"m":
            found.append([(float(args[0]) / MM, (height - float(args[1])) / MM)])
        elif op == b"l":
            found[-1].append((float(args[0]) / MM, (height - float(args[1])) / MM))

    page.extract_text(visitor_operand_before=visit)  # type: ignore[attr-defined]
    return found


@pytest.mark.parametrize("paper", ["A4", "A3", "A2"])
def test_sheets_laid_edge_to_edge_give_the_whole_board(
    full: Draft, boards: tuple[HarnessBoard, ...], paper: str
) -> None:
    """Each branch, cut by the windows of the sheets it crosses, is there to its whole length."""
    board = boards[-1]
    data = pdf_bytes(board_pages(full, board, paper), "board")
    pages = PdfReader(io.BytesIO(data)).pages
    left, top, right, low = board.plan.used
    tiles = tiling((left - 20, top - 20, right + 20, low + 20), paper)
    assert len(pages) == tiles.columns * tiles.rows
    seen: dict[str, float] = {}
    for index, page in enumerate(pages):
        wide, high = (float(v) / MM for v in (page.mediabox.width, page.mediabox.height))
        assert (wide, high) == pytest.approx(PAPERS_MM[paper], abs=0.01)
        x, y = tiles.origin(index % tiles.columns, index // tiles.columns)
        drawn = [
            [(px - BORDER_MM + x, py - BORDER_MM + y) for px, py in path] for path in paths(page)
        ]
        for branch in board.plan.branches:
            if any(_same(path, branch.points) for path in drawn):
                shown = _inside(branch.points, (x, y), tiles.window_mm)
                seen[branch.id] = seen.get(branch.id, 0.0) + shown
    for branch in board.plan.branches:
        assert seen[branch.id] == pytest.approx(branch.length_mm, abs=0.5), branch.id


def _same(path: Sequence[Point], points: Sequence[Point]) -> bool:
    return len(path) == len(points) and all(
        math.dist(a, b) < 0.05 for a, b in zip(path, points, strict=True)
    )


def _inside(points: Sequence[Point], origin: Point, window: Point) -> float:
    """Return how much of a polyline a window shows, by steps of a tenth of a mm."""
    shown = 0.0
    for a, b in pairwise(points):
        whole = math.dist(a, b)
        steps = max(1, math.ceil(whole / 0.1))
        for i in range(steps):
            t = (i + 0.5) / steps
            x, y = a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])
            if 0 <= x - origin[0] < window[0] and 0 <= y - origin[1] < window[1]:
                shown += whole / steps
    return shown


def test_a_roll_takes_the_whole_board(full: Draft, boards: tuple[HarnessBoard, ...]) -> None:
    (page,) = board_pages(full, boards[-1], "roll")
    left, top, right, low = boards[-1].plan.used
    assert page.width_mm > right - left and page.height_mm > low - top
    text = PdfReader(io.BytesIO(pdf_bytes([page], "roll"))).pages[0].extract_text()
    for station in boards[-1].tree.stations:
        name = full.aboard.boat.stations_by_id[station].name
        assert name.split()[0] in text


def test_the_same_board_gives_the_same_bytes_in_every_run() -> None:
    """Sets are ordered otherwise in each run of Python: what is written must not show it."""
    text = (
        "import hashlib\n"
        "from vivid_loom.sheets.paper.drawing import Line, Text\n"
        "from vivid_loom.sheets.paper.dxf import dxf_bytes\n"
        "words = [('', Text(1, 2, 'x', 3, '#000000'))]\n"
        "branches = [('H01', Line(((0, 0), (5, 5)), '#112233', 1.0))]\n"
        "drawn = dxf_bytes({'words': words, 'branches': branches})\n"
        "print(hashlib.sha256(drawn).hexdigest())\n"
    )
    told = {
        subprocess.run(
            [sys.executable, "-c", text],
            env={**os.environ, "PYTHONHASHSEED": seed},
            capture_output=True,
            check=True,
        ).stdout
        for seed in ("0", "4", "7")
    }
    assert len(told) == 1
