"""What can be worked through step by step: each harness on the bench, then the boat."""

import datetime
from collections.abc import Sequence
from typing import Any, Protocol

from vivid_loom.bench.aboard.hunt import Hunter
from vivid_loom.bench.aboard.plan import AlivePlan, AliveStep, alive_plan
from vivid_loom.bench.aboard.results import Alive
from vivid_loom.bench.devices.tester import BenchTester
from vivid_loom.bench.progress import Progress
from vivid_loom.bench.reading import read_aboard, read_step
from vivid_loom.bench.record import BOAT, Record
from vivid_loom.bench.ringing.plan import RingPlan, Step, ring_plans
from vivid_loom.bench.ringing.results import Ringing
from vivid_loom.bench.sitting import Sitting
from vivid_loom.drafting import Draft
from vivid_loom.sheets.drawings.plug_drawing import plug_face
from vivid_loom.sheets.paper.drawing import Scene
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.words.bench_words import (
    StepWords,
    alive_cause_words,
    alive_words,
    cause_words,
    ring_words,
)

__all__ = ["AliveCourse", "Course", "RingCourse", "courses"]


class Course(Protocol):
    """A list of steps that somebody works through.

    Attributes:
        place: what results are kept under.
        title: what the list is of.
        copper_c: what its limits hold at; None where they follow what is read.
    """

    place: str
    title: str
    copper_c: float | None

    def progress(self, record: Record) -> Progress[Any]:
        """Return how far it has come."""

    def turn(self, step: Any, progress: Progress[Any]) -> str:
        """Say which of the steps one is."""

    def words(self, step: Any) -> StepWords:
        """Say what is done in a step."""

    def read(self, tester: BenchTester, step: Any) -> float:
        """Return what a tester reads."""

    def look(self, tester: BenchTester, step: Any) -> bool:
        """Return what a stand-in's eyes find."""

    def face(self, step: Any, tones: Tones) -> Scene | None:
        """Return the plug's face with the step's cavity lit; None without a plug."""

    def circuit(self, step: Any) -> str:
        """Return the circuit a step is about; '' for none."""

    def makes_anew(self, step: Any) -> Sequence[str]:
        """Return the wires that may have been made anew at a step."""

    def mends(self, step: Any, wires: Sequence[str]) -> list[str]:
        """Name what a stand-in mends when wires are made anew at a step."""

    def causes(self, progress: Progress[Any]) -> Sequence[tuple[str, str]]:
        """Say what is wrong, and on which sheet to look."""

    def about(self) -> str:
        """Say what there is to know of the list."""


class RingCourse:
    """A harness that is rung out."""

    def __init__(self, draft: Draft, plan: RingPlan, sitting: Sitting) -> None:
        self.draft, self.plan, self.sitting = draft, plan, sitting
        self.place, self.title = plan.specimen.id, plan.specimen.title
        self.copper_c: float | None = plan.copper_c

    def at(self, sitting: Sitting) -> "RingCourse":
        """Return the same list at another sitting of the same temperature."""
        return RingCourse(self.draft, self.plan, sitting)

    def progress(self, record: Record) -> Ringing:
        """Return how far it has come."""
        return record.ringing(self.plan, self.sitting.id)

    def turn(self, step: Step, progress: Progress[Any]) -> str:
        """Say which of the steps one is."""
        return _turn(step.id, [each.id for each in progress.steps])

    def words(self, step: Step) -> StepWords:
        """Say what is done in a step."""
        return ring_words(self.draft, self.plan, step)

    def read(self, tester: BenchTester, step: Step) -> float:
        """Return what a tester reads."""
        return read_step(tester, self.plan.specimen, step)

    def look(self, tester: BenchTester, step: Step) -> bool:
        """Return what a stand-in's eyes find."""
        tester.take(self.place)
        return tester.look(step.id)

    def face(self, step: Step, tones: Tones) -> Scene | None:
        """Return the plug's face with the step's cavity lit; None without a plug."""
        specimen = self.plan.specimen
        if step.kind == "seated":
            return plug_face(self.draft, step.subject, self.place, tones, "")
        for name in (step.red, step.black):
            pin = specimen.pins.get(name)
            if pin is not None and pin.cavity:
                wire = pin.ends[0].wire.id
                return plug_face(self.draft, pin.connector, self.place, tones, wire)
        return None

    def circuit(self, step: Step) -> str:
        """Return the circuit of the first wire a step proves something of; '' for none."""
        wires = self.plan.specimen.wires
        return wires[step.touches[0]].wire.circuit if step.touches else ""

    def makes_anew(self, step: Step) -> Sequence[str]:
        """Return the wires that a step proves something of."""
        return step.touches

    def mends(self, step: Step, wires: Sequence[str]) -> list[str]:
        """Name what a stand-in mends: wires, a plug, and the contacts that the wires lead to."""
        pins, anew = self.plan.specimen.pins, frozenset(wires)
        mates = [
            mate
            for mate in self.plan.specimen.mates
            if not anew.isdisjoint(end.wire.id for end in pins[mate.a].ends)
        ]
        return [step.subject, *wires, *(m.id for m in mates), *(m.plug.id for m in mates)]

    def causes(self, progress: Progress[Any]) -> Sequence[tuple[str, str]]:
        """Say what is wrong, and on which sheet to look."""
        assert isinstance(progress, Ringing)
        return [cause_words(self.draft, self.plan, cause) for cause in progress.causes]

    def about(self) -> str:
        """Say what there is to know of the list."""
        plan = self.plan
        alike = plan.neighbours - plan.told
        pairs = f"; {plan.neighbours} pairs of neighbours" if plan.neighbours else ""
        told = f"{plan.moves} moves from connector to connector, {plan.bound} at the very least"
        same = f", {alike} told by their labels" if alike else ""
        warm = f"Limits at {plan.copper_c:g} °C"
        return f"{warm}; {told}{pairs}{same}"


class AliveCourse:
    """The boat that is made alive."""

    def __init__(self, draft: Draft, plan: AlivePlan, visit: str) -> None:
        self.draft, self.plan, self.visit = draft, plan, visit
        self.place, self.title = BOAT, "The boat"
        self.copper_c: float | None = None
        self._hunter = Hunter(draft)

    def progress(self, record: Record) -> Alive:
        """Return how far it has come."""
        return record.alive(self.plan, self._hunter, self.visit)

    def turn(self, step: AliveStep, progress: Progress[Any]) -> str:
        """Say which of the steps one is, or what it is to find."""
        if step.part == "find":
            return f"to find out why {step.subject} failed"
        return _turn(step.id, [each.id for each in progress.steps if each.part != "find"])

    def words(self, step: AliveStep) -> StepWords:
        """Say what is done in a step."""
        return alive_words(self.draft, step)

    def read(self, tester: BenchTester, step: AliveStep) -> float:
        """Return what a meter reads."""
        return read_aboard(tester, step)

    def look(self, tester: BenchTester, step: AliveStep) -> bool:
        """Return what a stand-in's eyes find: whether all that should run does, and no more."""
        if not step.states and not step.runs:
            return True
        tester.stand(step.states, step.subject if step.part == "circuits" else "")
        running = frozenset(tester.ask('SIM:LOOK? "seen"').split(","))
        loads = {name for name in step.runs if " " in name}
        return loads <= running

    def face(self, step: AliveStep, tones: Tones) -> Scene | None:
        """Return no picture: what is looked at is the boat."""
        return None

    def circuit(self, step: AliveStep) -> str:
        """Return the circuit or feeder a step is about; '' for none."""
        return step.subject if self.draft.circuit(step.subject) else ""

    def makes_anew(self, step: AliveStep) -> Sequence[str]:
        """Return the wires of a step's own circuit, feeder or switch; none of one about the boat.

        What the current passes over on its way is made anew where it is met: at its own step.
        """
        if step.part in ("before", "rest"):
            return ()
        row = self.draft.circuit(step.subject)
        return [wire.id for wire in row.wires] if row else step.touches

    def mends(self, step: AliveStep, wires: Sequence[str]) -> list[str]:
        """Name the wires that a stand-in mends."""
        return [*wires]

    def causes(self, progress: Progress[Any]) -> Sequence[tuple[str, str]]:
        """Say what failed, and where to go from here."""
        assert isinstance(progress, Alive)
        failed = [step for step in progress.failed if step.part != "find"]
        results, hunted = progress.results, progress.hunted
        return [alive_cause_words(self.draft, s, results[s.id], hunted.get(s.id)) for s in failed]

    def about(self) -> str:
        """Say what there is to know of the list."""
        unread = len(self.plan.unread)
        none = f"; {unread} circuits without a figure are only seen" if unread else ""
        return f"Minus off first and on last, one circuit at a time{none}"


def _turn(step: str, steps: Sequence[str]) -> str:
    return f"step {steps.index(step) + 1} of {len(steps)}"


def courses(draft: Draft, sitting: Sitting) -> tuple[list[RingCourse], AliveCourse]:
    """Return the harnesses to ring out, and the boat to make alive."""
    rings = [RingCourse(draft, plan, sitting) for plan in ring_plans(draft, sitting.copper_c)]
    return rings, AliveCourse(draft, alive_plan(draft), datetime.date.today().isoformat())
