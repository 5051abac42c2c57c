"""The Helm stage in the window: press, turn over, jumper, leave out, move, change."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QDialog, QInputDialog
from pytestqt.qtbot import QtBot

from tests.desktop.hand import Answer, filling
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.frame.window import HELM, MainWindow
from vivid_loom.desktop.helm.reason_dialog import ReasonDialog
from vivid_loom.desktop.helm.stage import HelmStage
from vivid_loom.sheets.paper.drawing import Line, Rect, Text


def helm(window: MainWindow) -> HelmStage:
    window.open_stage(HELM)
    view = window.view
    assert isinstance(view, HelmStage)
    return view


@pytest.fixture
def stage(window: MainWindow) -> HelmStage:
    return helm(window)


def middle(stage: HelmStage, kind: str, name: str) -> QPoint:
    x, y, w, h = next(s.rect for s in stage.view.spots() if (s.kind, s.id) == (kind, name))
    return QPoint(int(x + w / 2), int(y + h / 2) - stage.view.verticalScrollBar().value())


def click(stage: HelmStage, qtbot: QtBot, kind: str, name: str) -> None:
    at = middle(stage, kind, name)
    qtbot.mouseClick(stage.view.viewport(), Qt.MouseButton.LeftButton, pos=at)


def key(stage: HelmStage, qtbot: QtBot, *keys: Qt.Key) -> None:
    stage.window().activateWindow()
    stage.view.setFocus()
    qtbot.waitUntil(stage.view.hasFocus)
    for one in keys:
        qtbot.keyClick(stage.view, one)


def cells(stage: HelmStage) -> list[list[str]]:
    return [[cell.text for cell in row] for row in stage.presses.rows_model.rows]


def signing(reason: str) -> Callable[[QDialog], None]:
    def act(dialog: QDialog) -> None:
        assert isinstance(dialog, ReasonDialog)
        dialog.reason.setText(reason)
        dialog.initials.setText("ab")
        dialog._take()

    return act


def words(window: MainWindow) -> str:
    return window.message.text()


def test_every_switch_of_the_panel_stands_in_its_place_once(stage: HelmStage) -> None:
    draft = stage.session.draft
    placed = {s.request.id for s in draft.switches if s.position}
    spots = [(s.kind, s.id) for s in stage.view.spots()]
    assert {name for kind, name in spots if kind == "switch"} == placed
    assert [kind for kind, _ in spots].count("free") == draft.aboard.boat.positions - len(placed)
    rects = [s.rect for s in stage.view.spots() if s.kind in ("switch", "free")]
    for i, (x, y, w, h) in enumerate(rects):
        for ox, oy, ow, oh in rects[i + 1 :]:
            assert x + w <= ox + 1 or ox + ow <= x + 1 or y + h <= oy or oy + oh <= y


def test_a_whole_panel_is_seen_without_scrolling(stage: HelmStage, window: MainWindow) -> None:
    window.resize(1280, 800)
    window.show()
    QTest.qWait(50)
    panel = stage.session.draft.aboard.boat.panels[0]
    assert len(stage.session.draft.aboard.boat.panels) > 1
    seats = [s.rect for s in stage.view.spots() if s.kind in ("switch", "free")][: panel.positions]
    assert max(y + h for _, y, _, h in seats) <= stage.view.viewport().height()


def test_a_press_shows_what_goes_live_and_lights(stage: HelmStage, qtbot: QtBot) -> None:
    click(stage, qtbot, "press_up", "s_nav")
    assert stage.states == {"s_nav": "up"}
    assert "Side light port" in stage.told.text() and "NOT AS MEANT" not in stage.told.text()
    assert stage.session.selected == "C05"
    rows = {row[0]: row[1:] for row in cells(stage)}
    assert rows["up"] == [
        "1C 1U 2C 2U 2D A+",
        "All-round light, Side light port, Side light starboard",
        "upper",
        "yes",
    ]
    assert rows["down"][1:] == ["All-round light", "lower", "yes"]
    click(stage, qtbot, "press_down", "s_nav")
    assert stage.states == {"s_nav": "down"}
    click(stage, qtbot, "press_down", "s_nav")  # once more: at rest
    assert stage.states == {}
    click(stage, qtbot, "press_down", "s_horn")  # an on-off rocker's other half
    assert stage.states == {}


def test_keys_walk_press_and_turn_over(stage: HelmStage, qtbot: QtBot) -> None:
    stage.view.select("switch", "s_horn")
    key(stage, qtbot, Qt.Key.Key_Right)
    assert stage.switch_id == "s_nav"
    key(stage, qtbot, Qt.Key.Key_Space)
    assert stage.states == {"s_nav": "up"}
    key(stage, qtbot, Qt.Key.Key_Space, Qt.Key.Key_Space)
    assert stage.states == {}
    key(stage, qtbot, Qt.Key.Key_Space, Qt.Key.Key_N)
    assert stage.night
    key(stage, qtbot, Qt.Key.Key_T)
    assert stage.back and "From the wire side" in stage.told.text()
    assert stage.switch_id == "s_nav"
    key(stage, qtbot, Qt.Key.Key_Down)
    assert stage.tab
    key(stage, qtbot, Qt.Key.Key_0)
    assert stage.states == {} and "Every lever at rest" in stage.told.text()


def test_the_back_is_the_face_mirrored_and_live_tabs_are_filled(
    stage: HelmStage, qtbot: QtBot
) -> None:
    front = {s.id: s.rect[0] for s in stage.view.spots() if s.kind == "switch"}
    stage.turn_over()
    back = {s.id: s.rect[0] for s in stage.view.spots() if s.kind == "switch"}
    assert front["s_bp_aft"] < front["s_horn"] and back["s_bp_aft"] > back["s_horn"]
    stage.press("s_nav", "down")

    def fill(tab: str) -> str:
        rect = next(s.rect for s in stage.view.spots() if (s.kind, s.id) == ("tab", tab))
        scene = stage.view.scene()
        assert scene is not None
        return next(
            i.fill
            for i in scene.items
            if isinstance(i, Rect) and (i.x, i.y) == pytest.approx(rect[:2])
        )

    assert fill("s_nav 1D") == fill("s_nav 2U") != fill("s_nav 1U")


def test_every_wire_on_a_tab_is_drawn_and_named(stage: HelmStage) -> None:
    stage.turn_over()
    draft = stage.session.draft
    places = {s.place for s in draft.switches if s.position}
    landed = {w.id for w in draft.assembled.wires for e in (w.start, w.end) if e.place in places}
    assert {s.id for s in stage.view.spots() if s.kind == "wire"} == landed
    scene = stage.view.scene()
    assert scene is not None
    told = {i.text for i in scene.items if isinstance(i, Text)}
    behind = {w.id for w in draft.assembled.wires if {w.start.place, w.end.place} <= places}
    assert landed - behind <= told
    assert any(isinstance(i, Line) for i in scene.items)


def test_a_jumper_by_hand_is_laid_proven_and_taken_back(
    open_on: Callable[[Path], MainWindow], own_order: Path, qtbot: QtBot, answer: Answer
) -> None:
    window = open_on(own_order)
    stage = helm(window)
    before = stage.session.order
    key(stage, qtbot, Qt.Key.Key_J)
    assert "pick a tab first" in words(window)
    stage.turn_over()
    stage.view.select("tab", "s_tank_p 1U")
    key(stage, qtbot, Qt.Key.Key_J)
    assert "pick its other tab" in words(window)
    key(stage, qtbot, Qt.Key.Key_Escape)
    assert "No jumper laid" in words(window)
    key(stage, qtbot, Qt.Key.Key_J)
    stage.view.select("tab", "s_tank_s 1U")
    seen = answer(signing("both pumps by one rocker"))
    key(stage, qtbot, Qt.Key.Key_J)
    assert seen == ["Jumper from s_tank_p 1U to s_tank_s 1U"]
    (jumper,) = stage.session.order.jumpers
    assert jumper.reason == "both pumps by one rocker" and jumper.initials == "ab"
    stage.press("s_tank_p", "up")
    assert "NOT AS MEANT" in stage.told.text() and "runs unasked" in stage.told.text()
    stage.view.select("switch", "s_tank_p")
    assert any("runs unasked" in row[-1] for row in cells(stage))
    laid = next(w.id for w in stage.session.draft.assembled.wires if "-H" in w.id)
    stage.back = True
    stage.view.select("wire", laid)
    key(stage, qtbot, Qt.Key.Key_Delete)
    assert stage.session.order.jumpers == ()
    assert stage.session.order == before
    window.session.undo_stack.undo()
    assert stage.session.order.jumpers == (jumper,)
    stage.hands.all_as_drafted()
    assert stage.session.order.jumpers == ()


def test_a_drafted_jumper_is_left_out_with_a_reason(
    open_on: Callable[[Path], MainWindow], own_order: Path, qtbot: QtBot, answer: Answer
) -> None:
    stage = helm(open_on(own_order))
    stage.turn_over()
    stage.view.select("wire", "C05-P1")
    key(stage, qtbot, Qt.Key.Key_Delete)
    assert "Pick a jumper" in words(stage.window())  # type: ignore[arg-type]
    stage.view.select("wire", "C08-L1")
    answer(signing("lamp is broken"))
    key(stage, qtbot, Qt.Key.Key_Delete)
    assert [j.laid for j in stage.session.order.jumpers] == [False]
    assert "C08-L1" not in {
        w.id for w in stage.session.draft.assembled.wires if w.end.point == "A+"
    }
    assert any(f.code == "A36" for f in stage.session.draft.findings)


def test_a_switch_changes_places_and_stays_there(
    open_on: Callable[[Path], MainWindow],
    own_order: Path,
    answer: Answer,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    stage = helm(open_on(own_order))
    positions = dict(stage.session.draft.allocation.positions)
    stage.view.select("switch", "s_horn")
    monkeypatch.setattr(QInputDialog, "getInt", lambda *_: (1, True))
    answer(signing("under the left hand"))
    stage.hands.ask_position()
    now = stage.session.draft.allocation.positions
    assert now["s_horn"] == 1 and now["s_bp_aft"] == positions["s_horn"]
    assert {n: p for n, p in now.items() if n not in ("s_horn", "s_bp_aft")} == {
        n: p for n, p in positions.items() if n not in ("s_horn", "s_bp_aft")
    }
    stage.session.undo_stack.undo()
    assert stage.session.draft.allocation.positions == positions


def test_a_switch_dragged_onto_a_free_position_moves_there(
    open_on: Callable[[Path], MainWindow], own_order: Path, qtbot: QtBot, answer: Answer
) -> None:
    stage = helm(open_on(own_order))
    port = stage.view.viewport()
    start, end = middle(stage, "press_up", "s_search"), middle(stage, "free", "19")
    answer(signing("nearer the wheel"))
    qtbot.mousePress(port, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseRelease(port, Qt.MouseButton.LeftButton, pos=end)
    assert stage.session.draft.allocation.positions["s_search"] == 19


def test_lamps_and_legend_are_changed_in_the_form(
    open_on: Callable[[Path], MainWindow], own_order: Path, answer: Answer
) -> None:
    stage = helm(open_on(own_order))
    stage.view.select("switch", "s_tank_p")

    answer(filling(lower_lamp="night", legend_says="AERATOR"))
    stage.hands.ask_change()
    switch = next(s for s in stage.session.draft.switches if s.request.id == "s_tank_p")
    assert [use.intent for use in switch.lamps] == ["up", "night"]
    assert switch.request.legend_says == "AERATOR"
    assert any(f.code == "A40" for f in stage.session.draft.findings)


def test_a_switch_without_a_legend_is_drawn_from_both_sides(
    stage: HelmStage, window: MainWindow, answer: Answer
) -> None:
    stage.view.select("switch", "s_tank_p")
    answer(filling(legend=""))
    stage.hands.ask_change()
    switch = next(s for s in window.session.draft.switches if s.request.id == "s_tank_p")
    assert switch.request.legend == ""
    for look in (stage.view._look, stage.view._look._replace(back=True)):
        stage.view.set_look(look)
        assert any(spot.id == switch.request.id for spot in stage.view.spots())


def test_the_steps_wire_the_inner_row_first_and_a_piggyback_before_what_it_carries(
    stage: HelmStage,
) -> None:
    stage.view.select("switch", "s_nav")
    stage._fill()
    rows = [[cell.text for cell in row] for row in stage.steps.rows_model.rows]
    assert [row[0] for row in rows[:2]] == ["1C", "2C"]
    by_tab = [row for row in rows if row[0] == "1U"]
    assert "piggyback" in by_tab[0][3] and by_tab[1][1] == by_tab[0][2]
    on_it = sum(
        e.place == "SW5" for w in stage.session.draft.assembled.wires for e in (w.start, w.end)
    )
    assert len(rows) == on_it


def test_a_finding_of_a_press_leads_to_its_switch(
    open_on: Callable[[Path], MainWindow],
) -> None:
    window = open_on(DEMO_FOLDER / "hull-0423.loom.json")
    window.reveal("s_nav")
    stage = window.view
    assert isinstance(stage, HelmStage) and stage.switch_id == "s_nav"
    assert any("runs unasked" in row[-1] for row in cells(stage))
