"""A tape-label printer on the network: how it is talked to, and a stand-in for one.

A job is a PDF sent over TCP, a page a label at its own size; the sender then closes its half. The
printer answers with one line of JSON: how many labels came out, of how many, and its state.
"""

import json
import re
import socket
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Final, NamedTuple

from vivid_loom.bench.devices.listener import Listener
from vivid_loom.quantities import one_line
from vivid_loom.quantities.atomic import write_atomically

__all__ = ["LabelPrinter", "Printed", "PrinterError", "print_labels", "told_by"]

SECONDS: Final = 10.0
LARGEST: Final = 64 * 1024 * 1024
LONGEST_ANSWER: Final = 4096
LONGEST_STATE: Final = 80
PAGE: Final = re.compile(rb"/Type\s*/Page\b")


class PrinterError(Exception):
    """A printer that cannot be reached, does not answer, or answers what no printer does."""


class Printed(NamedTuple):
    """What a printer says became of a job.

    Attributes:
        state: 'ready', or what stopped it.
    """

    labels: int
    of: int
    state: str


def _all(link: socket.socket, seconds: float, most: int) -> bytes:
    """Return everything that comes until the other side is done.

    Raises:
        PrinterError: it is more than ``most`` bytes.
        TimeoutError: it is not done in time.
    """
    got, until = bytearray(), time.monotonic() + seconds
    while True:
        left = until - time.monotonic()
        if left <= 0:
            raise TimeoutError
        link.settimeout(left)
        part = link.recv(65536)
        if not part:
            return bytes(got)
        got += part
        if len(got) > most:
            raise PrinterError(f"found more than {most} bytes, expected no more")


def told_by(answer: bytes) -> Printed:
    """Return what a printer says; whole numbers are digits, and its state is a line of text.

    Raises:
        ValueError: it says something else.
    """
    try:
        told = json.loads(answer)
        counts, state = (told["printed"], told["of"]), told["state"]
    except (KeyError, TypeError, RecursionError) as error:
        raise ValueError("no answer of a printer") from error
    if any(type(count) is not int for count in counts) or not isinstance(state, str):
        raise ValueError("no answer of a printer")
    return Printed(*counts, one_line(state, LONGEST_STATE))


def print_labels(host: str, port: int, job: bytes, *, seconds: float = SECONDS) -> Printed:
    """Send a job to a printer and return what came out.

    Args:
        job: a PDF, a page a label.

    Raises:
        PrinterError: it cannot be reached, or what it answers cannot be taken; nothing is known
            of the labels then.
    """
    where = f"{host}:{port}"
    try:
        with socket.create_connection((host, port), timeout=seconds) as link:
            link.sendall(job)
            link.shutdown(socket.SHUT_WR)
            answer = _all(link, seconds, LONGEST_ANSWER)
    except PrinterError as error:
        raise PrinterError(f"{where}: {error}") from error
    except TimeoutError as error:
        raise PrinterError(f"{where}: no answer within {seconds:g} s") from error
    except OSError as error:
        raise PrinterError(f"{where}: cannot be reached: {error.strerror or error}") from error
    try:
        done = told_by(answer)
    except ValueError as error:
        told = answer[:60].decode("ascii", "replace") or "nothing"
        raise PrinterError(f"{where}: found {told!r}, expected what came out") from error
    if not 0 <= done.labels <= done.of:
        raise PrinterError(f"{where}: found {done.labels} of {done.of} labels, which cannot be")
    sent = len(PAGE.findall(job))
    if done.of not in (0, sent):
        told = f"found {done.labels} of {done.of} labels, but {sent} were sent"
        raise PrinterError(f"{where}: {told}: it speaks of another job")
    return done


class LabelPrinter(Listener):
    """The stand-in: takes jobs, keeps what came out as PDF, and runs out of tape.

    Args:
        folder: where jobs are kept, as ``job-1.pdf`` and so on.
        tape: labels that are left on the tape; None for a tape without end.
        told: is called with what happened.
    """

    def __init__(
        self,
        folder: Path,
        *,
        port: int = 0,
        tape: int | None = None,
        told: Callable[[str], None] = lambda _: None,
    ) -> None:
        self.folder, self.tape, self.told = folder, tape, told
        self._jobs = 0
        self._one_at_a_time = threading.Lock()
        super().__init__(port)

    def talk(self, link: socket.socket) -> None:
        """Take one job and answer."""
        try:
            job = _all(link, SECONDS, LARGEST)
            with self._one_at_a_time:
                answer = self._take(job)
            link.sendall(json.dumps(answer).encode() + b"\n")
        except (OSError, PrinterError) as error:
            self.told(f"a job was dropped: {error}")

    def _take(self, job: bytes) -> dict[str, object]:
        """Print a job; return the answer."""
        self._jobs += 1
        pages = len(PAGE.findall(job))
        if not job.startswith(b"%PDF-") or not pages:
            self.told(f"job {self._jobs}: no PDF, nothing printed")
            return {"printed": 0, "of": 0, "state": "not understood"}
        done = pages if self.tape is None else min(pages, self.tape)
        state = "ready" if done == pages else "out of tape"
        if self.tape is not None:
            self.tape -= done
        self.folder.mkdir(parents=True, exist_ok=True)
        path = self.folder / f"job-{self._jobs}.pdf"
        write_atomically(path, job)
        self.told(f"job {self._jobs}: {done} of {pages} labels, {state}; see {path}")
        return {"printed": done, "of": pages, "state": state}
