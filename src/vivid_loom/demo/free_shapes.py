"""Boats whose supply has any shape, from a seed: for tests of what follows from the network."""

import dataclasses
import random

from vivid_loom.boat import (
    Battery,
    Boat,
    CircuitRequest,
    ContactRequest,
    Evidence,
    Feed,
    Fit,
    HelmPanel,
    Home,
    Lead,
    LeadFunction,
    Level,
    Load,
    ReturnBus,
    Supply,
    SupplyKind,
    SwitchRequest,
)
from vivid_loom.boat.feeders import CUTTING, LEVELS
from vivid_loom.demo.generated import generated
from vivid_loom.order import Order

__all__ = ["free_shape", "free_supply"]

_KINDS: tuple[SupplyKind, ...] = (
    "battery_switch",
    "selector",
    "key_switch",
    "stud",
    "bus",
    "fuse_block",
    "fuse_block",
    "breaker_panel",
    "relay",
    "charge_source",
    "combining_relay",
)
_ALL_KINDS: tuple[SupplyKind, ...] = (*_KINDS, "converter", "charge_source", "combining_relay")
_LIMITED = ("charge_source", "combining_relay", "converter")
_WAYS = {"fuse_block": 12, "breaker_panel": 8, "bus": 4}
_PATTERNS = ("device_switched", "switched", "either_contact", "two_directions", "reversing")
_SWITCHES = {"two_directions": "rocker-spdt", "reversing": "rocker-dpdt"}
_TAIL = {"ending": "tail", "gauge": "12 AWG", "length_mm": 200.0}


def _batteries(rng: random.Random, station: str, most: int) -> tuple[Battery, ...]:
    return tuple(
        Battery(
            id=f"B{i + 1}",
            name=f"Battery {i + 1}",
            station=station,
            cranking_a=rng.choice((500.0, 800.0)),
            capacity_ah=100.0,
            internal_ohm=0.06,  # small ones: what a blade breaks
            stud="M10",
        )
        for i in range(rng.randint(1, most))
    )


def _supply(
    rng: random.Random,
    index: int,
    known: dict[str, Level],
    stations: list[str],
    kinds: tuple[SupplyKind, ...],
) -> Supply:
    """Return one more part, fed from one or two of those there are."""
    kind = rng.choice(kinds)
    if kind == "combining_relay" and "B2" not in known:
        kind = "stud"
    several = kind in ("selector", "combining_relay")
    sources = rng.sample(sorted(known), k=min(len(known), 2 if several else 1))
    if kind == "combining_relay":
        banks = [name for name in known if name.startswith("B")]
        sources = ["B1", "B2"] if kinds is _KINDS else sorted(rng.sample(banks, k=2))
    level = max((known[s] for s in sources), key=LEVELS.index)
    level = max(level, CUTTING.get(kind, "battery_direct"), key=LEVELS.index)
    feeds = tuple(
        Feed(
            source=source,
            port=str(i + 1) if several else "",
            family="post fuse" if source.startswith("B") else "bolt-down fuse",
            distance_mm=60.0,
            stud="M10",
        )
        for i, source in enumerate(sources)
    )
    return Supply(
        id=f"P{index}",
        name=f"Part {index}",
        station=rng.choice(stations),
        kind=kind,
        level=level,
        feeds=feeds,
        ways=_WAYS.get(kind, 0),
        way_max_a=200.0,
        total_max_a=30.0 if kind in _LIMITED else 5000.0,
        output_v=12.0 if kind == "converter" else None,
        family={"bus": "bolt-down fuse", "breaker_panel": "breaker"}.get(kind, "blade fuse"),  # type: ignore[arg-type]
    )


def _buses(
    rng: random.Random, batteries: tuple[Battery, ...], stations: list[str]
) -> tuple[ReturnBus, ...]:
    """Return a main bus that goes home to every battery, and others that go home to a former."""
    main = tuple(Home(to=battery.id) for battery in batteries)
    found = [ReturnBus(id="N0", name="N0", station=stations[0], screws=40, homes=main, max_a=5e3)]
    for i in range(rng.randint(0, 3)):
        onto = rng.choice(found).id
        found.append(
            ReturnBus(
                id=f"N{i + 1}",
                name=f"N{i + 1}",
                station=rng.choice(stations),
                screws=40,
                homes=(Home(to=onto),),
                max_a=5e3,
            )
        )
    return tuple(found)


def _load(rng: random.Random, name: str, station: str, leads: tuple[LeadFunction, ...]) -> Load:
    return Load(
        id=name,
        name=name,
        station=station,
        function=rng.choice(("deck_light", "electronics", "circulation_pump")),
        running_a=round(rng.uniform(0.1, 9.0), 2),
        evidence=Evidence(kind="maker"),
        leads=tuple(Lead(function=f, **_TAIL) for f in leads),  # type: ignore[arg-type]
        ingress="submersible",
    )


def _fit(rng: random.Random, supplies: list[Supply], stations: list[str], panels: int) -> Fit:
    """Return loads with a circuit each, on a named part, switched in every way there is."""
    on = [s for s in supplies if s.kind not in ("charge_source", "combining_relay")]
    loads: list[Load] = []
    circuits: list[CircuitRequest] = []
    switches: list[SwitchRequest] = []
    for i in range(rng.randint(2, 12)):
        pattern = rng.choice(_PATTERNS)
        leads: tuple[LeadFunction, ...] = ("plus", "minus")
        if pattern == "two_directions":
            leads = ("up", "down", "minus")
        elif pattern == "reversing":
            leads = ("up", "down")
        loads.append(_load(rng, f"l{i}", rng.choice(stations), leads))
        contacts: list[ContactRequest] = []
        for k in range({"device_switched": 0, "switched": 1, "reversing": 1}.get(pattern, 2)):
            away = k > 0 or not panels
            part = _SWITCHES.get(pattern, "rocker-spst")
            throws = ("up", "down") if pattern in _SWITCHES else ("up",)
            switches.append(
                SwitchRequest(
                    id=f"s{i}_{k}",
                    part=part,
                    legend=f"S{i}{k}",
                    station=rng.choice(stations) if away else "",
                )
            )
            contacts.append(ContactRequest(switch=f"s{i}_{k}", throws=throws))  # type: ignore[arg-type]
        if pattern == "reversing":
            contacts.append(dataclasses.replace(contacts[0], pole=2))
        source = rng.choice(on).id if on and rng.random() < 0.8 else "B1"
        circuit = CircuitRequest(
            id=f"C{i}",
            label=f"C{i}",
            pattern=pattern,
            loads=(f"l{i}",),
            supply=source,
            contact=contacts[0] if contacts else None,
            also=tuple(contacts[1:]),
        )
        circuits.append(circuit)
        if pattern == "device_switched" and rng.random() < 0.5:
            lamp = Lead(function="lamp", **_TAIL)  # type: ignore[arg-type]
            loads[-1] = dataclasses.replace(loads[-1], leads=(*loads[-1].leads, lamp))
            circuits.append(dataclasses.replace(circuit, id=f"D{i}", label=f"D{i}", lead="lamp"))
    return Fit(loads=tuple(loads), circuits=tuple(circuits), switches=tuple(switches))


def free_shape(seed: int) -> tuple[Order, Boat]:
    """Return an order and its boat; the same seed gives the same.

    Batteries, parts on any level fed from anything before them, relays nobody pulls, buses home
    over one another, circuits straight from studs and posts, no panel or two.
    """
    return _shaped(seed, 3, _KINDS)


def free_supply(seed: int) -> tuple[Order, Boat]:
    """Return an order and its boat with up to four batteries, tied and charged anywhere, and
    converters; the same seed gives the same.
    """
    return _shaped(seed, 4, _ALL_KINDS)


def _shaped(seed: int, batteries_most: int, kinds: tuple[SupplyKind, ...]) -> tuple[Order, Boat]:
    rng = random.Random(seed)
    order, plain = generated(seed, 1, ("us", "iso", "shop")[seed % 3])
    stations = [station.id for station in plain.stations]
    batteries = _batteries(rng, stations[0], batteries_most)
    known: dict[str, Level] = {battery.id: "battery_direct" for battery in batteries}
    supplies: list[Supply] = []
    for i in range(rng.randint(0, 8)):
        made = _supply(rng, i, known, stations[:8], kinds)
        supplies.append(made)
        if made.kind not in ("charge_source", "combining_relay"):
            known[made.id] = made.level
    panels = tuple(
        HelmPanel(id=f"panel{i}", name=f"Panel {i}", station=rng.choice(stations), positions=12)
        for i in range(rng.randint(0, 2))
    )
    boat = dataclasses.replace(
        plain,
        nominal_v=rng.choice((12.0, 24.0)),
        batteries=batteries,
        supplies=tuple(supplies),
        return_buses=_buses(rng, batteries, stations[:6]),
        panels=panels,
        fit=_fit(rng, supplies, stations, len(panels)),
    )
    return order, boat
