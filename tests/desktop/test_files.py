"""Nothing is lost: crash, lock, a file changed by others, demo data."""

import dataclasses
import getpass
import os
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtWidgets import QFileDialog, QInputDialog, QMessageBox
from pytestqt.qtbot import QtBot

from vivid_loom.boat import read_boat
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.application import report_to
from vivid_loom.desktop.frame.window import LOADS, ORDER, RUNS, MainWindow
from vivid_loom.desktop.work.recent import recent_orders, remember
from vivid_loom.desktop.work.session import Session
from vivid_loom.order import change_run, read_order, set_heading, write_order

Open = Callable[[Path], MainWindow]
Buttons = QMessageBox.StandardButton


def edit(window: MainWindow) -> None:
    window.views[ORDER].toggle_option("radar", False)


def test_edits_of_every_stage_survive_a_crash(
    open_on: Open, own_order: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    crashed = Session(own_order)
    window = MainWindow(crashed)
    edit(window)
    window.views[LOADS].select_loads(("horn",))
    window.views[LOADS]._cell_edited("horn", 2, "6")
    window.views[RUNS].move_load("searchlight", "mast")
    expected = crashed.order
    crashed._store.close()  # as the system does when a process dies: lock gone, nothing saved
    assert "radar" in read_order(own_order).options

    asked: list[str] = []

    def question(parent: object, title: str, text: str, *rest: object) -> object:
        asked.append(text)
        return Buttons.Yes if "Take them back" in text else Buttons.Discard

    again = open_on(own_order)
    monkeypatch.setattr(QMessageBox, "question", question)
    again.files.offer_recovery()
    assert "3 edits" in asked[0] and "move Searchlight to Mast foot" in asked[0]
    assert again.session.order == expected
    assert again.files.save()
    assert read_order(own_order) == expected
    assert again.session.recovered is None
    window.deleteLater()


def test_undo_is_journalled_too(open_on: Open, own_order: Path) -> None:
    first = Session(own_order)
    first.apply(
        ("rename", set_heading(title="X", customer="", notes="", station_date="2026-12-07")[1])
    )
    first.undo_stack.undo()
    first.close()
    assert open_on(own_order).session.recovered is None


def test_discarded_edits_are_not_offered_again(open_on: Open, own_order: Path) -> None:
    window = open_on(own_order)
    edit(window)
    assert window.files.may_leave()
    window.session.close()
    assert Session(own_order).recovered is None


def test_an_order_edited_elsewhere_opens_to_read_only(open_on: Open, own_order: Path) -> None:
    first = open_on(own_order)
    edit(first)
    second = open_on(own_order)
    assert "Open to read only" in second.message.text()
    assert second.session.read_only and not first.session.read_only
    edit(second)
    before = own_order.read_bytes()
    assert second.files.save_as(own_order.parent / "mine.loom.json")
    assert own_order.read_bytes() == before
    assert "radar" not in read_order(own_order.parent / "mine.loom.json").options


def test_discarding_in_a_second_window_leaves_the_edits_of_the_first(
    open_on: Open, own_order: Path
) -> None:
    """Three edits in A, an edit and *Discard* in B, kill A: all three are offered again."""
    first = open_on(own_order)
    edit(first)
    first.views[LOADS].select_loads(("horn",))
    first.views[LOADS]._cell_edited("horn", 2, "6")
    first.views[RUNS].move_load("searchlight", "mast")
    expected = first.session.order
    second = open_on(own_order)
    assert second.session.recovered is None
    second.views[RUNS].move_load("searchlight", "dash")
    assert second.files.may_leave()  # discards
    second.session.close()
    first.session._store.close()  # killed
    again = Session(own_order)
    assert again.recovered is not None
    assert again.recovered.edits == 3 and again.recovered.order == expected
    again.close()


def test_the_first_to_edit_is_told_to_the_other_and_gives_it_back(
    open_on: Open, own_order: Path, qtbot: QtBot
) -> None:
    first, second = open_on(own_order), open_on(own_order)
    assert not second.session.read_only
    edit(first)
    qtbot.waitUntil(lambda: second.session.read_only, timeout=60_000)
    assert "in another window" in second.message.text()
    first.session.undo_stack.undo()
    first.session.close()
    qtbot.waitUntil(lambda: not second.session.read_only, timeout=60_000)
    assert "this window saves to it" in second.message.text()
    edit(second)
    assert second.files.save() and "radar" not in read_order(own_order).options


def test_an_order_is_taken_over_by_the_name_of_who_has_it(
    open_on: Open, own_order: Path, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    first = open_on(own_order)
    assert not first.files.take_over() and "Nobody else" in first.message.text()
    edit(first)
    second = open_on(own_order)
    asked: list[str] = []

    def typed(*words: object) -> tuple[str, bool]:
        asked.append(str(words[2]))
        return (getpass.getuser() if len(asked) > 1 else "somebody"), True

    monkeypatch.setattr(QInputDialog, "getText", typed)
    assert not second.files.take_over() and second.session.read_only
    assert second.files.take_over() and not second.session.read_only
    assert f"process {os.getpid()}" in asked[0]
    edit(second)
    assert second.files.save()
    elsewhere = str(tmp_path / "elsewhere.loom.json")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (elsewhere, ""))
    before = own_order.read_bytes()
    first.files.save()
    assert own_order.read_bytes() == before and Path(elsewhere).exists()


def test_a_file_changed_by_others_is_reloaded_or_kept(
    open_on: Open, own_order: Path, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_on(own_order)
    theirs = set_heading(title="Theirs", customer="", notes="", station_date="2026-12-07")
    write_order(own_order, theirs[1](read_order(own_order)))
    qtbot.waitUntil(lambda: window.session.order.title == "Theirs", timeout=120_000)
    assert "read again" in window.message.text()
    edit(window)
    again = set_heading(title="Theirs again", customer="", notes="", station_date="2026-12-07")
    write_order(own_order, again[1](read_order(own_order)))
    qtbot.waitUntil(lambda: "changed by another program" in window.message.text(), timeout=120_000)
    assert window.session.order.title == "Theirs"
    monkeypatch.setattr(QMessageBox, "question", lambda *_: Buttons.Cancel)
    assert not window.files.save()
    assert read_order(own_order).title == "Theirs again"
    monkeypatch.setattr(QMessageBox, "question", lambda *_: Buttons.Yes)
    assert window.files.save()
    assert read_order(own_order).title == "Theirs"


def test_a_protected_file_is_asked_about(
    open_on: Open, own_order: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_on(own_order)
    edit(window)
    own_order.chmod(0o444)
    before = own_order.read_bytes()
    asked: list[str] = []
    monkeypatch.setattr(QMessageBox, "question", lambda *a: (asked.append(a[1]), Buttons.Cancel)[1])
    assert not window.files.save()
    assert asked == ["Protected against writing"] and own_order.read_bytes() == before
    monkeypatch.setattr(QMessageBox, "question", lambda *_: Buttons.Yes)
    assert window.files.save()
    assert own_order.read_bytes() != before and own_order.stat().st_mode & 0o777 == 0o444


def test_a_model_is_never_written_over_an_order(open_on: Open, own_order: Path) -> None:
    window = open_on(own_order)
    run = next(r for r in window.session.boat.runs if r.id == "H12")
    assert window.session.apply(change_run(dataclasses.replace(run, length_m=2.0), "measured"))
    before = own_order.read_bytes()
    for name in (own_order.name, "other.loom.json"):
        assert not window.files.write_model(own_order.parent / name)
        assert "a model wants a name of its own" in window.message.text()
    assert own_order.read_bytes() == before
    assert not (own_order.parent / "other.loom.json").exists()


def test_demo_data_is_never_written(
    window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = {p: p.read_bytes() for p in DEMO_FOLDER.iterdir()}
    edit(window)
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *_: (str(DEMO_FOLDER / "x.loom.json"), "")
    )
    assert not window.files.save()
    assert "never written to" in window.message.text()
    assert window.files.save_as(tmp_path / "x.loom.json")
    assert {p: p.read_bytes() for p in DEMO_FOLDER.iterdir()} == before


def test_recent_orders_are_kept_latest_first(tmp_path: Path) -> None:
    paths = [tmp_path / f"{i}.loom.json" for i in range(12)]
    for path in paths:
        path.write_text("{}")
        remember(tmp_path / "state", path)
    assert recent_orders(tmp_path / "state") == tuple(reversed(paths))[:8]
    paths[11].unlink()
    assert recent_orders(tmp_path / "state")[0] == paths[10]
    (tmp_path / "state" / "recent.json").write_text("[1, 2")
    assert recent_orders(tmp_path / "state") == ()


def test_measured_runs_become_the_model(
    open_on: Open, own_order: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_on(own_order)
    window.files.put_into_model()
    assert "nothing to put" in window.message.text()
    run = next(r for r in window.session.boat.runs if r.id == "H12")
    longer = dataclasses.replace(run, length_m=2.0)
    window.session.apply(change_run(longer, "length"))
    assert not window.files.write_model(DEMO_FOLDER / "x.boat.json")
    target = own_order.parent / "measured.boat.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    window.files.put_into_model()
    assert next(r for r in read_boat(target).runs if r.id == "H12").length_m == 2.0


def test_what_went_wrong_is_written_down_as_a_report(
    open_on: Open, own_order: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """With the order or without it, by the hand's choice; never over an order."""
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    window = open_on(own_order)
    window.files.report()
    assert window.message.text() == "Nothing has gone wrong since the start."
    report_to(window)
    try:
        raise IndexError("index -1 is out of bounds")
    except IndexError as error:
        sys.excepthook(IndexError, error, error.__traceback__)
    assert "IndexError" in window.message.text() and "Report what went" in window.message.text()
    to = tmp_path / "report.txt"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(to), ""))
    monkeypatch.setattr(QMessageBox, "question", lambda *_: Buttons.Cancel)
    window.files.report()
    assert not to.exists()
    monkeypatch.setattr(QMessageBox, "question", lambda *_: Buttons.No)
    window.files.report()
    text = to.read_text()
    assert "test_files.py" in text and "index -1 is out of bounds" in text and "PySide6" in text
    assert "== Error 1 of 1" in text and window.session.order.title not in text
    monkeypatch.setattr(QMessageBox, "question", lambda *_: Buttons.Yes)
    window.files.report()
    assert f"== Order\n{own_order.read_text()}" in to.read_text()
    to = own_order
    window.files.report()
    assert read_order(own_order) == window.session.order
    assert "is an order" in window.message.text()
