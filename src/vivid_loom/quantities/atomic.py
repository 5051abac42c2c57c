"""Files written whole or not at all, and nothing left beside them."""

import errno
import fcntl
import glob
import hashlib
import os
import stat
import tempfile
from contextlib import suppress
from pathlib import Path
from typing import Final

__all__ = ["clear_leftovers", "short_name", "write_atomically"]

_ROOM_BYTES: Final = 220


def short_name(name: str) -> str:
    """Return a name that leaves room for what is put before and after it: file systems take 255
    bytes.
    """
    if len(name.encode()) <= _ROOM_BYTES:
        return name
    return hashlib.sha256(name.encode()).hexdigest()[:16]


def write_atomically(path: Path, data: bytes) -> None:
    """Write ``data`` so that a crash leaves either the old file or the new one, whole.

    A link stays a link: what it leads to is written. Mode and owner stay as they are. What killed
    writers have left beside it is cleared.

    Raises:
        OSError: the folder cannot be written to, or there is something there that is no file.
    """
    path = Path(os.path.realpath(path))
    before = path.stat() if path.exists() else None
    if before is not None and not stat.S_ISREG(before.st_mode):
        raise OSError(errno.EINVAL, "what stands there is no file", str(path))
    clear_leftovers(path)
    handle, temporary = _held_beside(path)
    try:
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
            if before is not None:
                with suppress(PermissionError):  # only root gives a file away
                    os.chown(temporary, before.st_uid, before.st_gid)
            temporary.chmod(before.st_mode & 0o7777 if before else 0o644)
            temporary.replace(path)
    except BaseException:
        temporary.unlink(missing_ok=True)
        raise
    folder = os.open(path.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)


def _held_beside(path: Path) -> tuple[int, Path]:
    """Return a new file beside ``path``, held for as long as it is open: the kernel lets go of it
    when its writer dies, which tells a leftover from a file that is being written.
    """
    while True:
        handle, name = tempfile.mkstemp(prefix=f".{short_name(path.name)}.", dir=path.parent)
        temporary = Path(name)
        with suppress(OSError):  # a file system without locks: its leftovers stay
            fcntl.flock(handle, fcntl.LOCK_EX)
        if temporary.exists():  # else taken for a leftover before it was held
            return handle, temporary
        os.close(handle)


def clear_leftovers(path: Path) -> None:
    """Remove what writers of ``path`` that were killed have left beside it."""
    path = Path(os.path.realpath(path))
    for left in path.parent.glob(f".{glob.escape(short_name(path.name))}.????????"):
        with suppress(OSError), left.open("rb") as stream:
            fcntl.flock(stream, fcntl.LOCK_EX | fcntl.LOCK_NB)  # refused while it is being written
            left.unlink(missing_ok=True)
