"""Bonding conductors: one from each bonded part to the bonding bus, green, never sized by load."""

import math

from vivid_loom.boat import Bond
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.making.terminate import Termination, terminate_stud
from vivid_loom.drafting.places.route import Path, RouteMap
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.quantities import Gauge, computed
from vivid_loom.standards.colours import InsulationColour, colour_schemes
from vivid_loom.standards.smallest import smallest_bonding

__all__ = ["DraftedBond", "drafted_bonds"]


@computed
class DraftedBond:
    """A bonding conductor with its path and both lugs."""

    bond: Bond
    path: Path
    gauge: Gauge
    colour: InsulationColour
    ends: tuple[Termination, Termination]
    cut_mm: float

    @property
    def id(self) -> str:
        """Id of the bonded part."""
        return self.bond.id


def drafted_bonds(aboard: Aboard, routes: RouteMap, ladder: Ladder) -> tuple[DraftedBond, ...]:
    """Route and measure every bonding conductor, in id order.

    Raises:
        DraftError: a part that cannot be reached, a gauge that is not stocked.
    """
    boat, profile = aboard.boat, aboard.profile
    shade = colour_schemes()[profile.colour_scheme].positive("bonding")
    least = ladder.gauges[ladder.rung(str(smallest_bonding(profile.series)), "bonding")]
    made: list[DraftedBond] = []
    for bond in sorted(boat.bonds, key=lambda b: b.id):
        gauge = least
        if bond.gauge:
            gauge = ladder.gauges[ladder.exactly(bond.gauge, f"bonds.{bond.id}.gauge")]
        path = routes.path(bond.station, boat.bonded_at)
        ends = (terminate_stud(gauge, bond.stud), terminate_stud(gauge, "M8"))
        raw = path.length_m * 1000 + 2 * profile.tail_mm + sum(end.strip_mm for end in ends)
        cut = math.ceil(raw / profile.cut_step_mm - 1e-9) * profile.cut_step_mm
        made.append(
            DraftedBond(
                bond=bond, path=path, gauge=gauge, colour=shade, ends=ends, cut_mm=round(cut, 3)
            )
        )
    return tuple(made)
