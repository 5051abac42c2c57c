"""The breaker is the switch: panel way, or its lever's output → loads → home."""

from vivid_loom.drafting.patterns.base import Pattern, Places, Plan, chain


def plan(places: Places) -> Plan:
    """Lay the chain straight from the breaker: from its way, or its lever where that has a place.

    The panel's bar brings current to the lever: no conductor of the circuit does.
    """
    return chain(places, places.contact[1] if places.contact else places.way, 1, "switched")


PATTERN = Pattern(
    name="breaker",
    title="breaker as switch",
    needs_contact=False,
    supply_kinds=("breaker_panel",),
    plus_leads=(),
    plan=plan,
)
