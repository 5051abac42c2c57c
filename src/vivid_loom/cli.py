"""The command line: what people type and other programs call."""

import json
import os
import sys
from pathlib import Path

import click

from vivid_loom import __version__
from vivid_loom.boat import (
    BOAT_FORMAT,
    BOAT_VERSION,
    LOADS_FORMAT,
    LOADS_VERSION,
    Boat,
    GenericLoads,
    read_boat,
)
from vivid_loom.catalogue import (
    CATALOGUE_FORMAT,
    CATALOGUE_VERSION,
    Catalogue,
)
from vivid_loom.demo import DEMO_ORDER, find_boat
from vivid_loom.drafting import Draft, DraftError, draft
from vivid_loom.opening import open_draft, queue_entry, queue_paths, with_figures
from vivid_loom.order import (
    ORDER_FORMAT,
    ORDER_VERSION,
    PROFILES,
    SHOP_FORMAT,
    SHOP_VERSION,
    Order,
    Shop,
    read_shop,
    use_profile,
)
from vivid_loom.quantities.document import DocumentError, schema_of, write_atomically
from vivid_loom.sheets import packet_files, packet_tables
from vivid_loom.sheets.rules_text import rules_markdown
from vivid_loom.workshop.comparison import compared
from vivid_loom.workshop.substitutes import missing, substitutes

__all__ = ["main"]

BAD_INPUT = 2


def _open_or_exit(path: Path) -> Draft:
    try:
        return open_draft(path)
    except DocumentError as error:
        click.echo(f"vivid-loom: {error}", err=True)
        sys.exit(BAD_INPUT)


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__)
def main() -> None:
    """Draft a boat's wiring from one customer order, and say why."""


@main.command("draft")
@click.argument("order", type=click.Path(path_type=Path))
@click.option("--out", required=True, type=click.Path(path_type=Path), help="folder to write to")
@click.option("--only", default="", help="comma-separated parts, e.g. schedule,cutlist,packet")
def draft_command(order: Path, out: Path, only: str) -> None:
    """Write the build packet of ORDER."""
    drafted = _open_or_exit(order)
    parts = frozenset(part.strip() for part in only.split(",") if part.strip())
    try:
        files = packet_files(drafted, parts, read_shop(order.parent).closed_days)
    except KeyError as error:
        click.echo(f"vivid-loom: --only: {error.args[0]}", err=True)
        sys.exit(BAD_INPUT)
    except DocumentError as error:
        click.echo(f"vivid-loom: {error}", err=True)
        sys.exit(BAD_INPUT)
    try:
        out.mkdir(parents=True, exist_ok=True)
        for name, data in files.items():
            write_atomically(out / name, data)
    except OSError as error:
        click.echo(f"vivid-loom: {out}: cannot be written: {error.strerror}", err=True)
        sys.exit(BAD_INPUT)
    click.echo(f"{len(files)} files in {out}")


@main.command("check")
@click.argument("order", type=click.Path(path_type=Path))
def check_command(order: Path) -> None:
    """Print the findings of ORDER; exit 1 if any is an error."""
    drafted = _open_or_exit(order)
    for finding in drafted.findings:
        click.echo(f"{finding.severity:6} {finding.code} {finding.sentence()}")
    for finding, answer in drafted.accepted:
        click.echo(
            f"accepted {finding.code} {finding.sentence()} {answer.initials}: {answer.reason}"
        )
    errors = sum(finding.severity == "error" for finding in drafted.findings)
    click.echo(f"{errors} errors, {len(drafted.findings) - errors} to judge or note")
    sys.exit(1 if errors else 0)


@main.command("diff")
@click.argument("first", type=click.Path(path_type=Path))
@click.argument("second", type=click.Path(path_type=Path))
def diff_command(first: Path, second: Path) -> None:
    """Say what differs between the schedules of two orders; exit 1 if anything does."""
    before, after = (_open_or_exit(path) for path in (first, second))
    columns = packet_tables(before)[0].columns
    old = {row[0]: row for row in packet_tables(before)[0].rows}
    new = {row[0]: row for row in packet_tables(after)[0].rows}
    changed = False
    for name in sorted(old | new):
        if name not in new or name not in old:
            changed = True
            click.echo(f"{name}: {'removed' if name in old else 'added'}")
            continue
        cells = zip(columns, old[name], new[name], strict=True)
        for column, was, now in cells:
            if was != now:
                changed = True
                click.echo(f"{name}: {column} {was or '—'} → {now or '—'}")
    sys.exit(1 if changed else 0)


@main.command("compare")
@click.argument("order", type=click.Path(path_type=Path))
@click.argument("profile", type=click.Choice(sorted(PROFILES)))
def compare_command(order: Path, profile: str) -> None:
    """Draft ORDER under its own profile and under PROFILE, side by side."""
    before = _open_or_exit(order)
    other = use_profile(profile)[1](before.aboard.order)
    model = read_boat(find_boat(order, other.boat))
    try:
        after = draft(other, model, before.catalogue)
    except DraftError as error:
        click.echo(f"vivid-loom: {order}: {error}", err=True)
        sys.exit(BAD_INPUT)
    told = compared(before, after)
    click.echo(f"{'':40} {told.first:>22} {told.second:>22}")
    for line in (*told.sums, *told.findings):
        click.echo(f"{line.what[:40]:40} {line.first:>22} {line.second:>22}")
    for line in told.circuits:
        click.echo(f"{line.what}\n    {line.first}\n    {line.second}")


@main.command("stock")
@click.argument("order", type=click.Path(path_type=Path))
def stock_command(order: Path) -> None:
    """List devices of ORDER that the shop has not in stock, and what may go in instead."""
    done = _open_or_exit(order)
    try:
        kept = read_shop(order.parent).ratings
    except DocumentError as error:
        click.echo(f"vivid-loom: {error}", err=True)
        sys.exit(BAD_INPUT)
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
    sys.exit(1 if short else 0)


@main.command("rules")
def rules_command() -> None:
    """List every rule as Markdown: code, severity, what it is about, what to do, source."""
    click.echo(rules_markdown(), nl=False)


@main.command("queue")
@click.argument("folder", type=click.Path(path_type=Path, exists=True, file_okay=False))
def queue_command(folder: Path) -> None:
    """List the orders in FOLDER by due date, with bench hours and findings."""
    entries = [with_figures(queue_entry(path)) for path in queue_paths(folder, with_demo=False)]
    for entry in sorted(entries, key=lambda e: (e.due or "9999", e.path.name)):
        if entry.problem:
            click.echo(f"{entry.path.name}: {entry.problem}")
            continue
        click.echo(
            f"due {entry.due}  hull {entry.hull}  {entry.model}  {entry.state}  "
            f"{entry.hours:.1f} h  {entry.errors} errors  {entry.title}"
        )


@main.command("schemas")
@click.argument("folder", type=click.Path(path_type=Path), default=Path("docs/formats"))
def schemas_command(folder: Path) -> None:
    """Write the JSON Schemas of the file formats to FOLDER."""
    folder.mkdir(parents=True, exist_ok=True)
    for record_type, kind, version in (
        (Order, ORDER_FORMAT, ORDER_VERSION),
        (Boat, BOAT_FORMAT, BOAT_VERSION),
        (Catalogue, CATALOGUE_FORMAT, CATALOGUE_VERSION),
        (GenericLoads, LOADS_FORMAT, LOADS_VERSION),
        (Shop, SHOP_FORMAT, SHOP_VERSION),
    ):
        schema = json.dumps(schema_of(record_type, kind, version), indent=1, ensure_ascii=False)
        write_atomically(folder / f"{kind}.schema.json", f"{schema}\n".encode())


def _offscreen_if_no_display() -> bool:
    """Tell whether no window can be opened: no display, or the launcher found no way to it."""
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    return os.environ.get("QT_QPA_PLATFORM", "").startswith("offscreen")


@main.command("run")
@click.argument("order", required=False, type=click.Path(path_type=Path))
def run_command(order: Path | None) -> None:
    """Open the application, on ORDER if one is given."""
    from vivid_loom.desktop.application import run

    if _offscreen_if_no_display():
        click.echo(
            "vivid-loom: there is no display to open a window on; 'shots DIR' renders offscreen",
            err=True,
        )
        sys.exit(3)
    sys.exit(run(order or DEMO_ORDER))


@main.command("demo")
@click.option("--shots", type=click.Path(path_type=Path), help="render the screens to a folder")
def demo_command(shots: Path | None) -> None:
    """Open the application on the demo order."""
    no_display = _offscreen_if_no_display()
    from vivid_loom.desktop.application import run
    from vivid_loom.desktop.shots import take_shots

    if shots or no_display:
        folder = shots or Path("out/shots")
        if no_display:
            click.echo(
                f"No window can be opened here: rendering the demo order offscreen to {folder}."
            )
        for path in take_shots(folder):
            click.echo(str(path))
        return
    sys.exit(run(DEMO_ORDER))


@main.command("shots")
@click.argument("folder", type=click.Path(path_type=Path), default=Path("docs/screenshots"))
def shots_command(folder: Path) -> None:
    """Render every main view of the demo order to FOLDER."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from vivid_loom.desktop.shots import take_shots

    for path in take_shots(folder):
        click.echo(str(path))


if __name__ == "__main__":
    main()
