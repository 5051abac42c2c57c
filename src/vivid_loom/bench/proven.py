"""How far an order has come, by what has been proven: never by a click alone."""

from collections.abc import Callable, Iterator, Sequence
from functools import cached_property
from typing import Final, get_args

from vivid_loom.bench.aboard.plan import AlivePlan, alive_plan
from vivid_loom.bench.pulls import CrimpGroup, held_back, samples_left
from vivid_loom.bench.record import Record
from vivid_loom.bench.ringing.plan import RingPlan, ring_plans
from vivid_loom.drafting import Draft
from vivid_loom.order import OrderState
from vivid_loom.workshop.harness.built import lying_wires, ticked_wires

__all__ = ["STATES", "Proofs", "missing_for", "reached", "standing"]

STATES: Final[tuple[OrderState, ...]] = get_args(OrderState)


class Proofs:
    """What an order's states are proven by; plans are worked out once they are asked for.

    Args:
        digest: of the sheets as they are drafted now.
        crimps: in the order of the bench.
        errors: counts what rules and proofs find and nobody answers for.
    """

    def __init__(
        self,
        draft: Draft,
        record: Record,
        digest: str,
        crimps: Sequence[CrimpGroup],
        errors: Callable[[], int],
    ) -> None:
        self.draft, self.record, self.digest, self.crimps = draft, record, digest, crimps
        self._errors = errors

    @cached_property
    def errors(self) -> int:
        """Errors that nobody answers for."""
        return self._errors()

    @cached_property
    def rings(self) -> tuple[RingPlan, ...]:
        """How every harness is rung out."""
        return ring_plans(self.draft)

    @cached_property
    def alive(self) -> AlivePlan:
        """How the boat is made alive."""
        return alive_plan(self.draft)


def _counted(count: int, one: str, many: str) -> str:
    return f"{count} {one if count == 1 else many}"


def _checked(proofs: Proofs) -> list[str]:
    errors = proofs.errors
    return [f"{_counted(errors, 'error stands', 'errors stand')} open"] if errors else []


def _released(proofs: Proofs) -> list[str]:
    revisions = proofs.draft.aboard.order.revisions
    if not revisions:
        return ["no revision has been issued"]
    if revisions[-1].withdrawn:
        return [f"revision {revisions[-1].number} has been withdrawn"]
    if revisions[-1].digest != proofs.digest:
        return ["the sheets have changed since the last revision"]
    return []


def _built(proofs: Proofs) -> list[str]:
    draft = proofs.draft
    done = ticked_wires(draft) | lying_wires(draft)
    left = sum(wire.id not in done for wire in draft.assembled.wires)
    return [f"{_counted(left, 'wire is', 'wires are')} not ticked as built"] if left else []


def _tested(proofs: Proofs) -> list[str]:
    if not proofs.record.is_whole:
        return ["the log is not as it was written"]
    found: list[str] = []
    for plan in proofs.rings:
        ringing = proofs.record.ringing(plan)
        if not ringing.proven:
            left, failed = len(ringing.left), len(ringing.failed)
            told = f"{_counted(left, 'step', 'steps')} left, {failed} failed"
            found.append(f"{plan.specimen.title} is not rung out: {told}")
    events = proofs.record.pulls
    left = sum(len(samples_left(group, events)) for group in proofs.crimps)
    if left:
        found.append(f"{_counted(left, 'pull test is', 'pull tests are')} left")
    held = sum(len(held_back(group, events)) for group in proofs.crimps)
    if held:
        found.append(f"{_counted(held, 'crimp is', 'crimps are')} held back by failed pulls")
    return found


def _handed_over(proofs: Proofs) -> list[str]:
    found: list[str] = []
    alive = proofs.record.alive(proofs.alive)
    if not alive.proven:
        told = f"{_counted(len(alive.left), 'step', 'steps')} left, {len(alive.failed)} failed"
        found.append(f"the boat has not been made alive: {told}")
    deviations = proofs.draft.aboard.order.deviations
    waiting = sum(d.verdict == "open" for d in deviations)
    if waiting:
        found.append(f"{_counted(waiting, 'deviation waits', 'deviations wait')} for an answer")
    return found


_ASKED: Final = {
    "checked": _checked,
    "released": _released,
    "built": _built,
    "tested": _tested,
    "handed_over": _handed_over,
}


def missing_for(state: OrderState, proofs: Proofs) -> Iterator[str]:
    """Yield what is missing before an order may be called this, the first state's first."""
    for one in STATES[1 : STATES.index(state) + 1]:
        yield from _ASKED[one](proofs)


def standing(proofs: Proofs) -> tuple[OrderState, str]:
    """Return what an order is still to be called by its record, as called or lower, and why."""
    called, last = proofs.draft.aboard.order.state, STATES[0]
    for state in STATES[1 : STATES.index(called) + 1]:
        if missing := _ASKED[state](proofs):
            return last, missing[0]
        last = state
    return called, ""


def reached(proofs: Proofs) -> OrderState:
    """Return the farthest state of which everything is proven."""
    last = STATES[0]
    for state in STATES[1:]:
        if _ASKED[state](proofs):
            break
        last = state
    return last
