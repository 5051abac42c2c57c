"""One figure is written alike wherever it stands: in the tables, on paper, in findings."""

import re
from decimal import ROUND_HALF_EVEN, Decimal

import pytest

from tests.conftest import drafted
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft
from vivid_loom.quantities import length_text, percent_text
from vivid_loom.sheets.lists.schedule import schedule
from vivid_loom.sheets.packet import packet_table
from vivid_loom.sheets.pages.branch_pages import branch_pages
from vivid_loom.sheets.pages.office_pages import schedule_pages
from vivid_loom.sheets.pages.thread_pages import thread_pages
from vivid_loom.sheets.paper.drawing import Page, Text
from vivid_loom.sheets.paper.layout import Setting


def lines(pages: list[Page], reach: float) -> list[list[Text]]:
    """Return the words of each page by the height they stand at."""
    found: list[list[Text]] = []
    for page in pages:
        texts = sorted((i for i in page.items if isinstance(i, Text)), key=lambda t: t.y)
        for text in texts:
            if not found or found[-1][0].y > text.y or text.y - found[-1][0].y > reach:
                found.append([])
            found[-1].append(text)
    return [sorted(line, key=lambda t: t.x) for line in found]


def figures(
    pages: list[Page], reach: float, wanted: set[str], pattern: str
) -> dict[str, tuple[str, ...]]:
    """Return what matches on the line of each circuit."""
    found: dict[str, tuple[str, ...]] = {}
    for line in lines(pages, reach):
        words = [t.text for t in line]
        for name in wanted & {w.split(" ")[0] for w in words}:
            if match := re.search(pattern, "|".join(words)):
                found.setdefault(name, match.groups())
    return found


def test_loop_current_and_drop_are_alike_on_all_sheets(any_draft: Draft) -> None:
    setting = Setting("order", "date")
    table = {r.circuit_id: r for r in schedule(any_draft).rows if r.gauge}
    units = any_draft.aboard.profile.units
    on_schedule = figures(
        schedule_pages(any_draft, setting),
        1.0,
        set(table),
        r"([\d.]+)\|([\d.]+)\|([\d/.]+ (?:AWG|SAE|mm²))[^|]*\|[^|]*\|([\d.]+) of",
    )
    on_threads = figures(
        thread_pages(any_draft, setting),
        5.0,
        set(table),
        rf"([\d.]+) A\|([\d.]+) {units}\|([\d/.]+ (?:AWG|SAE|mm²))\|([\d.]+) %",
    )
    assert set(on_schedule) == set(on_threads) == set(table)
    assert on_schedule == on_threads
    for name, (_, loop, gauge, drop) in on_schedule.items():
        row = table[name]
        metres = Decimal(row.loop_length_m) / (Decimal("0.3048") if units == "ft" else 1)
        assert abs(Decimal(loop) - metres) <= Decimal("0.0501")
        assert abs(Decimal(drop) - Decimal(row.drop_percent)) <= Decimal("0.00501")
        assert gauge == row.gauge


@pytest.mark.parametrize("units", ["m", "ft"])
def test_what_the_tables_round_is_rounded_no_second_way(units: str) -> None:
    """A length of 8.3496 m stands in the tables as 8.350: no sheet may make 8.3 of it there
    and 8.4 elsewhere.
    """
    for tenths_mm in range(83_000, 84_000):
        metres = tenths_mm / 10_000
        in_table = float(f"{metres:.3f}")
        assert length_text(metres, units) == length_text(in_table, units)
        assert percent_text(metres) == percent_text(in_table)
    assert percent_text(2.675) in ("2.67", "2.68")
    exact = Decimal("8.25").quantize(Decimal("0.1"), ROUND_HALF_EVEN)
    assert length_text(8.25, "m") == f"{exact} m"


@pytest.mark.parametrize("hull", ["0417", "0609"])
def test_branches_are_measured_as_the_shop_measures(hull: str) -> None:
    """What branches.csv tells in mm is printed in the unit that wires are cut in."""
    done = drafted(DEMO_FOLDER / f"hull-{hull}.loom.json")
    inches = done.aboard.profile.units == "ft"
    rows = [r for r in packet_table(done, "branches").rows if r.kind == "branch"]
    boats = done.aboard.boat.assemblies
    pages = [p for a in boats for p in branch_pages(done, a, Setting("order", "foot"))]
    told = [" | ".join(t.text for t in line) for line in lines(pages, 0.4)]
    for row in rows:
        far, long = (float(mm) for mm in (row.datum_mm, row.length_mm))
        shown = [f"{round(mm / 25.4, 1):g}" if inches else f"{mm:.0f}" for mm in (far, long)]
        wanted = " | ".join((row.branch, "[^|]*", "[^|]*", *map(re.escape, shown), row.wires))
        assert any(re.search(wanted.replace(" | ", r" \| "), text) for text in told), row
    assert any(("datum in" if inches else "datum mm") in text for text in told)


def test_what_no_hand_moves_is_told_by_its_own_states() -> None:
    """A float is lifted, a key turned on, a coil pulled: only levers go up, and spring back."""
    told = {
        (row.legend.lower(), row.lever)
        for hull in ("0417", "0609")
        for row in packet_table(drafted(DEMO_FOLDER / f"hull-{hull}.loom.json"), "presses").rows
    }
    assert {("ignition", "on"), ("ignition", "off"), ("horn", "up, springs back")} <= told
    assert {lever for legend, lever in told if "float" in legend} == {"hanging", "lifted"}
    live = {
        r.live for r in packet_table(drafted(DEMO_FOLDER / "hull-0417.loom.json"), "switches").rows
    }
    assert {"key on", "coil pulled", "lever up", "lever down"} <= live
