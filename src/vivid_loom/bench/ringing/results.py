"""What ringing out has shown so far, and what it means."""

from collections.abc import Iterable, Iterator
from functools import cached_property
from itertools import combinations, product
from typing import Literal, NamedTuple

from vivid_loom.bench.progress import Progress, Result
from vivid_loom.bench.ringing.plan import (
    OPEN_MOHM,
    RingPlan,
    Step,
    cross_step,
    print_step,
    zero_step,
)

__all__ = ["Cause", "CauseKind", "Ringing", "is_open"]

CauseKind = Literal[
    "leads",
    "open",
    "poor",
    "thicker",
    "gauge",
    "short",
    "leak",
    "swap",
    "unseated",
    "labels",
    "lamp",
    "unmated",
    "crossed",
    "pushed",
    "worn",
]


class Cause(NamedTuple):
    """Something wrong in a harness.

    Attributes:
        at: wires; for a swap or labels the two pins, for a plug or a lamp its id; contacts of
            mated plugs as 'X4.2'.
    """

    kind: CauseKind
    at: tuple[str, ...]


def is_open(result: Result) -> bool:
    """Tell whether a reading is that of no contact."""
    return result.value > OPEN_MOHM


class Ringing(Progress[Step]):
    """How far a harness has been rung out.

    Attributes:
        plan: by which.
        steps: at a sitting the meter's leads first; the plan's, then ``further``.
        further: steps that name what failed: a wire without continuity is tried against the far
            pins of others without, a net that leaks against the others that leak, and what reads
            too much or too little is looked at.
    """

    def __init__(self, plan: RingPlan, results: Iterable[Result], sitting: str = "") -> None:
        first = (zero_step(sitting),) if sitting else ()
        super().__init__((*first, *plan.steps), results)
        self.plan = plan
        self._planned = self.failed
        self.further = tuple(self._further())
        self.steps = (*first, *plan.steps, *self.further)
        self.results |= self._counted(self.further)
        self.__dict__.pop("failed", None)  # the further steps' failures count from now on

    @property
    def proven(self) -> bool:
        """Whether every step of the plan has passed."""
        return all(self.passed(step) for step in self.plan.steps)

    def waits_for(self, step: Step) -> Step | None:
        """Return the step that must have passed before another is worth reading."""
        first = self.steps[0]
        is_zeroed = first.kind != "zero" or self.passed(first)
        return None if is_zeroed or step.unit != "mΩ" or step == first else first

    def _failed(self, kind: str) -> list[Step]:
        return [step for step in self._planned if step.kind == kind]

    @cached_property
    def _opened(self) -> list[Step]:
        return [step for step in self._failed("wire") if is_open(self.results[step.id])]

    def _further(self) -> Iterator[Step]:
        specimen, planned = self.plan.specimen, {step.id for step in self.plan.steps}
        asked: dict[str, Step] = {}
        for one, other in combinations(self._opened, 2):
            for (a, mate_a), (b, mate_b) in product(_ways(one), _ways(other)):
                if specimen.pins[mate_a].connector == specimen.pins[mate_b].connector:
                    for pins in ((a, mate_b), (b, mate_a)):
                        step = cross_step(specimen, *pins)
                        asked.setdefault(step.id, step)
        for one, other in combinations(self._failed("net"), 2):
            step = cross_step(specimen, one.red, other.red)
            asked.setdefault(step.id, step)
        for failed in self._failed("wire"):
            if not is_open(self.results[failed.id]):
                step = print_step(specimen, specimen.wires[failed.subject])
                if step.id not in planned:
                    asked.setdefault(step.id, step)
        yield from (step for step in asked.values() if step.red != step.black or not step.red)

    @cached_property
    def causes(self) -> tuple[Cause, ...]:
        """What is wrong, as far as the results tell.

        Two wires that lead to one another's pins may be swapped at either of their connectors:
        both are named.
        """
        found: dict[Cause, None] = {}
        explained: set[str] = set()
        net_of = self.plan.specimen.net_of
        for cause, steps in self._swaps():
            found[cause] = None
            for step in steps:
                explained |= {step.id, f"net {net_of[step.red].id}"}
        for step in self._failed("wire"):
            if step.id not in explained:
                found[self._wire_cause(step)] = None
        known = {cause.at[0] for cause in found if cause.kind in ("open", "gauge")}
        for step in self._failed("print"):
            if step.subject not in known:
                found[Cause("gauge", (step.subject,))] = None
        leaking = [step for step in self._failed("net") if step.id not in explained]
        found |= dict.fromkeys(self._leaks(leaking))
        found |= {Cause("labels", (s.red, s.black)): None for s in self._failed("labels")}
        found |= {Cause("lamp", (s.subject,)): None for s in self._failed("lamp")}
        found |= {Cause("leads", ()): None for _ in self._failed("zero")}
        found |= {Cause("unseated", (s.subject,)): None for s in self._failed("seated")}
        return tuple(found)

    def _joined(self, red: str, black: str) -> bool:
        """Tell whether two pins that should not be joined were found to be."""
        for pins in ((red, black), (black, red)):
            result = self.results.get(cross_step(self.plan.specimen, *pins).id)
            if result is not None and not result.passed:
                return True
        return False

    def _swaps(self) -> Iterator[tuple[Cause, tuple[Step, Step]]]:
        """Yield pairs of wires each of which leads to the other's far pin."""
        pins = self.plan.specimen.pins
        for one, other in combinations(self._opened, 2):
            for (a, mate_a), (b, mate_b) in product(_ways(one), _ways(other)):
                near = pins[mate_a].connector == pins[mate_b].connector
                if near and self._joined(a, mate_b) and self._joined(b, mate_a):
                    yield Cause("swap", (mate_a, mate_b)), (one, other)

    def _wire_cause(self, step: Step) -> Cause:
        result = self.results[step.id]
        if is_open(result):
            return Cause("open", (step.subject,))
        seen = self.results.get(f"print {step.subject}")
        if seen is not None and not seen.passed:
            return Cause("gauge", (step.subject,))
        return Cause("poor" if result.value > step.high else "thicker", (step.subject,))

    def _leaks(self, leaking: list[Step]) -> list[Cause]:
        """Return nets joined to one another; one by itself leaks to a shield or the hull."""
        found: list[Cause] = []
        paired: set[str] = set()
        for one, other in combinations(leaking, 2):
            if self._joined(one.red, other.red):
                found.append(Cause("short", (one.subject, other.subject)))
                paired |= {one.id, other.id}
        found += [Cause("leak", (step.subject,)) for step in leaking if step.id not in paired]
        return found


def _ways(step: Step) -> tuple[tuple[str, str], tuple[str, str]]:
    """Return a wire's pins either way round: where it is held, and where it should lead."""
    return (step.red, step.black), (step.black, step.red)
