"""The workbook read back by its library: figures are figures, text is never a formula."""

import csv
import io
from typing import NamedTuple

from openpyxl import load_workbook

from vivid_loom.drafting import Draft
from vivid_loom.sheets import packet_files
from vivid_loom.sheets.paper.table import Table
from vivid_loom.sheets.paper.workbook import workbook_bytes


class Row(NamedTuple):
    name: str
    figure: str


def test_the_schedule_reads_back_as_the_csv_says(full: Draft) -> None:
    files = packet_files(full, frozenset({"workbook", "schedule"}))
    sheet = load_workbook(io.BytesIO(files["schedule.xlsx"]))["Circuit schedule"]
    read = [[cell.value for cell in row] for row in sheet.iter_rows()]
    printed = list(csv.reader(io.StringIO(files["schedule.csv"].decode())))
    assert read[0] == printed[0][: len(read[0])]
    for cells, texts in zip(read[1:], printed[1:], strict=True):
        for cell, text in zip(cells, texts, strict=False):
            if isinstance(cell, int | float):
                assert cell == float(text)
            else:
                assert (cell or "") == text.removeprefix("'")
    numbers = [cell for row in read[1:] for cell in row if isinstance(cell, float)]
    assert len(numbers) > 100


def test_nothing_is_a_formula_and_codes_keep_their_noughts() -> None:
    table = Table("t", "T", Row, (Row('=HYPERLINK("x")', "0417"), Row("@a", "-1.50")))
    book = load_workbook(io.BytesIO(workbook_bytes((table,), "t")))
    rows = [list(row) for row in book["T"].iter_rows(min_row=2)]
    assert [cell.data_type for cell in rows[0]] == ["s", "s"]
    assert [cell.value for cell in rows[1]] == ["@a", -1.5]


def test_the_same_tables_give_the_same_bytes() -> None:
    table = Table("t", "T", Row, (Row("a", "1"),))
    assert workbook_bytes((table,), "t") == workbook_bytes((table,), "t")
