"""Rules about what must stay alive, stay dark, stay apart and stand the place."""

from collections import Counter, defaultdict
from collections.abc import Iterator

from vivid_loom.boat import Lead, Load, named_lead
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.drafting.patterns import PATTERNS
from vivid_loom.drafting.places.protect import ONE_FUSE
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = ["RULES"]

E11 = Source("ABYC E-11", "", "from memory")
PUMP_BEHIND = FindingKind(
    "A01",
    "error",
    "automatic pump behind the battery switch",
    "{name} is fed behind the battery switch: switch off, boat left in rain, pump dead.",
    "Feed it from the always-live block through its own fuse.",
    E11,
)
BACK_FEED = FindingKind(
    "A02",
    "error",
    "manual lead can feed the helm backwards",
    "{name}: automatic lead from {first}, manual lead from {second}. Float closed, helm switch on "
    "and battery switch off, the pump's fuse feeds the whole helm.",
    "Feed both leads from the same always-live way.",
    OUR_CHOICE,
)
TWO_FEEDS = FindingKind(
    "A03",
    "error",
    "two devices feed one motor",
    "{name}: {sum} A flow before either device opens; the maker allows {maximum} A.",
    "Feed both leads from one device.",
    OUR_CHOICE,
)
STANDING = FindingKind(
    "A04",
    "judge",
    "live with everything off",
    "{name} stays live with the battery switch off and can drain the battery.",
    "Feed it from behind the battery switch.",
    OUR_CHOICE,
)
NOT_FED = FindingKind(
    "A05",
    "error",
    "lead without a feed",
    "The {lead} lead of {name} has no protected feed.",
    "Put it on a circuit, or remove the load.",
    OUR_CHOICE,
)
FED_TWICE = FindingKind(
    "A06",
    "error",
    "lead on several feeds",
    "The {lead} lead of {name} hangs on {circuits}.",
    "One protected feed per lead.",
    OUR_CHOICE,
)
UNKNOWN_LEAD = FindingKind(
    "A07",
    "judge",
    "lead of unknown function",
    "{name} has a lead {colour} that nobody has identified; a colour tells nothing.",
    "Look it up, then cap and label it if it is not used.",
    OUR_CHOICE,
)
HULL_RETURN = FindingKind(
    "A10",
    "error",
    "hull as a return",
    "{name} returns through the hull.",
    "Fit a device with a wired return, isolated from the hull.",
    E11,
)
SPARKS = FindingKind(
    "A11",
    "error",
    "no ignition protection in fuel vapour",
    "{name} stands in {area} and is not ignition protected.",
    "Fit an ignition-protected part, or move it out of the space.",
    Source("33 CFR 183.410", "ignition protection"),
)
TOGETHER = FindingKind(
    "A12",
    "error",
    "safety loads share a device",
    "{names} share {what}: one fault takes them all.",
    "Give each its own device.",
    OUR_CHOICE,
)
WET = FindingKind(
    "A13",
    "error",
    "part does not stand the water",
    "{name} stands {stands}; {area} is {asks}.",
    "Fit a part with the sealing the place asks for.",
    Source("IEC 60529", "ingress codes"),
)
LOW_COPPER = FindingKind(
    "A14",
    "judge",
    "wire through the bilge",
    "{it} runs through {run}, below the level bilge water reaches.",
    "Route it higher, or keep it without joints and sealed.",
    E11,
)
LATER = FindingKind(
    "A15",
    "note",
    "wired for later",
    "{name} is wired for later: cap and label its end.",
    "Cap the device end with an adhesive closed end and label it.",
    OUR_CHOICE,
)

CAPPED = FindingKind(
    "A21",
    "note",
    "lead capped by the profile",
    "The {lead} lead of {name} is fed by nothing: the profile wires its pumps otherwise.",
    "Cap and label it.",
    OUR_CHOICE,
)
CAN_BE_OFF = FindingKind(
    "A22",
    "judge",
    "automatic pump that can be switched off",
    "{name} is dead in the middle position of its switch.",
    "Keep the automatic lead always live.",
    E11,
)
ONE_FAULT = FindingKind(
    "A23",
    "judge",
    "one fuse for a whole panel",
    "{count} circuits on {it} share one {rating} A fuse: one fault darkens all.",
    "Give each circuit a device of its own.",
    OUR_CHOICE,
)
NO_RETURN = FindingKind(
    "A24",
    "error",
    "load without a return lead",
    "{name} has no minus lead: its current has no way home.",
    "Describe its minus lead or terminal.",
    OUR_CHOICE,
)
ALARM_BEHIND = FindingKind(
    "A25",
    "error",
    "alarm behind the battery switch",
    "{name} is fed behind the battery switch: nobody hears it with the boat switched off.",
    "Feed it from the always-live block through its own fuse.",
    E11,
)
_FED = ("plus", "automatic", "manual", "up", "down", "sense", "lamp")
_WATER = ("dry", "spray", "submersible")


def _feeds(draft: Draft) -> dict[tuple[str, str], list[str]]:
    feeds: dict[tuple[str, str], list[str]] = defaultdict(list)
    for row in draft.circuits:
        if row.planned.request:
            leads = PATTERNS[row.planned.pattern].plus_leads or (row.planned.request.lead_name,)
            for name in row.planned.loads:
                for lead in leads:
                    feeds[(name, lead)].append(row.id)
            if row.planned.request.instrument:
                feeds[(row.planned.request.instrument, "sense")].append(row.id)
    return feeds


def leads(draft: Draft) -> Iterator[Finding]:
    """Every positive lead of every load on exactly one feed; unknown leads are work."""
    feeds = _feeds(draft)
    for load in draft.aboard.loads.values():
        seen: Counter[str] = Counter()
        for lead in load.leads:
            seen[lead.function] += 1
            if lead.function == "unknown":
                yield Finding(UNKNOWN_LEAD, (load.id,), _lead_words(load, lead))
            if lead.function not in _FED:
                continue
            name = named_lead(lead.function, seen[lead.function])
            found = feeds.get((load.id, name), [])
            if (load.id, lead.function) in draft.aboard.capped:
                yield Finding(CAPPED, (load.id,), _lead_words(load, lead))
            elif not found:
                yield Finding(NOT_FED, (load.id,), _lead_words(load, lead))
            elif len(found) > 1:
                listed = words(name=load.name, lead=name, circuits=" and ".join(found))
                yield Finding(FED_TWICE, (found[0], load.id), listed)


def _lead_words(load: Load, lead: Lead) -> tuple[tuple[str, str], ...]:
    return words(name=load.name, lead=lead.function, colour=lead.colour or "without colour")


def pumps(draft: Draft) -> Iterator[Finding]:
    """Automatic pumps stay alive, and never feed the helm backwards."""
    level = draft.aboard.levels
    feeds = _feeds(draft)
    for load in draft.aboard.loads.values():
        automatic = [draft.circuit(c) for c in feeds.get((load.id, "automatic"), [])]
        manual = [draft.circuit(c) for c in feeds.get((load.id, "manual"), [])]
        for row in automatic:
            if row and level[row.planned.source] != "battery_direct":
                yield Finding(PUMP_BEHIND, (row.id, load.id), words(name=load.name))
            for other in manual:
                if row and other and level[other.planned.source] != level[row.planned.source]:
                    first, second = row.planned.source, other.planned.source
                    named = words(name=load.name, first=first, second=second)
                    yield Finding(BACK_FEED, (other.id, load.id), named)
        both = {r.id: r for r in (*automatic, *manual) if r}
        total = sum(
            r.sized.protection.value for r in both.values() if r.sized and r.sized.protection
        )
        if len(both) > 1 and load.maker_fuse_a and total > load.maker_fuse_a:
            yield Finding(
                TWO_FEEDS,
                (min(both), load.id),
                words(name=load.name, sum=f"{total:g}", maximum=f"{load.maker_fuse_a:g}"),
            )


def alarms(draft: Draft) -> Iterator[Finding]:
    """Bilge alarms stay alive, and everything that is fed has a way home."""
    level, parts = draft.aboard.levels, draft.aboard.boat.supplies_by_id
    homed = {
        name for row in draft.circuits if not row.planned.signals for name in row.planned.loads
    }
    for row in draft.circuits:
        request = row.planned.request
        for name in row.planned.loads:
            load = draft.aboard.loads[name]
            if row.planned.signals:
                told = request is not None and not request.instrument
                if told and name not in homed and load.lead_of not in parts:
                    yield Finding(NO_RETURN, (row.id, name), words(name=load.name))
                continue
            behind = level[row.planned.source] != "battery_direct"
            watches = load.function == "bilge_alarm" or (load.function == "alarm" and load.safety)
            if watches and behind:
                yield Finding(ALARM_BEHIND, (row.id, name), words(name=load.name))
            turned = row.planned.pattern == "reversing"  # it comes home by its other lead
            if load.return_path == "wire" and load.lead("minus") is None and not turned:
                yield Finding(NO_RETURN, (row.id, name), words(name=load.name))


def schools(draft: Draft) -> Iterator[Finding]:
    """What a school of wiring costs is said, whoever chose it."""
    for row in draft.circuits:
        if row.planned.pattern == "pump_three_position":
            for name in row.planned.loads:
                told = words(name=draft.aboard.loads[name].name)
                yield Finding(CAN_BE_OFF, (row.id, name), told)
    sharing: dict[str, int] = defaultdict(int)
    for row in draft.circuits:
        if row.planned.wanted and row.planned.wanted.why == ONE_FUSE:
            sharing[row.planned.source] += 1
    for name, count in sorted(sharing.items()):
        rating = f"{draft.aboard.profile.one_fuse_a:g}"
        yield Finding(ONE_FAULT, (name,), words(count=count, rating=rating))


def standing(draft: Draft) -> Iterator[Finding]:
    """Sockets, chargers and lamps do not hang on the always-live block."""
    level = draft.aboard.levels
    drains = ("socket", "instrument_light", "cabin_light", "electronics", "accessory")
    for row in draft.circuits:
        for name in row.planned.loads:
            load = draft.aboard.loads[name]
            if level[row.planned.source] == "battery_direct" and load.function in drains:
                yield Finding(STANDING, (row.id, name), words(name=load.name))


def places(draft: Draft) -> Iterator[Finding]:
    """Parts suit their zone; hulls are no returns."""
    where = draft.aboard.boat.area_at
    for load in draft.aboard.loads.values():
        area = where[load.station]
        if load.return_path == "hull":
            yield Finding(HULL_RETURN, (load.id,), words(name=load.name))
        if area.fuel_vapour and not load.ignition_protected:
            yield Finding(SPARKS, (load.id,), words(name=load.name, area=area.name))
        if _WATER.index(load.ingress) < _WATER.index(area.water):
            yield Finding(
                WET,
                (load.id,),
                words(name=load.name, stands=load.ingress, area=area.name, asks=area.water),
            )
        if load.state == "wired_for_later":
            yield Finding(LATER, (load.id,), words(name=load.name))


def independence(draft: Draft) -> Iterator[Finding]:
    """Loads with the same safety word share no protective device and no plug."""
    loads = draft.aboard.loads
    for row in draft.circuits:
        groups: dict[str, list[str]] = defaultdict(list)
        for name in row.planned.loads:
            if loads[name].separation:
                groups[loads[name].separation].append(name)
        for names in groups.values():
            if len(names) > 1 and loads[names[0]].separation != "navigation":
                shown = " and ".join(loads[n].name for n in names)
                yield Finding(TOGETHER, (row.id, *names), words(names=shown, what="one device"))


def bilge_runs(draft: Draft) -> Iterator[Finding]:
    """Copper stays out of the bilge unless its load is there."""
    low = {run.id: run for run in draft.aboard.boat.runs if run.low}
    area = {station.id: station.area for station in draft.aboard.boat.stations}
    for row in draft.circuits:
        own = {area[draft.aboard.loads[name].station] for name in row.planned.loads}
        for name in sorted({run.id for path in row.paths for run in path.runs} & set(low)):
            if low[name].area not in own:
                yield Finding(LOW_COPPER, (row.id, name), words(run=name))


RULES = (leads, pumps, alarms, schools, standing, places, independence, bilge_runs)
