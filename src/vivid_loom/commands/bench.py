"""The bench from the command line: its stand-in, ringing out, the log, the boat's papers."""

from collections.abc import Sequence
from pathlib import Path

import click

from vivid_loom.bench.devices.simulated import Flaw, FlawError, parse_flaw
from vivid_loom.bench.devices.tester import BenchTester, BenchTesterError
from vivid_loom.bench.devices.tester_stand_in import StandInTester
from vivid_loom.bench.logbook import BY_HAND, Logbook, LogError
from vivid_loom.bench.proven import Proofs, missing_for, reached
from vivid_loom.bench.reading import read_step
from vivid_loom.bench.record import Record, result_words
from vivid_loom.bench.ringing.plan import RingPlan, Step, ring_plans
from vivid_loom.bench.ringing.results import Ringing
from vivid_loom.boat import read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.commands.trouble import bad_input_said
from vivid_loom.demo import find_boat
from vivid_loom.drafting import Draft, draft
from vivid_loom.opening import open_draft, open_log, practice_log
from vivid_loom.order import read_order, read_survey, take_survey, write_order
from vivid_loom.power.fault import Fault, FaultError, read_fault
from vivid_loom.proving import proofs_of
from vivid_loom.quantities import kept_kind
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.quantities.document import DocumentError
from vivid_loom.sheets.lists.proof_lists import log_json, log_table
from vivid_loom.sheets.packet import sheets_digest
from vivid_loom.sheets.pages.hand_over import hand_over_files, log_pages
from vivid_loom.sheets.paper.csv_file import csv_bytes
from vivid_loom.sheets.paper.pdf import pdf_bytes
from vivid_loom.sheets.words.bench_words import cause_words, read_words, ring_words

__all__ = [
    "begin_log",
    "export_log",
    "ring_out",
    "run_tester",
    "say_proven",
    "take_in",
    "verify_log",
    "write_papers",
]


def run_tester(
    order: Path, told: Sequence[str], aboard: Sequence[str], port: int, celsius: float
) -> None:
    """Stand in for a bench tester until it is stopped."""
    with bad_input_said():
        draft = open_draft(order)
        try:
            flaws: list[Flaw] = [parse_flaw(text) for text in told]
            faults: list[Fault] = [read_fault(text) for text in aboard]
            tester = StandInTester(
                draft, flaws, faults, port=port, copper_c=celsius, told=click.echo
            )
        except (FlawError, FaultError) as error:
            raise DocumentError("--fault", "", str(error)) from error
        except OSError as error:
            raise DocumentError("--port", "", f"{port}: {error.strerror}") from error
    click.echo(f"tester at 127.0.0.1:{tester.port}, {len(flaws) + len(faults)} faults")
    try:
        tester.serve()
    except KeyboardInterrupt:
        click.echo("switched off")


def _log(order: Path, *, practises: bool = False) -> Logbook:
    try:
        return practice_log(order) if practises else open_log(order)
    except LogError as error:
        raise DocumentError(order, "log", str(error)) from error


def _connected(address: str, celsius: float) -> BenchTester:
    host, _, port = address.rpartition(":")
    if not host or not port.isdigit() or not 0 < int(port) < 65536:
        told = f"found {address!r}, expected a host and a port, e.g. 127.0.0.1:5025"
        raise DocumentError("--tester", "", told)
    try:
        return BenchTester(host, int(port), copper_c=celsius)
    except BenchTesterError as error:
        raise DocumentError("--tester", "", str(error)) from error


def _answer(tester: BenchTester, draft: Draft, plan: RingPlan, step: Step) -> float:
    """Return what a step shows: read by the tester, or asked of whoever sits there."""
    words = ring_words(draft, plan, step)
    if step.is_read:
        if not tester.is_stand_in:  # a hand holds the probes: it is waited for
            told = f"{words.title}: red on {words.red}, black on {words.black}, then Enter"
            click.prompt(told, default="", show_default=False)
        return read_step(tester, plan.specimen, step)
    tester.take(plan.specimen.id)
    if tester.is_stand_in:
        return float(tester.look(step.id))
    return float(click.confirm(f"{words.title} {words.red} {words.black}: {words.asks}"))


def ring_out(order: Path, address: str, who: str, harness: str, celsius: float) -> int:
    """Ring an order's harnesses out and log every step; return 1 where one has failed."""
    with bad_input_said():
        draft = open_draft(order)
        tester = _connected(address, celsius)
        log = _log(order, practises=tester.is_practice)
        if tester.is_practice:
            click.echo(f"{tester.where} is a stand-in: this is practice and proves nothing")
        elif stop := draft.aboard.order.stop:
            tester.close()
            raise DocumentError(order, "stop", f"the order is {stop.kind}: {stop.why}")
        digest = sheets_digest(draft)
        every = ring_plans(draft, tester.sitting.copper_c)
        plans = [plan for plan in every if harness in ("", plan.specimen.id)]
        if not plans:
            raise DocumentError("--harness", "", f"found {harness!r}, expected a harness")
        failed = 0
        try:
            for plan in plans:
                failed += _rung(draft, plan, log, tester, who, digest)
        except (BenchTesterError, LogError) as error:
            raise DocumentError("ring", "", f"{error}; what was read until then is kept") from error
        finally:
            tester.close()
    return 1 if failed else 0


def _rung(
    draft: Draft, plan: RingPlan, log: Logbook, tester: BenchTester, who: str, digest: str
) -> int:
    """Do every step that is left; return how many of the plan's have failed."""
    place, hull = plan.specimen.id, draft.aboard.order.hull
    sitting = tester.sitting.id
    while (ringing := Record.of(log, hull).ringing(plan, sitting)).left:
        step = ringing.left[0]
        if (first := ringing.waits_for(step)) is not None:
            raise DocumentError("ring", first.id, cause_words(draft, plan, ringing.causes[0])[0])
        result = ringing.judged(step, _answer(tester, draft, plan, step))
        words = result_words(place, step, result, plan.copper_c)
        by = tester.sitting.id if step.is_read or tester.is_stand_in else BY_HAND
        log.append("result", who, words, revision=digest, hull=hull, instrument=by)
        if not result.passed:
            click.echo(f"  {step.id}: {read_words(step, result)}")
    _say(draft, plan, ringing)
    return sum(step in plan.steps for step in ringing.failed)


def _say(draft: Draft, plan: RingPlan, ringing: Ringing) -> None:
    outcome = "passed" if ringing.proven else "FAILED"
    click.echo(f"{plan.specimen.title}: {len(plan.steps)} steps, {outcome}")
    for cause in ringing.causes:
        words, sheet = cause_words(draft, plan, cause)
        click.echo(f"  {words} See the {sheet}.")


def verify_log(order: Path, head: str) -> int:
    """Say whether a log is whole; return 1 where it is not."""
    with bad_input_said():
        log = _log(order)
        hull = read_order(order).hull
    for trouble in log.troubles:
        click.echo(f"line {trouble.line} {trouble.problem}")
    for number, problem in Record.of(log, hull).passed_over:
        click.echo(f"record {number} {problem}: it proves nothing here")
    if head and head not in {entry.hash for entry in log.entries}:
        click.echo(f"{head} is the seal of none of its records")
        return 1
    if not log.is_whole:
        click.echo(f"{log.path}: NOT as it was written")
        return 1
    click.echo(f"{log.path}: {len(log.entries)} records, whole; last seal {log.head}")
    return 0


def begin_log(order: Path, who: str, reason: str) -> None:
    """Begin a log that is not as it was written again, and say what is kept."""
    with bad_input_said():
        log, hull = _log(order), read_order(order).hull
        try:
            entry = log.begin_anew(who, reason, hull=hull)
        except LogError as error:
            raise DocumentError(log.path, "", str(error).removeprefix(f"{log.path}: ")) from error
    kept = entry.what["kept"]
    told = f"; what was there is kept as {kept}" if kept else ""
    click.echo(f"{log.path}: begun anew after {entry.what['records']} records{told}")


def export_log(order: Path, out: Path) -> None:
    """Write a log as CSV, JSON or PDF, by the file's ending."""
    with bad_input_said():
        if kind := kept_kind(out.name):
            told = f"found {out.name!r}, which is {kind}, expected a file of its own"
            raise DocumentError("--out", "", told)
        draft, log = open_draft(order), _log(order)
        if out.suffix == ".csv":
            data = csv_bytes(log_table(log.entries), {"hull": draft.aboard.order.hull})
        elif out.suffix == ".json":
            data = log_json(log.entries)
        elif out.suffix == ".pdf":
            data = pdf_bytes(log_pages(draft, log.entries), f"Log {order.name}")
        else:
            raise DocumentError("--out", "", f"found {out.name!r}, expected .csv, .json or .pdf")
        _write(out, data)
    click.echo(f"{len(log.entries)} records in {out}")


def _write(path: Path, data: bytes) -> None:
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        write_atomically(path, data)
    except OSError as error:
        raise DocumentError(path, "", f"cannot be written: {error.strerror}") from error


def take_in(order: Path, survey: Path, out: Path) -> None:
    """Write an order that starts from a survey, and say what its draft makes of it."""
    with bad_input_said():
        before = open_draft(order)
        edit = take_survey(read_survey(survey), before.aboard.order.hull)
        if out.exists():
            raise DocumentError(out, "", "found a file of this name, expected none")
        made = edit[1](before.aboard.order)
        found = draft(made, read_boat(find_boat(order, made.boat)), shipped_catalogue()).reuse
        try:
            write_order(out, made)
        except OSError as error:
            raise DocumentError(out, "", f"cannot be written: {error.strerror}") from error
    told = f"{len(found.kept)} stay, {len(found.moved)} move, {len(found.comes_off)} come off"
    click.echo(f"{out}: {told}, {len(found.unknown)} are unknown")


def _proofs(order: Path) -> tuple[Proofs, Logbook]:
    log = _log(order)
    return proofs_of(open_draft(order), log), log


def write_papers(order: Path, out: Path) -> int:
    """Write the papers of a boat; return 1 where not everything is proven."""
    with bad_input_said():
        proofs, log = _proofs(order)
        for name, data in hand_over_files(proofs, log.head):
            _write(out / name, data)
            click.echo(out / name)
    return _said_missing(proofs)


def say_proven(order: Path) -> int:
    """Say how far an order has come, and what is missing; return 1 unless it is handed over."""
    with bad_input_said():
        proofs, _ = _proofs(order)
    for number, problem in proofs.record.passed_over:
        click.echo(f"record {number} {problem}: it proves nothing here")
    click.echo(f"proven: {reached(proofs).replace('_', ' ')}")
    return _said_missing(proofs)


def _said_missing(proofs: Proofs) -> int:
    missing = tuple(missing_for("handed_over", proofs))
    for text in missing:
        click.echo(f"  {text}")
    return 1 if missing else 0
