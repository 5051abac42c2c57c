"""One pole of a double-pole navigation and anchor switch; every pole has its own feed."""

from vivid_loom.drafting.patterns.base import Pattern
from vivid_loom.drafting.patterns.switched import plan

PATTERN = Pattern(
    name="navigation_anchor",
    title="navigation and anchor lights by double pole",
    needs_contact=True,
    supply_kinds=("fuse_block",),
    plus_leads=(),
    plan=plan,
)
