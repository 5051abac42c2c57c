"""Rules about the supply as a whole: what is joined to what, and when it is alive."""

from collections.abc import Iterator

from vivid_loom.boat import SOURCES, WAYED
from vivid_loom.boat.feeders import LEVELS, Network
from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.quantities import figure
from vivid_loom.standards.conductor import COPPER_KG_PER_MM2_M, area_mm2, is_thinner
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["RULES"]

NO_HOME = FindingKind(
    "P19",
    "error",
    "negative without a way home",
    "No conductor leads from {name} back to a battery: what lands there has no way home.",
    "Give it a conductor home.",
    OUR_CHOICE,
)
NOT_FED = FindingKind(
    "P20",
    "error",
    "part without a feed",
    "Nothing feeds {name}: it has no way back to a battery.",
    "Feed it from a battery, a switch or another block.",
    OUR_CHOICE,
)
LOOSE_BATTERY = FindingKind(
    "P21",
    "error",
    "battery without a negative",
    "Nothing leads to the minus post of {name}: it can give no current.",
    "Lead a negative bus home to it.",
    OUR_CHOICE,
)
OTHER_LEVEL = FindingKind(
    "P22",
    "error",
    "block alive when it should be dead",
    "{name} is meant to be {meant} and is {real}: nothing on its way makes it so.",
    "Put what is missing on its way, or say what it is meant to be.",
    OUR_CHOICE,
)
DEAD_LEVEL = FindingKind(
    "P23",
    "error",
    "block cut off by more than it should be",
    "{name} is meant to be {meant}; by what feeds it, it is {real}.",
    "Feed it from further up, or say what it is meant to be.",
    OUR_CHOICE,
)
NOTHING_BEHIND = FindingKind(
    "P39",
    "note",
    "part with nothing behind it",
    "{name} bears {bears} A and nothing hangs on it: {feeder} is drafted for no load, in {gauge}.",
    "Nothing, or take the part away. Wire that is cut now will be too thin for what may come.",
    OUR_CHOICE,
)
NO_COIL = FindingKind(
    "P25",
    "judge",
    "relay that nothing pulls",
    "Nothing pulls the coil of {name}.",
    "Name the load that is its coil, and feed it.",
    OUR_CHOICE,
)
OWN_CONTACT = FindingKind(
    "P37",
    "error",
    "coil fed only through its own contact",
    "The coil of {name} has no feed until {name} has pulled: it never does.",
    "Feed the coil from ahead of its contact; a holding feed may stand beside that.",
    OUR_CHOICE,
)
THIN_FEEDER = FindingKind(
    "P26",
    "error",
    "feeder thinner than what it feeds",
    "{it} is {gauge}; {branch} behind it is {thicker}.",
    "Take the feeder at least as thick as its thickest branch.",
    OUR_CHOICE,
)
THIN_MINUS = FindingKind(
    "P30",
    "error",
    "battery's minus thinner than its plus",
    "{it} is {gauge}; {branch}, whose current comes home by it, is {thicker}.",
    "Take it as thick as what it brings home.",
    OUR_CHOICE,
)
TRUNK_DECIDED = FindingKind(
    "P31",
    "judge",
    "one branch decides the trunk",
    "{name}, {amps} A on {gauge}, makes {feeders}: {kg} kg of copper for its drop alone.",
    "Feed it from a part nearer to it, by terminals that take thicker wire, or let it drop more.",
    OUR_CHOICE,
)
TIED_TWICE = FindingKind(
    "P27",
    "error",
    "input not joined",
    "{name} joins two batteries; it is fed from {count}.",
    "Feed both of its inputs, each through its own device.",
    OUR_CHOICE,
)
OTHERS_MINUS = FindingKind(
    "P28",
    "error",
    "negative of another battery",
    "{battery} feeds {name}, and no conductor leads from {bus} home to its minus.",
    "Lead that bus home to it, or land the negative on a bus that is.",
    OUR_CHOICE,
)
_LEVEL_WORDS = {
    "battery_direct": "alive with everything off",
    "unswitched": "behind a battery switch",
    "ignition": "behind the key",
}
_RELAYS = ("relay", "contactor")
_DISTRIBUTING = WAYED | {"stud"}


def joined(draft: Draft) -> Iterator[Finding]:
    """Every part has a way to a battery, and every battery and bus a way home."""
    boat = draft.aboard.boat
    network = boat.network
    for supply in boat.supplies:
        told = words(name=supply.name, count=len(supply.feeds))
        sources = {
            battery.id for f in supply.feeds for battery in network.batteries_behind(f.source)
        }
        if not sources:
            yield Finding(NOT_FED, (supply.id,), told)
        elif supply.kind == "combining_relay" and len(sources) < 2:
            yield Finding(TIED_TWICE, (supply.id,), told)
    for bus in boat.return_buses:
        if not network.homes(bus.id):
            yield Finding(NO_HOME, (bus.id,), words(name=bus.name))
    landed = {row.planned.bus for row in draft.circuits}
    landed |= {network.home_of(feeder) for feeder in network.feeders.values()}
    for battery in boat.batteries:
        if battery.id not in landed and (draft.circuits or boat.supplies):
            yield Finding(LOOSE_BATTERY, (battery.id,), words(name=battery.name))


def homeward(draft: Draft) -> Iterator[Finding]:
    """What a battery gives comes home to it, whichever it is; a lamp's by its load's minus."""
    boat = draft.aboard.boat
    buses = {
        name: r.planned.bus for r in draft.circuits if r.planned.bus for name in r.planned.loads
    }
    lost: dict[tuple[str, str], list[str]] = {}
    for row in draft.circuits:
        request = row.planned.request
        homes = {row.planned.bus}
        if request and request.lead == "lamp":
            homes = {buses.get(name, "") for name in row.planned.loads}
        for bus in sorted(homes - {""}):
            way = (row.planned.source, bus)
            if way not in lost:
                lost[way] = _without_way_home(*way, boat.network)
            for battery in lost[way]:
                named = boat.returns_by_id[bus].name
                told = words(battery=battery, name=row.planned.label, bus=named)
                yield Finding(OTHERS_MINUS, (row.id, bus), told)


def _without_way_home(source: str, bus: str, network: Network) -> list[str]:
    """Return the names of the batteries behind a part that a bus does not lead home to."""
    if network.regulated(source) or not network.homes(bus):
        return []
    reached = network.comes_home(source, bus)
    return [b.name for b in network.batteries_behind(source) if b.id not in reached]


def levels(draft: Draft) -> Iterator[Finding]:
    """Every block is alive when it is meant to be, and only then."""
    boat, real = draft.aboard.boat, draft.aboard.levels
    for supply in boat.supplies:
        if supply.kind in _RELAYS and not supply.coil:
            yield Finding(NO_COIL, (supply.id,), words(name=supply.name))
        if not boat.network.chains(supply.id) or not supply.ways:
            continue
        is_now, meant = LEVELS.index(real[supply.id]), LEVELS.index(supply.level)
        if is_now != meant:
            kind = OTHER_LEVEL if is_now < meant else DEAD_LEVEL
            told = words(
                name=supply.name,
                meant=_LEVEL_WORDS[supply.level],
                real=_LEVEL_WORDS[real[supply.id]],
            )
            yield Finding(kind, (supply.id,), told)


def coils(draft: Draft) -> Iterator[Finding]:
    """Every coil has a feed that is alive before its own contact closes, or another's that can."""
    network = draft.aboard.boat.network
    fed: dict[str, set[str]] = {}
    for row in draft.circuits:
        for name in row.planned.loads:
            fed.setdefault(name, set()).add(row.planned.source)
    alive = set(network.batteries)
    while True:
        more = {
            supply.id
            for supply in network.supplies.values()
            if supply.id not in alive
            and supply.kind not in SOURCES
            and (supply.coil not in fed or fed[supply.coil] & alive)
            and any(feed.source in alive for feed in supply.feeds)
        }
        if not more:
            break
        alive |= more
    for supply in network.supplies.values():
        if supply.kind in _RELAYS and supply.coil in fed and not fed[supply.coil] & alive:
            yield Finding(OWN_CONTACT, (supply.id, supply.coil), words(name=supply.name))
    yield from _contactors(draft)


def _contactors(draft: Draft) -> Iterator[Finding]:
    """Yield contactors of circuits all feeds of whose coil go through their own contacts."""
    for switch in draft.aboard.switches.values():
        ways = [
            {contact.switch for contact in row.planned.request.contacts}
            for row in draft.circuits
            if row.planned.request and switch.coil in row.planned.loads
        ]
        if switch.coil and ways and all(switch.id in way for way in ways):
            yield Finding(OWN_CONTACT, (switch.id, switch.coil), words(name=switch.legend))


def thin_feeders(draft: Draft) -> Iterator[Finding]:
    """No feeder is thinner than what it feeds."""
    network = draft.aboard.boat.network
    thickest: dict[str, DraftedCircuit] = {}
    before: dict[str, set[str]] = {}
    for row in draft.rows:
        if row.sized is None:
            continue
        place = row.planned.source
        if place not in before:
            before[place] = {n for chain in network.to_source(place) for n in chain}
        for name in before[place]:
            other = thickest.get(name)
            if other is None or (
                other.sized and is_thinner(other.sized.gauge.value, row.sized.gauge.value)
            ):
                thickest[name] = row
    for name, branch in sorted(thickest.items()):
        feeder = draft.circuit(name)
        if feeder and feeder.sized and branch.sized:
            gauge, thicker = feeder.sized.gauge.value, branch.sized.gauge.value
            if is_thinner(gauge, thicker):
                told = words(gauge=gauge, branch=branch.id, thicker=thicker)
                yield Finding(THIN_FEEDER, (name, branch.id), told)


def nothing_behind(draft: Draft) -> Iterator[Finding]:
    """A part that nothing hangs on has a thin feeder, whatever the part itself bears."""
    network = draft.aboard.boat.network
    sources = {row.planned.source for row in draft.rows}
    for row in draft.feeders:
        supply = network.supplies.get(row.planned.feeds)
        if (
            supply is None
            or supply.kind not in _DISTRIBUTING
            or supply.id in sources
            or not row.sized
        ):
            continue
        if row.sized.ampacity_a < supply.total_max_a:
            told = words(
                name=supply.name,
                bears=figure(supply.total_max_a),
                feeder=row.id,
                gauge=row.sized.gauge.value,
            )
            yield Finding(NOTHING_BEHIND, (supply.id, row.id), told)


def thin_minus(draft: Draft) -> Iterator[Finding]:
    """A return is as thick as the feeders whose current it brings home to their battery."""
    for row in draft.feeders:
        if row.sized is None:
            continue
        gauge = row.sized.gauge.value
        for top in draft.needs[row.id].tops:
            other = draft.circuit(top)
            if other and other.sized and is_thinner(gauge, other.sized.gauge.value):
                told = words(it=row.id, gauge=gauge, branch=top, thicker=other.sized.gauge.value)
                yield Finding(THIN_MINUS, (row.id, top), told)


def deciders(draft: Draft) -> Iterator[Finding]:
    """No branch makes the trunk thicker in silence."""
    made: dict[str, list[DraftedCircuit]] = {}
    for row in draft.feeders:
        if row.sized and row.sized.decider:
            made.setdefault(row.sized.decider, []).append(row)
    for name, feeders in sorted(made.items()):
        branch = draft.circuit(name)
        if branch is None or branch.sized is None:
            continue
        told, kilograms = [], 0.0
        for row in feeders:
            assert row.sized is not None and row.sized.without is not None
            now, without = row.sized.gauge.value, row.sized.without
            told.append(f"{row.id} {now} instead of {without}")
            more_mm2 = area_mm2(now) - area_mm2(without)
            kilograms += more_mm2 * row.sized.loop_length_m * COPPER_KG_PER_MM2_M
        values = words(
            name=branch.planned.label,
            amps=figure(branch.sized.current_a),
            gauge=branch.sized.gauge.value,
            feeders=", ".join(told),
            kg=figure(kilograms),
        )
        yield Finding(TRUNK_DECIDED, (name, *(row.id for row in feeders)), values)


RULES = (joined, homeward, levels, coils, nothing_behind, thin_feeders, thin_minus, deciders)
