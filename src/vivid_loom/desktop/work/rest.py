"""What pages not yet opened need, loaded while there is nothing else to do."""

import importlib
import sys
from collections.abc import Iterator
from pathlib import Path
from threading import Thread

from PySide6.QtCore import QObject, QTimer

import vivid_loom

__all__ = ["load_rest"]

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


def load_rest(parent: QObject, after_ms: int = AFTER_MS) -> None:
    """Load the other pages' modules, one in each turn of the loop in which nothing else waits.

    What is large is loaded in a thread beside: nothing of Qt is in it.
    """
    left = _unloaded()
    timer = QTimer(parent)

    def begin() -> None:
        Thread(target=importlib.import_module, args=(LARGE,), name="loading").start()
        timer.start(0)

    def turn() -> None:
        name = next(left, "")
        if name:
            importlib.import_module(name)
        else:
            timer.deleteLater()

    timer.timeout.connect(turn)
    QTimer.singleShot(after_ms, timer, begin)
