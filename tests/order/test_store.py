"""Nothing is ever lost: journal, lock, changed on disk, kills at random moments."""

import dataclasses
import errno
import getpass
import json
import os
import subprocess
import sys
from pathlib import Path

import pytest
from filelock import FileLock

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


def test_kills_lose_no_committed_edit(tmp_path: Path) -> None:
    write_order(tmp_path / "clean.loom.json", ORDER)
    script = Path(__file__).with_name("kill_runs.py")
    done = subprocess.run(
        [sys.executable, str(script), str(tmp_path), "150"], capture_output=True, text=True
    )
    assert done.returncode == 0, done.stdout + done.stderr
    edited = int(done.stdout.split("kills, ")[1].split(" ")[0])
    assert edited > 100, done.stdout  # most kills must fall into the work, not before it


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
    again.forget_recovered()
    again.close()
    last = OrderStore(path, state)
    last.close()
    assert last.recovered is None
    assert last.order.notes == "two"


def test_a_journal_that_says_what_the_file_says_offers_nothing(path: Path, tmp_path: Path) -> None:
    journal = Journal(path, tmp_path)
    journal.append("note", noted("one"), "")
    assert journal.unsaved() is not None
    write_order(path, noted("one"))
    assert journal.unsaved() is None


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


def test_the_first_edit_locks_the_order_and_closing_frees_it(path: Path, tmp_path: Path) -> None:
    first, second = OrderStore(path, tmp_path), OrderStore(path, tmp_path)
    assert first.may_write and second.may_write
    first.commit("one", noted("one"))
    with pytest.raises(OrderLockedError, match="process"):
        second.save(noted("two"))
    assert not second.may_write and "process" in second.locked_by
    assert "process" in OrderStore(path, tmp_path).locked_by
    first.save(noted("one"))
    first.close()
    second.commit("two", noted("two"))
    assert second.may_write
    with pytest.raises(ChangedOnDiskError):
        second.save(noted("two"))
    second.close()


def test_a_second_window_never_touches_the_edits_of_the_first(path: Path, tmp_path: Path) -> None:
    """Three edits in A; B discards, saves elsewhere, is shut; A dies: all three are offered."""
    state = tmp_path / "state"
    first = OrderStore(path, state)
    for text in ("one", "two", "three"):
        first.commit(text, noted(text))
    second = OrderStore(path, state)
    assert second.recovered is None and not second.may_write
    second.commit("mine", noted("mine"))
    second.discard()
    second.commit("mine", noted("mine"))
    moved = second.save_as(tmp_path / "b.loom.json", noted("mine"))
    moved.close()
    first.close()  # as the system does when a process dies
    again = OrderStore(path, state)
    assert again.recovered is not None
    assert (again.recovered.order.notes, again.recovered.edits) == ("three", 3)
    other = OrderStore(path, state)
    assert other.recovered is None  # one window offers them, not two
    again.forget_recovered()
    for store in (again, other):
        store.close()
    assert OrderStore(path, state).recovered is None


def test_edits_of_two_dead_windows_are_offered_one_after_the_other(
    path: Path, tmp_path: Path
) -> None:
    state = tmp_path / "state"
    stores = [OrderStore(path, state), OrderStore(path, state)]
    for store, text in zip(stores, ("one", "two"), strict=True):
        store.commit(text, noted(text))
    for store in stores:
        store.close()
    told = set()
    for _ in stores:
        store = OrderStore(path, state)
        assert store.recovered is not None
        told.add(store.recovered.order.notes)
        store.forget_recovered()
        store.close()
    assert told == {"one", "two"}
    assert [*state.iterdir()] == []


def test_what_a_crash_left_stays_while_nobody_decides(path: Path, tmp_path: Path) -> None:
    """Edits offered and neither taken nor dropped outlive a save of other edits."""
    state = tmp_path / "state"
    dead = OrderStore(path, state)
    dead.commit("theirs", noted("theirs"))
    dead.close()
    store = OrderStore(path, state)
    store.commit("mine", noted("mine"))
    store.save(noted("mine"))
    store.close()
    again = OrderStore(path, state)
    assert again.recovered is not None and again.recovered.order.notes == "theirs"
    again.close()


def test_an_order_is_taken_over_and_the_other_window_may_not_save(
    path: Path, tmp_path: Path
) -> None:
    first, second = OrderStore(path, tmp_path / "s"), OrderStore(path, tmp_path / "s")
    first.commit("one", noted("one"))
    second.take_over()
    second.save(noted("two"))
    with pytest.raises(OrderLockedError):
        first.save(noted("one"), over_changes=True)
    assert read_order(path).notes == "two" and not first.may_write
    first.commit("again", noted("again"))  # it still keeps its edits
    first.close()  # which gives nothing back that is not its own
    assert (
        second.looked_again() is False and "process" in OrderStore(path, tmp_path / "s").locked_by
    )
    second.close()
    assert OrderStore(path, tmp_path / "s").locked_by == ""


def test_a_save_that_went_well_is_never_told_as_failed(path: Path, tmp_path: Path) -> None:
    """A journal that cannot be removed, and a state folder that is a file."""
    blocked = tmp_path / "state"
    blocked.write_text("not a folder")
    store = OrderStore(path, blocked)
    with pytest.raises(OSError):
        store.commit("one", noted("one"))
    store.save(noted("one"))
    assert read_order(path).notes == "one"
    store.close()
    state = tmp_path / "other"
    store = OrderStore(path, state)
    store.commit("two", noted("two"))
    (journal,) = state.glob("*.journal")
    journal.unlink()
    journal.mkdir()  # cannot be unlinked
    store.save(noted("two"))
    assert read_order(path).notes == "two"
    store.close()


@pytest.mark.parametrize("length", [200, 230, 243])
def test_an_order_with_a_long_name_is_edited_and_saved(tmp_path: Path, length: int) -> None:
    path = tmp_path / ("h" * length + ".loom.json")
    write_order(path, ORDER)
    store = OrderStore(path, tmp_path / "state")
    store.commit("one", noted("one"))
    assert "process" in OrderStore(path, tmp_path / "state").locked_by
    store.save(noted("one"))
    store.close()
    assert read_order(path).notes == "one"


def test_a_folder_that_may_not_be_written_to_opens_to_read_only(
    path: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for number in (errno.EROFS, errno.EACCES):
        store = OrderStore(path, tmp_path / "state")

        def refuse(*_: object, number: int = number, **__: object) -> None:
            raise OSError(number, "no")

        monkeypatch.setattr(FileLock, "acquire", refuse)
        with pytest.raises(PermissionError):
            store.save(noted("one"))
        assert store.read_only and read_order(path).notes == ""


def test_what_is_only_read_gets_no_lock_beside_it(path: Path, tmp_path: Path) -> None:
    """Shipped data: its edits are kept, and nothing is written into its folder."""
    store = OrderStore(path, tmp_path / "state", read_only=True)
    before = {p.name for p in path.parent.iterdir()}
    store.commit("one", noted("one"))
    with pytest.raises(PermissionError):
        store.save(noted("one"))
    assert {p.name for p in path.parent.iterdir()} - before == {"state"}
    store.close()
    again = OrderStore(path, tmp_path / "state", read_only=True)
    assert again.recovered is not None and again.recovered.order.notes == "one"


def test_an_order_that_was_taken_away_is_not_locked_for_nothing(path: Path, tmp_path: Path) -> None:
    store = OrderStore(path, tmp_path / "state")
    path.unlink()
    store.lock()
    assert not [p for p in path.parent.iterdir() if p.name.endswith(".lock")]
    with pytest.raises(ChangedOnDiskError):
        store.save(noted("one"))
    store.save(noted("one"), over_changes=True)
    assert read_order(path).notes == "one"
    store.close()


def test_whoever_has_no_entry_among_the_users_may_edit(
    path: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def nobody() -> str:
        raise KeyError("getpwuid(): uid not found: 4242")

    monkeypatch.setattr(getpass, "getuser", nobody)
    store = OrderStore(path, tmp_path / "state")
    store.commit("one", noted("one"))
    assert OrderStore(path, tmp_path / "state").locked_by.startswith("user ")
    store.close()


def test_a_link_stays_a_link_and_mode_and_owner_stay(path: Path, tmp_path: Path) -> None:
    link = tmp_path / "link.loom.json"
    link.symlink_to(path.name)
    path.chmod(0o640)
    store = OrderStore(link, tmp_path / "state")
    store.save(noted("one"))
    store.close()
    assert link.is_symlink() and read_order(path).notes == "one"
    assert path.stat().st_mode & 0o777 == 0o640
    if os.getuid() == 0:
        os.chown(path, 4242, 4243)
        write_order(link, noted("two"))
        assert (path.stat().st_uid, path.stat().st_gid) == (4242, 4243)


def test_a_pipe_or_device_is_not_read(tmp_path: Path) -> None:
    """Reading one would wait, or go on, for ever."""
    pipe = tmp_path / "pipe.loom.json"
    os.mkfifo(pipe)
    for path in (pipe, Path("/dev/zero")):
        with pytest.raises(DocumentError, match="is no file"):
            read_order(path)
        with pytest.raises(DocumentError, match="is no file"):
            OrderStore(path, tmp_path / "state")


def test_what_is_no_file_is_not_written_over(tmp_path: Path) -> None:
    pipe = tmp_path / "pipe.loom.json"
    os.mkfifo(pipe)
    with pytest.raises(OSError, match="no file"):
        write_order(pipe, ORDER)
    with pytest.raises(OSError, match="no file"):
        write_order(Path("/dev/null"), ORDER)
    assert Path("/dev/null").is_char_device()


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
    store.commit("b", noted("b"))
    moved = store.save_as(tmp_path / "b.loom.json", noted("b"))
    assert OrderStore(path, tmp_path / "state").locked_by == ""
    other = OrderStore(tmp_path / "b.loom.json", tmp_path / "state")
    assert "process" in other.locked_by
    with pytest.raises(OrderLockedError):
        OrderStore(path, tmp_path / "state").save_as(tmp_path / "b.loom.json", noted("c"))
    moved.close()


def test_a_broken_file_leaves_no_lock_behind(path: Path, tmp_path: Path) -> None:
    good = path.read_text()
    path.write_text("{")
    with pytest.raises(DocumentError):
        OrderStore(path, tmp_path)
    path.write_text(good)
    store = OrderStore(path, tmp_path)
    store.lock()
    store.close()


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
