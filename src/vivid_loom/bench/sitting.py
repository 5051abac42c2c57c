"""A time at the bench with one meter: its leads are taken off once, limits follow the copper."""

from typing import NamedTuple

from vivid_loom.bench.ringing.plan import USUAL_C

__all__ = ["Sitting"]


class Sitting(NamedTuple):
    """When somebody reads, with what.

    Attributes:
        id: the tester and when it was connected, or the day of a meter in the hand.
        copper_c: of the harnesses on the bench.
    """

    id: str
    copper_c: float = USUAL_C
