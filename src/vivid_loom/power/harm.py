"""What of the chafe scan somebody has to judge: wires that burn, faults nothing clears, safety."""

from collections import defaultdict
from collections.abc import Iterable, Iterator
from typing import Literal, NamedTuple

from vivid_loom.drafting.drafted import Draft
from vivid_loom.power.scan import Scanned, is_safety

__all__ = ["Harm", "harms"]

HarmKind = Literal["burns", "flows on", "safety dark"]


class Harm(NamedTuple):
    """Faults that do the same harm.

    Attributes:
        what: the wire that burns, the place of what flows on, the element that goes dark.
        opens: id of the contact whose device puts a safety load out; '' elsewhere.
        at: where the faults are, each once.
        most: the hottest, in °C, or what flows on at most, in A; 0 elsewhere.
    """

    kind: HarmKind
    what: str
    opens: str
    at: tuple[str, ...]
    most: float


def _found(draft: Draft, row: Scanned) -> Iterator[tuple[HarmKind, str, str, float]]:
    if row.burnt[0]:
        yield "burns", row.burnt[0], "", row.burnt[1]
    if row.flows_on:
        yield "flows on", row.probe.at, "", row.flows_on
    in_a_circuit = any(one.id == row.probe.circuit for one in draft.circuits)
    for element in row.lost if in_a_circuit and row.opens else ():
        if is_safety(draft, element):
            yield "safety dark", element, row.opens[-1], 0.0


def harms(draft: Draft, rows: Iterable[Scanned]) -> list[Harm]:
    """Return what a fault does beyond its own circuit, fire first.

    A feeder that fails takes all with it that hangs on it: that is drawn, and no finding.
    """
    places: dict[tuple[HarmKind, str, str], dict[str, None]] = defaultdict(dict)
    most: dict[tuple[HarmKind, str, str], float] = defaultdict(float)
    for row in rows:
        for kind, what, opens, figure in _found(draft, row):
            key = (kind, what, opens)
            places[key][row.probe.at] = None
            most[key] = max(most[key], figure)
    order: tuple[HarmKind, ...] = ("burns", "flows on", "safety dark")
    found = [Harm(*key, tuple(at), most[key]) for key, at in places.items()]
    return sorted(found, key=lambda harm: (order.index(harm.kind), -harm.most, harm.what))
