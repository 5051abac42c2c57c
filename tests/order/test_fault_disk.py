"""A disk that is full, read-only, broken or slow: told, with nothing lost and nothing half-written.

Every call by which a file is written goes wrong once, at every place it is made.
"""

import dataclasses
import errno
import os
import tempfile
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest

from vivid_loom.bench.logbook import Logbook
from vivid_loom.order import (
    Order,
    OrderStore,
    Spool,
    booking,
    read_order,
    read_spools,
    spools_text,
    write_order,
)
from vivid_loom.quantities.atomic import clear_leftovers, write_atomically

ORDER = Order(hull="0500", title="Test", boat="qh-86.boat.json", station_date="2026-12-07")
SAID = {"place": "deck", "step": "wire C1-P1", "passed": True, "signature": "s"}
SHELF = (Spool(id="A", wire="14 AWG", colour="RD", length_m=100.0),)
CALLS = ("mkstemp", "write", "fsync", "chmod", "replace", "open", "unlink")
FAULTS = (errno.ENOSPC, errno.EROFS, errno.EIO, errno.EDQUOT)


class Disk:
    """Fails the n-th call of a kind, or counts them where n is −1."""

    def __init__(self, kind: str, at: int, number: int) -> None:
        self.kind, self.at, self.number, self.count = kind, at, number, 0

    def passes(self, kind: str) -> None:
        if kind == self.kind:
            self.count += 1
            if self.count == self.at:
                raise OSError(self.number, os.strerror(self.number))


class Slow:
    """A stream that writes half before it fails."""

    def __init__(self, stream: Any, disk: Disk) -> None:
        self._stream, self._disk = stream, disk

    def write(self, data: bytes) -> int:
        try:
            self._disk.passes("write")
        except OSError:
            self._stream.write(data[: len(data) // 2])
            self._stream.flush()
            raise
        return int(self._stream.write(data))

    def __getattr__(self, name: str) -> Any:
        return getattr(self._stream, name)

    def __enter__(self) -> "Slow":
        self._stream.__enter__()
        return self

    def __exit__(self, *given: Any) -> Any:
        return self._stream.__exit__(*given)


@contextmanager
def failing(disk: Disk) -> Iterator[None]:
    """Put a disk under everything that writes."""
    with pytest.MonkeyPatch.context() as patch:

        def gate(kind: str, real: Callable[..., Any]) -> Callable[..., Any]:
            def gated(*given: Any, **more: Any) -> Any:
                disk.passes(kind)
                return real(*given, **more)

            return gated

        def opened(self: Path, mode: str = "r", *more: Any, **named: Any) -> Any:
            if set(mode) & set("wa+"):
                disk.passes("open")
                return Slow(real_open(self, mode, *more, **named), disk)
            return real_open(self, mode, *more, **named)

        real_open, real_fdopen = Path.open, os.fdopen
        patch.setattr(tempfile, "mkstemp", gate("mkstemp", tempfile.mkstemp))
        patch.setattr(os, "fsync", gate("fsync", os.fsync))
        patch.setattr(Path, "chmod", gate("chmod", Path.chmod))
        patch.setattr(Path, "replace", gate("replace", Path.replace))
        patch.setattr(Path, "unlink", gate("unlink", Path.unlink))
        patch.setattr(Path, "open", opened)
        patch.setattr(os, "fdopen", lambda *a, **k: Slow(real_fdopen(*a, **k), disk), raising=True)
        yield


def _save(folder: Path) -> None:
    store = OrderStore(folder / "a.loom.json", folder / "state")
    try:
        store.commit("one", dataclasses.replace(ORDER, notes="new"))
        store.save(dataclasses.replace(ORDER, notes="new"))
    finally:
        store.close()


def _log(folder: Path) -> None:
    Logbook(folder / "a.loom.json", folder / "seals").append("result", "IM", SAID, revision="r")


def _book(folder: Path) -> None:
    with booking(folder) as shelf:
        shelf.book("cuts", "hull 1", (dataclasses.replace(SHELF[0], length_m=60.0),))


DEEDS = {"save": _save, "log": _log, "book": _book}


def prepared(folder: Path) -> Path:
    folder.mkdir()
    write_order(folder / "a.loom.json", ORDER)
    (folder / "spools.csv").write_text(spools_text(SHELF))
    _log(folder)
    return folder


def looked_at(folder: Path) -> None:
    """Everything is as it was or as it was to be, and whole; the next try goes through."""
    assert read_order(folder / "a.loom.json").notes in ("", "new")
    assert read_spools(folder / "spools.csv")[0].length_m in (100.0, 60.0)
    book = Logbook(folder / "a.loom.json", folder / "seals")
    assert {t.problem for t in book.troubles} <= {"breaks off"}
    assert len(book.entries) in (1, 2)
    _log(folder)
    assert Logbook(folder / "a.loom.json", folder / "seals").is_whole
    store = OrderStore(folder / "a.loom.json", folder / "state")
    if store.recovered is not None:
        assert store.recovered.order.notes == "new"
        store.forget_recovered()
    store.save(dataclasses.replace(ORDER, notes="again"))
    store.close()
    assert read_order(folder / "a.loom.json").notes == "again"
    left = [p.name for p in folder.iterdir() if p.name.startswith(".a.loom.json.")]
    assert set(left) <= {".a.loom.json.lock"}


@pytest.mark.parametrize("deed", DEEDS)
@pytest.mark.parametrize("kind", CALLS)
def test_whatever_call_fails_nothing_is_lost(deed: str, kind: str, tmp_path: Path) -> None:
    counting = Disk(kind, -1, 0)
    with failing(counting):
        DEEDS[deed](prepared(tmp_path / "count"))
    told = 0
    for at in range(1, counting.count + 1):
        for number in FAULTS:
            folder = prepared(tmp_path / f"{at}-{number}")
            with failing(Disk(kind, at, number)):
                try:
                    DEEDS[deed](folder)
                except OSError as error:
                    told += 1
                    assert str(error)
            looked_at(folder)
    if kind == "unlink":  # what is cleared away is never worth a word
        assert told == 0
    elif (deed, kind) != ("book", "open"):
        assert told


def test_a_folder_is_synced_after_the_file_is_in_place(tmp_path: Path) -> None:
    """A write that failed at the very end is told: nobody can know then what lies on the disk."""
    path = tmp_path / "a"
    counting = Disk("fsync", -1, 0)
    with failing(counting):
        write_atomically(path, b"one")
    with failing(Disk("fsync", counting.count, errno.EIO)), pytest.raises(OSError):
        write_atomically(path, b"two")
    assert path.read_bytes() in (b"one", b"two")


def test_a_leftover_is_told_from_a_file_that_is_being_written(tmp_path: Path) -> None:
    """What a killed writer left goes; what another one writes just now is never taken from it."""
    path, stop = tmp_path / "packet.csv", threading.Event()
    (tmp_path / ".packet.csv.a1b2c3d4").write_bytes(b"half")
    (tmp_path / ".packet.csv.lock").write_bytes(b"")

    def clear() -> None:
        while not stop.is_set():
            clear_leftovers(path)

    clearing = threading.Thread(target=clear)
    clearing.start()
    try:
        for number in range(400):
            write_atomically(path, f"{number}".encode())
            assert path.read_text() == f"{number}"
    finally:
        stop.set()
        clearing.join()
    assert {p.name for p in tmp_path.iterdir()} == {"packet.csv", ".packet.csv.lock"}
