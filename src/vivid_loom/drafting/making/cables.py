"""Cables and twisted pairs: what leads to one load, under one jacket as far as it runs together.

A circuit of several loads has a cable to each, from the switch or from the load before.
"""

from collections.abc import Sequence

from vivid_loom.catalogue import CableStock
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.cable_stock import cored_legs
from vivid_loom.quantities import computed
from vivid_loom.standards.colours import InsulationColour

__all__ = ["DraftedCable", "drafted_cables"]


@computed
class DraftedCable:
    """The cable to one load of a circuit.

    Attributes:
        cores: (leg, core number, colour) of each conductor inside.
        runs: where the jacket runs, from the load on.
        jacket_m: length of the jacket.
        bare_m: per leg, what it runs on without the jacket.
    """

    id: str
    circuit: str
    load: str
    stock: CableStock
    cores: tuple[tuple[str, int, InsulationColour], ...]
    runs: tuple[str, ...]
    jacket_m: float
    bare_m: tuple[tuple[str, float], ...]

    @property
    def spare(self) -> tuple[tuple[int, InsulationColour], ...]:
        """Number and colour of the cores that no conductor takes."""
        used = {number for _, number, _ in self.cores}
        colours = (InsulationColour.parse(text) for text in self.stock.core_colours)
        return tuple((n, colour) for n, colour in enumerate(colours, 1) if n not in used)

    def core_of(self, leg: str) -> tuple[int, InsulationColour] | None:
        """Return number and colour of the core a leg is; None where it is no core."""
        return next(((n, c) for name, n, c in self.cores if name == leg), None)


def drafted_cables(
    planned: Planned, stock: CableStock, paths: Sequence[Path]
) -> tuple[DraftedCable, ...]:
    """Lay a cable to every load; what stays at one station needs no jacket."""
    apart = [
        load for load in planned.loads if any(paths[i].runs for i in cored_legs(planned, load))
    ]
    return tuple(_laid(planned, load, stock, paths) for load in apart or planned.loads[:1])


def _laid(planned: Planned, load: str, stock: CableStock, paths: Sequence[Path]) -> DraftedCable:
    """Lay the cable to a load, from there as far as all its conductors run together."""
    indices = cored_legs(planned, load)
    legs = [planned.plan.legs[i] for i in indices]
    ways = [
        paths[i].runs if leg.start.place == load else tuple(reversed(paths[i].runs))
        for i, leg in zip(indices, legs, strict=True)
    ]
    shared = 0
    while all(len(way) > shared for way in ways) and len({way[shared].id for way in ways}) == 1:
        shared += 1
    jacket = ways[0][:shared]
    length_m = sum(run.wire_m for run in jacket)
    colours = [InsulationColour.parse(text) for text in stock.core_colours]
    numbers = list(range(1, len(legs) + 1))
    if legs[-1].live == "return":
        numbers[-1] = stock.cores  # the last core is the negative's
    number = f"{planned.loads.index(load) + 1}" if len(planned.loads) > 1 else ""
    return DraftedCable(
        id=f"{planned.id}-W{number}",
        circuit=planned.id,
        load=load,
        stock=stock,
        cores=tuple((leg.id, n, colours[n - 1]) for leg, n in zip(legs, numbers, strict=True)),
        runs=tuple(run.id for run in jacket),
        jacket_m=length_m,
        bare_m=tuple(
            (leg.id, max(0.0, paths[i].length_m - length_m))
            for i, leg in zip(indices, legs, strict=True)
        ),
    )
