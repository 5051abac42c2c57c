"""Form boards from the command line: each harness at full size."""

from pathlib import Path

import click

from vivid_loom.commands.trouble import bad_input_said
from vivid_loom.opening import open_draft
from vivid_loom.quantities import file_name
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.quantities.document import DocumentError
from vivid_loom.sheets.board_files import PAPERS, all_boards, board_pages
from vivid_loom.sheets.paper.pdf import pdf_bytes

__all__ = ["write_boards"]


def _size_mm(text: str) -> tuple[float, float]:
    """Return width and height of a board given in m, as '4.8x1.2'.

    Raises:
        DocumentError: no such size.
    """
    try:
        width, height = (1000 * float(part) for part in text.split("x"))
    except ValueError:
        width = height = 0.0
    if not (300 <= width <= 50_000 and 300 <= height <= 50_000):
        asked = "two lengths from 0.3 to 50 m, e.g. 4.8x1.2"
        raise DocumentError("--size", "", f"found {text!r}, expected {asked}")
    return width, height


def write_boards(order: Path, out: Path, paper: str, harness: str, size: str) -> None:
    """Write each harness of an order on its form board as PDF."""
    with bad_input_said():
        if paper not in PAPERS:
            asked = ", ".join(PAPERS)
            raise DocumentError("--paper", "", f"found {paper!r}, expected one of {asked}")
        size_mm = _size_mm(size)
        draft = open_draft(order)
        boards = all_boards(draft, size_mm)
        names = [board.tree.id for board in boards]
        if harness and harness not in names:
            told = f"found {harness!r}, expected one of {', '.join(names)}"
            raise DocumentError("--harness", "", told)
        try:
            out.mkdir(parents=True, exist_ok=True)
            for board in boards:
                if harness in ("", board.tree.id):
                    pages = board_pages(draft, board, paper)
                    title = f"Form board, hull {draft.aboard.order.hull}, {board.tree.id}"
                    file = out / file_name(f"board-{board.tree.id}-{paper.lower()}", ".pdf")
                    write_atomically(file, pdf_bytes(pages, title))
                    wide, high = board.plan.width_mm / 1000, board.plan.height_mm / 1000
                    told = f"board {wide:.1f} × {high:.1f} m, {board.plan.used_m2:.2f} m² used"
                    click.echo(f"{file}: {len(pages)} sheet{'s' * (len(pages) > 1)}, {told}")
        except OSError as error:
            raise DocumentError(out, "", f"cannot be written: {error.strerror}") from error
