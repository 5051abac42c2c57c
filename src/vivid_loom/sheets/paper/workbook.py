"""Spreadsheet backend: tables as the sheets of one workbook. Text stays text, figures figures."""

import datetime
import io
import re
import zipfile
from collections.abc import Sequence
from typing import Any, Final

from vivid_loom.sheets.paper.table import Table

__all__ = ["workbook_bytes"]

FIGURE: Final = re.compile(r"-?(0|[1-9]\d*)(\.\d+)?")
LONG_AGO: Final = datetime.datetime(2000, 1, 1)
SAVED: Final = re.compile(rb"(<dcterms:modified[^>]*>)[^<]*")
WIDEST: Final = 60


def _fill(sheet: Any, table: Table[Any]) -> None:
    from openpyxl.styles import Alignment, Font  # slow to load
    from openpyxl.utils import get_column_letter

    for column, name in enumerate(table.columns, 1):
        cell = sheet.cell(1, column, name)
        cell.font = Font(bold=True)
        cell.alignment = Alignment(wrap_text=True, vertical="top")
        texts = [str(row[column - 1]) for row in table.rows]
        longest = max([len(name) // 2, *map(len, texts)])
        sheet.column_dimensions[get_column_letter(column)].width = min(WIDEST, longest + 2)
        for line, text in enumerate(texts, 2):
            cell = sheet.cell(line, column)
            if FIGURE.fullmatch(text):
                cell.value = float(text) if "." in text else int(text)
            elif text:
                cell.value = text
                cell.data_type = "s"  # whatever it begins with, it is no formula
    sheet.freeze_panes = "B2"
    sheet.auto_filter.ref = sheet.dimensions


def workbook_bytes(tables: Sequence[Table[Any]], title: str) -> bytes:
    """Return tables as the sheets of one workbook; the same tables give the same bytes."""
    from openpyxl import Workbook  # slow to load

    book = Workbook()
    book.properties.title, book.properties.creator = title, "Vivid Loom"
    book.properties.created = book.properties.modified = LONG_AGO
    book.remove(book.worksheets[0])
    for table in tables:
        _fill(book.create_sheet(table.title[:31]), table)
    stream = io.BytesIO()
    book.save(stream)
    return _timeless(stream.getvalue())


def _timeless(data: bytes) -> bytes:
    """Return a zip file without the times at which its parts were written."""
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(made, "w") as new:
        for name in old.namelist():
            part = zipfile.ZipInfo(name, (2000, 1, 1, 0, 0, 0))
            part.compress_type = zipfile.ZIP_DEFLATED
            body = old.read(name)
            if name == "docProps/core.xml":  # the moment of saving is put in by the library
                body = re.sub(
                    rb"(<dcterms:modified[^>]*>)[^<]*", rb"\g<1>2000-01-01T00:00:00Z", body
                )
            new.writestr(part, body)
    return made.getvalue()
