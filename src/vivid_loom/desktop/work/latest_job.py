"""Slow work off the GUI thread: the newest request counts, older answers are dropped."""

import threading
from collections.abc import Callable, Iterator
from queue import Empty, SimpleQueue
from typing import NamedTuple

from PySide6.QtCore import QObject, QTimer, Signal

from vivid_loom.desktop.work.aside import is_waiting
from vivid_loom.desktop.work.garbage import collect_in_gui_thread

__all__ = ["LatestJob"]

POLL_MS = 12  # less than a frame


class _End(NamedTuple):
    """That work is over, and what it raised."""

    error: Exception | None


class LatestJob(QObject):
    """Runs one piece of work at a time and hands on what it yields while nothing newer is asked.

    Worker threads touch no Qt object, nor may the work they are given hold one: answers come
    through a queue that the GUI thread empties, so that a window may go away at any moment.

    Work that fails ends: what it raised is raised again in the GUI thread, where it is told, noted
    and no page waits for it any more.

    Signals:
        answered (object): one thing the newest work has yielded.
        finished: the newest work has yielded all, or has failed.
    """

    answered = Signal(object)
    finished = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        collect_in_gui_thread()
        self._current = threading.Event()  # set once the work it belongs to is out of date
        self._answers: SimpleQueue[object] = SimpleQueue()
        self._turn = threading.Lock()
        self._timer = QTimer(self)
        self._timer.setInterval(POLL_MS)
        self._timer.timeout.connect(self._deliver)
        self.running = False

    def ask(self, work: Callable[[], Iterator[object]]) -> None:
        """Start ``work`` in place of what runs; it must touch no Qt object."""
        self._current.set()
        outdated = self._current = threading.Event()
        answers: SimpleQueue[object] = SimpleQueue()
        self._answers = answers
        turn = self._turn

        def run() -> None:
            end = _End(None)
            with turn:
                try:
                    for item in work() if not outdated.is_set() else ():
                        if outdated.is_set():
                            return
                        answers.put(item)
                except Exception as error:
                    end = _End(error)
            answers.put(end)

        self.running = True
        threading.Thread(target=run).start()  # joined when the program ends
        self._timer.start()

    def _deliver(self) -> None:
        if is_waiting():
            return  # an answer may lead to an edit: it comes after the one being made
        answers = self._answers
        while answers is self._answers:
            try:
                item = answers.get_nowait()
            except Empty:
                return
            if isinstance(item, _End):
                self.running = False
                self._timer.stop()
                self.finished.emit()
                if item.error is not None:
                    raise item.error
                return
            self.answered.emit(item)

    def stop(self) -> None:
        """Drop what runs; its thread ends by itself."""
        self._current.set()
        self._answers = SimpleQueue()
        self._timer.stop()
        self.running = False
