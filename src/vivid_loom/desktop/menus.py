"""The menus and their keys."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtGui import QAction, QKeySequence

from vivid_loom.desktop.stage_rail import STAGES

if TYPE_CHECKING:
    from vivid_loom.desktop.main_window import MainWindow

__all__ = ["make_menus"]

Standard = QKeySequence.StandardKey


def _action(
    window: MainWindow, text: str, keys: str | Standard, slot: Callable[..., object]
) -> QAction:
    action = QAction(text, window)
    action.setShortcut(QKeySequence(keys))
    action.triggered.connect(slot)
    return action


def make_menus(window: MainWindow) -> None:
    """Give a window its menus; every action has a key."""
    file_menu = window.menuBar().addMenu("&File")
    file_menu.addAction(_action(window, "&Open order…", Standard.Open, window.ask_open))
    file_menu.addAction(_action(window, "&Save", Standard.Save, window.save))
    file_menu.addAction(_action(window, "Save &as…", Standard.SaveAs, window.ask_save_as))
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
                lambda _=False, i=index: window.open_stage(i),
            )
        )
    view.addSeparator()
    view.addAction(_action(window, "&Why drawer", "Ctrl+Y", window.toggle_why))
    view.addAction(_action(window, "Fold &keel strip", "Ctrl+B", window.fold_keel))
    view.addAction(_action(window, "F&indings…", "Ctrl+F", window.show_findings))
    dark = _action(window, "&Dark theme", "Ctrl+D", window.toggle_theme)
    dark.setCheckable(True)
    view.addAction(dark)
