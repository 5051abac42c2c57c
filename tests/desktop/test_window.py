"""The real window, offscreen: open, choose, look, overrule, undo, save, export."""

import dataclasses
import os
import subprocess
import sys
from collections import Counter
from collections.abc import Callable
from pathlib import Path

import pypdf
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from pytestqt.qtbot import QtBot

from vivid_loom.demo import DEMO_FOLDER, DEMO_ORDER
from vivid_loom.desktop.frame.finder import Finder, targets
from vivid_loom.desktop.frame.window import LOADS, ORDER, PACKET, SUPPLY, THREADS, MainWindow
from vivid_loom.desktop.threads.rows import GROUPS, SORTS, arrange
from vivid_loom.desktop.why.text import PLOT, why_html
from vivid_loom.desktop.widgets.button_row import ButtonRow, Deed
from vivid_loom.desktop.widgets.theme import DARK
from vivid_loom.order import Override, read_order, set_override, write_order
from vivid_loom.sheets import packet_table
from vivid_loom.sheets.proof import proven
from vivid_loom.sheets.words.cautions import SHORT_CAUTION


def gauge(window: MainWindow, circuit: str) -> str:
    row = window.session.draft.circuit(circuit)
    assert row is not None and row.sized is not None
    return str(row.sized.gauge.value)


def test_the_demo_opens_on_threads_with_something_selected(window: MainWindow) -> None:
    assert window.view is window.views[THREADS]
    assert window.session.selected
    assert len(window.views[THREADS].threads.visible_ids()) == len(window.session.draft.rows)


def test_ticking_an_option_adds_its_circuits_and_undo_takes_them_away(
    window: MainWindow, qtbot: QtBot
) -> None:
    window.open_stage(ORDER)
    box = window.views[ORDER].options.boxes["fore_pump"]
    assert box.isChecked()
    qtbot.mouseClick(box, Qt.MouseButton.LeftButton, pos=QPoint(8, box.height() // 2))
    assert window.session.draft.circuit("C38") is None
    assert "drop Fore bilge pump" in window.message.text()
    assert window.session.undo_stack.undoText() == "drop Fore bilge pump"
    window.session.undo_stack.undo()
    assert window.session.draft.circuit("C38") is not None
    assert box.isChecked()


def test_an_option_brings_what_it_requires(window: MainWindow) -> None:
    window.open_stage(ORDER)
    for option in ("autopilot", "plotter_pack"):
        window.views[ORDER].options.boxes[option].setChecked(False)
    assert "plotter_pack" not in window.session.order.options
    window.views[ORDER].options.boxes["autopilot"].setChecked(True)
    assert {"autopilot", "plotter_pack"} <= set(window.session.order.options)
    assert window.views[ORDER].options.boxes["plotter_pack"].isChecked()


def test_an_option_that_something_requires_cannot_be_dropped(window: MainWindow) -> None:
    window.open_stage(ORDER)
    window.views[ORDER].options.boxes["plotter_pack"].setChecked(False)
    assert "requires" in window.message.text()
    assert window.views[ORDER].options.boxes["plotter_pack"].isChecked()


def test_an_excluded_option_is_disabled_and_says_why(window: MainWindow) -> None:
    window.open_stage(ORDER)
    box = window.views[ORDER].options.boxes["stereo"]
    assert not box.isEnabled()
    assert "Not together with Loud hailer" in box.toolTip()


def test_overruling_a_gauge_needs_reason_and_initials_and_can_be_undone(
    window: MainWindow, qtbot: QtBot
) -> None:
    before = gauge(window, "C08")
    window.open_why("C08")
    window.why.value.setCurrentText("10 AWG")
    qtbot.mouseClick(window.why.take, Qt.MouseButton.LeftButton)
    assert gauge(window, "C08") == before
    assert "needs a reason" in window.why.note.text()
    qtbot.keyClicks(window.why.reason, "spare spool")
    qtbot.keyClicks(window.why.initials, "TK")
    qtbot.mouseClick(window.why.take, Qt.MouseButton.LeftButton)
    assert gauge(window, "C08") == "10 AWG"
    assert "spare spool" in window.why.text.toPlainText()
    assert "(unsaved)" in window.head.subtitle.text()
    window.session.undo_stack.undo()
    assert gauge(window, "C08") == before
    window.session.undo_stack.redo()
    window.views[THREADS].threads.setFocus()
    window.take_advice()
    assert gauge(window, "C08") == before


@pytest.mark.parametrize(
    ("field", "value"),
    [("Protection", "10"), ("Positive colour", "VT/WH"), ("Helm position", "20")],
)
def test_every_other_value_can_be_overruled(
    window: MainWindow, qtbot: QtBot, field: str, value: str
) -> None:
    window.open_why("C08")
    window.why.field.setCurrentText(field)
    window.why.value.setCurrentText(value)
    window.why.reason.setText("because")
    window.why.initials.setText("TK")
    qtbot.mouseClick(window.why.take, Qt.MouseButton.LeftButton)
    row = window.session.draft.circuit("C08")
    assert row and row.sized and row.sized.protection
    got = {
        "Protection": f"{row.sized.protection.value:g}",
        "Positive colour": str(row.colours.positive.value),
        "Helm position": str(row.planned.position),
    }
    assert got[field] == value
    qtbot.mouseClick(window.why.give_back, Qt.MouseButton.LeftButton)
    assert not window.session.order.overrides


def test_an_override_that_means_nothing_is_refused_in_words(window: MainWindow) -> None:
    window.open_why("C08")
    window.why.value.setCurrentText("thick")
    window.why.reason.setText("r")
    window.why.initials.setText("i")
    window.why.take.click()
    assert "expected a stocked size" in window.message.text()
    assert not window.session.order.overrides


def test_keys_walk_the_threads_and_open_why(window: MainWindow, qtbot: QtBot) -> None:
    ids = window.views[THREADS].threads.visible_ids()
    window.views[THREADS].threads.setFocus()
    qtbot.keyClick(window.views[THREADS].threads, Qt.Key.Key_End)
    assert window.session.selected == ids[-1]
    qtbot.keyClick(window.views[THREADS].threads, Qt.Key.Key_Up)
    assert window.session.selected == ids[-2]
    qtbot.keyClick(window.views[THREADS].threads, Qt.Key.Key_W)
    assert window.why.isVisible()
    assert ids[-2] in window.why.text.toPlainText()


def test_a_click_selects_the_row_under_it(window: MainWindow, qtbot: QtBot) -> None:
    wanted = window.views[THREADS].threads.visible_ids()[2]
    port = window.views[THREADS].threads.viewport()
    y = next(
        y
        for y in range(40, 600, 5)
        if window.views[THREADS].threads.circuit_at(QPoint(300, y)) == wanted
    )
    qtbot.mouseClick(port, Qt.MouseButton.LeftButton, pos=QPoint(300, y + 4))
    assert window.session.selected == wanted


def test_filter_group_and_sort(window: MainWindow, qtbot: QtBot) -> None:
    qtbot.keyClicks(window.views[THREADS].search, "bilge pump")
    assert window.views[THREADS].threads.visible_ids() == ["C02", "C03", "C38"]
    window.views[THREADS].search.clear()
    draft = window.session.draft
    for group in GROUPS:
        for sort in SORTS:
            shown = arrange(draft, group, sort, "")
            assert len([s for s in shown if s.circuit]) == len(draft.rows)
    window.views[THREADS].sort.setCurrentIndex(list(SORTS).index("least margin"))
    window.views[THREADS].group.setCurrentIndex(GROUPS.index("none"))
    spent = [
        row.sized.drop_percent / row.sized.drop_limit_percent
        for name in window.views[THREADS].threads.visible_ids()
        if (row := draft.circuit(name)) and row.sized
    ]
    assert spent == sorted(spent, reverse=True)


def test_the_profile_redrafts_in_metric(window: MainWindow) -> None:
    window.open_stage(ORDER)
    combo = window.views[ORDER].profile.profile
    combo.setCurrentIndex(combo.findData("iso"))
    combo.activated.emit(combo.currentIndex())
    assert gauge(window, "C08").endswith("mm²")
    assert "mm²" in window.head.units.text()


def test_loads_are_listed_with_their_evidence_and_copy_as_tsv(
    window: MainWindow, qtbot: QtBot
) -> None:
    window.open_stage(LOADS)
    model, table = window.views[LOADS].model, window.views[LOADS].table
    assert model.rowCount() == len(window.session.draft.aboard.loads)
    assert model.rows[0][5].text == "estimate"
    table.selectRow(0)
    assert window.session.selected in model.rows[0][-1].text
    qtbot.keyClick(table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert QGuiApplication.clipboard().text().split("\t")[0] == model.rows[0][0].text


def test_findings_jump_to_their_place(window: MainWindow) -> None:
    window.files.open_order(DEMO_FOLDER / "hull-0423.loom.json")
    assert "63 errors" in window.head.findings.text()
    window.reveal("orphan")
    assert window.stages.currentWidget() is window.views[LOADS]
    window.reveal("HB")
    assert window.stages.currentWidget() is window.views[SUPPLY]
    assert window.views[SUPPLY].view.selected == ("part", "HB")


def test_the_head_line_says_what_is_not_proven_yet_and_then_counts_it(
    window: MainWindow, qtbot: QtBot
) -> None:
    """The queue counted what proofs found, the head line did not: two figures for one order."""
    told = window.head.findings
    assert told.text().endswith(", not proven yet")
    window.open_stage(PACKET)
    qtbot.waitUntil(lambda: "not proven" not in told.text(), timeout=240_000)
    draft = window.session.draft
    found = Counter(f.severity for f in (*draft.findings, *proven(draft).standing))
    assert told.text() == f"{found['error']} errors · {found['judge']} to judge"
    assert proven(draft).standing  # so that it is another figure than before


def test_the_finder_finds_wires_loads_and_findings(window: MainWindow, qtbot: QtBot) -> None:
    finder = Finder(window.session.draft, window)
    chosen: list[str] = []
    finder.target_chosen.connect(chosen.append)
    finder.show()
    finder.activateWindow()
    finder.line.setFocus()
    qtbot.waitUntil(finder.line.hasFocus)
    qtbot.keyClicks(finder.line, "load radar")
    qtbot.keyClick(finder.line, Qt.Key.Key_Down)
    qtbot.keyClick(finder.line, Qt.Key.Key_Up)
    qtbot.keyClick(finder.line, Qt.Key.Key_Return)
    assert chosen == ["C30"]
    kinds = {target.text.split(" ")[0] for target in targets(window.session.draft)}
    assert kinds >= {"circuit", "load", "wire", "plug"}


def test_the_packet_is_shown_and_exported(
    open_on: Callable[[Path], MainWindow], tmp_path: Path, qtbot: QtBot
) -> None:
    window = open_on(DEMO_FOLDER / "hull-0611.loom.json")
    window.open_stage(PACKET)
    packet = window.views[PACKET]
    books = [packet.list.topLevelItem(i) for i in range(packet.list.topLevelItemCount())]
    assert [b.text(0) for b in books] == ["The harnesses", "Aboard", "Proof", "Engineer and office"]
    assert all(b.child(0).text(0) == "Cover" for b in books)
    assert sum(b.childCount() for b in books) > 18
    packet.list.setCurrentItem(books[2])
    qtbot.waitUntil(lambda: packet.paper._page.title == "Build packet: proof", timeout=240_000)
    packet.paper_size.setCurrentText("A3")
    packet.marked.setChecked(True)
    packet.export_to(tmp_path)
    qtbot.waitUntil(lambda: not packet.exporting, timeout=240_000)
    for book in ("packet", "aboard", "proof", "office"):
        assert (tmp_path / f"{book}.pdf").read_bytes().startswith(b"%PDF")
    first = pypdf.PdfReader(tmp_path / "packet.pdf").pages[0].mediabox
    assert round(float(first.width) / 72 * 25.4) == 420
    assert (tmp_path / "cutlist.csv").read_bytes().startswith(b"\xef\xbb\xbf")
    assert "files written" in window.message.text()
    packet.export_to(tmp_path / "missing")
    qtbot.waitUntil(lambda: not packet.exporting, timeout=240_000)
    assert "Cannot write" in window.message.text()


def test_saving_and_opening_again(window: MainWindow, tmp_path: Path) -> None:
    window.open_stage(ORDER)
    window.views[ORDER].options.boxes["radar"].setChecked(False)
    path = tmp_path / "mine.loom.json"
    assert window.files.save_as(path)
    assert "radar" not in read_order(path).options
    assert window.session.undo_stack.isClean()
    before = DEMO_ORDER.read_bytes()
    assert window.session.path == path and DEMO_ORDER.read_bytes() == before
    assert not window.files.save_as(tmp_path / "no" / "such.loom.json")
    assert "Nothing is lost" in window.message.text()


def test_a_bad_order_leaves_the_open_one(window: MainWindow, tmp_path: Path) -> None:
    bad = tmp_path / "bad.loom.json"
    bad.write_text("{")
    window.files.open_order(bad)
    assert "bad.loom.json" in window.message.text()
    assert window.session.path == DEMO_ORDER


def test_a_boat_of_ones_own_is_saved_beside_the_order(
    window: MainWindow, tmp_path: Path, qtbot: QtBot
) -> None:
    own = tmp_path / "own"
    own.mkdir()
    (own / "mine.boat.json").write_bytes((DEMO_FOLDER / "qh-86.boat.json").read_bytes())
    order = read_order(DEMO_ORDER)
    write_order(own / "a.loom.json", dataclasses.replace(order, boat="mine.boat.json"))
    window.files.open_order(own / "a.loom.json")
    (tmp_path / "else").mkdir()
    assert window.files.save_as(tmp_path / "else" / "a.loom.json")
    assert (tmp_path / "else" / "mine.boat.json").exists()


def test_text_from_files_is_shown_as_text(window: MainWindow) -> None:
    draft = window.session.draft
    row = draft.circuit("C08")
    assert row is not None
    evil = dataclasses.replace(row.planned, label="<img src=x>")
    html = why_html(draft, dataclasses.replace(row, planned=evil))
    assert html.count("<img") == 1 and PLOT in html  # our own picture, nobody else's
    assert "&lt;img" in html


def test_both_themes_paint_every_stage_at_the_smallest_size(window: MainWindow) -> None:
    window.use_theme(DARK)
    window.resize(1024, 700)
    for name in window.views:
        window.open_stage(name)
        assert not window.grab().isNull()
    window.toggle_why()
    assert not window.grab().isNull()


def test_a_finding_is_accepted_with_a_reason_and_opens_again_when_things_change(
    open_on: Callable[[Path], MainWindow], own_order: Path
) -> None:
    window = open_on(own_order)
    window.session.apply(
        set_override(
            Override(subject="C08", field="gauge", value="16 AWG", reason="r", initials="i")
        )
    )
    window.toggle_findings()
    listed = window.findings
    errors = [f for f in window.session.draft.findings if f.severity == "error"]
    assert errors and "S05" in {f.code for f in errors}
    listed.search.setText("S05")
    assert len(list(listed.told())) == 1
    listed._accept_or_open()
    assert "reason and initials" in listed.remedy.text()
    listed.reason.setText("short tail, seen on the boat")
    listed.initials.setText("QH")
    listed._accept_or_open()
    assert "second person" in listed.remedy.text()  # it is an error
    listed.second.setText("TW")
    listed._accept_or_open()
    draft = window.session.draft
    assert "S05" not in {f.code for f in draft.findings}
    assert draft.accepted[0][1].reason == "short tail, seen on the boat"
    listed.search.setText("S05")
    listed.shown.setCurrentText("accepted")
    assert ["accepted by QH" in told.words() for told in listed.told()] == [True]
    assert window.files.save()
    kept = read_order(own_order)
    assert "S05" in {accepted.code for accepted in kept.accepted}
    table = packet_table(draft, "findings")
    assert any(row[1] == "error, accepted" and "QH" in row[4] for row in table.rows)
    thinner = Override(subject="C08", field="gauge", value="18 AWG", reason="r", initials="i")
    window.session.apply(set_override(thinner))
    assert "S05" in {f.code for f in window.session.draft.findings}
    assert "S05" not in {finding.code for finding, _ in window.session.draft.accepted}
    window.session.undo_stack.undo()
    listed._accept_or_open()
    assert "S05" in {f.code for f in window.session.draft.findings}
    assert "S05" not in {accepted.code for accepted in window.session.order.accepted}


def test_a_row_of_buttons_loses_no_letter(qtbot: QtBot) -> None:
    """What does not fit goes into a menu, with all its words, and still works."""
    done: list[str] = []
    words = ("Measure…", "Split…", "Join…", "Station…", "Remove")
    row = ButtonRow([Deed(w, lambda w=w: done.append(w), "") for w in words])  # type: ignore[misc]
    qtbot.addWidget(row)
    row.show()
    least = row.minimumSizeHint().width()
    for width in (least, 150, 260, 600):
        row.resize(width, 30)
        shown = [b for b in row.buttons if b.isVisible()]
        assert all(b.width() >= b.sizeHint().width() for b in shown)
        assert all(b.geometry().right() <= width for b in (*shown, row.more) if b.isVisible())
        inside = [action.text() for action in row.more.menu().actions()]
        assert [b.text() for b in shown] + (inside if row.more.isVisible() else []) == [*words]
    row.resize(least, 30)
    row.more.menu().actions()[-1].trigger()
    assert done == ["Remove"]


def test_only_the_page_that_is_seen_takes_a_new_draft(window: MainWindow) -> None:
    """An edit on Threads costs Packet nothing; opened, it shows what stands."""
    told: list[str] = []
    for name, view in window.views.items():
        taken = view.set_draft
        view.set_draft = lambda d, n=name, t=taken: (told.append(n), t(d))  # type: ignore[method-assign]
    window.session.apply(
        set_override(
            Override(subject="C08", field="gauge", value="10 AWG", reason="r", initials="i")
        )
    )
    assert told == [THREADS]
    window.open_stage(PACKET)
    assert told == [THREADS, PACKET]
    window.open_stage(THREADS)
    assert told == [THREADS, PACKET]


def test_the_title_says_what_is_open(window: MainWindow) -> None:
    assert window.windowTitle() == "QH-86 hull 0417, Threads"
    window.open_stage(LOADS)
    window.session.apply(
        set_override(
            Override(subject="C08", field="gauge", value="10 AWG", reason="r", initials="i")
        )
    )
    assert window.windowTitle() == "QH-86 hull 0417, Loads (unsaved)"


def test_a_long_message_leaves_the_caution_its_first_sentence(window: MainWindow) -> None:
    window.show()
    window.open_stage(ORDER)  # it says the caution itself
    assert not window.caution.isVisible()
    window.open_stage(PACKET)
    window.say("")
    assert window.caution.text() == SHORT_CAUTION
    told = "1376 faults change something: 0 burn a wire, 2 nothing clears, 61 leave a safety load"
    window.say(told)
    QTest.qWait(20)
    assert window.caution.isVisible()
    assert window.caution.text() == "Electricity aboard can start fires and kill."
    room = window.message.width() - window.message.contentsMargins().left()
    assert window.message.fontMetrics().horizontalAdvance(told) <= room, "nothing of it is cut"
    window.resize(1700, 800)
    QTest.qWait(20)
    assert window.caution.text() == SHORT_CAUTION


def test_what_happened_stays_said_while_the_caution_stands(window: MainWindow) -> None:
    window.open_stage(LOADS)
    window.view.said.emit("Three loads were added.")
    window.session.select("C02")
    assert window.message.text() == "Three loads were added."
    assert "stays live" in window.caution.text()
    window.open_stage(ORDER)
    assert "stays live" not in window.caution.text()  # the order as a whole, no single circuit


def test_a_theme_reaches_a_page_when_it_is_opened(window: MainWindow) -> None:
    window.open_stage(LOADS)
    before = window.view.styleSheet()
    window.open_stage(THREADS)
    window.use_theme(DARK)
    assert window.views[LOADS].styleSheet() == before
    window.open_stage(LOADS)
    assert window.view.styleSheet() == window.views[THREADS].styleSheet() != before


def test_dialogs_go_when_they_are_answered(window: MainWindow, qtbot: QtBot) -> None:
    window.find_anything()
    finder = window.findChild(Finder)
    assert isinstance(finder, Finder)
    finder.reject()
    qtbot.waitUntil(lambda: window.findChild(Finder) is None)


def test_the_window_opens_without_what_only_later_work_needs() -> None:
    """What takes a tenth of a second and more to load waits until somebody asks for it."""
    code = (
        "import os, sys\n"
        "from vivid_loom.demo import DEMO_ORDER\n"
        "from vivid_loom.desktop.application import open_window\n"
        "from PySide6.QtWidgets import QApplication\n"
        "window = open_window(DEMO_ORDER)\n"
        "window.show(); QApplication.processEvents(); window.grab()\n"
        "print(*sorted({name.split('.')[0] for name in sys.modules}), flush=True)\n"
        "os._exit(0)"
    )
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run(
        [sys.executable, "-c", code], env=environment, capture_output=True, text=True, check=True
    )
    loaded = set(done.stdout.split())
    assert {"numpy", "PySide6", "vivid_loom"} <= loaded
    assert not loaded & {"scipy", "networkx", "openpyxl", "ezdxf", "pyvisa", "segno"}


def test_a_stage_is_loaded_when_it_is_first_opened() -> None:
    """The window opens on one page: the modules of the others, and of paper, wait."""
    code = (
        "import os, sys; os.environ['QT_QPA_PLATFORM'] = 'offscreen'\n"
        "from vivid_loom.demo import DEMO_ORDER\n"
        "from vivid_loom.desktop.application import open_window\n"
        "w = open_window(DEMO_ORDER); w.show()\n"
        "loaded = [n for n in sys.modules if n.startswith('vivid_loom.desktop.')]\n"
        "stages = [n for n in loaded if n.endswith(('.stage', '.view')) and n.count('.') == 3]\n"
        "print(sorted(stages), 'vivid_loom.sheets.books' in sys.modules, list(w.views.made))\n"
        "w.open_stage('Packet')\n"
        "print('vivid_loom.sheets.books' in sys.modules, list(w.views.made))\n"
        "sys.stdout.flush(); os._exit(0)\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True, timeout=120
    )
    first, then = done.stdout.splitlines()
    names = [
        f"vivid_loom.desktop.{name}" for name in ("threads.stage", "threads.view", "work.stage")
    ]
    assert first == f"{names} False ['Threads']"
    assert then == "True ['Threads', 'Packet']"


def test_what_stays_is_left_out_of_collections_and_goes_in_the_end() -> None:
    """In a process of its own: what is left out stays so until its end."""
    code = (
        "import atexit, gc\n"
        "atexit.register(lambda: print('left', gc.get_freeze_count()))\n"
        "from vivid_loom.demo import DEMO_ORDER\n"
        "from vivid_loom.desktop.application import open_window\n"
        "from vivid_loom.desktop.work.garbage import collect_in_gui_thread, leave_to_stay\n"
        "from vivid_loom.order import change_profile\n"
        "window = open_window(DEMO_ORDER)\n"
        "collect_in_gui_thread()\n"
        "leave_to_stay()\n"
        "window.show()\n"
        "window.session.apply(change_profile('growth_percent', 30.0, 'growth'))\n"
        "print(gc.get_freeze_count() > 3 * len(gc.get_objects()))\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, timeout=120, check=False
    )
    assert done.stdout.split() == ["True", "left", "0"], done.stderr[-500:]
    assert done.stderr == "" and done.returncode == 0


def test_other_pages_are_made_and_dressed_while_nothing_else_waits() -> None:
    """In a process of its own: this one has loaded everything already."""
    code = (
        "import sys\n"
        "from PySide6.QtTest import QTest\n"
        "from vivid_loom.demo import DEMO_ORDER\n"
        "from vivid_loom.desktop.application import open_window\n"
        "from vivid_loom.desktop.work.rest import make_rest\n"
        "window = open_window(DEMO_ORDER)\n"
        "def ready():\n"
        "    names = 'vivid_loom.desktop.bench.stage', 'vivid_loom.sheets.books', 'scipy.sparse'\n"
        "    made = window.views.made\n"
        "    dressed = len(made) == len(window.views)\n"
        "    dressed = dressed and bool(made['Packet'].styleSheet())\n"
        "    return *(name in sys.modules for name in names), dressed\n"
        "print(*ready())\n"
        "done = []\n"
        "make_rest(window, window.views, lambda: done.append(all(ready())), 0)\n"
        "for _ in range(400):\n"
        "    QTest.qWait(20)\n"
        "    if done:\n"
        "        break\n"
        "print(*ready(), *done)\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, timeout=120, check=False
    )
    assert done.stdout.split() == ["False"] * 4 + ["True"] * 5, done.stderr[-500:]
    assert done.stderr == "" and done.returncode == 0
