"""A circuit or feeder once it has its places: what every later stage works on."""

import dataclasses
from collections.abc import Mapping
from typing import NamedTuple

from vivid_loom.boat import SIGNAL_LEADS, CircuitRequest, Load
from vivid_loom.drafting.decision import Decision
from vivid_loom.drafting.patterns import Plan, Point
from vivid_loom.drafting.places.protect import WantedRating
from vivid_loom.quantities import computed

__all__ = ["Planned", "Shortage"]


class Shortage(NamedTuple):
    """Something there was not enough of: 'way', 'position' or 'screw'."""

    kind: str
    subject: str
    where: str


@computed
class Planned:
    """A circuit or feeder with its places.

    Attributes:
        source: block the circuit hangs on; for a feeder, what feeds it.
        feeds: for a feeder, the supply it feeds, or the bus whose return it is by itself; '' for
            a circuit.
        way: number in the block; 0 where there was none left, or on a stud.
        loads: ids in the order met along the run.
        bus: return bus; '' where nothing comes home by itself.
        position: helm position; 0 without a switch.
        places: the decisions on block and way, return bus and helm position.
        guard: the circuit whose device protects this one, where it has none of its own: a
            sensor's instrument.
        mount: the post or stud that its device stands on by a mount; None for one anywhere else.
        stub_m: from the source's terminal to a device in a holder of its own; 0 without one.
    """

    id: str
    label: str
    pattern: str
    source: str
    way: int
    loads: tuple[str, ...]
    plan: Plan
    bus: str
    wanted: WantedRating | None
    family: str
    feeds: str = ""
    request: CircuitRequest | None = None
    position: int = 0
    places: tuple[tuple[str, Decision[str]], ...] = ()
    stub_m: float = 0.0
    guard: "Planned | None" = None
    mount: Point | None = None

    def drawing(self, loads: Mapping[str, Load]) -> tuple[Load, ...]:
        """Return its loads as they draw through it."""
        request = self.request
        if request is None:
            return tuple([loads[name] for name in self.loads])
        lead, number = request.fed_lead, request.lead_number
        return tuple([loads[name].fed_by(lead, number) for name in self.loads])

    @property
    def signals(self) -> bool:
        """Whether it feeds a lead that brings nothing home by itself: one that tells or lights."""
        return self.request is not None and self.request.fed_lead in SIGNAL_LEADS

    def replanned(self, plan: Plan) -> "Planned":
        """Return the same circuit with other conductors."""
        return dataclasses.replace(self, plan=plan)
