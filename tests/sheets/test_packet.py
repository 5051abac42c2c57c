import csv
import dataclasses
import io
import itertools
import json
import re
from pathlib import Path
from typing import NamedTuple

import pypdf
import pytest

from tests.checker import packet_problems
from tests.conftest import drafted
from vivid_loom.boat import Boat
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft, built_wires, draft
from vivid_loom.order import Order, Shop
from vivid_loom.sheets import (
    Handed,
    packet_books,
    packet_files,
    packet_pages,
    packet_sections,
    packet_tables,
)
from vivid_loom.sheets.books import bound
from vivid_loom.sheets.packet import UnknownPartError
from vivid_loom.sheets.paper.csv_file import csv_bytes, neutral
from vivid_loom.sheets.paper.drawing import Page, Text
from vivid_loom.sheets.paper.metrics import fitted, text_width, wrapped
from vivid_loom.sheets.paper.table import Table

READ = frozenset({"schedule", "cutlist"})  # what the checker reads


class Cell(NamedTuple):
    a: str


SCHEDULE = (
    "circuit_id,label,pattern,source,protection_type,protection_rating_a,protection_place,"
    "protection_distance_mm,switch,helm_position,loads,current_a,peak_current_a,nominal_v,"
    "loop_length_m,gauge,area_mm2,thinner_leads,positive_colour,negative_colour,lead_colours,"
    "ampacity_a,derating,drop_v,drop_percent,drop_limit_percent,return_bus,governed_by,overridden,evidence,findings"
)
CUTLIST = (
    "wire_id,circuit_id,harness,gauge,area_mm2,colour,tracer,from_place,from_point,"
    "from_termination,from_strip_mm,to_place,to_point,to_termination,to_strip_mm,path,"
    "routed_length_mm,cut_length_mm,label_from,label_to,current_a,cable_id,core,from_jaw,to_jaw,"
    "device_lead,conductor_state,sleeve,join,circuit,from_name,to_name,from_station,to_station,"
    "from_recipe,to_recipe,from_mates,to_mates,from_tail,to_tail,kind,serves,"
    "from_zone,to_zone"
)
LANDING = (
    "place,point,order,wire_id,terminal,label,expected_off_v,expected_on_v,circuit,name,station,"
    "torque_nm,boot,expected_charging_v"
)
ORDER = ",hull,revision"


def rows(files: dict[str, bytes], name: str) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(files[name].decode())))


@pytest.fixture(scope="module")
def files(full: Draft) -> dict[str, bytes]:
    return packet_files(full)


def test_columns_are_the_documented_ones(files: dict[str, bytes]) -> None:
    for name, columns in (("schedule", SCHEDULE), ("cutlist", CUTLIST), ("landing", LANDING)):
        assert files[f"{name}.csv"].decode().splitlines()[0] == columns + ORDER


def test_the_clean_packets_pass_the_independent_checker(any_draft: Draft) -> None:
    problems = packet_problems(packet_files(any_draft, READ), any_draft.aboard.boat)
    clean = any_draft.aboard.order.hull != "0423"  # the one with the planted mistakes
    assert (problems == []) is clean, problems
    assert any(f.severity == "error" for f in any_draft.findings) is not clean


def test_the_checker_sees_the_planted_mistakes(mistakes: Draft) -> None:
    text = "\n".join(packet_problems(packet_files(mistakes, READ), mistakes.aboard.boat))
    for words in ("C16 is protected above", "C08 drops too much", "E05 is not sized", "F04 has no"):
        assert words in text


def test_voltages_to_expect_with_everything_off(files: dict[str, bytes]) -> None:
    found = {(r["place"], r["point"]): r for r in rows(files, "landing.csv")}
    assert found[("ALB", "way 1")]["expected_off_v"] == "12"
    assert found[("HFB", "way 1")]["expected_off_v"] == "0"
    assert found[("HFB", "way 1")]["expected_on_v"] == "12"
    assert found[("NB0", "screw 1")]["expected_on_v"] == "0"
    assert found[("SW1", "1U")]["expected_off_v"] == "0"
    assert found[("SW1", "1C")]["expected_off_v"] == "12"


def test_landings_are_read_in_order_and_lugs_fit_their_studs(files: dict[str, bytes]) -> None:
    found = rows(files, "landing.csv")
    screws = [
        int(r["point"].split()[1])
        for r in found
        if r["point"].startswith("screw") and r["place"] == "NB1"
    ]
    assert screws == sorted(screws) and screws[-1] > 10
    for row in found:
        if row["terminal"].endswith("on its mount"):
            continue
        if "stud" in row["point"] or "post" in row["point"]:
            assert row["terminal"].split()[-1] in ("M6", "M8", "M10"), row
        elif row["place"].startswith("NB"):
            assert row["terminal"].endswith("ring M4"), row


def test_every_end_of_the_cut_list_has_its_jaw_and_strip(files: dict[str, bytes]) -> None:
    steps = {(r["end"], r["jaw"], r["strip_mm"]) for r in rows(files, "ends.csv")}
    for row in rows(files, "cutlist.csv"):
        for side in ("from", "to"):
            end = (row[f"{side}_termination"], row[f"{side}_jaw"], row[f"{side}_strip_mm"])
            assert end in steps
            if end[0].startswith("lug"):
                assert row["gauge"] in end[0]


def test_materials_add_up_to_the_cut_list(files: dict[str, bytes]) -> None:
    bonds = rows(files, "bonding.csv")
    pieces = [r for r in rows(files, "cutlist.csv") if not r["cable_id"]] + bonds
    cut = sum(float(r["cut_length_mm"]) for r in pieces) / 1000
    wire = [r for r in rows(files, "materials.csv") if r["kind"] == "wire"]
    assert sum(float(r["quantity"]) for r in wire) == pytest.approx(cut, abs=0.01 * len(wire))
    ends = [r for r in rows(files, "materials.csv") if r["kind"] == "termination"]
    wires = rows(files, "cutlist.csv")
    joined = [
        (w[f"{side}_place"], w[f"{side}_point"])
        for w in wires
        for side in ("from", "to")
        if "closed-end" in w[f"{side}_termination"]
    ]
    shared = len(joined) - len(set(joined))  # several conductors, one barrel
    assert shared > 5
    assert sum(int(r["quantity"]) for r in ends) == 2 * (len(wires) + len(bonds)) - shared


BOOKS = ("packet", "aboard", "proof", "office")


def read_back(data: bytes) -> list[str]:
    return [page.extract_text() for page in pypdf.PdfReader(io.BytesIO(data)).pages]


@pytest.fixture(scope="module")
def printed(files: dict[str, bytes]) -> dict[str, list[str]]:
    """Every page of the books of hull 0417 as read back from their PDFs."""
    return {book: read_back(files[f"{book}.pdf"]) for book in BOOKS}


def test_the_pdf_says_what_the_lists_say(printed: dict[str, list[str]], full: Draft) -> None:
    text = "\n".join(page for pages in printed.values() for page in pages)
    for words in ("hull 0417", "minus off first", "Deck harness", "Fuse chart"):
        assert words in text
    for wire in full.assembled.wires:
        assert wire.id in text


class Composed(NamedTuple):
    """A packet's pages, and texts that were broken inside a word on the way."""

    pages: tuple[Page, ...]
    broken: set[str]


@pytest.fixture(scope="module")
def composed(any_draft: Draft) -> Composed:
    broken: set[str] = set()

    def watched(text: str, width: float, size: float, *, bold: bool = False) -> tuple[str, ...]:
        lines = wrapped(text, width, size, bold=bold)
        if " ".join(lines) != " ".join(text.replace(";", "; ").split()):
            broken.add(text)
        return lines

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("vivid_loom.sheets.paper.layout.wrapped", watched)
        return Composed(packet_pages(any_draft), broken)


def test_nothing_is_printed_off_the_page(composed: Composed) -> None:
    for page in composed.pages:
        for item in page.items:
            if isinstance(item, Text):
                width = text_width(item.text, item.size, bold=item.bold)
                left = item.x - {"start": 0.0, "middle": width / 2, "end": width}[item.anchor]
                assert left > 5 and left + width < page.width_mm - 5, (page.title, item.text)
                assert 5 < item.y < page.height_mm - 3, (page.title, item.text)


def test_the_draft_as_json_holds_every_decision(files: dict[str, bytes], full: Draft) -> None:
    data = json.loads(files["draft.json"])
    assert [row["id"] for row in data["circuits"]] == [row.id for row in full.rows]
    tank = next(row for row in data["circuits"] if row["id"] == "C08")["decisions"]
    assert set(tank) >= {"gauge", "protection_a", "fed_from", "return", "helm_position"}
    assert tank["gauge"]["value"] == "14 AWG"
    assert all(step["text"] for decision in tank.values() for step in decision["steps"])
    wires = {name for row in data["circuits"] for name in row["wires"]}
    assert wires == {wire.id for wire in full.assembled.wires}


def test_only_named_parts_are_written(full: Draft) -> None:
    assert set(packet_files(full, frozenset({"schedule"}))) == {"schedule.csv"}
    with pytest.raises(UnknownPartError, match="sketch"):
        packet_files(full, frozenset({"sketch"}))


def test_no_cell_can_start_a_formula() -> None:
    assert [neutral(c) for c in ("=1+1", "+3", "-3", "@x", "C01", "")] == [
        "'=1+1",
        "'+3",
        "'-3",
        "'@x",
        "C01",
        "",
    ]
    data = csv_bytes(Table("t", "t", Cell, (Cell('=HYPERLINK("x")'),)), {})
    assert data.splitlines()[1].startswith(b"\"'=")


def test_wrapping_loses_nothing() -> None:
    text = "a quite long sentence with averyveryveryverylongwordindeed in it"
    lines = wrapped(text, 20, 3)
    assert "".join(lines).replace(" ", "") == text.replace(" ", "")
    assert all(text_width(line, 3) <= 20 for line in lines)
    assert fitted("abcdefghijkl", 12, 3).endswith("…")


def test_csv_for_spreadsheets_is_the_same_behind_its_mark(full: Draft) -> None:
    only = frozenset({"ends"})
    plain, marked = (
        packet_files(full, only, handed=Handed(for_spreadsheets=mark))["ends.csv"]
        for mark in (False, True)
    )
    assert marked == b"\xef\xbb\xbf" + plain and "→".encode() in plain


def test_on_a3_everything_is_larger_but_what_is_to_scale(composed: Composed) -> None:
    pages = composed.pages
    large = Handed(paper="A3").on_paper(pages)
    assert Handed().on_paper(pages) == list(pages) and len(large) == len(pages)
    for page, big in zip(pages, large, strict=True):
        if page.title == "Labels at full size":
            assert big == page
            continue
        assert (round(big.width_mm), round(big.height_mm)) == (420, 297)
        for item, grown in zip(page.items, big.items, strict=True):
            if isinstance(item, Text) and isinstance(grown, Text):
                assert grown.size == pytest.approx(item.size * 2**0.5)
                assert grown.x / big.width_mm == pytest.approx(item.x / page.width_mm)
    assert any(page == big for page, big in zip(pages, large, strict=True))


def test_nothing_is_printed_over_the_foot_of_a_page(composed: Composed) -> None:
    for page in composed.pages:
        if page.to_scale:
            continue
        low = [i.text for i in page.items if isinstance(i, Text) and i.y > 201]
        told = [t for t in low if re.fullmatch(r"page \d+ of \d+|.* · \d+", t)]
        assert len(low) == len(told) + 1 == 3, (page.title, low)  # the caution, and its numbers


def test_nothing_is_printed_broken_inside_a_word(composed: Composed) -> None:
    assert composed.broken == set()


def test_no_page_but_the_last_of_a_section_is_under_a_third_full(composed: Composed) -> None:
    pages = composed.pages
    for page, after in itertools.pairwise(pages):
        if page.title.endswith("form board"):  # a map, in parts as wide as the page
            continue
        lowest = max(i.y for i in page.items if isinstance(i, Text) and i.y < 198)
        assert after.title != page.title or lowest > 22 + 176 / 3, page.title


def test_no_book_of_a_demo_order_has_more_than_34_pages(any_draft: Draft) -> None:
    """Everyone is handed what he works from; each has its cover, and a key where it has codes."""
    for book in packet_books(any_draft):
        sections = [(section.title, section.pages()) for section in book.sections]
        titles = [title for title, _ in sections]
        keyed = titles[1] == "Key to the codes"
        assert titles[0] == book.title and keyed == (book.name != "office")
        pages = bound(sections)
        assert len(pages) <= 34, (book.name, len(pages))
        assert f"page {len(pages)} of {len(pages)}" in _texts(pages[-1])
        assert "minus off first" in _texts(pages[0])


def test_jumpers_of_many_lengths_are_told_in_few() -> None:
    done = drafted(DEMO_FOLDER / "hull-1104.loom.json")
    panels = next(s for s in packet_sections(done) if s.title == "Switch panels")
    text = " ".join(map(_texts, panels.pages()))
    assert "Ready-made in few lengths: 16 AWG BU in 3, 4, 5.5 in instead of 4" in text


def _texts(page: Page) -> str:
    return " ".join(item.text for item in page.items if isinstance(item, Text))


def test_the_cover_keeps_the_shops_closed_days(full: Draft) -> None:
    """Hull 0417 is at its station on Monday 7 December; Friday the 4th is closed here."""
    closed = Shop(closed=("2026-12-04",))
    first, with_closed = (packet_sections(full, shop)[0].pages()[0] for shop in (Shop(), closed))
    assert "due Fri 4 Dec 2026" in _texts(first)
    assert "due Thu 3 Dec 2026" in _texts(with_closed)


def test_what_lies_in_the_boat_is_not_printed_with_a_length_to_cut(
    full: Draft, order: Order, boat: Boat
) -> None:
    built = dataclasses.replace(order, built=built_wires(full.assembled)[:1])
    changed = draft(built, boat, full.catalogue)
    harnesses = [s for s in packet_sections(changed) if s.title.endswith("harness")]
    pages = [page for section in harnesses for page in section.pages()]
    cut = " ".join(_texts(page) for page in pages if page.title.endswith("harness"))
    assert cut.split().count("stays") == 1


def test_an_end_to_cap_is_capped_on_every_sheet(files: dict[str, bytes]) -> None:
    later = [r for r in rows(files, "caps.csv") if r["what"] == "Heated helm seat"]
    assert later
    cut = {r["label_from"]: r["from_termination"] for r in rows(files, "cutlist.csv")}
    cut |= {r["label_to"]: r["to_termination"] for r in rows(files, "cutlist.csv")}
    assert {cut[row["label"]] for row in later} == {"adhesive end cap"}


def test_every_column_of_every_table_is_told_in_the_formats_page() -> None:
    page = (Path(__file__).parents[2] / "docs" / "formats.md").read_text()
    files = re.split(r"`(?=\w+\.csv`)", page)[1:]
    told = {text.split(".csv`")[0]: text for text in files}
    done = drafted(DEMO_FOLDER / "hull-0417.loom.json")
    for table in packet_tables(done):
        if table.name == "findings":  # findings.json
            continue
        words = set(re.findall(r"\w+", told[table.name]))
        assert set(table.columns) <= words, table.name


def test_every_page_is_counted_and_a_packet_with_errors_says_so_on_each(
    printed: dict[str, list[str]], mistakes: Draft
) -> None:
    """Read back from the PDFs: 'page n of m', and DRAFT only while errors are open."""
    wrong = packet_files(mistakes, frozenset({"aboard", "office"}))
    books = [(name, pages, 0) for name, pages in printed.items()]
    books += [(name, read_back(wrong[f"{name}.pdf"]), 77) for name in ("aboard", "office")]
    within = {
        "packet": {"Recipes and jaws", "Deck harness", "Labels"},
        "aboard": {"Landing list", "Switch panels"},
        "proof": {"Ringing out", "Making alive"},
        "office": {"Circuit schedule", "Materials", "Findings"},
    }
    for book, pages, errors in books:
        listed = pages[0].split("\nContents\n")[1]
        contents = re.findall(r"^(\D+)\n(\d+)$", listed, re.MULTILINE)
        assert within[book] <= {t for t, _ in contents}
        for title, first in contents:  # what is told stands where it is told, by its own name
            assert title.removesuffix("s") in pages[int(first) - 1].replace("\n", " "), title
            assert title not in pages[int(first) - 2].split("\n")[0]
        for number, text in enumerate(pages, 1):
            assert f"page {number} of {len(pages)}" in text
            assert (f"DRAFT, {errors} errors: do not build" in text) == bool(errors), number
