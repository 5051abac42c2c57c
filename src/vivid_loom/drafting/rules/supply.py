"""Rules about supplies, their protection and capacity."""

import math
from collections import Counter
from collections.abc import Iterator
from itertools import chain

from vivid_loom.boat import SOURCES
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.quantities import figure
from vivid_loom.standards import protection, terminals
from vivid_loom.standards.devices import DEVICES
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = ["RULES"]

NO_MAIN = FindingKind(
    "P01",
    "error",
    "feeder without protection",
    "Nothing that opens in time protects the feeder of {name} from {source}.",
    "Put a breaker or fuse at the source, or take a wire that the device upstream protects.",
    protection.DISTANCE_SOURCE,
)
STARTING = FindingKind(
    "P40",
    "judge",
    "starting lead without a device",
    "{it} from {source} to {name} has no device: the starter draws through it, and the standards "
    "spare such a lead. Chafed, it burns until the battery is flat.",
    "Keep it short, sheathed and clear of metal and the engine's moving parts, with a battery "
    "switch at hand; or fit a class T fuse that bears the cranking current.",
    Source(
        "ABYC E-11", "overcurrent protection, cranking motor conductors excepted", "from memory"
    ),
)
FAR = FindingKind(
    "P02",
    "error",
    "protection far from its source",
    "The device of {it} sits {distance} mm along the conductor from {source}; {rule} is "
    "{limit} mm.",
    "Move the device, or sheathe the stretch all the way.",
    protection.DISTANCE_SOURCE,
)
BLOCK_OVER = FindingKind(
    "P03",
    "error",
    "block overloaded",
    "{name} bears {bears} A in all; its demand is {demand} A.",
    "Move circuits to another block or take a larger one.",
    protection.RATING_SOURCE,
)
WAY_OVER = FindingKind(
    "P04",
    "error",
    "way overloaded",
    "{it} is protected at {rating} A; a way of {name} bears {bears} A.",
    "Feed it from a block with stronger ways.",
    protection.RATING_SOURCE,
)
SHORT = FindingKind(
    "P05",
    "error",
    "nothing left to land on",
    "There is no free {kind} for {it} at {where}.",
    "Add a block, a bus or a panel with more places.",
    OUR_CHOICE,
)
INTERRUPT = FindingKind(
    "P06",
    "error",
    "interrupt rating too low",
    "{family} at {it} can break {rating} A; {cca} A of cranking current ask for {least} A.",
    "Take a family with the higher interrupt rating.",
    protection.INTERRUPT_SOURCE,
)
NOT_REACHED = FindingKind(
    "P07",
    "judge",
    "fuse out of reach at sea",
    "{name} stands in {area}, where no hand reaches it under way.",
    "Move the block, or carry on only if every circuit on it can wait.",
    OUR_CHOICE,
)
RETURN_OVER = FindingKind(
    "P08",
    "error",
    "return thinner than what may come home",
    "{it}: {amps} A may come home through {gauge}, which bears {ampacity} A.",
    "Size the area negative by the protection of everything that returns through it.",
    protection.RATING_SOURCE,
)
RETURN_UNLIMITED = FindingKind(
    "P32",
    "error",
    "return that no device guards",
    "Nothing limits what may come home through {it}: a way round it has no device.",
    "Put a device into every lead between {battery} and what it joins.",
    protection.RATING_SOURCE,
)
STUD_FULL = FindingKind(
    "P09",
    "error",
    "too many conductors on one point",
    "{it} {point} carries {count} terminals; {most} are allowed.",
    "Use the next stud, screw or a bus.",
    Source("ABYC E-11", "at most four conductors on a stud", "from memory"),
)


BARE_WAY = FindingKind(
    "P10",
    "error",
    "circuit without protection",
    "Nothing protects {it}, straight from {name}.",
    "Give it a fuse of its own at the source.",
    protection.RATING_SOURCE,
)
FAR_WAY = FindingKind(
    "P11",
    "error",
    "device of a way far from its bar",
    "The devices of {it} sit {distance} mm along the conductor from its bar; {rule} is {limit} mm.",
    "Put them on the bar.",
    protection.DISTANCE_SOURCE,
)
BUS_OVER = FindingKind(
    "P12",
    "error",
    "negative bus overloaded",
    "{name} bears {bears} A; {amps} A come home to it at demand.",
    "Take a stronger bus, or land circuits elsewhere.",
    protection.RATING_SOURCE,
)
ONLY_DEMAND = FindingKind(
    "P13",
    "judge",
    "block weaker than its device",
    "{name} bears {bears} A behind a {rating} A device: only its demand of {demand} A keeps it "
    "within.",
    "Take a stronger block, or a smaller device that bears the demand.",
    protection.RATING_SOURCE,
)
THIN_STUD = FindingKind(
    "P14",
    "error",
    "stud too small for its feeder",
    "The {stud} stud of {name} bears {bears} A behind a {rating} A device.",
    "Land the feeder on a larger stud.",
    OUR_CHOICE,
)
POLE_OVER = FindingKind(
    "P15",
    "error",
    "strip pole overloaded",
    "{it} is protected at {rating} A; its pole of {strip} bears {bears} A.",
    "Lead it past the strip, or take a smaller device.",
    protection.RATING_SOURCE,
)
ABOVE_SHARE = FindingKind(
    "P16",
    "judge",
    "feeders use more than their share of the drop",
    "{it} and the feeders ahead of it drop {drop} V; they may have {share} V of the limit.",
    "Take it thicker: every branch behind it pays for its drop.",
    OUR_CHOICE,
)
SWITCH_WEAK = FindingKind(
    "P17",
    "error",
    "battery switch weaker than its device",
    "{name} bears {bears} A behind a {rating} A device.",
    "Take a stronger switch, or a smaller main fuse that bears the demand.",
    protection.RATING_SOURCE,
)
LAST_WAY = FindingKind(
    "P18",
    "note",
    "no way left",
    "Every one of the {ways} ways of {name} is taken.",
    "Take a larger block if anything is still to come.",
    OUR_CHOICE,
)


CONTACT_WEAK = FindingKind(
    "P24",
    "error",
    "contact weaker than its device",
    "The contact of {name} bears {bears} A behind a {rating} A device.",
    "Take a stronger one, or a smaller device that bears the demand.",
    protection.RATING_SOURCE,
)
NEAR_DEMAND = FindingKind(
    "P29",
    "judge",
    "device near the demand behind it",
    "{it} bears {amps} A behind a {rating} A device: {share} % of it, and the next load opens it.",
    "Take the next rating, and wire that bears it.",
    OUR_CHOICE,
)
_CONTACTS = ("selector", "key_switch", "combining_relay", "relay", "contactor")


def feeder_protection(draft: Draft) -> Iterator[Finding]:
    """Every feeder is protected, and near its source."""
    network = draft.aboard.boat.network
    for name, need in draft.needs.items():
        supply, feed = need.supply, need.feed
        if supply is None or feed is None:
            continue
        row = draft.circuit(name)
        bears_a = row.sized.ampacity_a if row and row.sized else math.inf
        if feed.family is None and need.guard_a <= bears_a + 1e-9:
            continue
        if network.is_starting_lead(name):
            told = words(it=name, name=supply.name, source=feed.source)
            yield Finding(STARTING, (name, supply.id), told)
            continue
        if feed.family is None or need.rating_a != need.rating_a:
            told = words(name=supply.name, source=feed.source)
            yield Finding(NO_MAIN, (name, supply.id), told)
            continue
        rule = protection.distance_limit_mm(
            draft.aboard.profile.school,
            at_battery=feed.source in network.batteries,
            sheathed=feed.sheathed,
        )
        enclosed = draft.aboard.profile.school == "ISO" and feed.sheathed
        if feed.distance_mm > rule.limit_mm and not enclosed:
            yield Finding(
                FAR,
                (name, supply.id),
                words(
                    distance=figure(feed.distance_mm, 4),
                    source=feed.source,
                    rule=rule.wording,
                    limit=figure(rule.limit_mm, 5),
                ),
            )


def capacities(draft: Draft) -> Iterator[Finding]:
    """Blocks and ways bear what hangs on them."""
    places = draft.aboard.boat.places_by_id
    for need in draft.needs.values():
        if need.supply and need.out.total_a > need.supply.total_max_a:
            yield Finding(
                BLOCK_OVER,
                (need.supply.id,),
                words(
                    name=need.supply.name,
                    bears=figure(need.supply.total_max_a),
                    demand=figure(need.out.total_a),
                ),
            )
    for row in draft.rows:
        if row.planned.feeds and not row.planned.way:
            continue
        supply = places[row.planned.source]
        if row.sized and row.sized.protection and row.sized.protection.value > supply.lead_max_a:
            yield Finding(
                WAY_OVER,
                (row.id, supply.id),
                words(
                    rating=figure(row.sized.protection.value),
                    name=supply.name,
                    bears=figure(supply.lead_max_a),
                ),
            )
    for short in draft.allocation.shortages:
        yield Finding(SHORT, (short.subject,), words(kind=short.kind, where=short.where))


def _cranking_a(place: str, draft: Draft) -> float:
    """Return the cranking current of all batteries that may feed a place together."""
    return sum(b.cranking_a for b in draft.aboard.boat.network.batteries_behind(place))


def interrupt_ratings(draft: Draft) -> Iterator[Finding]:
    """Devices break what the batteries can deliver."""
    batteries = draft.aboard.boat.network.batteries
    feeds = ((name, need.feed) for name, need in draft.needs.items())
    held: list[tuple[str, str, str]] = [
        (name, feed.source, feed.family or "") for name, feed in feeds if feed
    ]
    held += [
        (row.id, row.planned.source, row.planned.family)
        for row in draft.circuits
        if row.planned.family == "breaker"
    ]
    for name, source, family in held:
        main = source in batteries and name in draft.needs
        if not family or (not main and family != "breaker"):
            continue  # the table is for breakers; mains go by it too
        cranking = _cranking_a(source, draft)
        volts = draft.aboard.boat.network.voltage(source)
        least = protection.interrupt_minimum_a(cranking, main=main, nominal_v=volts)
        rating = DEVICES[family].interrupt_a
        if rating < least:
            told = words(
                family=family,
                rating=figure(rating),
                cca=figure(cranking, 4),
                least=figure(least, 4),
            )
            yield Finding(INTERRUPT, (name,), told)


def reach(draft: Draft) -> Iterator[Finding]:
    """Blocks stand where a hand gets at them under way."""
    boat = draft.aboard.boat
    where = boat.area_at
    used = {row.planned.source for row in draft.circuits}
    for supply in boat.supplies:
        if supply.id in used and not where[supply.station].at_sea:
            values = words(name=supply.name, area=where[supply.station].name)
            yield Finding(NOT_REACHED, (supply.id,), values)


def returns(draft: Draft) -> Iterator[Finding]:
    """Negatives bear what may come home through them, in any state of the supply."""
    network = draft.aboard.boat.network
    for row in draft.feeders:
        need = draft.needs[row.id]
        if row.sized is None or not row.planned.bus:
            continue
        if math.isinf(need.return_a):
            home = network.home_of(network.feeders[row.id])
            name = network.batteries[home].name if home in network.batteries else "the batteries"
            yield Finding(RETURN_UNLIMITED, (row.id,), words(it=row.id, battery=name))
        elif need.return_a > row.sized.alone_a + 1e-9:
            yield Finding(
                RETURN_OVER,
                (row.id,),
                words(
                    amps=figure(need.return_a),
                    gauge=row.sized.gauge.value,
                    ampacity=figure(row.sized.alone_a),
                ),
            )


def points(draft: Draft) -> Iterator[Finding]:
    """No tab, screw, stud or post carries more than it may."""
    counts = Counter(chain.from_iterable([wire.taken for wire in draft.assembled.wires]))
    mounts = (row.planned.mount for row in draft.rows if row.planned.mount)
    counts.update((mount.place, mount.name, mount.kind) for mount in mounts)
    least = min(terminals.MAX_CONDUCTORS_PER_TAB, terminals.MAX_RINGS_PER_STUD)
    crowded = [(at, count) for at, count in counts.items() if count > least]
    for (place, point, kind), count in sorted(crowded):
        pair = kind in ("tab", "way")
        most = terminals.MAX_CONDUCTORS_PER_TAB if pair else terminals.MAX_RINGS_PER_STUD
        if count > most:
            yield Finding(STUD_FULL, (place,), words(point=point, count=count, most=most))


def ways(draft: Draft) -> Iterator[Finding]:
    """Every way has its device, on the bar."""
    taken = Counter(row.planned.source for row in draft.rows if row.planned.way)
    school = draft.aboard.profile.school
    for supply in draft.aboard.boat.supplies:
        rule = protection.distance_limit_mm(school, at_battery=False, sheathed=False)
        if taken[supply.id] and supply.way_distance_mm > rule.limit_mm:
            told = words(
                distance=figure(supply.way_distance_mm, 4),
                rule=rule.wording,
                limit=figure(rule.limit_mm, 5),
            )
            yield Finding(FAR_WAY, (supply.id,), told)
        if supply.ways and taken[supply.id] == supply.ways:
            yield Finding(LAST_WAY, (supply.id,), words(ways=supply.ways, name=supply.name))
        if not supply.ways_protected:
            for row in draft.circuits:
                if row.planned.source == supply.id:
                    yield Finding(BARE_WAY, (row.id, supply.id), words(name=supply.name))


def chain_ratings(draft: Draft) -> Iterator[Finding]:
    """Everything current passes bears the device upstream, or says that only demand spares it."""
    for row in draft.feeders:
        need = draft.needs[row.id]
        supply, feed = need.supply, need.feed
        if supply is None or feed is None or row.sized is None or row.sized.protection is None:
            continue
        if supply.kind in SOURCES or supply.output_v is not None:
            continue  # it limits itself: the device protects its conductor
        rating = row.sized.protection.value
        bears = supply.total_max_a
        told = words(
            name=supply.name,
            bears=figure(bears),
            rating=figure(rating),
            demand=figure(need.out.total_a),
        )
        if rating > bears and supply.kind == "battery_switch":
            yield Finding(SWITCH_WEAK, (supply.id,), told)
        elif rating > bears and supply.kind in _CONTACTS:
            yield Finding(CONTACT_WEAK, (supply.id,), told)
        elif rating > bears >= need.out.total_a:
            yield Finding(ONLY_DEMAND, (supply.id,), told)
        stud_a = terminals.STUD_MAX_A.get(feed.stud)
        if stud_a is not None and rating > stud_a:
            told = words(
                name=supply.name, stud=feed.stud, bears=figure(stud_a), rating=figure(rating)
            )
            yield Finding(THIN_STUD, (supply.id,), told)
    for strip in draft.allocation.strips:
        for pole in strip.used:
            branch = draft.circuit(pole.circuit)
            held = branch.sized.protection if branch and branch.sized else None
            if held and held.value > strip.rated_a:
                told = words(rating=figure(held.value), strip=strip.id, bears=figure(strip.rated_a))
                yield Finding(POLE_OVER, (pole.circuit,), told)


def headroom(draft: Draft) -> Iterator[Finding]:
    """A feeder's device has headroom over the demand."""
    for row in draft.feeders:
        need, held = draft.needs[row.id], row.sized.protection if row.sized else None
        if held is None or held.value + 1e-9 >= need.margin * need.borne_a:
            continue
        told = words(
            it=row.id,
            amps=figure(need.borne_a),
            rating=figure(held.value),
            share=figure(100 * need.borne_a / held.value),
        )
        yield Finding(NEAR_DEMAND, (row.id,), told)


def buses(draft: Draft) -> Iterator[Finding]:
    """Negative buses bear what comes home to them."""
    network = draft.aboard.boat.network
    for bus in draft.aboard.boat.return_buses:
        own = (f for f in network.feeders.values() if f.bus and f.bus.id == bus.id)
        amps = max((draft.needs[feeder.id].home.total_a for feeder in own), default=0.0)
        if amps > bus.max_a:
            told = words(name=bus.name, bears=figure(bus.max_a), amps=figure(amps))
            yield Finding(BUS_OVER, (bus.id,), told)


def shares(draft: Draft) -> Iterator[Finding]:
    """Feeders leave their branches the drop they need."""
    network = draft.aboard.boat.network
    for row in draft.feeders:
        if network.converts(row.planned.feeds):
            continue  # what it loses no branch pays for: a converter's output is its own
        share_v = row.sized.chain_v if row.sized else 0.0
        if row.sized and share_v and row.sized.drop_v > share_v * (1 + 1e-9):
            told = words(drop=figure(row.sized.drop_v), share=figure(row.sized.chain_v))
            yield Finding(ABOVE_SHARE, (row.id,), told)


RULES = (
    feeder_protection,
    capacities,
    ways,
    chain_ratings,
    headroom,
    buses,
    shares,
    interrupt_ratings,
    reach,
    returns,
    points,
)
