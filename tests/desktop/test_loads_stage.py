"""Listing the loads, in the real window: edit, add, paste, import, move, remove, supply."""

from collections.abc import Callable
from pathlib import Path

import pytest
from openpyxl import Workbook
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QDialog, QFileDialog, QInputDialog, QLineEdit
from pytestqt.qtbot import QtBot

from tests.desktop.hand import feeding
from vivid_loom.desktop.frame.window import LOADS, MainWindow
from vivid_loom.desktop.loads.catalogue_dialog import CatalogueDialog
from vivid_loom.desktop.loads.import_dialog import ImportDialog
from vivid_loom.desktop.loads.stage import LoadsStage
from vivid_loom.desktop.loads.supply_dialog import SpareDialog, SupplyDialog
from vivid_loom.desktop.widgets.text_table import BESIDE_PX, CELL_PX
from vivid_loom.sheets.paper.metrics import text_width

Answer = Callable[[Callable[[QDialog], None]], list[str]]


@pytest.fixture
def stage(window: MainWindow) -> LoadsStage:
    window.open_stage(LOADS)
    return window.views[LOADS]


def type_in(stage: LoadsStage, field: str, text: str) -> None:
    made = stage.sheet.inputs[field]
    if isinstance(made, QLineEdit):
        made.setText(text)
        made.editingFinished.emit()
    else:
        assert isinstance(made, QComboBox)
        made.setCurrentText(text)
        made.textActivated.emit(text)


def load(window: MainWindow, load_id: str):  # type: ignore[no-untyped-def]
    return window.session.draft.aboard.loads[load_id]


def test_a_figure_is_typed_in_watts_with_a_comma_and_undone(
    window: MainWindow, stage: LoadsStage
) -> None:
    stage.select_loads(("horn",))
    type_in(stage, "running_a", "90,6 W")
    assert load(window, "horn").running_a == pytest.approx(7.55)
    assert window.session.undo_stack.undoText() == "set running of Horn"
    assert "Ctrl+Z" in window.message.text()
    window.session.undo_stack.undo()
    assert load(window, "horn").running_a == 5.0
    assert stage.sheet.inputs["running_a"].text() == "5"


@pytest.mark.parametrize(
    ("field", "text", "told"),
    [
        ("running_a", "1,200 W", "thousands"),
        ("running_a", "-3", "expected"),
        ("maker_smallest", "thick", "gauge"),
        ("duty_percent", "140", "percentage"),
        ("name", "", "a name"),
        ("peak_a", "lots", "current"),
        ("hours_at anchor", "30", "24"),
        ("longest_on_min", "x", "minutes"),
        ("output_w", "x", "watts"),
    ],
)
def test_what_cannot_stand_is_refused_in_words(
    window: MainWindow, stage: LoadsStage, field: str, text: str, told: str
) -> None:
    stage.select_loads(("horn",))
    before = window.session.order
    type_in(stage, field, text)
    assert told in window.message.text()
    assert window.session.order is before


def test_every_field_of_the_sheet_takes_a_value(window: MainWindow, stage: LoadsStage) -> None:
    stage.select_loads(("horn",))
    for field, text, value in (
        ("name", "Signal horn", "Signal horn"),
        ("peak_a", "9", 9.0),
        ("locked_rotor_a", "12", 12.0),
        ("maker_fuse_best_a", "7.5", 7.5),
        ("maker_fuse_a", "10", 10.0),
        ("maker_smallest", "16 ga", "16 AWG"),
        ("demand", "A", "A"),
        ("drop", "critical", "critical"),
        ("duty_percent", "20 %", 20.0),
        ("longest_on_min", "3 min", 3.0),
        ("state", "wired for later", "wired_for_later"),
        ("function", "alarm", "alarm"),
    ):
        type_in(stage, field, text)
        assert getattr(load(window, "horn"), field) == value, field
    type_in(stage, "efficiency_percent", "80")
    type_in(stage, "output_w", "48 W")
    assert load(window, "horn").running_a == pytest.approx(48 / 0.8 / 12)
    type_in(stage, "evidence_kind", "measured")
    type_in(stage, "evidence_note", "clamp meter")
    assert load(window, "horn").evidence.kind == "measured"
    type_in(stage, "hours_at anchor", "2")
    assert ("at anchor", 2.0) in load(window, "horn").hours
    while window.session.undo_stack.canUndo():
        window.session.undo_stack.undo()
    assert load(window, "horn").name == "Horn" and not load(window, "horn").hours


def test_unknown_stands_out_and_evidence_wants_a_figure(
    window: MainWindow, stage: LoadsStage
) -> None:
    stage.select_loads(("horn",))
    type_in(stage, "running_a", "unknown")
    cells = stage.model.rows[stage.model.keys.index("horn")]
    assert cells[2].text == "unknown" and cells[2].tone == "alarm"
    assert stage.model.keys[0] == "horn" and "Horn" in stage.work.text()
    type_in(stage, "evidence_kind", "maker")
    assert "give the current first" in window.message.text()
    type_in(stage, "running_a", "5")
    assert load(window, "horn").evidence.kind == "estimate"


def test_cells_are_edited_in_place_and_several_loads_at_once(
    window: MainWindow, stage: LoadsStage
) -> None:
    row = stage.model.keys.index("horn")
    assert stage.model.setData(stage.model.index(row, 2), "6.5")
    assert load(window, "horn").running_a == 6.5
    assert not stage.model.setData(stage.model.index(row, 2), "many")
    lights = tuple(k for k in stage.model.keys if k.startswith("cabin"))
    assert len(lights) > 1
    stage.select_loads(lights)
    assert stage.sheet.title.text() == f"{len(lights)} loads"
    type_in(stage, "duty_percent", "50")
    assert all(load(window, name).duty_percent == 50 for name in lights)
    window.session.undo_stack.undo()
    assert all(load(window, name).duty_percent == 100 for name in lights)


def test_leads_are_told_by_function(window: MainWindow, stage: LoadsStage) -> None:
    stage.select_loads(("horn",))
    stage.sheet._add_lead()
    assert load(window, "horn").leads[-1].function == "unknown"
    last = stage.sheet.leads.rowCount() - 1
    assert not stage.sheet.leads.setData(stage.sheet.leads.index(last, 0), "brown")
    assert "expected one of plus" in window.message.text()
    for column, text in ((0, "unused"), (2, "GN"), (3, "18 ga"), (4, "300")):
        stage.sheet.leads.setData(stage.sheet.leads.index(last, column), text)
    lead = load(window, "horn").leads[-1]
    assert (lead.function, lead.colour, lead.gauge, lead.length_mm) == (
        "unused",
        "GN",
        "18 AWG",
        300,
    )
    stage.sheet.lead_table.selectRow(last)
    stage.sheet._remove_lead()
    assert len(load(window, "horn").leads) == 2


def test_moving_by_key_and_removing_by_key(
    window: MainWindow, stage: LoadsStage, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    stage.select_loads(("searchlight",))
    stage.table.setFocus()
    monkeypatch.setattr(QInputDialog, "getItem", lambda *_: ("Mast foot", True))
    qtbot.keyClick(stage.table, Qt.Key.Key_M)
    assert load(window, "searchlight").station == "mast"
    assert "move Searchlight to Mast foot" in window.session.undo_stack.undoText()
    qtbot.keyClick(stage.table, Qt.Key.Key_Delete)
    assert "searchlight" not in window.session.draft.aboard.loads
    assert window.session.draft.circuit("C29") is None
    window.session.undo_stack.undo()
    window.session.undo_stack.undo()
    assert load(window, "searchlight").station == "roof_fore"


def test_a_string_of_lights_from_the_catalogue_joins_a_circuit(
    window: MainWindow, stage: LoadsStage, answer: Answer, qtbot: QtBot
) -> None:
    count = len(window.session.draft.aboard.loads)

    def pick(dialog: QDialog) -> None:
        assert isinstance(dialog, CatalogueDialog)
        qtbot.keyClicks(dialog.search, "courtesy")
        assert dialog.chosen is not None and dialog.chosen.id == "courtesy"
        dialog.count.setValue(4)
        dialog.name.setText("Step light")
        at = next(i for i in range(dialog.feeding.count()) if dialog.feeding.itemData(i) == "C16")
        dialog.feeding.setCurrentIndex(at)
        dialog.accept()

    answer(pick)
    stage.hands.add_from_catalogue()
    assert len(window.session.draft.aboard.loads) == count + 4
    row = window.session.draft.circuit("C16")
    assert row is not None and "step_light_4" in row.planned.loads
    assert {x.name for x in stage.selected_loads()} == {f"Step light {i}" for i in range(1, 5)}


def test_an_automatic_pump_from_the_catalogue_is_always_live(
    window: MainWindow, stage: LoadsStage, answer: Answer
) -> None:
    def pick(dialog: QDialog) -> None:
        assert isinstance(dialog, CatalogueDialog)
        dialog.search.setText("bilge pump automatic small")
        dialog.place.setCurrentIndex(dialog.place.findData("fore_bilge"))
        dialog.accept()

    answer(pick)
    stage.hands.add_from_catalogue()
    row = next(
        r for r in window.session.draft.circuits if "bilge_pump_automatic_small" in r.planned.loads
    )
    assert row.planned.source == "ALB" and row.planned.pattern == "pump_auto_manual"


def test_rows_of_a_spreadsheet_are_pasted(
    window: MainWindow, stage: LoadsStage, answer: Answer, qtbot: QtBot
) -> None:
    QGuiApplication.clipboard().setText(
        "Item\tPower (W)\tFuse\nLamp\t18\t5 A\nWinch\t1,200\t80 A\n"
    )

    def take(dialog: QDialog) -> None:
        assert isinstance(dialog, ImportDialog)
        assert [c.currentText() for c in dialog.combos] == ["name", "running", "fuse"]
        assert "1 rows in full" in dialog.summary.text() and "1 in part" in dialog.summary.text()
        dialog.combos[2].setCurrentText("ignored")
        assert all(x.maker_fuse_a is None for x in dialog.account.loads)
        dialog.combos[2].setCurrentText("fuse")
        told = [line.told for line in dialog.account.lines]
        assert "Lamp, draws 1.5 A, 18 W, fuse 5 A" in told
        assert [u.isEnabled() for u in dialog.units] == [False, True, True]
        dialog.units[1].setCurrentText("A")  # a unit set by hand counts, and the row says so
        assert dialog.account.loads[0].running_a == 18.0
        dialog.units[1].setCurrentText("W")
        dialog.accept()

    seen = answer(take)
    stage.table.setFocus()
    qtbot.keyClick(stage.table, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert seen == ["Loads from a spreadsheet"]
    assert load(window, "lamp").running_a == 1.5 and load(window, "lamp").maker_fuse_a == 5.0
    assert load(window, "winch").running_a is None
    window.session.undo_stack.undo()
    assert "lamp" not in window.session.draft.aboard.loads


def test_a_workbook_is_imported_and_a_bad_file_is_named(
    window: MainWindow,
    stage: LoadsStage,
    answer: Answer,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    book = Workbook()
    book.active.append(["Load", "Amps", "Place"])
    book.active.append(["Ice light", "0,4 A", "Galley"])
    book.save(tmp_path / "loads.xlsx")
    monkeypatch.setattr(
        QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "loads.xlsx"), "")
    )
    answer(lambda dialog: dialog.accept())
    stage.hands.ask_import()
    assert load(window, "ice_light").station == "galley"
    (tmp_path / "loads.xlsx").write_bytes(b"PK broken")
    stage.hands.ask_import()
    assert "loads.xlsx" in window.message.text()


def test_supply_and_spares(window: MainWindow, stage: LoadsStage, answer: Answer) -> None:
    def fit(dialog: QDialog) -> None:
        assert isinstance(dialog, SupplyDialog)
        for proposal, tick, size in dialog.rows:
            tick.setChecked(proposal.subject in ("HFB", "helm"))
            if proposal.subject == "HFB":
                size.setValue(30)
        dialog.accept()

    answer(fit)
    stage.hands.propose_supply()
    assert next(s for s in window.session.boat.supplies if s.id == "HFB").ways == 30
    assert window.session.boat.panels[0].positions == 24

    def plan(dialog: QDialog) -> None:
        assert isinstance(dialog, SpareDialog)
        dialog.label.setText("Spare to stem")
        dialog.end.setCurrentIndex(dialog.end.findData("stem"))
        dialog.count.setValue(2)
        dialog.accept()

    answer(plan)
    stage.hands.plan_spares()
    assert window.session.order.spares[0].count == 2
    assert "2 spares planned" in stage.work.text()
    window.session.undo_stack.undo()
    window.session.undo_stack.undo()
    assert window.session.boat.panels[0].positions == 20 and not window.session.order.spares


def test_no_cell_is_cut_at_the_usual_size(window: MainWindow, stage: LoadsStage) -> None:
    window.resize(1280, 800)
    window.grab()
    QTest.qWait(20)  # columns are fitted once the table has its size
    table, model = stage.table, stage.model
    shown = [c for c in range(len(model.headings)) if not table.isColumnHidden(c)]
    assert len(shown) >= 10
    cut = [
        row[column].text
        for row in model.rows
        for column in shown
        if text_width(row[column].text, CELL_PX, bold=row[column].bold) + 2 * BESIDE_PX
        > table.columnWidth(column)
    ]
    assert cut == []
    assert "C41, later" in [row[-1].text for row in model.rows]


def test_scenarios_change_the_totals_and_search_narrows(
    window: MainWindow, stage: LoadsStage
) -> None:
    by_day = stage.totals.text()
    stage.scenario.setCurrentText("moored and left")
    assert "Moored and left" in stage.totals.text() != by_day
    stage.search.setText("pump tank")
    assert 0 < stage.model.rowCount() < 6
    stage.search.clear()
    assert stage.model.rowCount() == len(window.session.draft.aboard.loads)


def test_a_load_is_replaced_and_fed_otherwise(
    window: MainWindow, stage: LoadsStage, answer: Answer, monkeypatch: pytest.MonkeyPatch
) -> None:
    stage.select_loads(("searchlight",))

    def pick(dialog: QDialog) -> None:
        assert isinstance(dialog, CatalogueDialog)
        dialog.search.setText("strobe")
        dialog.accept()

    answer(pick)
    stage.hands.replace()
    assert load(window, "searchlight").name == "Strobe beacon"
    assert window.session.draft.circuit("C29") is not None
    for way, source in (("always live", "ALB"), ("ignition", "IGN"), ("helm switch", "HFB")):
        answer(feeding(way))
        stage.select_loads(("searchlight",))
        stage.hands.ask_feed()
        row = window.session.draft.circuit("C29")
        assert row is not None and row.planned.source == source, way
    assert row.planned.position
    for _ in range(4):
        window.session.undo_stack.undo()
    assert load(window, "searchlight").name == "Searchlight"


def test_what_the_maker_prints(window: MainWindow, stage: LoadsStage) -> None:
    stage.select_loads(("horn",))
    type_in(stage, "maker_lengths", "one way: 3 m 14 ga, 6 m 12 AWG")
    rows = load(window, "horn").maker_lengths
    assert [(r.loop_length_m, r.gauge) for r in rows] == [(6.0, "14 AWG"), (12.0, "12 AWG")]
    type_in(stage, "maker_lengths", "far too long")
    assert "a length and a gauge" in window.message.text()
    type_in(stage, "fuse_families", "blade fuse, breaker")
    assert load(window, "horn").fuse_families == ("blade fuse", "breaker")
    type_in(stage, "fuse_families", "nail")
    assert "nail" in window.message.text()
    type_in(stage, "motor", "yes")
    type_in(stage, "ingress", "submersible")
    assert load(window, "horn").motor and load(window, "horn").ingress == "submersible"
