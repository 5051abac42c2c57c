"""Slow work off the GUI thread: the newest request counts, older answers are dropped."""

from collections.abc import Callable, Iterator

from PySide6.QtCore import QObject, QThreadPool, Signal

__all__ = ["LatestJob"]


class LatestJob(QObject):
    """Runs one piece of work at a time and hands on what it yields while nothing newer is asked.

    Signals:
        answered (object): one thing the newest work has yielded.
        finished: the newest work has yielded all.
    """

    answered = Signal(object)
    finished = Signal()
    _made = Signal(int, object)
    _ended = Signal(int)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._revision = 0
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._made.connect(self._deliver)
        self._ended.connect(self._end)
        self.running = False

    def ask(self, work: Callable[[], Iterator[object]]) -> None:
        """Start ``work`` in place of what runs; it must touch no widget."""
        self._revision += 1
        revision = self._revision
        self._pool.clear()
        self.running = True
        self._pool.start(lambda: self._run(revision, work))

    def _run(self, revision: int, work: Callable[[], Iterator[object]]) -> None:
        for item in work():
            if revision != self._revision:
                return
            self._made.emit(revision, item)
        self._ended.emit(revision)

    def _deliver(self, revision: int, item: object) -> None:
        if revision == self._revision:
            self.answered.emit(item)

    def _end(self, revision: int) -> None:
        if revision == self._revision:
            self.running = False
            self.finished.emit()

    def stop(self) -> None:
        """Drop what runs and wait until its thread is done with it."""
        self._revision += 1
        self._pool.clear()
        self._pool.waitForDone()
        self.running = False
