"""Random lives of orders, and a bookkeeper who knows only what was done by hand.

Whatever is edited, ticked, read, made anew, issued, undone or changed, the product says nothing
built, proven, alive or handed over of which the bookkeeper does not know that it was done to a wire
as it is now. He tells a wire by what somebody sees of it: ends, terminals, size, colour, length.
"""

import contextlib
import dataclasses
import random
from collections import defaultdict
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor

from tests.random_edits import random_edit
from vivid_loom.bench.aboard.plan import alive_plan
from vivid_loom.bench.fallen import fallen
from vivid_loom.bench.logbook import Entry
from vivid_loom.bench.progress import Result
from vivid_loom.bench.proven import STATES, Proofs, missing_for, reached, standing
from vivid_loom.bench.pulls import Pull
from vivid_loom.bench.record import (
    BOAT,
    Record,
    pull_words,
    remade_words,
    result_words,
    rework_words,
)
from vivid_loom.bench.ringing.plan import ring_plans
from vivid_loom.boat import Boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo.generated import generated
from vivid_loom.drafting import Draft, DraftError, draft
from vivid_loom.drafting.after.as_built import as_built
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.order import (
    Order,
    OrderState,
    Revision,
    issue_revision,
    record_built,
    set_state,
    tick_wire,
    untick_wires,
)
from vivid_loom.quantities import LimitError
from vivid_loom.sheets.lists.bench_lists import draft_crimps
from vivid_loom.sheets.packet import sheets_digest
from vivid_loom.workshop.harness.built import tick_of

Seen = tuple[object, ...]


def seen(wire: Wire) -> Seen:
    """What somebody sees of a wire."""
    ends = [(e.place, e.point, e.termination.kind) for e in (wire.start, wire.end)]
    return str(wire.gauge), str(wire.colour), wire.cut_mm, *ends


class Life:
    """An order, its log, and the bookkeeper's book beside it."""

    def __init__(self, seed: int) -> None:
        self.dice = random.Random(seed)
        order, self.boat = self._begun(seed)
        self.entries: list[Entry] = []
        self.draft = self.drafted(order)
        self.undo: list[Order] = []
        self.built: dict[str, Seen] = {}
        self.rung: dict[str, dict[int, Seen]] = defaultdict(dict)  # by the number of the record
        self.alive: dict[str, dict[int, frozenset[tuple[str, Seen]]]] = defaultdict(dict)
        self.issued: set[str] = set()
        self.told: list[str] = []

    @staticmethod
    def _begun(seed: int) -> tuple[Order, Boat]:
        return generated(seed, 2 + seed % 4, ("us", "iso", "shop")[seed % 3], schools=True)

    def drafted(self, order: Order) -> Draft:
        return draft(order, self.boat, shipped_catalogue())

    @property
    def order(self) -> Order:
        return self.draft.aboard.order

    def write(self, kind: str, what: dict[str, object]) -> None:
        number = len(self.entries) + 1
        self.entries.append(
            Entry(number, "t", "IM", kind, "r", what, "", str(number), self.order.hull)
        )

    @property
    def record(self) -> Record:
        return Record(self.entries, hull=self.order.hull)

    def proofs(self) -> Proofs:
        errors = sum(finding.severity == "error" for finding in self.draft.findings)
        digest = sheets_digest(self.draft)
        return Proofs(self.draft, self.record, digest, draft_crimps(self.draft), lambda: errors)

    # what is done

    def apply(self, change: Callable[[Order], Order]) -> None:
        """Edit as the window does: what an edit takes a state back to is known at once."""
        before = self.draft
        if self.order.state == "handed_over":
            return
        try:
            after = self.drafted(change(self.order))
        except (DraftError, LimitError):
            return
        state = fallen(before, after)
        if state != after.aboard.order.state:
            after = self.drafted(dataclasses.replace(after.aboard.order, state=state))
        self.undo.append(self.order)
        self.draft = after

    def edit(self) -> None:
        with contextlib.suppress(IndexError):  # nothing aboard that such an edit could be of
            self.apply(random_edit(self.dice, self.draft)[1])

    def take_back(self) -> None:
        if self.undo:
            self.draft = self.drafted(self.undo.pop())

    def tick(self) -> None:
        wires = self.draft.assembled.wires
        count = len(wires) if self.dice.random() < 0.6 else self.dice.randint(0, len(wires))
        order = self.order
        for wire in self.dice.sample(wires, count):
            order = tick_wire(tick_of(wire))[1](order)
            self.built[wire.id] = seen(wire)
        self.apply(lambda _: order)

    def untick(self) -> None:
        if self.order.ticks and self.order.state != "handed_over":
            wire = self.dice.choice(self.order.ticks).wire
            self.apply(untick_wires((wire,))[1])

    def ring(self) -> None:
        wires = {wire.id: wire for wire in self.draft.assembled.wires}
        for plan in ring_plans(self.draft):
            for step in plan.steps:
                if self.dice.random() < 0.02:
                    continue
                value = (step.low + min(step.high, step.low + 1)) / 2 if step.is_read else 1.0
                result = Result(step.id, value, True, step.signature)
                self.write("result", result_words(plan.specimen.id, step, result))
                if step.kind == "wire":
                    self.rung[step.subject][len(self.entries)] = seen(wires[step.subject])

    def pull(self) -> None:
        for group in draft_crimps(self.draft):
            for number in group.samples:
                done = Pull(group.id, number, group.newton + 1, "T1", passed=True)
                self.write("pull", pull_words(done))

    def make_alive(self) -> None:
        for step in alive_plan(self.draft).steps:
            if self.dice.random() < 0.02:
                continue
            value = step.figure if step.is_read else 1.0
            self.write(
                "result", result_words(BOAT, step, Result(step.id, value, True, step.signature))
            )
            if step.id == f"circuits {step.subject}":
                self.alive[step.subject][len(self.entries)] = self.passed_over(step.subject)

    def passed_over(self, circuit: str) -> frozenset[tuple[str, Seen]]:
        """A circuit's wires, and those of every feeder ahead of it, as somebody sees them."""
        network = self.draft.aboard.boat.network
        row = self.draft.circuit(circuit)
        assert row is not None
        ahead = set(network.upstream(row.planned.source))
        rows = [row, *(f for f in self.draft.feeders if f.id in ahead)]
        return frozenset((w.id, seen(w)) for each in rows for w in each.wires)

    def rework(self) -> None:
        if not self.draft.assembled.wires:
            return
        wire = self.dice.choice(self.draft.assembled.wires)
        place = self.dice.choice((wire.harness, BOAT))
        if self.dice.random() < 0.3:
            self.write("remade", remade_words([f"{wire.id}/to"]))
        else:
            self.write("rework", rework_words(place, [wire.id], "chafed"))
        self.rung.pop(wire.id, None)
        for records in self.alive.values():
            for number, over in list(records.items()):
                if wire.id in {name for name, _ in over}:
                    del records[number]

    def issue(self) -> None:
        digest = sheets_digest(self.draft)
        revision = Revision(
            number=self.order.revision, date="2026-12-02", initials="IM", text="t", digest=digest
        )
        self.issued.add(digest)
        self.apply(issue_revision(revision)[1])
        self.undo.clear()

    def withdraw(self) -> None:
        """Take a result back, whichever: what was read of the step before it counts again."""
        results = [entry for entry in self.entries if entry.kind == "result"]
        if results:
            number = self.dice.choice(results).number
            self.write("correction", {"withdraws": number, "reason": "the wrong line"})
            for records in (*self.rung.values(), *self.alive.values()):
                records.pop(number, None)

    def call(self) -> None:
        """Call the order as far as it goes, as *Sign the state* does."""
        state = reached(self.proofs())
        if state != self.order.state:
            self.draft = self.drafted(set_state(state)[1](self.order))
            self.undo.clear()

    def look(self) -> None:
        """Hold the state against the record, as the window does whenever anything changes."""
        state, _ = standing(self.proofs())
        if state != self.order.state:
            self.draft = self.drafted(set_state(state)[1](self.order))

    def change_order(self) -> None:
        """Start a change order from what is ticked; what nobody ticked is not recorded."""
        wires = self.draft.assembled.wires
        missing = [w.id for w in wires if self.built.get(w.id) != seen(w)]
        lies = as_built(self.draft, without=missing)
        if not lies.wires:
            return
        order, old = record_built(*lies)[1](self.order), self.order.hull
        new = dataclasses.replace(
            order, hull=f"{old}B", based_on=old, ticks=(), revisions=(), state="drafting"
        )
        self.draft = self.drafted(new)
        self.undo.clear()
        what = {"from": old, "to": new.hull}
        self.write("carried", what)

    # what the product may say

    def overstated(self) -> Iterator[str]:
        """Yield what is said of which the bookkeeper does not know."""
        wires = {wire.id: wire for wire in self.draft.assembled.wires}
        for plan in ring_plans(self.draft):
            progress = self.record.ringing(plan)
            for step in progress.steps:
                said = step.kind == "wire" and progress.passed(step)
                if said and seen(wires[step.subject]) not in self.rung[step.subject].values():
                    yield f"{step.subject} is said to be rung out"
        alive = self.record.alive(alive_plan(self.draft))
        for step in alive.plan.steps:
            said = step.id == f"circuits {step.subject}" and alive.passed(step)
            over = self.alive[step.subject].values() if said else ()
            if said and self.passed_over(step.subject) not in over:
                yield f"{step.subject} is said to be alive"
        yield from self._overcalled(wires)

    def _overcalled(self, wires: dict[str, Wire]) -> Iterator[str]:
        state = self.order.state
        if self._is(state, "released") and sheets_digest(self.draft) not in self.issued:
            yield f"it is called {state}, and these sheets were not issued"
        if self._is(state, "built"):
            for name, wire in wires.items():
                if self.built.get(name) != seen(wire) and not self._lay(wire):
                    yield f"it is called {state}, and {name} is not built"

    def _lay(self, wire: Wire) -> bool:
        """Whether a conductor lay there before this order, with these ends, size and colour."""
        ends = {f"{e.place} {e.point}" for e in (wire.start, wire.end)}
        return any(
            ({b.start, b.end}, b.gauge, b.colour) == (ends, str(wire.gauge), str(wire.colour))
            for b in self.order.built
            if b.made_in != self.order.hull
        )

    @staticmethod
    def _is(state: OrderState, least: OrderState) -> bool:
        return STATES.index(state) >= STATES.index(least)

    def live(self, steps: int) -> Iterator[str]:
        """Do things at random, the usual course among them."""
        usual = [self.issue, self.tick, self.ring, self.pull, self.make_alive, self.call]
        odd = [
            *(self.edit,) * 6,
            *(self.take_back, self.untick, self.rework, self.rework, self.withdraw),
            *(self.change_order, self.call, self.call),
        ]
        course = list(usual)
        for turn in range(steps):
            deed = course.pop(0) if course and self.dice.random() < 0.6 else self.dice.choice(odd)
            course = course or list(usual)
            deed()
            self.look()
            self.told.append(deed.__name__)
            for words in self.overstated():
                yield f"{turn} {', '.join(self.told)}: {words}"
                return


def problems(seed: int) -> list[str]:
    return [f"{seed}: {words}" for words in Life(seed).live(14)]


def test_no_state_and_no_proof_above_the_record(orders: int) -> None:
    """``--orders 10000`` for that many lives."""
    if orders > 500:
        with ProcessPoolExecutor() as pool:
            told = pool.map(problems, range(orders), chunksize=10)
            found = [words for each in told for words in each]
    else:
        found = [words for seed in range(orders // 2) for words in problems(seed)]
    assert not found, found[:20]


def test_lives_reach_every_state() -> None:
    """Else the bookkeeper would have nothing to disagree with."""
    states = set()
    for seed in range(12):
        life = Life(seed)
        life.dice.random = lambda: 0.5  # type: ignore[method-assign]
        for deed in (life.issue, life.tick, life.ring, life.pull, life.make_alive, life.call):
            deed()
            states.add(life.order.state)
        assert not [*life.overstated()]
        assert life.order.state == "handed_over" or [*missing_for("handed_over", life.proofs())]
    assert "handed_over" in states
