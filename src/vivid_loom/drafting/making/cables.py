"""Cables and twisted pairs: the conductors that end on one load, under one jacket as far as they
run together.
"""

from collections.abc import Sequence

from vivid_loom.catalogue import CableStock
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.cable_stock import cored_legs
from vivid_loom.quantities import computed
from vivid_loom.standards.colours import InsulationColour

__all__ = ["DraftedCable", "drafted_cable"]


@computed
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

    @property
    def spare(self) -> tuple[tuple[int, InsulationColour], ...]:
        """Number and colour of the cores that no conductor takes."""
        used = {number for _, number, _ in self.cores}
        colours = (InsulationColour.parse(text) for text in self.stock.core_colours)
        return tuple((n, colour) for n, colour in enumerate(colours, 1) if n not in used)

    def core_of(self, leg: str) -> tuple[int, InsulationColour] | None:
        """Return number and colour of the core a leg is; None where it is no core."""
        return next(((n, c) for name, n, c in self.cores if name == leg), None)


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
