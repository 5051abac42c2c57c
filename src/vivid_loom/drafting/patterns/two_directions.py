"""A motor or contactor pair with a lead a direction, on one three-position switch or several.

Up drives one lead, down the other; at rest both are dead. Further stations stand beside the
first: each has its own feed, and its throws join the load's two leads.
"""

from vivid_loom.drafting.patterns.base import Leg, Pattern, Places, Plan, homeward, lead


def plan(places: Places) -> Plan:
    """Lay feed and both leads of every station, and one return."""
    contacts = (places.contact, *places.also)
    legs: list[Leg] = []
    paths: list[tuple[int, tuple[int, ...]]] = []
    home = 3 * len(contacts)
    for number, (common, up, down) in enumerate(contacts, 1):
        first = len(legs)
        legs += [
            Leg(f"P{number}", places.way, common, (0,), "source"),
            Leg(f"U{number}", up, lead(places, 0, "up"), (0,), "switched", "up"),
            Leg(f"D{number}", down, lead(places, 0, "down"), (0,), "switched", "down"),
        ]
        paths += [(0, (first, first + 1, home)), (0, (first, first + 2, home))]
    legs.append(Leg("N1", lead(places, 0, "minus"), homeward(places), (0,), "return"))
    return Plan(tuple(legs), tuple(paths))


PATTERN = Pattern(
    name="two_directions",
    title="two directions on one switch",
    needs_contact=True,
    supply_kinds=("fuse_block",),
    plus_leads=("up", "down"),
    plan=plan,
    takes_also="any",
)
