"""Which cables the shop keeps for a circuit, and the gauges their cores come in."""

from vivid_loom.catalogue import CableStock, Catalogue
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.quantities import Gauge

__all__ = ["cable_stock", "cored_legs", "stocked_rungs"]


def cored_legs(planned: Planned, load: str) -> tuple[int, ...]:
    """Return the legs that lead to a load of the circuit and home from it, positive first."""
    legs = planned.plan.legs
    ending = [
        i
        for i, leg in enumerate(legs)
        if load == (leg.start if leg.live == "return" else leg.end).place and not leg.jumper
    ]
    return tuple(sorted(ending, key=lambda i: (legs[i].live == "return", i)))


def _wanted(planned: Planned) -> str:
    return planned.request.cable if planned.request else ""


def _fitting(planned: Planned, aboard: Aboard, catalogue: Catalogue) -> list[CableStock]:
    """Return the cables kept for a circuit: its kind, enough cores, the shop's negative."""
    asked = planned.request.cores if planned.request else 0
    count = max(asked, _most_legs(planned))
    negative = aboard.profile.negative_colour
    kept = [
        stock
        for stock in catalogue.cables
        if stock.twisted == (_wanted(planned) == "twisted pair") and stock.cores >= count
    ]
    fewest = min((stock.cores for stock in kept), default=0)
    kept = [stock for stock in kept if stock.cores == fewest]
    return [stock for stock in kept if stock.core_colours[-1] == negative] or kept


def _most_legs(planned: Planned) -> int:
    return max(len(cored_legs(planned, load)) for load in planned.loads)


def stocked_rungs(
    planned: Planned, aboard: Aboard, catalogue: Catalogue, ladder: Ladder
) -> tuple[int, ...] | None:
    """Return the rungs a circuit's cable is kept in; None for single wires.

    Raises:
        DraftError: no such cable is kept.
    """
    if not _wanted(planned):
        return None
    place = f"circuits.{planned.id}.cable"
    gauges = {Gauge.parse(stock.gauge) for stock in _fitting(planned, aboard, catalogue)}
    cores = planned.request.cores if planned.request else 0
    rungs = tuple(i for i, gauge in enumerate(ladder.gauges) if gauge in gauges)
    if not rungs:
        raise DraftError(
            place,
            f"found no {_wanted(planned)} of {max(cores, _most_legs(planned))} cores in "
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
