"""What coils make of what they move: of two, the first to pull is first."""

from collections.abc import Collection, Sequence
from typing import Final

from vivid_loom.standards.contacts import BOTH

__all__ = ["COIL_LEADS", "moved_by"]

COIL_LEADS: Final = (("up", "up"), ("down", "down"), ("plus", "up"))
"""Lead of a coil or a pair of them, and the state that current in it pulls."""


def moved_by(states: Sequence[str], now: str, live: Collection[str]) -> str:
    """Return the state next to one, with current in some coils; one coil moves at a time.

    Args:
        states: that there are, the one at rest first.
        live: states whose coils have current, or hold on.
    """
    if BOTH not in states:
        if now in live:
            return now
        return next((state for state in states[1:] if state in live), states[0])
    held = set(states) & ({"up", "down"} if now == BOTH else {now})
    for state in ("up", "down"):
        if (state in live) != (state in held):
            held ^= {state}
            break
    held -= {states[0]}
    return BOTH if len(held) > 1 else next(iter(held), states[0])
