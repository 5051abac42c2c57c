"""A feeder: from a source's terminal to a block, and the bus beside it home.

No order asks for one: feeders follow from the boat's supplies, so this module has no PATTERN.
"""

from vivid_loom.drafting.patterns.base import Leg, Plan, Point


def feeder_plan(source: Point, block: Point, bus: Point | None, home: Point | None) -> Plan:
    """Lay the positive and, where a bus stands beside the block, its return."""
    legs = [Leg("P1", source, block, (), "source")]
    if bus and home:
        legs.append(Leg("N1", bus, home, (), "return"))
    return Plan(tuple(legs), ())
