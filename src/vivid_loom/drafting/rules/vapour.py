"""Rules about petrol and engines: ventilation before a start, and what stops one."""

from collections.abc import Iterator
from typing import Final

from vivid_loom.boat import SOURCES, Area
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.quantities import figure
from vivid_loom.standards.source import Source

__all__ = ["RULES", "engine_areas"]

VENTILATION: Final = Source("33 CFR 183.610", "powered ventilation", "from memory")
CUT_OFF: Final = Source("46 USC 4312", "engine cut-off switches", "from memory")
SHORT_M: Final = 7.925  # 26 ft
THRUST_N: Final = 511.5  # 115 lbf, static

NO_BLOWER = FindingKind(
    "Z19",
    "judge",
    "petrol engine without a blower",
    "{name} may hold fuel vapour and has an engine in it; no blower is aboard.",
    "Fit an ignition-protected blower that draws from the lowest third of it.",
    VENTILATION,
)
LATE_BLOWER = FindingKind(
    "Z20",
    "judge",
    "blower that waits for the key",
    "{name} runs only behind the key: {area} is to be blown out for minutes before that.",
    "Feed it behind the battery switch alone, by a switch of its own.",
    VENTILATION,
)
NO_CUT_OFF = FindingKind(
    "Z21",
    "judge",
    "engine without a cut-off",
    "{name}, {metres} m and {newtons} N of thrust, has no cut-off for its engine aboard.",
    "Fit one, by a lanyard or without, and have its function said.",
    CUT_OFF,
)
UNKNOWN_THRUST = FindingKind(
    "Z22",
    "note",
    "thrust of the engine unknown",
    "{name}, {metres} m, has an engine whose thrust nobody has said and no cut-off aboard; from "
    "{newtons} N it needs one.",
    "Say its thrust with the hull's lines.",
    CUT_OFF,
)


def engine_areas(draft: Draft) -> tuple[Area, ...]:
    """Return the areas with an engine: with a source that it drives, or its negative block."""
    boat = draft.aboard.boat
    driven = [s for s in boat.supplies if s.kind in SOURCES and s.charges_by == "engine"]
    stations = [s.station for s in driven]
    stations += [boat.buses_by_id[name].station for name in boat.network.engine_blocks]
    return tuple(dict.fromkeys(boat.area_at[name] for name in stations))


def ventilation(draft: Draft) -> Iterator[Finding]:
    """Where petrol and an engine are in one space, it is blown out before the engine starts."""
    spaces = [area for area in engine_areas(draft) if area.fuel_vapour]
    blowers = [x for x in draft.aboard.loads.values() if x.function == "bilge_blower"]
    for area in spaces:
        if not blowers:
            yield Finding(NO_BLOWER, (area.id,), words(name=area.name))
    levels = draft.aboard.levels
    for row in draft.circuits:
        for blower in blowers:
            late = levels[row.planned.source] == "ignition"
            if spaces and late and blower.id in row.planned.loads:
                told = words(name=blower.name, area=spaces[0].name)
                yield Finding(LATE_BLOWER, (row.id, blower.id), told)


def cut_off(draft: Draft) -> Iterator[Finding]:
    """A short boat that its engine can drive away stops when its helmsman is gone."""
    boat = draft.aboard.boat
    hull = boat.hull
    fitted = any(load.function == "engine_cut_off" for load in draft.aboard.loads.values())
    if fitted or hull.length_m >= SHORT_M:
        return
    told = words(
        name=boat.name,
        metres=figure(hull.length_m),
        newtons=figure(hull.thrust_n if hull.thrust_n is not None else THRUST_N),
    )
    if hull.thrust_n is not None and hull.thrust_n >= THRUST_N:
        yield Finding(NO_CUT_OFF, (boat.battery.id,), told)
    elif hull.thrust_n is None and engine_areas(draft):
        yield Finding(UNKNOWN_THRUST, (boat.battery.id,), told)


RULES = (ventilation, cut_off)
