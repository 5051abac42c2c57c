"""A new boat from a few answers: areas, stations, runs and supply to be corrected by measuring."""

import dataclasses
from collections.abc import Sequence
from itertools import pairwise
from typing import Annotated, Final, Literal

from annotated_types import Ge, Gt, Le

from vivid_loom.boat.boat import Assembly, Boat, Fit
from vivid_loom.boat.geography import Area, Hull, Run, Station
from vivid_loom.boat.shape import half_beam_m, parametric_hull
from vivid_loom.boat.supply import Battery, DeviceFamily, Feed, HelmPanel, Home, ReturnBus, Supply
from vivid_loom.quantities import record
from vivid_loom.standards.devices import DEVICES

__all__ = ["BoatPlan", "PlannedArea", "skeleton", "usual_areas", "usual_battery"]

WINDING: Final = 1.15  # runs wind: longer than the straight line by this much; our choice
KEY_A: Final = 15.0  # what the contact of a small key switch bears; common practice, no source
MOST_OF_A_SIDE: Final = 0.8  # side stations stand this far out towards the hull


@record
class PlannedArea:
    """A stretch of the boat, counted from the transom up to ``to_m``.

    Attributes:
        bilge: it has a bilge station below.
    """

    name: str
    to_m: Annotated[float, Gt(0)]
    fuel_vapour: bool = False
    engine_heat: bool = False
    dry: bool = False
    bilge: bool = False


@record
class BoatPlan:
    """The answers of the short path to a new boat.

    Attributes:
        areas: aft first; the last one ends at the stem.
        battery_area, helm_area: which of them hold battery and helm, counted from 0.
        side: where the trunk lies and the battery stands.
        house: the helm area carries a wheelhouse with a mast.
        supply: what stands aboard from the start: the 'battery' alone, its 'switch' and main
            negative, the 'blocks' of battery and helm as well, or a 'key' with its block too.
        cranking_a: None for what is usual for the length.
        capacity_ah: likewise.
        profile: what its orders are drafted under; '' to be asked with each.
    """

    id: str
    name: str
    length_m: Annotated[float, Gt(2), Le(60)]
    beam_m: Annotated[float, Gt(0.5), Le(20)]
    depth_m: Annotated[float, Gt(0.2), Le(10)]
    areas: tuple[PlannedArea, ...]
    battery_area: Annotated[int, Ge(0)]
    helm_area: Annotated[int, Ge(0)]
    nominal_v: Annotated[float, Gt(0)] = 12.0
    material: Literal["aluminium", "steel", "grp", "wood"] = "aluminium"
    side: Literal["port", "starboard"] = "starboard"
    house: bool = True
    supply: Literal["battery", "switch", "blocks", "key"] = "key"
    capacity_ah: Annotated[float, Gt(0)] | None = None
    cranking_a: Annotated[float, Gt(0)] | None = None
    chemistry: Literal["flooded", "AGM", "gel", "lithium"] = "flooded"
    profile: str = ""


def usual_battery(length_m: float) -> tuple[float, float]:
    """Return capacity in Ah and cold-cranking amps that are usual for a boat; our choice."""
    sizes = ((4.0, 60.0, 400.0), (6.0, 80.0, 550.0), (9.0, 120.0, 800.0))
    return next(((ah, amps) for most, ah, amps in sizes if length_m <= most), (180.0, 1000.0))


def usual_areas(length_m: float) -> tuple[PlannedArea, ...]:
    """Return areas that suit many small work boats, to start from."""
    return tuple(
        PlannedArea(name=name, to_m=round(share * length_m, 2), bilge=bilge, dry=dry)
        for name, share, bilge, dry in (
            ("Transom", 0.16, True, False),
            ("Working deck", 0.4, True, False),
            ("Helm", 0.68, False, True),
            ("Foredeck", 1.0, True, False),
        )
    )


def _check(plan: BoatPlan) -> None:
    ends = [0.0, *(area.to_m for area in plan.areas)]
    if not plan.areas or any(b <= a for a, b in pairwise(ends)):
        raise ValueError("areas: expected each to end further forward than the one before")
    if abs(ends[-1] - plan.length_m) > 1e-6:
        raise ValueError(f"areas: the last ends at {ends[-1]:g} m, expected {plan.length_m:g} m")
    for name, index in (("battery", plan.battery_area), ("helm", plan.helm_area)):
        if index >= len(plan.areas):
            raise ValueError(f"{name} area: found {index}, expected one of {len(plan.areas)} areas")


class _Layout:
    """Collects stations and runs."""

    def __init__(self, plan: BoatPlan) -> None:
        self.plan = plan
        self.stations: dict[str, Station] = {}
        self.runs: list[Run] = []

    def station(self, name: str, title: str, area: str, at: Sequence[float]) -> str:
        x, y, z = (round(value, 2) for value in at)
        self.stations[name] = Station(id=name, name=title, area=area, x_m=x, y_m=y, z_m=z)
        return name

    def run(self, first: str, last: str, harness: str, *, low: bool = False) -> None:
        a, b = self.stations[first], self.stations[last]
        along = abs(a.x_m - b.x_m) + abs(a.y_m - b.y_m) + abs(a.z_m - b.z_m)
        length = max(0.2, round(WINDING * along, 2))
        self.runs.append(
            Run(
                id=f"R{len(self.runs) + 1:02d}",
                ends=(first, last),
                length_m=length,
                harness=harness,
                area=b.area,
                low=low,
            )
        )


def _lay_area(layout: _Layout, index: int, hull_half_m: float) -> None:
    """Put a trunk station, both sides and, where there is one, the bilge into an area."""
    plan, area = layout.plan, layout.plan.areas[index]
    start = plan.areas[index - 1].to_m if index else 0.0
    middle = (start + area.to_m) / 2
    out = MOST_OF_A_SIDE * hull_half_m
    sign = 1.0 if plan.side == "starboard" else -1.0
    deck, under = plan.depth_m, 0.6 * plan.depth_m
    key, harness = f"a{index}", _harness(plan, index)
    trunk = layout.station(
        f"{key}_trunk", f"{area.name}, trunk", key, (middle, 0.6 * sign * out, under)
    )
    for side, y in (("port", -out), ("starboard", out)):
        layout.station(f"{key}_{side}", f"{area.name}, {side}", key, (middle, y, deck))
        layout.run(trunk, f"{key}_{side}", harness)
    if area.bilge:
        low = 0.08 * plan.depth_m
        layout.station(f"{key}_bilge", f"{area.name}, bilge", f"{key}b", (middle, 0.0, low))
        layout.run(trunk, f"{key}_bilge", harness, low=True)


def _harness(plan: BoatPlan, index: int) -> str:
    """Return the harness of an area: one from the battery to the helm, wherever both are."""
    return "deck" if index > max(plan.helm_area, plan.battery_area) else "hull"


def _areas(plan: BoatPlan) -> tuple[Area, ...]:
    made: list[Area] = []
    start = 0.0
    for index, area in enumerate(plan.areas):
        made.append(
            Area(
                id=f"a{index}",
                name=area.name,
                from_m=start,
                to_m=area.to_m,
                fuel_vapour=area.fuel_vapour,
                engine_heat=area.engine_heat,
                water="dry" if area.dry else "spray",
                ambient_c=50.0 if area.engine_heat else 30.0,
            )
        )
        if area.bilge:
            made.append(
                Area(
                    id=f"a{index}b",
                    name=f"{area.name}, bilge",
                    from_m=start,
                    to_m=area.to_m,
                    fuel_vapour=area.fuel_vapour,
                    water="submersible",
                    at_sea=False,
                    axis=False,
                )
            )
        start = area.to_m
    return tuple(made)


def _helm(layout: _Layout) -> None:
    plan = layout.plan
    key = f"a{plan.helm_area}"
    trunk = layout.stations[f"{key}_trunk"]
    blocks = (trunk.x_m + 0.1, trunk.y_m, plan.depth_m)
    layout.station("helm", "Helm, behind the panel", key, blocks)
    layout.station("dash", "Dash", key, (trunk.x_m + 0.35, trunk.y_m * 0.7, plan.depth_m + 0.25))
    layout.run(trunk.id, "helm", "console")
    layout.run("helm", "dash", "console")
    if plan.house:
        top = plan.depth_m + 1.3
        layout.station("roof", "Roof", key, (trunk.x_m, trunk.y_m, top))
        layout.station("mast", "Mast head", key, (trunk.x_m - 0.2, 0.0, top + 1.0))
        layout.run("helm", "roof", "hardtop")
        layout.run("roof", "mast", "hardtop")


def _supplies(plan: BoatPlan) -> tuple[Supply, ...]:
    """Return as many as are asked for of switch, always-live block, helm block, key and its block.

    The key's contact bears what its block gives.
    """
    count = {"battery": 0, "switch": 1, "blocks": 3, "key": 5}[plan.supply]
    blades = DEVICES["blade fuse"].max_v >= plan.nominal_v
    small: DeviceFamily = "blade fuse" if blades else "breaker"
    every = (
        Supply(
            id="BSW",
            name="Battery switch",
            station="battery",
            kind="battery_switch",
            level="unswitched",
            feeds=(Feed(id="F02", source="BAT", family="post fuse", distance_mm=60.0, stud="M10"),),
            total_max_a=300.0,
        ),
        Supply(
            id="ALB",
            name="Always-live block",
            station="blocks",
            kind="fuse_block",
            level="battery_direct",
            feeds=(Feed(id="F01", source="BAT", family="post fuse", distance_mm=60.0, stud="M6"),),
            ways=6,
            total_max_a=60.0,
            family=small,
        ),
        Supply(
            id="HFB",
            name="Helm fuse block",
            station="helm",
            kind="fuse_block",
            level="unswitched",
            feeds=(Feed(id="F03", source="BSW", family="breaker", distance_mm=150.0),),
            ways=20,
            total_max_a=120.0,
            family=small,
        ),
        Supply(
            id="KEY",
            name="Ignition key",
            station="helm",
            kind="key_switch",
            level="ignition",
            feeds=(Feed(id="F04", source="HFB", family=small, stud="M6"),),
            total_max_a=KEY_A,
        ),
        Supply(
            id="IGN",
            name="Ignition block",
            station="helm",
            kind="fuse_block",
            level="ignition",
            feeds=(Feed(id="F05", source="KEY", stud="M6"),),
            ways=6,
            family=small,
            way_max_a=KEY_A,
            total_max_a=KEY_A,
        ),
    )
    return every[:count]


def _buses(plan: BoatPlan) -> tuple[ReturnBus, ...]:
    """Return the main negative beside a switch, and the helm's beside its block."""
    count = {"battery": 0, "switch": 1}.get(plan.supply, 2)
    main = Home(beside="BSW", id="F02")
    helm = Home(beside="HFB", id="F03")
    every = (
        ReturnBus(
            id="NB0",
            name="Main negative bus",
            station="blocks",
            screws=24,
            homes=(main,),
            max_a=300.0,
        ),
        ReturnBus(
            id="NB1",
            name="Helm negative bus",
            station="helm",
            screws=48,
            homes=(helm,),
            max_a=150.0,
        ),
    )
    return every[:count]


def _panels(plan: BoatPlan) -> tuple[HelmPanel, ...]:
    """Return the helm's panel, a small one where no block stands behind it."""
    if plan.supply == "battery":
        return ()
    positions = 6 if plan.supply == "switch" else 16
    panel = HelmPanel(id="panel", name="Helm switch panel", station="dash", positions=positions)
    return (panel,)


def skeleton(plan: BoatPlan) -> Boat:
    """Return a boat with a trunk from end to end, sides, bilges, helm, battery and blocks.

    Run lengths are estimates: the way along the three axes and 15 % on top. They are there to be
    measured.

    Raises:
        ValueError: areas that do not follow one another, or a battery or helm in none of them.
    """
    _check(plan)
    starts = [0.0, *(area.to_m for area in plan.areas)]
    helm_from, helm_to = starts[plan.helm_area], starts[plan.helm_area + 1]
    hull = parametric_hull(
        plan.length_m,
        plan.beam_m,
        plan.depth_m,
        material=plan.material,
        house=(helm_from, helm_to) if plan.house else None,
    )
    layout = _laid(plan, hull, starts)
    used = {run.harness for run in layout.runs}
    assemblies = tuple(
        Assembly(id=name, name=f"{name.capitalize()} harness")
        for name in ("hull", "console", "deck", "hardtop")
        if name in used
    )
    capacity_ah, cranking_a = usual_battery(plan.length_m)
    vapour = {area.id for area in _areas(plan) if area.fuel_vapour}
    return Boat(
        id=plan.id,
        name=plan.name,
        nominal_v=plan.nominal_v,
        hull=hull,
        areas=_areas(plan),
        assemblies=assemblies,
        stations=tuple(layout.stations.values()),
        runs=tuple(layout.runs),
        batteries=(
            Battery(
                id="BAT",
                name="Battery",
                station="battery",
                cranking_a=plan.cranking_a or cranking_a,
                capacity_ah=plan.capacity_ah or capacity_ah,
                chemistry=plan.chemistry,
            ),
        ),
        supplies=tuple(
            dataclasses.replace(
                supply, ignition_protected=layout.stations[supply.station].area in vapour
            )
            for supply in _supplies(plan)
        ),
        return_buses=_buses(plan),
        panels=_panels(plan),
        fit=Fit(),
        profile=plan.profile,
    )


def _laid(plan: BoatPlan, hull: Hull, starts: list[float]) -> _Layout:
    """Return the stations and runs of a hull whose areas start there."""
    layout = _Layout(plan)
    for index in range(len(plan.areas)):
        middle = (starts[index] + starts[index + 1]) / 2
        _lay_area(layout, index, half_beam_m(hull, middle))
    for index in range(len(plan.areas) - 1):
        layout.run(f"a{index}_trunk", f"a{index + 1}_trunk", _harness(plan, index + 1))
    key = f"a{plan.battery_area}"
    trunk = layout.stations[f"{key}_trunk"]
    low = 0.35 * plan.depth_m
    layout.station("battery", "Battery", key, (trunk.x_m - 0.1, trunk.y_m, low))
    layout.station(
        "blocks", "Always-live block and main bus", key, (trunk.x_m + 0.1, trunk.y_m, low + 0.2)
    )
    layout.run(trunk.id, "battery", "hull")
    layout.run("battery", "blocks", "hull")
    _helm(layout)
    return layout
