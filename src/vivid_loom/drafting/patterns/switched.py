"""Fuse way → helm switch → loads in a chain → home."""

from vivid_loom.drafting.patterns.base import Leg, Pattern, Places, Plan, behind, chain


def plan(places: Places) -> Plan:
    """Lay the lead to the switch's common, a jumper over joined throws, then the chain."""
    common, *throws = places.contact
    everyone = tuple(range(len(places.loads)))
    ahead = (Leg("P1", places.way, common, everyone, "source"),)
    rest = behind(chain(places, throws[0], 2, "switched"), ahead)
    if len(throws) == 1:
        return rest
    jumper = Leg("J1", throws[1], throws[0], everyone, "switched", jumper=True)
    return Plan((*rest.legs, jumper), rest.paths)


PATTERN = Pattern(
    name="switched",
    title="switched at the helm",
    needs_contact=True,
    supply_kinds=("fuse_block",),
    plus_leads=(),
    plan=plan,
)
