"""Cables and twisted pairs: the conductors that end on one load, under one jacket as far as they
run together.
"""

from collections.abc import Sequence

from vivid_loom.catalogue import CableStock, Catalogue
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.ladder import Ladder
from vivid_loom.drafting.planned import Planned
from vivid_loom.drafting.resolve import Aboard
from vivid_loom.drafting.route import Path
from vivid_loom.quantities import Gauge, record
from vivid_loom.standards.colours import InsulationColour

__all__ = ["DraftedCable", "cable_stock", "cored_legs", "drafted_cable", "stocked_rungs"]


@record
class DraftedCable:
    """The cable of one circuit.

    Attributes:
        cores: (leg, core number, colour) of each conductor inside.
        runs: where the jacket runs, from the load on.
        jacket_m: length of the jacket.
        bare_m: per leg, what it runs on without the jacket.
    """

    id: str
    circuit: str
    stock: CableStock
    cores: tuple[tuple[str, int, InsulationColour], ...]
    runs: tuple[str, ...]
    jacket_m: float
    bare_m: tuple[tuple[str, float], ...]

    def core_of(self, leg: str) -> tuple[int, InsulationColour] | None:
        """Return number and colour of the core a leg is; None where it is no core."""
        return next(((n, c) for name, n, c in self.cores if name == leg), None)


def cored_legs(planned: Planned) -> tuple[int, ...]:
    """Return the legs that end on the circuit's load, positive first."""
    legs = planned.plan.legs
    ending = [i for i, leg in enumerate(legs) if "lead" in (leg.start.kind, leg.end.kind)]
    return tuple(sorted(ending, key=lambda i: (legs[i].live == "return", i)))


def _wanted(planned: Planned) -> str:
    return planned.request.cable if planned.request else ""


def _fitting(planned: Planned, aboard: Aboard, catalogue: Catalogue) -> list[CableStock]:
    """Return the cables kept for a circuit: its kind, enough cores, the shop's negative."""
    count = len(cored_legs(planned))
    negative = aboard.profile.negative_colour
    kept = [
        stock
        for stock in catalogue.cables
        if stock.twisted == (_wanted(planned) == "twisted pair") and stock.cores >= count
    ]
    fewest = min((stock.cores for stock in kept), default=0)
    kept = [stock for stock in kept if stock.cores == fewest]
    return [stock for stock in kept if stock.core_colours[-1] == negative] or kept


def stocked_rungs(
    planned: Planned, aboard: Aboard, catalogue: Catalogue, ladder: Ladder
) -> tuple[int, ...] | None:
    """Return the rungs a circuit's cable is kept in; None for single wires.

    Raises:
        DraftError: no such cable is kept, or the circuit has several loads.
    """
    if not _wanted(planned):
        return None
    place = f"circuits.{planned.id}.cable"
    if len(planned.loads) > 1:
        raise DraftError(place, "found several loads on the circuit, expected one to a cable")
    gauges = {Gauge.parse(stock.gauge) for stock in _fitting(planned, aboard, catalogue)}
    rungs = tuple(i for i, gauge in enumerate(ladder.gauges) if gauge in gauges)
    if not rungs:
        raise DraftError(
            place,
            f"found no {_wanted(planned)} of {len(cored_legs(planned))} cores in "
            f"{aboard.profile.series}, expected one in the catalogue",
        )
    return rungs


def cable_stock(
    planned: Planned, gauge: Gauge, aboard: Aboard, catalogue: Catalogue
) -> CableStock | None:
    """Return the cable of a gauge; None for single wires or a gauge that is not kept."""
    if not _wanted(planned):
        return None
    kept = _fitting(planned, aboard, catalogue)
    return next((stock for stock in kept if Gauge.parse(stock.gauge) == gauge), None)


def drafted_cable(planned: Planned, stock: CableStock, paths: Sequence[Path]) -> DraftedCable:
    """Lay a circuit's cable from its load as far as all its conductors run together."""
    indices = cored_legs(planned)
    legs = [planned.plan.legs[i] for i in indices]
    ways = [
        paths[i].runs if leg.start.kind == "lead" else tuple(reversed(paths[i].runs))
        for i, leg in zip(indices, legs, strict=True)
    ]
    shared = 0
    while all(len(way) > shared for way in ways) and len({way[shared].id for way in ways}) == 1:
        shared += 1
    jacket = ways[0][:shared]
    length_m = sum(run.wire_m for run in jacket)
    colours = [InsulationColour.parse(text) for text in stock.core_colours]
    numbers = [*range(1, len(legs)), stock.cores]  # the last core is the negative's
    return DraftedCable(
        id=f"{planned.id}-W",
        circuit=planned.id,
        stock=stock,
        cores=tuple((leg.id, n, colours[n - 1]) for leg, n in zip(legs, numbers, strict=True)),
        runs=tuple(run.id for run in jacket),
        jacket_m=length_m,
        bare_m=tuple(
            (leg.id, max(0.0, paths[i].length_m - length_m))
            for i, leg in zip(indices, legs, strict=True)
        ),
    )
