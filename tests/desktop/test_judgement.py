"""Fixes, substitutions, cables, curves and two profiles, on the real window."""

import dataclasses
from collections import Counter
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import QUrl
from PySide6.QtGui import QImage, QTextDocument
from pytestqt.qtbot import QtBot

from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.frame.keel_strip import advice
from vivid_loom.desktop.frame.window import MainWindow
from vivid_loom.desktop.order.compare import CompareDialog, profile_sides
from vivid_loom.desktop.why.moves import MovesDialog
from vivid_loom.desktop.why.stock import StockDialog
from vivid_loom.desktop.why.text import PLOT
from vivid_loom.drafting.rules.fixes import can_fix
from vivid_loom.order import Override, change_loads
from vivid_loom.standards.conductor import area_mm2

Open = Callable[[Path], MainWindow]
MISTAKES = DEMO_FOLDER / "hull-0423.loom.json"


def codes(window: MainWindow, subject: str) -> set[str]:
    return {f.code for f in window.session.draft.findings if subject in f.subjects}


def tried(window: MainWindow, qtbot: QtBot) -> None:
    """Wait until it is known what clears the finding picked."""
    qtbot.waitUntil(lambda: "Trying" not in window.findings.fix.text(), timeout=10_000)


def test_a_finding_is_fixed_by_one_edit_and_comes_back_with_undo(
    open_on: Open, qtbot: QtBot
) -> None:
    window = open_on(MISTAKES)
    window.toggle_findings()
    listed = window.findings
    listed.search.setText("A01")
    tried(window, qtbot)
    assert listed.fix.isEnabled() and "always live" in listed.fix.text()
    before = window.session.undo_stack.count()
    listed.fix.click()
    assert "A01" not in codes(window, "E01")
    assert window.session.undo_stack.count() == before + 1
    window.session.undo_stack.undo()
    assert "A01" in codes(window, "E01")
    listed.search.setText("A10")
    assert not listed.fix.isEnabled()


def test_what_follows_from_a_finding_stands_under_it_and_every_one_is_counted(
    open_on: Open, qtbot: QtBot
) -> None:
    window = open_on(MISTAKES)
    window.toggle_findings()
    listed, tree = window.findings, window.findings.list
    own = Counter(f.severity for f in window.session.draft.findings)
    tops = [tree.topLevelItem(i).text(0) for i in range(tree.topLevelItemCount())]
    assert tops == [f"Errors: {own['error']}", f"To judge: {own['judge']}", f"Notes: {own['note']}"]
    errors = tree.topLevelItem(0)
    rules = {errors.child(i).text(0): errors.child(i) for i in range(errors.childCount())}
    overruled = next(item for words, item in rules.items() if words.startswith("S10"))
    gauge = next(
        overruled.child(i)
        for i in range(overruled.childCount())
        if "C08" in overruled.child(i).text(0)
    )
    under = [gauge.child(i).text(0) for i in range(gauge.childCount())]
    assert [words[2:5] for words in under] == ["S01", "S02", "S05", "S06", "S07"]
    tree.setCurrentItem(gauge)
    tried(window, qtbot)
    listed.fix.click()
    assert not {"S01", "S02", "S05", "S06", "S07", "S10"} & codes(window, "C08")
    window.session.undo_stack.undo()
    listed.search.setText("S05")  # without its cause in sight it stands by itself
    assert [tree.topLevelItem(i).text(0) for i in range(tree.topLevelItemCount())] == ["Errors: 2"]


def test_enter_takes_what_the_strip_says(open_on: Open) -> None:
    window = open_on(MISTAKES)
    window.session.select("C24")
    row = window.session.draft.circuit("C24")
    assert row is not None
    finding = next(f for f in window.session.draft.findings if "C24" in f.subjects)
    words, key = advice(window.session.draft, row, window.session.remedies.at_once(finding))
    assert words.startswith("S01") and key.startswith("Enter: ")
    window.take_advice()
    assert not window.session.order.override("C24", "gauge")
    assert not {"S01", "S02", "S05", "S07"} & codes(window, "C24")


def test_a_strip_without_a_fix_opens_the_why(open_on: Open) -> None:
    window = open_on(MISTAKES)
    window.session.select("C24")
    window.show()
    window.take_advice()
    window.session.undo_stack.undo()
    assert not window.why.isVisible()
    window.session.select("C02")
    window.take_advice()
    assert window.why.isVisible() and "C02" in window.why.text.toPlainText()


def test_a_device_out_of_stock_is_substituted_with_reason_and_initials(
    open_on: Open, own_order: Path, qtbot: QtBot
) -> None:
    window = open_on(own_order)
    window.open_why("C13")
    window.why.stock.click()
    dialog = window.findChild(StockDialog)
    assert isinstance(dialog, StockDialog)
    qtbot.waitUntil(lambda: bool(dialog._ways), timeout=240_000)
    offered = {way.words: way.allowed for way in dialog._ways}
    assert offered["10 A blade fuse"] and not offered["5 A blade fuse"]
    wanted = next(i for i, way in enumerate(dialog._ways) if way.words == "10 A blade fuse")
    dialog.table.selectRow(wanted)
    dialog.take.click()
    assert "initials" in dialog.note.text()
    dialog.initials.setText("QH")
    dialog.take.click()
    override = window.session.order.override("C13", "protection_a")
    assert isinstance(override, Override)
    assert (override.value, override.kind, override.initials) == ("10", "substitution", "QH")
    assert "out of stock" in override.reason


def test_a_refused_device_is_not_recorded(open_on: Open, own_order: Path, qtbot: QtBot) -> None:
    window = open_on(own_order)
    dialog = StockDialog(
        window.session.draft, window.session.model, "C01", {"blade fuse": (5.0, 10.0)}, window
    )
    qtbot.waitUntil(lambda: bool(dialog._ways), timeout=240_000)
    dialog.initials.setText("QH")
    refused = next(i for i, way in enumerate(dialog._ways) if not way.allowed)
    dialog.table.selectRow(refused)
    dialog.take.click()
    assert "may go in" in dialog.note.text()
    assert window.session.order.override("C01", "protection_a") is None


def test_a_circuit_is_laid_in_a_cable_from_the_drawer(open_on: Open, own_order: Path) -> None:
    window = open_on(own_order)
    window.open_why("C11")
    window.why.field.setCurrentText("Laid as")
    assert window.why.value.currentText() == "single wires"
    window.why.value.setCurrentText("cable")
    window.why.take.click()
    assert {c.circuit for c in window.session.draft.assembled.cables} == {"C10", "C11"}
    window.why.value.setCurrentText("single wires")
    window.why.take.click()
    assert {c.circuit for c in window.session.draft.assembled.cables} == {"C10"}


def test_the_drawer_shows_the_band_of_the_device(window: MainWindow) -> None:
    window.open_why("C08")
    kind = QTextDocument.ResourceType.ImageResource.value
    picture = window.why.text.document().resource(kind, QUrl(PLOT))
    assert isinstance(picture, QImage) and picture.width() > 400
    shades = {picture.pixelColor(x, y).name() for x in range(0, 600, 7) for y in range(0, 480, 7)}
    assert len(shades) >= 4
    assert "Shorts and stalls" in window.why.text.toPlainText()
    assert "Before F05" in window.why.text.toPlainText()


@pytest.mark.parametrize("other", ["us", "iso"])
def test_two_profiles_stand_side_by_side(window: MainWindow, qtbot: QtBot, other: str) -> None:
    sides = profile_sides(window.session.draft, window.session.model)
    dialog = CompareDialog("Profiles", sides, (0, 1), window)
    rows = dialog.table.rows_model
    name = {"us": "US small craft", "iso": "ISO metric"}[other]
    dialog.second.setCurrentText(name)
    qtbot.waitUntil(lambda: rows.headings[2] == name, timeout=240_000)
    shown = {row[0].text: (row[1].text, row[2].text) for row in rows.rows}
    assert {"wires", "wire to cut, m", "copper, kg", "wire and cable, cost", "errors"} <= set(shown)
    if other == "iso":
        at = rows.keys.index("C01 Horn gauge")
        assert "AWG" in rows.rows[at][1].text and "mm²" in rows.rows[at][2].text


def test_a_circuit_is_hung_elsewhere_with_reason_and_initials(open_on: Open, qtbot: QtBot) -> None:
    window = open_on(DEMO_FOLDER / "hull-0417.loom.json")
    session = window.session
    pump = next(x for x in session.draft.aboard.loads.values() if x.name == "Autopilot pump")
    assert session.apply(change_loads((dataclasses.replace(pump, drop="critical"),), "drop class"))
    thick = session.draft.circuit("F05")
    window.circuits.show_moves("C32")
    dialog = window.findChild(MovesDialog)
    assert isinstance(dialog, MovesDialog) and "for its drop alone" in dialog.head.text()
    qtbot.waitUntil(lambda: bool(dialog._ways), timeout=240_000)
    assert dialog.allowed(dialog._ways[0]) and dialog._ways[0].saved_kg > 0
    dialog.take.click()
    assert "initials" in dialog.note.text()
    dialog.initials.setText("QH")
    dialog.take.click()
    thin = session.draft.circuit("F05")
    assert thick and thin and thick.sized and thin.sized
    assert area_mm2(thin.sized.gauge.value) < area_mm2(thick.sized.gauge.value)
    assert "Ctrl+Z" in window.message.text()
    session.undo_stack.setClean()


def test_what_the_strip_asks_for_keeps_nobody_waiting(open_on: Open, qtbot: QtBot) -> None:
    """Of what is asked for at once, the newest is answered first and all of it in the end."""
    window = open_on(MISTAKES)
    remedies, draft = window.session.remedies, window.session.draft
    fixable = [f for f in draft.findings if can_fix(f.code)][:6]
    for finding in fixable:
        remedies.ask([finding])
    qtbot.waitUntil(lambda: all(map(remedies.is_known, fixable)), timeout=20_000)
    assert any(remedies.of(finding) for finding in fixable)
