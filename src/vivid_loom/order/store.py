"""An order file being worked on: lock, journal, what stood on disk when it was read."""

from pathlib import Path

from vivid_loom.order.files import order_text, parse_order
from vivid_loom.order.journal import Journal, Recovered, digest_of
from vivid_loom.order.lock import OrderLock
from vivid_loom.order.records import Order
from vivid_loom.quantities.document import DocumentError, clear_leftovers, write_atomically

__all__ = ["ChangedOnDiskError", "OrderStore"]


class ChangedOnDiskError(OSError):
    """The file is not what was read: another program has written it since."""

    def __init__(self, path: Path) -> None:
        super().__init__(f"{path} was changed by another program since it was read")
        self.path = path


class OrderStore:
    """One order file open for work.

    Attributes:
        read_only: the file is never written: shipped data, or locked by another window.
        recovered: edits that a crash left behind; None where there are none.
    """

    def __init__(self, path: Path, state_folder: Path, *, read_only: bool = False) -> None:
        """Read the file and lock it.

        Raises:
            DocumentError: a file that cannot be taken.
            OrderLockedError: another window has it open.
        """
        self.path = path
        self.read_only = read_only
        self._state_folder = state_folder
        self._lock = OrderLock(path)
        if not read_only:
            self.lock()
        try:
            text = self._text()
            self.order: Order = parse_order(path, text)
        except DocumentError:
            self._lock.release()
            raise
        self._digest = digest_of(text)
        self._journal = Journal(path, state_folder)
        self.recovered: Recovered | None = self._journal.unsaved()

    def lock(self) -> None:
        """Take the file's lock, as on opening; a folder that may not be written to opens to read
        only.

        Raises:
            OrderLockedError: another window has it open.
        """
        if not self.path.exists():
            return  # reading says what is wrong
        try:
            self._lock.acquire()
            clear_leftovers(self.path)
        except PermissionError:
            self.read_only = True

    def _text(self) -> str:
        try:
            return self.path.read_text(encoding="utf-8")
        except (OSError, UnicodeDecodeError) as error:
            reason = getattr(error, "strerror", None) or str(error)
            raise DocumentError(self.path, "", f"cannot be read: {reason}") from error

    @property
    def changed_on_disk(self) -> bool:
        """Tell whether the file is no longer what was read or written last."""
        try:
            return digest_of(self.path.read_text(encoding="utf-8")) != self._digest
        except (OSError, UnicodeDecodeError):
            return True

    @property
    def starts_from_elsewhere(self) -> bool:
        """Tell whether recovered edits began from another state of the file than stands now."""
        return self.recovered is not None and self.recovered.base != self._digest

    def commit(self, edit: str, order: Order) -> None:
        """Journal an edit; on return it survives a crash.

        Raises:
            OSError: the journal cannot be written.
        """
        self._journal.append(edit, order, self._digest)

    def discard(self) -> None:
        """Forget journalled edits."""
        self._journal.clear()
        self.recovered = None

    def save(self, order: Order, *, over_changes: bool = False) -> None:
        """Write the order in place.

        Args:
            over_changes: write even where another program has changed the file.

        Raises:
            ChangedOnDiskError: another program has written the file; nothing is written.
            OSError: the file cannot be written; nothing is lost.
        """
        if self.read_only:
            raise PermissionError(13, "this order is open to read only; save it elsewhere")
        if self.changed_on_disk and not over_changes:
            raise ChangedOnDiskError(self.path)
        text = order_text(order)
        write_atomically(self.path, text.encode())
        self._digest = digest_of(text)
        self.discard()

    def save_as(self, path: Path, order: Order) -> "OrderStore":
        """Write the order under another name and return its store; this one is closed.

        Raises:
            OrderLockedError: another window has that file open.
            OSError: it cannot be written; nothing is lost and this store stays open.
        """
        lock = OrderLock(path)
        if path.exists() and path.resolve() != self.path.resolve():
            lock.acquire()  # refuses a file that is open elsewhere
            lock.release()
        write_atomically(path, order_text(order).encode())
        self.discard()
        self.close()
        return OrderStore(path, self._state_folder)

    def close(self) -> None:
        """Give the lock back; the journal stays as it is."""
        self._lock.release()
