"""A 7.2 m launch to wire from nothing: hull, areas, stations, runs and one battery."""

import dataclasses
from typing import Any

from vivid_loom.boat import Boat, BoatPlan, skeleton, usual_areas

__all__ = ["LAUNCH", "bare"]

LAUNCH = BoatPlan(
    id="b",
    name="B",
    length_m=7.2,
    beam_m=2.5,
    depth_m=1.2,
    areas=usual_areas(7.2),
    battery_area=1,
    helm_area=2,
)


def bare(**fields: Any) -> Boat:
    """Return the launch without parts, buses or panels, but for those given."""
    none: dict[str, Any] = {"supplies": (), "return_buses": (), "panels": ()}
    return dataclasses.replace(skeleton(LAUNCH), **{**none, **fields})
