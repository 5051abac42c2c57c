"""The journal: every committed edit on disk at once, so that a crash loses none.

One file per order in the state folder. Each line is one record of the whole order after an edit,
with a checksum; a line that was cut short by a crash is passed over. Saving the order empties it.
"""

import hashlib
import json
import os
from pathlib import Path
from typing import NamedTuple

from vivid_loom.order.files import order_text, parse_order
from vivid_loom.order.records import Order
from vivid_loom.quantities.document import DocumentError, write_atomically

__all__ = ["Journal", "Recovered", "digest_of"]

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


class Journal:
    """The journal of one order file."""

    def __init__(self, order_path: Path, state_folder: Path) -> None:
        self.order_path = order_path.resolve()
        name = f"{order_path.name}.{digest_of(str(self.order_path))[:16]}.journal"
        self.path = state_folder / name

    def append(self, edit: str, order: Order, base: str) -> None:
        """Write the order as it stands after an edit; on return it is on disk.

        Raises:
            OSError: it cannot be written.
        """
        line = _line(edit, base, order_text(order))
        self.path.parent.mkdir(parents=True, exist_ok=True)
        if self.path.exists() and self.path.stat().st_size > COMPACT_BYTES:
            write_atomically(self.path, line)
            return
        with self.path.open("ab") as stream:
            if stream.tell() and not self._ends_whole():
                stream.write(b"\n")  # a torn line must not swallow this one
            stream.write(line)
            stream.flush()
            os.fsync(stream.fileno())

    def _ends_whole(self) -> bool:
        with self.path.open("rb") as stream:
            stream.seek(-1, os.SEEK_END)
            return stream.read(1) == b"\n"

    def clear(self) -> None:
        """Forget the edits: they are saved, or nobody wants them."""
        self.path.unlink(missing_ok=True)

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
