"""The menus and their keys."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu

from vivid_loom.desktop.frame.stage_rail import STAGES

if TYPE_CHECKING:
    from vivid_loom.desktop.frame.window import MainWindow

__all__ = ["make_menus"]

Standard = QKeySequence.StandardKey


def _action(
    window: MainWindow, text: str, keys: str | Standard, slot: Callable[..., object]
) -> QAction:
    action = QAction(text, window)
    action.setShortcut(QKeySequence(keys))
    action.triggered.connect(lambda *_: slot())
    return action


def _fill_recent(window: MainWindow, menu: QMenu) -> None:
    menu.clear()
    for path in window.files.recent():
        action = menu.addAction(path.name)
        action.setToolTip(str(path))
        action.triggered.connect(lambda _=False, p=path: window.files.open_order(p))
    menu.setToolTipsVisible(True)


def make_menus(window: MainWindow) -> None:
    """Give a window its menus; every action has a key."""
    files = window.files
    file_menu = window.menuBar().addMenu("&File")
    for text, keys, slot in (
        ("&New order…", Standard.New, files.new_order),
        ("&Duplicate order…", "Ctrl+Shift+N", files.duplicate),
        ("New &boat…", "Ctrl+Alt+N", files.new_boat),
        ("Put measuring into the &model…", "Ctrl+Shift+M", files.put_into_model),
        ("&Open order…", Standard.Open, files.ask_open),
        ("&Save", Standard.Save, files.save),
        ("Save &as…", Standard.SaveAs, files.ask_save_as),
    ):
        file_menu.addAction(_action(window, text, keys, slot))
    recent = file_menu.addMenu("&Recent orders")
    recent.aboutToShow.connect(lambda: _fill_recent(window, recent))
    file_menu.addAction(_action(window, "&Quit", Standard.Quit, window.close))
    edit = window.menuBar().addMenu("&Edit")
    undo = window.session.undo_stack.createUndoAction(window, "Undo:")
    undo.setShortcut(QKeySequence(Standard.Undo))
    redo = window.session.undo_stack.createRedoAction(window, "Redo:")
    redo.setShortcut(QKeySequence(Standard.Redo))
    edit.addActions([undo, redo])
    edit.addAction(_action(window, "&Find anything…", "Ctrl+K", window.find_anything))
    view = window.menuBar().addMenu("&View")
    for index, stage in enumerate(STAGES):
        view.addAction(
            _action(
                window,
                stage.name,
                f"Ctrl+{stage.number}",
                lambda i=index: window.open_stage(i),
            )
        )
    view.addSeparator()
    view.addAction(_action(window, "&Why drawer", "Ctrl+Y", window.toggle_why))
    view.addAction(_action(window, "Fold &keel strip", "Ctrl+B", window.fold_keel))
    view.addAction(_action(window, "F&indings…", "Ctrl+F", window.show_findings))
    dark = QAction("&Dark theme", window)
    dark.setShortcut(QKeySequence("Ctrl+D"))
    dark.setCheckable(True)
    dark.toggled.connect(window.toggle_theme)
    view.addAction(dark)
