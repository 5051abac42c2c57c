"""Pages not yet opened: loaded, made and dressed while there is nothing else to do."""

import importlib
import sys
from collections.abc import Callable, Iterator, Mapping
from functools import partial
from pathlib import Path
from threading import Thread

from PySide6.QtCore import QObject, QTimer

import vivid_loom
from vivid_loom.desktop.work.aside import is_waiting
from vivid_loom.desktop.work.stage import StageView

__all__ = ["make_rest"]

AFTER_MS = 1500  # the first page is looked at first; our choice
LARGE = "scipy.sparse.linalg"  # Power solves with it; too large for one turn
ROOMS = ("netlist", "network", "power", "workshop", "bench", "sheets", "desktop")


def _unloaded() -> Iterator[str]:
    """Yield our modules that are not loaded yet, what others build on first."""
    home = Path(vivid_loom.__file__).parent
    for room in ROOMS:
        for path in sorted((home / room).rglob("*.py")):
            parts = path.relative_to(home.parent).with_suffix("").parts
            name = ".".join(parts[:-1] if parts[-1] == "__init__" else parts)
            if name not in sys.modules:
                yield name


def _steps(pages: Mapping[str, StageView]) -> Iterator[Callable[[], object]]:
    """Yield what there is to do, each short enough for one turn."""
    for name in _unloaded():
        yield partial(importlib.import_module, name)
    for name in pages:
        yield partial(pages.__getitem__, name)
        yield pages[name].dress


def make_rest(
    parent: QObject,
    pages: Mapping[str, StageView],
    then: Callable[[], None],
    after_ms: int = AFTER_MS,
) -> None:
    """Make the other pages, a step in each turn of the loop in which nothing else waits.

    What is large is loaded in a thread beside: nothing of Qt is in it.

    Args:
        pages: by the name of their stage, made as they are asked for.
        then: is called once all are made.
    """
    steps = _steps(pages)
    timer = QTimer(parent)

    def begin() -> None:
        Thread(target=importlib.import_module, args=(LARGE,), name="loading").start()
        timer.start(0)

    def turn() -> None:
        if is_waiting():
            return  # somebody does something after all
        step = next(steps, None)
        if step is None:
            timer.stop()
            timer.deleteLater()
            then()
        else:
            step()

    timer.timeout.connect(turn)
    QTimer.singleShot(after_ms, timer, begin)
