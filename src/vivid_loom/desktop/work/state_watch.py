"""No state without its record: what an order is called is held against what its log bears out."""

from collections.abc import Iterator
from typing import Final

from PySide6.QtCore import QObject, QTimer

from vivid_loom.desktop.work.aside import is_waiting
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.desktop.work.session import Session
from vivid_loom.drafting import Draft
from vivid_loom.order import OrderState

__all__ = ["StateWatch"]

REST_MS: Final = 400  # after the last change; a log is written step by step


class StateWatch(QObject):
    """Looks, beside the work, whether an order may still be called what it is called.

    That is done when an order is opened and whenever order or log have changed; what an edit itself
    does to a state is known at once and not waited for.
    """

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self._asked: tuple[Draft, OrderState] | None = None
        self._job = LatestJob(self)
        self._job.answered.connect(self._answered)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(REST_MS)
        self._later.timeout.connect(self._look)
        session.draft_changed.connect(self.look)
        session.folder_changed.connect(self.look)
        self.look()

    def look(self) -> None:
        """Look once nothing has changed for a moment; a draft claims nothing."""
        if self.session.order.state != "drafting":
            self._later.start()

    def stop(self) -> None:
        """Look no more."""
        self._later.stop()
        self._job.stop()

    def _look(self) -> None:
        if is_waiting():
            self._later.start()
            return
        draft, path = self.session.draft, self.session.path
        self._asked = draft, draft.aboard.order.state

        def work() -> Iterator[object]:
            from vivid_loom.bench.proven import standing
            from vivid_loom.proving import proofs_beside  # what solves is loaded late

            yield standing(proofs_beside(draft, path))

        self._job.ask(work)

    def _answered(self, answer: object) -> None:
        assert isinstance(answer, tuple) and self._asked is not None
        draft, called = self._asked
        state, why = answer
        if draft is self.session.draft and state != called and not is_waiting():
            self.session.lower(state, why)
