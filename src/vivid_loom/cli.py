"""The command line: what people type and other programs call.

Only names and options stand here; what a command does is loaded when it runs.
"""

import gc
import os
import sys
from pathlib import Path
from typing import Literal

import click

from vivid_loom import __version__

__all__ = ["main"]

A_PATH = click.Path(path_type=Path)


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__)
def main() -> None:
    """Draft a boat's wiring from one customer order, and say why."""


@main.command("draft")
@click.argument("order", type=A_PATH)
@click.option("--out", required=True, type=A_PATH, help="folder to write to")
@click.option("--only", default="", help="comma-separated parts, e.g. schedule,cutlist,packet")
@click.option("--for-spreadsheets", is_flag=True, help="mark CSV files so that ² and → are read")
@click.option("--paper", default="A4", show_default=True, type=click.Choice(["A4", "A3"]))
def draft_command(
    order: Path, out: Path, only: str, for_spreadsheets: bool, paper: Literal["A4", "A3"]
) -> None:
    """Write the build packet of ORDER."""
    from vivid_loom.commands.drafts import write_packet
    from vivid_loom.sheets import Handed

    write_packet(order, out, only, Handed(for_spreadsheets, paper))


@main.command("board")
@click.argument("order", type=A_PATH)
@click.option("--out", required=True, type=A_PATH, help="folder to write to")
@click.option("--paper", default="A3", show_default=True, help="A4, A3, A2, or roll")
@click.option("--harness", default="", help="one of them; else each in a file of its own")
@click.option("--size", default="4.8x1.2", show_default=True, help="of the board, in m")
def board_command(order: Path, out: Path, paper: str, harness: str, size: str) -> None:
    """Write the form boards of ORDER at full size as PDF, in sheets or from a roll."""
    from vivid_loom.commands.boards import write_boards

    write_boards(order, out, paper, harness, size)


@main.command("cutplan")
@click.argument("orders", type=A_PATH, nargs=-1, required=True)
@click.option("--out", type=A_PATH, help="also write it as CSV")
@click.option("--commit", is_flag=True, help="book what is left into spools.csv")
def cutplan_command(orders: tuple[Path, ...], out: Path | None, commit: bool) -> None:
    """Say which wire of ORDERS to cut from which spool of spools.csv beside the first."""
    from vivid_loom.commands.cutting import plan_cuts

    plan_cuts(orders, out, commit=commit)


@main.command("labels")
@click.argument("order", type=A_PATH)
@click.option("--out", type=A_PATH, help="a PDF with a page a label")
@click.option("--printer", default="", help="HOST:PORT of a tape printer instead")
@click.option("--harness", default="", help="one harness only")
def labels_command(order: Path, out: Path | None, printer: str, harness: str) -> None:
    """Write or print every label of ORDER; exit 1 where the tape ran out."""
    from vivid_loom.commands.labels import write_labels

    sys.exit(write_labels(order, out, printer, harness))


@main.group("stand-in")
def stand_in() -> None:
    """Stand in for a device of the workshop."""


@stand_in.command("label-printer")
@click.option("--port", default=9101, show_default=True, help="to listen on, on this machine only")
@click.option("--out", default=Path("tape"), show_default=True, type=A_PATH, help="folder")
@click.option("--tape", type=click.IntRange(min=0), help="labels left; else it never ends")
def label_printer_command(port: int, out: Path, tape: int | None) -> None:
    """Take label jobs over the network and keep what came out."""
    from vivid_loom.commands.labels import run_label_printer

    run_label_printer(port, out, tape)


@stand_in.command("tester")
@click.argument("order", type=A_PATH)
@click.option("--fault", multiple=True, help="e.g. open:C17-P1, swap:C05-P1/to,C06-P1/to")
@click.option("--aboard", multiple=True, help="a fault aboard, as of 'power', e.g. open:C17-P1")
@click.option("--port", default=5025, show_default=True, help="to listen on, on this machine only")
@click.option("--celsius", default=20.0, show_default=True, help="of the copper")
def tester_command(
    order: Path, fault: tuple[str, ...], aboard: tuple[str, ...], port: int, celsius: float
) -> None:
    """Answer as a bench tester with the harnesses and the boat of ORDER on it."""
    from vivid_loom.commands.bench import run_tester

    run_tester(order, fault, aboard, port, celsius)


@main.command("ring")
@click.argument("order", type=A_PATH)
@click.option("--tester", required=True, help="HOST:PORT of a bench tester that speaks SCPI")
@click.option("--who", required=True, help="initials of the test hand")
@click.option("--harness", default="", help="one of them")
@click.option(
    "--celsius",
    type=click.FloatRange(0, 45),
    default=20.0,
    help="of the bench, where the tester does not measure it",
)
def ring_command(order: Path, tester: str, who: str, harness: str, celsius: float) -> None:
    """Ring the harnesses of ORDER out, step by step, into its log; exit 1 if one fails."""
    from vivid_loom.commands.bench import ring_out

    sys.exit(ring_out(order, tester, who, harness, celsius))


@main.group("log")
def log() -> None:
    """Look at an order's log."""


@log.command("verify")
@click.argument("order", type=A_PATH)
@click.option("--head", default="", help="a seal that was kept, e.g. from the boat's papers")
def verify_command(order: Path, head: str) -> None:
    """Say whether the log of ORDER is as it was written; exit 1 if it is not."""
    from vivid_loom.commands.bench import verify_log

    sys.exit(verify_log(order, head))


@log.command("begin")
@click.argument("order", type=A_PATH)
@click.option("--who", required=True, help="your initials")
@click.option("--why", required=True, help="what became of the log")
def begin_command(order: Path, who: str, why: str) -> None:
    """Begin the log of ORDER anew where it is not as it was written; what is there is kept."""
    from vivid_loom.commands.bench import begin_log

    begin_log(order, who, why)


@log.command("export")
@click.argument("order", type=A_PATH)
@click.option("--out", required=True, type=A_PATH, help="a file that ends in .csv, .json or .pdf")
def export_command(order: Path, out: Path) -> None:
    """Write the log of ORDER for other programs, or on paper."""
    from vivid_loom.commands.bench import export_log

    export_log(order, out)


@main.command("survey")
@click.argument("order", type=A_PATH)
@click.argument("survey", type=A_PATH)
@click.option("--out", required=True, type=A_PATH, help="the order that starts from what was found")
def survey_command(order: Path, survey: Path, out: Path) -> None:
    """Take what was found in a boat (CSV) into ORDER, and say what stays, comes off, is unknown."""
    from vivid_loom.commands.bench import take_in

    take_in(order, survey, out)


@main.command("proven")
@click.argument("order", type=A_PATH)
def proven_command(order: Path) -> None:
    """Say how far ORDER has come by what is proven, and what is missing; exit 1 if anything is."""
    from vivid_loom.commands.bench import say_proven

    sys.exit(say_proven(order))


@main.command("papers")
@click.argument("order", type=A_PATH)
@click.option("--out", required=True, type=A_PATH, help="folder to write to")
def papers_command(order: Path, out: Path) -> None:
    """Write the papers that go with the boat of ORDER; exit 1 if not everything is proven."""
    from vivid_loom.commands.bench import write_papers

    sys.exit(write_papers(order, out))


@main.command("check")
@click.argument("order", type=A_PATH)
def check_command(order: Path) -> None:
    """Print the findings of ORDER; exit 1 if any is an error."""
    from vivid_loom.commands.drafts import print_findings

    sys.exit(print_findings(order))


@main.command("diff")
@click.argument("first", type=A_PATH)
@click.argument("second", type=A_PATH)
def diff_command(first: Path, second: Path) -> None:
    """Say what differs between the schedules of two orders; exit 1 if anything does."""
    from vivid_loom.commands.drafts import print_differences

    sys.exit(print_differences(first, second))


@main.command("compare")
@click.argument("order", type=A_PATH)
@click.argument("profile")
def compare_command(order: Path, profile: str) -> None:
    """Draft ORDER under its own profile and under PROFILE, side by side."""
    from vivid_loom.commands.drafts import compare_profiles

    compare_profiles(order, profile)


@main.command("stock")
@click.argument("order", type=A_PATH)
def stock_command(order: Path) -> None:
    """List devices of ORDER that the shop has not in stock, and what may go in instead."""
    from vivid_loom.commands.drafts import list_stock

    sys.exit(list_stock(order))


@main.command("moves")
@click.argument("order", type=A_PATH)
@click.option("--circuit", default="", help="one circuit; else each for whose drop a feeder grows")
def moves_command(order: Path, circuit: str) -> None:
    """List where else circuits of ORDER may hang, and what copper that saves."""
    from vivid_loom.commands.drafts import list_moves

    list_moves(order, circuit)


@main.command("presses")
@click.argument("order", type=A_PATH)
@click.option("--press", "pressed", multiple=True, help="SWITCH=STATE, several together")
def presses_command(order: Path, pressed: tuple[str, ...]) -> None:
    """Print what each press of ORDER's switches makes live; exit 1 if any is not as meant."""
    from vivid_loom.commands.presses import print_presses

    sys.exit(print_presses(order, pressed))


@main.command("power")
@click.argument("order", type=A_PATH)
@click.option("--scenario", default="under way by night", help="whose states to begin from")
@click.option("--state", "states", multiple=True, help="SWITCH=STATE, several together")
@click.option("--fault", default="", help="e.g. short:N05-P1@0.3, open:N05-P1, stall:LOAD")
@click.option("--json", "as_json", is_flag=True, help="for scripts")
@click.option("--spice", type=A_PATH, help="also write the network as SPICE to a file")
def power_command(
    order: Path,
    scenario: str,
    states: tuple[str, ...],
    fault: str,
    as_json: bool,
    spice: Path | None,
) -> None:
    """Power up ORDER's boat: volts at every load, or what comes of a fault."""
    from vivid_loom.commands.power import print_power

    sys.exit(print_power(order, scenario, states, fault, as_json=as_json, spice=spice))


@main.command("scan")
@click.argument("order", type=A_PATH)
@click.option("--scenario", "scenarios", multiple=True, help="only this one; several may be named")
@click.option("--most", default=40, show_default=True, help="so many of the worst are printed")
@click.option("--json", "as_json", is_flag=True, help="all of them, for scripts")
def scan_command(order: Path, scenarios: tuple[str, ...], most: int, as_json: bool) -> None:
    """Break, short and corrode every wire and joint of ORDER, the worst first."""
    from vivid_loom.commands.power import print_scan

    sys.exit(print_scan(order, scenarios, most, as_json=as_json))


@main.command("sneak")
@click.argument("order", type=A_PATH)
@click.option("--json", "as_json", is_flag=True, help="for scripts")
def sneak_command(order: Path, as_json: bool) -> None:
    """Prove over all states of ORDER's levers that nothing runs unasked; exit 1 where it fails."""
    from vivid_loom.commands.power import print_sneak

    sys.exit(print_sneak(order, as_json=as_json))


@main.command("find")
@click.argument("order", type=A_PATH)
@click.option("--scenario", default="under way by night", help="what was switched on")
@click.option("--dark", multiple=True, help="a load that is dark")
@click.option("--dim", multiple=True, help="a load that is dim or slow")
@click.option("--runs", multiple=True, help="a load that runs as it should")
@click.option(
    "--read",
    "read",
    multiple=True,
    help="TERMINAL=VOLTS over minus, WIRE=3.1A by a clamp, TERMINAL=0.2ohm or =open, power off",
)
def find_command(
    order: Path,
    scenario: str,
    dark: tuple[str, ...],
    dim: tuple[str, ...],
    runs: tuple[str, ...],
    read: tuple[str, ...],
) -> None:
    """Rank the single faults of ORDER that explain what is seen and read, and say what to read."""
    from vivid_loom.commands.power import print_finder

    told = (("dark", dark), ("dim", dim), ("runs", runs))
    seen = [(name, how) for how, names in told for name in names]
    print_finder(order, scenario, seen, read)


@main.command("energy")
@click.argument("order", type=A_PATH)
@click.option("--starts", default=4.0, show_default=True, help="of each bilge pump, an hour")
@click.option("--seconds", default=20.0, show_default=True, help="that it runs each time")
@click.option("--json", "as_json", is_flag=True, help="for scripts")
def energy_command(order: Path, starts: float, seconds: float, as_json: bool) -> None:
    """Print ampere-hours and days of ORDER by scenario, and how long it may lie moored."""
    from vivid_loom.commands.power import print_energy

    print_energy(order, starts, seconds, as_json=as_json)


@main.command("rules")
def rules_command() -> None:
    """List every rule as Markdown: code, severity, what it is about, what to do, source."""
    from vivid_loom.commands.papers import print_rules

    print_rules()


@main.command("queue")
@click.argument("folder", type=click.Path(path_type=Path, exists=True, file_okay=False))
def queue_command(folder: Path) -> None:
    """List the orders in FOLDER by due date, with bench hours and findings."""
    from vivid_loom.commands.drafts import list_queue

    list_queue(folder)


@main.command("schemas")
@click.argument("folder", type=A_PATH, default=Path("docs/formats"))
def schemas_command(folder: Path) -> None:
    """Write the JSON Schemas of the file formats to FOLDER."""
    from vivid_loom.commands.papers import write_schemas

    write_schemas(folder)


def _rest_collector() -> None:
    """Let the cycle collector rest while modules are loaded; the window has a clock for it."""
    gc.disable()


def _no_window() -> bool:
    """Tell whether no window can be opened: no display, or the launcher found no way to it."""
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    return os.environ.get("QT_QPA_PLATFORM", "").startswith("offscreen")


@main.command("run")
@click.argument("order", required=False, type=A_PATH)
def run_command(order: Path | None) -> None:
    """Open the application, on ORDER if one is given."""
    if _no_window():
        told = "there is no display to open a window on; 'shots DIR' renders offscreen"
        click.echo(f"vivid-loom: {told}", err=True)
        sys.exit(3)
    _rest_collector()
    from vivid_loom.commands.window import open_application

    sys.exit(open_application(order))


@main.command("demo")
@click.option("--shots", type=A_PATH, help="render the screens to a folder")
def demo_command(shots: Path | None) -> None:
    """Open the application on the demo order."""
    no_window = _no_window()
    _rest_collector()
    from vivid_loom.commands.window import open_application, render_screens

    folder = shots or Path("out/shots")
    if no_window:
        click.echo(f"No window can be opened here: rendering the demo order offscreen to {folder}.")
    if shots or no_window:
        render_screens(folder)
        return
    sys.exit(open_application(None))


@main.command("shots")
@click.argument("folder", type=A_PATH, default=Path("docs/screenshots"))
def shots_command(folder: Path) -> None:
    """Render every main view of the demo order to FOLDER."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from vivid_loom.commands.window import render_screens

    render_screens(folder)


if __name__ == "__main__":
    main()
