"""Three-lead pump on one three-position switch: manual up, off in the middle, automatic down.

One fuse and one switch, and a pump that is dead in the middle position.
"""

from vivid_loom.drafting.patterns.base import Leg, Pattern, Places, Plan, homeward, lead


def plan(places: Places) -> Plan:
    """Lay the feed to the common, one throw to each lead."""
    common, up, down = places.contact[:3]
    legs = (
        Leg("P1", places.way, common, (0,), "source"),
        Leg("M2", up, lead(places, 0, "manual"), (0,), "switched", "manual"),
        Leg("A2", down, lead(places, 0, "automatic"), (0,), "switched", "automatic"),
        Leg("N1", lead(places, 0, "minus"), homeward(places), (0,), "return"),
    )
    return Plan(legs, ((0, (0, 1, 3)), (0, (0, 2, 3))))


PATTERN = Pattern(
    name="pump_three_position",
    title="pump on one switch, automatic – off – manual",
    needs_contact=True,
    supply_kinds=("fuse_block",),
    plus_leads=("automatic", "manual"),
    plan=plan,
)
