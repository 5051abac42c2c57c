"""The tape printer and its stand-in, over a real socket."""

import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

import pytest
from click.testing import CliRunner

from vivid_loom.bench.devices.label_printer import LabelPrinter, PrinterError, print_labels
from vivid_loom.cli import main
from vivid_loom.demo import DEMO_ORDER
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.pdf import pdf_bytes


@contextmanager
def switched_on(folder: Path, tape: int | None = None) -> Iterator[LabelPrinter]:
    printer = LabelPrinter(folder, tape=tape)
    thread = threading.Thread(target=printer.serve, daemon=True)
    thread.start()
    try:
        yield printer
    finally:
        printer.close()


def job(labels: int) -> bytes:
    return pdf_bytes([Page(str(i), 40.0, 9.0, ()) for i in range(labels)], "job")


def test_a_job_comes_out_as_it_was_sent(tmp_path: Path) -> None:
    with switched_on(tmp_path) as printer:
        sent = job(5)
        assert print_labels("127.0.0.1", printer.port, sent) == (5, 5, "ready")
        assert (tmp_path / "job-1.pdf").read_bytes() == sent
        assert print_labels("127.0.0.1", printer.port, job(2)).of == 2
        assert (tmp_path / "job-2.pdf").exists()


def test_a_tape_that_ends_is_said(tmp_path: Path) -> None:
    with switched_on(tmp_path, tape=4) as printer:
        assert print_labels("127.0.0.1", printer.port, job(3)) == (3, 3, "ready")
        assert print_labels("127.0.0.1", printer.port, job(3)) == (1, 3, "out of tape")


def test_what_is_no_job_is_not_printed(tmp_path: Path) -> None:
    with switched_on(tmp_path) as printer:
        assert print_labels("127.0.0.1", printer.port, b"hello") == (0, 0, "not understood")
        assert not list(tmp_path.iterdir())


@contextmanager
def answering(answer: bytes | None) -> Iterator[int]:
    """Listen as something that answers anything, or nothing at all."""
    with socket.create_server(("127.0.0.1", 0)) as server:

        def serve() -> None:
            try:
                link, _ = server.accept()
            except OSError:
                return
            with link:
                while link.recv(65536):
                    pass
                if answer is None:
                    done.wait(5)
                else:
                    link.sendall(answer)

        done = threading.Event()
        thread = threading.Thread(target=serve, daemon=True)
        thread.start()
        yield int(server.getsockname()[1])
        done.set()
        thread.join(5)


@pytest.mark.parametrize(
    ("answer", "told"),
    [
        (b"HTTP/1.1 400 Bad Request", "found 'HTTP/1.1 400 Bad Request', expected what came out"),
        (b"", "found 'nothing'"),
        (b'{"printed": 7, "of": 3, "state": "ready"}', "found 7 of 3 labels"),
        (b'{"printed": "x"}', "expected what came out"),
        (b'{"printed": 1, "of": Infinity, "state": "ready"}', "expected what came out"),
        (b'{"printed": true, "of": 1, "state": "ready"}', "expected what came out"),
        (b'{"printed": "1", "of": 1, "state": "ready"}', "expected what came out"),
        (b'{"printed": 1, "of": 1, "state": 7}', "expected what came out"),
        (b"[" * 4000, "expected what came out"),
        (b"x" * 5000, "found more than 4096 bytes"),
        (b'{"printed": 3, "of": 3, "state": "ready"}', "3 of 3 labels, but 1 were sent"),
        (None, "no answer within 0.3 s"),
    ],
)
def test_what_no_printer_answers_is_said(answer: bytes | None, told: str) -> None:
    with answering(answer) as port, pytest.raises(PrinterError) as caught:
        print_labels("127.0.0.1", port, job(1), seconds=0.3)
    assert told in str(caught.value) and str(port) in str(caught.value)


def test_a_state_is_a_line_of_plain_text() -> None:
    told = b'{"printed": 1, "of": 1, "state": "ready\\u001b[2J\\u202e\\n' + b"y" * 200 + b'"}'
    with answering(told) as port:
        state = print_labels("127.0.0.1", port, job(1)).state
    assert state.isprintable() and len(state) <= 80 and state.startswith("ready")


def test_a_printer_that_answers_drop_by_drop_is_not_waited_for_for_ever() -> None:
    with socket.create_server(("127.0.0.1", 0)) as server:
        stop = threading.Event()

        def drip() -> None:
            link, _ = server.accept()
            with link, suppress(OSError):
                while not stop.wait(0.05):
                    link.sendall(b" ")

        threading.Thread(target=drip, daemon=True).start()
        port = int(server.getsockname()[1])
        with pytest.raises(PrinterError, match=r"no answer within 0\.4 s"):
            print_labels("127.0.0.1", port, job(1), seconds=0.4)
        stop.set()


def test_several_send_at_once_and_closing_ends_every_thread(tmp_path: Path) -> None:
    before = threading.active_count()
    with switched_on(tmp_path) as printer:
        idle = [socket.create_connection(("127.0.0.1", printer.port)) for _ in range(5)]
        assert print_labels("127.0.0.1", printer.port, job(2)) == (2, 2, "ready")
        more = [socket.create_connection(("127.0.0.1", printer.port)) for _ in range(9)]
        more[-1].settimeout(5)
        assert more[-1].recv(1) == b""  # one too many
    for link in (*idle, *more):
        link.close()
    until = time.monotonic() + 5
    while threading.active_count() > before and time.monotonic() < until:
        time.sleep(0.01)
    assert threading.active_count() <= before


def test_a_printer_that_is_off_is_said() -> None:
    with socket.create_server(("127.0.0.1", 0)) as server:
        port = int(server.getsockname()[1])
    with pytest.raises(PrinterError, match="cannot be reached"):
        print_labels("127.0.0.1", port, job(1))


def test_labels_from_the_command_line(tmp_path: Path) -> None:
    run = CliRunner().invoke
    order = str(DEMO_ORDER)
    with switched_on(tmp_path / "tape", tape=10) as printer:
        address = f"127.0.0.1:{printer.port}"
        done = run(main, ["labels", order, "--printer", address, "--harness", "hardtop"])
    assert done.exit_code == 1
    assert "10 of" in done.output and "out of tape; the next is" in done.output
    out = tmp_path / "labels.pdf"
    assert run(main, ["labels", order, "--out", str(out)]).exit_code == 0
    assert out.read_bytes().startswith(b"%PDF-")
    for wrong in (["--printer", "nowhere"], [], ["--out", str(out), "--harness", "keel"]):
        done = run(main, ["labels", order, *wrong])
        assert done.exit_code == 2 and "found" in done.output
