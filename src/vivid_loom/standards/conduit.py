"""How full a conduit may be, the bores on the shelf, and how clear wires keep of hazards."""

from typing import Final

from vivid_loom.standards.source import Source

__all__ = ["BORES_MM", "CLEARANCE_MM", "CLEARANCE_SOURCE", "FILL_SOURCE", "fill_limit_percent"]

FILL_SOURCE: Final = Source("NEC", "chapter 9, table 1", "from memory")

BORES_MM: Final = (6.0, 8.0, 10.0, 13.0, 16.0, 20.0, 25.0, 32.0, 40.0, 50.0, 63.0, 75.0, 90.0)
"""Inner diameters of loom and conduit that the shop keeps; our choice."""

CLEARANCE_SOURCE: Final = Source("common practice", "clearances", "from memory")

CLEARANCE_MM: Final = {
    "wet exhaust": 50.0,
    "dry exhaust": 250.0,
    "fuel line": 100.0,
    "bilge water": 150.0,
    "moving cable": 50.0,
    "compass": 610.0,
}
"""Least distance of a run from what it passes; nearer a compass only twisted pairs go."""


def fill_limit_percent(count: int) -> float:
    """Return the share of a conduit's bore that wires may take: 53, 31 or 40 % for 1, 2, more.

    Raises:
        ValueError: no wire at all.
    """
    if count < 1:
        raise ValueError(f"found {count} wires, expected at least one")
    return {1: 53.0, 2: 31.0}.get(count, 40.0)
