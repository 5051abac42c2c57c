"""Findings: data first, worded when shown."""

from typing import Final, Literal, NamedTuple

from vivid_loom.standards.source import Source

__all__ = ["GRAVITY", "Finding", "FindingKind", "Severity", "words"]

Severity = Literal["error", "judge", "note"]
GRAVITY: Final[tuple[Severity, ...]] = ("error", "judge", "note")


class FindingKind(NamedTuple):
    """What one rule is about.

    Attributes:
        sentence: template over the finding's values.
        remedy: what to do.
    """

    code: str
    severity: Severity
    title: str
    sentence: str
    remedy: str
    source: Source


class Finding(NamedTuple):
    """One thing wrong, or to be judged, in one draft.

    Attributes:
        subjects: ids of circuits, loads, supplies or switches, the first one to jump to.
        values: filled into the kind's sentence.
    """

    kind: FindingKind
    subjects: tuple[str, ...]
    values: tuple[tuple[str, str], ...] = ()

    @property
    def code(self) -> str:
        """Stable number of the rule."""
        return self.kind.code

    @property
    def severity(self) -> Severity:
        """'error' stops the release, 'judge' wants a decision, 'note' informs."""
        return self.kind.severity

    def sentence(self) -> str:
        """Return the finding in words."""
        return self.kind.sentence.format_map({"it": self.subjects[0], **dict(self.values)})


def words(**values: object) -> tuple[tuple[str, str], ...]:
    """Return what fills a finding's sentence, as text."""
    return tuple((key, str(value)) for key, value in values.items())
