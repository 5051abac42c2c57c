"""What a circuit may hang on, the best first: blocks; buses, studs or posts for what is heavy."""

import dataclasses
from typing import Final, NamedTuple

from vivid_loom.boat import Boat, CircuitRequest, DeviceFamily, Load, Supply
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.patterns import PATTERNS
from vivid_loom.drafting.places.feeders import stands_on_a_stud
from vivid_loom.drafting.places.protect import WantedRating, one_fuse, wanted_rating
from vivid_loom.drafting.places.route import RouteMap
from vivid_loom.standards.devices import DEVICES
from vivid_loom.standards.short_circuit import battery_ohm

__all__ = ["Offer", "offers"]

MUCH_LARGER: Final = 1.6  # times the least that serves; our choice
SMALL_A: Final = 5.0  # which no wire is too thin for; our choice
USUAL_WAY_A: Final = 30.0  # what a way of any fuse block bears; common practice, no source
_STRAIGHT: Final = ("battery_switch", "selector", "stud")
"""What a lead may leave straight from, by a device of its own; a battery's post is a stud."""


def _supplies_for(request: CircuitRequest, aboard: Aboard, loads: tuple[Load, ...]) -> list[Supply]:
    """Return what a circuit may hang on: blocks; where none bears its device, buses and studs."""
    forced = aboard.order.override(request.id, "supply")
    named = forced.value if forced else request.supply
    if named:
        return [aboard.boat.places_by_id[named]]
    kinds = PATTERNS[request.pattern].supply_kinds
    network = aboard.boat.network
    pulled = {s.id for s in aboard.boat.supplies if s.coil in request.loads}
    there = [
        s
        for s in aboard.boat.places_by_id.values()
        if s.level == request.level
        and not (pulled and network.only_through(s.id, pulled))  # a coil pulls from rest
        and network.voltage(s.id) == network.nominal_v  # another voltage is asked for by name
    ]
    found = [s for s in there if s.ways and s.kind in kinds]
    if not kinds or any(_bears(s, loads) for s in found):
        return found
    wanted = wanted_rating(loads, "breaker")
    if found and wanted and wanted.rating_a <= USUAL_WAY_A:  # its block is to be a better one
        return found
    heavy = (s for s in there if (s.kind == "bus" if s.ways else s.kind in _STRAIGHT))
    return found + [s for s in heavy if s not in found]


def _bears(supply: Supply, loads: tuple[Load, ...]) -> bool:
    """Tell whether a way of a block bears the device that loads ask for, as far as it is known."""
    if not supply.ways_protected or any(load.running_a is None for load in loads):
        return True
    wanted = wanted_rating(loads, supply.family)
    return wanted is not None and wanted.rating_a <= supply.lead_max_a


def _shares_one_fuse(supply: Supply, aboard: Aboard) -> bool:
    """Tell whether the profile describes this block as one panel behind one fuse."""
    if aboard.profile.helm_protection != "one_fuse":
        return False
    areas = aboard.boat.area_at
    at_helm = areas[supply.station] == areas[aboard.boat.helm_station]
    return at_helm and supply.kind == "fuse_block" and supply.level == "unswitched"


_ON_STUDS: Final[tuple[DeviceFamily, ...]] = ("post fuse", "class T fuse", "breaker")
"""What holds a circuit on a post or stud where a blade in line does not bear it."""


def _with_family(
    supply: Supply, request: CircuitRequest, loads: tuple[Load, ...], boat: Boat
) -> Supply:
    """Return a post or stud with the family of device that a circuit has there.

    Of those that bear it, none much larger than it needs to be, one that breaks what the batteries
    behind it may give; on a post one that stands on it, with nothing unprotected before it.
    """
    if supply.ways:
        return supply
    if request.family:
        return dataclasses.replace(supply, family=request.family)
    least_a = sum(load.running_a or 0.0 for load in loads)
    # behind a fuse that one breaks what this does not, or the rules say so
    on_post = supply.id in boat.network.batteries
    short_a = _short_a(supply.id, boat) if on_post else 0.0
    bears: list[tuple[bool, float, DeviceFamily]] = []
    for family in (supply.family, *_ON_STUDS):
        held = wanted_rating(loads, family)
        fits = held and least_a < held.rating_a <= held.maximum_a + 1e-9
        if held and fits and all(load.allows(family) for load in loads):
            bears.append((DEVICES[family].interrupt_a < short_a, held.rating_a, family))
    least = min((rating for _, rating, _ in bears), default=0.0)
    most_a = max(SMALL_A, MUCH_LARGER * least)

    def worth(each: tuple[bool, float, DeviceFamily]) -> tuple[bool, bool, bool, float]:
        weak, rating, family = each
        return rating > most_a, weak, on_post and not stands_on_a_stud(family), rating

    best = min(bears, key=worth, default=None)
    return dataclasses.replace(supply, family=best[2]) if best else supply


def _short_a(place: str, boat: Boat) -> float:
    """Return what the batteries behind a place may give into a short right there, at most."""
    volts = boat.network.nominal_v
    return sum(
        volts / (b.internal_ohm or battery_ohm(volts, b.cranking_a))
        for b in boat.network.batteries_behind(place)
    )


class Offer(NamedTuple):
    """A supply a circuit may hang on, and the device it wants there; None without one."""

    supply: Supply
    wanted: WantedRating | None


def offers(request: CircuitRequest, aboard: Aboard, routes: RouteMap) -> tuple[Offer, ...]:
    """Return what a circuit may hang on, the best first."""
    loads = tuple(
        aboard.loads[name].fed_by(request.lead, request.lead_number) for name in request.loads
    )
    first = loads[0].station
    candidates = sorted(
        _supplies_for(request, aboard, loads),
        # a bare bus only where no fuse block bears the rating
        key=lambda s: (
            not all(load.allows(s.family) for load in loads),
            not s.ways,
            s.id in aboard.boat.network.batteries,  # a stud behind a fuse before a bare post
            s.kind == "bus",
            routes.distance_m(s.station, first),
            s.id,
        ),
    )
    candidates = [_with_family(s, request, loads, aboard.boat) for s in candidates]
    protected = {supply.family for supply in candidates if supply.ways_protected}
    wanted = {family: wanted_rating(loads, family) for family in protected}

    def offer(supply: Supply) -> Offer:
        device = wanted[supply.family] if supply.ways_protected else None
        shared = device and _shares_one_fuse(supply, aboard)
        return Offer(supply, one_fuse(aboard.profile.one_fuse_a) if shared else device)

    return tuple(offer(supply) for supply in candidates)
