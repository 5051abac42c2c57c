"""The shelf is changed by one at a time, and by each plan once."""

from pathlib import Path

import pytest

from vivid_loom.order import BOOKINGS_FILE, SPOOL_FILE, Spool, booking, read_spools, spools_text
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.quantities.document import DocumentError

SHELF = (Spool(id="A", wire="14 AWG", colour="RD", length_m=100.0),)
LEFT = (Spool(id="A", wire="14 AWG", colour="RD", length_m=60.0),)
LESS = (Spool(id="A", wire="14 AWG", colour="RD", length_m=20.0),)


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    (tmp_path / SPOOL_FILE).write_text(spools_text(SHELF))
    return tmp_path


def test_the_same_cuts_are_booked_once(folder: Path) -> None:
    with booking(folder) as shelf:
        shelf.book("cuts of 1", "hull 1", LEFT)
    with booking(folder) as shelf, pytest.raises(DocumentError, match=r"already, on .* for hull 1"):
        shelf.book("cuts of 1", "hull 1", LESS)
    assert read_spools(folder / SPOOL_FILE) == LEFT
    with booking(folder) as shelf:
        shelf.book("cuts of 2", "hull 2", LESS)
    assert read_spools(folder / SPOOL_FILE) == LESS


def test_a_booking_that_was_cut_short_never_came_about(
    folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Killed between its two files: the shelf is as it was, and it may be booked."""
    real = write_atomically
    written: list[Path] = []

    def one_only(path: Path, data: bytes) -> None:
        if written:
            raise OSError(5, "killed")
        written.append(path)
        real(path, data)

    monkeypatch.setattr("vivid_loom.order.bookings.write_atomically", one_only)
    with booking(folder) as shelf, pytest.raises(OSError, match="killed"):
        shelf.book("cuts of 1", "hull 1", LEFT)
    monkeypatch.undo()
    assert read_spools(folder / SPOOL_FILE) == SHELF and (folder / BOOKINGS_FILE).exists()
    with booking(folder) as shelf:
        shelf.book("cuts of 1", "hull 1", LEFT)
    assert read_spools(folder / SPOOL_FILE) == LEFT
    assert len((folder / BOOKINGS_FILE).read_text().splitlines()) == 2


def test_others_wait_and_are_told(folder: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("vivid_loom.order.bookings._PATIENCE_S", 0.1)
    told = pytest.raises(DocumentError, match="booked by somebody else")
    with booking(folder), told, booking(folder):
        pass
    (folder / BOOKINGS_FILE).write_text("plan\nx\n")
    with booking(folder) as shelf, pytest.raises(DocumentError, match=BOOKINGS_FILE):
        shelf.book("cuts", "hull 1", LEFT)
