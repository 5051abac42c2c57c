"""Rules about zones: vapour, water, heat, joints, and metal hulls."""

from collections.abc import Iterator
from functools import partial

from vivid_loom.boat import Area, is_harsh
from vivid_loom.catalogue import SwitchPart, instead_of
from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.quantities import enumerated, figure
from vivid_loom.standards import ampacity
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.joints import RECIPE_SOURCE, RECIPES, zone_of
from vivid_loom.standards.smallest import smallest_bonding
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = ["RULES"]

E11 = Source("ABYC E-11", "", "from memory")
IGNITION = Source("33 CFR 183.410", "ignition protection")
SPARKING_BLOCK = FindingKind(
    "Z01",
    "error",
    "block without ignition protection in fuel vapour",
    "{name} stands in {area} and is not ignition protected.",
    "Move it out of the space, or fit an ignition-protected one.",
    IGNITION,
)
WET_BLOCK = FindingKind(
    "Z02",
    "error",
    "block does not stand the water",
    "{name} stands {stands}; {area} is {asks}.",
    "Move it, or put it in an enclosure of the class the place asks for.",
    Source("IEC 60529", "ingress codes"),
)
TOO_HOT = FindingKind(
    "Z03",
    "error",
    "part does not stand the heat",
    "{name} stands {stands} °C; {area} reaches {reaches} °C.",
    "Move it, or fit a part for the heat.",
    OUR_CHOICE,
)
COOL_INSULATION = FindingKind(
    "Z04",
    "error",
    "insulation too cool for an engine space",
    "{it} passes {area} with {insulation} °C insulation; engine spaces ask for {least} °C or more.",
    "Take wire of a higher rating.",
    ampacity.AWG_SOURCE,
)
BATTERY_VAPOUR = FindingKind(
    "Z05",
    "judge",
    "battery in a fuel-vapour space",
    "{name} stands in {area}: its first spark at a loose clamp is enough.",
    "Move the battery out, or seal and ventilate the space.",
    Source("33 CFR 183.420", "batteries", "from memory"),
)
GREASED = FindingKind(
    "Z06",
    "error",
    "grease under an adhesive sleeve",
    "The profile greases barrels, and {count} ends have adhesive sleeves: adhesive does not bond "
    "to grease.",
    "Grease at the landing, or not at all.",
    RECIPE_SOURCE,
)
LOW_PLUG = FindingKind(
    "Z07",
    "judge",
    "plug low in the bilge",
    "{it} stands in {area}, below the level water reaches.",
    "Bring the plug above the water and run on in one length.",
    OUR_CHOICE,
)
HOT_JOINT = FindingKind(
    "Z08",
    "error",
    "joint hotter than its recipe stands",
    "Joints of {it} in {area}: {reaches} °C; the {zone} recipe stands {stands} °C.",
    "Run on to a cooler place, and join there.",
    RECIPE_SOURCE,
)
NO_BONDING = FindingKind(
    "Z09",
    "judge",
    "metal hull without bonding",
    "The hull is {material} and no part is joined to a bonding bus.",
    "List engine, tanks and fittings to be bonded, or state that the builder does it.",
    E11,
)
THIN_BOND = FindingKind(
    "Z10",
    "error",
    "bonding conductor too thin",
    "Bonding of {name} is {gauge}; bonding conductors are {least} or thicker.",
    "Take the smallest allowed or thicker.",
    E11,
)
JOINED_OFTEN = FindingKind(
    "Z11",
    "error",
    "negative joined to the hull more than once",
    "DC negative is joined to the hull at {places}: current runs through the hull between them.",
    "Keep one point, or none.",
    E11,
)
JOINED_ISOLATED = FindingKind(
    "Z12",
    "error",
    "negative joined to an isolated hull",
    "DC negative is joined to the hull at {places}; the profile keeps it isolated.",
    "Take the joint out, or choose one point in the profile.",
    E11,
)
NO_JOIN = FindingKind(
    "Z13",
    "judge",
    "negative joined nowhere",
    "The profile joins DC negative to the hull at one point, and none is named.",
    "Name the station.",
    E11,
)
HELM_WET = FindingKind(
    "Z14",
    "judge",
    "open switches in the wet",
    "{name} stands in {area}, which is {asks}: its switches and lamps want seals and a gasket.",
    "Fit sealed switches, and a gasket behind the plate.",
    Source("IEC 60529", "ingress codes"),
)
FLOODED_JOINT = FindingKind(
    "Z15",
    "error",
    "post or strip where water stands",
    "{name}: a {what} in {area}, below the level water reaches.",
    "Run on above the water, and join there.",
    RECIPE_SOURCE,
)
OPEN_JOINT = FindingKind(
    "Z16",
    "judge",
    "open strip in water, vapour or heat",
    "{name}: a {what} in {area} stands open to {asks}.",
    "Move it to a dry place, or put it in a sealed box.",
    RECIPE_SOURCE,
)
WET_SWITCH = FindingKind(
    "Z17",
    "error",
    "switch does not stand the water",
    "{name} stands {stands}; {area} is {asks}; {others}.",
    "Take a sealed switch, or move it.",
    Source("IEC 60529", "ingress codes"),
)
SPARKING_SWITCH = FindingKind(
    "Z18",
    "error",
    "switch without ignition protection in fuel vapour",
    "{name}, {part}, breaks current in {area} and is not ignition protected; {others}.",
    "Move it out of the space, or fit an ignition-protected one.",
    IGNITION,
)
SPARKING_DEVICE = FindingKind(
    "Z23",
    "judge",
    "device in fuel vapour",
    "Fuel vapour may gather in {area}, where {devices} may open: a spark lights it.",
    "Fit ones that their maker calls ignition-protected, or move them out of the space.",
    IGNITION,
)
_WATER = ("dry", "spray", "submersible")
ENGINE_SPACE_LEAST_C = {"AWG": 75, "SAE": 75, "mm2": 70}
_METAL = ("aluminium", "steel")


def _where(draft: Draft) -> dict[str, Area]:
    return draft.aboard.boat.area_at


def blocks(draft: Draft) -> Iterator[Finding]:
    """Blocks, battery and helm suit their zone."""
    boat, where = draft.aboard.boat, _where(draft)
    for supply in boat.supplies:
        area = where[supply.station]
        told = words(name=supply.name, area=area.name, stands=supply.ingress, asks=area.water)
        if area.fuel_vapour and not supply.ignition_protected and supply.kind != "bus":
            yield Finding(SPARKING_BLOCK, (supply.id,), told)
        if supply.ingress and _WATER.index(supply.ingress) < _WATER.index(area.water):
            yield Finding(WET_BLOCK, (supply.id,), told)
    for battery in boat.batteries:
        area = where[battery.station]
        if area.fuel_vapour:
            yield Finding(BATTERY_VAPOUR, (battery.id,), words(name=battery.name, area=area.name))
    for panel in boat.panels:
        area = where[panel.station]
        on_panels = [s for s in draft.switches if not s.request.station]
        on_it = [s for s in on_panels if boat.panel_at(s.position) in (panel, None)]
        sealed = panel.gasket and all(switch.part.ingress != "dry" for switch in on_it)
        if area.water != "dry" and on_it and not sealed:
            told = words(name=panel.name, area=area.name, asks=area.water)
            yield Finding(HELM_WET, (panel.id,), told)


def devices(draft: Draft) -> Iterator[Finding]:
    """Devices in holders of their own stand outside of fuel vapour, or stand it."""
    where = _where(draft)
    at: dict[str, list[DraftedCircuit]] = {}
    for row in draft.rows:
        points = (p for leg in row.planned.plan.legs for p in (leg.start, leg.end))
        here = next((p.station for p in points if p.place == f"{row.id} holder"), "")
        if here and where[here].fuel_vapour:
            at.setdefault(where[here].name, []).append(row)
    for area, rows in at.items():
        names = [f"the {row.planned.family} of {row.id}" for row in rows]
        told = words(devices=enumerated(names), area=area)
        yield Finding(SPARKING_DEVICE, tuple(row.id for row in rows), told)


def heat(draft: Draft) -> Iterator[Finding]:
    """Parts, insulation and joints stand the heat of their places."""
    where, profile = _where(draft), draft.aboard.profile
    areas = draft.aboard.boat.areas_by_id
    for load in draft.aboard.loads.values():
        area = where[load.station]
        if load.heat_c is not None and load.heat_c < area.ambient_c:
            told = words(
                name=load.name,
                stands=figure(load.heat_c),
                area=area.name,
                reaches=figure(area.ambient_c),
            )
            yield Finding(TOO_HOT, (load.id,), told)
    least = ENGINE_SPACE_LEAST_C[profile.series]
    melting = {name: area for name, area in where.items() if _melts_joints(area)}
    for row in draft.rows:
        if profile.insulation_c < least:
            passed = {run.area for path in row.paths for run in path.runs}
            hot = sorted(areas[name].name for name in passed if areas[name].engine_heat)
            if hot:
                told = words(area=hot[0], insulation=profile.insulation_c, least=least)
                yield Finding(COOL_INSULATION, (row.id,), told)
        for area in _hot_joints(row.wires, melting) if melting else ():
            zone = zone_of(area.water, engine_heat=area.engine_heat)
            told = words(
                area=area.name,
                reaches=figure(area.ambient_c),
                zone=zone,
                stands=figure(RECIPES[zone].most_c),
            )
            yield Finding(HOT_JOINT, (row.id,), told)


def _melts_joints(area: Area) -> bool:
    """Tell whether an area is hotter than its own recipe of joint stands."""
    zone = zone_of(area.water, engine_heat=area.engine_heat)
    return area.ambient_c > RECIPES[zone].most_c


def _hot_joints(wires: tuple[Wire, ...], melting: dict[str, Area]) -> list[Area]:
    """Return the areas, by id, where wires end that melt their joints."""
    ends = (end for wire in wires for end in (wire.start, wire.end))
    found = {
        melting[end.station].id: melting[end.station] for end in ends if end.station in melting
    }
    return [found[name] for name in sorted(found)]


def joints(draft: Draft) -> Iterator[Finding]:
    """Grease and adhesive do not meet; plugs stay above the water."""
    where = _where(draft)
    if draft.aboard.profile.grease == "in_barrel":
        adhesive = sum(
            RECIPES[zone_of(area.water, engine_heat=area.engine_heat)].adhesive
            for wire in draft.assembled.wires
            for area in (where[wire.start.station], where[wire.end.station])
        )
        if adhesive:
            yield Finding(GREASED, (draft.aboard.order.hull,), words(count=adhesive))
    for plug in draft.assembled.plugs:
        if where[plug.station].water == "submersible":
            yield Finding(LOW_PLUG, (plug.id,), words(area=where[plug.station].name))


def _stands(part: SwitchPart, area: Area) -> bool:
    """Tell whether a switch stands the water and the vapour of an area."""
    wet = _WATER.index(part.ingress) < _WATER.index(area.water)
    return not wet and (part.ignition_protected or not area.fuel_vapour)


def switches(draft: Draft) -> Iterator[Finding]:
    """Switches stand the water and the vapour where they are, on a panel or by themselves."""
    boat, where = draft.aboard.boat, _where(draft)
    for switch in draft.switches:
        request, part = switch.request, switch.part
        panel = boat.panel_at(switch.position) if switch.position else None
        station = request.station or (panel.station if panel else "")
        if not station:
            continue
        area = where[station]
        # the face of a panel that is no worse than wet is its gasket's business (Z14)
        wet = request.station and _WATER.index(part.ingress) < _WATER.index(area.water)
        sparks = area.fuel_vapour and not part.ignition_protected
        if not (wet or sparks):
            continue
        told = words(
            name=request.legend,
            part=part.name,
            area=area.name,
            stands=part.ingress,
            asks=area.water,
            others=instead_of(part, draft.catalogue, partial(_stands, area=area)),
        )
        if wet:
            yield Finding(WET_SWITCH, (request.id,), told)
        if sparks:
            yield Finding(SPARKING_SWITCH, (request.id,), told)


def open_joints(draft: Draft) -> Iterator[Finding]:
    """Posts and strips stand where it is dry; what joins elsewhere is sealed, and above water."""
    where = _where(draft)
    strips = [(s.id, "terminal strip", s.station, s.id) for s in draft.allocation.strips]
    posts = [(p.place, "post", p.station, p.place.partition("-")[0]) for p in draft.assembled.posts]
    for name, what, station, subject in (*strips, *posts):
        area = where[station]
        if is_harsh(area):
            dry = "fuel vapour" if area.fuel_vapour else "heat"
            asks = dry if area.water == "dry" else area.water
            told = words(name=name, what=what, area=area.name, asks=asks)
            flooded = area.water == "submersible"
            yield Finding(FLOODED_JOINT if flooded else OPEN_JOINT, (subject,), told)
    flooded_at = {name for name, area in where.items() if area.water == "submersible"}
    for row in draft.rows if flooded_at else ():
        low = [
            end
            for wire in row.wires
            for end in (wire.start, wire.end)
            if end.station in flooded_at and end.termination.kind.endswith(" post")
        ]
        for station in sorted({end.station for end in low}):
            told = words(name=row.planned.label, what="post", area=where[station].name)
            yield Finding(FLOODED_JOINT, (row.id,), told)


def metal_hull(draft: Draft) -> Iterator[Finding]:
    """A metal hull is bonded, and carries no current."""
    boat, profile = draft.aboard.boat, draft.aboard.profile
    least = smallest_bonding(profile.series)
    for bond in draft.bonds:
        if area_mm2(bond.gauge) < 0.94 * area_mm2(least):
            told = words(name=bond.bond.name, gauge=bond.gauge, least=least)
            yield Finding(THIN_BOND, (bond.id,), told)
    if boat.hull.material not in _METAL:
        return
    if not boat.bonds:
        yield Finding(NO_BONDING, (boat.id,), words(material=boat.hull.material))
    places = " and ".join(boat.hull_joins)
    if len(boat.hull_joins) > 1:
        yield Finding(JOINED_OFTEN, (boat.id,), words(places=places))
    elif boat.hull_joins and profile.negative_to_hull == "isolated":
        yield Finding(JOINED_ISOLATED, (boat.id,), words(places=places))
    elif not boat.hull_joins and profile.negative_to_hull == "one_point":
        yield Finding(NO_JOIN, (boat.id,), ())


RULES = (blocks, devices, switches, heat, joints, open_joints, metal_hull)
