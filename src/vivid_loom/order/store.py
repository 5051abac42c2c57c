"""An order file being worked on: lock, journal, what stood on disk when it was read."""

import errno
import stat
from contextlib import suppress
from pathlib import Path
from typing import Final

from vivid_loom.order.files import order_text, parse_order
from vivid_loom.order.journal import Journal, Recovered, digest_of, left_behind
from vivid_loom.order.lock import OrderLock, OrderLockedError
from vivid_loom.order.records import Order
from vivid_loom.quantities.atomic import clear_leftovers, write_atomically
from vivid_loom.quantities.document import document_of

__all__ = ["ChangedOnDiskError", "OrderStore", "ProtectedError"]


WRITABLE: Final = stat.S_IWUSR | stat.S_IWGRP | stat.S_IWOTH


class ChangedOnDiskError(OSError):
    """The file is not what was read: another program has written it since."""

    def __init__(self, path: Path) -> None:
        super().__init__(f"{path} was changed by another program since it was read")
        self.path = path


class ProtectedError(OSError):
    """Nobody may write the file, as its mode says; the folder would let it be replaced."""

    def __init__(self, path: Path) -> None:
        super().__init__(f"{path} is protected against writing")
        self.path = path


class OrderStore:
    """One order file open for work.

    The first edit locks the file. A window that finds it locked keeps its edits in a journal of its
    own and may write in place as soon as the file is free.

    Attributes:
        read_only: the file is never written: shipped data, or a folder that may not be written to.
        locked_by: who edits it in another window, as of the last try; '' for nobody.
        recovered: edits that a crash left behind; None where there are none.
    """

    def __init__(self, path: Path, state_folder: Path, *, read_only: bool = False) -> None:
        """Read the file.

        Raises:
            DocumentError: a file that cannot be taken.
        """
        self.path = path
        self.read_only = read_only
        self._state_folder = state_folder
        self._lock = OrderLock(path)
        text = document_of(path)
        self.order: Order = parse_order(path, text)
        self._digest = digest_of(text)
        self._journal = Journal(path, state_folder)
        self.locked_by = "" if read_only else self._lock.other()
        self._left: Journal | None = None
        self.recovered: Recovered | None = None
        if not self.locked_by:
            self._look_for_edits()

    def _look_for_edits(self) -> None:
        """Claim the latest journal that nobody holds and that says more than the file."""
        for journal in left_behind(self.path, self._state_folder):
            found = journal.unsaved()
            if found is None:
                with suppress(OSError):
                    journal.clear()
            elif self.recovered is None:
                self._left, self.recovered = journal, found
            else:
                journal.release()

    @property
    def may_write(self) -> bool:
        """Whether the file may be written in place, as far as is known."""
        return not self.read_only and not self.locked_by

    @property
    def locked_by_user(self) -> str:
        """The name alone of who edits it in another window."""
        return self._lock.user

    def lock(self) -> None:
        """Take the file's lock, if it is not held yet; a folder that may not be written to opens to
        read only.

        Raises:
            OrderLockedError: another window has it.
        """
        if self.read_only or not self.path.exists():
            return
        held = self._lock.is_held
        try:
            self._lock.acquire()
        except OrderLockedError as error:
            self.locked_by = error.holder
            raise
        except OSError as error:
            if error.errno not in (errno.EACCES, errno.EPERM, errno.EROFS):
                raise
            self.read_only = True
            return
        self.locked_by = ""
        if not held:
            clear_leftovers(self.path)

    def looked_again(self) -> bool:
        """Look who edits the file now; tell whether that is somebody else than before."""
        before = self.locked_by
        if not self.read_only:
            self.locked_by = self._lock.other()
        return self.locked_by != before

    def take_over(self) -> None:
        """Take the lock from the window that has it; that one saves under another name from now on.

        Raises:
            OSError: the folder cannot be written to.
        """
        self._lock.take_over()
        self.locked_by = ""

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
        """Journal an edit; on return it survives a crash. The first one locks the file.

        Raises:
            OSError: the journal cannot be written.
        """
        with suppress(OrderLockedError):  # ``locked_by`` says so
            self.lock()
        self._journal.append(edit, order, self._digest)

    def discard(self) -> None:
        """Forget this window's edits. Where its journal cannot be removed they are offered again,
        unless the file says the same by then.
        """
        with suppress(OSError):
            self._journal.clear()

    def forget_recovered(self) -> None:
        """Let go of the edits a crash left behind: they are taken, or nobody wants them."""
        if self._left is not None:
            with suppress(OSError):
                self._left.clear()
        self._left, self.recovered = None, None

    def save(
        self, order: Order, *, over_changes: bool = False, over_protection: bool = False
    ) -> None:
        """Write the order in place.

        Args:
            over_changes: write even where another program has changed the file.
            over_protection: write even where the file's mode forbids it.

        Raises:
            ProtectedError: the file's mode forbids it; nothing is written.
            OrderLockedError: another window edits it; nothing is written.
            ChangedOnDiskError: another program has written the file; nothing is written.
            OSError: the file cannot be written; nothing is lost.
        """
        self.lock()
        if self.read_only:
            raise PermissionError(
                errno.EACCES, "this order is open to read only; save it elsewhere"
            )
        if self.changed_on_disk and not over_changes:
            raise ChangedOnDiskError(self.path)
        if not over_protection and self.path.exists() and not self.path.stat().st_mode & WRITABLE:
            raise ProtectedError(self.path)
        text = order_text(order)
        write_atomically(self.path, text.encode())
        self._digest = digest_of(text)
        self.discard()

    def save_as(self, path: Path, order: Order) -> "OrderStore":
        """Write the order under another name and return its store; this one is closed.

        Raises:
            OrderLockedError: another window edits that file.
            OSError: it cannot be written; nothing is lost and this store stays open.
        """
        if path.resolve() == self.path.resolve():
            self.save(order, over_changes=True)
            return self
        if holder := OrderLock(path).other():
            raise OrderLockedError(path, holder)
        write_atomically(path, order_text(order).encode())
        self.discard()
        self.close()
        store = OrderStore(path, self._state_folder)
        with suppress(OrderLockedError):
            store.lock()
        return store

    def close(self) -> None:
        """Give lock and journals back; what these hold is offered by whoever opens it next."""
        self._lock.release()
        self._journal.release()
        if self._left is not None:
            self._left.release()
