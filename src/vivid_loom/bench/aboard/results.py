"""What making a boat alive has shown so far, and what a failed reading points to."""

from collections.abc import Iterable
from typing import NamedTuple

from vivid_loom.bench.aboard.hunt import Hunt, Hunter
from vivid_loom.bench.aboard.plan import DEAD_SHARE, AlivePlan, AliveStep, visit_step
from vivid_loom.bench.progress import Progress, Result

__all__ = ["Alive", "Hunted"]


class Hunted(NamedTuple):
    """A step that failed, and how far the search for its reason has come."""

    step: AliveStep
    hunt: Hunt


class Alive(Progress[AliveStep]):
    """How far a boat has been made alive.

    Attributes:
        steps: at a visit its beginning first; the plan's, then what is read to find why volts are
            too low.
        hunted: by step that failed; without a hunter nothing.
    """

    def __init__(
        self,
        plan: AlivePlan,
        results: Iterable[Result],
        hunter: Hunter | None = None,
        visit: str = "",
    ) -> None:
        """Count what has been shown.

        Args:
            visit: the day somebody is aboard; '' where nobody is.
        """
        first = (visit_step(visit),) if visit else ()
        super().__init__((*first, *plan.steps), results)
        self.plan = plan
        hunted = [] if hunter is None else [Hunted(s, self._hunt(hunter, s)) for s in self._low]
        self.hunted = {one.step.id: one.hunt for one in hunted}
        further = tuple(step for hunt in self.hunted.values() for step in hunt.steps)
        self.steps = (*first, *plan.steps, *further)
        self.results |= self._counted(further)
        self.__dict__.pop("failed", None)  # the further steps' failures count from now on

    def waits_for(self, step: AliveStep) -> AliveStep | None:
        """Return the step that must have passed before another is worth doing."""
        first = self.steps[0]
        begun = first.part != "visit" or self.passed(first)
        return None if begun or step == first else first

    @property
    def proven(self) -> bool:
        """Whether every step of the plan has passed."""
        return all(self.passed(step) for step in self.plan.steps)

    @property
    def _low(self) -> list[AliveStep]:
        """The circuits whose volts were read too low, plus and minus the right way round."""
        return [
            step
            for step in self.failed
            if step.part == "circuits" and step.kind == "volts"
            if -DEAD_SHARE * step.figure < self.results[step.id].value < step.figure
        ]

    def _hunt(self, hunter: Hunter, step: AliveStep) -> Hunt:
        given = [self.results[b.id].value / b.figure for b in self._batteries]
        return hunter.hunt(step, self.results[step.id].value, min(given, default=1.0), self._last)

    @property
    def _batteries(self) -> list[AliveStep]:
        """Return the batteries that have been read."""
        read = (s for s in self.plan.steps if s.part == "battery" and s.is_read)
        return [step for step in read if self.passed(step)]

    @property
    def offset_v(self) -> float:
        """By how much the batteries were read off what they were reckoned at."""
        off = [self.results[step.id].value - step.figure for step in self._batteries]
        return min(off, default=0.0)

    def judged(self, step: AliveStep, value: float) -> Result:
        """Return what a reading makes of a step; volts at a load follow the battery's."""
        if step.part == "circuits" and step.kind == "volts":
            off = self.offset_v
            step = step._replace(low=step.low + off, high=step.high + off)
        return super().judged(step, value)
