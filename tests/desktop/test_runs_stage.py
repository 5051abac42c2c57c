"""Routing and measuring, in the real window: drag, keys, measure, split, join, ways, sections."""

import dataclasses
from collections.abc import Callable

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QDialog, QInputDialog
from pytestqt.qtbot import QtBot

from vivid_loom.desktop.frame.window import ORDER, RUNS, MainWindow
from vivid_loom.desktop.runs.dialogs import AreaDialog, NewRunDialog, RunDialog, StationDialog
from vivid_loom.desktop.runs.stage import RunsStage
from vivid_loom.order import Override, change_station, move_loads, set_override
from vivid_loom.quantities.grid import grid_of_text

Answer = Callable[[Callable[[QDialog], None]], list[str]]


@pytest.fixture
def stage(window: MainWindow) -> RunsStage:
    window.open_stage(RUNS)
    return window.views[RUNS]


def station_of(window: MainWindow, load_id: str) -> str:
    return window.session.draft.aboard.loads[load_id].station


def place(stage: RunsStage, station: str) -> QPoint:
    return QPointF(*stage.view.picture.stations[station][0]).toPoint()


def box(stage: RunsStage, load_id: str) -> QPoint:
    found = next(b for b in stage.view._boxes() if b[0] == load_id)
    return QPointF(found[2] + 12, found[3] + 8).toPoint()


def test_a_load_is_dragged_and_its_figures_change_under_the_hand(
    window: MainWindow, stage: RunsStage, qtbot: QtBot
) -> None:
    left = Qt.MouseButton.LeftButton
    qtbot.mouseClick(stage.view, left, pos=place(stage, "roof_fore"))
    assert stage.view.station == "roof_fore" and "Searchlight" in stage.panel.words.text()
    hand = box(stage, "searchlight")
    qtbot.mousePress(stage.view, left, pos=hand)
    qtbot.mouseMove(stage.view, place(stage, "stem"))
    assert station_of(window, "searchlight") == "roof_fore"
    qtbot.waitUntil(lambda: "C29: loop" in stage.panel.tried.text(), timeout=120_000)
    assert "drop" in stage.panel.tried.text()
    qtbot.mouseRelease(stage.view, left, pos=place(stage, "stem"))
    assert station_of(window, "searchlight") == "stem"
    assert window.session.undo_stack.undoText() == "move Searchlight to Stem"
    assert "Ctrl+Z" in window.message.text()
    window.session.undo_stack.undo()
    assert station_of(window, "searchlight") == "roof_fore"


def test_let_go_over_nothing_leaves_it_where_it_is(
    window: MainWindow, stage: RunsStage, qtbot: QtBot
) -> None:
    left = Qt.MouseButton.LeftButton
    qtbot.mouseClick(stage.view, left, pos=place(stage, "roof_fore"))
    qtbot.mousePress(stage.view, left, pos=box(stage, "searchlight"))
    qtbot.mouseMove(stage.view, QPoint(6, stage.view.height() - 60))
    qtbot.mouseRelease(stage.view, left, pos=QPoint(6, stage.view.height() - 60))
    assert not window.session.undo_stack.canUndo()


def test_the_same_by_keys(window: MainWindow, stage: RunsStage, qtbot: QtBot) -> None:
    view = stage.view
    view.setFocus()
    qtbot.keyClick(view, Qt.Key.Key_Right)
    assert view.station == window.session.boat.helm_station
    view.select(station="roof_fore")
    qtbot.keyClick(view, Qt.Key.Key_L)
    while view.load != "searchlight":
        qtbot.keyClick(view, Qt.Key.Key_L)
    assert window.session.selected == "C29"
    qtbot.keyClick(view, Qt.Key.Key_M)
    qtbot.keyClick(view, Qt.Key.Key_Right)
    target = view._target
    assert target and target != "roof_fore"
    qtbot.keyClick(view, Qt.Key.Key_Escape)
    assert station_of(window, "searchlight") == "roof_fore"
    qtbot.keyClick(view, Qt.Key.Key_M)
    qtbot.keyClick(view, Qt.Key.Key_Right)
    qtbot.keyClick(view, Qt.Key.Key_Return)
    assert station_of(window, "searchlight") == target
    qtbot.keyClick(view, Qt.Key.Key_N)
    assert view.run and target in next(r for r in window.session.boat.runs if r.id == view.run).ends


def test_a_circuit_is_sent_by_way_of_a_station_and_back(
    window: MainWindow, stage: RunsStage, qtbot: QtBot
) -> None:
    window.session.select("C07")
    stage.view.select(station="galley")
    stage.view.setFocus()
    qtbot.keyClick(stage.view, Qt.Key.Key_V)
    row = window.session.draft.circuit("C07")
    assert row is not None and any("galley" in p.stations for p in row.paths)
    assert window.session.order.way("C07") == ("galley",)
    qtbot.keyClick(stage.view, Qt.Key.Key_V)
    assert window.session.order.way("C07") == ()


def test_a_trunk_shows_every_wire_of_it_packed(
    window: MainWindow, stage: RunsStage, qtbot: QtBot
) -> None:
    stage.wait_for_bundles()
    a, b = stage.view.picture.runs["K12"][0]
    middle = QPointF((a[0] + b[0]) / 2, (a[1] + b[1]) / 2).toPoint()
    qtbot.mouseClick(stage.view, Qt.MouseButton.LeftButton, pos=middle)
    assert stage.view.run == "K12" and stage.panel.picture.isVisible()
    words = stage.panel.words.text()
    count = len(stage.sections["K12"].members)
    assert f"{count} wires pack to" in words and "Wants" in words and "go on into" in words
    assert not stage.panel.grab().isNull()


def test_bundles_come_off_the_gui_thread_and_follow_an_edit(
    window: MainWindow, stage: RunsStage, qtbot: QtBot
) -> None:
    qtbot.waitUntil(lambda: not stage._job.running, timeout=240_000)
    before = stage.sections["T02"].diameter_mm
    window.views[ORDER].toggle_option("radar", False)
    qtbot.waitUntil(lambda: not stage._job.running, timeout=240_000)
    assert stage.sections["T02"].diameter_mm < before


def test_a_run_is_measured_in_feet_and_given_a_conduit(
    window: MainWindow, stage: RunsStage, answer: Answer
) -> None:
    stage.view.select(run="K12")

    def measure(dialog: QDialog) -> None:
        assert isinstance(dialog, RunDialog)
        dialog.length.setText("lots")
        dialog._accept()
        assert "expected a length" in dialog.problem.text()
        dialog.length.setText("12 ft")
        dialog.bore.setCurrentIndex(dialog.bore.findData(20.0))
        dialog.near.setText("ghost 3 mm")
        dialog._accept()
        assert "ghost" in dialog.problem.text()
        dialog.near.setText("fuel line 80 mm, compass 400")
        dialog.swing.setText("0.3 m, 0.25 m, 70°, 120°")
        dialog.support.setText("150 mm")
        dialog._accept()

    answer(measure)
    stage.hands.ask_measure()
    run = next(r for r in window.session.boat.runs if r.id == "K12")
    assert run.length_m == pytest.approx(3.6576) and run.bore_mm == 20.0
    assert run.swing is not None and run.support_mm == 150.0 and len(run.near) == 2
    codes = {f.code for f in window.session.draft.findings if "K12" in f.subjects}
    assert {"R01", "R02", "R03"} <= codes
    assert window.rail._marks[3]  # that of Runs
    assert "fuel line at 80 mm: wants 100 mm" in stage.panel.words.text()
    window.reveal("K12")
    window.session.undo_stack.undo()
    assert next(r for r in window.session.boat.runs if r.id == "K12").length_m == 1.3


def test_split_join_new_run_new_station_place_remove(
    window: MainWindow, stage: RunsStage, answer: Answer, monkeypatch: pytest.MonkeyPatch
) -> None:
    stage.hands.ask_measure()
    assert "Pick a run first" in window.message.text()
    stage.view.select(run="H12")
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("500 mm", True))

    def name_it(dialog: QDialog) -> None:
        assert isinstance(dialog, StationDialog)
        dialog._accept()
        assert "wants a name" in dialog.problem.text()
        dialog.name.setText("Bulkhead 3")
        dialog._accept()

    answer(name_it)
    stage.hands.ask_split()
    runs = {r.id: r for r in window.session.boat.runs}
    assert runs["H12a"].length_m == 0.5 and "bulkhead_3" in runs["H12b"].ends
    stage.view.select(run="H12a")
    monkeypatch.setattr(QInputDialog, "getItem", lambda *_: ("H12b", True))
    stage.hands.ask_join()
    assert "H12a+H12b" in {r.id for r in window.session.boat.runs}

    def new_station(dialog: QDialog) -> None:
        assert isinstance(dialog, StationDialog)
        dialog.name.setText("Locker")
        dialog._accept()

    answer(new_station)
    stage.hands.ask_new_station()
    assert stage.station is not None and stage.station.name == "Locker"

    def new_run(dialog: QDialog) -> None:
        assert isinstance(dialog, NewRunDialog)
        dialog.ends[1].setCurrentIndex(dialog.ends[1].findData("locker"))
        dialog._accept()
        assert "two different ends" in dialog.problem.text()
        dialog.ends[1].setCurrentIndex(dialog.ends[1].findData("deck_p"))
        dialog.length.setText("90 cm")
        dialog._accept()

    answer(new_run)
    stage.hands.ask_new_run()
    assert stage.run is not None and stage.run.length_m == pytest.approx(0.9)

    def put_elsewhere(dialog: QDialog) -> None:
        assert isinstance(dialog, StationDialog)
        dialog.place[0].setValue(5.5)
        dialog._accept()

    stage.view.select(station="locker")
    answer(put_elsewhere)
    stage.hands.ask_place()
    assert next(s for s in window.session.boat.stations if s.id == "locker").x_m == 5.5
    stage.view.select(run="Y01")
    stage.hands.remove_run()
    assert "Y01" not in {r.id for r in window.session.boat.runs}
    stage.view.select(run="T02")
    stage.hands.remove_run()
    assert "cannot be reached" in window.message.text()
    while window.session.undo_stack.canUndo():
        window.session.undo_stack.undo()
    assert window.session.boat == window.session.model


def test_a_survey_is_taken_as_one_edit(window: MainWindow, stage: RunsStage) -> None:
    stage.hands.take_survey(
        grid_of_text("run;from;to;length\nH12;tank_trunk;battery;2,5 m\nX;a;b;1\n")
    )
    assert "Took 0 stations and 1 runs" in window.message.text()
    assert "row 3" in window.message.text()
    assert next(r for r in window.session.boat.runs if r.id == "H12").length_m == 2.5
    window.session.undo_stack.undo()
    stage.hands.take_survey(grid_of_text("nothing;here\n"))
    assert "No station and no run" in window.message.text()


def test_every_weight_and_view_is_a_picture_of_its_own(stage: RunsStage) -> None:
    stage.wait_for_bundles()
    seen: list[QImage] = []
    for measure in range(stage.measure.count()):
        stage.measure.setCurrentIndex(measure)
        for shown in range(stage.shown.count()):
            stage.shown.setCurrentIndex(shown)
            picture = stage.view.picture
            assert set(picture.runs) == {r.id for r in stage.session.boat.runs}
            image = stage.view.grab().toImage()
            assert all(image != other for other in seen), (measure, shown)
            seen.append(image)
    assert len(seen) == 18


def test_an_area_gets_other_zone_attributes(
    window: MainWindow, stage: RunsStage, answer: Answer
) -> None:
    stage.hands.ask_area()
    assert "Pick a run or a station" in window.message.text()
    stage.view.select(station="dash")

    def wet_and_hot(dialog: QDialog) -> None:
        assert isinstance(dialog, AreaDialog)
        dialog.water.setCurrentText("submersible")
        dialog.checks["fuel_vapour"].setChecked(True)
        dialog.ambient.setValue(45)
        dialog._accept()

    answer(wet_and_hot)
    stage.hands.ask_area()
    area = next(a for a in window.session.boat.areas if a.id == "wheelhouse")
    assert area.fuel_vapour and area.water == "submersible" and area.ambient_c == 45
    codes = {f.code for f in window.session.draft.findings if f.severity == "error"}
    assert {"A12", "A13"} & codes
    window.session.undo_stack.undo()
    assert window.session.boat == window.session.model


def test_the_picture_that_stands_is_the_one_a_fresh_look_gives(
    window: MainWindow, stage: RunsStage
) -> None:
    """After each edit: kept where it says the same, made anew where it does not."""
    view, session = stage.view, window.session
    stands = view.picture
    gauge = Override(subject="C08", field="gauge", value="10 AWG", reason="t", initials="t")
    assert session.apply(set_override(gauge)) and view.picture is stands
    load = session.draft.aboard.loads["searchlight"]
    stem = next(s for s in session.boat.stations if s.id == "stem")
    dry = dataclasses.replace(session.boat.stations[0], z_m=0.1)
    renamed = dataclasses.replace(stem, name="Stemhead")
    for edit in (move_loads((load,), stem), change_station(dry), change_station(renamed)):
        before = view.picture
        assert session.apply(edit) and view.picture != before
        stood = view.picture
        view.set_shown("both")  # laid out anew
        assert view.picture is not stood and view.picture == stood
    session.undo_stack.setClean()
