"""Fused at the block, switched on the device."""

from vivid_loom.drafting.patterns.base import Pattern, Places, Plan, chain


def plan(places: Places) -> Plan:
    """Lay the chain straight from the fuse way; it is live whenever its block is."""
    return chain(places, places.way, 1, "source")


PATTERN = Pattern(
    name="device_switched",
    title="fused, switch on the device",
    needs_contact=False,
    supply_kinds=("fuse_block", "bus"),
    plus_leads=(),
    plan=plan,
)
