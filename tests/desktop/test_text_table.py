"""Columns as wide as their words: held against what Qt measures by itself."""

from collections.abc import Sequence

import pytest
from pytestqt.qtbot import QtBot

from vivid_loom.desktop.frame.window import HARNESS, MainWindow
from vivid_loom.desktop.harness.stage import HarnessStage
from vivid_loom.desktop.widgets.text_table import Cell, TextTable, pane
from vivid_loom.desktop.widgets.theme import dress


def _rows(*texts: str, bold: bool = False) -> list[tuple[str, Sequence[Cell]]]:
    return [(f"r{i}", (Cell(text, "", bold), Cell("rest"))) for i, text in enumerate(texts)]


def _width(table: TextTable, column: int) -> int:
    return table.horizontalHeader().sectionSize(column)


def _of_qt(table: TextTable, column: int) -> int:
    """What a column that fits its contents takes, by Qt's own reckoning."""
    header = table.horizontalHeader()
    return max(table.sizeHintForColumn(column), header.sectionSizeHint(column))


@pytest.fixture
def table(qtbot: QtBot, window: MainWindow) -> TextTable:
    made = pane(("Wire", "Rest"), "Wires", 1)
    qtbot.addWidget(made)
    made.resize(600, 400)
    dress(made)
    made.show()
    return made


def test_a_column_is_as_wide_as_its_longest_words(table: TextTable) -> None:
    for rows in (
        _rows("C01-1", "C01-2 to the float switch", "C02"),
        _rows("C01-1", "C01-2 to the float", "C02", bold=True),  # in place, heavier
        [*_rows("C01"), ("heavy", (Cell("C02 to the float", "", True), Cell("rest")))],
        _rows("WWWWWW", "iiiiiiiiiiiiiii"),
        _rows(""),
        [],
    ):
        table.rows_model.fill(rows)
        assert _width(table, 0) == _of_qt(table, 0), rows


def test_a_hidden_table_is_measured_when_it_is_shown(table: TextTable) -> None:
    table.rows_model.fill(_rows("short"))
    before = _width(table, 0)
    table.hide()
    table.rows_model.fill(_rows("a good deal longer than that"))
    assert _width(table, 0) == before
    table.show()
    assert _width(table, 0) == _of_qt(table, 0) > before


def test_the_cut_list_is_as_wide_as_qt_would_have_it(window: MainWindow) -> None:
    window.open_stage(HARNESS)
    stage = window.view
    assert isinstance(stage, HarnessStage) and stage.cut.isVisible()
    columns = [c for c in range(len(stage.cut.rows_model.headings)) if c != 6]
    over = [_width(stage.cut, c) - _of_qt(stage.cut, c) for c in columns]
    assert set(over) <= {0, 1}, over  # Qt rounds what is around the words together with them
