"""What a draft's proofs find: sneak circuits, wires that a fault burns, faults that nothing clears.

They are findings like any other, but take seconds: rules are checked at every edit, these before
sheets are signed, issued or released.
"""

from collections import defaultdict
from collections.abc import Iterable, Iterator
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft, Finding
from vivid_loom.drafting.after.net import net_list
from vivid_loom.drafting.findings import FindingKind, words
from vivid_loom.drafting.rules.verify import answered
from vivid_loom.drafting.sizing.coordination import GENERIC_BAND
from vivid_loom.netlist import NetList
from vivid_loom.network import NoOperatingPointError
from vivid_loom.order import Acceptance
from vivid_loom.power.harm import Harm, harms
from vivid_loom.power.scan import Scanned, scan_draft
from vivid_loom.power.sneak_boat import prove_draft
from vivid_loom.quantities import figure
from vivid_loom.quantities.once import once
from vivid_loom.sheets.words.power_words import device_words, lost_words, sneak_words
from vivid_loom.standards import protection
from vivid_loom.standards.short_circuit import WITHSTAND_SOURCE
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["KINDS", "Proven", "proven", "standing_errors"]

SNEAK = FindingKind(
    "W01",
    "error",
    "sneak circuit",
    "{what}.",
    "Part what is joined, or say in the switch's intent that it is meant.",
    OUR_CHOICE,
)
UNDECIDED = FindingKind(
    "W02",
    "error",
    "too many states to prove",
    "{levers} stand in more states together than can be tried.",
    "Give some of them a device or a bar of their own, so that they are proven apart.",
    OUR_CHOICE,
)
BURNS = FindingKind(
    "W03",
    "error",
    "a fault burns a wire",
    "{wire} reaches {celsius} °C, more than its insulation stands: a fault at {at}.",
    "Use a larger wire or a lower-rated fuse ahead of it.",
    WITHSTAND_SOURCE,
)
MAY_BURN = FindingKind(
    "W04",
    "judge",
    "a fault may burn a wire before a breaker opens",
    "By its generic band {device} lets {wires} reach up to {celsius} °C.",
    "Look up the breaker's own band; where it holds, use a larger wire or a fuse ahead of it.",
    OUR_CHOICE,
)
FLOWS_ON = FindingKind(
    "W05",
    "note",
    "a fault that no device clears",
    "{amps} A flow on at {at}; every wire on the way bears that.",
    "No action needed where it comes of a source that limits itself; else fit a device nearer to "
    "what feeds it.",
    OUR_CHOICE,
)
SAFETY_DARK = FindingKind(
    "W06",
    "judge",
    "a fault elsewhere stops a safety load",
    "{loads}: dead with {device}, which a fault at {at} opens.",
    "Give it a device of its own, or accept it.",
    OUR_CHOICE,
)
NO_POINT = FindingKind(
    "W07",
    "judge",
    "a scenario that cannot be worked out",
    "{problem}",
    "Look at the loads that give up there.",
    OUR_CHOICE,
)
ON_THE_POST = FindingKind(
    "W08",
    "judge",
    "nothing ahead of a device on a battery",
    "{wire} leaves a battery with nothing ahead of its device: {mm} mm of the {limit} mm allowed. "
    "Bare on its return it burns.",
    "Stand a fuse on the post itself, or keep it short, in a sheath and away from metal.",
    protection.DISTANCE_SOURCE,
)
KINDS: Final = (SNEAK, UNDECIDED, BURNS, MAY_BURN, FLOWS_ON, SAFETY_DARK, NO_POINT, ON_THE_POST)
MOST_PLACES: Final = 3


class Proven(NamedTuple):
    """What proofs found: open findings, errors first, and those somebody answers for."""

    standing: tuple[Finding, ...]
    accepted: tuple[tuple[Finding, Acceptance], ...]

    @property
    def errors(self) -> int:
        """Errors that stand open."""
        return sum(finding.severity == "error" for finding in self.standing)


@once
def proven(draft: Draft) -> Proven:
    """Prove a draft: every state of its levers, and where no rule finds an error every fault."""
    net = net_list(draft)
    found = [*_sneaks(draft, net)]
    if not any(finding.severity == "error" for finding in draft.findings):
        found += _faults(draft, net)
    return Proven(*answered(found, draft.aboard.order.accepted))


def standing_errors(draft: Draft) -> int:
    """Return how many errors of rules and proofs stand open."""
    return sum(finding.severity == "error" for finding in draft.findings) + proven(draft).errors


def _sneaks(draft: Draft, net: NetList) -> Iterator[Finding]:
    proof = prove_draft(draft, net)
    for sneak in proof.sneaks:
        what = sneak_words(draft, sneak)
        subjects = tuple(dict.fromkeys((*sneak.what, *sneak.states))) or ("supply",)
        yield Finding(SNEAK, subjects, words(what=what[0].upper() + what[1:]))
    for levers in proof.undecided:
        yield Finding(UNDECIDED, levers, words(levers=", ".join(levers)))


def _faults(draft: Draft, net: NetList) -> Iterator[Finding]:
    try:
        rows = scan_draft(draft)
    except NoOperatingPointError as error:
        told = str(error)
        yield Finding(NO_POINT, ("supply",), words(problem=told[0].upper() + told[1:] + "."))
        return
    families = {c.id: c.device.family for c in net.contacts if c.device}
    by_breaker: dict[str, list[Scanned]] = defaultdict(list)
    certain: list[Scanned] = []
    for row in rows:
        breakers = [name for name in row.opens if families.get(name) in GENERIC_BAND]
        if row.burnt[0] and breakers:
            by_breaker[breakers[0]].append(row)
            row = row._replace(burnt=("", 0.0))
        certain.append(row)
    for breaker, burning in sorted(by_breaker.items()):
        yield _may_burn(net, breaker, burning)
    yield from _told(draft, net, harms(draft, certain))


def _told(draft: Draft, net: NetList, found: Iterable[Harm]) -> Iterator[Finding]:
    """Yield a finding for every wire that burns, and one for each cause of what is to be judged."""
    flowing: dict[str, list[str]] = defaultdict(list)
    dark: dict[tuple[str, tuple[str, ...]], list[str]] = defaultdict(list)
    stubs = _allowed_on_posts(draft)
    starting = _starting(draft)
    found = [harm for harm in found if harm.kind == "safety dark" or not starting >= {*harm.at}]
    burning = {place for harm in found if harm.kind == "burns" for place in harm.at}
    for harm in found:
        if harm.kind == "burns" and harm.what in stubs and set(harm.at) <= {harm.what}:
            yield Finding(ON_THE_POST, (harm.what,), stubs[harm.what])
        elif harm.kind == "burns":
            told = words(wire=harm.what, celsius=f"{harm.most:.0f}", at=_some(harm.at))
            yield Finding(BURNS, (harm.what,), told)
        elif harm.kind == "flows on":
            if harm.what in burning:
                continue  # said already
            flowing[figure(harm.most)].append(harm.what)
        else:
            dark[harm.opens, harm.at].append(harm.what)
    for amps, at in flowing.items():
        yield Finding(FLOWS_ON, tuple(at), words(amps=amps, at=_some(at)))
    part_of = {element.id: element.part for element in net.elements}
    for (opens, places), loads in dark.items():
        told = words(
            loads=lost_words(draft, loads), device=device_words(net, opens), at=_some(places)
        )
        concerned = tuple(dict.fromkeys(part_of[name] for name in loads))
        yield Finding(SAFETY_DARK, concerned, told)


def _starting(draft: Draft) -> set[str]:
    """Return the wires that starters draw through without a device: the rules judge each."""
    network = draft.aboard.boat.network
    return {
        wire.id
        for row in draft.feeders
        if network.is_starting_lead(row.id)
        for wire in row.wires
        if wire.live != "return"
    }


def _allowed_on_posts(draft: Draft) -> dict[str, tuple[tuple[str, str], ...]]:
    """Return the words of what leaves a battery for its device no further than is allowed."""
    profile, network = draft.aboard.profile, draft.aboard.boat.network
    limit = protection.distance_limit_mm(profile.school, at_battery=True, sheathed=False).limit_mm
    return {
        wire.id: words(wire=wire.id, mm=figure(row.planned.stub_m * 1000), limit=figure(limit, 4))
        for row in draft.rows
        if row.planned.source in network.batteries and row.planned.stub_m * 1000 <= limit
        for wire in row.wires
        if wire.stub
    }


def _may_burn(net: NetList, breaker: str, burning: Iterable[Scanned]) -> Finding:
    hottest: dict[str, float] = {}
    for row in burning:
        wire, celsius = row.burnt
        hottest[wire] = max(celsius, hottest.get(wire, 0.0))
    told = words(
        device=device_words(net, breaker),
        wires=_some(sorted(hottest)),
        celsius=f"{max(hottest.values()):.0f}",
    )
    held = next(c.device for c in net.contacts if c.id == breaker)
    return Finding(MAY_BURN, (held.listed if held else breaker,), told)


def _some(names: Iterable[str]) -> str:
    listed = list(names)
    more = len(listed) - MOST_PLACES
    return ", ".join(listed[:MOST_PLACES]) + (f" and {more} more" if more > 0 else "")
