"""Plan and profile of a boat, to one scale: hull, areas, stations and runs as a display list."""

from collections.abc import Callable
from typing import Literal, NamedTuple

from vivid_loom.boat import Boat, Station, plan_outline
from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect, Text
from vivid_loom.sheets.paper.metrics import fitted, text_width
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["BoatScale", "Shown", "boat_plan_items", "boat_scale", "hull_items", "profile_outline"]

Point = tuple[float, float]
Shown = Literal["both", "plan", "profile"]
CAPTION_H = 16.0
GAP = 22.0


class BoatScale(NamedTuple):
    """Where the boat's metres come to lie on the page; plan above, profile below, one scale.

    Attributes:
        px_per_m: the same along, across and up.
        plan_y: page y of the centre line in plan.
        keel_y: page y of the keel line in profile.
        top, profile_top: page y where the drawing, and where the profile begins.
    """

    left: float
    px_per_m: float
    from_m: float
    plan_y: float
    keel_y: float
    top: float
    profile_top: float

    def x(self, x_m: float) -> float:
        """Return the page x of a place ``x_m`` from the transom."""
        return self.left + (x_m - self.from_m) * self.px_per_m

    def plan(self, station: Station) -> Point:
        """Return where a station lies in plan; starboard is below the centre line."""
        return self.x(station.x_m), self.plan_y + station.y_m * self.px_per_m

    def profile(self, station: Station) -> Point:
        """Return where a station lies in profile."""
        return self.x(station.x_m), self.keel_y - station.z_m * self.px_per_m


def _extent(boat: Boat) -> tuple[float, float, float, float]:
    """Return (from_m, to_m, half beam, top) of hull and stations."""
    xs = [s.x_m for s in boat.stations] + [0.0, boat.hull.length_m]
    ys = [abs(s.y_m) for s in boat.stations] + [boat.hull.beam_m / 2]
    zs = [s.z_m for s in boat.stations] + [z for _, z in (*boat.hull.sheer, *boat.hull.house)]
    return min(xs), max(xs), max(ys), max(zs)


def boat_scale(boat: Boat, width: float, height: float, shown: Shown = "both") -> BoatScale:
    """Fit plan and profile into a page, one above the other, or one of them alone."""
    first, last, half, top = _extent(boat)
    first, last = first - 0.15, last + 0.15
    across = 2 * half if shown != "profile" else 0.0
    upward = top + 0.1 if shown != "plan" else 0.0
    gap = GAP if shown == "both" else 0.0
    along = (width - 24) / (last - first)
    scale = min(along, (height - 2 * CAPTION_H - gap) / (across + upward))
    used = scale * (across + upward) + gap
    start = CAPTION_H + 4 + max(0.0, (height - 2 * CAPTION_H - used) / 2)
    plan_y = start + half * scale
    profile_top = start + across * scale + gap
    keel_y = profile_top + top * scale
    left = (width - (last - first) * scale) / 2
    return BoatScale(left, scale, first, plan_y, keel_y, start, profile_top)


def profile_outline(boat: Boat) -> list[Point]:
    """Return hull and house from the side as (x, z) in m, deck aft to fore and keel back."""
    hull = boat.hull
    deck = list(hull.sheer)
    if hull.house:
        aft, fore = hull.house[0][0], hull.house[-1][0]
        deck = (
            [p for p in hull.sheer if p[0] < aft]
            + list(hull.house)
            + [p for p in hull.sheer if p[0] > fore]
        )
    return [*deck, *reversed(hull.keel)]


def _closed(points: list[Point], tones: Tones, width: float = 1.2) -> Line:
    return Line((*points, points[0]), tones.quiet, width)


def hull_items(
    boat: Boat, scale: BoatScale, tones: Tones, shown: Shown = "both"
) -> list[Primitive]:
    """Return outlines and area borders with their names, behind everything else."""
    plan = [(scale.x(x), scale.plan_y + y * scale.px_per_m) for x, y in plan_outline(boat.hull)]
    side = [(scale.x(x), scale.keel_y - z * scale.px_per_m) for x, z in profile_outline(boat)]
    outlines = {"both": (plan, side), "plan": (plan,), "profile": (side,)}[shown]
    top = scale.top - 4
    bottom = max(y for outline in outlines for _, y in outline) + 6
    items: list[Primitive] = []
    axis = sorted((a for a in boat.areas if a.axis), key=lambda a: a.from_m)
    for index, area in enumerate(axis):
        x0, x1 = scale.x(area.from_m), scale.x(area.to_m)
        if index % 2:
            items.append(Rect(x0, top, x1 - x0, bottom - top, tones.band))
        items.append(Line(((x0, top), (x0, bottom)), tones.rule, 1))
        name = fitted(area.name, x1 - x0 - 8, 11)
        items.append(Text((x0 + x1) / 2, top - 4, name, 11, tones.quiet, False, "middle"))
    if axis:
        x = scale.x(axis[-1].to_m)
        items.append(Line(((x, top), (x, bottom)), tones.rule, 1))
    items += [_closed(outline, tones) for outline in outlines]
    if shown != "profile":
        ends = ((scale.x(0.0), scale.plan_y), (scale.x(boat.hull.length_m), scale.plan_y))
        items.append(Line(ends, tones.rule, 1, (6, 5)))
    return items


def boat_plan_items(boat: Boat, width: float, height: float, tones: Tones) -> list[Primitive]:
    """Return a plain plan and profile: hull, runs, stations; battery and helm named."""
    scale = boat_scale(boat, width, height)
    items = hull_items(boat, scale, tones)
    at = boat.stations_by_id
    views: tuple[Callable[[Station], Point], ...] = (scale.plan, scale.profile)
    named = {boat.battery.station: "battery", boat.helm_station: "helm"}
    for view in views:
        for run in boat.runs:
            ends = tuple(view(at[end]) for end in run.ends)
            items.append(Line(ends, tones.quiet, 2, (), "round"))
        for station in boat.stations:
            x, y = view(station)
            items.append(Circle(x, y, 3, tones.part, tones.ink, 1.2))
            if station.id in named:
                word = named[station.id]
                half = text_width(word, 11) / 2
                items.append(Rect(x - half - 3, y - 19, 2 * half + 6, 14, tones.part, "", 0, 3))
                items.append(Text(x, y - 8, word, 11, tones.ink, True, "middle"))
    return items
