"""A state never says more than the record: issues, signatures, a missing log, hand-over."""

import dataclasses
import json
from collections.abc import Callable
from pathlib import Path
from typing import Literal

import pytest
from click.testing import CliRunner
from PySide6.QtWidgets import QInputDialog, QMessageBox
from pytestqt.qtbot import QtBot

from tests.bench.test_proven import _text, issued, log_of, prove
from tests.conftest import drafted
from vivid_loom.bench.logbook import Logbook, log_path
from vivid_loom.cli import main
from vivid_loom.commands.drafts import print_differences
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.frame.window import BENCH, ORDER, MainWindow
from vivid_loom.desktop.order.compare import CompareDialog
from vivid_loom.opening import issue_folder, issued_draft
from vivid_loom.order import (
    Override,
    read_order,
    set_override,
    set_state,
    tick_wire,
    write_order,
)
from vivid_loom.queue import queue_entry, with_figures
from vivid_loom.sheets.books import packet_books
from vivid_loom.sheets.packet import sheets_digest
from vivid_loom.workshop.harness.built import tick_of

Open = Callable[[Path], MainWindow]
THICKER = Override(
    subject="N10", field="gauge", value="2.5 mm²", reason="longer lead", initials="IM"
)


@pytest.fixture
def handed_over(tmp_path: Path) -> Path:
    """An order of which everything is proven, and that is called so."""
    plain = drafted(DEMO_FOLDER / "hull-0611.loom.json")
    path = tmp_path / "hull-0611.loom.json"
    order = issued(plain.aboard.order, plain)
    for wire in plain.assembled.wires:
        order = tick_wire(tick_of(wire))[1](order)
    write_order(path, set_state("handed_over")[1](order))
    prove(plain, log_of(tmp_path))
    return path


def test_the_queue_says_what_the_record_bears_out(handed_over: Path) -> None:
    """It read the state in the file: 'handed over' of a boat whose log was gone."""
    assert with_figures(queue_entry(handed_over)).state == "handed over"
    log_path(handed_over).unlink()
    assert with_figures(queue_entry(handed_over)).state == "built"
    told = CliRunner().invoke(main, ["queue", str(handed_over.parent)]).output
    assert "built" in told and "handed over" not in told


def test_an_issue_is_a_record_and_kept_whole(
    open_on: Open, small_order: Path, qtbot: QtBot
) -> None:
    """It was an undo step, and nothing could tell afterwards what the sheets had said."""
    window = open_on(small_order)
    window.open_stage(ORDER)
    stage = window.view
    stage.paper.edit_made.emit(set_override(THICKER))
    stage.decisions.issue("first sheets", "IM")
    digest = sheets_digest(window.session.draft)
    assert "is issued, logged and kept" in window.message.text()
    assert not window.session.undo_stack.canUndo()  # nothing undoes past it
    assert read_order(small_order).revisions[-1].digest == digest  # and it is on disk
    (entry,) = Logbook(small_order).entries
    assert (entry.kind, entry.who, entry.what["number"]) == ("issued", "IM", 1)
    assert len(entry.what["kept"]) == 2  # the order and its boat, each with its digest
    stage.paper.edit_made.emit(set_override(dataclasses.replace(THICKER, value="4 mm²")))
    assert sheets_digest(window.session.draft) != digest
    assert sheets_digest(issued_draft(small_order, 1)) == digest  # the old sheets can be had again
    stage.show_since()
    (dialog,) = (d for d in window.findChildren(CompareDialog))
    qtbot.waitUntil(
        lambda: "Circuits and feeders that differ: " in dialog.note.text(), timeout=60_000
    )
    assert dialog.table.rows_model.headings[1:] == ("revision 1", "now")
    assert window.files.save()
    kept = issue_folder(small_order, 1) / small_order.name
    assert print_differences(kept, small_order) == 1 and print_differences(kept, kept) == 0
    (issue_folder(small_order, 1) / small_order.name).unlink()
    stage.show_since()
    dialogs = window.findChildren(CompareDialog)
    qtbot.waitUntil(
        lambda: any("nothing is kept of revision 1" in d.note.text() for d in dialogs),
        timeout=60_000,
    )


def test_an_issue_that_cannot_be_logged_is_none(
    open_on: Open, small_order: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_on(small_order)
    window.open_stage(ORDER)

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("vivid_loom.desktop.order.decisions.keep_issue", full)
    window.view.decisions.issue("first sheets", "IM")
    assert "Not issued" in window.message.text() and not window.session.order.revisions
    assert not window.session.undo_stack.canRedo() and not window.session.undo_stack.canUndo()
    assert not Logbook(small_order).entries


def test_a_boat_handed_over_is_not_edited_until_the_log_says_why(
    open_on: Open, handed_over: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """An edit kept the label 'handed over'."""
    window = open_on(handed_over)
    window.open_stage(ORDER)
    session, stage = window.session, window.view
    before = session.order
    assert not session.apply(set_override(THICKER)) and session.order == before
    assert "the boat is handed over. Start a change order" in window.message.text()
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("wrong initials", True))
    stage.call_state("tested")
    assert "Who decides?" in window.message.text()
    stage.paper.initials.setText("IM")
    stage.call_state("tested")
    assert session.order.state == "tested" and not session.undo_stack.canUndo()
    last = Logbook(handed_over).entries[-1]
    assert (last.kind, last.what) == ("reopened", {"state": "tested", "reason": "wrong initials"})
    assert session.apply(set_override(THICKER)) and session.order.state == "drafting"


def test_no_state_without_its_record(open_on: Open, handed_over: Path, qtbot: QtBot) -> None:
    window = open_on(handed_over)
    qtbot.wait(1000)
    assert window.session.order.state == "handed_over"  # the record bears it out
    log_path(handed_over).unlink()  # while it is open: the folder is watched
    qtbot.waitUntil(lambda: window.session.order.state == "built", timeout=60_000)
    qtbot.waitUntil(lambda: "It was called handed over, but" in window.message.text())


def test_rework_takes_a_state_back_at_once(open_on: Open, handed_over: Path, qtbot: QtBot) -> None:
    window = open_on(handed_over)
    window.open_stage(BENCH)
    stage = window.view
    stage.wait_for_plans()
    stage.who.setText("im")
    page = stage.ring
    assert page.progress is not None
    step = next(s for s in page.progress.steps if s.touches)
    page.rework(step.touches, "chafed through")
    qtbot.waitUntil(lambda: window.session.order.state == "built", timeout=60_000)
    qtbot.waitUntil(lambda: "is not rung out" in window.message.text())


def test_what_is_not_safe_takes_two_and_a_reason(
    open_on: Open, small_order: Path, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_on(small_order)
    window.open_stage(BENCH)
    stage = window.view
    page = stage.deviations
    stage.tabs.setCurrentWidget(page)
    stage.who.setText("im")
    for field, text in ((page.subject, "N11"), (page.value, "30"), (page.reason, "none left")):
        field.setText(text)
    page.note()
    assert not window.session.undo_stack.canUndo()  # order and log say the same
    stage.who.setText("tw")
    qtbot.waitUntil(lambda: "NOT SAFE" in page.judged.text(), timeout=120_000)
    page.sign()
    assert "say why it may stay" in window.message.text()
    page.answer.setText("until Friday, boat stays on land")
    asked: list[str] = []

    def answered(*told: object) -> tuple[str, bool]:
        asked.append(str(told[2]))
        return ("tw", True) if len(asked) == 1 else ("qh", True)

    monkeypatch.setattr(QInputDialog, "getText", answered)
    page.sign()
    assert "expected somebody besides TW" in window.message.text()
    assert window.session.order.deviations[0].verdict == "open"
    page.sign()
    (done,) = window.session.order.deviations
    assert (done.verdict, done.signed_by) == ("signed", "TW and QH")
    assert read_order(small_order).deviations == (done,) and not window.session.undo_stack.canUndo()


def test_a_boat_changed_on_disk_is_taken_and_told(
    open_on: Open, small_order: Path, tmp_path: Path, qtbot: QtBot
) -> None:
    """A changed boat was taken at the next start without a word, a missing one replaced."""
    window = open_on(small_order)
    assert "the shipped boat of that name is taken" in window.message.text()
    boat = tmp_path / "qh-62.boat.json"
    boat.write_bytes((DEMO_FOLDER / boat.name).read_bytes())
    window.session.open(small_order)
    assert window.session.notice == ""
    metres = sum(w.cut_mm for w in window.session.draft.assembled.wires)
    told = json.loads(boat.read_text())
    told["runs"] = [run | {"length_m": run["length_m"] + 1} for run in told["runs"]]
    boat.write_text(json.dumps(told))
    qtbot.waitUntil(lambda: "was changed by another program" in window.message.text())
    assert sum(w.cut_mm for w in window.session.draft.assembled.wires) > metres
    stands = window.session.draft
    boat.write_text("{")
    qtbot.waitUntil(lambda: "cannot be taken" in window.message.text())
    boat.unlink()
    qtbot.waitUntil(lambda: "is gone: the boat as it was read stands" in window.message.text())
    assert window.session.draft is stands


@pytest.fixture
def decided(monkeypatch: pytest.MonkeyPatch) -> None:
    """Give the same reason for whatever is decided."""
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("the engine is another", True))


@pytest.mark.usefixtures("decided")
def test_a_revision_is_withdrawn_with_a_reason_and_nobody_builds_by_it(
    open_on: Open, small_order: Path
) -> None:
    window = open_on(small_order)
    window.open_stage(ORDER)
    session, stage = window.session, window.view
    stage.decisions.ask_withdrawal()
    assert "No revision stands" in window.message.text()
    stage.paper.initials.setText("IM")
    stage.decisions.issue("first sheets", "IM")
    stage.call_state("released")
    assert session.order.state == "released"
    stage.decisions.ask_withdrawal()
    (revision,) = session.order.revisions
    assert str(revision.withdrawn).startswith("the engine is another (IM, ")
    assert session.order.state == "checked" and not session.undo_stack.canUndo()
    assert [entry.kind for entry in Logbook(small_order).entries] == ["issued", "withdrawn"]
    assert read_order(small_order) == session.order
    stage.call_state("released")
    assert "revision 1 has been withdrawn" in window.message.text()
    assert "first sheets. WITHDRAWN: the engine" in stage.paper.revisions.rows[0][3].text
    (pages,) = (s.pages() for s in packet_books(session.draft)[0].sections[:1])
    assert "Revision 1 is withdrawn: the engine is another" in _text(pages)
    stage.decisions.issue("with the other engine", "IM")
    stage.call_state("released")
    assert session.order.state == "released" and session.order.revision == 3


@pytest.mark.usefixtures("decided")
@pytest.mark.parametrize("kind", ["on hold", "dropped"])
def test_nobody_works_on_an_order_that_is_stopped(
    open_on: Open,
    small_order: Path,
    monkeypatch: pytest.MonkeyPatch,
    kind: Literal["on hold", "dropped"],
) -> None:
    window = open_on(small_order)
    window.open_stage(ORDER)
    session, stage = window.session, window.view
    stage.decisions.ask_stop(kind)
    assert "Who decides?" in window.message.text() and session.order.stop is None
    stage.paper.initials.setText("IM")
    stage.decisions.ask_stop(kind)
    assert read_order(small_order).stop == session.order.stop is not None
    assert not session.apply(set_override(THICKER)) and kind in window.message.text()
    stage.decisions.issue("first sheets", "IM")
    assert not session.order.revisions and kind in window.message.text()
    pages = packet_books(session.draft)[0].sections[1].pages()
    assert f"{kind.upper()}: do not build" in _text(pages)
    assert queue_entry(small_order).stopped == kind
    assert kind in CliRunner().invoke(main, ["queue", str(small_order.parent)]).output
    window.open_stage(BENCH)
    book = window.view.book
    window.session.who = "IM"
    assert not book.add("rework", {"place": "boat", "wires": [], "reason": "r"})
    yes = QMessageBox.StandardButton.Yes
    monkeypatch.setattr(QMessageBox, "question", lambda *_: yes)
    window.message.setText("")
    stage.record_as_built()
    assert not session.order.built and f"the order is {kind}" in window.message.text()
    stage.decisions.ask_to_go_on()
    assert session.order.stop is None and session.apply(set_override(THICKER))
    assert [entry.kind for entry in Logbook(small_order).entries] == ["stopped", "taken up"]


def test_two_old_revisions_stand_side_by_side(
    open_on: Open, small_order: Path, qtbot: QtBot
) -> None:
    window = open_on(small_order)
    window.open_stage(ORDER)
    stage = window.view
    stage.decisions.issue("first sheets", "IM")
    assert window.session.apply(set_override(THICKER))
    stage.decisions.issue("thicker", "IM")
    stage.show_since()
    (dialog,) = window.findChildren(CompareDialog)
    assert (dialog.first.currentText(), dialog.second.currentText()) == ("revision 2", "now")
    dialog.first.setCurrentIndex(0)
    dialog.second.setCurrentIndex(1)
    rows = dialog.table.rows_model
    qtbot.waitUntil(lambda: rows.headings[1:] == ("revision 1", "revision 2"), timeout=60_000)
    changed = {row[0].text.strip() for row in rows.rows if row[1].text != row[2].text}
    assert "gauge" in changed
