"""One order, one editor: a lock beside the file that a crash gives back."""

import getpass
import json
import os
import socket
from pathlib import Path

from filelock import FileLock, Timeout

__all__ = ["OrderLock", "OrderLockedError"]


class OrderLockedError(OSError):
    """Another window has the order open; ``holder`` says whose, as far as it is known."""

    def __init__(self, path: Path, holder: str) -> None:
        super().__init__(f"{path} is open in another window ({holder})")
        self.path, self.holder = path, holder


class OrderLock:
    """A lock on an order file, held until ``release`` or the end of the process.

    The lock file stands beside the order, so that two machines on one shared folder see it;
    who holds it stands in a second file, for people.
    """

    def __init__(self, order_path: Path) -> None:
        resolved = order_path.resolve()
        self.order_path = order_path
        self._lock = FileLock(resolved.with_name(f".{resolved.name}.lock"))
        self._holder = resolved.with_name(f".{resolved.name}.holder")

    def acquire(self) -> None:
        """Take the lock.

        Raises:
            OrderLockedError: another window has it.
            OSError: the folder cannot be written to.
        """
        try:
            self._lock.acquire(timeout=0)
        except Timeout as error:
            raise OrderLockedError(self.order_path, self._who()) from error
        told = {"user": getpass.getuser(), "host": socket.gethostname(), "process": os.getpid()}
        self._holder.write_text(json.dumps(told), encoding="utf-8")

    def _who(self) -> str:
        try:
            told = json.loads(self._holder.read_text(encoding="utf-8"))
            return f"{told['user']} on {told['host']}, process {told['process']}"
        except (OSError, ValueError, KeyError, TypeError):
            return "unknown"

    def release(self) -> None:
        """Give the lock back; nothing happens where it is not held."""
        if self._lock.is_locked:
            self._holder.unlink(missing_ok=True)
            self._lock.release()
