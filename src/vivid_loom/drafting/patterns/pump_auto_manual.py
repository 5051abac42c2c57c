"""Automatic pump with three leads: automatic and manual lead from one always-live way.

Both leads leave the same protected point, so that the float can never feed the helm backwards
and the override works with the boat switched off.
"""

from vivid_loom.drafting.patterns.base import Leg, Pattern, Places, Plan, homeward, lead


def plan(places: Places) -> Plan:
    """Lay the automatic lead direct, the manual lead through the helm switch, one return."""
    common, throw = places.contact[:2]
    legs = (
        Leg("A1", places.way, lead(places, 0, "automatic"), (0,), "source", "automatic"),
        Leg("M1", places.way, common, (0,), "source", "manual"),
        Leg("M2", throw, lead(places, 0, "manual"), (0,), "switched", "manual"),
        Leg("N1", lead(places, 0, "minus"), homeward(places), (0,), "return"),
    )
    return Plan(legs, ((0, (0, 3)), (0, (1, 2, 3))))


PATTERN = Pattern(
    name="pump_auto_manual",
    title="automatic and manual pump",
    needs_contact=True,
    supply_kinds=("fuse_block",),
    plus_leads=("automatic", "manual"),
    plan=plan,
)
