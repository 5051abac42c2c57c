"""Columns as wide as their words, held against what Qt measures by itself; cells as painted."""

from collections.abc import Callable, Sequence

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFontMetrics, QImage
from pytestqt.qtbot import QtBot

from vivid_loom.desktop.frame.window import HARNESS, MainWindow
from vivid_loom.desktop.harness.stage import HarnessStage
from vivid_loom.desktop.widgets.text_table import Cell, TextModel, TextTable, pane
from vivid_loom.desktop.widgets.theme import LIGHT, dress, font


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


Looks = Callable[[int, int], np.ndarray]


@pytest.fixture
def looks(table: TextTable) -> Looks:
    """Return a cell's points, (high, wide, 3) as blue, green, red."""

    def points(row: int, column: int) -> np.ndarray:
        box = table.visualRect(table.rows_model.index(row, column))
        image = table.viewport().grab(box).toImage().convertToFormat(QImage.Format.Format_RGB32)
        whole = np.frombuffer(image.constBits(), dtype=np.uint8).reshape(box.height(), -1, 4)
        return whole[:, :, :3].astype(int)

    return points


def _is(points: np.ndarray, colour: str) -> np.ndarray:
    wanted = QColor(colour)
    return np.abs(points - (wanted.blue(), wanted.green(), wanted.red())).max(axis=2) < 40


def _reach(points: np.ndarray) -> tuple[int, int]:
    """Where something is written across a cell, in px from either edge."""
    across = np.flatnonzero(np.abs(points - points[0, 0]).max(axis=2).max(axis=0) > 60)
    return int(across[0]), points.shape[1] - 1 - int(across[-1])


def test_what_stands_out_is_painted_so(table: TextTable, looks: Looks) -> None:
    cells = (Cell("plain"), Cell("loud", "alarm"), Cell("still", "quiet"), Cell("heavy", "", True))
    table.rows_model.fill([(cell.text, (cell, Cell(""))) for cell in cells])
    inks = [
        {tone: _is(looks(row, 0), getattr(LIGHT, tone)).sum() for tone in ("ink", "alarm", "quiet")}
        for row in range(4)
    ]
    assert inks[0]["ink"] > 8 and not inks[0]["alarm"]
    assert inks[1]["alarm"] > 8 and not inks[1]["ink"]
    assert inks[2]["quiet"] > 8 and not inks[2]["ink"]
    assert inks[3]["ink"] > 1.5 * inks[0]["ink"]


def test_a_marked_row_has_another_ground_and_plain_ink(table: TextTable, looks: Looks) -> None:
    table.rows_model.fill(
        [("a", (Cell("loud", "alarm"), Cell("x"))), ("b", (Cell("y"), Cell("z")))]
    )
    table.selectRow(0)
    for column in (0, 1):
        assert QColor(*looks(0, column)[1, 4][::-1].tolist()) == QColor(LIGHT.band)
    edge, inner = (QColor(*looks(0, column)[1, 1][::-1].tolist()) for column in (0, 1))
    assert (edge, inner) == (QColor(LIGHT.focus), QColor(LIGHT.band))
    assert looks(1, 0)[1, 1].tolist() != looks(0, 0)[1, 1].tolist()
    assert _is(looks(0, 0), LIGHT.ink).sum() > 8 and not _is(looks(0, 0), LIGHT.alarm).sum()


def test_words_begin_under_their_heading_and_end_before_the_edge(
    qtbot: QtBot, window: MainWindow
) -> None:
    model = TextModel(("Wire", "Amps"), right=(1,))
    table = TextTable(model, "Wires")
    qtbot.addWidget(table)
    dress(table)
    table.resize(400, 200)
    table.show()
    model.fill(
        [("a", (Cell("Wire"), Cell("Amps"))), ("b", (Cell("Wire " * 30), Cell("Amps " * 30)))]
    )
    header = table.horizontalHeader()

    def written(row: int | None, column: int) -> tuple[int, int]:
        box = table.visualRect(model.index(row or 0, column))
        of = table.viewport()
        if row is None:
            of, box = header.viewport(), header.viewport().rect()
            box.setLeft(header.sectionViewportPosition(column))
            box.setWidth(header.sectionSize(column))
            box.setHeight(box.height() - 3)  # without the line below
        image = of.grab(box).toImage().convertToFormat(QImage.Format.Format_RGB32)
        whole = np.frombuffer(image.constBits(), dtype=np.uint8).reshape(box.height(), -1, 4)
        return _reach(whole[:, :, :3].astype(int))

    assert abs(written(None, 0)[0] - written(0, 0)[0]) <= 1, "left ones begin together"
    assert abs(written(None, 1)[1] - written(0, 1)[1]) <= 1, "right ones end together"
    for column in (0, 1):
        before, behind = written(1, column)
        assert before >= 5 and behind >= 5, "what is too long is cut"


def test_what_is_too_long_ends_in_an_ellipsis(table: TextTable, looks: Looks) -> None:
    long = "a good deal more than there is room for in a column of this width, " * 3
    table.rows_model.fill([("a", (Cell(""), Cell(long)))])
    room = table.visualRect(table.rows_model.index(0, 1)).width() - 12
    cut = QFontMetrics(font(12)).elidedText(long, Qt.TextElideMode.ElideRight, room)
    table.rows_model.fill([(text, (Cell(""), Cell(text))) for text in (long, cut)])
    assert cut.endswith("…") and (looks(0, 1) == looks(1, 1)).all()


def test_a_table_that_wraps_shows_all_words_of_a_cell(table: TextTable, looks: Looks) -> None:
    """What is wrong, on Bench, is told in lines one below another."""
    long = "a good deal more than there is room for in a column of this width, " * 3
    table.rows_model.fill([("a", (Cell(""), Cell(long)))])
    cut = looks(0, 1)
    table.setWordWrap(True)
    table.resizeRowsToContents()
    whole = looks(0, 1)
    assert whole.shape[0] > cut.shape[0]
    assert _is(whole, LIGHT.ink).sum() > 1.4 * _is(cut, LIGHT.ink).sum()
    written = _is(whole, LIGHT.ink).any(axis=1).nonzero()[0]
    assert written[-1] - written[0] > 20, "two lines"
