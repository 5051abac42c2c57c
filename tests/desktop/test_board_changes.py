"""A revision while the harness is on the board: what is ticked and asked for otherwise is told."""

import dataclasses
from collections.abc import Callable
from pathlib import Path

import pytest

from tests.conftest import drafted
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.frame.window import HARNESS, MainWindow
from vivid_loom.drafting import Draft
from vivid_loom.order import Tick, tick_wire, write_order
from vivid_loom.sheets import packet_table
from vivid_loom.sheets.books import packet_books
from vivid_loom.workshop.harness.built import board_changes, tick_of, ticked_wires


@pytest.fixture(scope="module")
def small() -> Draft:
    return drafted(DEMO_FOLDER / "hull-0611.loom.json")


def with_ticks(done: Draft, *ticks: Tick) -> Draft:
    order = dataclasses.replace(done.aboard.order, ticks=ticks)
    return dataclasses.replace(done, aboard=dataclasses.replace(done.aboard, order=order))


def test_a_tick_holds_both_ends(small: Draft) -> None:
    """A wire whose cavity, screw or terminal was another since was still called built."""
    wire = next(w for w in small.assembled.wires if w.runs)
    tick = tick_of(wire)
    assert ticked_wires(with_ticks(small, tick)) == {wire.id}
    assert not board_changes(with_ticks(small, tick))
    other = f"{wire.end.place} elsewhere, {wire.end.termination.kind}"
    moved = with_ticks(small, dataclasses.replace(tick, end=other))
    ring = with_ticks(small, dataclasses.replace(tick, start=f"{wire.start.words}, bare"))
    longer = with_ticks(small, dataclasses.replace(tick, cut_mm=tick.cut_mm + 5))
    gone = with_ticks(small, dataclasses.replace(tick, wire="C99-P1"))
    kinds = [c.kind for d in (moved, ring, longer, gone) for c in board_changes(d)]
    assert kinds == ["land anew", "land anew", "make anew", "pull out"]
    assert not any(ticked_wires(done) for done in (moved, ring, longer, gone))
    old = dataclasses.replace(tick, start="", end="", harness="")  # knew nothing of ends
    assert ticked_wires(with_ticks(small, old)) == {wire.id}


def test_every_change_is_listed_and_printed_first(small: Draft) -> None:
    first, second = small.assembled.wires[:2]
    ticks = (
        dataclasses.replace(tick_of(first), wire="C99-P1"),
        dataclasses.replace(tick_of(second), gauge="99 mm²"),
    )
    done = with_ticks(small, *ticks)
    rows = packet_table(done, "boardchanges").rows
    assert {(row.what, row.wire_id) for row in rows} == {
        ("pull out", "C99-P1"),
        ("make anew", second.id),
    }
    book = packet_books(done, tried=False)[0]
    assert [section.title for section in book.sections][1] == "Built otherwise since"
    text = " ".join(
        i.text for page in book.sections[1].pages() for i in page.items if hasattr(i, "text")
    )
    assert "C99-P1" in text and second.id in text
    titles = [section.title for section in packet_books(small, tried=False)[0].sections]
    assert "Built otherwise since" not in titles


def test_the_board_says_so_and_forgets_what_is_out(
    open_on: Callable[[Path], MainWindow], small: Draft, tmp_path: Path
) -> None:
    tick = dataclasses.replace(tick_of(small.assembled.wires[0]), wire="C99-P1")
    path = tmp_path / "hull-0611.loom.json"
    write_order(path, tick_wire(tick)[1](small.aboard.order))
    window = open_on(path)
    window.open_stage(HARNESS)
    stage = window.view
    assert "BUILT OTHERWISE SINCE: pull out C99-P1." in stage.told.text()
    stage.pulled_out()
    assert not window.session.order.ticks and "OTHERWISE" not in stage.told.text()
    stage.pulled_out()
    assert "No wire that is ticked" in window.message.text()
