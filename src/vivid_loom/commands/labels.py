"""Labels from the command line: into a file, or out of a tape printer; and its stand-in."""

from pathlib import Path

import click

from vivid_loom.bench.devices.label_printer import LabelPrinter, PrinterError, print_labels
from vivid_loom.commands.trouble import bad_input_said
from vivid_loom.opening import open_draft
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.quantities.document import DocumentError
from vivid_loom.sheets.lists.label_lists import labels
from vivid_loom.sheets.pages.label_pages import tape_pages
from vivid_loom.sheets.paper.pdf import pdf_bytes

__all__ = ["run_label_printer", "write_labels"]


def _address(text: str) -> tuple[str, int]:
    host, _, port = text.rpartition(":")
    if not host or not port.isdigit() or not 0 < int(port) < 65536:
        told = f"found {text!r}, expected a host and a port, e.g. 127.0.0.1:9101"
        raise DocumentError("--printer", "", told)
    return host, int(port)


def write_labels(order: Path, out: Path | None, printer: str, harness: str) -> int:
    """Write an order's labels a page each, or print them; return 1 where not all came out."""
    with bad_input_said():
        if (out is None) == (not printer):
            raise DocumentError("labels", "", "found both or neither of --out and --printer")
        rows = [row for row in labels(open_draft(order)).rows if harness in ("", row.harness)]
        if not rows:
            raise DocumentError("--harness", "", f"found {harness!r}, which has no labels")
        job = pdf_bytes(tape_pages(rows), f"Labels {order.name}")
        if out is not None:
            try:
                write_atomically(out, job)
            except OSError as error:
                raise DocumentError(out, "", f"cannot be written: {error.strerror}") from error
            click.echo(f"{len(rows)} labels in {out}")
            return 0
        try:
            done = print_labels(*_address(printer), job)
        except PrinterError as error:
            raise DocumentError("--printer", "", str(error)) from error
    if done.labels < done.of:
        first = rows[done.labels].label
        click.echo(f"{done.labels} of {done.of} labels, {done.state}; the next is {first!r}")
        return 1
    click.echo(f"{done.labels} labels printed")
    return 0


def run_label_printer(port: int, out: Path, tape: int | None) -> None:
    """Stand in for a tape printer until it is stopped."""
    with bad_input_said():
        try:
            printer = LabelPrinter(out, port=port, tape=tape, told=click.echo)
        except OSError as error:
            raise DocumentError("--port", "", f"{port}: {error.strerror}") from error
    click.echo(f"label printer at 127.0.0.1:{printer.port}, tape goes to {out}")
    try:
        printer.serve()
    except KeyboardInterrupt:
        click.echo("switched off")
