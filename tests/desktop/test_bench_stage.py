"""Stage Bench in the real window: by keys, pulls, deviations, a boat's whole life."""

import contextlib
import json
import threading
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from pypdf import PdfReader
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QInputDialog
from pytestqt.qtbot import QtBot

from tests.bench.test_odd_logs import ODD, SOUND, damaged
from vivid_loom.bench.devices.simulated import Flaw
from vivid_loom.bench.devices.tester_stand_in import StandInTester
from vivid_loom.bench.logbook import Logbook
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.bench.card import LargeDialog
from vivid_loom.desktop.bench.courses import RingCourse
from vivid_loom.desktop.bench.guided import GuidedPage
from vivid_loom.desktop.bench.stage import BenchStage
from vivid_loom.desktop.frame.window import BENCH, ORDER, MainWindow
from vivid_loom.desktop.order.new_order import OrderDialog
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.drafting import Draft
from vivid_loom.order import Override, set_override, tick_wire
from vivid_loom.power.fault import Fault
from vivid_loom.workshop.harness.built import tick_of

pytestmark = pytest.mark.usefixtures("counts_as_a_tester")
Open = Callable[[Path], MainWindow]
Answer = Callable[[Callable[[QDialog], None]], list[str]]


@contextlib.contextmanager
def standing_in(draft: Draft, *flaws: Flaw, **how: object) -> Iterator[int]:
    made = StandInTester(draft, flaws, **how)  # type: ignore[arg-type]
    threading.Thread(target=made.serve, daemon=True).start()
    try:
        yield made.port
    finally:
        made.close()


def opened(window: MainWindow) -> BenchStage:
    window.open_stage(BENCH)
    stage = window.view
    assert isinstance(stage, BenchStage)
    stage.wait_for_plans()
    stage.who.setText("im")
    stage.meter.setText("METER 12, 2031-05-01")
    return stage


def connect(stage: BenchStage, port: int, qtbot: QtBot) -> None:
    stage.address.setText(f"127.0.0.1:{port}")
    stage.connect_tester()
    qtbot.waitUntil(lambda: stage.link.tester is not None, timeout=120_000)


def settle(stage: BenchStage, qtbot: QtBot) -> None:
    qtbot.waitUntil(lambda: not stage.link.busy, timeout=120_000)


def course(page: GuidedPage, name: str) -> RingCourse:
    """Return a harness's course."""
    found = next(c for c in page.courses if c.place == name)
    assert isinstance(found, RingCourse)
    return found


def harness(page: GuidedPage, name: str) -> None:
    page.choice.setCurrentIndex([c.place for c in page.courses].index(name))
    page._course_chosen()


def work_through(stage: BenchStage, page: GuidedPage, qtbot: QtBot) -> None:
    """Have everything read that is left, step by step, whatever comes of it."""
    page.read_on()
    qtbot.waitUntil(lambda: not page.progress.left, timeout=240_000)  # type: ignore[union-attr]
    settle(stage, qtbot)


def limit(page: GuidedPage, name: str) -> float:
    """Return a limit of the first wire of the list."""
    assert page.progress is not None
    return float(getattr(next(s for s in page.progress.steps if s.kind == "wire"), name))


def test_a_harness_is_rung_out_by_keys_alone(
    open_on: Open, small_order: Path, qtbot: QtBot
) -> None:
    window = open_on(small_order)
    stage = opened(window)
    page = stage.ring
    harness(page, "deck")
    usual = limit(page, "high")
    stage.celsius.setValue(12.0)  # by hand, as there is no tester
    qtbot.waitUntil(lambda: bool(page.courses), timeout=120_000)
    cold = limit(page, "high")
    with standing_in(window.session.draft, copper_c=33.0) as port:
        connect(stage, port, qtbot)
        qtbot.waitUntil(lambda: bool(page.courses), timeout=120_000)
        assert stage.celsius.value() == 33.0 and not stage.celsius.isEnabled()
        assert "Limits at 33 °C" in page.told.text()
        assert cold < usual < limit(page, "high") < 1.06 * usual
        window.activateWindow()
        page.view.setFocus()
        qtbot.waitUntil(page.view.hasFocus)
        assert page.at == "zero leads"  # the meter's own, before anything else
        qtbot.keyClick(page.view, Qt.Key.Key_Y)  # cannot be answered by eye
        assert "This is read" in window.message.text()
        qtbot.keyClick(page.view, Qt.Key.Key_Space)
        settle(stage, qtbot)
        first = page.at
        assert first.startswith("seated ")
        qtbot.keyClick(page.view, Qt.Key.Key_Y)  # by eye
        assert page.at != first
        assert page.progress is not None and len(page.progress.results) == 2
        qtbot.keyClick(page.view, Qt.Key.Key_Left)
        assert page.card().verdict == "passed"  # type: ignore[union-attr]
        qtbot.keyClick(page.view, Qt.Key.Key_O)
        assert page.card().verdict == ""  # type: ignore[union-attr]
        qtbot.keyClick(page.view, Qt.Key.Key_A)  # read on
        qtbot.waitUntil(lambda: page.progress.proven, timeout=120_000)  # type: ignore[union-attr]
    log = Logbook(small_order)
    assert len(log.entries) == 1 + len(course(page, "deck").plan.steps)
    assert {entry.who for entry in log.entries} == {"IM"}
    assert not log.troubles


def test_a_tester_without_a_thermometer_is_told_how_warm_it_is(
    open_on: Open, small_order: Path, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("vivid_loom.bench.devices.tester_stand_in.OPTIONS", "FRES,INS,NULL,SIM")
    window = open_on(small_order)
    stage = opened(window)
    page, usual = stage.ring, limit(stage.ring, "high")
    with standing_in(window.session.draft, copper_c=31.0) as port:
        connect(stage, port, qtbot)
        assert stage.celsius.isEnabled() and limit(page, "high") == usual
        sitting = stage.link.sitting.id
        stage.celsius.setValue(31.0)
        qtbot.waitUntil(lambda: bool(page.courses), timeout=120_000)
        assert stage.link.sitting.id == sitting  # the same meter: its leads stay zeroed
        assert limit(page, "high") > usual and "Limits at 31 °C" in page.told.text()
        page.read()
        settle(stage, qtbot)
        page.at = next(s.id for s in page.progress.steps if s.kind == "wire")  # type: ignore[union-attr]
        page.refresh()
        page.read()
        settle(stage, qtbot)
    assert [e.what["copper_c"] for e in Logbook(small_order).entries] == [31.0, 31.0]


def test_nothing_is_recorded_without_initials_or_after_a_lost_tester(
    open_on: Open, small_order: Path, qtbot: QtBot
) -> None:
    window = open_on(small_order)
    stage = opened(window)
    page = stage.ring
    stage.who.setText("")
    page.type_reading("0")
    assert "initials" in window.message.text()
    stage.who.setText("IM")
    page.read()
    assert "No tester is connected" in window.message.text()
    with standing_in(window.session.draft, misbehaves="drop", after=1) as port:
        connect(stage, port, qtbot)
        page.at = wire = next(s.id for s in page.progress.steps if s.kind == "wire")  # type: ignore[union-attr]
        page.refresh()
        page.read()
        assert "The meter's own leads first" in window.message.text()
        assert page.at == "zero leads"
        page.read()
        settle(stage, qtbot)
        kept = len(page.progress.results)  # type: ignore[union-attr]
        page.at = wire
        page.read()
        qtbot.waitUntil(lambda: stage.link.tester is None, timeout=120_000)
        assert "Nothing was recorded" in window.message.text()
        assert len(Logbook(small_order).entries) == kept == 1
        connect(stage, port, qtbot)  # it goes on where it stood, but for the leads
        assert page.at == wire
        page.read()
        assert page.at == "zero leads"
        page.read()
        settle(stage, qtbot)
        page.at = wire
        page.read()
        settle(stage, qtbot)
        assert page.progress.results[wire].passed  # type: ignore[union-attr]
    assert len(Logbook(small_order).entries) == 3


def test_a_reading_typed_by_hand(open_on: Open, small_order: Path) -> None:
    window = open_on(small_order)
    stage = opened(window)
    page = stage.ring
    step = next(s for s in page.progress.steps if s.kind == "wire")  # type: ignore[union-attr]
    page.at = step.id
    page.type_reading(f"{(step.low + step.high) / 2}")
    assert page.at == "zero leads" and not Logbook(small_order).entries
    page.type_reading("0.4")  # what the leads read is not taken off
    assert "do not come to nothing" in page.causes.rows_model.rows[0][0].text
    page.type_reading("0,01")
    page.at = step.id
    page.type_reading("a lot")
    assert "expected a reading in mΩ, or 'open'" in window.message.text()
    page.type_reading(f"{(step.low + step.high) / 2:.2f}".replace(".", ","))
    assert page.progress.results[step.id].passed  # type: ignore[union-attr]
    page.at = step.id
    page.type_reading("open")
    assert not page.progress.results[step.id].passed  # type: ignore[union-attr]
    assert "is open" in page.causes.rows_model.rows[0][0].text
    assert window.message.text() == f"Wire {step.subject}: open."


def test_the_large_card_takes_the_same_keys(open_on: Open, small_order: Path, qtbot: QtBot) -> None:
    window = open_on(small_order)
    stage = opened(window)
    page = stage.ring
    page.open_large()
    large = page.findChild(LargeDialog)
    assert large is not None
    qtbot.waitExposed(large)
    page.type_reading("0")
    at = page.at
    qtbot.keyClick(large, Qt.Key.Key_Right)
    assert page.at != at
    qtbot.keyClick(large, Qt.Key.Key_Left)
    qtbot.keyClick(large, Qt.Key.Key_Y)
    assert page.progress.results[at].passed  # type: ignore[union-attr]
    large.view.setFocus()
    picture = large.view.grab().toImage()
    corner = picture.pixelColor(picture.width() // 2, picture.height() - 40)
    assert corner.lightness() > 200  # no mark of the focus lies over the words
    qtbot.keyClick(large, Qt.Key.Key_Escape)
    assert not large.isVisible()


def test_a_failed_pull_holds_crimps_back(open_on: Open, small_order: Path) -> None:
    window = open_on(small_order)
    stage = opened(window)
    page = stage.pulls
    assert not page.table.rows_model.rows, "nobody looks yet"
    stage.tabs.setCurrentWidget(page)
    group = max(page.groups, key=lambda g: len(g.crimps))
    page.table.selectRow([g.id for g in page.groups].index(group.id))
    page.newton.setText("lots")
    page.pull()
    assert "expected what the piece bore" in window.message.text()
    page.newton.setText(f"{group.newton + 5:.0f}")
    page.pull()
    assert "Which tool?" in window.message.text()
    page.tool.setText("T7")
    page.pull()
    assert "passed" in window.message.text()
    page.newton.setText(f"{group.newton / 2:.0f}")
    page.pull()
    held = len(group.crimps) - 1
    assert f"FAILED: {held} crimps are held back" in window.message.text()
    assert len(page.held.rows_model.rows) == held
    page.remake()
    assert not page.held.rows_model.rows


def test_a_deviation_is_judged_signed_and_drafted(
    open_on: Open, small_order: Path, qtbot: QtBot
) -> None:
    window = open_on(small_order)
    stage = opened(window)
    page = stage.deviations
    stage.tabs.setCurrentWidget(page)
    page.subject.setText("N99")
    page.note()
    assert "Found 'N99', expected a circuit" in window.message.text()
    page.subject.setText("N11")
    page.value.setText("30")
    page.reason.setText("no 7.5 A in stock")
    page.note()
    qtbot.waitUntil(lambda: "NOT SAFE" in page.judged.text(), timeout=120_000)
    page.answer.setText("fit 7.5 A before the hull leaves")
    page.refuse()
    assert window.session.order.deviations[0].verdict == "refused"
    page.kind.setCurrentIndex(1)
    page.value.setText("2.5 mm²")
    page.reason.setText("no 1.5 mm² in stock")
    page.note()
    qtbot.waitUntil(lambda: "rings" in page.judged.text(), timeout=20_000)
    page.sign()
    assert "IM noted it: somebody else answers" in window.message.text()
    stage.who.setText("tw")
    page.sign()
    row = window.session.draft.circuit("N11")
    assert row is not None and row.sized is not None
    assert str(row.sized.gauge.value) == "2.5 mm²"  # the order is drafted as it was built
    kinds = [e.what["verdict"] for e in Logbook(small_order).entries if e.kind == "deviation"]
    assert kinds == ["open", "refused", "open", "signed"]
    page.kind.setCurrentIndex(3)
    page.subject.setText("N11-P1")
    page.value.setText("nowhere")
    page.reason.setText("chafed")
    page.note()
    station = window.session.draft.aboard.boat.stations[2]
    assert "expected a station" in window.message.text()
    assert station.name in window.message.text()
    offered = page.value.completer().model()
    assert station.name in {offered.index(i, 0).data() for i in range(offered.rowCount())}
    page.value.setText(station.name.upper())  # by name, not by id
    page.note()
    assert window.session.order.deviations[-1].value == station.id


def test_a_log_that_was_changed_is_said(open_on: Open, small_order: Path) -> None:
    window = open_on(small_order)
    stage = opened(window)
    stage.ring.type_reading("0")
    stage.ring.answer(ok=True)
    page = stage.papers
    stage.tabs.setCurrentWidget(page)
    assert "2 records, whole" in page.whole.text()
    page.withdraw(2, "the wrong plug")
    stage.tabs.setCurrentWidget(stage.ring)
    assert len(stage.ring.progress.results) == 1  # type: ignore[union-attr]
    log = Logbook(small_order)
    log.path.write_bytes(log.path.read_bytes().replace(b'"IM"', b'"TW"', 1))
    stage.tabs.setCurrentWidget(page)
    page.verify()
    assert "NOT as it was written: line 1 was changed" in page.whole.text()
    stage.ring.answer(ok=True)
    assert "Not recorded" in window.message.text()


def test_the_shipped_order_is_practised_on(window: MainWindow, qtbot: QtBot) -> None:
    stage = opened(window)
    stage.stand_in(practise=True)
    qtbot.waitUntil(lambda: stage.link.tester is not None, timeout=120_000)
    before = {path.name for path in DEMO_FOLDER.iterdir()}
    stage.ring.read()
    settle(stage, qtbot)
    assert len(stage.ring.progress.results) >= 1  # type: ignore[union-attr]
    assert {path.name for path in DEMO_FOLDER.iterdir()} == before
    stage.tabs.setCurrentWidget(stage.papers)
    assert "For practice" in stage.papers.whole.text()


def test_volts_that_are_lost_aboard_are_hunted_down(
    open_on: Open, small_order: Path, qtbot: QtBot
) -> None:
    """By keys alone: the reading fails, the next ones are asked for, one wire explains them all."""
    window = open_on(small_order)
    stage = opened(window)
    page = stage.alive
    stage.tabs.setCurrentWidget(page)
    assert page.progress is not None
    step = next(s for s in page.progress.steps if s.id == "volts N11")
    wire = "N11-N1"
    assert wire in {w.id for w in window.session.draft.assembled.wires}
    bad = Fault("corroded", wire, ohm=0.3)
    with standing_in(window.session.draft, faults=[bad]) as port:
        connect(stage, port, qtbot)
        page.at = step.id
        page.refresh()
        page.answer(ok=True)
        assert page.at == "visit begins" and not Logbook(small_order).entries  # that comes first
        page.answer(ok=True)
        page.at = step.id
        page.refresh()
        window.activateWindow()
        page.view.setFocus()
        qtbot.waitUntil(page.view.hasFocus)
        qtbot.keyClick(page.view, Qt.Key.Key_Space)
        settle(stage, qtbot)
        assert "lost beyond its figure" in page.causes.rows_model.rows[0][0].text
        assert "suspects; read" in page.causes.rows_model.rows[0][1].text
        while asked := [s.id for s in page.progress.left if s.part == "find"]:
            page.at = asked[0]
            page.refresh()
            card = page.card()
            assert card and card.turn == f"The boat · to find out why {step.subject} failed"
            qtbot.keyClick(page.view, Qt.Key.Key_Space)
            settle(stage, qtbot)
    told = page.causes.rows_model.rows[0][1].text
    assert f"{wire} corroded" in told and "nothing else explains it as well" in told
    begun, *kept = [e.what["step"] for e in Logbook(small_order).entries]
    assert (
        begun == "visit begins"
        and kept[0] == step.id
        and all(name.startswith("find ") for name in kept[1:])
    )
    assert 1 < len(kept) < 10


def build(window: MainWindow) -> None:
    """Tick every wire that is still to be built, as one edit."""
    draft = window.session.draft
    new = [w for w in draft.assembled.wires if w.id not in draft.reuse.kept]

    def apply(order):  # type: ignore[no-untyped-def]
        for wire in new:
            order = tick_wire(tick_of(wire))[1](order)
        return order

    assert window.session.apply(("tick all wires", apply))


def pull_all(stage: BenchStage) -> None:
    page = stage.pulls
    stage.tabs.setCurrentWidget(page)
    page.tool.setText("T7")
    for row, group in enumerate(page.groups):
        page.table.selectRow(row)
        while page.next.text().startswith("Next"):
            page.newton.setText(f"{group.newton * 1.3:.0f}")
            page.pull()


def call(window: MainWindow, state: str) -> None:
    window.views[ORDER].call_state(state)


def test_the_whole_life_of_an_order(
    open_on: Open, small_order: Path, answer: Answer, qtbot: QtBot, tmp_path: Path
) -> None:
    window = open_on(small_order)
    window.open_stage(ORDER)
    call(window, "checked")
    window.views[ORDER].decisions.issue("first sheets", "IM")
    call(window, "released")
    build(window)
    call(window, "built")
    assert window.session.order.state == "built"

    # ring out: two faults are found, named, mended, and only what they touch is read again
    stage = opened(window)
    page, draft = stage.ring, window.session.draft
    deck = list(course(page, "deck").plan.specimen.wires)
    hull = [w for w in page.courses[0].plan.specimen.wires if w.startswith("N")]  # type: ignore[attr-defined]
    flaws = (Flaw("open", (deck[0],)), Flaw("poor", (hull[3],)))
    with standing_in(draft, *flaws) as port:
        connect(stage, port, qtbot)
        failed = {}
        for one in list(page.courses):
            harness(page, one.place)
            work_through(stage, page, qtbot)
            assert page.progress is not None
            if page.progress.failed:
                failed[one.place] = [row[0].text for row in page.causes.rows_model.rows]
                (step,) = page.progress.failed
                before = len(page.progress.results)
                page.at = step.id
                page.rework(step.touches, "crimped anew")
                wire = step.touches[0]
                left = [s.id for s in page.progress.left]
                assert f"wire {wire}" in left and len(left) <= 4 < before
                work_through(stage, page, qtbot)
            assert page.progress.proven, one.place
        assert set(failed) == {"hull", "deck"}
        assert deck[0] in failed["deck"][0] and "open" in failed["deck"][0]
        assert hull[3] in failed["hull"][0] and "too much resistance" in failed["hull"][0]
        pull_all(stage)
        call(window, "tested")
        assert window.session.order.state == "tested", window.message.text()

        # aboard
        stage.tabs.setCurrentWidget(stage.alive)
        work_through(stage, stage.alive, qtbot)
        assert stage.alive.progress is not None and stage.alive.progress.proven
    stage.tabs.setCurrentWidget(stage.papers)
    qtbot.waitUntil(lambda: "Proven: handed over" in stage.papers.told.text(), timeout=120_000)
    stage.papers.sign()
    assert window.session.order.state == "handed_over"
    stage.papers.write_papers(tmp_path)
    text = "".join(page.extract_text() for page in PdfReader(tmp_path / "papers.pdf").pages)
    assert "NOT HANDED OVER" not in text
    assert stage.book.log is not None and stage.book.log.head[:32] in text
    kept = json.loads((tmp_path / "hull-0611-deck.record.json").read_text())
    assert {row["passed"] for row in kept["steps"]} == {"passed"}

    # years later: an option more; only what it touches is proven again
    window.views[ORDER].record_as_built()
    assert window.files.save()

    def fill(dialog: QDialog) -> None:
        assert isinstance(dialog, OrderDialog)
        dialog.hull.setText("0611-B")
        dialog._accept()

    answer(fill)
    window.files.change_order()
    assert window.session.order.based_on == "0611"
    other = Override(
        subject="N10", field="gauge", value="2.5 mm²", reason="longer lead", initials="IM"
    )
    assert window.session.apply(set_override(other))
    changed = {w.id for w in window.session.draft.assembled.wires} - set(
        window.session.draft.reuse.kept
    )
    assert changed
    again = opened(window)
    left: set[str] = set()
    for one in again.ring.courses:
        progress = one.progress(again.book.record)
        left |= {name for step in progress.left for name in step.touches}
        assert len(progress.left) < max(10, len(progress.steps) / 2), one.place
    assert changed <= left
    assert len(left) < len(window.session.draft.assembled.wires) / 3
    call(window, "tested")
    assert window.session.order.state != "tested"


def test_stand_ins_end_with_the_window(window: MainWindow, qtbot: QtBot) -> None:
    """Switched on again and again, dropped half-way: no thread of one is left."""
    link = opened(window).link
    draft = window.session.draft
    for _ in range(4):
        link.stand_in(draft, practise=False)
    qtbot.waitUntil(lambda: link.tester is not None, timeout=60_000)
    link.stand_in(draft, practise=False)
    link.stop()

    def stand_ins() -> list[str]:
        names = ("serve", "_deal_with")
        return [t.name for t in threading.enumerate() if any(n in t.name for n in names)]

    qtbot.waitUntil(lambda: stand_ins() == [], timeout=60_000)


def test_bench_goes_on_beside_odd_records_and_begins_anew(
    open_on: Open, small_order: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    log = Logbook(small_order)
    for kind, what in ODD.values():
        log.append(kind, "IM", what, revision="r", hull="0611")
    log.append("result", "IM", SOUND, revision="r", hull="0700")
    stage = opened(open_on(small_order))
    papers = stage.papers
    stage.tabs.setCurrentWidget(papers)
    papers.refresh()
    assert f"{len(ODD) + 1} records prove nothing" in papers.whole.text()
    model = papers.table.rows_model
    assert "was done on hull 0700" in model.rows[0][3].text and model.rows[0][3].tone == "warn"
    said_below = [x.text() for x in papers.findChildren(PlainLabel)]
    assert any("cannot tell" in text for text in said_below)
    said: list[str] = []
    papers.said.connect(said.append)
    papers.ask_anew()
    assert "is whole" in said[-1]
    damaged(log, "truncated")
    papers.verify()
    assert "NOT as it was written" in papers.whole.text()
    monkeypatch.setattr(QInputDialog, "getText", lambda *_: ("the disk died", True))
    papers.ask_anew()
    assert "begun anew" in said[-1] and stage.book.log is not None and stage.book.log.is_whole
