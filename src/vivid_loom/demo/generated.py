"""Boats and orders of any size from a seed, for tests and benchmarks."""

import random
from typing import Final, Literal

from vivid_loom.boat import (
    Area,
    Assembly,
    Battery,
    Boat,
    CircuitRequest,
    ContactRequest,
    Evidence,
    Feed,
    Fit,
    HelmPanel,
    Home,
    Hull,
    Lead,
    Load,
    ReturnBus,
    Run,
    Station,
    Supply,
    SwitchRequest,
)
from vivid_loom.boat.supply import DeviceFamily
from vivid_loom.order import PROFILES, Order

__all__ = ["generated"]

CableKind = Literal["", "cable"]
TRUNK = 12
_TAIL = {"ending": "tail", "colour": "RD", "gauge": "16 AWG", "length_mm": 200.0}


def _leads(*functions: str) -> tuple[Lead, ...]:
    return tuple(Lead(function=f, **_TAIL) for f in functions)  # type: ignore[arg-type]


def _geography(rng: random.Random, count: int) -> tuple[tuple[Station, ...], tuple[Run, ...]]:
    """Lay a trunk of twelve stations, aft to fore, and hang every other one on it.

    The trunk does not grow with the boat, so that circuits of all sizes pass alike many runs.
    """
    areas = ("aft", "middle", "fore")
    stations: list[Station] = []
    runs: list[Run] = []
    for i in range(count):
        on = i - 1 if i < TRUNK else rng.randrange(TRUNK)
        place = i if i < TRUNK else on
        area = areas[3 * place // TRUNK]
        x = 10.0 * (place + 0.5) / TRUNK
        stations.append(
            Station(id=f"s{i}", name=f"Station {i}", area=area, x_m=x, y_m=0.0, z_m=1.0)
        )
        if i:
            runs.append(
                Run(
                    id=f"r{i}",
                    ends=(f"s{on}", f"s{i}"),
                    length_m=round(rng.uniform(0.2, 1.2), 2),
                    harness=area,
                    area=area,
                    enclosure=rng.choice(("open", "loom", "conduit")),
                )
            )
    return tuple(stations), tuple(runs)


def _load(
    rng: random.Random, name: str, station: str, *, pump: bool, alone: bool, cabled: bool
) -> Load:
    if not cabled and not pump and rng.random() < 0.05:
        return _windlass(rng, name, station)
    amps = round(rng.choice((0.2, 0.5, 1.0, 2.4, 3.8, 5.0, 7.5)) * rng.uniform(0.7, 1.2), 2)
    return Load(
        id=name,
        name=name,
        station=station,
        function=rng.choice(("deck_light", "electronics", "circulation_pump", "cabin_light")),
        running_a=amps,
        evidence=Evidence(kind="maker"),
        leads=_leads("automatic", "manual", "minus") if pump else _leads("plus", "minus"),
        maker_fuse_a=rng.choice((None, None, 10.0, 15.0)) if alone else None,
        maker_smallest=rng.choice((None, "18 AWG", "14 AWG")),
        demand=rng.choice(("A", "B", "B")),
        drop=rng.choice(("critical", "other", "other")),
        ingress="submersible",
    )


def _windlass(rng: random.Random, name: str, station: str) -> Load:
    """Return a short-time motor that hangs on the heavy bus."""
    amps = round(rng.uniform(40.0, 90.0), 1)
    return Load(
        id=name,
        name=name,
        station=station,
        function="heavy_motor",
        running_a=amps,
        evidence=Evidence(kind="maker"),
        leads=_leads("plus", "minus"),
        motor=True,
        locked_rotor_a=round(amps * 4, 1),
        duty_percent=rng.choice((10.0, 25.0, 50.0)),
        longest_on_min=rng.choice((2.0, 5.0)),
        ingress="submersible",
    )


def _fit(rng: random.Random, circuits: int, stations: int, nominal_v: float) -> Fit:
    rocker = "toggle-60v" if nominal_v > 32 else "rocker-spst"
    loads: list[Load] = []
    requests: list[CircuitRequest] = []
    switches: list[SwitchRequest] = []
    for i in range(circuits):
        kind = rng.choice(("switched", "device_switched", "breaker", "pump_auto_manual"))
        pump = kind == "pump_auto_manual"
        names = [f"l{i}_{k}" for k in range(1 if pump else rng.choice((1, 1, 1, 2, 3)))]
        cable: CableKind = "cable" if len(names) == 1 and rng.random() < 0.15 else ""
        loads += [
            _load(
                rng,
                n,
                f"s{rng.randrange(stations)}",
                pump=pump,
                alone=len(names) == 1,
                cabled=bool(cable) or kind != "device_switched" or len(names) > 1,
            )
            for n in names
        ]
        contact = None
        if kind in ("switched", "pump_auto_manual"):
            contact = ContactRequest(switch=f"sw{i}")
            switches.append(SwitchRequest(id=f"sw{i}", part=rocker, legend=f"SWITCH {i}"))
        requests.append(
            CircuitRequest(
                id=f"C{i:04d}",
                label=f"Circuit {i}",
                pattern=kind,
                loads=tuple(names),
                level="battery_direct" if pump else "unswitched",
                contact=contact,
                cable=cable,
            )
        )
    return Fit(loads=tuple(loads), circuits=tuple(requests), switches=tuple(switches))


def _supply(
    name: str, kind: str, level: str, fed_from: str, station: str, ways: int, nominal_v: float
) -> Supply:
    block: DeviceFamily = "breaker" if kind == "breaker_panel" or nominal_v > 32 else "blade fuse"
    device: DeviceFamily = "post fuse" if fed_from == "BAT" or kind == "bus" else "breaker"
    feed = Feed(source=fed_from, family=device, distance_mm=60.0, stud="M10")
    return Supply(
        id=name,
        name=name,
        station=station,
        kind=kind,  # type: ignore[arg-type]
        level=level,  # type: ignore[arg-type]
        feeds=(feed,),
        ways=ways,
        total_max_a=100000.0,
        way_max_a=200.0 if kind == "bus" else 30.0,
        family="bolt-down fuse" if kind == "bus" else block,
    )


_SCHOOLS: dict[str, tuple[str | int, ...]] = {
    "bundling": ("off", "loaded", "all"),
    "strip_from_loads": (0, 1, 10),
    "automatic_pump": ("one_point", "automatic_only", "manual_only"),
    "colour_scheme": ("function", "iso", "one", "sleeves"),
    "alike": ("label", "tracer"),
    "negative_colour": ("YE", "BK"),
    "negatives": ("nearest", "main"),
    "joint": ("crimp", "solder", "solder_sleeve"),
}


_HULL: Final = Hull(
    length_m=10.0,
    beam_m=3.0,
    material="grp",
    sheer=((0.0, 1.2), (10.0, 2.0)),
    keel=((0.0, 0.0), (9.0, 0.2)),
)


def _boat(rng: random.Random, seed: int, circuits: int) -> Boat:
    count = 14 + circuits // 20
    stations, runs = _geography(rng, count)
    battery, helm = "s4", "s6"
    areas = tuple(
        Area(
            id=name,
            name=name,
            from_m=low,
            to_m=high,
            engine_heat=name == "aft",
            ambient_c=rng.choice((30.0, 40.0)),
        )
        for name, low, high in (("aft", 0.0, 3.4), ("middle", 3.4, 6.7), ("fore", 6.7, 10.0))
    )
    volts = rng.choice((12.0, 12.0, 24.0, 24.0, 48.0))
    source = Battery(id="BAT", name="Battery", station=battery, cranking_a=600.0, capacity_ah=100.0)
    buses = tuple(
        ReturnBus(
            id=name,
            name=f"{name} bus",
            station=station,
            screws=circuits,
            homes=(Home(beside=supply),),
            max_a=1000.0,
        )
        for name, station, supply in (("NB0", battery, "BSW"), ("NB1", helm, "HFB"))
    )
    return Boat(
        id=f"generated-{seed}",
        name=f"Generated {seed}",
        nominal_v=volts,
        hull=_HULL,
        areas=areas,
        assemblies=tuple(Assembly(id=area.id, name=f"{area.id} harness") for area in areas),
        stations=stations,
        runs=runs,
        batteries=(source,),
        supplies=(
            _supply("BSW", "battery_switch", "unswitched", "BAT", battery, 0, volts),
            _supply("ALB", "fuse_block", "battery_direct", "BAT", battery, circuits, volts),
            _supply("HFB", "fuse_block", "unswitched", "BSW", helm, circuits, volts),
            _supply("HB", "bus", "unswitched", "BSW", battery, circuits, volts),
            _supply("HBP", "breaker_panel", "unswitched", "BSW", helm, circuits, volts),
        ),
        return_buses=buses,
        panels=(HelmPanel(id="panel", name="Panel", station=helm, positions=max(1, circuits)),),
        fit=_fit(rng, circuits, count, volts),
    )


def generated(
    seed: int, circuits: int, profile: str = "shop", *, schools: bool = False
) -> tuple[Order, Boat]:
    """Return an order and its boat with so many circuits; the same seed gives the same.

    Args:
        schools: draw the profile's choices as well.
    """
    rng = random.Random(seed)
    boat = _boat(rng, seed, circuits)
    drawn = tuple((name, rng.choice(values)) for name, values in sorted(_SCHOOLS.items()))
    standing = PROFILES[profile]
    changes = tuple((n, v) for n, v in drawn if schools and v != getattr(standing, n))
    order = Order(
        hull=f"G{seed}",
        title="Generated",
        boat="-",
        station_date="2026-12-07",
        profile=profile,
        profile_changes=changes,
    )
    return order, boat
