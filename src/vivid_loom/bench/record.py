"""What the log says of a boat: results step by step, pulls, rework."""

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any, Final

from vivid_loom.bench.aboard.hunt import Hunter
from vivid_loom.bench.aboard.plan import AlivePlan, AliveStep
from vivid_loom.bench.aboard.results import Alive
from vivid_loom.bench.content import content_problem
from vivid_loom.bench.logbook import Entry, Logbook, is_practised
from vivid_loom.bench.progress import Result
from vivid_loom.bench.pulls import Pull, Remade
from vivid_loom.bench.ringing.mating import Mating
from vivid_loom.bench.ringing.plan import RingPlan, Step
from vivid_loom.bench.ringing.results import Ringing
from vivid_loom.drafting import Draft
from vivid_loom.order import Revision
from vivid_loom.quantities import one_line

__all__ = [
    "BOAT",
    "Record",
    "issue_words",
    "pull_words",
    "remade_words",
    "result_words",
    "rework_words",
]

BOAT: Final = "boat"
"""What results aboard are kept under, beside the harnesses."""

Words = dict[str, Any]


def result_words(
    place: str, step: Step | AliveStep, result: Result, copper_c: float | None = None
) -> Words:
    """Return what the log keeps of a result.

    Args:
        place: the harness, or ``BOAT``.
        copper_c: what the limits hold at.
    """
    words: Words = {
        "place": place,
        "step": step.id,
        "passed": result.passed,
        "signature": result.signature,
    }
    if step.is_read:
        high = None if math.isinf(step.high) else round(step.high, 6)
        words |= {"unit": step.unit, "low": round(step.low, 6), "high": high}
        if copper_c is not None and step.unit == "mΩ":
            words["copper_c"] = copper_c
        words["read"] = "over range" if math.isinf(result.value) else round(result.value, 6)
    return words


def rework_words(place: str, wires: Iterable[str], reason: str) -> Words:
    """Return what the log keeps of wires that were made anew or moved."""
    return {"place": place, "wires": sorted(wires), "reason": reason}


def issue_words(draft: Draft, revision: Revision, kept: Sequence[str]) -> Words:
    """Return what the log keeps of a revision: errors two people answer for, wishes left open.

    Args:
        kept: what is kept of it beside the order, and its digest.
    """
    accepted = [
        f"{finding.code} {', '.join(finding.subjects)} {answer.signed}"
        for finding, answer in draft.accepted
        if finding.severity == "error"
    ]
    wishes = [wish.text for wish in draft.aboard.order.wishes if not wish.answer]
    words: Words = {"number": revision.number, "about": revision.text, "kept": [*kept]}
    return words | {"accepted": accepted, "open": wishes}


def pull_words(pull: Pull) -> Words:
    """Return what the log keeps of a pull."""
    return pull._asdict()


def remade_words(ends: Iterable[str]) -> Words:
    """Return what the log keeps of crimps made anew."""
    return {"ends": sorted(ends)}


def _result(words: Mapping[str, Any]) -> Result:
    read = words.get("read", float(bool(words["passed"])))
    value = math.inf if read == "over range" else float(read)
    return Result(str(words["step"]), value, bool(words["passed"]), str(words["signature"]))


def _made_anew(entry: Entry) -> frozenset[str]:
    """Return the wires made anew, or crimped anew."""
    if entry.kind == "remade":
        return frozenset(str(end).rpartition("/")[0] for end in entry.what["ends"])
    return frozenset(entry.what["wires"])


def _called(entries: Iterable[Entry], hull: str) -> set[str]:
    """Return what a hull was called in the orders whose log has been carried on to it."""
    names, carried = {hull}, [e for e in entries if e.kind == "carried"]
    for entry in reversed(carried):
        if entry.what["to"] in names:
            names.add(entry.what["from"])
    return names


class Record:
    """A log read as what it says; an entry that a later one withdraws counts no more.

    What cannot be understood, or was done on another hull, counts as little.

    Attributes:
        is_whole: the log is as it was written: otherwise it proves nothing.
        passed_over: numbers of records that do not count, and why.
    """

    def __init__(
        self,
        entries: Iterable[Entry],
        *,
        is_whole: bool = True,
        hull: str = "",
        is_practice: bool = False,
    ) -> None:
        """Read a log.

        Args:
            hull: whose log it is; '' to take any.
            is_practice: what a stand-in has read counts as well.
        """
        self.is_whole = is_whole
        told = [(entry, content_problem(entry)) for entry in entries]
        hulls = _called([entry for entry, problem in told if not problem], hull)
        strange = [
            (e, problem or f"was done on hull {one_line(e.hull)}")
            for e, problem in told
            if problem or (hull and e.hull and e.hull not in hulls)
        ]
        if not is_practice:
            taken = {entry.number for entry, _ in strange}
            practised = (e for e, _ in told if is_practised(str(e.instrument)))
            strange += [(e, "was read by a stand-in") for e in practised if e.number not in taken]
        self.passed_over = tuple((entry.number, problem) for entry, problem in strange)
        over = {number for number, _ in self.passed_over}
        every = tuple(entry for entry, _ in told if entry.number not in over)
        withdrawn = {int(e.what["withdraws"]) for e in every if e.kind == "correction"}
        self.entries = tuple(e for e in every if e.number not in withdrawn)

    @classmethod
    def of(cls, log: Logbook, hull: str) -> "Record":
        """Return what a log on disk says of a hull."""
        return cls(log.entries, is_whole=log.is_whole, hull=hull, is_practice=log.is_practice)

    def _of(self, *kinds: str) -> Iterator[Entry]:
        return (entry for entry in self.entries if entry.kind in kinds)

    def _results(self, place: str, touches: Mapping[str, frozenset[str]]) -> Iterator[Result]:
        """Yield a place's results, without those that a later rework has touched.

        A wire that was made anew, wherever that was done, asks for every step that proves something
        of it: in its harness, where harnesses meet, and aboard.

        Args:
            touches: by step, the wires it proves something of.
        """
        found: dict[str, Result] = {}
        for entry in self._of("result", "rework", "remade"):
            if entry.kind != "result":
                gone = _made_anew(entry)
                found = {
                    name: result
                    for name, result in found.items()
                    if gone.isdisjoint(touches.get(name, gone))
                }
            elif entry.what["place"] == place:
                result = _result(entry.what)
                found.pop(result.step, None)
                found[result.step] = result
        yield from found.values()

    def ringing(self, plan: RingPlan, sitting: str = "") -> Ringing:
        """Return how far a harness has been rung out, and what a sitting asks for besides."""
        touches = {step.id: frozenset(step.touches) for step in plan.steps}
        made = Mating if plan.specimen.mates else Ringing
        return made(plan, self._results(plan.specimen.id, touches), sitting)

    def alive(self, plan: AlivePlan, hunter: Hunter | None = None, visit: str = "") -> Alive:
        """Return how far a boat has been made alive; a hunter adds what finds out why not.

        Args:
            visit: the day somebody is aboard; it begins with a step of its own.
        """
        touches = {step.id: frozenset(step.touches) for step in plan.steps}
        return Alive(plan, self._results(BOAT, touches), hunter, visit)

    @property
    def pulls(self) -> tuple[Pull | Remade, ...]:
        """Pulls and crimps made anew, in the order they happened."""
        found: list[Pull | Remade] = []
        for entry in self._of("pull", "remade"):
            if entry.kind == "remade":
                found.append(Remade(tuple(entry.what["ends"])))
            else:
                w = entry.what
                found.append(
                    Pull(w["group"], int(w["number"]), float(w["newton"]), w["tool"], w["passed"])
                )
        return tuple(found)
