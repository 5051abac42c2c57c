"""Bench hours of a harness, from counted operations and minutes for each."""

from collections import Counter
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft

__all__ = ["HourLine", "bench_hours", "hour_lines"]

MINUTES: Final = {
    "set up a board": 40.0,
    "cut and label a wire": 1.5,
    "lay a metre": 0.4,
    "crimp a contact": 1.0,
    "crimp an insulated terminal": 1.2,
    "crimp and shrink a joint": 2.2,
    "crimp and shrink a heavy lug": 4.5,
    "close a plug": 4.0,
    "tie and loom a metre of branch": 2.5,
    "ring out a wire": 0.5,
}
"""Minutes for one of each on the bench; our choice, to be corrected by a shop's own record."""


class HourLine(NamedTuple):
    """One kind of operation: how many, minutes each."""

    operation: str
    times: float
    minutes_each: float

    @property
    def hours(self) -> float:
        """Time for all of them."""
        return self.times * self.minutes_each / 60


def _operation(termination: str) -> str:
    if "contact" in termination:
        return "crimp a contact"
    if "lug" in termination or "post" in termination:
        return "crimp and shrink a heavy lug"
    if "butt" in termination or "closed-end" in termination:
        return "crimp and shrink a joint"
    return "crimp an insulated terminal"


def hour_lines(draft: Draft) -> tuple[HourLine, ...]:
    """Count the operations of every harness of a draft."""
    wires = draft.assembled.wires
    used = {run for wire in wires for run in wire.runs}
    runs = draft.aboard.boat.runs_by_id
    count: Counter[str] = Counter()
    for wire in wires:
        for end in (wire.start, wire.end):
            count[_operation(end.termination.kind)] += 1
    metres = sum(wire.cut_mm for wire in wires) / 1000
    figures: dict[str, float] = {
        "set up a board": len({wire.harness for wire in wires}),
        "cut and label a wire": len(wires),
        "lay a metre": metres,
        **count,
        "close a plug": len(draft.assembled.plugs),
        "tie and loom a metre of branch": sum(runs[name].length_m for name in used),
        "ring out a wire": len(wires),
    }
    return tuple(
        HourLine(name, figures[name], minutes)
        for name, minutes in MINUTES.items()
        if figures.get(name)
    )


def bench_hours(draft: Draft) -> float:
    """Return the hours of bench work of an order."""
    return sum(line.hours for line in hour_lines(draft))
