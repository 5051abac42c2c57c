"""Text is data everywhere: nothing that comes from a file is taken for rich text."""

import ast
from pathlib import Path

import pytest
from PySide6.QtGui import Qt
from PySide6.QtWidgets import QLabel, QMessageBox, QWidget
from pytestqt.qtbot import QtBot

import vivid_loom.desktop
from tests.desktop.test_files import Open
from vivid_loom.desktop.frame.window import STAGES
from vivid_loom.desktop.widgets.plain import PlainLabel, plain
from vivid_loom.order import set_heading

HOME = Path(vivid_loom.desktop.__file__).parent
FILES = sorted(HOME.rglob("*.py"))
ASKING = {"question", "information", "warning", "critical", "getText", "getItem", "getInt"}
SHOWN_AS_HTML = {"why/drawer.py"}  # made of escaped parts, see why_html


def problems(path: Path) -> list[str]:
    """Return what in a file could show data as rich text."""
    here, found = str(path.relative_to(HOME)), []
    for node in ast.walk(ast.parse(path.read_text())):
        named = [a.name for a in node.names] if isinstance(node, ast.ImportFrom) else []
        if "QLabel" in named and here != "widgets/plain.py":
            found.append(f"{here}:{node.lineno} a bare QLabel")
        if not isinstance(node, ast.Call) or not isinstance(node.func, ast.Attribute):
            continue
        name, at = node.func.attr, f"{here}:{node.lineno}"
        if name in ("setHtml", "setTextFormat", "setMarkdown") and here not in (
            *SHOWN_AS_HTML,
            "widgets/plain.py",
        ):
            found.append(f"{at} {name}")
        shown: list[ast.expr] = []
        if name == "setToolTip":
            shown = node.args[-1:]
        elif name in ASKING:
            shown = node.args[2:3]
        found += [f"{at} {name} of what is not plain" for each in shown if not _is_plain(each)]
    return found


def _is_plain(node: ast.expr) -> bool:
    if isinstance(node, ast.Constant) or (isinstance(node, ast.Name) and node.id.isupper()):
        return True
    return isinstance(node, ast.Call) and getattr(node.func, "id", "") == "plain"


@pytest.mark.parametrize("path", FILES, ids=lambda p: str(p.relative_to(HOME)))
def test_no_file_shows_data_as_rich_text(path: Path) -> None:
    assert problems(path) == []


def test_the_rule_finds_what_it_is_for(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setitem(globals(), "HOME", tmp_path)
    bad = tmp_path / "bad.py"
    bad.write_text(
        "from PySide6.QtWidgets import QLabel\nx.setToolTip(name)\nx.setHtml(name)\n"
        "QMessageBox.question(self, 'a', f'{name}', y)\nx.setToolTip(plain(name))\n"
    )
    assert [p.split(":")[1][0] for p in problems(bad)] == ["1", "2", "3", "4"]


TITLE = '<img src="/dev/zero"><b>x</b>'


def test_a_label_and_a_hint_show_their_letters(qtbot: QtBot) -> None:
    label = PlainLabel(TITLE)
    assert label.textFormat() == Qt.TextFormat.PlainText and label.text() == TITLE
    assert plain("3 < 4 A") == "3 < 4 A"
    assert "&lt;img" in plain(TITLE) and "<img" not in plain(TITLE)


def test_a_title_that_looks_like_a_picture_reads_nothing(
    open_on: Open, own_order: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """It ended the window: a label read /dev/zero until the memory was full."""
    window = open_on(own_order)
    edit = set_heading(title=TITLE, customer=TITLE, notes=TITLE, station_date="2026-12-07")
    assert window.session.apply(edit)
    for stage in STAGES:
        window.open_stage(stage.name)
    labels = window.findChildren(QLabel)
    shown = [x for x in labels if TITLE in x.text()]
    assert shown
    for label in labels:
        rich = label.textFormat() != Qt.TextFormat.PlainText and Qt.mightBeRichText(label.text())
        assert not rich, label.text()
    for widget in window.findChildren(QWidget):
        assert "<img" not in widget.toolTip()
    asked: list[str] = []
    answer = QMessageBox.StandardButton.Discard
    monkeypatch.setattr(QMessageBox, "question", lambda *a: (asked.append(a[2]), answer)[1])
    window.files.may_leave()
    assert asked and not any("<img" in text for text in asked)
