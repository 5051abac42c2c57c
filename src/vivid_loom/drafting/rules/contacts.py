"""Rules about what a circuit goes through: contacts, floats, and the joints of several circuits."""

from collections import defaultdict
from collections.abc import Iterator

from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = ["RULES"]

NOTHING_SWITCHES = FindingKind(
    "A28",
    "error",
    "pump that nothing switches",
    "{name} runs for as long as {source} is alive: it has neither a float nor a switch.",
    "Lead it through a float, a switch or both.",
    Source("common practice", "bilge pumps", "no source"),
)
FLOAT_BEHIND = FindingKind(
    "A29",
    "error",
    "float behind the battery switch",
    "The float of {name} is fed behind the battery switch: switch off, boat left in rain, pump "
    "dead.",
    "Feed it from a battery or an always-live block through its own fuse.",
    Source("ABYC E-11", "", "from memory"),
)
TWO_FUSES = FindingKind(
    "A30",
    "error",
    "two devices on one contact",
    "Pole {pole} of {legend} is fed by {circuits}: either device alone leaves it alive.",
    "Give each circuit a pole of its own.",
    OUR_CHOICE,
)
TWO_NEGATIVES = FindingKind(
    "A31",
    "judge",
    "two negatives on one lead",
    "The minus lead of {name} takes a conductor each of {circuits}.",
    "Bring one of them home, sized for both, or join them at a post.",
    OUR_CHOICE,
)
BOTH_WAYS = FindingKind(
    "P38",
    "error",
    "both ways at once",
    "{stations} pressed against one another drive {name} both ways at once: nothing keeps {what} "
    "apart.",
    "Work it through a contactor pair that is interlocked, or from one station.",
    Source("common practice", "reversing contactors", "no source"),
)
_FLOATS = ("float", "pressure", "thermostat")


def pumps(draft: Draft) -> Iterator[Finding]:
    """A bilge pump has something that starts and stops it, and its float is always alive."""
    by_itself = {s.request.id for s in draft.switches if s.part.actuator in _FLOATS}
    for row in draft.circuits:
        request = row.planned.request
        for name in row.planned.loads:
            load = draft.aboard.loads[name]
            if request is None or load.function != "bilge_pump":
                continue
            inner = load.contact_a is not None or request.lead == "automatic"
            bare = not request.contacts and row.planned.pattern != "breaker" and not inner
            told = words(name=load.name, source=row.planned.source)
            if bare and request.lead == "plus":
                yield Finding(NOTHING_SWITCHES, (row.id, name), told)
            float_here = any(contact.switch in by_itself for contact in request.contacts)
            if float_here and draft.aboard.levels[row.planned.source] != "battery_direct":
                yield Finding(FLOAT_BEHIND, (row.id, name), told)


def shared_contacts(draft: Draft) -> Iterator[Finding]:
    """A pole is fed through one device."""
    for switch in draft.switches:
        fed: dict[int, list[str]] = defaultdict(list)
        for use in switch.uses:
            fed[use.pole].append(use.circuit)
        for pole, circuits in sorted(fed.items()):
            if len(circuits) > 1:
                told = words(
                    pole=pole, legend=switch.request.legend, circuits=" and ".join(circuits)
                )
                yield Finding(TWO_FUSES, (circuits[0], switch.request.id), told)


def shared_returns(draft: Draft) -> Iterator[Finding]:
    """A load's minus lead takes one conductor home."""
    home: dict[str, list[str]] = defaultdict(list)
    for row in draft.circuits:
        for leg in row.planned.plan.legs:
            if leg.live == "return" and leg.start.kind == "lead":
                home[leg.start.place].append(row.id)
    for load_id, circuits in sorted(home.items()):
        if len(circuits) > 1:
            name = draft.aboard.loads[load_id].name
            told = words(name=name, circuits=" and ".join(circuits))
            yield Finding(TWO_NEGATIVES, (circuits[0], load_id), told)


def both_ways(draft: Draft) -> Iterator[Finding]:
    """No two stations can drive a motor both ways at once."""
    pairs = {s.request.coil: s for s in draft.switches if s.request.coil and s.part.is_pair}
    legends = {s.request.id: s.request.legend for s in draft.switches}
    for row in draft.circuits:
        request = row.planned.request
        if request is None or request.pattern != "two_directions" or len(request.contacts) < 2:
            continue
        stations = " and ".join(legends[contact.switch] for contact in request.contacts)
        for name in row.planned.loads:
            load, pair = draft.aboard.loads[name], pairs.get(name)
            if load.motor:
                told = words(stations=stations, name=load.name, what="its two leads")
                yield Finding(BOTH_WAYS, (row.id, name), told)
            elif pair and pair.part.arrangement == "make pair" and not pair.part.interlock:
                driven = [r for r in draft.circuits if any(u.circuit == r.id for u in pair.uses)]
                what = " and ".join(r.planned.label for r in driven) or pair.request.legend
                told = words(stations=stations, name=what, what="the two contactors")
                yield Finding(BOTH_WAYS, (row.id, pair.request.id), told)


RULES = (pumps, shared_contacts, shared_returns, both_ways)
