"""What a harness costs: its form board, its sheets, and moving about on the picture of it.

    ./vivid-loom bench

Everything beside what it is measured against, in one run.
"""

import os
import time
from collections.abc import Callable

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtWidgets import QApplication, QWidget

from benchmarks.drafting import best_of
from vivid_loom.boat import read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER, DEMO_ORDER, find_boat
from vivid_loom.desktop.harness.board_view import BoardView
from vivid_loom.drafting import Draft, draft
from vivid_loom.order import read_order, read_shop
from vivid_loom.sheets.board_files import board_pages, board_svg
from vivid_loom.sheets.drawings.board_drawing import harness_boards
from vivid_loom.sheets.lists.cut_lists import draft_cut_plan
from vivid_loom.sheets.paper.pdf import pdf_bytes
from vivid_loom.workshop.harness.board import lay_out
from vivid_loom.workshop.harness.tree import harness_trees

__all__ = ["main"]


def _once(work: Callable[[], object]) -> float:
    start = time.process_time()
    work()
    return time.process_time() - start


def _drafted() -> tuple[Draft, float]:
    order = read_order(DEMO_ORDER)
    boat = read_boat(find_boat(DEMO_ORDER, order.boat))
    seconds = best_of(4, lambda: draft(order, boat, shipped_catalogue()))
    return draft(order, boat, shipped_catalogue()), seconds


def sheets(done: Draft, drafting_s: float) -> None:
    """Print boards and plans beside a draft."""
    for assembly in done.aboard.boat.assemblies:
        lay_out.cache_clear()
        spent = _once(lambda a=assembly: harness_boards(done, a))
        boards = harness_boards(done, assembly)
        wires = sum(len(tree.wires) for tree in harness_trees(done, assembly))
        pages = _once(lambda b=boards: [pdf_bytes(board_pages(done, one, "A3"), "b") for one in b])
        svg = _once(lambda b=boards: board_svg(done, b))
        print(
            f"{assembly.id:8} {wires:4} wires: board {spent:5.2f} s, {spent / drafting_s:5.1f} × a "
            f"draft; A3 sheets {pages:.2f} s, SVG {svg:.2f} s"
        )
    shop = read_shop(DEMO_FOLDER)
    plan = _once(lambda: draft_cut_plan([done], shop))
    print(
        f"cut plan over {len(shop.spools)} spools: {plan:.2f} s, {plan / drafting_s:.1f} × a draft"
    )


def moving(done: Draft) -> None:
    """Print panning and zooming on the fullest board beside an empty picture of that size."""
    app = QApplication.instance() or QApplication([])
    view = BoardView()
    view.resize(1200, 500)
    empty = QWidget()
    empty.resize(1200, 500)
    console = next(a for a in done.aboard.boat.assemblies if a.id == "console")
    view.set_boards(done, harness_boards(done, console))
    view.show()
    app.processEvents()
    bare = best_of(40, lambda: empty.grab())
    whole = best_of(10, lambda: view.grab())
    for _ in range(4):
        view.closer()
    near = best_of(10, lambda: view.grab())
    zoom = best_of(6, lambda: (view.closer(), view.grab(), view.farther(), view.grab())) / 2
    print(
        f"a frame of the whole board {1000 * whole:.1f} ms, from near {1000 * near:.1f} ms, a step "
        f"of zoom with its frame {1000 * zoom:.1f} ms; an empty picture {1000 * bare:.1f} ms"
    )


def main() -> None:
    """Print all of it."""
    done, drafting_s = _drafted()
    sheets(done, drafting_s)
    moving(done)


if __name__ == "__main__":
    main()
