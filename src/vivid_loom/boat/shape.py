"""Hull lines from a few numbers: the plan of any hull, and the whole of a new one."""

from typing import Literal

from vivid_loom.boat.geography import Hull

__all__ = ["parametric_hull", "plan_outline"]

Points = tuple[tuple[float, float], ...]


def half_beam_m(hull: Hull, x_m: float) -> float:
    """Return the half beam at deck level ``x_m`` from the transom, in m (our own curve).

    Aft of the widest place a parabola closes to the transom's width; forward of it the side
    follows 1 - t ** fullness to the stem.
    """
    widest_m = hull.widest_at * hull.length_m
    half = hull.beam_m / 2
    if x_m <= widest_m:
        t = 1.0 - max(0.0, x_m) / widest_m
        return half * (1.0 - (1.0 - hull.transom_share) * t * t)
    t = min(1.0, (x_m - widest_m) / (hull.length_m - widest_m))
    return float(half * (1.0 - t**hull.bow_fullness))


def plan_outline(hull: Hull, steps: int = 48) -> Points:
    """Return the deck edge seen from above: (x, y) in m, port side aft to stem and back."""
    xs = [hull.length_m * i / steps for i in range(steps + 1)]
    side = [(x, half_beam_m(hull, x)) for x in xs]
    return (*((x, -y) for x, y in side), *reversed(side))


def parametric_hull(
    length_m: float,
    beam_m: float,
    depth_m: float,
    *,
    material: Literal["aluminium", "steel", "grp", "wood"],
    house: tuple[float, float] | None = None,
    house_m: float = 1.3,
) -> Hull:
    """Return hull lines of common proportions (our own, to be corrected by measuring).

    Args:
        depth_m: keel to deck amidships.
        house: where the wheelhouse or console begins and ends, from the transom; None for none.
        house_m: its height above the deck.
    """
    x = length_m
    sheer = ((0.0, depth_m), (0.4 * x, depth_m), (0.75 * x, 1.15 * depth_m), (x, 1.4 * depth_m))
    keel = (
        (0.0, 0.1 * depth_m),
        (0.45 * x, 0.0),
        (0.72 * x, 0.05 * depth_m),
        (0.9 * x, 0.45 * depth_m),
        (x, 1.4 * depth_m),
    )
    top: Points = ()
    if house:
        aft, fore = house
        roof = depth_m + house_m
        top = ((aft, depth_m), (aft, roof), (fore - 0.1 * (fore - aft), roof), (fore, depth_m))
    return Hull(
        length_m=length_m, beam_m=beam_m, material=material, sheer=sheer, keel=keel, house=top
    )
