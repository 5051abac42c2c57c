"""A motor or contactor pair with a lead a direction, on one three-position switch or several.

Up drives one lead, down the other; at rest both are dead. Further stations stand beside the
first: a second has its own feed, a third and later ones are fed from the common before, and the
throws of each join the load's two leads. Coils of a pair that is to
be interlocked hang behind its break contacts: what one coil opens, the other is fed through.
"""

from typing import Final

from vivid_loom.boat import LeadFunction
from vivid_loom.drafting.patterns.base import (
    OWN_FEEDS,
    Leg,
    Pattern,
    Places,
    Plan,
    feeding,
    homeward,
    lead,
)

_WAYS: Final[tuple[LeadFunction, LeadFunction]] = ("up", "down")


def plan(places: Places) -> Plan:
    """Lay feed and both leads of every station, one return, and the interlock of a pair's coils."""
    contacts = (places.contact, *places.also)
    onto = [lead(places, 0, way) for way in _WAYS]
    within: list[Leg] = []
    if places.interlock:
        for number, (way, coil, (_, out)) in enumerate(
            zip(_WAYS, onto, places.interlock, strict=True), 1
        ):
            within.append(Leg(f"J{number}", out, coil, (0,), "switched", way, jumper=True))
        onto = [feed for feed, _ in places.interlock]
    legs: list[Leg] = []
    paths: list[tuple[int, tuple[int, ...]]] = []
    home = 3 * len(contacts)
    for number, (common, *throws) in enumerate(contacts, 1):
        first = len(legs)
        feeds = feeding(number, 3)[-1]
        start = places.way if number <= OWN_FEEDS else contacts[number - 2][0]
        legs.append(Leg(f"P{number}", start, common, (0,), "source"))
        for side, (way, throw, end) in enumerate(zip(_WAYS, throws, onto, strict=True)):
            legs.append(Leg(f"{way[0].upper()}{number}", throw, end, (0,), "switched", way))
            inner = (home + 1 + side,) if within else ()
            paths.append((0, (*feeds, first + 1 + side, *inner, home)))
    legs.append(Leg("N1", lead(places, 0, "minus"), homeward(places), (0,), "return"))
    return Plan((*legs, *within), tuple(paths))


PATTERN = Pattern(
    name="two_directions",
    title="two directions on one switch",
    needs_contact=True,
    supply_kinds=("fuse_block",),
    plus_leads=("up", "down"),
    plan=plan,
    takes_also="any",
)
