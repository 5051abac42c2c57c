"""Nothing is ever lost: journal, lock, changed on disk, kills at random moments."""

import dataclasses
import json
import subprocess
import sys
from pathlib import Path

import pytest

from vivid_loom.order import (
    ChangedOnDiskError,
    Journal,
    Order,
    OrderLockedError,
    OrderStore,
    read_order,
    write_order,
)
from vivid_loom.quantities.document import DocumentError

ORDER = Order(hull="0500", title="Test", boat="qh-86.boat.json", station_date="2026-12-07")


@pytest.fixture
def path(tmp_path: Path) -> Path:
    made = tmp_path / "a.loom.json"
    write_order(made, ORDER)
    return made


def noted(text: str) -> Order:
    return dataclasses.replace(ORDER, notes=text)


def test_two_hundred_kills_lose_no_committed_edit(tmp_path: Path) -> None:
    write_order(tmp_path / "clean.loom.json", ORDER)
    script = Path(__file__).with_name("kill_runs.py")
    done = subprocess.run(
        [sys.executable, str(script), str(tmp_path), "220"], capture_output=True, text=True
    )
    assert done.returncode == 0, done.stdout + done.stderr
    edited = int(done.stdout.split("kills, ")[1].split(" ")[0])
    assert edited > 150, done.stdout  # most kills must fall into the work, not before it


def test_edits_are_offered_after_a_crash_and_not_after_a_save(path: Path, tmp_path: Path) -> None:
    state = tmp_path / "state"
    store = OrderStore(path, state)
    store.commit("note one", noted("one"))
    store.commit("note two", noted("two"))
    store.close()
    again = OrderStore(path, state)
    assert again.recovered is not None
    assert (again.recovered.order.notes, again.recovered.edit, again.recovered.edits) == (
        "two",
        "note two",
        2,
    )
    assert not again.starts_from_elsewhere
    again.save(again.recovered.order)
    again.close()
    last = OrderStore(path, state)
    last.close()
    assert last.recovered is None
    assert last.order.notes == "two"


def test_a_journal_that_says_what_the_file_says_offers_nothing(path: Path, tmp_path: Path) -> None:
    Journal(path, tmp_path).append("note", noted("one"), "")
    write_order(path, noted("one"))
    assert Journal(path, tmp_path).unsaved() is None


def test_a_torn_line_hides_neither_the_one_before_nor_the_one_after(
    path: Path, tmp_path: Path
) -> None:
    journal = Journal(path, tmp_path)
    journal.append("one", noted("one"), "")
    whole = journal.path.read_bytes()
    journal.path.write_bytes(whole + whole[: len(whole) // 2])
    assert (found := journal.read()) is not None
    assert found.order.notes == "one"
    journal.append("two", noted("two"), "")
    assert (found := journal.read()) is not None
    assert found.order.notes == "two"


def test_a_flipped_byte_is_not_taken(path: Path, tmp_path: Path) -> None:
    journal = Journal(path, tmp_path)
    journal.append("one", noted("one"), "")
    raw = bytearray(journal.path.read_bytes())
    raw[200] ^= 1
    journal.path.write_bytes(raw)
    assert journal.read() is None


def test_opening_twice_is_refused_and_names_the_holder(path: Path, tmp_path: Path) -> None:
    first = OrderStore(path, tmp_path)
    with pytest.raises(OrderLockedError, match="process"):
        OrderStore(path, tmp_path)
    looking = OrderStore(path, tmp_path, read_only=True)
    with pytest.raises(PermissionError):
        looking.save(ORDER)
    first.close()
    OrderStore(path, tmp_path).close()


def test_a_file_changed_by_another_program_is_not_overwritten(path: Path, tmp_path: Path) -> None:
    store = OrderStore(path, tmp_path / "state")
    assert not store.changed_on_disk
    write_order(path, noted("theirs"))
    assert store.changed_on_disk
    with pytest.raises(ChangedOnDiskError):
        store.save(noted("ours"))
    assert read_order(path).notes == "theirs"
    store.save(noted("ours"), over_changes=True)
    assert read_order(path).notes == "ours"
    assert not store.changed_on_disk
    store.close()


def test_recovered_edits_from_another_state_of_the_file_say_so(path: Path, tmp_path: Path) -> None:
    store = OrderStore(path, tmp_path / "state")
    store.commit("note", noted("mine"))
    store.close()
    write_order(path, noted("theirs"))
    again = OrderStore(path, tmp_path / "state")
    assert again.starts_from_elsewhere
    again.close()


def test_save_as_moves_the_lock(path: Path, tmp_path: Path) -> None:
    store = OrderStore(path, tmp_path / "state")
    moved = store.save_as(tmp_path / "b.loom.json", noted("b"))
    OrderStore(path, tmp_path / "state").close()
    with pytest.raises(OrderLockedError):
        OrderStore(tmp_path / "b.loom.json", tmp_path / "state")
    moved.close()


def test_a_broken_file_leaves_no_lock_behind(path: Path, tmp_path: Path) -> None:
    good = path.read_text()
    path.write_text("{")
    with pytest.raises(DocumentError):
        OrderStore(path, tmp_path)
    path.write_text(good)
    OrderStore(path, tmp_path).close()


def test_version_1_is_brought_up(tmp_path: Path) -> None:
    old = {
        "format": "vivid-loom-order",
        "version": 1,
        "hull": "1",
        "title": "old",
        "revision": 3,
        "boat": "qh-86.boat.json",
        "station_date": "2026-12-07",
        "options": ["radar"],
        "extra": {"switches": [{"id": "s", "part": "p", "legend": "L"}]},
    }
    path = tmp_path / "old.loom.json"
    path.write_text(json.dumps(old))
    order = read_order(path)
    assert order.added.switches[0].legend == "L"
    assert order.options == ("radar",)
    write_order(path, order)
    assert json.loads(path.read_text())["version"] == 3
    assert read_order(path) == order


def test_a_newer_version_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "new.loom.json"
    path.write_text(json.dumps({"format": "vivid-loom-order", "version": 4}))
    with pytest.raises(DocumentError, match="newer program"):
        read_order(path)
