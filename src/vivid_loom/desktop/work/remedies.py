"""What clears findings of the draft that stands, drafted aside before it is offered."""

from collections.abc import Callable, Iterator, Sequence

from PySide6.QtCore import QObject, Signal

from vivid_loom.boat import Boat
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.drafting import Draft, Finding
from vivid_loom.drafting.remedy import remedy
from vivid_loom.drafting.rules.fixes import can_fix
from vivid_loom.order import Edit

__all__ = ["Remedies"]


class Remedies(QObject):
    """Finds what clears a finding; what was found stands while the draft does.

    Signals:
        found: something that was asked for is known.
    """

    found = Signal()

    def __init__(self, standing: Callable[[], tuple[Draft, Boat]], parent: QObject) -> None:
        super().__init__(parent)
        self._standing = standing
        self._of: Draft | None = None
        self._known: dict[Finding, Edit | None] = {}
        self._waiting: list[list[Finding]] = []
        self._job = LatestJob(self)
        self._job.answered.connect(self._take)

    def ask(self, findings: Sequence[Finding]) -> None:
        """Find what clears the first of some findings that anything does, before all asked so far.

        What was asked for before and is not known yet comes after it.
        """
        draft, model = self._now()
        if any(self._known.get(finding) for finding in findings):
            return
        asked = [f for f in findings if f not in self._known and can_fix(f.code)]
        if not asked or asked == next(iter(self._waiting), None):
            return
        waiting = (rest for rest in self._waiting if not self._is_answered(rest))
        self._waiting = [asked, *waiting]
        groups = [list(group) for group in self._waiting]

        def work() -> Iterator[object]:
            for group in groups:
                for finding in group:
                    edit = remedy(finding, draft, model)
                    yield draft, finding, edit
                    if edit:
                        break

        self._job.ask(work)

    def _is_answered(self, findings: Sequence[Finding]) -> bool:
        known = [self._known.get(finding) for finding in findings]
        return any(known) or all(finding in self._known for finding in findings)

    def of(self, finding: Finding) -> Edit | None:
        """Return what clears a finding, as far as it is known."""
        self._now()
        return self._known.get(finding)

    def is_known(self, finding: Finding) -> bool:
        """Tell whether it is known what clears a finding, or that nothing does."""
        self._now()
        return not can_fix(finding.code) or finding in self._known

    def at_once(self, finding: Finding) -> Edit | None:
        """Return what clears a finding, and wait for it."""
        draft, model = self._now()
        if not self.is_known(finding):
            self._known[finding] = remedy(finding, draft, model)
        return self._known.get(finding)

    def stop(self) -> None:
        """Drop what is being tried."""
        self._job.stop()

    def _now(self) -> tuple[Draft, Boat]:
        draft, model = self._standing()
        if draft is not self._of:
            self._of, self._known, self._waiting = draft, {}, []
        return draft, model

    def _take(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        draft, finding, edit = answer
        if draft is self._now()[0]:
            self._known[finding] = edit
            self.found.emit()
