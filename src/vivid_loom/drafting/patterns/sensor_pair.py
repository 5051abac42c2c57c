"""Sensor and its instrument: the sense conductor there, and the sensor's minus beside it.

What feeds the instrument feeds the pair, so that its device protects both conductors.
"""

from vivid_loom.drafting.patterns.base import Leg, Pattern, Places, Plan, homeward, lead


def plan(places: Places) -> Plan:
    """Lay both from the instrument, whose sense lead is the start and whose minus is home."""
    legs = (
        Leg("P1", places.way, lead(places, 0, "sense"), (0,), "source", "sense"),
        Leg("N1", lead(places, 0, "minus"), homeward(places), (0,), "return"),
    )
    return Plan(legs, ((0, (0, 1)),))


PATTERN = Pattern(
    name="sensor_pair",
    title="sensor to its instrument",
    needs_contact=False,
    supply_kinds=(),
    plus_leads=("sense",),
    plan=plan,
)
