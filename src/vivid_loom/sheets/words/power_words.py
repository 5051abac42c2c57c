"""How screen and sheets speak of a boat that is powered up: devices, faults, courses, scans."""

import math
from collections.abc import Collection, Mapping, Sequence

from vivid_loom.boat import STATES
from vivid_loom.drafting import Draft
from vivid_loom.netlist import NetList
from vivid_loom.power.advice import Advice
from vivid_loom.power.board import Board
from vivid_loom.power.course import Course, Event
from vivid_loom.power.fault import HULL, RETURN, Fault
from vivid_loom.power.finder import Suspect
from vivid_loom.power.meter import OPEN_OHM
from vivid_loom.power.powered import Powered
from vivid_loom.power.profile import Profiles
from vivid_loom.power.scan import Probe, Scanned, is_safety
from vivid_loom.power.sneak import Proof, Sneak
from vivid_loom.quantities import figure
from vivid_loom.sheets.words.helm_words import element_words

__all__ = [
    "advice_words",
    "course_words",
    "days_words",
    "device_words",
    "fault_words",
    "lever_name",
    "losses_words",
    "lost_words",
    "piece_words",
    "probe_name",
    "probe_words",
    "proof_words",
    "scanned_words",
    "seconds_words",
    "sneak_words",
    "states_words",
    "suspect_words",
    "told_powered",
]

MOST_NAMED = 4
PROBES = {
    "open": "broken",
    "short near": "shorted where it starts",
    "short far": "shorted at its far end",
    "corroded": "corroded",
}


def seconds_words(early_s: float, late_s: float) -> str:
    """Say from when to when something opens."""

    def one(seconds: float) -> str:
        if seconds < 1:
            return f"{figure(seconds * 1000)} ms"
        if seconds < 120:
            return f"{figure(seconds)} s"
        return f"{figure(seconds / 60)} min"

    if late_s == math.inf:
        return "never for certain"
    first, last = one(early_s), one(late_s)
    return last if first == last else f"{first} to {last}"


def days_words(days: float) -> str:
    """Say how long something lasts; by hours where it is short."""
    if days == math.inf:
        return "for ever"
    return f"{days * 24:.0f} h" if days < 2 else f"{days:.1f} days"


def device_words(net: NetList, contact: str) -> str:
    """Name the device in a contact: 'F02, 150 A post fuse'."""
    held = next((c.device for c in net.contacts if c.id == contact), None)
    if held is None:
        return contact
    return f"{held.listed}, {figure(held.rating_a)} A {held.family}"


def lost_words(draft: Draft, lost: Collection[str]) -> str:
    """Name the loads that went out, safety loads first; lamps of switches only by their number."""
    loads = draft.aboard.loads
    mine = [e for e in lost if e.rpartition(" ")[0] in loads]
    mine.sort(key=lambda e: (not is_safety(draft, e), element_words(draft, e)))
    lamps = len(lost) - len(mine)
    names = [element_words(draft, e) for e in mine[:MOST_NAMED]]
    if len(mine) > MOST_NAMED:
        names.append(f"{len(mine) - MOST_NAMED} more")
    if lamps:
        names.append(f"{lamps} lamp{'s' if lamps > 1 else ''} of switches")
    return ", ".join(names)


def fault_words(fault: Fault) -> str:
    """Say what is wrong, in words."""
    at = fault.at
    if fault.kind == "short":
        to = {RETURN: "its return", HULL: "the hull"}.get(fault.to, fault.to)
        return f"{at} bare at {fault.share * 100:.0f} % of its length, on {to}"
    return {
        "open": f"{at} broken",
        "corroded": f"{at} corroded, {figure(fault.ohm)} Ω more",
        "welded": f"contact of {at} welded shut",
        "dead": f"contact of {at} dead",
        "device": f"{at} with a {figure(fault.rating_a)} A device"
        if fault.rating_a
        else f"{at} without its device",
        "bridged": f"{at} bridged with wire instead of its device",
        "reversed": f"{at} connected the wrong way round",
        "swapped": f"{at} and {fault.to} swapped",
        "stall": f"motor of {at} held",
    }[fault.kind]


def told_powered(now: Powered) -> str:
    """Say what the sources give and what runs."""
    board = now.board
    told = []
    for element in board.net.elements:
        amps = now.amps.get(element.id, 0.0) if element.law == "source" else 0.0
        if abs(amps) > 0.05:
            gives = "gives" if amps > 0 else "takes"
            told.append(
                f"{element.id} {gives} {figure(abs(amps))} A at {now.volts_at(element.id):.2f} V"
            )
    loads = board.draft.aboard.loads
    runs = {board.elements[e].part for e in now.running if board.elements[e].part in loads}
    told.append("1 load runs" if len(runs) == 1 else f"{len(runs)} loads run")
    if not runs:
        told[-1] += f": {_why_nothing(board, now)}"
    low = {board.elements[e].part for e in now.point.gave_up} & loads.keys()
    if low:
        told.append(f"too few volts for {', '.join(loads[n].name for n in sorted(low)[:3])}")
    told += [f"{name} chatters: it pulls and lets go in turn" for name in now.chatters]
    return "; ".join(told) + "."


def _why_nothing(board: Board, now: Powered) -> str:
    """Say what keeps everything off: what a hand left open on the way, what has not pulled."""
    found: list[str] = []
    for supply in board.draft.aboard.boat.supplies:
        states = tuple(STATES.get(supply.kind, ()))
        if states and now.states.get(supply.id, states[0]) == states[0]:
            coil = board.draft.aboard.loads.get(supply.coil)
            pulls = f"has not pulled: {coil.name} has no current" if coil else f"is {states[0]}"
            found.append(f"{supply.name} {pulls}")
    return ", ".join(found[:MOST_NAMED]) or "no lever that feeds one is moved"


def piece_words(board: Board, name: str) -> str:
    """Say what a piece of a way is."""
    wire = board.conductors.get(name)
    if wire is not None:
        return f"{name}: {wire.gauge}, {wire.colour}, {figure(wire.length_m)} m of {wire.circuit}."
    return f"{device_words(board.net, name)}."


def losses_words(ways: Profiles, element: str) -> str:
    """Say where a load's volts go, and what the schedule says of its copper."""
    profile = ways.of(element)
    draft = ways.now.board.draft
    name = element_words(draft, element)
    if profile is None:
        return f"{name}: nothing flows."
    lost, volts = ways.losses(profile), profile.source_v

    def share(lost_v: float) -> str:
        return f"{lost_v:.2f} V ({100 * lost_v / volts if volts else 0.0:.1f} %)"

    told = (
        f"{name}: {profile.load_v:.2f} of {volts:.2f} V. Own copper {share(lost.own_v)}, shared "
        f"copper {share(lost.feeders_v)}, contacts, devices and ends {share(lost.joints_v)}; in "
        f"{profile.source} {lost.inside_v:.2f} V."
    )
    part = ways.now.board.elements[element].part
    rows = (row for row in draft.circuits if part in row.planned.loads and row.sized)
    if row := next(rows, None):
        assert row.sized is not None
        percent, most = row.sized.drop_percent, row.sized.drop_limit_percent
        told += f" Schedule, copper at demand: {percent:.1f} of {figure(most)} %."
    return told


def lever_name(draft: Draft, actuator: str) -> str:
    """Name what a hand or the water moves: a legend, a part, a breaker's circuit, a float."""
    for switch in draft.switches:
        if switch.request.id == actuator:
            return switch.request.legend  # as it stands on the panel
    for supply in draft.aboard.boat.supplies:
        if supply.id == actuator:
            return supply.name
    row = draft.circuit(actuator.removesuffix(" breaker"))
    load = draft.aboard.loads.get(actuator.removesuffix(" float"))
    if row:
        return f"Breaker {row.id}"
    return f"Float of {load.name}" if load else actuator


def states_words(draft: Draft, states: Mapping[str, str]) -> str:
    """Name the levers that are to be set: 'HORN up, Battery switch on'."""
    told = [f"{lever_name(draft, actuator)} {state}" for actuator, state in states.items()]
    return ", ".join(told) or "every lever at rest"


def sneak_words(draft: Draft, sneak: Sneak) -> str:
    """Say what nobody asked for, and what brings it about."""
    if sneak.kind == "tie":
        full, flat, wire = sneak.what
        told = f"{full} full, {flat} flat: {wire} between them carries more than it bears"
        return f"{told}: {states_words(draft, sneak.states)}"
    name = lever_name if sneak.kind == "joined" else element_words
    what = ", ".join(name(draft, one) for one in sneak.what[:MOST_NAMED])
    told = {
        "joined": f"two bars are joined behind {what}",
        "short": "plus meets minus",
        "series": f"current passes one after another: {what}",
        "unasked": f"{what} runs",
    }[sneak.kind]
    return f"{told}: {states_words(draft, sneak.states)}"


def proof_words(proof: Proof) -> str:
    """Say what was shown, with its counts."""
    tried = f"{proof.examined} states of {proof.groups} groups stand for all"
    counts = f"{proof.combinations:,} combinations of levers; {tried}"
    if proof.holds:
        told = (
            "nothing runs unasked, no load is fed through another, no two bars are joined, no "
            "battery charges another over a wire that does not bear it"
        )
        return f"Proven: {told}. {counts}."
    left = f", {len(proof.undecided)} groups too large to try" if proof.undecided else ""
    return f"NOT PROVEN: {len(proof.sneaks)} found{left}. {counts}."


def _event_words(net: NetList, event: Event) -> str:
    if not event.opens:
        return ""
    words = f"{device_words(net, event.opens)} opens on {figure(event.amps)} A"
    words += f" after {seconds_words(event.early_s, event.late_s)}"
    if event.or_opens:
        others = ", ".join(device_words(net, name) for name in event.or_opens[:2])
        words += f" (cannot tell: or before it {others})"
    return words


def course_words(draft: Draft, course: Course) -> tuple[str, ...]:
    """Say what comes of a fault, a sentence for each thing that happens."""
    net = course.before.board.net
    told = [_event_words(net, event) for event in course.events if event.opens]
    if not told:
        told.append("No device opens")
    for name, celsius in course.burnt[:3]:
        told.append(f"{name} reaches {celsius:.0f} °C: its insulation is gone")
    if course.lost:
        told.append(f"Dark: {lost_words(draft, course.lost)}")
    if course.woken:
        told.append(f"Runs now: {lost_words(draft, course.woken)}")
    for name in course.rest.chatters:
        told.append(f"{name} chatters: it pulls and lets go in turn")
    if not course.burnt and not course.lost:
        told.append("No wire suffers and nothing else goes dark")
    return tuple(f"{sentence}." for sentence in told)


def probe_name(probe: Probe) -> str:
    """Say what is wrong: 'C05-P2 broken'."""
    return f"{probe.at} {PROBES[probe.kind]}"


def probe_words(row: Scanned) -> str:
    """Say what the scan tried."""
    return probe_name(row.probe)


def suspect_words(suspect: Suspect) -> str:
    """Name the faults that explain what was seen alike."""
    names = [probe_name(probe) for probe in suspect.probes]
    more = f", or {len(names) - 3} more that look the same" if len(names) > 3 else ""
    return ", or ".join(names[:3]) + more


def advice_words(advice: Advice) -> str:
    """Say what to read next, and what it shows with nothing wrong."""
    if advice.unit == "A":
        return f"Read next: a clamp round {advice.at}. Sound it shows {advice.sound:.2f} A."
    if advice.unit == "Ω":
        open_ = advice.sound >= OPEN_OHM
        shows = "no way through" if open_ else f"{advice.sound:.2f} Ω"
        return f"Read next, the power off: {advice.at} to minus. Sound it shows {shows}."
    return f"Read next: {advice.at}. Sound it shows {advice.sound:.2f} V."


def scanned_words(draft: Draft, net: NetList, row: Scanned) -> str:
    """Say what a fault of the scan does."""
    told: list[str] = []
    if row.burnt[0]:
        told.append(f"{row.burnt[0]} reaches {row.burnt[1]:.0f} °C")
    if row.opens:
        opens = device_words(net, row.opens[0])
        told.append(f"{opens} opens after {seconds_words(row.early_s, row.late_s)}")
        if len(row.opens) > 1:
            told.append(f"then {_listed(net, row.opens[1:])}")
    if row.flows_on:
        told.append(f"{figure(row.flows_on)} A flow on: nothing clears it")
    if row.lost:
        told.append(f"dark though sound: {lost_words(draft, row.lost)}")
    if row.own:
        told.append(f"its own: {lost_words(draft, row.own)}")
    if row.chatters:
        told.append(f"{', '.join(row.chatters)} chatters")
    return "; ".join(told) or "nothing changes"


def _listed(net: NetList, opens: Sequence[str]) -> str:
    return ", ".join(device_words(net, name) for name in opens)
