"""Orders drafted from the command line: packet, findings, comparisons, the queue."""

import sys
from pathlib import Path

import click

from vivid_loom.boat import read_boat
from vivid_loom.commands.trouble import BAD_INPUT, bad_input_said
from vivid_loom.demo import borrowed_boat, find_boat
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.drafting.rules.causes import grouped
from vivid_loom.opening import open_draft
from vivid_loom.order import PROFILES, read_shop, use_profile
from vivid_loom.power.scan import scan_draft
from vivid_loom.power.sneak_boat import prove_draft
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.quantities.document import DocumentError
from vivid_loom.queue import queue_entry, queue_paths, with_figures
from vivid_loom.sheets import Handed, packet_files, packet_table
from vivid_loom.sheets.packet import UnknownPartError
from vivid_loom.sheets.proof import proven, standing_errors
from vivid_loom.sheets.words.power_words import proof_words
from vivid_loom.workshop.comparison import compared
from vivid_loom.workshop.effects import figures_of
from vivid_loom.workshop.moves import costly, moves
from vivid_loom.workshop.substitutes import missing, substitutes

__all__ = [
    "compare_profiles",
    "list_moves",
    "list_queue",
    "list_stock",
    "print_differences",
    "print_findings",
    "write_packet",
]


def _opened(path: Path) -> Draft:
    with bad_input_said():
        drafted = open_draft(path)
    if told := borrowed_boat(path, drafted.aboard.order.boat):
        click.echo(f"vivid-loom: {told}", err=True)
    return drafted


def write_packet(order: Path, out: Path, only: str, handed: Handed) -> None:
    """Write the build packet of an order into a folder."""
    drafted = _opened(order)
    parts = frozenset(part.strip() for part in only.split(",") if part.strip())
    with bad_input_said():
        try:
            shop = read_shop(order.parent)
            files = packet_files(drafted, parts, shop, handed)
        except UnknownPartError as error:
            raise DocumentError("--only", "", str(error)) from error
        try:
            out.mkdir(parents=True, exist_ok=True)
            for name, data in files.items():
                write_atomically(out / name, data)
        except OSError as error:
            raise DocumentError(out, "", f"cannot be written: {error.strerror}") from error
    click.echo(f"{len(files)} files in {out}")


def print_findings(order: Path) -> int:
    """Print an order's findings, its sneak proof and what one fault would do in any scenario.

    Returns:
        1 if any finding of a rule or proof is an error.
    """
    drafted = _opened(order)
    for group in grouped(drafted):
        for finding in (group.cause, *group.follows):
            mark = "" if finding is group.cause else "  follows: "
            click.echo(f"{mark}{finding.severity:6} {finding.code} {finding.sentence()}")
    click.echo(proof_words(prove_draft(drafted, net_list(drafted))))
    found = proven(drafted)
    for finding in found.standing:
        click.echo(f"{finding.severity:6} {finding.code} {finding.sentence()}")
    for finding, answer in (*drafted.accepted, *found.accepted):
        click.echo(f"accepted {finding.code} {finding.sentence()} {answer.signed}: {answer.reason}")
    if not any(finding.severity == "error" for finding in drafted.findings):
        click.echo(f"{len(scan_draft(drafted))} faults tried in every scenario")
    errors, listed = standing_errors(drafted), len(drafted.findings) + len(found.standing)
    click.echo(f"{errors} errors, {listed - errors} to judge or note")
    return 1 if errors else 0


def print_differences(first: Path, second: Path) -> int:
    """Print what differs between the schedules of two orders; return 1 if anything does."""
    before, after = (packet_table(_opened(path), "schedule") for path in (first, second))
    old = {row[0]: row for row in before.rows}
    new = {row[0]: row for row in after.rows}
    changed = False
    for name in sorted(old | new):
        if name not in new or name not in old:
            changed = True
            click.echo(f"{name}: {'removed' if name in old else 'added'}")
            continue
        for column, was, now in zip(before.columns, old[name], new[name], strict=True):
            if was != now:
                changed = True
                click.echo(f"{name}: {column} {was or '—'} → {now or '—'}")
    return 1 if changed else 0


def compare_profiles(order: Path, profile: str) -> None:
    """Draft an order under its own profile and under another, side by side."""
    if profile not in PROFILES:
        told = f"found {profile!r}, expected one of {', '.join(sorted(PROFILES))}"
        click.echo(f"vivid-loom: PROFILE: {told}", err=True)
        sys.exit(BAD_INPUT)
    before = _opened(order)
    other = use_profile(profile)[1](before.aboard.order)
    with bad_input_said():
        after = draft(other, read_boat(find_boat(order, other.boat)), before.catalogue)
    told_apart = compared(before, after)
    click.echo(f"{'':40} {told_apart.first:>22} {told_apart.second:>22}")
    for line in (*told_apart.sums, *told_apart.findings):
        click.echo(f"{line.what[:40]:40} {line.first:>22} {line.second:>22}")
    for circuit in told_apart.circuits:
        click.echo(circuit.what)
        for line in circuit.figures:
            click.echo(f"    {line.what:36} {line.first:>22} {line.second:>22}")


def list_stock(order: Path) -> int:
    """List an order's devices not in stock and what may go in instead; return 1 if any is short."""
    done = _opened(order)
    with bad_input_said():
        kept = read_shop(order.parent).ratings
        model = read_boat(find_boat(order, done.aboard.order.boat))
    short = missing(done, kept)
    for row in short:
        held = row.sized.protection if row.sized else None
        assert held is not None
        click.echo(f"{row.id} {row.planned.label}: {held.value:g} A {row.planned.family}")
        for way in substitutes(done, model, row.id, kept):
            click.echo(
                f"  {'may go in' if way.allowed else 'refused  '}  {way.words}: {way.verdict}"
            )
    click.echo(f"{len(short)} devices not in stock")
    return 1 if short else 0


def list_moves(order: Path, circuit: str) -> None:
    """List other ways to hang a circuit, or each that decides a feeder, that save copper."""
    done = _opened(order)
    if circuit and (found := done.circuit(circuit)) is None:
        known = ", ".join(row.id for row in done.circuits)
        click.echo(f"vivid-loom: CIRCUIT: found {circuit!r}, expected one of {known}", err=True)
        sys.exit(BAD_INPUT)
    with bad_input_said():
        model = read_boat(find_boat(order, done.aboard.order.boat))
    click.echo(f"the boat's conductors take {figures_of(done).copper_kg:.2f} kg of copper")
    for name in (circuit,) if circuit else costly(done):
        found = done.circuit(name)
        assert found is not None
        click.echo(f"{name} {found.planned.label}:")
        for move in moves(done, model, name):
            told = f"saves {move.saved_kg:.2f} kg, {move.saved_price:.2f} {done.catalogue.currency}"
            click.echo(f"  {move.words}: {told}" + (f"; but {move.verdict}" * bool(move.verdict)))


def list_queue(folder: Path) -> None:
    """List a folder's orders by due date, with bench hours and findings."""
    entries = [with_figures(queue_entry(path)) for path in queue_paths(folder, with_demo=False)]
    for entry in sorted(entries, key=lambda e: (e.due or "9999", e.path.name)):
        if entry.problem:
            click.echo(f"{entry.path.name}: {entry.problem}")
            continue
        state = f"{entry.state}, {entry.stopped}" if entry.stopped else entry.state
        click.echo(
            f"due {entry.due}  hull {entry.hull}  {entry.model}  {state}  "
            f"{entry.hours:.1f} h  {entry.errors} errors  {entry.title}"
        )
