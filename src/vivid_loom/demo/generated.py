"""Boats and orders of any size from a seed, for tests and benchmarks."""

import random

from vivid_loom.boat import (
    Area,
    Assembly,
    Battery,
    Boat,
    CircuitRequest,
    ContactRequest,
    Evidence,
    Fit,
    HelmPanel,
    Hull,
    Lead,
    Load,
    ReturnBus,
    Run,
    Station,
    Supply,
    SwitchRequest,
)
from vivid_loom.order import Order

__all__ = ["generated"]

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
                    length_m=round(rng.uniform(0.2, 1.6), 2),
                    harness=area,
                    area=area,
                    enclosure=rng.choice(("open", "loom", "conduit")),
                )
            )
    return tuple(stations), tuple(runs)


def _load(rng: random.Random, name: str, station: str, *, pump: bool) -> Load:
    amps = round(rng.choice((0.2, 0.5, 1.0, 2.4, 3.8, 5.0, 7.5)) * rng.uniform(0.7, 1.2), 2)
    return Load(
        id=name,
        name=name,
        station=station,
        function=rng.choice(("deck_light", "electronics", "bilge_pump", "cabin_light")),
        running_a=amps,
        evidence=Evidence(kind="maker"),
        leads=_leads("automatic", "manual", "minus") if pump else _leads("plus", "minus"),
        maker_fuse_a=rng.choice((None, None, 10.0, 15.0)),
        maker_smallest=rng.choice((None, "18 AWG", "14 AWG")),
        demand=rng.choice(("A", "B", "B")),
        drop=rng.choice(("critical", "other", "other")),
        ingress="submersible",
    )


def _fit(rng: random.Random, circuits: int, stations: int) -> Fit:
    loads: list[Load] = []
    requests: list[CircuitRequest] = []
    switches: list[SwitchRequest] = []
    for i in range(circuits):
        kind = rng.choice(("switched", "device_switched", "breaker", "pump_auto_manual"))
        pump = kind == "pump_auto_manual"
        names = [f"l{i}_{k}" for k in range(1 if pump else rng.choice((1, 1, 1, 2, 3)))]
        loads += [_load(rng, n, f"s{rng.randrange(stations)}", pump=pump) for n in names]
        contact = None
        if kind in ("switched", "pump_auto_manual"):
            contact = ContactRequest(switch=f"sw{i}")
            switches.append(SwitchRequest(id=f"sw{i}", part="rocker-spst", legend=f"SWITCH {i}"))
        requests.append(
            CircuitRequest(
                id=f"C{i:04d}",
                label=f"Circuit {i}",
                pattern=kind,
                loads=tuple(names),
                level="battery_direct" if pump else "unswitched",
                contact=contact,
            )
        )
    return Fit(loads=tuple(loads), circuits=tuple(requests), switches=tuple(switches))


def _supply(name: str, kind: str, level: str, fed_from: str, station: str, ways: int) -> Supply:
    return Supply(
        id=name,
        name=name,
        station=station,
        kind=kind,  # type: ignore[arg-type]
        level=level,  # type: ignore[arg-type]
        fed_from=fed_from,
        ways=ways,
        total_max_a=100000.0,
        family="breaker" if kind == "breaker_panel" else "blade fuse",
        feed_family="post fuse" if fed_from == "BAT" else "breaker",
        feed_distance_mm=60.0,
    )


def generated(seed: int, circuits: int, profile: str = "shop") -> tuple[Order, Boat]:
    """Return an order and its boat with so many circuits; the same seed gives the same."""
    rng = random.Random(seed)
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
    boat = Boat(
        id=f"generated-{seed}",
        name=f"Generated {seed}",
        nominal_v=rng.choice((12.0, 24.0)),
        hull=Hull(
            length_m=10.0,
            beam_m=3.0,
            material="grp",
            sheer=((0.0, 1.2), (10.0, 2.0)),
            keel=((0.0, 0.0), (9.0, 0.2)),
        ),
        areas=areas,
        assemblies=tuple(Assembly(id=area.id, name=f"{area.id} harness") for area in areas),
        stations=stations,
        runs=runs,
        battery=Battery(
            id="BAT", name="Battery", station=battery, cranking_a=600.0, capacity_ah=100.0
        ),
        supplies=(
            _supply("BSW", "battery_switch", "unswitched", "BAT", battery, 0),
            _supply("ALB", "fuse_block", "battery_direct", "BAT", battery, circuits),
            _supply("HFB", "fuse_block", "unswitched", "BSW", helm, circuits),
            _supply("HBP", "breaker_panel", "unswitched", "BSW", helm, circuits),
        ),
        return_buses=(
            ReturnBus(
                id="NB0", name="Main bus", station=battery, paired_with="BSW", screws=circuits
            ),
            ReturnBus(id="NB1", name="Helm bus", station=helm, paired_with="HFB", screws=circuits),
        ),
        helm=HelmPanel(id="panel", name="Panel", station=helm, positions=max(1, circuits)),
        fit=_fit(rng, circuits, count),
    )
    order = Order(
        hull=f"G{seed}", title="Generated", boat="-", station_date="2026-12-07", profile=profile
    )
    return order, boat
