"""The menus and their keys."""

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import NamedTuple

from PySide6.QtGui import QAction, QKeySequence, QUndoStack
from PySide6.QtWidgets import QMainWindow, QMenu

from vivid_loom.desktop.widgets.plain import plain
from vivid_loom.desktop.work.stage import Stage

__all__ = ["Command", "add_commands", "add_recent", "add_stages", "add_undo"]

Standard = QKeySequence.StandardKey


class Command(NamedTuple):
    """A line of a menu: its words, its key, what it does."""

    words: str
    keys: str | Standard
    do: Callable[[], object]


def add_commands(window: QMainWindow, menu: QMenu, commands: Sequence[Command]) -> None:
    """Put commands into a menu; every one has a key."""
    for command in commands:
        action = QAction(command.words, window)
        action.setShortcut(QKeySequence(command.keys))
        action.triggered.connect(lambda *_, do=command.do: do())
        menu.addAction(action)


def add_recent(
    menu: QMenu, recent: Callable[[], Sequence[Path]], open_order: Callable[[Path], object]
) -> None:
    """Put a menu of the orders opened lately into a menu; it is filled when it is looked at."""
    inside = menu.addMenu("&Recent orders")
    inside.setToolTipsVisible(True)

    def fill() -> None:
        inside.clear()
        for path in recent():
            action = inside.addAction(path.name)
            action.setToolTip(plain(str(path)))
            action.triggered.connect(lambda _=False, p=path: open_order(p))

    inside.aboutToShow.connect(fill)


def add_undo(window: QMainWindow, menu: QMenu, stack: QUndoStack) -> None:
    """Put undo and redo into a menu, named after the edit."""
    undo, redo = stack.createUndoAction(window, "Undo:"), stack.createRedoAction(window, "Redo:")
    undo.setShortcut(QKeySequence(Standard.Undo))
    redo.setShortcut(QKeySequence(Standard.Redo))
    menu.addActions([undo, redo])


def add_stages(
    window: QMainWindow, menu: QMenu, stages: Sequence[Stage], show: Callable[[str], object]
) -> None:
    """Put the stages into a menu: Ctrl and their number."""
    add_commands(
        window,
        menu,
        [
            Command(stage.name, f"Ctrl+{stage.number % 10}", lambda name=stage.name: show(name))  # type: ignore[misc]
            for stage in stages
        ],
    )
