"""Labels: every end has one, its letters stay on the sleeve, tags say what they hang on."""

import io
from collections import Counter

import pytest
import segno
from pypdf import PdfReader
from reportlab.pdfbase.pdfmetrics import stringWidth

from vivid_loom.drafting import Draft
from vivid_loom.sheets.lists.label_lists import labels
from vivid_loom.sheets.pages.label_pages import label_items, tape_pages
from vivid_loom.sheets.paper.drawing import Rect
from vivid_loom.sheets.paper.pdf import pdf_bytes

MM = 72 / 25.4


def test_everything_that_wants_one_has_a_label(any_draft: Draft) -> None:
    rows = labels(any_draft).rows
    kinds = Counter(row.kind for row in rows)
    made = any_draft.assembled
    assert kinds["wire"] == 2 * len(made.wires)
    assert kinds["plug"] == 2 * len(made.plugs)
    assert kinds["branch"] == len({run for wire in made.wires for run in wire.runs})
    assert kinds["harness"] == len({wire.harness for wire in made.wires})
    ends = {row.label for row in rows if row.kind == "wire"}
    assert ends == {end.label for wire in made.wires for end in (wire.start, wire.end)}


def test_letters_are_as_large_as_both_lines_leave_them_on_the_sleeve(any_draft: Draft) -> None:
    """Widths by the PDF library, 2 mm blank at each end; letters are of 3 mm at most, and below
    1.5 mm cannot be read at arm's length.
    """
    pdf_bytes([], "registers the fonts")
    for row in labels(any_draft).rows:
        letter, length = float(row.letter_mm), float(row.length_mm)
        room = length - 4.0 - (length / 3 if row.qr else 0.0)
        lines = ((row.line_1, "B612-Bold"), (row.line_2, "B612"))
        wide = max(stringWidth(line, font, 1.0) for line, font in lines)
        assert letter == pytest.approx(min(3.0, room / wide), rel=0.01), row
        assert letter >= 1.5 or row.kind != "wire", row


def test_a_label_is_printed_at_its_size(full: Draft) -> None:
    rows = labels(full).rows[:6]
    pages = PdfReader(io.BytesIO(pdf_bytes(tape_pages(rows), "labels"))).pages
    for row, page in zip(rows, pages, strict=True):
        assert float(page.mediabox.width) / MM == pytest.approx(float(row.length_mm), abs=0.01)
        assert row.line_1 in page.extract_text()


def test_the_square_on_a_tag_says_which_harness_it_is(full: Draft) -> None:
    """Every dark cell of the code is drawn, and no other."""
    tag = next(row for row in labels(full).rows if row.kind == "harness" and row.harness == "hull")
    about = "hull=0417 harness=hull revision=1 record=hull-0417-hull.record.json"
    assert tag.qr == f"vivid-loom {about}"
    matrix = segno.make(tag.qr, micro=False, error="m").matrix
    dark = [i for i in label_items(tag) if isinstance(i, Rect) and i.fill == "#000000"]
    (square,) = (i for i in label_items(tag) if isinstance(i, Rect) and i.fill != "#000000")
    cell = square.w / (len(matrix) + 8)
    for r, line in enumerate(matrix):
        for c, on in enumerate(line):
            x, y = square.x + (4.5 + c) * cell, square.y + (4.5 + r) * cell
            hit = any(i.x < x < i.x + i.w and i.y < y < i.y + i.h for i in dark)
            assert hit == bool(on), (r, c)
