"""What of the chafe scan has to be judged, on two pages and in the findings."""

import pytest
from click.testing import CliRunner

from tests.conftest import drafted
from vivid_loom.cli import main
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft
from vivid_loom.power.board import Board
from vivid_loom.power.course import course
from vivid_loom.power.harm import Harm, harms
from vivid_loom.power.scan import Scanned, by_fault, is_safety, scan_draft, worst_first
from vivid_loom.power.setting import SCENARIOS, scenario_setting
from vivid_loom.sheets.pages.fault_pages import fault_pages
from vivid_loom.sheets.paper.drawing import Text
from vivid_loom.sheets.paper.layout import Setting


@pytest.fixture(scope="module")
def plain() -> Draft:
    """The smallest demo order."""
    return drafted(DEMO_FOLDER / "hull-0611.loom.json")


def test_every_scenario_is_in_it_the_worst_first(plain: Draft) -> None:
    rows = scan_draft(plain)
    assert {row.scenario for row in rows} == set(SCENARIOS)
    assert list(rows) == worst_first(plain, rows)
    assert scan_draft(plain) is rows  # asked for once


def again(draft: Draft, harm: Harm, rows: tuple[Scanned, ...]) -> bool:
    """Tell whether one of the faults does the harm when it is followed by itself."""
    board = Board(draft)
    for row in rows:
        if row.probe.at in harm.at:
            found = course(board, scenario_setting(draft, row.scenario), row.probe.fault)
            burnt = dict(found.burnt)
            if harm.kind == "burns" and abs(burnt.get(harm.what, 0.0) - harm.most) < 1.0:
                return True
            if harm.kind == "safety dark" and harm.what in found.lost:
                return True
            if harm.kind == "flows on" and row.flows_on == harm.most:
                return True
    return False


def test_each_harm_is_what_a_fault_by_itself_does(full: Draft) -> None:
    rows = scan_draft(full)
    found = harms(full, rows)
    assert found
    for harm in found[:4] + found[-4:]:
        assert again(full, harm, rows), harm
        assert len(set(harm.at)) == len(harm.at)
    told = {(h.kind, h.what) for h in found}
    for row in rows:
        if row.burnt[0]:
            assert ("burns", row.burnt[0]) in told
        if row.flows_on:
            assert ("flows on", row.probe.at) in told
    for harm in found:
        if harm.kind == "safety dark":
            assert is_safety(full, harm.what)


def test_a_safety_load_that_goes_dark_with_another_circuit_is_one(full: Draft) -> None:
    """No demo boat has one: a row is made that says the main fuse opens for a lamp's short."""
    rows = scan_draft(full)
    pump = next(e for row in rows for e in (*row.lost, *row.own) if is_safety(full, e))
    lamps = [r for r in rows if r.opens and r.probe.circuit == "C05"]
    main = next(r.opens[-1] for r in rows if r.probe.circuit == "F02" and r.opens)
    planted = [row._replace(lost=(pump,), opens=(main,)) for row in lamps]
    (harm,) = harms(full, planted)
    assert (harm.kind, harm.what, harm.opens) == ("safety dark", pump, main)
    assert harm.at == tuple(dict.fromkeys(row.probe.at for row in planted))


def test_a_feeder_that_fails_is_no_finding(full: Draft) -> None:
    feeders = {row.id for row in full.feeders}
    rows = [r for r in scan_draft(full) if r.probe.circuit in feeders and not r.burnt[0]]
    assert any(r.lost and r.opens for r in rows)
    assert not [h for h in harms(full, rows) if h.kind == "safety dark"]


def test_the_pages_hold_the_worst_and_say_how_many_there_are(full: Draft) -> None:
    pages = fault_pages(full, Setting("QH-86", "caution"))
    assert 1 <= len(pages) <= 2
    words = " ".join(i.text for page in pages for i in page.items if isinstance(i, Text))
    tried = by_fault(scan_draft(full))
    assert f"{len(tried)} faults change something" in words
    for one in tried[:8]:
        assert one.worst.probe.at.split(" ")[0] in words
    burnt = sum(bool(one.worst.burnt[0]) for one in tried)
    assert f"{burnt} heat a wire" in words


def test_the_check_says_what_one_fault_would_do(plain: Draft) -> None:
    run = CliRunner().invoke(main, ["check", str(DEMO_FOLDER / "hull-0611.loom.json")])
    rows = scan_draft(plain)
    assert f"{len(rows)} faults tried in every scenario" in run.output
    assert {row.scenario for row in rows} == set(SCENARIOS)
    assert not harms(plain, rows) and " W0" not in run.output


def test_a_boat_that_is_drawn_wrong_is_not_broken() -> None:
    run = CliRunner().invoke(main, ["check", str(DEMO_FOLDER / "hull-0423.loom.json")])
    assert run.exit_code == 1 and "faults tried" not in run.output
