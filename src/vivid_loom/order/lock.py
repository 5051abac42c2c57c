"""One order, one editor: a lock beside the file that a crash gives back."""

import getpass
import json
import os
import socket
import uuid
from contextlib import suppress
from pathlib import Path
from typing import Final

from filelock import FileLock, Timeout

from vivid_loom.quantities.atomic import short_name

__all__ = ["OrderLock", "OrderLockedError"]

_PATIENCE_S: Final = 0.3  # another window may only be looking whether the lock is free


class OrderLockedError(OSError):
    """Another window edits the order; ``holder`` says whose, as far as it is known."""

    def __init__(self, path: Path, holder: str) -> None:
        super().__init__(f"{path} is being edited in another window ({holder})")
        self.path, self.holder = path, holder


class OrderLock:
    """A lock on an order file, held until ``release`` or the end of the process.

    The lock file stands beside the order, so that two machines on one shared folder see it;
    who holds it stands in a second file, for people, with a mark that tells one hold from another.
    """

    def __init__(self, order_path: Path) -> None:
        resolved = order_path.resolve()
        self.order_path = order_path
        name = short_name(resolved.name)
        self._file = resolved.with_name(f".{name}.lock")
        self._lock = FileLock(self._file)
        self._holder = resolved.with_name(f".{name}.holder")
        self._mark = uuid.uuid4().hex

    @property
    def is_held(self) -> bool:
        """Whether this window holds it: nobody has taken it over since."""
        return self._lock.is_locked and self._told().get("mark", self._mark) == self._mark

    def acquire(self) -> None:
        """Take the lock; nothing happens where it is held already.

        Raises:
            OrderLockedError: another window has it.
            OSError: the folder cannot be written to.
        """
        if self.is_held:
            return
        if self._lock.is_locked:  # another window took it over
            raise OrderLockedError(self.order_path, self._who())
        try:
            self._lock.acquire(timeout=_PATIENCE_S, poll_interval=0.02)
        except Timeout as error:
            raise OrderLockedError(self.order_path, self._who()) from error
        self._tell()

    def take_over(self) -> None:
        """Take the lock from whoever has it: that window may not save in place any more.

        Raises:
            OSError: the folder cannot be written to.
        """
        self._lock.release(force=True)
        self._file.unlink(missing_ok=True)  # the other window's lock is on the file that is gone
        self._lock = FileLock(self._file)
        self._lock.acquire(timeout=_PATIENCE_S, poll_interval=0.02)
        self._tell()

    def other(self) -> str:
        """Return who else holds the lock; '' where nobody does."""
        if self.is_held or not self._holder.exists():
            return ""
        try:
            with FileLock(self._file).acquire(timeout=0):
                return ""
        except Timeout:
            return self._who()
        except OSError:
            return ""

    @property
    def user(self) -> str:
        """The name of who holds it, as it was written last; 'unknown' where nobody wrote one."""
        return str(self._told().get("user", "unknown"))

    def _tell(self) -> None:
        """Write who holds it; on a full disk nobody is told, and it is held all the same."""
        told = {"user": _user(), "host": socket.gethostname(), "process": os.getpid()}
        with suppress(OSError):
            self._holder.write_text(json.dumps({**told, "mark": self._mark}), encoding="utf-8")

    def _told(self) -> dict[str, object]:
        try:
            told = json.loads(self._holder.read_text(encoding="utf-8"))
        except (OSError, ValueError, RecursionError):
            return {}
        return told if isinstance(told, dict) else {}

    def _who(self) -> str:
        told = self._told()
        if not {"user", "host", "process"} <= set(told):
            return "unknown"
        return f"{told['user']} on {told['host']}, process {told['process']}"

    def release(self) -> None:
        """Give the lock back; nothing happens where it is not held."""
        if self.is_held:
            with suppress(OSError):
                self._holder.unlink(missing_ok=True)
        self._lock.release(force=True)


def _user() -> str:
    """Return who runs this; the number of one without an entry among the users."""
    try:
        return getpass.getuser()
    except (KeyError, OSError):
        return f"user {os.getuid()}"
