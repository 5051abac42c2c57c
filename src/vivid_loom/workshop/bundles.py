"""What lies in a run: its wires packed to scale, the loom or conduit it needs, its supports."""

import math
from collections import Counter
from typing import Final, NamedTuple

from vivid_loom.boat import Run
from vivid_loom.drafting import Draft
from vivid_loom.drafting.beside.occupants import Occupant
from vivid_loom.order import Profile
from vivid_loom.standards.conduit import BORES_MM, fill_limit_percent
from vivid_loom.workshop.packing import Packing, pack

__all__ = ["Section", "departures", "section", "supports"]

STILL_BEND: Final = 4.0  # bend radius over bundle diameter; common practice
MOVING_BEND: Final = 10.0


class Section(NamedTuple):
    """The cross-section of a run.

    Attributes:
        members: in the order of ``packing.centres``.
        diameter_mm: over the bundle.
        grown_mm: with the profile's room for growth, by area.
        needed_bore_mm: smallest stocked bore that takes the grown bundle; None above the largest.
        fill_percent: of the fitted bore by wire area; None where no bore is known.
        fill_limit_percent: for conduit; None for loom and open runs.
        bend_mm: least bend radius.
        supports: full spacings along the run.
        support_mm: their spacing.
        grommet: the run passes from one area into another.
    """

    run: Run
    members: tuple[Occupant, ...]
    packing: Packing
    diameter_mm: float
    grown_mm: float
    needed_bore_mm: float | None
    fill_percent: float | None
    fill_limit_percent: float | None
    bend_mm: float
    supports: int
    support_mm: float
    grommet: bool


def _needed_bore(run: Run, areas_mm2: float, grown_mm: float, count: int) -> float | None:
    if run.enclosure == "conduit":
        limit = fill_limit_percent(count) / 100
        least = 2 * math.sqrt(areas_mm2 / limit / math.pi)
    else:
        least = grown_mm
    return next((bore for bore in BORES_MM if bore >= least - 1e-9), None)


def supports(run: Run, profile: Profile) -> tuple[int, float]:
    """Return how many full spacings a run has between its supports, and their spacing in mm."""
    spacing_mm = run.support_mm or profile.tie_spacing_mm
    return math.floor(run.length_m * 1000 / spacing_mm + 1e-9), spacing_mm


def section(draft: Draft, run: Run, inside: tuple[Occupant, ...]) -> Section:
    """Pack the wires of a run and work out what goes around them."""
    profile = draft.aboard.profile
    packing = pack(tuple(member.diameter_mm for member in inside))
    growth = 1 + profile.growth_percent / 100
    grown = packing.diameter_mm * math.sqrt(growth)
    area = sum(math.pi / 4 * member.diameter_mm**2 for member in inside)
    stations = draft.aboard.boat.stations_by_id
    first, last = (stations[end] for end in run.ends)
    spacings, spacing_mm = supports(run, profile)
    bend = MOVING_BEND if run.swing else STILL_BEND
    conduit = run.enclosure == "conduit"
    return Section(
        run=run,
        members=inside,
        packing=packing,
        diameter_mm=packing.diameter_mm,
        grown_mm=grown,
        needed_bore_mm=_needed_bore(run, area * growth, grown, len(inside)) if inside else None,
        fill_percent=100 * area / (math.pi / 4 * run.bore_mm**2) if run.bore_mm else None,
        fill_limit_percent=fill_limit_percent(len(inside)) if conduit and inside else None,
        bend_mm=bend * packing.diameter_mm,
        supports=spacings,
        support_mm=spacing_mm,
        grommet=first.area != last.area,
    )


def departures(
    draft: Draft, run: Run, by_run: dict[str, tuple[Occupant, ...]]
) -> dict[str, dict[str, int]]:
    """Return, for each end of a run, how many of its wires go on into which run; '' for none."""
    here = Counter(member.wire for member in by_run.get(run.id, ()))
    found: dict[str, dict[str, int]] = {}
    for end in run.ends:
        onward: dict[str, int] = {}
        left = set(here)
        for other in draft.aboard.boat.runs:
            if other.id == run.id or end not in other.ends:
                continue
            there = left & {member.wire for member in by_run.get(other.id, ())}
            if there:
                onward[other.id] = len(there)
                left -= there
        if left:
            onward[""] = len(left)
        found[end] = onward
    return found
