"""Hours of work on a harness, on the bench and aboard, from counted operations."""

from collections import Counter, defaultdict
from collections.abc import Mapping
from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.standards.work_times import ABOARD, MINUTES, Operation
from vivid_loom.workshop.bundles import supports

__all__ = ["HourLine", "bench_hours", "hour_lines"]

Minutes = Mapping[Operation, float]


class HourLine(NamedTuple):
    """One kind of operation on a harness: how many, minutes each."""

    harness: str
    operation: Operation
    times: float
    minutes_each: float

    @property
    def hours(self) -> float:
        """Time for all of them."""
        return self.times * self.minutes_each / 60

    @property
    def aboard(self) -> bool:
        """It is done in the boat, not on the bench."""
        return self.operation in ABOARD


def _operation(termination: str) -> Operation:
    if "contact" in termination:
        return "crimp a contact"
    if "lug" in termination or "post" in termination:
        return "crimp and shrink a heavy lug"
    if "butt" in termination or "closed-end" in termination:
        return "crimp and shrink a joint"
    return "crimp an insulated terminal"


def _figures(draft: Draft, harness: str, wires: list[Wire]) -> dict[Operation, float]:
    """Count the operations of one harness."""
    runs = draft.aboard.boat.runs_by_id
    found = draft.reuse
    cut = [wire for wire in wires if found.is_new(wire)]
    used = [runs[name] for name in dict.fromkeys(run for wire in cut for run in wire.runs)]
    ends = [end for wire in wires for end in found.new_ends(wire)]
    crimped = Counter(_operation(end.termination.kind) for end in ends)
    plugs = [p for p in draft.assembled.plugs if harness in (p.live, p.dead)]
    plugs = [p for p in plugs if p.id not in found.places]
    metres = sum(run.length_m for run in used)
    return {
        "set up a board": float(bool(cut)),
        "cut and label a wire": float(len(cut)),
        "lay a metre": sum(wire.cut_mm for wire in cut) / 1000,
        **crimped,
        "close half a plug": float(len(plugs)),
        "tie and loom a metre of branch": metres,
        "ring out a wire": float(len(wires)),
        "draw in a metre of branch": metres,
        "fasten a support": float(sum(supports(run, draft.aboard.profile)[0] + 1 for run in used)),
        "mate a plug": float(sum(p.dead == harness for p in plugs)),
        "land an end": float(sum(end.kind != "plug" for end in ends)),
    }


def hour_lines(draft: Draft, minutes: Minutes = MINUTES) -> tuple[HourLine, ...]:
    """Count the operations of every harness of a draft; what lies in the boat already takes none.

    Args:
        minutes: for one of each: the shop's.
    """
    by_harness: dict[str, list[Wire]] = defaultdict(list)
    for wire in draft.assembled.wires:
        if wire.id not in draft.reuse.kept:
            by_harness[wire.harness].append(wire)
    found: list[HourLine] = []
    for harness, wires in sorted(by_harness.items()):
        figures = _figures(draft, harness, wires)
        found += [
            HourLine(harness, name, figures[name], each)
            for name, each in minutes.items()
            if figures.get(name)
        ]
    return tuple(found)


def bench_hours(draft: Draft, minutes: Minutes = MINUTES) -> float:
    """Return the hours of bench work of an order."""
    return sum(line.hours for line in hour_lines(draft, minutes) if not line.aboard)
