"""How far a list of steps has come: what counts of what was read and seen."""

import hashlib
import math
from collections.abc import Iterable, Sequence
from functools import cached_property
from typing import Generic, NamedTuple, Protocol, TypeVar

__all__ = ["Progress", "Result", "Stepped", "signature_of"]


def signature_of(*told: object) -> str:
    """Return what tells whether something that was proven is still the same."""
    return hashlib.sha256(repr(told).encode()).hexdigest()[:16]


class Result(NamedTuple):
    """What a step has shown.

    Attributes:
        value: as read, in the step's unit; for what is looked at 1 or 0.
        signature: of the step when it was done.
    """

    step: str
    value: float
    passed: bool
    signature: str


class Stepped(Protocol):
    """One thing to look at or to read, with the limits of what is read."""

    @property
    def id(self) -> str:
        """Its name in the log."""

    @property
    def is_read(self) -> bool:
        """Whether a meter answers it, and not somebody's eyes."""

    @property
    def low(self) -> float:
        """The least that passes."""

    @property
    def high(self) -> float:
        """The most that passes."""

    @property
    def signature(self) -> str:
        """Of all that it proves: a result counts as long as that has not changed."""


S = TypeVar("S", bound=Stepped)


class Progress(Generic[S]):
    """Steps and the results that count.

    Attributes:
        steps: in the order of work.
        results: the last of each step that still counts, by step id.
    """

    def __init__(self, steps: Sequence[S], results: Iterable[Result]) -> None:
        self.steps: tuple[S, ...] = tuple(steps)
        self._last = {result.step: result for result in results}
        self.results = self._counted(self.steps)

    def _counted(self, steps: Iterable[S]) -> dict[str, Result]:
        last = self._last
        return {
            step.id: last[step.id]
            for step in steps
            if step.id in last and last[step.id].signature == step.signature
        }

    @cached_property
    def left(self) -> tuple[S, ...]:
        """Steps that have no result that counts."""
        return tuple(step for step in self.steps if step.id not in self.results)

    @cached_property
    def failed(self) -> tuple[S, ...]:
        """Steps that did not pass."""
        found = ((step, self.results.get(step.id)) for step in self.steps)
        return tuple(step for step, result in found if result is not None and not result.passed)

    def passed(self, step: S) -> bool:
        """Tell whether a step has been done and was as it should be."""
        result = self.results.get(step.id)
        return result is not None and result.passed

    def waits_for(self, step: S) -> S | None:
        """Return the step that must have passed before another is worth reading."""
        return None

    @property
    def proven(self) -> bool:
        """Whether every step has passed."""
        return not self.left and not self.failed

    def judged(self, step: S, value: float) -> Result:
        """Return what a reading makes of a step, or 1 for 'as it should be' and 0 for not."""
        passed = value >= 1 if not step.is_read else step.low <= value <= step.high
        return Result(step.id, value, passed and not math.isnan(value), step.signature)
