"""A feeder: from a source's terminal to a part, and the bus beside it home.

No order asks for one: feeders follow from the boat's supplies, so this module has no PATTERN.
"""

from vivid_loom.drafting.patterns.base import Leg, Plan, Point

Ends = tuple[Point, Point]


def feeder_plan(out: Ends | None, home: Ends | None) -> Plan:
    """Lay the positive and the return beside it; either may stand alone.

    Args:
        out: from the source's terminal to the part's.
        home: from the bus to where it goes home to.
    """
    legs = [Leg("P1", *out, (), "source")] if out else []
    if home:
        legs.append(Leg("N1", *home, (), "return"))
    return Plan(tuple(legs), ())
