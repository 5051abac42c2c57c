"""Stage Harness: board, plugs, cut list, ticks and the board view, in the real window."""

import datetime
from collections.abc import Callable
from pathlib import Path

import pytest
from pypdf import PdfReader
from PySide6.QtCore import QPoint, Qt
from pytestqt.qtbot import QtBot

from tests.conftest import drafted
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.frame.window import BENCH, HARNESS, MainWindow
from vivid_loom.desktop.harness.parts import parts_of
from vivid_loom.desktop.harness.stage import HarnessStage
from vivid_loom.desktop.harness.wall import WallDialog
from vivid_loom.desktop.widgets.scene_view import SceneView
from vivid_loom.order import read_order, set_override
from vivid_loom.order.records import Override
from vivid_loom.sheets.drawings.build_card import build_card
from vivid_loom.sheets.lists.build_order import bench_rows
from vivid_loom.workshop.harness.built import ticked_wires


@pytest.fixture
def stage(window: MainWindow, qtbot: QtBot) -> HarnessStage:
    return opened(window, qtbot)


def opened(window: MainWindow, qtbot: QtBot) -> HarnessStage:
    window.open_stage(HARNESS)
    view = window.view
    assert isinstance(view, HarnessStage)
    view.harness.setCurrentIndex(view.harness.findData("hardtop"))
    view._show_harness()
    qtbot.waitUntil(lambda: bool(view.boards) and not view.job.running, timeout=120_000)
    window.activateWindow()
    view.view.setFocus()
    qtbot.waitUntil(view.view.hasFocus)
    return view


def click(view: SceneView, kind: str, name: str, qtbot: QtBot) -> None:
    spot = next(s for s in view.spots() if (s.kind, s.id) == (kind, name))
    x, y, w, h = spot.rect
    across, down = view.horizontalScrollBar().value(), view.verticalScrollBar().value()
    point = QPoint(int(x + w / 2) - across, int(y + h / 2) - down)
    qtbot.mouseClick(view.viewport(), Qt.MouseButton.LeftButton, pos=point)


def test_the_board_shows_every_station_and_branch(stage: HarnessStage) -> None:
    kinds = {(s.kind, s.id) for s in stage.view.spots()}
    assert {("station", name) for name in ("pillar", "mast", "masthead", "roof_fore")} <= kinds
    assert {("branch", name) for name in ("T01", "T02", "T04")} <= kinds
    assert "14 wires, 0 built. 3 branches, 4.0 m; board 4.8 × 1.2 m" in stage.told.text()


def test_one_selection_across_board_plugs_and_lists(
    stage: HarnessStage, window: MainWindow, qtbot: QtBot
) -> None:
    for _ in range(9):
        qtbot.keyClick(stage.view, Qt.Key.Key_Plus)
    wire = stage.rows[3].wire_id
    stage.view.select("wire", wire)  # brings its row into view
    click(stage.view, "wire", wire, qtbot)
    assert stage.wire == wire
    assert window.session.selected == stage.rows[3].circuit_id
    assert stage.cut.selected_keys() == (wire,)
    stage.below.setCurrentWidget(stage.plugs)
    assert stage.plugs.selected == ("wire", wire)
    other = next(s.id for s in stage.plugs.spots() if s.id != wire)
    click(stage.plugs, "wire", other, qtbot)
    assert stage.wire == other and stage.view.selected == ("wire", other)
    stage.below.setCurrentWidget(stage.steps)
    assert any("crimp" in row[2].text for row in stage.steps.rows_model.rows)


def test_keys_zoom_and_show_the_whole_board_again(stage: HarnessStage, qtbot: QtBot) -> None:
    whole = stage.view.scale()
    qtbot.keyClick(stage.view, Qt.Key.Key_Plus)
    assert stage.view.scale() > whole
    qtbot.keyClick(stage.view, Qt.Key.Key_0)
    assert stage.view.scale() == pytest.approx(whole)


def test_branches_labels_and_cut_plan_are_listed(stage: HarnessStage) -> None:
    stage.below.setCurrentWidget(stage.branches)
    keys = stage.branches.rows_model.keys
    assert {"T01", "T02", "T04"} <= set(keys)
    stage.branches.selectRow(keys.index("T02"))
    stage._branch_picked()
    assert stage.view.selected == ("branch", "T02")
    stage.below.setCurrentWidget(stage.labels)
    kinds = [row[1].text for row in stage.labels.rows_model.rows]
    assert kinds.count("wire") == 2 * len(stage.rows)
    assert kinds.count("plug") == 2 and kinds.count("harness") == 1
    stage.below.setCurrentIndex(5)
    assert len(stage.plan.rows_model.keys) == len(stage.rows)
    assert "no plan takes less" in stage.plan_told.text()


def test_a_tick_is_kept_with_the_order_while_the_wire_is_the_same(
    open_on: Callable[[Path], MainWindow], own_order: Path, qtbot: QtBot
) -> None:
    window = open_on(own_order)
    stage = opened(window, qtbot)
    row = next(r for r in stage.rows if r.gauge == "16 AWG")
    stage.select_wire(row.wire_id)
    qtbot.keyClick(stage.view, Qt.Key.Key_Space)
    assert not ticked_wires(window.session.draft) and "Who is there?" in window.message.text()
    qtbot.keyClicks(stage.who, "im")
    qtbot.keyClick(stage.view, Qt.Key.Key_Space)
    assert ticked_wires(window.session.draft) == {row.wire_id}
    assert "1 built" in stage.told.text()
    at = stage.cut.rows_model.keys.index(row.wire_id)
    assert stage.cut.rows_model.rows[at][1].text == "built IM"
    window.open_stage(BENCH)
    assert window.view.who.text() == "IM"  # the same hands
    window.session.save()
    (tick,) = read_order(own_order).ticks
    assert (tick.wire, tick.by) == (row.wire_id, "IM")
    assert tick.date == datetime.date.today().isoformat()
    window.session.undo_stack.undo()
    assert not ticked_wires(window.session.draft)
    window.session.undo_stack.redo()
    thicker = Override(
        subject=row.circuit_id, field="gauge", value="10 AWG", reason="test", initials="TT"
    )
    assert window.session.apply(set_override(thicker))
    assert row.wire_id not in ticked_wires(window.session.draft)  # another wire is asked for now


def test_the_board_view_goes_from_wire_to_wire(
    open_on: Callable[[Path], MainWindow], own_order: Path, qtbot: QtBot
) -> None:
    window = open_on(own_order)
    stage = opened(window, qtbot)
    qtbot.keyClick(stage.view, Qt.Key.Key_B)
    wall = stage.findChild(WallDialog)
    assert wall is not None
    wall.activateWindow()
    wall.setFocus()
    qtbot.waitUntil(wall.hasFocus)
    first, second = (row.wire_id for row in wall.rows[:2])
    qtbot.keyClick(wall, Qt.Key.Key_Space)
    assert wall.row.wire_id == first and "NOT TICKED" in wall.told()
    window.session.who = "IM"
    qtbot.keyClick(wall, Qt.Key.Key_Space)
    assert wall.row.wire_id == second and "1 of 14 built" in wall.told()
    last = wall.rows[-1].wire_id
    qtbot.keyClicks(wall, f"{last} somewhere")  # as a barcode wedge types a label
    qtbot.keyClick(wall, Qt.Key.Key_Return)
    assert wall.row.wire_id == last
    qtbot.keyClick(wall, Qt.Key.Key_Return)
    assert wall.row.wire_id == second and "2 of 14 built" in wall.told()
    qtbot.keyClick(wall, Qt.Key.Key_Left)
    qtbot.keyClick(wall, Qt.Key.Key_Space)  # the first one is not built after all
    assert ticked_wires(window.session.draft) == {last}
    assert not wall.grab().isNull()
    tailed = next(row for row in wall.rows if row.to_tail and not row.to_mates)
    card = build_card(window.session.draft, tailed)
    assert card.ends[1].terminal == f"{tailed.to_termination} to {tailed.to_tail}"
    wall.reject()


def test_the_board_is_printed_at_full_size(stage: HarnessStage, tmp_path: Path) -> None:
    path = tmp_path / "board.pdf"
    stage.print_board(path, "A2")
    said: list[str] = []
    stage.said.connect(said.append)
    stage.print_board(tmp_path / "none" / "board.pdf", "A2")
    assert len(PdfReader(path).pages) > 1
    assert "cannot be written" in said[0]


def test_going_to_a_plug_shows_its_harness(stage: HarnessStage, window: MainWindow) -> None:
    assert stage.reveal("X7")
    assert stage.harness_id in ("console", "deck")
    assert stage.wire in {
        w for p in window.session.draft.assembled.plugs for c in p.cavities for w in c.wires
    }


@pytest.mark.parametrize("hull", ["0417", "0421", "0611", "1102"])
def test_every_wire_that_is_to_be_built_can_be_ticked(hull: str) -> None:
    """What joins switches behind a panel stood in no list: no harness was ever *built*."""
    done = drafted(DEMO_FOLDER / f"hull-{hull}.loom.json")
    parts = parts_of(done).values()
    rows = [bench_rows(done, part.harness, with_panel=part.with_panel) for part in parts]
    listed = [row.wire_id for each in rows for row in each]
    assert sorted(listed) == sorted(wire.id for wire in done.assembled.wires)
    assert all(rows) and any(part.with_panel for part in parts)


def test_what_is_built_with_a_panel_is_ticked_in_its_part(
    open_on: Callable[[Path], MainWindow], own_order: Path, qtbot: QtBot
) -> None:
    window = open_on(own_order)
    stage = opened(window, qtbot)
    window.session.who = "IM"
    assert stage.reveal("C01-L1") and stage.part.with_panel
    assert stage.harness.currentText().endswith(", panels") and not stage.boards
    assert "Helm shows where each of them lies" in stage.told.text()
    for pane in range(stage.below.count()):  # each has something to say of it, or nothing
        stage.below.setCurrentIndex(pane)
    stage.tick()
    assert ticked_wires(window.session.draft) == {"C01-L1"}
    stage.ask_print()
    assert "lies on no board" in window.message.text()
    assert stage.reveal("C01-P1") and not stage.part.with_panel
