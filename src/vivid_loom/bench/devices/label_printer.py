"""A tape-label printer on the network: how it is talked to, and a stand-in for one.

A job is a PDF sent over TCP, a page a label at its own size; the sender then closes its half. The
printer answers with one line of JSON: how many labels came out, of how many, and its state.
"""

import json
import re
import socket
from collections.abc import Callable
from pathlib import Path
from typing import Final, NamedTuple

from vivid_loom.bench.devices.listener import Listener
from vivid_loom.quantities.document import write_atomically

__all__ = ["LabelPrinter", "Printed", "PrinterError", "print_labels"]

SECONDS: Final = 10.0
LARGEST: Final = 64 * 1024 * 1024
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


def _all(link: socket.socket) -> bytes:
    parts: list[bytes] = []
    size = 0
    while part := link.recv(65536):
        parts.append(part)
        size += len(part)
        if size > LARGEST:
            raise PrinterError(f"found more than {LARGEST // 1024 // 1024} MB, expected a job")
    return b"".join(parts)


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
            answer = _all(link)
    except TimeoutError as error:
        raise PrinterError(f"{where}: no answer within {seconds:g} s") from error
    except OSError as error:
        raise PrinterError(f"{where}: cannot be reached: {error.strerror or error}") from error
    try:
        told = json.loads(answer)
        done = Printed(int(told["printed"]), int(told["of"]), str(told["state"]))
    except (ValueError, KeyError, TypeError) as error:
        told = answer[:60].decode("ascii", "replace") or "nothing"
        raise PrinterError(f"{where}: found {told!r}, expected what came out") from error
    if not 0 <= done.labels <= done.of:
        raise PrinterError(f"{where}: found {done.labels} of {done.of} labels, which cannot be")
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
        super().__init__(port)

    def talk(self, link: socket.socket) -> None:
        """Take one job and answer."""
        link.settimeout(SECONDS)
        try:
            link.sendall(json.dumps(self._take(_all(link))).encode() + b"\n")
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
