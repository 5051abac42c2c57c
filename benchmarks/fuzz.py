"""Mutated files of every format: whatever stands in one, the answer is a result or one clear line.

    ./vivid-loom fuzz --files 100000 --seed 1

Half of the files are broken as text, half as structure. Each is given to the command or reader
that takes its format; a traceback, an undocumented exit code, an error of several lines or more
than ten seconds is a failure, and the file that caused it is kept.
"""

import argparse
import copy
import csv
import io
import json
import multiprocessing
import os
import random
import signal
import sys
import tempfile
import time
import traceback
import zipfile
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, NamedTuple

import click
from click.testing import CliRunner

from vivid_loom.bench.devices.label_printer import told_by
from vivid_loom.bench.logbook import Logbook
from vivid_loom.bench.record import Record
from vivid_loom.boat import parts_kept, read_boat, read_survey
from vivid_loom.boat.generic_loads import read_generic_loads
from vivid_loom.catalogue import read_catalogue
from vivid_loom.cli import main as command
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.order import read_order, read_spools
from vivid_loom.order import read_survey as read_wires
from vivid_loom.order.journal import Journal
from vivid_loom.order.load_list import guess_mapping, understand
from vivid_loom.quantities.document import DocumentError
from vivid_loom.quantities.grid import GridError, grid_of_file, grid_of_text

SOURCE = Path(__file__).parent.parent / "src" / "vivid_loom"
HANG_S = 30  # of its own time; the scan of the order with mistakes takes a third of it
STUCK_S = 900  # by the clock, for what waits and works not: beside other work all goes slower
TOLD = 5000  # files after which it says how far it is
NUMBERS = (0, -1, 1, 0.0, -0.5, 1e-320, 1e308, 1e999, 10**18, 10**400, "@huge@")
TEXTS = (
    *("", " ", "x", "NaN", "=1+1", "\r=1+1", "a\nb", "\x00", "\ud800", "\u202e", "ü" * 300),
    *("A" * 10_000, "<b>&amp;", "'; --", "../../etc", "/", ".", "con", "F01", "X1", "SW1", "BAT"),
    *("HFB", "helm", "0 AWG", "40 AWG", "9/0 AWG", "1e9 mm²", "0 mm²", "16 SAE", "BN/ZZ", "YE/"),
    *("0", "-3", "1e400", "2026-02-30", "0001-01-01", "9999-12-31", "breaker", "unswitched"),
    *("iso", "mm2"),
)
SHAPES = (None, True, False, [], {}, [[]], ["a", "a"], [None], {"id": 3}, [1, 2, 3])
HOSTILE = (*NUMBERS, *TEXTS, *SHAPES)
SPLINTERS = (b"[" * 100_000, b"9" * 5000, b"\r", b"\x00", b'"', b"}", b"e99")


class Seed(NamedTuple):
    """A whole file, and how it is tried: ``tried(folder, name)`` after it was written there."""

    name: str
    data: bytes
    tried: Callable[[Path, str], str]


class Unclear(Exception):
    """An answer that is neither a result nor one clear line."""


def _by_command(*words: str) -> str:
    done = CliRunner().invoke(command, list(words))
    if done.exception is not None and not isinstance(done.exception, SystemExit):
        raise done.exception
    if done.exit_code not in (0, 1, 2):
        raise Unclear(f"exit code {done.exit_code}")
    if done.exit_code == 2:
        lines = done.stderr.strip().splitlines()
        if len(lines) != 1 or not lines[0].startswith("vivid-loom: "):
            raise Unclear(f"error in {len(lines)} lines: {done.stderr[:300]!r}")
        return "refused"
    return "taken"


def _proven(folder: Path, name: str, order: str) -> str:
    """Draft an order and prove it; for one file in eight every wire is broken too."""
    size = (folder / name).stat().st_size
    return _by_command("sneak" if size % 8 else "check", str(folder / order))


def _order(folder: Path, name: str) -> str:
    return _proven(folder, name, name)


def _packet(folder: Path, name: str) -> str:
    parts = "schedule,cutlist,labels,materials,draft"  # findings are tried by check: they prove
    words = ("draft", str(folder / name), "--out", str(folder / "out"), "--only", parts)
    return _by_command(*words)


def _beside_order(folder: Path, name: str) -> str:
    """Try a boat or shop file through an order that stands beside it."""
    return _proven(folder, name, "seed.loom.json")


def _queue(folder: Path, name: str) -> str:
    done = CliRunner().invoke(command, ["queue", str(folder)])
    if done.exception is not None and not isinstance(done.exception, SystemExit):
        raise done.exception
    return "taken"


def _read(reader: Callable[[Path], object]) -> Callable[[Path, str], str]:
    def tried(folder: Path, name: str) -> str:
        try:
            reader(folder / name)
        except DocumentError as error:
            if len(str(error).splitlines()) != 1:
                raise Unclear(f"error of several lines: {error}") from error
            return "refused"
        return "taken"

    return tried


def _load_list(path: Path) -> None:
    rows = grid_of_file(path)
    boat = read_boat(DEMO_FOLDER / "qh-62.boat.json")
    account = understand(
        rows, guess_mapping(rows), boat.stations, boat.stations[0].id, 12.0, ("a", "b")
    )
    if len(account.lines) != len(rows):
        raise Unclear("a row went unmentioned")


def _survey(path: Path) -> None:
    read_survey(grid_of_file(path), read_boat(DEMO_FOLDER / "qh-62.boat.json"))


def _pasted(path: Path) -> None:
    try:
        rows = grid_of_text(path.read_bytes().decode("utf-8", "replace"))
    except GridError as error:
        raise DocumentError(path, error.place, error.problem) from error
    guess_mapping(rows)


def _printer(path: Path) -> None:
    try:
        told_by(path.read_bytes())
    except ValueError as error:
        raise DocumentError(path, "", "no answer of a printer") from error


def _log(folder: Path, name: str) -> str:
    """Try a log as it stands, and by every command that reads one."""
    order = folder / "hull-0611.loom.json"
    order.write_bytes((DEMO_FOLDER / order.name).read_bytes())
    for words in (
        ("log", "verify", str(order)),
        ("log", "export", str(order), "--out", str(folder / "log.csv")),
        ("log", "export", str(order), "--out", str(folder / "log.json")),
    ):
        outcome = _by_command(*words)
    record = Record(Logbook(order).entries, hull="0611")
    list(record.pulls)
    return outcome


def _odd_log(folder: Path, name: str) -> str:
    """Seal what a broken file says as records of every kind: a chain is whole, what it says odd."""
    order = folder / "hull-0611.loom.json"
    try:
        said = json.loads((folder / name).read_bytes())
    except (ValueError, RecursionError):
        return "refused"
    log = Logbook(order)
    for kind, what in said.items() if isinstance(said, dict) else ():
        if isinstance(what, dict):
            log.append(kind, "IM", what, revision="r", hull="0611")
    return _log(folder, name)


def _journal(path: Path) -> None:
    journal = Journal(path.parent / "seed.loom.json", path.parent)
    journal.path = path
    journal.read()


def _log_bytes() -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        log = Logbook(Path(folder) / "hull-0611.loom.json")
        for kind, what in RECORDS.items():
            log.append(kind, "IM", what, revision="r", hull="0611")
        return log.path.read_bytes()


RECORDS = {
    "result": {
        "place": "deck",
        "step": "wire C1-P1",
        "passed": True,
        "signature": "s",
        "read": 3.2,
        "unit": "mΩ",
        "low": 1.0,
        "high": 9.0,
        "copper_c": 20.0,
    },
    "rework": {"place": "deck", "wires": ["C1-P1"], "reason": "swapped"},
    "pull": {"group": "g", "number": 1, "newton": 130.0, "tool": "T1", "passed": True},
    "remade": {"ends": ["C1-P1/from"]},
    "deviation": {"number": 1, "verdict": "open", "what": "a joint"},
    "signed": {"state": "built"},
    "correction": {"withdraws": 1, "reason": "typed"},
    "begun": {"reason": "gone", "records": 3, "seal": "ab", "kept": ""},
    "carried": {"from": "0610", "to": "0611"},
}


def _sheet(*rows: tuple[str, ...]) -> bytes:
    stream = io.StringIO()
    csv.writer(stream).writerows(rows)
    return stream.getvalue().encode()


def _workbook() -> bytes:
    from openpyxl import Workbook

    book = Workbook()
    for row in LOADS:
        book.active.append(row)
    stream = io.BytesIO()
    book.save(stream)
    return stream.getvalue()


LOADS = (
    ("Load", "Amps", "Fuse", "Wire", "Where", "Source"),
    ("Bilge pump", "3,8", "5", "14 AWG", "bilge", "maker"),
    ("Searchlight", "60 W", "", "16", "helm", "estimate"),
    ("2 x flood", "=B2*2", "10 A", "2.5 mm²", "", ""),
)
SURVEY = (
    ("station", "x", "y", "z", "area"),
    ("aft", "0.2", "0", "0.4", "bilge"),
    ("run", "from", "to", "length", "harness"),
    ("R1", "aft", "helm", "3.2", "hull"),
)


FOUND = (
    ("wire_id", "circuit_id", "from", "to", "gauge", "colour", "length", "path", "state", "note"),
    ("W1", "C01", "helm", "deck", "14 AWG", "RD", "3.2 m", "H1;H2", "as drawn", "green"),
    ("W2", "", "helm", "", "?", "", "12 ft", "", "capped", ""),
)


def _journal_bytes() -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        journal = Journal(Path(folder) / "seed.loom.json", Path(folder))
        for edit in ("one", "two"):
            journal.append(edit, read_order(DEMO_FOLDER / "hull-0611.loom.json"), "base")
        return journal.path.read_bytes()


def seeds() -> tuple[Seed, ...]:
    """Return a whole file of every format, small orders more often than large ones."""
    orders = [DEMO_FOLDER / f"hull-{n}.loom.json" for n in ("0611", "0609", "0611", "1104", "0423")]
    found = [Seed(p.name, p.read_bytes(), _order) for p in orders]
    found.append(Seed("packet.loom.json", orders[0].read_bytes(), _packet))
    first = json.loads(orders[0].read_bytes()) | {"version": 1, "revision": 2}
    found.append(Seed("old.loom.json", json.dumps(first).encode(), _order))
    boats = [DEMO_FOLDER / name for name in ("qh-62.boat.json", "qh-110.boat.json")]
    found += [Seed(p.name, p.read_bytes(), _beside_order) for p in boats]
    found.append(Seed("shop.json", (DEMO_FOLDER / "shop.json").read_bytes(), _queue))
    shelf = SOURCE / "catalogue/data/generic.catalogue.json"
    found.append(Seed(shelf.name, shelf.read_bytes(), _read(read_catalogue)))
    generic = SOURCE / "boat/data/generic.loads.json"
    found.append(Seed(generic.name, generic.read_bytes(), _read(read_generic_loads)))
    found.append(Seed("loads.csv", _sheet(*LOADS), _read(_load_list)))
    found.append(Seed("loads.xlsx", _workbook(), _read(_load_list)))
    found.append(Seed("survey.csv", _sheet(*SURVEY), _read(_survey)))
    found.append(Seed("edits.journal", _journal_bytes(), _read(_journal)))
    found.append(Seed("pasted.txt", _sheet(*LOADS).replace(b",", b"\t"), _read(_pasted)))
    found.append(Seed("sheet.xml.xlsx", _workbook(), _read(_load_list)))
    found.append(Seed("found.csv", _sheet(*FOUND), _read(read_wires)))
    spools = DEMO_FOLDER / "spools.csv"
    found.append(Seed(spools.name, spools.read_bytes(), _read(read_spools)))
    parts = SOURCE / "boat/data/generic.parts.json"
    found.append(Seed("parts.json", parts.read_bytes(), _read(lambda p: parts_kept(p.parent))))
    found.append(Seed("hull-0611.log.jsonl", _log_bytes(), _log))
    found.append(Seed("records.json", json.dumps(RECORDS).encode(), _odd_log))
    answer = b'{"printed": 3, "of": 3, "state": "ready"}'
    found.append(Seed("printer.txt", answer, _read(_printer)))
    return tuple(found)


def _places(value: Any, at: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    if at:
        yield at
    if isinstance(value, dict | list):
        items = value.items() if isinstance(value, dict) else enumerate(value)
        for key, child in items:
            yield from _places(child, (*at, key))


def _broken_structure(data: bytes, dice: random.Random) -> bytes:
    whole = copy.deepcopy(json.loads(data))
    for _ in range(dice.choice((1, 1, 1, 2, 3))):
        places = list(_places(whole))
        if not places:
            break
        *way, last = dice.choice(places)
        inside = whole
        for key in way:
            inside = inside[key]
        deed = dice.random()
        if deed < 0.15:
            del inside[last]
        elif deed < 0.25 and isinstance(inside, list):
            inside.insert(dice.randrange(len(inside) + 1), copy.deepcopy(inside[last]))
        elif deed < 0.4:
            other = whole
            for key in dice.choice(places):
                if not isinstance(other, dict | list) or (
                    key not in other if isinstance(other, dict) else key >= len(other)
                ):
                    break
                other = other[key]
            inside[last] = copy.deepcopy(other)
        elif deed < 0.5 and isinstance(inside, dict):
            inside[dice.choice(("extra", "\n", "id ", "x" * 300))] = 1
        elif isinstance(inside[last], int | float) and deed < 0.7:
            factor = dice.choice((-1, 0, 1e-9, 1e6, 1e300, 3, 0.01))
            huge = abs(inside[last]) > 1e300  # a whole number may be more than a float holds
            inside[last] = inside[last] * (3 if huge else factor)
        else:
            inside[last] = copy.deepcopy(dice.choice(HOSTILE))
    return json.dumps(whole).replace('"@huge@"', "9" * 5000).encode()


def _broken_text(data: bytes, dice: random.Random) -> bytes:
    text = bytearray(data)
    for _ in range(dice.choice((1, 1, 2, 5))):
        at = dice.randrange(len(text) + 1)
        deed = dice.randrange(6)
        if deed == 0 and at < len(text):
            text[at] ^= 1 << dice.randrange(8)
        elif deed == 1:
            del text[at : at + dice.choice((1, 2, 30, 4000))]
        elif deed == 2:
            text[at:at] = bytes(dice.randrange(256) for _ in range(dice.choice((1, 3))))
        elif deed == 3:
            text[at:at] = text[at : at + dice.choice((1, 20, 400))]
        elif deed == 4:
            text[at:at] = dice.choice(
                (b"[" * 100_000, b"9" * 5000, b"\r", b"\x00", b'"', b"}", b"e99")
            )
        else:
            del text[at:]
    return bytes(text)


def _broken_workbook(data: bytes, dice: random.Random) -> bytes:
    """Break the text inside a workbook and pack it again: what only its reader sees."""
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as parts, zipfile.ZipFile(made, "w") as out:
        names = parts.namelist()
        hit = dice.choice([n for n in names if n.endswith(".xml")])
        for name in names:
            part = parts.read(name)
            if name == hit and dice.random() < 0.5:
                at = dice.choice((b"A1048576", b"XFD1", b"A0", b"ZZZZ9", b"A1:XFD1048576"))
                part = part.replace(b"A2", at, 1)
            elif name == hit:
                part = _broken_text(part, dice)
            out.writestr(name, part)
        if dice.random() < 0.05:
            out.writestr("xl/worksheets/sheet7.xml", b" " * 9_000_000)
    return made.getvalue()


def _alarm(signum: int, _: object) -> None:
    seconds = HANG_S if signum == signal.SIGPROF else STUCK_S
    raise Unclear(f"more than {seconds} s")


def _try(number: int, seed: int, shelf: tuple[Seed, ...], folder: Path) -> tuple[str, str, str]:
    """Return format, outcome and, where it failed, why."""
    dice = random.Random(f"{seed}:{number}")
    chosen = dice.choice(shelf)
    structured = chosen.name.endswith(".json") and dice.random() < 0.6
    broken = _broken_structure if structured else _broken_text
    data = (_broken_workbook if ".xml." in chosen.name else broken)(chosen.data, dice)
    (folder / chosen.name).write_bytes(data)
    if chosen.tried is _beside_order:
        order = json.loads((DEMO_FOLDER / "hull-0611.loom.json").read_bytes())
        if chosen.name.startswith("qh-110"):
            order = json.loads((DEMO_FOLDER / "hull-1104.loom.json").read_bytes())
        (folder / "seed.loom.json").write_text(json.dumps(order | {"boat": chosen.name}))
    signal.setitimer(signal.ITIMER_PROF, HANG_S)
    signal.alarm(STUCK_S)
    try:
        return chosen.name, chosen.tried(folder, chosen.name), ""
    except BaseException as error:
        kept = folder.parent / f"failed-{number}-{chosen.name}"
        kept.write_bytes(data)
        where = "".join(traceback.format_exception(error)[-2:])
        return chosen.name, "FAILED", f"file {number} ({kept}): {where}"
    finally:
        signal.setitimer(signal.ITIMER_PROF, 0)
        signal.alarm(0)
        for path in folder.glob("*.*"):
            path.unlink()


def _worker(turn: tuple[int, int, int, str]) -> list[tuple[str, str, str]]:
    first, last, seed, where = turn
    signal.signal(signal.SIGALRM, _alarm)
    signal.signal(signal.SIGPROF, _alarm)
    folder = Path(where) / f"work-{os.getpid()}"
    folder.mkdir(exist_ok=True)
    shelf = seeds()
    return [_try(number, seed, shelf, folder) for number in range(first, last)]


def run(files: int, seed: int, processes: int, first: int = 0) -> int:
    """Try so many files; print what came of them and return how many failed.

    Args:
        first: number of the first: a run that was stopped goes on where it said it was.
    """
    where = tempfile.mkdtemp(prefix="vivid-loom-fuzz-")
    step = 250
    last = first + files
    turns = [(n, min(n + step, last), seed, where) for n in range(first, last, step)]
    outcomes: Counter[tuple[str, str]] = Counter()
    failed = 0
    start = time.monotonic()
    with multiprocessing.Pool(processes) as pool:
        for (_, so_far, *_), done in zip(turns, pool.imap(_worker, turns), strict=True):
            for name, outcome, why in done:
                outcomes[name, outcome] += 1
                if why:
                    failed += 1
                    click.echo(why, err=True)
            if so_far % TOLD == 0:
                click.echo(f"up to {so_far}: {failed} failures")
    for (name, outcome), count in sorted(outcomes.items()):
        click.echo(f"{name:24} {outcome:8} {count:7}")
    click.echo(f"{files} files, {failed} failures, {time.monotonic() - start:.0f} s")
    return failed


def main() -> int:
    """Read the command line and run."""
    asked = argparse.ArgumentParser(prog="vivid-loom fuzz")
    asked.add_argument("--files", type=int, default=2000)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--processes", type=int, default=os.cpu_count() or 1)
    asked.add_argument("--first", type=int, default=0, help="number of the first file")
    told = asked.parse_args()
    return 1 if run(told.files, told.seed, told.processes, told.first) else 0


if __name__ == "__main__":
    sys.exit(main())
