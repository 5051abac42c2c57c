"""The journal: every committed edit on disk at once, so that a crash loses none.

One file per window in the state folder. Each line is one record of the whole order after an edit,
with a checksum; a line that was cut short by a crash is passed over. Saving the order empties it.
A window holds its journal by a lock on it, which a crash gives back: what nobody holds was left
behind, and is claimed by the window that offers it.
"""

import fcntl
import glob
import hashlib
import json
import os
import tempfile
import uuid
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import IO, NamedTuple

from vivid_loom.order.files import order_text, parse_order
from vivid_loom.order.records import Order
from vivid_loom.quantities.document import DocumentError

__all__ = ["Journal", "Recovered", "digest_of", "left_behind"]

COMPACT_BYTES = 4_000_000  # our choice: below it a line per edit is cheap to keep


class Recovered(NamedTuple):
    """What a journal holds: the order after its last whole edit.

    Attributes:
        edit: name of that edit.
        edits: how many since the order was last saved.
        base: digest of the order's file when the edits began; '' where it was never saved.
    """

    order: Order
    edit: str
    edits: int
    base: str


def digest_of(text: str) -> str:
    """Return the digest that tells one state of a file from another."""
    return hashlib.sha256(text.encode()).hexdigest()


def _line(edit: str, base: str, body: str) -> bytes:
    sealed = json.dumps({"edit": edit, "base": base, "order": body}, ensure_ascii=False)
    return f"{digest_of(sealed)} {sealed}\n".encode()


def _unsealed(raw: bytes) -> dict[str, str] | None:
    """Return the record of a line; None where the line is torn."""
    try:
        digest, _, sealed = raw.decode().partition(" ")
    except UnicodeDecodeError:
        return None
    if not sealed or digest_of(sealed) != digest:
        return None
    record: dict[str, str] = json.loads(sealed)
    return record


def _mark(order_path: Path) -> str:
    """Return what the journals of one order have in their names; the order's own is cut short."""
    resolved = order_path.resolve()
    return f"{resolved.name[:40]}.{digest_of(str(resolved))[:16]}"


class Journal:
    """One window's journal of an order file, or one that a window left behind."""

    def __init__(self, order_path: Path, state_folder: Path, name: str = "") -> None:
        """Name a journal; its file comes with the first edit.

        Args:
            name: of one that was left behind; '' for a window's own.
        """
        self.order_path = order_path.resolve()
        own = f"{_mark(order_path)}.{uuid.uuid4().hex[:12]}.journal"
        self.path = state_folder / (name or own)
        self._held: IO[bytes] | None = None

    def claim(self) -> bool:
        """Take a journal that was left behind, so that no other window offers it; tell whether
        nobody holds it.
        """
        try:
            stream = self.path.open("rb")
        except OSError:
            return False
        try:
            fcntl.flock(stream, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            stream.close()
            return False
        if not self._is_mine(stream):
            return False
        self._held = stream
        return True

    def _is_mine(self, stream: IO[bytes]) -> bool:
        """Tell whether a file that was locked is still the one of this name."""
        with suppress(OSError):
            if os.path.samestat(os.fstat(stream.fileno()), self.path.stat()):
                return True
        stream.close()
        return False

    def release(self) -> None:
        """Leave the journal to whoever opens the order next."""
        if self._held is not None:
            self._held.close()
        self._held = None

    def append(self, edit: str, order: Order, base: str) -> None:
        """Write the order as it stands after an edit; on return it is on disk.

        Raises:
            OSError: it cannot be written.
        """
        line = _line(edit, base, order_text(order))
        stream = self._held or self._begun()
        if os.fstat(stream.fileno()).st_size > COMPACT_BYTES:
            self._begin_anew(line)
            return
        if stream.tell() and not self._ends_whole():
            stream.write(b"\n")  # a torn line must not swallow this one
        stream.write(line)
        stream.flush()
        os.fsync(stream.fileno())

    def _begun(self) -> IO[bytes]:
        """Open and lock the window's own file; another may clear it away while it is empty."""
        self.path.parent.mkdir(parents=True, exist_ok=True)
        while True:
            stream = self.path.open("ab")
            fcntl.flock(stream, fcntl.LOCK_EX)
            if self._is_mine(stream):
                self._held = stream
                return stream

    def _begin_anew(self, line: bytes) -> None:
        """Write a file with one line in place of the long one; its lock goes with it."""
        handle, name = tempfile.mkstemp(prefix=f"{self.path.name}.", dir=self.path.parent)
        stream = os.fdopen(handle, "ab")
        try:
            fcntl.flock(stream, fcntl.LOCK_EX)
            stream.write(line)
            stream.flush()
            os.fsync(stream.fileno())
            Path(name).replace(self.path)
        except BaseException:
            stream.close()
            Path(name).unlink(missing_ok=True)
            raise
        self.release()
        self._held = stream

    def _ends_whole(self) -> bool:
        with self.path.open("rb") as stream:
            stream.seek(-1, os.SEEK_END)
            return stream.read(1) == b"\n"

    def clear(self) -> None:
        """Forget the edits: they are saved, or nobody wants them.

        Raises:
            OSError: the file cannot be removed.
        """
        if self._held is not None:
            self.path.unlink(missing_ok=True)
            self.release()

    def read(self) -> Recovered | None:
        """Return what the journal holds; None where there is nothing whole in it."""
        try:
            lines = self.path.read_bytes().split(b"\n")
        except OSError:
            return None
        whole = [record for raw in lines if (record := _unsealed(raw))]
        for count in range(len(whole), 0, -1):
            record = whole[count - 1]
            try:
                order = parse_order(self.path, record["order"])
            except DocumentError:
                continue  # written by another version, which can still read it
            return Recovered(order, record["edit"], count, record["base"])
        return None

    def unsaved(self) -> Recovered | None:
        """Return edits that the order's file does not hold yet; None where it holds them all.

        A crash between saving and clearing leaves a journal that says what the file says.
        """
        found = self.read()
        if found is None:
            return None
        try:
            saved = self.order_path.read_text(encoding="utf-8")
        except (OSError, UnicodeDecodeError):
            return found
        return None if saved == order_text(found.order) else found


def left_behind(order_path: Path, state_folder: Path) -> Iterator[Journal]:
    """Claim and yield the journals of an order that no window holds, the latest first."""
    mark = glob.escape(_mark(order_path))
    for torn in state_folder.glob(f"{mark}.*.journal.*"):  # of one that was begun anew
        left = Journal(order_path, state_folder, torn.name)
        if left.claim():
            left.clear()
    dated: list[tuple[float, str]] = []
    for path in state_folder.glob(f"{mark}*.journal"):
        with suppress(OSError):  # gone since
            dated.append((path.stat().st_mtime, path.name))
    for _, name in sorted(dated, reverse=True):
        journal = Journal(order_path, state_folder, name)
        if journal.claim():
            yield journal
