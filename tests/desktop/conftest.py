"""One window on the demo order, offscreen, and hands for its dialogs."""

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QEvent, QTimer
from PySide6.QtWidgets import QApplication, QDialog, QMessageBox
from pytestqt.qtbot import QtBot

from vivid_loom.demo import DEMO_FOLDER, DEMO_ORDER
from vivid_loom.desktop.frame.window import MainWindow
from vivid_loom.desktop.work.session import Session
from vivid_loom.order import read_order, write_order


def _shut(window: MainWindow) -> None:
    window.close()
    window.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


@pytest.fixture
def open_on(
    qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> Iterator[Callable[[Path], MainWindow]]:
    """Open windows on orders; they are shut at the end, unsaved edits dropped."""
    monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.Discard)
    opened: list[MainWindow] = []

    def show(path: Path) -> MainWindow:
        window = MainWindow(Session(path))
        opened.append(window)
        window.resize(1280, 800)
        window.show()
        qtbot.waitExposed(window)
        return window

    yield show
    for window in opened:
        _shut(window)


@pytest.fixture
def window(open_on: Callable[[Path], MainWindow]) -> MainWindow:
    """A window on the demo order."""
    return open_on(DEMO_ORDER)


@pytest.fixture
def own_order(tmp_path: Path) -> Path:
    """A copy of the demo order that may be written to."""
    path = tmp_path / "hull-0417.loom.json"
    write_order(path, read_order(DEMO_ORDER))
    (tmp_path / "qh-86.boat.json").write_bytes((DEMO_FOLDER / "qh-86.boat.json").read_bytes())
    return path


@pytest.fixture
def small_order(tmp_path: Path) -> Path:
    """A copy of the smallest demo order that may be written to."""
    path = tmp_path / "hull-0611.loom.json"
    write_order(path, read_order(DEMO_FOLDER / path.name))
    return path


@pytest.fixture
def answer() -> Callable[[Callable[[QDialog], None]], list[str]]:
    """Act on the next modal dialog, which blocks until it is answered."""

    def wait_for(act: Callable[[QDialog], None]) -> list[str]:
        seen: list[str] = []

        def look() -> None:
            dialog = QApplication.activeModalWidget()
            if not isinstance(dialog, QDialog):
                QTimer.singleShot(10, look)
                return
            seen.append(dialog.windowTitle())
            try:
                act(dialog)
            finally:
                if dialog.isVisible():
                    dialog.reject()

        QTimer.singleShot(10, look)
        return seen

    return wait_for
