"""A line to a device that speaks SCPI over TCP, through PyVISA: every answer in its step.

Behind every question a number is set and asked for again, by ``*ESE`` and ``*ESE?``, which every
device of IEEE 488.2 has: it goes up from question to question, so that an answer that is late,
doubled or one too many is told from the one that was asked for. After anything out of step the line
is closed: what would still come belongs to nothing.
"""

import contextlib
import time
from itertools import cycle
from typing import Any, Final

__all__ = ["LinkError", "ScpiLink"]

MOST_BYTES: Final = 65_536  # of one answer
LOOK_MS: Final = 1  # how long is looked for what nobody asked for
MARKS: Final = range(1, 256)  # IEEE 488.2, 10.10: an eight-bit register
_SHOWN: Final = 40


class LinkError(Exception):
    """No answer, or one out of step; the line is closed then."""


class ScpiLink:
    """An open line; a question has ``seconds`` for its whole answer."""

    def __init__(self, host: str, port: int, seconds: float) -> None:
        """Connect.

        Raises:
            LinkError: nobody is there.
        """
        import pyvisa  # slow to load

        self._seconds = seconds
        self._errors: tuple[type[Exception], ...] = (pyvisa.errors.Error, OSError)
        self._marks = cycle(MARKS)
        self._link: Any = None
        try:
            self._link = pyvisa.ResourceManager("@py").open_resource(
                f"TCPIP::{host}::{port}::SOCKET",
                read_termination="\n",
                write_termination="\n",
                encoding="utf-8",
                open_timeout=int(seconds * 1000),
                timeout=int(seconds * 1000),
            )
        except Exception as error:  # the pure-Python backend lets what the socket raises through
            raise LinkError(f"cannot be reached: {error}") from error

    def ask(self, line: str) -> str:
        """Send a question and return its answer.

        Raises:
            LinkError: no answer in time, one out of step, too long, or no text.
        """
        if self._link is None:
            raise LinkError("the connection was closed")
        try:
            return self._asked(line)
        except LinkError:
            self.close()
            raise
        except UnicodeDecodeError as error:
            self.close()
            raise LinkError(f"found an answer that is no text to {line}") from error
        except self._errors as error:
            self.close()
            what = "no answer" if "TMO" in str(error) else "the connection is gone"
            raise LinkError(f"{what} to {line}") from error

    def _asked(self, line: str) -> str:
        self._nothing_waits(line)
        mark = next(self._marks)
        self._link.write(f"{line};*ESE {mark};*ESE?")
        said = self._line(line, time.monotonic() + self._seconds)
        answer, _, echo = said.rpartition(";")
        if echo.strip().removeprefix("+") != str(mark):
            told = said.strip()[:_SHOWN] or "nothing"
            raise LinkError(f"found {told!r}, which does not answer {line}")
        self._nothing_waits(line)
        return answer.strip()

    def _line(self, line: str, until: float) -> str:
        """Return the answer up to its end."""
        got = b""
        while not got.endswith(b"\n"):
            left = until - time.monotonic()
            if left <= 0:
                raise LinkError(f"no answer to {line}, or not the whole of it")
            if len(got) >= MOST_BYTES:
                raise LinkError(f"found more than {MOST_BYTES} bytes in answer to {line}")
            got += self._some(MOST_BYTES - len(got), max(1, int(left * 1000)))
        return got.decode()

    def _some(self, most: int, patience_ms: int) -> bytes:
        """Return what comes within a time, at least a byte.

        Raises:
            pyvisa.errors.Error: nothing came.
        """
        self._link.timeout = patience_ms
        data: bytes = self._link.visalib.read(self._link.session, most)[0]
        if not data:
            raise OSError("nothing came")
        return data

    def _nothing_waits(self, line: str) -> None:
        """See that nothing has come that nobody asked for."""
        try:
            surplus = self._some(MOST_BYTES, LOOK_MS)
        except self._errors:
            return
        told = surplus.decode("utf-8", "replace").strip()[:_SHOWN]
        raise LinkError(f"found {told!r}, which nobody asked for, at {line}")

    def close(self) -> None:
        """Let the device go."""
        if self._link is not None:
            with contextlib.suppress(*self._errors):
                self._link.close()
            self._link = None
