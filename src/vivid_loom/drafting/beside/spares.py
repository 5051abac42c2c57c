"""Spare conductors and pull lines: routed, measured, capped and labelled at both ends."""

import math

from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.route import Path, RouteMap
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.order import Spare
from vivid_loom.quantities import Gauge, computed
from vivid_loom.standards.colours import InsulationColour

__all__ = ["DraftedSpare", "drafted_spares"]

PULL_LINE_TAIL_MM = 1000.0  # what stands out at each end to pull by; our choice


@computed
class DraftedSpare:
    """A planned spare with its path; ``gauge`` is None for a pull line."""

    spare: Spare
    path: Path
    gauge: Gauge | None
    colour: InsulationColour
    cut_mm: float

    @property
    def id(self) -> str:
        """Id of the spare."""
        return self.spare.id


def _colour(spare: Spare) -> InsulationColour:
    try:
        return InsulationColour.parse(spare.colour)
    except ValueError as error:
        raise DraftError(f"spares.{spare.id}.colour", str(error)) from error


def drafted_spares(aboard: Aboard, routes: RouteMap, ladder: Ladder) -> tuple[DraftedSpare, ...]:
    """Route and measure every spare, in id order.

    Raises:
        DraftError: an end that cannot be reached, a gauge that is not stocked.
    """
    profile = aboard.profile
    made: list[DraftedSpare] = []
    for spare in sorted(aboard.order.spares, key=lambda s: s.id):
        path = routes.path(spare.start, spare.end)
        gauge = None
        tail = PULL_LINE_TAIL_MM
        if spare.kind == "conductor":
            place = f"spares.{spare.id}.gauge"
            gauge = ladder.gauges[ladder.exactly(spare.gauge, place)]
            tail = profile.tail_mm + profile.service_loop_mm
        raw = path.length_m * 1000 + 2 * tail
        cut = math.ceil(raw / profile.cut_step_mm - 1e-9) * profile.cut_step_mm
        made.append(
            DraftedSpare(
                spare=spare, path=path, gauge=gauge, colour=_colour(spare), cut_mm=round(cut, 3)
            )
        )
    return tuple(made)
