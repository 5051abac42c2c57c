"""The log: nothing changed, cut off or lost goes unnoticed; kills, edits, two stations, clocks."""

import datetime
import hashlib
import json
import os
import random
import shutil
import signal
import threading
import time
from collections.abc import Callable
from pathlib import Path

import pytest

from vivid_loom.bench.logbook import Logbook, LogError, log_path


def at(when: datetime.datetime) -> Callable[[], datetime.datetime]:
    """A clock that stands."""
    return lambda: when


NOON = datetime.datetime(2026, 12, 1, 12, 0, tzinfo=datetime.UTC)


def written(folder: Path, count: int, seals: Path | None = None) -> Logbook:
    book = Logbook(folder / "hull-0417.loom.json", seals)
    for i in range(count):
        later = NOON + datetime.timedelta(minutes=i)
        book.append(
            "result",
            "IM",
            {"step": f"wire C{i:02}-P1", "read": i / 7},
            revision="r1",
            now=at(later),
        )
    return book


def test_it_stands_beside_the_order(tmp_path: Path) -> None:
    assert log_path(Path("a/hull-0417.loom.json")) == Path("a/hull-0417.log.jsonl")
    book = written(tmp_path, 3)
    again = Logbook(tmp_path / "hull-0417.loom.json")
    assert again.entries == book.entries
    assert [e.number for e in again.entries] == [1, 2, 3]
    assert again.entries[1].before == again.entries[0].hash
    assert not again.troubles
    for line in again.path.read_text().splitlines():  # open: any program reads it
        assert json.loads(line)["who"] == "IM"


def test_an_empty_log_is_whole(tmp_path: Path) -> None:
    book = Logbook(tmp_path / "hull-1.loom.json")
    assert book.entries == () == book.troubles


def mangled(data: bytes, rng: random.Random) -> bytes:
    """Return a log changed by hand: a sign, a line gone, moved, doubled, cut, a whole number."""
    lines = data.splitlines(keepends=True)
    at = rng.randrange(len(lines))
    kind = rng.randrange(6)
    if kind == 0:
        spot = rng.randrange(len(data))
        return data[:spot] + bytes([data[spot] ^ (1 << rng.randrange(7))]) + data[spot + 1 :]
    if kind == 1:
        return b"".join(lines[:at] + lines[at + 1 :])
    if kind == 2:
        return b"".join([*lines[:at], lines[at], *lines[at:]])
    if kind == 3:
        return data[: rng.randrange(len(data))]
    if kind == 4:
        other = (at + 1 + rng.randrange(len(lines) - 1)) % len(lines)
        lines[at], lines[other] = lines[other], lines[at]
        return b"".join(lines)
    record = json.loads(lines[at])
    record["what"]["read"] = 0.5 + record["what"]["read"]
    lines[at] = (json.dumps(record, sort_keys=True, separators=(",", ":")) + "\n").encode()
    return b"".join(lines)


def first_difference(old: bytes, new: bytes) -> int:
    """Return the line, from 1, on which two logs part."""
    before, after = old.split(b"\n"), new.split(b"\n")
    pairs = zip(before, after, strict=False)
    return next((i for i, (a, b) in enumerate(pairs, 1) if a != b), min(len(before), len(after)))


def test_200_random_edits_are_each_found_and_located(tmp_path: Path) -> None:
    book = written(tmp_path, 12)
    whole = book.path.read_bytes()
    for seed in range(200):
        changed = mangled(whole, random.Random(seed))
        if changed == whole:
            continue
        book.path.write_bytes(changed)
        book.read()
        assert book.troubles, seed
        assert abs(book.troubles[0].line - first_difference(whole, changed)) <= 1, seed


def test_a_log_that_was_sealed_anew_is_told_by_the_second_seal(tmp_path: Path) -> None:
    book = written(tmp_path, 5, tmp_path / "seals")
    forged = tmp_path / "forged"
    forged.mkdir()
    other = written(forged, 5)  # whole in itself, but not what was written
    shutil.copy(other.path, book.path)
    for seal in forged.glob(".*.seal"):
        shutil.copy(seal, tmp_path / seal.name)
    other_read = Logbook(tmp_path / "hull-0417.loom.json")
    assert not other_read.troubles  # times are the same here, so is every hash
    changed = [*other.path.read_bytes().splitlines(keepends=True)[:4]]
    book.path.write_bytes(b"".join(changed))
    (seal,) = tmp_path.glob(".*.seal")
    seal.write_text(f"4 {json.loads(changed[3])['hash']}\n")
    assert not Logbook(tmp_path / "hull-0417.loom.json").troubles
    told = Logbook(tmp_path / "hull-0417.loom.json", tmp_path / "seals").troubles
    assert [t.problem for t in told] == ["is missing: 5 records were written"]


@pytest.mark.parametrize(
    "otherwise", [{"time": "2026-12-01T12:00:00"}, {"time": 7}, {"number": "1"}, {"what": []}]
)
def test_a_record_that_is_none_is_told_however_it_is_sealed(
    tmp_path: Path, otherwise: dict[str, object]
) -> None:
    book = written(tmp_path, 1)
    record = {**json.loads(book.path.read_text()), **otherwise}
    unsealed = {k: v for k, v in record.items() if k != "hash"}
    shape = {"sort_keys": True, "separators": (",", ":"), "ensure_ascii": False}
    seal = hashlib.sha256(json.dumps(unsealed, **shape).encode()).hexdigest()  # type: ignore[arg-type]
    line = json.dumps({**unsealed, "hash": seal}, **shape)  # type: ignore[arg-type]
    book.path.write_text(line + "\n" + line + "\n")
    assert Logbook(tmp_path / "hull-0417.loom.json").troubles


def test_nothing_is_added_to_a_log_that_is_not_whole(tmp_path: Path) -> None:
    book = written(tmp_path, 4)
    data = book.path.read_bytes()
    book.path.write_bytes(data.replace(b'"who":"IM"', b'"who":"XX"', 1))
    with pytest.raises(LogError, match="line 1 was changed"):
        book.append("result", "IM", {}, revision="", now=at(NOON))
    assert book.path.read_bytes().count(b"\n") == 4


def test_a_line_that_never_became_whole_gives_way(tmp_path: Path) -> None:
    book = written(tmp_path, 3)
    with book.path.open("ab") as stream:
        stream.write(b'{"before":"12')
    assert Logbook(tmp_path / "hull-0417.loom.json").troubles[0].problem == "breaks off"
    book.append("result", "IM", {"step": "next"}, revision="", now=at(NOON + datetime.timedelta(1)))
    again = Logbook(tmp_path / "hull-0417.loom.json")
    assert [e.number for e in again.entries] == [1, 2, 3, 4]
    assert not again.troubles


def test_a_whole_record_that_lost_its_end_is_not_thrown_away(tmp_path: Path) -> None:
    book = written(tmp_path, 3)
    book.path.write_bytes(book.path.read_bytes()[:-9])
    with pytest.raises(LogError, match="line 3"):
        book.append("result", "IM", {}, revision="", now=at(NOON))


def test_a_clock_that_was_set_back_is_told_and_no_more(tmp_path: Path) -> None:
    book = written(tmp_path, 2)
    book.append("result", "IM", {}, revision="", now=at(NOON - datetime.timedelta(days=3)))
    (trouble,) = Logbook(tmp_path / "hull-0417.loom.json").troubles
    assert (trouble.line, trouble.grave) == (3, False)
    assert "earlier than" in trouble.problem
    book.append("result", "IM", {}, revision="", now=at(NOON))


def test_two_stations_write_one_after_another(tmp_path: Path) -> None:
    def station(who: str) -> None:
        book = Logbook(tmp_path / "hull-0417.loom.json")
        for i in range(15):
            book.append("result", who, {"turn": i}, revision="", now=at(NOON))

    threads = [threading.Thread(target=station, args=(who,)) for who in ("IM", "TW", "NK")]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    book = Logbook(tmp_path / "hull-0417.loom.json")
    assert not book.troubles
    assert len(book.entries) == 45
    for who in ("IM", "TW", "NK"):
        assert [e.what["turn"] for e in book.entries if e.who == who] == list(range(15))


def write_for_ever(path: Path, told: int) -> None:
    book = Logbook(path)
    while True:
        entry = book.append("result", "IM", {"x": "y" * 300}, revision="", now=at(NOON))
        os.write(told, f"{entry.number}\n".encode())


def test_kills_lose_and_invent_nothing(tmp_path: Path) -> None:
    """200 kills of a writing process: what was told is there, and the chain is whole."""
    known, kept = 0, 0
    for seed in range(200):
        if seed % 50 == 0:
            path, known = tmp_path / f"hull-{seed}.loom.json", 0
        read_end, write_end = os.pipe()
        child = os.fork()
        if child == 0:
            os.close(read_end)
            try:
                write_for_ever(path, write_end)
            finally:
                os._exit(1)
        os.close(write_end)
        heard = os.read(read_end, 64)  # it is writing
        time.sleep(random.Random(seed).uniform(0.0, 0.006))
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        while chunk := os.read(read_end, 65536):
            heard += chunk
        os.close(read_end)
        told = [int(n) for n in heard.split()]
        book = Logbook(path)
        assert [t for t in book.troubles if t.problem != "breaks off"] == []
        last = max(told, default=known)
        assert last <= len(book.entries) <= last + 1
        kept += len(book.entries) - known
        known = len(book.entries)
    assert kept >= 200


def test_what_cannot_be_written_is_said(tmp_path: Path) -> None:
    (tmp_path / "hull-0417.log.jsonl").mkdir()
    with pytest.raises(LogError, match="cannot be read"):
        Logbook(tmp_path / "hull-0417.loom.json")
