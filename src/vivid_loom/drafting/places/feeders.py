"""The feeders of a boat's supply: where each starts, lands and holds its device."""

from typing import Final

from vivid_loom.boat import Boat, Feed, Feeder, Supply
from vivid_loom.drafting.patterns import Point, PointKind, held
from vivid_loom.drafting.patterns.feeder import feeder_plan
from vivid_loom.drafting.places.planned import Planned

__all__ = [
    "MINUS_STUD",
    "holder_end",
    "planned_feeder",
    "sits_in_a_way",
    "stands_on_a_stud",
    "way_point",
]

MINUS_STUD: Final = "minus stud"  # of what gives current by itself


def way_point(supply: Supply, way: int) -> Point:
    """Return where a conductor lands on a way: a stud of a bus, its terminal on any other block."""
    kind: PointKind = "stud" if supply.kind == "bus" else "way"
    return Point(supply.id, f"way {way}", supply.station, kind)


def holder_end(family: str) -> PointKind:
    """Return what a holder's ends are: blade holders in line come with tails, others have studs."""
    return "tail" if family == "blade fuse" else "stud"


def sits_in_a_way(feed: Feed | None, boat: Boat) -> bool:
    """Tell whether a feeder's device sits in a way of the block it comes from, as its own kind."""
    source = boat.network.supplies.get(feed.source) if feed else None
    return (
        source is not None
        and bool(source.ways)
        and feed is not None
        and source.family == feed.family
    )


def _has_holder(feed: Feed, boat: Boat) -> bool:
    """Tell whether a feeder's device sits in a holder of its own, away from where it starts.

    Post and class T fuses stand on the post or stud itself, and a block's own kind in its way.
    """
    bare = feed.family is None or stands_on_a_stud(feed.family)
    return feed.distance_mm > 0 and not bare and not sits_in_a_way(feed, boat)


def stands_on_a_stud(family: str | None) -> bool:
    """Tell whether a device stands on the post or stud it comes from, by a mount of its own."""
    return family in ("post fuse", "class T fuse")


def planned_feeder(feeder: Feeder, boat: Boat, way: int) -> Planned:
    """Return a feeder with its two ends, its holder and its return.

    Args:
        way: of the block it comes from, that its device sits in; 0 for none.
    """
    network, out, back, mount = boat.network, None, None, None
    supply, feed, bus = feeder.supply, feeder.feed, feeder.bus
    if supply and feed:
        if feed.source in network.batteries:
            station = network.batteries[feed.source].station
            start = Point(feed.source, "plus post", station, "post")
        else:
            station = network.supplies[feed.source].station
            start = Point(feed.source, "output stud", station, "stud")
            if sits_in_a_way(feed, boat):
                start = way_point(network.supplies[feed.source], way)
        if stands_on_a_stud(feed.family):
            mount, start = start, Point(feed.source, f"{feeder.id} fuse", station, "stud")
        stud = f"feed stud {feed.port}".strip()
        out = (start, Point(supply.id, stud, supply.station, "stud"))
    if bus:
        home = network.home_of(feeder)
        onto = boat.returns_by_id[home]
        far = (
            Point(home, "minus post", onto.station, "post")
            if home in network.batteries
            else Point(home, "branch stud", onto.station, "stud")
        )
        own = MINUS_STUD if supply and bus.id == supply.id else "feed stud"
        back = (Point(bus.id, own, bus.station, "stud"), far)
    name = supply.name if supply else bus.name if bus else ""
    plan = feeder_plan(out, back)
    planned_family = (feed.family if feed else None) or ""
    holds = out is not None and feed is not None and _has_holder(feed, boat)
    if out and holds:
        plan = held(plan, out[0], f"{feeder.id} holder", holder_end(planned_family))
    several = supply is not None and len(supply.feeds) > 1 and feed is not None
    port = f" {feed.port or feed.source}" if several and feed else ""
    return Planned(
        id=feeder.id,
        label=f"{name} feeder{port}" if supply else f"{name}, home",
        pattern="feeder",
        source=feed.source if feed else network.home_of(feeder),
        way=way,
        loads=(),
        plan=plan,
        stub_m=feed.distance_mm / 1000 if feed and holds else 0.0,
        bus=bus.id if bus else "",
        wanted=None,
        family=planned_family,
        feeds=supply.id if supply else bus.id if bus else "",
        mount=mount,
    )
