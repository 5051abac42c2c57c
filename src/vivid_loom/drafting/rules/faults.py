"""Rules about shorts, stalls and starts: what opens, when, and what outlasts it."""

import math
from collections import defaultdict
from collections.abc import Iterator, Sequence
from functools import cache
from typing import NamedTuple

from vivid_loom.boat import Lead, Load
from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.drafting.sizing.coordination import GENERIC_BAND, SEVEN_HOURS_S, Fault, Upstream
from vivid_loom.drafting.sizing.fixed_point import allowed_rating_a
from vivid_loom.quantities import Gauge, enumerated, figure
from vivid_loom.standards import ampacity, protection, short_circuit, time_current
from vivid_loom.standards.devices import DEVICES, GENERIC_SOURCE
from vivid_loom.standards.source import OUR_CHOICE, NotInTableError, Source

__all__ = ["RULES"]

LOCKED = Source("ABYC E-11", "motor circuits, locked rotor for seven hours", "from memory")
FAR_END = FindingKind(
    "K01",
    "error",
    "short at the far end does not open in time",
    "A short at the far end of {it} drives {amps} A; its {rating} A device takes {time}.",
    "Take a thicker wire or a smaller device.",
    Source("our choice", "open within 5 s", "as long as the adiabatic rule of IEC 60364 holds"),
)
BURNS = FindingKind(
    "K02",
    "error",
    "wire does not outlast its device",
    "{it}: the {rating} A {family} lets {let} A²s pass, its {gauge} outlasts {bears} A²s.",
    "Take a thicker wire, or a family that opens faster.",
    short_circuit.WITHSTAND_SOURCE,
)
BURNS_AHEAD = FindingKind(
    "K17",
    "error",
    "wire ahead of its device may burn",
    "{it}, up to its device: {upstream} lets {let} A²s pass in a short; its {gauge} outlasts "
    "{bears} A²s.",
    "Take a thicker wire, or put a device that opens faster where it starts.",
    short_circuit.WITHSTAND_SOURCE,
)
MAY_BURN_AHEAD = FindingKind(
    "K18",
    "judge",
    "wire ahead of its device may not outlast a breaker",
    "{it}, up to its device: by a breaker's generic band {upstream} lets {let} A²s pass; its "
    "{gauge} outlasts {bears} A²s.",
    "Look up the breaker's own band; where it holds, take a thicker wire.",
    GENERIC_SOURCE,
)
MAY_BURN = FindingKind(
    "K15",
    "judge",
    "wire may not outlast its breaker",
    "{circuits}: by its generic band a {family} lets up to {let} A²s pass, and the {gauge} of "
    "{worst} outlasts {bears} A²s.",
    "Look up the breaker's own band; where it holds, take a thicker wire or a fuse ahead of it.",
    GENERIC_SOURCE,
)
CANNOT_BREAK = FindingKind(
    "K03",
    "error",
    "short circuit above the interrupt rating",
    "{amps} A can flow at {name}; its {family} breaks {breaks} A and nothing stronger stands "
    "upstream.",
    "Fit a family that breaks more, or a stronger fuse at the battery.",
    protection.INTERRUPT_SOURCE,
)
BACKED_UP = FindingKind(
    "K04",
    "note",
    "relies on the device upstream",
    "{amps} A can flow at {name}; its {family} breaks {breaks} A and relies on {upstream}.",
    "Nothing, or fit a family that breaks it alone.",
    protection.INTERRUPT_SOURCE,
)
OPENS_FIRST = FindingKind(
    "K16",
    "judge",
    "opens before the device it relies on",
    "{amps} A can flow at {name}, and a {family} breaks no more than {breaks} A. {upstream}, is to "
    "break them, but {circuit}, at {rating} A, opens before it does.",
    "Fit a family that breaks it alone, a longer lead to it, or let a maker vouch for the pair.",
    protection.INTERRUPT_SOURCE,
)
STALLS = FindingKind(
    "K05",
    "error",
    "stall does not open the device",
    "{name} stalled draws {amps} A in this circuit; its {rating} A device need not open in seven "
    "hours.",
    "Take a smaller device, a thicker wire, or a motor with its own cut-out.",
    LOCKED,
)
STARTS = FindingKind(
    "K06",
    "error",
    "a start opens the device",
    "{it}: starting draws {amps} A; its {rating} A device may open after {time}.",
    "Take the next rating up that the wire bears.",
    GENERIC_SOURCE,
)
MAY_START = FindingKind(
    "K19",
    "judge",
    "a start may open the device",
    "{it}: {name} is estimated to draw {amps} A as it starts with all else on; its {rating} A "
    "device may then open after {time}.",
    "Look up the maker's starting current, or take the next rating up that the wire bears.",
    GENERIC_SOURCE,
)
NOT_SELECTIVE = FindingKind(
    "K07",
    "note",
    "selective up to a current only",
    "Above {amps} A {upstream} may open together with {it}.",
    "Nothing, or take a slower device upstream.",
    GENERIC_SOURCE,
)
DARKENS = FindingKind(
    "K08",
    "judge",
    "not selective at all",
    "{it} at {rating} A is not selective against {upstream}: a fault in it darkens the whole "
    "block.",
    "Take a smaller device here, or a larger one upstream that its wire bears.",
    GENERIC_SOURCE,
)
INNER_CONTACT = FindingKind(
    "K09",
    "error",
    "contact in the device too weak",
    "{name} has a contact good for {bears} A inside; {it} is protected at {rating} A.",
    "Take a smaller device, or let the contact work a relay.",
    protection.RATING_SOURCE,
)
CONTROL_LEAD = FindingKind(
    "K10",
    "error",
    "control lead without a fuse of its own",
    "The {gauge} control lead of {name} bears {bears} A and hangs on {rating} A.",
    "Give it a small fuse of its own where it taps the main lead.",
    protection.RATING_SOURCE,
)
CONTROL_FUSE = FindingKind(
    "K11",
    "error",
    "fuse of a control lead too big",
    "The {gauge} control lead of {name} bears {bears} A; its own fuse is {fuse} A.",
    "Fit a smaller fuse.",
    protection.RATING_SOURCE,
)
THIN_TAIL = FindingKind(
    "K12",
    "judge",
    "maker's tail thinner than its device allows",
    "{name} has a {length} mm tail of {gauge}, good for {bears} A, on {rating} A.",
    "Ask its maker for the greatest fuse, or cut the tail below 180 mm.",
    Source("33 CFR 183.425", "pigtails under 7 in exempt"),
)
VOLTS = FindingKind(
    "K13",
    "error",
    "device not made for the voltage",
    "{it} is protected by a {family} made for {most} V on a boat of {nominal} V.",
    "Take a family made for the voltage.",
    Source("ISO 8820-3", "rated voltage", "from memory"),
)
SUBSTITUTE = FindingKind(
    "K14",
    "error",
    "substitute too close to the load",
    "{it} carries {amps} A on a substitute of {rating} A: more than 0.8 of its rating.",
    "Fit another family or holder; a smaller fuse bears 0.8 of its rating.",
    OUR_CHOICE,
)
START_S = 0.25  # a start is over; our choice, the gate's own time at 160 %
PIGTAIL_MM = 177.8


def _time_words(seconds: float) -> str:
    return "no promised time" if seconds == math.inf else f"{figure(seconds)} s"


def _with_faults(draft: Draft) -> list[tuple[DraftedCircuit, Fault, float]]:
    return [
        (row, row.fault, row.sized.protection.value)
        for row in draft.rows
        if row.fault and row.sized and row.sized.protection
    ]


def shorts(draft: Draft) -> Iterator[Finding]:
    """A short at the far end opens in time, and no short burns the wire."""
    guessed: dict[tuple[str, str], list[tuple[DraftedCircuit, Fault]]] = defaultdict(list)
    for row, fault, rating in _with_faults(draft):
        assert row.sized is not None
        # what limits itself below what the wire bears may flow for good, and opens nothing
        if not fault.in_time and fault.near_a > row.sized.ampacity_a:
            told = words(
                amps=figure(fault.far_a), rating=figure(rating), time=_time_words(fault.far_opens_s)
            )
            yield Finding(FAR_END, (row.id,), told)
        if not fault.outlasts:
            told = words(
                rating=figure(rating),
                family=row.planned.family,
                let=figure(fault.let_through_a2s),
                gauge=row.sized.gauge.value,
                bears=figure(fault.withstand_a2s),
            )
            if row.planned.family in GENERIC_BAND:
                guessed[row.planned.source, row.planned.family].append((row, fault))
            else:
                yield Finding(BURNS, (row.id,), told)
    for (_, family), told_by in guessed.items():
        yield _may_burn(family, told_by)


def _may_burn(family: str, told_by: Sequence[tuple[DraftedCircuit, Fault]]) -> Finding:
    """Say once what a family's generic band leaves open of all that hangs at one place."""
    row, fault = min(told_by, key=lambda each: each[1].withstand_a2s)
    assert row.sized is not None
    names = [each.id for each, _ in told_by]
    told = words(
        circuits=enumerated(names),
        family=family,
        let=figure(max(each.let_through_a2s for _, each in told_by)),
        gauge=row.sized.gauge.value,
        worst=row.id,
        bears=figure(fault.withstand_a2s),
    )
    return Finding(MAY_BURN, tuple(names), told)


def ahead_of_devices(draft: Draft) -> Iterator[Finding]:
    """What lies ahead of a device outlasts what the devices upstream let pass."""
    for row in draft.rows:
        one = row.exposed
        if one is None or one.outlasts or row.sized is None:
            continue
        upstream = " and ".join(
            f"{device.id}, {figure(device.rating_a)} A," for device in one.upstream
        )
        told = words(
            upstream=upstream.rstrip(","),
            let="endless" if math.isinf(one.passes_a2s) else figure(one.passes_a2s),
            gauge=row.sized.gauge.value,
            bears=figure(one.bears_a2s),
        )
        yield Finding(MAY_BURN_AHEAD if one.is_generic else BURNS_AHEAD, (row.id,), told)


def breaking(draft: Draft) -> Iterator[Finding]:
    """Devices break what can flow where they sit, alone or with the one upstream."""
    places = draft.aboard.boat.places_by_id
    told_of: dict[str, Finding] = {}
    early: dict[tuple[str, str], list[_Early]] = defaultdict(list)
    for row, fault, rating in _with_faults(draft):
        subject = row.id if row.planned.feeds else row.planned.source
        breaks = DEVICES[row.planned.family].interrupt_a
        held = told_of.get(subject)
        if fault.near_a <= breaks or (held and held.severity != "note"):
            continue
        kind, above = _breaking_kind(row.planned.family, rating, fault)
        if held and kind is BACKED_UP:
            continue
        name = places[subject].name if subject in places else subject
        told = words(
            amps=figure(fault.near_a, 4),
            name=name,
            family=row.planned.family,
            breaks=figure(breaks, 5),
            upstream=f"{above.id}, a {above.family}" if above else "",
            circuit=row.id,
            rating=figure(rating),
        )
        told_of[subject] = Finding(kind, (subject,), told)
        if kind is OPENS_FIRST and above:
            one = _Early(subject, name, fault.near_a, row.id, rating, above)
            early[above.id, row.planned.family].append(one)
    yield from (finding for finding in told_of.values() if finding.kind is not OPENS_FIRST)
    for (_, family), places_of in early.items():
        yield _opens_first(family, places_of)


class _Early(NamedTuple):
    """A place whose devices open before the one upstream that is to break a short there."""

    subject: str
    name: str
    near_a: float
    circuit: str
    rating_a: float
    above: Upstream


def _opens_first(family: str, places: Sequence[_Early]) -> Finding:
    """Say once what devices of one family leave to the same one upstream."""
    worst = max(places, key=lambda place: place.near_a)
    told = words(
        amps=figure(worst.near_a, 4),
        name=enumerated([place.name for place in places]),
        family=family,
        breaks=figure(DEVICES[family].interrupt_a, 5),
        upstream=f"{worst.above.id}, a {worst.above.family}",
        circuit=worst.circuit,
        rating=figure(worst.rating_a),
    )
    return Finding(OPENS_FIRST, tuple(place.subject for place in places), told)


def _breaking_kind(
    family: str, rating_a: float, fault: Fault
) -> tuple[FindingKind, Upstream | None]:
    """Return what a device that cannot break a short alone relies on, and whether it may.

    It may on one that breaks it and has opened before this one begins to.
    """
    near_a = fault.near_a
    able = (x for x in fault.upstream if DEVICES[x.family].interrupt_a >= near_a)
    above = next(able, None)
    if above is None:
        return CANNOT_BREAK, None
    over = time_current.opens_s(above.family, above.rating_a, near_a)
    sound = over <= time_current.holds_s(family, rating_a, near_a)
    return (BACKED_UP if sound else OPENS_FIRST), above


def motors(draft: Draft) -> Iterator[Finding]:
    """Stalls open the device, starts do not, and contacts inside bear it."""
    loads = draft.aboard.loads
    for row, fault, rating in _with_faults(draft):
        for stall in fault.stalls:
            if stall.opens_s > SEVEN_HOURS_S and not loads[stall.load].self_protected:
                told = words(
                    name=loads[stall.load].name, amps=figure(stall.hot_a), rating=figure(rating)
                )
                yield Finding(STALLS, (row.id, stall.load), told)
        drawing = draft.drawing[row.id]
        start, starting = _start(drawing)
        holds = time_current.holds_s(row.planned.family, rating, start) if start else math.inf
        if holds < START_S * (1 - 1e-9) and starting:
            guess = starting.evidence.kind in ("estimate", "unknown")
            told = words(
                amps=figure(start),
                rating=figure(rating),
                time=_time_words(holds),
                name=starting.name,
            )
            yield Finding(MAY_START if guess else STARTS, (row.id,), told)
        for load in drawing:
            bears = load.contact_a
            if bears is not None and rating > bears:
                told = words(name=load.name, bears=figure(bears), rating=figure(rating))
                yield Finding(INNER_CONTACT, (row.id, load.id), told)


def _start(loads: tuple[Load, ...]) -> tuple[float, Load | None]:
    """Return the greatest current while one of several loads starts and the others run, and it."""
    together = sum(load.running_a or 0.0 for load in loads)
    starts = [
        (load.peak_a + together - (load.running_a or 0.0), load) for load in loads if load.peak_a
    ]
    return max(starts, key=lambda each: each[0], default=(0.0, None))


def selectivity(draft: Draft) -> Iterator[Finding]:
    """A fault in a branch opens the branch, not the block."""
    for row, fault, rating in _with_faults(draft):
        if not fault.upstream or fault.selective_to_a >= fault.near_a:
            continue
        above = fault.upstream[0]
        upstream = f"{above.id} at {figure(above.rating_a)} A"
        if fault.selective_to_a == 0.0:
            yield Finding(DARKENS, (row.id,), words(rating=figure(rating), upstream=upstream))
        else:
            told = words(amps=figure(fault.selective_to_a), upstream=upstream)
            yield Finding(NOT_SELECTIVE, (row.id,), told)


@cache
def _bears_a(gauge: str, insulation_c: int) -> float:
    """Return the ampacity of a maker's lead; nothing where the table does not print it."""
    try:
        return ampacity.ampacity_a(Gauge.parse(gauge), insulation_c)
    except NotInTableError:
        return 0.0


def maker_leads(draft: Draft) -> Iterator[Finding]:
    """The thinnest wire of the protected tree is often the maker's: control leads and tails."""
    profile = draft.aboard.profile
    for row, _, rating in _with_faults(draft):
        for name in row.planned.loads:
            load = draft.aboard.loads[name]
            for lead in load.leads:
                if not lead.gauge or not _hangs_on(lead, row):
                    continue
                bears = _bears_a(lead.gauge, profile.insulation_c)
                kind = _weak_lead(load, lead, rating, bears, profile.tolerance)
                if kind is None:
                    continue
                told = words(
                    name=load.name,
                    gauge=lead.gauge,
                    bears=figure(bears),
                    rating=figure(rating),
                    fuse=figure(lead.fuse_a),
                    length=figure(lead.length_mm, 4),
                )
                yield Finding(kind, (row.id, name), told)


def _hangs_on(lead: Lead, row: DraftedCircuit) -> bool:
    """Tell whether a lead hangs on a circuit: one that only tells hangs on nothing but its own."""
    request = row.planned.request
    return not row.planned.signals or (request is not None and lead.function == request.fed_lead)


def _weak_lead(
    load: Load, lead: Lead, rating_a: float, bears_a: float, tolerance: str
) -> FindingKind | None:
    """Return what is wrong with a maker's lead behind a device.

    A control lead is a wire of the boat's: it may be protected as the profile has them all.
    """
    if lead.function == "control":
        most_a = allowed_rating_a(bears_a, tolerance)
        if lead.fuse_a is None:
            return CONTROL_LEAD if rating_a > most_a else None
        return CONTROL_FUSE if lead.fuse_a > most_a else None
    feeds = lead.function in ("plus", "automatic", "manual", "up", "down")
    long_enough = load.maker_fuse_a is None and lead.length_mm > PIGTAIL_MM
    return THIN_TAIL if feeds and long_enough and rating_a > bears_a else None


def voltages(draft: Draft) -> Iterator[Finding]:
    """Devices are made for the boat's voltage."""
    network = draft.aboard.boat.network
    for row, _, _ in _with_faults(draft):
        most = DEVICES[row.planned.family].max_v
        nominal = network.voltage(row.planned.source)
        if nominal > most:
            told = words(family=row.planned.family, most=figure(most), nominal=figure(nominal))
            yield Finding(VOLTS, (row.id,), told)


def substitutes(draft: Draft) -> Iterator[Finding]:
    """A smaller fuse fitted for want of the right one still bears its load with room."""
    for row, _, rating in _with_faults(draft):
        assert row.sized is not None
        override = draft.aboard.order.override(row.id, "protection_a")
        if override and override.kind == "substitution" and row.sized.protection:
            drafted = row.sized.protection.drafted
            if rating < drafted and row.sized.current_a > protection.CONTINUOUS * rating:
                told = words(amps=figure(row.sized.current_a), rating=figure(rating))
                yield Finding(SUBSTITUTE, (row.id,), told)


RULES = (
    shorts,
    ahead_of_devices,
    breaking,
    motors,
    selectivity,
    maker_leads,
    voltages,
    substitutes,
)
