"""The breaker is the switch: panel way → loads → home."""

from vivid_loom.drafting.patterns.base import Pattern, Places, Plan, chain


def plan(places: Places) -> Plan:
    """Lay the chain straight from the breaker."""
    return chain(places, places.way, 1, "switched")


PATTERN = Pattern(
    name="breaker",
    title="breaker as switch",
    needs_contact=False,
    supply_kinds=("breaker_panel",),
    plus_leads=(),
    plan=plan,
)
