"""Control leads that no circuit feeds: they tap their load's plus, over a fuse where they want one.

The wire between is short and lies at its load; with a fuse of its own it is as thin as any.
"""

from collections.abc import Collection, Iterator, Mapping

from vivid_loom.boat import Load
from vivid_loom.drafting.patterns import Leg, Plan, Point

__all__ = ["tapped"]


def tapped(plan: Plan, loads: Mapping[str, Load], fed: Collection[str]) -> Plan:
    """Return ``plan`` with a conductor to every control lead of the loads whose plus it feeds.

    Args:
        loads: all aboard, by id.
        fed: ids of the loads whose first control lead has a circuit of its own.
    """
    ends = dict.fromkeys(leg.end for leg in plan.legs if leg.end.kind == "lead")
    taps: list[Leg] = []
    for at in (end for end in ends if end.name == "plus"):
        for name in loads[at.place].names("control"):
            if name != "control" or at.place not in fed:
                taps += _tap(at, name, loads[at.place], len(taps) + 1)
    return plan._replace(legs=(*plan.legs, *taps)) if taps else plan


def _tap(at: Point, name: str, load: Load, number: int) -> Iterator[Leg]:
    lead = load.named(name)
    onto = Point(load.id, name, load.station, "lead")
    if lead is None or lead.fuse_a is None:
        yield Leg(f"K{number}", at, onto, (), "source", "control", jumper=True)
        return
    holder = f"{load.id} {name} holder"
    into, out = (Point(holder, side, load.station, "tail") for side in ("in", "out"))
    for start, end in ((at, into), (out, onto)):
        yield Leg(
            f"K{number}", start, end, (), "source", "control", jumper=True, fuse_a=lead.fuse_a
        )
        number += 1
