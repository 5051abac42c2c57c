"""Work the caller waits for, done in a thread so that the window goes on living meanwhile."""

import threading
from collections.abc import Callable
from typing import TypeVar

from PySide6.QtCore import QCoreApplication, QEventLoop

from vivid_loom.desktop.work.garbage import collect_in_gui_thread

__all__ = ["AGAIN_MS", "aside", "is_waiting"]

T = TypeVar("T")
LOOK_S = 0.01  # less than a frame: how long the loop rests while nothing is to be painted
AGAIN_MS = 20  # until what has to wait for the end asks again
_waited_for: list[threading.Thread] = []


def is_waiting() -> bool:
    """Tell whether work is being waited for: nothing may change what it was begun from."""
    return bool(_waited_for)


def aside(work: Callable[[], T]) -> T:
    """Return what ``work`` returns; the loop of events turns until then, but takes no input.

    What is typed or clicked meanwhile comes afterwards, in its order. Timers go off, and what they
    call sees everything as it stood before; what would change it asks ``is_waiting``.

    Args:
        work: touches no Qt object.

    Raises:
        Exception: what ``work`` raises.
    """
    if _waited_for:
        return work()  # a timer asks while something is waited for: it has to be quick
    collect_in_gui_thread()
    returned: list[T] = []
    raised: list[BaseException] = []

    def run() -> None:
        try:
            returned.append(work())
        except BaseException as error:
            raised.append(error)

    worker = threading.Thread(target=run, name="aside")
    _waited_for.append(worker)
    try:
        worker.start()
        worker.join(LOOK_S)
        while worker.is_alive():
            QCoreApplication.processEvents(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
            worker.join(LOOK_S)
    finally:
        _waited_for.remove(worker)
    if raised:
        raise raised[0]
    return returned[0]
