"""The cut plan from the command line: of one order or of all that are due."""

from collections.abc import Sequence
from contextlib import nullcontext
from pathlib import Path

import click

from vivid_loom.commands.trouble import bad_input_said
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.opening import open_draft
from vivid_loom.order import SPOOL_FILE, Booking, booking, read_shop
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.quantities.document import DocumentError
from vivid_loom.sheets.lists.cut_lists import cut_plan_table, draft_cut_plan, plan_words
from vivid_loom.sheets.paper.csv_file import csv_bytes
from vivid_loom.workshop.cutting.plan import after_cutting, pieces

__all__ = ["plan_cuts"]


def plan_cuts(orders: Sequence[Path], out: Path | None, *, commit: bool) -> None:
    """Print the cut plan of orders over the spools beside the first; write it, and book it."""
    with bad_input_said():
        folder = orders[0].parent
        if commit and folder.resolve() == DEMO_FOLDER.resolve():
            told = "is shipped demo data and never written to; copy it and plan there"
            raise DocumentError(folder / SPOOL_FILE, "", told)
        try:
            with booking(folder) if commit else nullcontext() as shelf:
                _planned(orders, out, shelf)
        except OSError as error:
            place = error.filename or out or folder / SPOOL_FILE
            raise DocumentError(place, "", f"cannot be written: {error.strerror}") from error


def _planned(orders: Sequence[Path], out: Path | None, shelf: Booking | None) -> None:
    """Plan, print and write; book it on a shelf that is held meanwhile."""
    shop = read_shop(orders[0].parent)
    drafts = [open_draft(order) for order in orders]
    plan = draft_cut_plan(drafts, shop)
    for wire in plan.wires:
        spools = ", ".join(f"{cuts.spool.id} ({len(cuts.pieces)})" for cuts in wire.spools)
        waste = f", {wire.waste_mm / 1000:.2f} m waste" if wire.waste_mm else ""
        told = f"{wire.wire} {wire.colour}"
        click.echo(f"{told:24} {wire.needed_mm / 1000:8.2f} m from {spools}{waste}")
    click.echo(plan_words(plan))
    if out is not None:
        table = cut_plan_table(plan)
        write_atomically(out, csv_bytes(table, {}))
        click.echo(f"{out}: {len(table.rows)} cuts")
    if shelf is not None:
        left = after_cutting(plan, shop.spools)
        cut = sorted(str(piece) for draft in drafts for piece in pieces(draft))
        hulls = ", ".join(f"hull {draft.aboard.order.hull}" for draft in drafts)
        shelf.book("\n".join(cut), hulls, left)
        click.echo(f"{shelf.path}: {len(left)} spools and remnants left")
