"""Logs that say odd things, are of another boat, or are gone: told in a line, and never trusted."""

import datetime
import json
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner
from filelock import FileLock, Timeout

from vivid_loom.bench.logbook import FIRST, Logbook, LogError, log_path
from vivid_loom.bench.record import Record
from vivid_loom.cli import main
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.opening import carry_log
from vivid_loom.order import read_order, write_order

SOUND = {"place": "deck", "step": "wire C1-P1", "passed": True, "signature": "s"}
DEEP: Any = 1
for _ in range(400):
    DEEP = [DEEP]
ODD: dict[str, tuple[str, dict[str, Any]]] = {
    "no step": ("result", {k: v for k, v in SOUND.items() if k != "step"}),
    "a word for yes": ("result", {**SOUND, "passed": "yes"}),
    "no number": ("result", {**SOUND, "read": "much", "unit": "mΩ"}),
    "not a number": ("result", {**SOUND, "read": float("nan"), "unit": "mΩ"}),
    "beyond every number": ("result", {**SOUND, "read": 10**400, "unit": "mΩ"}),
    "no unit": ("result", {**SOUND, "read": 1.0}),
    "deep": ("result", {**SOUND, "step": DEEP}),
    "half a character": ("signed", {"state": "\udc80"}),
    "wires that are none": ("rework", {"place": "deck", "wires": "C1", "reason": "r"}),
    "a pull of nothing": ("pull", {"group": "g", "number": True, "newton": 1, "tool": "t"}),
    "withdraws a word": ("correction", {"withdraws": "one", "reason": "r"}),
    "unknown": ("of tomorrow", {"a": {"b": []}}),
}


@pytest.fixture
def path(tmp_path: Path) -> Path:
    made = tmp_path / "hull-0611.loom.json"
    write_order(made, read_order(DEMO_FOLDER / made.name))
    return made


def run(*words: str) -> tuple[int, str]:
    done = CliRunner().invoke(main, list(words))
    assert done.exception is None or isinstance(done.exception, SystemExit), done.exception
    return done.exit_code, done.output


@pytest.mark.parametrize("name", ODD)
def test_what_cannot_be_understood_is_one_line_everywhere(
    path: Path, tmp_path: Path, name: str
) -> None:
    kind, what = ODD[name]
    log = Logbook(path)
    log.append(kind, "IM", what, revision="r", hull="0611")
    log.append("result", "IM", SOUND, revision="r", hull="0611")
    assert [number for number, _ in Record(log.entries).passed_over] == [1]
    code, text = run("log", "verify", str(path))
    lines = text.splitlines()
    assert code == 0 and len(lines) == 2 and lines[0].startswith("record 1 ")
    assert "whole" in lines[1] and all(len(line) < 300 for line in lines)
    assert "record 1 " in run("proven", str(path))[1]
    for ending in ("csv", "json", "pdf"):
        out = tmp_path / f"log.{ending}"
        assert run("log", "export", str(path), "--out", str(out))[0] == 0
    assert len(json.loads((tmp_path / "log.json").read_bytes())) == 2


@pytest.mark.parametrize("when", ["0001-01-01T00:00:00", "9999-12-31T23:59:59.999-23:59", "noon"])
def test_a_time_that_no_clock_shows_is_told(path: Path, when: str) -> None:
    log = Logbook(path)

    class Odd(datetime.datetime):
        def astimezone(self, *_: Any) -> "Odd":
            return self

        def isoformat(self, *_: Any, **__: Any) -> str:
            return when

    log.append("result", "IM", SOUND, revision="r", now=lambda: Odd(2026, 1, 1))
    log.append("result", "IM", SOUND, revision="r")
    assert run("log", "verify", str(path))[0] in (0, 1)
    Logbook(path)


def test_a_line_of_lists_in_lists_without_end_is_no_record(path: Path) -> None:
    log_path(path).write_bytes(b"[" * 100_000 + b"\n" + b'"\\ud800"\n')
    log = Logbook(path)
    assert [t.problem for t in log.troubles] == ["cannot be read as a record"] * 2


def test_the_log_of_a_sister_hull_proves_nothing(path: Path, tmp_path: Path) -> None:
    log = Logbook(path)
    log.append("result", "IM", SOUND, revision="r", hull="0611", instrument="meter 7")
    assert (log.entries[0].hull, log.entries[0].order) == ("0611", path.name)
    assert log.entries[0].instrument == "meter 7"
    sister = Record(log.entries, hull="0612")
    assert sister.entries == () and "hull 0611" in sister.passed_over[0][1]
    assert len(Record(log.entries, hull="0611").entries) == 1
    changed, again = tmp_path / "changed.loom.json", tmp_path / "again.loom.json"
    carry_log(path, changed, ("0611", "0611-2"))
    carry_log(changed, again, ("0611-2", "0611-3"))
    carried = Logbook(again)
    assert carried.is_whole and [e.kind for e in carried.entries] == ["result", *["carried"] * 2]
    assert not Record(carried.entries, hull="0611-3").passed_over
    assert Record(carried.entries, hull="0700").entries == ()


def damaged(log: Logbook, how: str) -> None:
    data = log.path.read_bytes()
    if how == "deleted":
        log.path.unlink()
    elif how == "truncated":
        log.path.write_bytes(b"".join(data.splitlines(keepends=True)[:1]))
    else:
        log.path.write_bytes(data.replace(b"wire C1", b"wire C2"))


@pytest.mark.parametrize("how", ["deleted", "truncated", "changed"])
def test_a_log_that_is_not_whole_is_begun_anew(path: Path, how: str) -> None:
    log = Logbook(path)
    for _ in range(3):
        last = log.append("result", "IM", SOUND, revision="r")
    with pytest.raises(LogError, match="is whole"):
        log.begin_anew("TW", "for fun")
    damaged(log, how)
    with pytest.raises(LogError, match="nothing is added"):
        log.append("result", "IM", SOUND, revision="r")
    code, text = run("log", "begin", str(path), "--who", "TW", "--why", "the disk died")
    assert code == 0 and "begun anew after 3 records" in text
    again = Logbook(path)
    (begun,) = again.entries
    assert again.is_whole and begun.before == FIRST and begun.hull == "0611"
    assert (begun.what["records"], begun.what["seal"]) == (3, last.hash)
    assert begun.what["reason"] == "the disk died" and begun.who == "TW"
    kept = begun.what["kept"]
    assert bool(kept) == (how != "deleted") and (not kept or (path.parent / kept).exists())
    again.append("result", "IM", SOUND, revision="r")
    assert Logbook(path).is_whole and len(Logbook(path).entries) == 2


def test_a_log_is_exported_over_nothing_that_is_kept(path: Path) -> None:
    Logbook(path).append("result", "IM", SOUND, revision="r")
    before = path.read_bytes()
    for name in (path.name, "qh-62.boat.json", log_path(path).name):
        code, text = run("log", "export", str(path), "--out", str(path.parent / name))
        assert code == 2 and "expected a file of its own" in text
    assert path.read_bytes() == before and Logbook(path).is_whole


def test_a_record_has_the_time_of_its_turn(path: Path) -> None:
    """Taken while the log is held: two stations never stand in another order than their times."""
    held: list[bool] = []

    def now() -> datetime.datetime:
        lock = FileLock(log_path(path).with_name(f".{log_path(path).name}.lock"))
        try:
            lock.acquire(timeout=0)
        except Timeout:
            held.append(True)
        return datetime.datetime(2026, 12, 1)

    Logbook(path).append("result", "IM", SOUND, revision="r", now=now)
    assert held == [True]
