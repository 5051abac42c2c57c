"""The log beside an order: records that are only ever added, each sealed to the one before.

A line is one record of JSON, written as its hash was taken; ``before`` is the hash of the line
above. A seal (how many lines, and the last hash) stands in a file beside the log and, where a
folder is given for it, in a second one elsewhere, so that lines cut off at the end are missed.

What seals cannot tell: whether a reading was true, whose hand it was, whether the clock was right,
and whether somebody who may write both folders has written log and seals anew.
"""

import hashlib
import json
import os
from collections.abc import Callable, Iterator, Mapping
from datetime import datetime
from pathlib import Path
from typing import Any, Final, NamedTuple

from filelock import FileLock, Timeout

from vivid_loom.quantities.atomic import write_atomically

__all__ = [
    "BY_HAND",
    "STAND_IN",
    "Entry",
    "LogError",
    "Logbook",
    "Trouble",
    "is_practised",
    "log_path",
]

FIRST: Final = "0" * 64
SECONDS: Final = 10.0
SUFFIX: Final = ".log.jsonl"
BY_HAND: Final = "by hand"
STAND_IN: Final = "stand-in:"
"""Before the name of every instrument that only practises."""
_NAMED_SO: Final = (STAND_IN, "bench tester stand-in,")  # the second until December 2026


def is_practised(instrument: str) -> bool:
    """Tell whether what an instrument has read proves nothing: it is one to practise with."""
    return any(name in instrument for name in _NAMED_SO)


class LogError(OSError):
    """The log cannot be written; nothing was."""


class Entry(NamedTuple):
    """One record.

    Attributes:
        number: from 1.
        time: by this machine's clock, ISO 8601 with its offset.
        who: initials.
        revision: digest of the sheets that it was done by.
        before, hash: of the record above and of this one.
        hull, order: the boat, and the order's file; '' of records written before they said so.
        instrument: what it was read with, as it names itself.
    """

    number: int
    time: str
    who: str
    kind: str
    revision: str
    what: Mapping[str, Any]
    before: str
    hash: str
    hull: str = ""
    order: str = ""
    instrument: str = ""


class Trouble(NamedTuple):
    """Something that is not as it was written: ``line`` counts from 1, 0 for the log as a whole.

    ``grave``: False for what is only worth knowing, a clock that was set back.
    """

    line: int
    problem: str
    grave: bool = True


def log_path(order: Path) -> Path:
    """Return where an order's log stands: beside it."""
    return order.with_name(order.name.removesuffix(".json").removesuffix(".loom") + SUFFIX)


def _sealed(record: Mapping[str, Any]) -> bytes:
    """Return a record as it is written; half a character as JSON writes it."""
    text = json.dumps(record, ensure_ascii=False, sort_keys=True, separators=(",", ":"))
    return text.encode("utf-8", "backslashreplace")


def _hash(record: Mapping[str, Any]) -> str:
    return hashlib.sha256(_sealed(record)).hexdigest()


def _read_line(raw: bytes) -> Entry | str:
    """Return a line's record, or what is wrong with it."""
    try:
        record = json.loads(raw)
        entry = Entry(**record)
        as_written = _sealed(record) == raw
    except (ValueError, TypeError, RecursionError):
        return "cannot be read as a record"
    if not as_written:
        return "is not written as a record is"
    texts = [entry.time, entry.who, entry.kind, entry.revision, entry.before, entry.hash]
    texts += [entry.hull, entry.order, entry.instrument]
    if type(entry.number) is not int or not all(isinstance(text, str) for text in texts):
        return "cannot be read as a record"
    unsealed = {key: value for key, value in record.items() if key != "hash"}
    if not isinstance(entry.what, dict) or _hash(unsealed) != entry.hash:
        return "was changed after it was written"
    return entry


class Logbook:
    """An order's log.

    Attributes:
        is_practice: whether it is one to practise with.
        entries: the records that can be read, in order.
        troubles: what does not fit; () where the log is whole.
    """

    def __init__(
        self, order: Path, seals: Path | None = None, *, is_practice: bool = False
    ) -> None:
        """Read the log; one that is not there yet is empty.

        Args:
            seals: a folder elsewhere that keeps a second seal.
            is_practice: it proves nothing, and takes what a stand-in has read.

        Raises:
            LogError: it cannot be read.
        """
        self.path, self._order = log_path(order), order.name
        self.is_practice = is_practice
        self._seal = self.path.with_name(f".{self.path.name}.seal")
        name = hashlib.sha256(str(self.path.resolve()).encode()).hexdigest()[:16]
        self._second = None if seals is None else seals / f"{self.path.name}.{name}.seal"
        self._known = b""  # what was read before and found whole
        self.entries: tuple[Entry, ...] = ()
        self.troubles: tuple[Trouble, ...] = ()
        self.read()

    def read(self) -> None:
        """Read the log anew.

        Raises:
            LogError: it cannot be read.
        """
        try:
            data = self.path.read_bytes() if self.path.exists() else b""
        except OSError as error:
            raise LogError(f"{self.path}: cannot be read: {error.strerror}") from error
        if self.troubles or not data.startswith(self._known):
            self._known, self.entries = b"", ()
        found = [*self.entries]
        self.troubles = tuple(self._verified(data, found))
        self.entries = tuple(found)
        self._known = b"" if self.troubles else data

    @property
    def is_whole(self) -> bool:
        """Whether everything is as it was written."""
        return not any(trouble.grave for trouble in self.troubles)

    @property
    def head(self) -> str:
        """The last record's hash: whoever has it can tell whether anything was changed since."""
        return self.entries[-1].hash if self.entries else FIRST

    def _verified(self, data: bytes, found: list[Entry]) -> Iterator[Trouble]:
        """Add the records after those known to be whole, and yield what is wrong with them."""
        *lines, rest = data[len(self._known) :].split(b"\n")
        number = start = len(found)
        before, clock = (found[-1].hash, found[-1].time) if found else (FIRST, "")
        for at, raw in enumerate(lines, start + 1):
            entry = _read_line(raw)
            if isinstance(entry, str):
                yield Trouble(at, entry)
                number, before = number + 1, ""
                continue
            if entry.number != number + 1:
                yield Trouble(at, f"is record {entry.number}, expected {number + 1}")
            elif before and entry.before != before:
                yield Trouble(at, "does not follow from the record above")
            if clock and _moment(entry.time) < _moment(clock):
                yield Trouble(at, f"says {entry.time}, earlier than {clock} above", grave=False)
            clock = entry.time
            number, before = entry.number, entry.hash
            found.append(entry)
        if rest:
            yield Trouble(start + len(lines) + 1, "breaks off")
        yield from self._missing(found, start + len(lines))

    def _missing(self, found: list[Entry], lines: int) -> Iterator[Trouble]:
        """Yield what the seals know of and the log has not."""
        hashes = {entry.number: entry.hash for entry in found}
        for seal in (self._seal, self._second):
            if seal is None:
                continue
            count, last = _read_seal(seal)
            if count > lines:
                yield Trouble(lines + 1, f"is missing: {count} records were written")
                return
            if count and hashes.get(count, last) != last:
                yield Trouble(count, "is not the record that was sealed")
                return

    def append(
        self,
        kind: str,
        who: str,
        what: Mapping[str, Any],
        *,
        revision: str,
        hull: str = "",
        instrument: str = BY_HAND,
        now: Callable[[], datetime] = datetime.now,
    ) -> Entry:
        """Add a record; on return it is on disk.

        Another station that writes at the same time is waited for: records stand one after
        another, and each has the time at which it was its turn.

        Raises:
            LogError: it cannot be written, what is there is not whole, or a stand-in has read it.
        """
        if is_practised(instrument) and not self.is_practice:
            raise LogError(f"{self.path}: what a stand-in reads is practice and proves nothing")
        said = {"kind": kind, "who": who, "what": dict(what), "revision": revision}
        said |= {"hull": hull, "instrument": instrument}
        return self._in_turn(lambda: self._append(said, now))

    def begin_anew(
        self,
        who: str,
        reason: str,
        *,
        hull: str = "",
        now: Callable[[], datetime] = datetime.now,
    ) -> Entry:
        """Begin the log again where what is there is not as it was written, or is gone.

        What is there is kept under another name; the first record says why, and the last seal.

        Raises:
            LogError: the log is whole, or it cannot be written.
        """
        return self._in_turn(lambda: self._begin_anew(who, reason, hull, now))

    def _begin_anew(self, who: str, reason: str, hull: str, now: Callable[[], datetime]) -> Entry:
        self.read()
        self._heal()
        if self.is_whole:
            raise LogError(f"{self.path}: is whole, and goes on as it is")
        seals = [_read_seal(seal) for seal in (self._seal, self._second) if seal is not None]
        records, seal = max(seals, key=lambda known: known[0])
        kept = ""
        if self.path.exists():
            number = 1
            while (aside := self.path.with_suffix(f".broken-{number}.jsonl")).exists():
                number += 1
            self.path.rename(aside)
            kept = aside.name
        self._known, self.entries, self.troubles = b"", (), ()
        what = {"reason": reason, "records": records, "seal": seal, "kept": kept}
        said = {"kind": "begun", "who": who, "what": what, "revision": ""}
        return self._written(said | {"hull": hull, "instrument": BY_HAND}, now)

    def _in_turn(self, write: Callable[[], Entry]) -> Entry:
        """Write while no other station does.

        Raises:
            LogError: it cannot be written.
        """
        lock = FileLock(self.path.with_name(f".{self.path.name}.lock"))
        try:
            with lock.acquire(timeout=SECONDS):
                return write()
        except Timeout as error:
            raise LogError(f"{self.path}: another station has been writing too long") from error
        except OSError as error:
            if isinstance(error, LogError):
                raise
            raise LogError(f"{self.path}: cannot be written: {error.strerror}") from error

    def carry_to(
        self, order: Path, seals: Path | None = None, *, hulls: tuple[str, str] = ("", "")
    ) -> None:
        """Let another order of the same boat go on with this log; one it has already stays.

        Args:
            hulls: what the boat is called here and there; where that differs a record says so.

        Raises:
            LogError: it cannot be written.
        """
        if not self.entries or log_path(order).exists():
            return
        here, there = hulls
        try:
            write_atomically(log_path(order), self.path.read_bytes())
            carried = Logbook(order, seals)
            carried._write_seals()
            if here != there:
                what = {"from": here, "to": there}
                carried.append("carried", "", what, revision="", hull=there)
        except OSError as error:
            told = getattr(error, "strerror", None) or str(error)
            raise LogError(f"{log_path(order)}: cannot be written: {told}") from error

    def _append(self, said: Mapping[str, Any], now: Callable[[], datetime]) -> Entry:
        self.read()
        self._heal()
        grave = next((t for t in self.troubles if t.grave), None)
        if grave is not None:
            raise LogError(
                f"{self.path}, line {grave.line} {grave.problem}: nothing is added to it"
            )
        return self._written(said, now)

    def _written(self, said: Mapping[str, Any], now: Callable[[], datetime]) -> Entry:
        record: dict[str, Any] = {
            **said,
            "number": len(self.entries) + 1,
            "time": now().astimezone().isoformat(timespec="milliseconds"),
            "order": self._order,
            "before": self.head,
        }
        record["hash"] = _hash(record)
        entry = Entry(**record)
        line = _sealed(record) + b"\n"
        with self.path.open("ab") as stream:
            stream.write(line)
            stream.flush()
            os.fsync(stream.fileno())
        self.entries = (*self.entries, entry)
        if not self.troubles:
            self._known += line
        self._write_seals()
        return entry

    def _heal(self) -> None:
        """Cut off a last line that never became whole: its writer stopped while writing it.

        Only what no seal knows of is cut: a record that was whole once is never lost.
        """
        torn = next((t for t in self.troubles if t.problem == "breaks off"), None)
        if torn is None or len(self.troubles) != 1 or torn.line != len(self.entries) + 1:
            return
        data = self.path.read_bytes()
        with self.path.open("r+b") as stream:
            stream.truncate(data.rfind(b"\n") + 1)
        self.read()

    def _write_seals(self) -> None:
        seal = f"{len(self.entries)} {self.head}\n".encode()
        write_atomically(self._seal, seal)
        if self._second is not None:
            self._second.parent.mkdir(parents=True, exist_ok=True)
            write_atomically(self._second, seal)


def _moment(text: str) -> datetime:
    try:
        return datetime.fromisoformat(text).astimezone()
    except (ValueError, OverflowError):
        return datetime.fromtimestamp(0).astimezone()


def _read_seal(path: Path) -> tuple[int, str]:
    try:
        count, last = path.read_text(encoding="utf-8").split()
        return int(count), last
    except (OSError, ValueError):
        return 0, ""
