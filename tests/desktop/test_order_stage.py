"""Taking the order, in the real window: queue, options, profile, papers, as built."""

import dataclasses
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import QDate, Qt
from PySide6.QtWidgets import QDialog, QInputDialog, QMessageBox
from pytestqt.qtbot import QtBot

from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.frame.window import ORDER, MainWindow
from vivid_loom.desktop.order.new_boat import BoatDialog
from vivid_loom.desktop.order.new_order import OrderDialog, boat_choices
from vivid_loom.desktop.order.stage import UNTICKED
from vivid_loom.desktop.widgets.record_form import RecordDialog
from vivid_loom.desktop.widgets.theme import LIGHT
from vivid_loom.drafting.after.landings import landings_of
from vivid_loom.order import add_fit, drop_option, read_order, tick_wire
from vivid_loom.workshop.harness.built import tick_of

Open = Callable[[Path], MainWindow]
Answer = Callable[[Callable[[QDialog], None]], list[str]]

Buttons = QMessageBox.StandardButton
ERRORS_0423 = 77  # 14 of them sneak circuits
READ_MS = 240_000  # orders are read and drafted off the GUI thread, as fast as the machine is


def test_the_queue_fills_with_hours_and_findings(window: MainWindow, qtbot: QtBot) -> None:
    window.open_stage(ORDER)
    queue = window.views[ORDER].queue
    qtbot.waitUntil(lambda: not queue.job.running, timeout=READ_MS)
    shown = queue.shown()
    assert [e.due for e in shown] == sorted(e.due for e in shown)
    assert {e.hull for e in shown} >= {"0417", "0421", "0423"}
    assert all(e.hours and e.errors is not None for e in shown)
    assert next(e for e in shown if e.hull == "0423").errors == ERRORS_0423
    assert next(e for e in shown if e.hull == "0417").due == "2026-12-04"


def test_the_queue_is_searched_and_opened_by_keys(window: MainWindow, qtbot: QtBot) -> None:
    window.open_stage(ORDER)
    queue = window.views[ORDER].queue
    qtbot.keyClicks(queue.search, "metric")
    qtbot.waitUntil(lambda: [e.hull for e in queue.shown()] == ["0421"], timeout=READ_MS)
    qtbot.waitUntil(lambda: len(queue.model.keys) == 1)
    queue.table.selectRow(0)
    queue.table.setFocus()
    qtbot.keyClick(queue.table, Qt.Key.Key_Return)
    assert window.session.order.hull == "0421"
    assert window.head.title.text().endswith("0421")


def test_an_option_is_made_of_what_the_order_adds_and_changed(
    open_on: Open, own_order: Path, answer: Answer, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_on(own_order)
    window.open_stage(ORDER)
    stage = window.views[ORDER]
    stage.ask_new_option()
    assert "nothing of its own" in window.message.text()
    order = window.session.order
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("Big lamp", True))
    light = window.session.model.option("searchlight").adds
    window.session.apply(drop_option("searchlight", "Searchlight"))
    assert window.session.apply(add_fit(light))

    def describe(dialog: QDialog) -> None:
        assert isinstance(dialog, RecordDialog)
        assert not dialog.form.fields["id"].isEnabled() and "adds" not in dialog.form.fields
        dialog.form.fields["text"].setText("A lamp to find pots by.")
        dialog.form.fields["joins"].setText("C19")
        dialog._accept()
        assert "expected two ids" in dialog.problem.text()
        dialog.form.fields["joins"].setText("")
        dialog._accept()

    answer(describe)
    stage.ask_new_option()
    assert window.session.order.added.loads == () != light.loads
    assert {"big_lamp", *order.options} - {"searchlight"} == set(window.session.order.options)
    row = stage.options.rows["big_lamp"]
    assert row.box.isChecked() and window.session.draft.circuit("C29")
    monkeypatch.setattr(QInputDialog, "getItem", lambda *_, **__: ("Big lamp", True))

    def rename(dialog: QDialog) -> None:
        assert isinstance(dialog, RecordDialog)
        dialog.form.fields["group"].setText("Deck")
        dialog._accept()

    answer(rename)
    stage.ask_option()
    assert window.session.model.option("big_lamp").group == "Deck"
    assert "change option Big lamp" in window.message.text()
    stage.options.rows["big_lamp"].box.setChecked(False)
    assert window.session.draft.circuit("C29") is None


def test_a_file_that_cannot_be_read_is_listed_with_its_error(
    open_on: Open, own_order: Path, qtbot: QtBot
) -> None:
    (own_order.parent / "broken.loom.json").write_text('{"format": "vivid-loom-order"}')
    window = open_on(own_order)
    window.open_stage(ORDER)
    queue = window.views[ORDER].queue
    qtbot.waitUntil(lambda: any("version" in e.problem for e in queue.shown()), timeout=READ_MS)
    told = next(e for e in queue.shown() if e.problem)
    assert told.path.name == "broken.loom.json"


def test_effects_stand_beside_an_option_before_it_is_ticked(
    window: MainWindow, qtbot: QtBot
) -> None:
    window.open_stage(ORDER)
    stage = window.views[ORDER]
    stage.tabs.setCurrentWidget(stage.options)
    qtbot.waitUntil(lambda: not stage.options.job.running, timeout=READ_MS)
    told = stage.options.rows["radar"].effect.text()
    before = len(window.session.draft.assembled.wires)
    stage.options.rows["radar"].box.setChecked(False)
    gone = before - len(window.session.draft.assembled.wires)
    assert told.startswith("Dropping it") and f"−{gone} wires" in told and "−42 W" in told
    assert f"−{gone} wires" in window.message.text()
    qtbot.waitUntil(lambda: not stage.options.job.running, timeout=READ_MS)
    assert f"Ticking it: +{gone} wires" in stage.options.rows["radar"].effect.text()
    assert "Loud hailer" in stage.options.rows["stereo"].effect.text()


def test_a_choice_of_the_profile_says_what_it_changes_and_can_be_undone(
    window: MainWindow, qtbot: QtBot
) -> None:
    window.open_stage(ORDER)
    stage = window.views[ORDER]
    stage.tabs.setCurrentWidget(stage.profile)
    told = stage.profile.effects["shop_floor"]
    qtbot.waitUntil(lambda: "14 AWG" in told.text() and "kg" in told.text(), timeout=120_000)
    combo = stage.profile.combos["shop_floor"]
    combo.setCurrentIndex(combo.findData("14 AWG"))
    combo.activated.emit(combo.currentIndex())
    assert window.session.draft.aboard.profile.shop_floor == "14 AWG"
    assert "One choice differs" in stage.profile.departs.text()
    window.session.undo_stack.undo()
    assert window.session.draft.aboard.profile.shop_floor == "16 AWG"


def test_heading_wishes_and_revisions(window: MainWindow, qtbot: QtBot) -> None:
    window.open_stage(ORDER)
    stage = window.views[ORDER]
    stage.tabs.setCurrentWidget(stage.paper)
    paper = stage.paper
    qtbot.keyClicks(paper.new_wish, "a quiet pump")
    qtbot.keyClick(paper.new_wish, Qt.Key.Key_Return)
    assert window.session.order.wishes[0].text == "a quiet pump"
    assert window.rail._marks[0] == "1"
    paper.wishes.setData(paper.wishes.index(0, 1), "fitted: rubber mounts")
    assert window.session.order.wishes[0].answer.startswith("fitted")
    paper.fields["station_date"].setText("7 December")
    paper.fields["station_date"].editingFinished.emit()
    assert "expected a date" in window.message.text()
    paper.fields["title"].setText("Tender, second thoughts")
    paper.fields["title"].editingFinished.emit()
    assert window.session.order.title == "Tender, second thoughts"
    paper._issue()
    assert "initials" in window.message.text()
    paper.about.setText("first issue")
    paper.initials.setText("QH")
    paper._issue()
    assert window.session.order.revision == 2
    assert window.session.order.landings == landings_of(window.session.draft)
    assert "those of the last revision" in paper.since.text()
    stage.toggle_option("radar", False)
    assert "have changed" in paper.since.text()


def test_a_new_order_is_made_opened_and_saved_where_it_was_asked(
    open_on: Open, own_order: Path, answer: Answer
) -> None:
    window = open_on(own_order)

    def fill(dialog: QDialog) -> None:
        assert isinstance(dialog, OrderDialog)
        dialog._accept()
        assert "hull number" in dialog.problem.text()
        dialog.hull.setText("0431")
        dialog.title.setText("Spare tender")
        dialog.date.setDate(QDate(2026, 12, 14))
        assert "Friday 11 December" in dialog.due.text()
        dialog._accept()

    seen = answer(fill)
    window.files.new_order()
    assert seen == ["New order"]
    path = own_order.parent / "hull-0431.loom.json"
    assert window.session.path == path and read_order(path).title == "Spare tender"
    assert path in window.files.recent()


def test_a_duplicate_keeps_decisions_and_the_first_file_stays(
    open_on: Open, own_order: Path, answer: Answer
) -> None:
    window = open_on(own_order)
    before = own_order.read_bytes()

    def fill(dialog: QDialog) -> None:
        assert isinstance(dialog, OrderDialog)
        dialog.hull.setText("0417")
        dialog._accept()
        assert "is there already" in dialog.problem.text()
        dialog.hull.setText("0499")
        dialog._accept()

    answer(fill)
    window.files.duplicate()
    assert window.session.order.hull == "0499"
    assert window.session.order.options == read_order(own_order).options
    assert own_order.read_bytes() == before


def test_what_nobody_ticked_is_asked_for_before_it_is_recorded(
    open_on: Open, own_order: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """What lies in the boat is never assumed: left out, or recorded with a note."""
    window = open_on(own_order)
    window.open_stage(ORDER)
    stage, session = window.views[ORDER], window.session
    ticked = session.draft.assembled.wires[:3]
    for wire in ticked:
        assert session.apply(tick_wire(tick_of(wire)))
    asked: list[str] = []

    def question(*told: object) -> object:
        asked.append(str(told[2]))
        return answers.pop(0)

    answers = [Buttons.Cancel, Buttons.No, Buttons.Yes]
    monkeypatch.setattr(QMessageBox, "question", question)
    stage.record_as_built()
    assert not session.order.built and not session.order.built_with
    every = len(session.draft.assembled.wires)
    assert f"{every - 3} of {every} wires are not ticked" in asked[0]
    stage.record_as_built()
    assert {lies.id for lies in session.order.built} == {wire.id for wire in ticked}
    assert {one.circuit for one in session.order.built_with} == {w.circuit for w in ticked}
    assert all(not lies.note for lies in session.order.built)
    stage.record_as_built()
    assert len(session.order.built) == every
    notes = {lies.id: lies.note for lies in session.order.built}
    assert sum(note == UNTICKED for note in notes.values()) == every - 3
    asked.clear()
    stage.record_as_built()  # all is known by now
    assert not asked
    answers.append(Buttons.Discard)  # when the window closes


def test_a_change_order_starts_from_what_is_built(
    open_on: Open, own_order: Path, answer: Answer, monkeypatch: pytest.MonkeyPatch
) -> None:
    """It takes everything along but the papers, keeps the hull's number, and warns of a second."""
    window = open_on(own_order)
    window.open_stage(ORDER)
    stage = window.views[ORDER]
    window.files.change_order()
    assert "as built" in window.message.text()
    monkeypatch.setattr(QMessageBox, "question", lambda *_: Buttons.Yes)
    stage.record_as_built()
    laid = len(window.session.draft.assembled.wires)
    assert f"keeps {laid}, adds 0, takes off 0" in stage.paper.built.text()
    monkeypatch.setattr(QMessageBox, "question", lambda *_: Buttons.Discard)
    assert window.files.save()
    first, told = window.session.order, []

    def fill(dialog: QDialog) -> None:
        assert isinstance(dialog, OrderDialog)
        told.append((dialog.windowTitle(), dialog.hull.text(), dialog.problem.text()))
        dialog._accept()

    answer(fill)
    window.files.change_order()
    order = window.session.order
    assert order.based_on == "0417" and len(order.built) == laid and order.state == "drafting"
    for name in ("customer", "notes", "wishes", "accepted", "jumpers", "landings", "built_with"):
        assert getattr(order, name) == getattr(first, name), name
    assert first.landings and first.accepted and not order.revisions and not order.ticks
    stage.toggle_option("radar", False)
    assert "takes off" in stage.paper.built.text()
    off = window.session.draft.reuse.comes_off
    assert off and {lies.circuit for lies in off} == {"C30"}
    assert window.files.save() and window.files.open_order(own_order)
    answer(fill)
    window.files.change_order()
    assert [hull for _, hull, _ in told] == ["0417-B", "0417-C"]
    assert told[0][0] == "Change order" and "changed already" not in told[0][2]
    assert "changed already by hull-0417-B.loom.json" in told[1][2]


def test_a_new_boat_can_be_ordered_at_once(
    open_on: Open, own_order: Path, answer: Answer, monkeypatch
) -> None:  # type: ignore[no-untyped-def]
    window = open_on(own_order)
    dialog = BoatDialog(LIGHT, window)
    dialog.name.setText("Quillhaven skiff")
    dialog.length.setValue(5.4)
    assert dialog._areas[-1].to_m == 5.4
    assert dialog.areas.setData(dialog.areas.index(0, 0), "Well")
    assert dialog._areas[0].name == "Well"
    assert not dialog.areas.setData(dialog.areas.index(0, 1), "long")
    dialog.areas.setData(dialog.areas.index(0, 1), "99")
    assert not dialog.take.isEnabled() and "further forward" in dialog.problem.text()
    dialog.areas.setData(dialog.areas.index(0, 1), "0,8")
    dialog._split_area()
    assert dialog.take.isEnabled() and len(dialog._areas) == 5
    assert not dialog.grab().isNull()
    made = own_order.parent / "skiff.boat.json"
    monkeypatch.setattr(
        "vivid_loom.desktop.frame.file_actions.QFileDialog.getSaveFileName",
        lambda *_: (str(made), ""),
    )
    monkeypatch.setattr("vivid_loom.desktop.frame.file_actions.BoatDialog", lambda *_: dialog)
    monkeypatch.setattr(dialog, "exec", lambda: QDialog.DialogCode.Accepted)

    def fill(asked: QDialog) -> None:
        assert isinstance(asked, OrderDialog)
        assert asked.boat.currentData() == "skiff.boat.json"
        asked.hull.setText("1")
        asked.title.setText("First skiff")
        asked._accept()

    answer(fill)
    window.files.new_boat()
    assert window.session.model.name == "Quillhaven skiff"
    assert boat_choices(own_order.parent, DEMO_FOLDER)["skiff.boat.json"].words.startswith(
        "Quillhaven"
    )
    assert not window.session.draft.circuits


def pick_state(window: MainWindow, state: str) -> None:
    paper = window.views[ORDER].paper
    paper.state.setCurrentIndex(paper.state.findData(state))
    paper.state.activated.emit(paper.state.currentIndex())


def test_errors_stop_every_step(open_on: Open) -> None:
    window = open_on(DEMO_FOLDER / "hull-0423.loom.json")
    window.open_stage(ORDER)
    paper = window.views[ORDER].paper
    for state in ("checked", "released"):
        pick_state(window, state)
        assert f"{ERRORS_0423} errors stand open" in window.message.text()
        assert window.session.order.state == "drafting"
        assert paper.state.currentData() == "drafting"
    window.views[ORDER].decisions.issue("first sheets", "IM")
    assert f"Not issued: {ERRORS_0423} errors" in window.message.text()
    assert not window.session.order.revisions


def test_an_order_goes_as_far_as_it_is_proven(window: MainWindow, qtbot: QtBot) -> None:
    window.open_stage(ORDER)
    pick_state(window, "released")
    assert "Not released yet: no revision has been issued" in window.message.text()
    pick_state(window, "checked")
    assert window.session.order.state == "checked"
    window.views[ORDER].decisions.issue("first sheets", "IM")
    pick_state(window, "released")
    assert window.session.order.state == "released"
    assert window.head.state.text() == "released"
    pick_state(window, "built")
    assert "wires are not ticked as built" in window.message.text()
    window.views[ORDER].toggle_option("radar", False)
    assert window.session.order.state == "drafting"  # other work: nothing is released of it
    told = "It was released; since this edit it is drafting."
    qtbot.waitUntil(lambda: window.message.text().startswith(told))
    window.session.undo_stack.undo()
    assert window.session.order.state == "released"
    pick_state(window, "drafting")  # a step back is free
    assert window.session.order.state == "drafting"


def test_saving_brings_the_queue_up_to_date(open_on: Open, own_order: Path, qtbot: QtBot) -> None:
    window = open_on(own_order)
    window.open_stage(ORDER)
    queue = window.view.queue
    qtbot.waitUntil(lambda: any(e.hull == "0417" for e in queue.shown()), timeout=READ_MS)
    window.view.paper.edit_made.emit(
        ("call it else", lambda o: dataclasses.replace(o, title="Else"))
    )
    assert not any(e.title == "Else" for e in queue.shown())
    assert window.files.save()
    qtbot.waitUntil(lambda: any(e.title == "Else" for e in queue.shown()), timeout=READ_MS)
