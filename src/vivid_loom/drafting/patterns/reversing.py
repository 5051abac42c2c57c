"""A motor with two leads, turned either way by both poles of one switch or of a contactor pair.

Feed and return stand on the commons, the motor on the first pole's throws; jumpers cross to the
second pole. At rest both leads of the motor are cut off. A contactor pair has all that inside.
"""

from vivid_loom.drafting.patterns.base import Leg, Pattern, Places, Plan, homeward, lead


def plan(places: Places) -> Plan:
    """Lay feed, both motor leads, the return from the other pole, and the crossing jumpers."""
    (feed, up, down), ((back, *crossing),) = places.contact, places.also
    legs: tuple[Leg, ...] = (
        Leg("P1", places.way, feed, (0,), "source"),
        Leg("U1", up, lead(places, 0, "up"), (0,), "switched", "up"),
        Leg("D1", down, lead(places, 0, "down"), (0,), "switched", "down"),
        Leg("N1", back, homeward(places), (0,), "return"),
    )
    if not crossing:
        return Plan(legs, ((0, (0, 1, 2, 3)), (0, (0, 2, 1, 3))))
    up_too, down_too = crossing
    legs += (
        Leg("J1", down_too, up, (0,), "switched", jumper=True),
        Leg("J2", up_too, down, (0,), "switched", jumper=True),
    )
    return Plan(legs, ((0, (0, 1, 2, 5, 3)), (0, (0, 2, 1, 4, 3))))


PATTERN = Pattern(
    name="reversing",
    title="motor reversed by two poles",
    needs_contact=True,
    supply_kinds=("fuse_block",),
    plus_leads=("up", "down"),
    plan=plan,
    takes_also="some",
)
