"""Switched at any of several places: a second station, or a float beside the helm's switch.

Every contact has its own lead to the first load. The first two have a feed each from the way, so
that neither depends on the other; a way takes no more, and from the third on each is fed from the
common of the one before.
"""

from vivid_loom.drafting.patterns.base import (
    OWN_FEEDS,
    Leg,
    Pattern,
    Places,
    Plan,
    chain,
    feeding,
    lead,
)


def plan(places: Places) -> Plan:
    """Lay feed and lead of every contact, then the chain from the first load on, and home."""
    everyone = tuple(range(len(places.loads)))
    contacts = (places.contact, *places.also)
    ahead: list[Leg] = []
    for number, (common, throw, *_) in enumerate(contacts, 1):
        start = places.way if number <= OWN_FEEDS else contacts[number - 2][0]
        ahead.append(Leg(f"P{2 * number - 1}", start, common, everyone, "source"))
        onto = lead(places, 0, places.lead_name)
        ahead.append(Leg(f"P{2 * number}", throw, onto, everyone, "switched"))
    # every contact's lead ends on the first load, so that all others hang on that one
    places = places._replace(joined_to=())
    rest = chain(places, places.contact[1], 2, "switched")
    # the chain's first leg is every contact's own lead here
    legs = (*ahead, *(leg._replace(id=_later(leg, len(ahead))) for leg in rest.legs[1:]))
    paths = tuple(
        (load, (*feeds, 2 * number + 1, *(len(ahead) + i - 1 for i in series if i)))
        for load, series in rest.paths
        for number, feeds in enumerate(feeding(len(contacts), 2))
    )
    return Plan(legs, paths)


def _later(leg: Leg, ahead: int) -> str:
    """Number a positive leg after those ahead of it; returns keep their numbers."""
    if leg.live == "return":
        return leg.id
    return f"P{int(leg.id.removeprefix('P')) + ahead - 2}"


PATTERN = Pattern(
    name="either_contact",
    title="switched at any of several places",
    needs_contact=True,
    supply_kinds=("fuse_block",),
    plus_leads=(),
    plan=plan,
    takes_also="some",
)
