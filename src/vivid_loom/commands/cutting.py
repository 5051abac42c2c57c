"""The cut plan from the command line: of one order or of all that are due."""

from collections.abc import Sequence
from pathlib import Path

import click

from vivid_loom.commands.trouble import bad_input_said
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.opening import open_draft
from vivid_loom.order import SPOOL_FILE, read_shop, write_spools
from vivid_loom.quantities.document import DocumentError, write_atomically
from vivid_loom.sheets.lists.cut_lists import cut_plan_table, draft_cut_plan, plan_words
from vivid_loom.sheets.paper.csv_file import csv_bytes
from vivid_loom.workshop.cutting.plan import after_cutting

__all__ = ["plan_cuts"]


def plan_cuts(orders: Sequence[Path], out: Path | None, *, commit: bool) -> None:
    """Print the cut plan of orders over the spools beside the first; write it, and book it."""
    with bad_input_said():
        folder = orders[0].parent
        if commit and folder.resolve() == DEMO_FOLDER.resolve():
            told = "is shipped demo data and never written to; copy it and plan there"
            raise DocumentError(folder / SPOOL_FILE, "", told)
        shop = read_shop(folder)
        plan = draft_cut_plan([open_draft(order) for order in orders], shop)
        for wire in plan.wires:
            spools = ", ".join(f"{cuts.spool.id} ({len(cuts.pieces)})" for cuts in wire.spools)
            waste = f", {wire.waste_mm / 1000:.2f} m waste" if wire.waste_mm else ""
            told = f"{wire.wire} {wire.colour}"
            click.echo(f"{told:24} {wire.needed_mm / 1000:8.2f} m from {spools}{waste}")
        click.echo(plan_words(plan))
        try:
            if out is not None:
                table = cut_plan_table(plan)
                write_atomically(out, csv_bytes(table, {}))
                click.echo(f"{out}: {len(table.rows)} cuts")
            if commit:
                spools_left = after_cutting(plan, shop.spools)
                write_spools(folder / SPOOL_FILE, spools_left)
                click.echo(f"{folder / SPOOL_FILE}: {len(spools_left)} spools and remnants left")
        except OSError as error:
            place = out or folder / SPOOL_FILE
            raise DocumentError(place, "", f"cannot be written: {error.strerror}") from error
