"""Practice is never proof: no path by which what a stand-in reads reaches the boat's own log."""

import datetime
from collections.abc import Callable
from pathlib import Path

import pytest
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st
from pytestqt.qtbot import QtBot

from tests.bench.test_proven import prove
from tests.conftest import drafted
from tests.desktop.test_bench_stage import opened, settle, standing_in, work_through
from vivid_loom.bench.devices.tester_stand_in import IDENTITY
from vivid_loom.bench.logbook import STAND_IN, Logbook, LogError, log_path
from vivid_loom.bench.record import Record
from vivid_loom.bench.ringing.plan import ring_plans
from vivid_loom.cli import main
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.frame.window import MainWindow
from vivid_loom.opening import practice_log

Open = Callable[[Path], MainWindow]


def test_what_a_stand_in_reads_is_kept_apart(
    open_on: Open, small_order: Path, qtbot: QtBot
) -> None:
    """Pressing *Stand-in* wrote simulated readings into the boat's real record."""
    window = open_on(small_order)
    stage = opened(window)
    stage.stand_in(practise=False)
    qtbot.waitUntil(lambda: stage.link.tester is not None, timeout=120_000)
    page = stage.ring
    page.read()
    settle(stage, qtbot)
    page.answer(ok=True)  # eyes on a stand-in's harness
    stage.pulls.newton.setText("400")
    stage.pulls.tool.setText("7")
    stage.pulls.table.selectRow(0)
    stage.pulls.pull()
    stage.tabs.setCurrentWidget(stage.alive)
    work_through(stage, stage.alive, qtbot)
    assert stage.alive.progress is not None and stage.alive.progress.proven
    assert "PRACTICE, it proves nothing" in stage.alive.told.text()
    assert stage.alive.card().turn.startswith("Practice")  # type: ignore[union-attr]
    assert not log_path(small_order).exists()
    assert len(practice_log(small_order).entries) > 20
    papers = stage.papers
    stage.tabs.setCurrentWidget(papers)
    qtbot.waitUntil(lambda: "Proven: checked" in papers.told.text(), timeout=120_000)
    assert "no state and no paper reads it" in papers.whole.text()
    for deed in (
        papers.sign,
        lambda: papers.write_papers(small_order.parent),
        stage.deviations.note,
    ):
        window.message.setText("")
        deed()
        assert "this is practice" in window.message.text()
    assert not [path for path in small_order.parent.iterdir() if path.suffix == ".pdf"]
    stage.link.release()  # let go: the boat's own log again, and nothing in it
    assert not stage.book.record.entries and "PRACTICE" not in stage.ring.told.text()
    stage.tabs.setCurrentWidget(stage.alive)
    assert len(stage.alive.progress.left) > 20


def test_the_command_line_practises_apart(small_order: Path) -> None:
    with standing_in(drafted(DEMO_FOLDER / small_order.name)) as port:
        told = ["ring", str(small_order), "--who", "IM", "--tester", f"127.0.0.1:{port}"]
        rung = CliRunner().invoke(main, [*told, "--harness", "deck"])
    assert rung.exit_code == 0, rung.output
    assert "practice" in rung.output and not log_path(small_order).exists()
    assert practice_log(small_order).entries


@given(st.text(max_size=20), st.sampled_from(("result", "pull", "rework", "signed")))
def test_no_log_takes_what_a_stand_in_read(tmp_path_factory, around: str, kind: str) -> None:  # type: ignore[no-untyped-def]
    log = Logbook(tmp_path_factory.mktemp("log") / "a.loom.json")
    with pytest.raises(LogError, match="proves nothing"):
        log.append(kind, "IM", {}, revision="r", instrument=f"{around}{STAND_IN} x{around}")
    assert not log.entries and not log.path.exists()


def test_what_was_written_before_counts_no_more(tmp_path: Path) -> None:
    """Logs of last month hold readings of stand-ins: they are passed over, and told."""
    plain = drafted(DEMO_FOLDER / "hull-0611.loom.json")
    log = Logbook(tmp_path / "hull-0611.loom.json", is_practice=True)
    prove(plain, log)
    plan = ring_plans(plain)[0]
    assert Record(log.entries).ringing(plan).proven
    for named in (f"{STAND_IN} {IDENTITY} 2026", "Quillhaven,bench tester stand-in,1,1.0 2026"):
        read = tuple(e._replace(instrument=named) for e in log.entries)
        record = Record(read)
        assert not record.entries and len(record.passed_over) == len(read)
        assert {why for _, why in record.passed_over} == {"was read by a stand-in"}
        assert Record(read, is_practice=True).ringing(plan).proven


def test_a_reading_by_hand_names_its_meter(open_on: Open, small_order: Path) -> None:
    window = open_on(small_order)
    stage = opened(window)
    stage.meter.clear()
    stage.ring.type_reading("0.01")
    assert "Which meter?" in window.message.text() and not log_path(small_order).exists()
    stage.meter.setText("METER 12, 2031-05-01")
    stage.ring.type_reading("0.01")
    yesterday = datetime.date.today() - datetime.timedelta(days=1)
    stage.meter.setText(f"METER 3, {yesterday}")
    stage.ring.at = "zero leads"
    stage.ring.type_reading("0.01")
    assert "calibration is overdue" in window.message.text()
    told = [entry.instrument for entry in Logbook(small_order).entries]
    assert told == [
        "by hand, METER 12, 2031-05-01",
        f"by hand, METER 3, {yesterday}, calibration OVERDUE",
    ]
