"""How far a device has come towards opening: both edges of its band, as currents come and go."""

import math
from typing import NamedTuple

from vivid_loom.netlist import Device
from vivid_loom.standards.time_current import holds_s, opens_s

__all__ = ["FRESH", "Edges", "edges", "left", "passed"]


class Edges(NamedTuple):
    """The early edge of a band and the late one: seconds, or shares of them that have passed."""

    early: float
    late: float


FRESH = Edges(0.0, 0.0)
"""Nothing has passed."""


def edges(device: Device, amps: float) -> Edges:
    """Return how long a fresh device holds a current for certain, and by when it has opened."""
    return Edges(
        holds_s(device.family, device.rating_a, amps), opens_s(device.family, device.rating_a, amps)
    )


def left(device: Device, amps: float, gone: Edges = FRESH) -> Edges:
    """Return how long a device still holds, and by when it has opened.

    Args:
        gone: shares of both edges that have passed at other currents.
    """
    whole = edges(device, amps)
    return Edges(
        *(
            edge * (1 - share) if edge < math.inf else math.inf
            for edge, share in zip(whole, gone, strict=True)
        )
    )


def passed(device: Device, amps: float, seconds: float, gone: Edges = FRESH) -> Edges:
    """Return the shares of both edges that have passed after so long at a current."""
    whole = edges(device, amps)
    return Edges(
        *(
            min(1.0, share + (seconds / edge if edge < math.inf else 0.0))
            for edge, share in zip(whole, gone, strict=True)
        )
    )
