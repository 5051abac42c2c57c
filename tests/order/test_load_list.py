"""Load lists: every row is imported or named with the reason, and nothing is guessed."""

import datetime
import zipfile
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import Workbook

from vivid_loom.boat import Boat
from vivid_loom.order import read_spools, read_survey
from vivid_loom.order.load_list import ColumnMap, guess_mapping, understand
from vivid_loom.quantities import GaugeError, QuantityError, parse_amps, parse_gauge
from vivid_loom.quantities.document import DocumentError
from vivid_loom.quantities.grid import GridError, Row, grid_of_file, grid_of_text


def account(rows: tuple[Row, ...], boat: Boat, mapping: ColumnMap | None = None):  # type: ignore[no-untyped-def]
    return understand(rows, mapping or guess_mapping(rows), boat.stations, "dash", 12.0, set())


def test_a_workbook_with_merged_headings_blank_rows_units_commas_and_formulas(
    tmp_path: Path, boat: Boat
) -> None:
    sheet = (book := Workbook()).active
    sheet.append(["Electrical load list, hull 0431"])
    sheet.merge_cells("A1:F1")
    sheet.append(["Device", "Where", "Current", None, "Protection", "Wire"])
    sheet.merge_cells("C2:D2")
    sheet.append([None, None, "running", "peak", "fuse", None])
    sheet.append([])
    sheet.append(["Deck lamp", "Aft arch, port", "2.5 W", None, "3 A", "18 ga"])
    sheet.append(["Pump", "dash", "3,8 A", "8", 5, "#16"])
    sheet.append(["Fan", "dash", "=2*1.5", None, None, "1.5"])
    sheet.append(["LIGHTING", "LIGHTING", "LIGHTING", "LIGHTING", "LIGHTING", "LIGHTING"])
    sheet.append(["Strange", "the moon", "lots", None, "fat", "thick"])
    sheet.append([None, "dash", "4 A", None, None, None])
    sheet.append(["Total", None, 12.0, None, None, None])
    sheet.append(["Timer", "dash", None, None, None, None])
    path = tmp_path / "loads.xlsx"
    book.save(path)
    rows = grid_of_file(path)
    mapping = guess_mapping(rows)
    assert [field for field, _ in mapping.columns] == [
        "name",
        "place",
        "running",
        "peak",
        "fuse",
        "smallest",
    ]
    found = account(rows, boat)
    assert [line.row for line in found.lines] == [row.number for row in rows]
    verdicts = {line.row: (line.verdict, line.told) for line in found.lines}
    assert verdicts[5][0] == "imported" and verdicts[6][0] == "imported"
    assert verdicts[4][0] == "blank"
    assert verdicts[7][0] == "in part" and "formula" in verdicts[7][1]
    assert verdicts[8][0] == "left out" and "title" in verdicts[8][1]
    for word in ("lots", "fat", "thick", "the moon"):
        assert word in verdicts[9][1]
    assert verdicts[10] == ("left out", "no name in it")
    assert verdicts[11] == ("left out", "a total, no load")
    assert verdicts[12][0] == "in part" and "unknown" in verdicts[12][1]
    loads = {load.name: load for load in found.loads}
    lamp, pump = loads["Deck lamp"], loads["Pump"]
    assert lamp.running_a == pytest.approx(2.5 / 12, abs=1e-4)
    assert (lamp.station, lamp.maker_fuse_a, lamp.maker_smallest) == ("aft_arch_p", 3.0, "18 AWG")
    assert (pump.running_a, pump.peak_a, pump.maker_fuse_a) == (3.8, 8.0, 5.0)
    assert loads["Fan"].maker_smallest == "1.5 mm²" and loads["Fan"].running_a is None
    assert loads["Strange"].state == "provisional_place"
    assert loads["Timer"].evidence.kind == "unknown"


def test_saved_formula_results_are_taken(tmp_path: Path, boat: Boat) -> None:
    """A spreadsheet program stores each formula's result beside it; openpyxl does not write it."""
    book = Workbook()
    book.active.append(["Load", "Amps"])
    book.active.append(["Fan", "=2*1.5"])
    book.save(tmp_path / "plain.xlsx")
    with (
        zipfile.ZipFile(tmp_path / "plain.xlsx") as old,
        zipfile.ZipFile(tmp_path / "saved.xlsx", "w") as new,
    ):
        for name in old.namelist():
            data = old.read(name)
            if name.endswith("sheet1.xml"):
                assert b"<v></v>" in data or b"<v />" in data or b"<v/>" in data
                for empty in (b"<v></v>", b"<v />", b"<v/>"):
                    data = data.replace(empty, b"<v>3</v>")
            new.writestr(name, data)
    assert account(grid_of_file(tmp_path / "plain.xlsx"), boat).loads[0].running_a is None
    assert account(grid_of_file(tmp_path / "saved.xlsx"), boat).loads[0].running_a == 3.0


@pytest.mark.parametrize("separator", ["\t", ";", ",", "|"])
def test_separators_and_a_unit_in_the_heading(separator: str, boat: Boat) -> None:
    text = "\n".join(
        separator.join(cells)
        for cells in (("Item", "Qty", "Power (W)"), ("Lamp", "3", "24"), ("Radio", "1", "6 A"))
    )
    found = account(grid_of_text("\ufeff" + text), boat)
    assert [load.name for load in found.loads] == ["Lamp 1", "Lamp 2", "Lamp 3", "Radio"]
    assert [load.running_a for load in found.loads] == [2.0, 2.0, 2.0, 6.0]
    assert len({load.id for load in found.loads}) == 4


def test_the_greatest_fuse_is_no_peak(boat: Boat) -> None:
    rows = grid_of_text("Load\tAmps\tMax fuse (A)\tMax current (A)\nFan\t2\t5\t7\n")
    fan = account(rows, boat).loads[0]
    assert (fan.running_a, fan.maker_fuse_a, fan.peak_a) == (2.0, 5.0, 7.0)


def test_a_merged_heading_stands_over_all_its_columns(boat: Boat) -> None:
    """A spreadsheet program leaves the cells of a merged one empty but for the first."""
    text = "Load\tCurrent\t\tFuse\n\trunning (W)\tpeak (A)\t\nFan\t24\t6\t5\n"
    found = account(grid_of_text(text), boat)
    fan = found.loads[0]
    assert (fan.running_a, fan.peak_a, fan.maker_fuse_a) == (2.0, 6.0, 5.0)
    assert found.lines[-1].told == "Fan, draws 2 A, 24 W, peak 6 A, fuse 5 A"


def test_without_headings_a_name_and_a_figure_come_first(boat: Boat) -> None:
    found = account(grid_of_text("Lamp\t2 A\nHorn\t5 A\t7.5\n"), boat)
    assert [(x.name, x.running_a, x.maker_fuse_a) for x in found.loads] == [
        ("Lamp", 2.0, None),
        ("Horn", 5.0, 7.5),
    ]


@pytest.mark.parametrize(
    ("text", "amps"),
    [
        ("3,8 A", 3.8),
        ("2.5 W", 2.5 / 12),
        ("450 mA", 0.45),
        ("1.2 kW", 100.0),
        (".5", 0.5),
        ("0,125 A", 0.125),
        ("60 watts", 5.0),
        ("7 amps", 7.0),
    ],
)
def test_amps_as_people_write_them(text: str, amps: float) -> None:
    assert parse_amps(text, 12.0) == pytest.approx(amps)


@pytest.mark.parametrize(
    "text", ["1,200 W", "2-3 A", "-4 A", "ca. 5", "12V 3A", "", "5 Ah", "1.2.3"]
)
def test_what_could_mean_two_things_is_refused(text: str) -> None:
    with pytest.raises(QuantityError):
        parse_amps(text, 12.0)


@pytest.mark.parametrize(
    ("text", "gauge"),
    [
        ("18 ga", "18 AWG"),
        ("#16", "16 AWG"),
        ("14", "14 AWG"),
        ("1.5", "1.5 mm²"),
        ("2,5mm2", "2.5 mm²"),
        ("2/0", "2/0 AWG"),
        ("12 gauge", "12 AWG"),
        ("6 mm²", "6 mm²"),
    ],
)
def test_gauges_as_people_write_them(text: str, gauge: str) -> None:
    assert str(parse_gauge(text)) == gauge
    with pytest.raises(GaugeError):
        parse_gauge(f"x{text}y")


@settings(max_examples=80, deadline=None)
@given(
    st.lists(
        st.lists(st.text(st.characters(exclude_characters="\x00"), max_size=12), max_size=7),
        max_size=9,
    )
)
def test_any_cells_give_an_account_of_every_row(cells: list[list[str]]) -> None:
    from tests.conftest import drafted
    from vivid_loom.demo import DEMO_ORDER

    boat = drafted(DEMO_ORDER).aboard.boat
    rows = tuple(Row(i, tuple(line)) for i, line in enumerate(cells, start=1))
    found = account(rows, boat)
    assert [line.row for line in found.lines] == [row.number for row in rows]
    for load in found.loads:
        assert load.name and (load.running_a is None or load.running_a > 0)


def test_files_that_are_no_sheets_say_so(tmp_path: Path) -> None:
    bad = tmp_path / "bad.xlsx"
    bad.write_bytes(b"not a workbook")
    with pytest.raises(DocumentError, match="no readable workbook"):
        grid_of_file(bad)
    with pytest.raises(DocumentError, match="cannot be read"):
        grid_of_file(tmp_path / "missing.csv")
    latin = tmp_path / "latin.csv"
    latin.write_bytes("Gerät;Strom\nPumpe für Bilge;3,8\n".encode("cp1252"))
    assert grid_of_file(latin)[1].cells == ("Pumpe für Bilge", "3,8")


def test_dates_in_cells_do_no_harm(tmp_path: Path, boat: Boat) -> None:
    book = Workbook()
    book.active.append(["Load", "Amps", "Note"])
    book.active.append(["Radio", 4, datetime.date(2026, 3, 2)])
    book.save(tmp_path / "d.xlsx")
    load = account(grid_of_file(tmp_path / "d.xlsx"), boat).loads[0]
    assert "2026-03-02" in load.evidence.note


def workbook(path: Path, cells: dict[str, Any]) -> Path:
    book = Workbook()
    sheet = book.worksheets[0]
    for at, value in {"A1": "Name", "B1": "Amps", "A2": "Fan", "B2": 2, **cells}.items():
        sheet[at] = value
    book.save(path)
    return path


def altered(path: Path, old: str, new: str) -> None:
    """Change a workbook's own text, as another program might write it."""
    with zipfile.ZipFile(path) as parts:
        data = {name: parts.read(name) for name in parts.namelist()}
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as parts:
        for name, part in data.items():
            parts.writestr(name, part.replace(old.encode(), new.encode()))


@pytest.mark.parametrize(
    ("at", "told"),
    [
        ("A1048576", "row 1048576: found a cell there, expected at most 20000 rows"),
        ("XFD2", "row 2: found 16384 columns, expected at most 200"),
    ],
)
def test_a_stray_cell_is_named(tmp_path: Path, at: str, told: str) -> None:
    """In the last row: no answer came in 230 s."""
    path = workbook(tmp_path / "sheet.xlsx", {at: "stray"})
    with pytest.raises(DocumentError, match=told):
        grid_of_file(path)
    path = workbook(tmp_path / "sheet.xlsx", {at: "  "})  # with nothing in it it is none
    assert [row.cells for row in grid_of_file(path)] == [("Name", "Amps"), ("Fan", "2")]


def test_a_cell_that_holds_a_book_is_named(tmp_path: Path) -> None:
    path = workbook(tmp_path / "sheet.xlsx", {"A3": "LONG"})
    altered(path, "LONG", "x" * 140_000)
    with pytest.raises(DocumentError, match="row 3: found a cell of 140000 letters"):
        grid_of_file(path)


@pytest.mark.parametrize(
    ("ref", "taken"),
    [("A3:XFD1048576", False), ("A3:A1048576", False), ("A3:B9", True), ("A3:GR90", True)],
)
def test_merged_cells_that_fill_the_sheet_are_named(tmp_path: Path, ref: str, taken: bool) -> None:
    """What reads the workbook would make each of 17 thousand million cells."""
    path = workbook(tmp_path / "sheet.xlsx", {"A3": "Title"})
    altered(path, "</sheetData>", f'</sheetData><mergeCells><mergeCell ref="{ref}"/></mergeCells>')
    if taken:
        assert grid_of_file(path)[2].cells[0] == "Title"
        return
    with pytest.raises(DocumentError, match=f"cells merged at {ref}, expected at most 20000"):
        grid_of_file(path)


def test_an_archive_that_unpacks_beyond_all_bounds(tmp_path: Path) -> None:
    path = workbook(tmp_path / "bomb.xlsx", {})
    with zipfile.ZipFile(path, "a", zipfile.ZIP_DEFLATED) as parts:
        parts.writestr("xl/worksheets/sheet9.xml", b" " * 60_000_000)
    assert path.stat().st_size < 200_000
    with pytest.raises(DocumentError, match=r"sheet9.xml: found 60000000 bytes once"):
        grid_of_file(path)


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("Name;Amps\nFan;" + "9" * 140_000 + "\n", "line 2: found no readable table"),
        ("Name;Amps\nFan;" + "9" * 40_000 + "\n", "row 2: found a cell of 40000 letters"),
        ("Name;Amps\n" + "\n" * 20_001, "row 20001: found a cell there"),
        (";" * 300 + "\nFan;2\n", "row 1: found 301 columns"),
        ("x" * 8_000_001, "expected at most 8000000"),
    ],
)
def test_a_text_that_is_no_list(tmp_path: Path, text: str, told: str) -> None:
    with pytest.raises(GridError, match=told):
        grid_of_text(text)
    path = tmp_path / "list.csv"
    path.write_text(text)
    with pytest.raises(DocumentError, match=told.split(": ")[-1]):
        grid_of_file(path)


@pytest.mark.parametrize("sign", ["\x00", "\x1b", "\u202e", "\x7f"])
def test_control_characters_in_lists_of_the_shop_are_named(tmp_path: Path, sign: str) -> None:
    spools, found = tmp_path / "spools.csv", tmp_path / "survey.csv"
    spools.write_text(f"id,wire,colour,length_m\nS{sign}1,16 AWG,RD,4\n")
    found.write_text(f"wire_id,from,to,note\nW1,a,b,ok\nW2,a,b,{sign}\n")
    with pytest.raises(DocumentError, match=r"spools.csv: line [12].*(id|CSV)"):
        read_spools(spools)
    with pytest.raises(DocumentError, match=r"survey.csv: line [123].*(note|CSV)"):
        read_survey(found)
    found.write_text('wire_id,from,to,note\nW1,a,b,"two\nlines"\n')
    assert read_survey(found)[0].note == "two lines"


def test_a_cell_longer_than_a_record_holds_is_named(tmp_path: Path) -> None:
    spools, found = tmp_path / "spools.csv", tmp_path / "survey.csv"
    long = "x" * 20_000
    spools.write_text(f"id,wire,colour,length_m\nS1,16 AWG,RD,4\n{long},16 AWG,RD,4\n")
    found.write_text(f"wire_id,from,to,path\nW1,a,b,H1;{long}\n")
    with pytest.raises(DocumentError, match=r"spools.csv: line 3, id: found 'xxx.*letters"):
        read_spools(spools)
    with pytest.raises(DocumentError, match=r"survey.csv: line 2, runs\[1\]: found 'xxx.*letters"):
        read_survey(found)
