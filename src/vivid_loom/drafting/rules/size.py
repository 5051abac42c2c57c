"""Rules about current, gauge, drop and protection of single circuits."""

from collections.abc import Iterator
from typing import NamedTuple

from vivid_loom.catalogue import SwitchPart, instead_of
from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.drafting.making.terminate import PAIR
from vivid_loom.drafting.sizing.fixed_point import allowed_rating_a
from vivid_loom.drafting.sizing.lines import has_pump_floor
from vivid_loom.quantities import Gauge, figure, percent_text
from vivid_loom.standards import ampacity, drop, protection, smallest, terminals, time_current
from vivid_loom.standards.conductor import is_thinner
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["RULES"]

DROP_OVER = FindingKind(
    "S01",
    "error",
    "drop over limit",
    "{it} drops {drop} % with {gauge}, over its limit of {limit} %.",
    "Take the next size up, or shorten the run.",
    drop.DROP_SOURCE,
)
OVER_WIRE = FindingKind(
    "S02",
    "error",
    "protection above the wire",
    "{it} is protected at {rating} A; its {gauge} bears {ampacity} A here.",
    "Take a smaller device or a thicker wire.",
    protection.RATING_SOURCE,
)
UNDER_LOAD = FindingKind(
    "S04",
    "error",
    "protection below the load",
    "{it} is protected at {rating} A but carries {amps} A.",
    "Take the next rating up that the wire bears.",
    protection.RATING_SOURCE,
)
TOO_THIN = FindingKind(
    "S06",
    "error",
    "below the smallest conductor",
    "{it} is {gauge}; separate conductors are {least} or thicker.",
    "Take at least the smallest allowed.",
    smallest.SMALLEST_SOURCE,
)
PLUG_OVER = FindingKind(
    "S07",
    "error",
    "plug contact too weak",
    "{it} passes {plug}, whose contacts bear {bears} A, behind {rating} A.",
    "Take a size that reaches the next contact, or a smaller device.",
    terminals.CONTACT_SOURCE,
)
JOINED = FindingKind(
    "L09",
    "judge",
    "joined on though it is to come off",
    "{name} is to come off by its plugs, but {wires} are joined on to its tails.",
    "Feed it at the end of its circuit or by itself, or accept joints that have to be cut.",
    OUR_CHOICE,
)
CONTACT_OVER = FindingKind(
    "S08",
    "error",
    "switch contact too weak",
    "{it} carries {amps} A behind {rating} A through {switch}, good for {bears} A here; {others}.",
    "Take a stronger switch, or a relay.",
    protection.RATING_SOURCE,
)
BRIEFLY_OVER = FindingKind(
    "S20",
    "judge",
    "motor on a contact, briefly",
    "{it} carries {amps} A behind {rating} A through {switch} for a short time, good for {bears} A "
    "of a motor: a short time spares it heat, not the arc; {others}.",
    "Look up the maker's motor or intermittent rating, or take a stronger switch.",
    protection.RATING_SOURCE,
)
NEAR_RATING = FindingKind(
    "S19",
    "judge",
    "circuit near its device",
    "{it} carries {amps} A behind a {rating} A device: {share} % of it.",
    "Take a larger device if maker and wire allow one, or spread its loads over two circuits.",
    OUR_CHOICE,
)
UNSIZABLE = FindingKind(
    "S09",
    "error",
    "no rating in this family",
    "{it}: {family} has no rating for {amps} A.",
    "Hang it on a block of another family.",
    protection.RATING_SOURCE,
)
OVERRULED = FindingKind(
    "S10",
    "note",
    "overruled by the engineer",
    "{it}: {field} set to {value} by {initials}: {reason}.",
    "Look at it again when the circumstances change.",
    OUR_CHOICE,
)
SHUNNED = FindingKind(
    "S11",
    "error",
    "thinner than the shop lays",
    "{it} is {gauge}; the shop lays nothing thinner than {floor}.",
    "Take the shop's smallest or thicker.",
    OUR_CHOICE,
)


UNREACHABLE = FindingKind(
    "S15",
    "error",
    "no single wire serves",
    "{it}: {limits} would ask for more than {gauge}; conductors are never paralleled.",
    "Bring the source nearer, raise the voltage, or land it on posts that take a thicker wire.",
    protection.RATING_SOURCE,
)
OVER_AMPACITY = FindingKind(
    "S16",
    "error",
    "current above the wire",
    "{it} carries {amps} A; its {gauge} bears {bears} A here.",
    "Take a thicker wire.",
    ampacity.AWG_SOURCE,
)
NOT_ONE_GAUGE = FindingKind(
    "S17",
    "judge",
    "thinner than the one gauge",
    "{it} is {gauge}; the profile takes {one} everywhere.",
    "Take the one gauge, or size each circuit.",
    OUR_CHOICE,
)
SWITCH_VOLTS = FindingKind(
    "S18",
    "error",
    "switch not made for the voltage",
    "{switch} is made for {most} V on a boat of {nominal} V; {others}.",
    "Take a switch rated at the boat's voltage.",
    OUR_CHOICE,
)


def drops(draft: Draft) -> Iterator[Finding]:
    """Drop over the limit of its class."""
    for row in draft.rows:
        s = row.sized
        if s and s.drop_percent > s.drop_limit_percent * (1 + 1e-9):
            yield Finding(
                DROP_OVER,
                (row.id,),
                words(
                    drop=percent_text(s.drop_percent),
                    gauge=s.gauge.value,
                    limit=figure(s.drop_limit_percent),
                ),
            )


def protections(draft: Draft) -> Iterator[Finding]:
    """Rating against wire, maker and load."""
    tolerance = draft.aboard.profile.tolerance
    for row in draft.rows:
        s = row.sized
        if s is None:
            continue
        if s.protection is None:
            places = draft.aboard.boat.places_by_id
            if row.planned.guard:
                continue
            if row.planned.request and places[row.planned.source].ways_protected:
                yield Finding(
                    UNSIZABLE,
                    (row.id,),
                    words(family=row.planned.family, amps=figure(s.current_a)),
                )
            continue
        rating = s.protection.value
        if rating > allowed_rating_a(s.ampacity_a, tolerance) + 1e-9:
            yield Finding(
                OVER_WIRE,
                (row.id,),
                words(rating=figure(rating), gauge=s.gauge.value, ampacity=figure(s.ampacity_a)),
            )
        if rating < s.current_a and not _holds_its_duty(draft, row, rating):
            yield Finding(
                UNDER_LOAD, (row.id,), words(rating=figure(rating), amps=figure(s.current_a))
            )
        elif (
            row.planned.request and protection.CONTINUOUS * rating < _steady_a(draft, row) <= rating
        ):
            share = figure(100 * s.heating_a / rating)
            told = words(amps=figure(s.heating_a), rating=figure(rating), share=share)
            yield Finding(NEAR_RATING, (row.id,), told)


def _steady_a(draft: Draft, row: DraftedCircuit) -> float:
    """Return what heats its device for long; a socket's figure is what it may be asked for."""
    loads = draft.drawing[row.id]
    sockets = all(load.function == "socket" for load in loads)
    return row.sized.heating_a if row.sized and not sockets else 0.0


def _holds_its_duty(draft: Draft, row: DraftedCircuit, rating: float) -> bool:
    """Tell whether the device bears a short-time motor for its longest stretch."""
    if len(row.planned.loads) != 1 or row.sized is None:
        return False
    load = draft.aboard.loads[row.planned.loads[0]]
    if not load.short_time or load.longest_on_min is None:
        return False
    held = time_current.holds_s(row.planned.family, rating, row.sized.current_a)
    return held >= 60 * load.longest_on_min


def floors(draft: Draft) -> Iterator[Finding]:
    """Smallest conductor of the standard and of the shop."""
    profile = draft.aboard.profile
    least = smallest.smallest_separate(profile.series)
    cabled = {cable.circuit for cable in draft.assembled.cables}
    sheathed = smallest.smallest_sheathed(profile.series)
    shop, pump = Gauge.parse(profile.shop_floor), Gauge.parse(smallest.PUMP_FLOOR)
    for row in draft.rows:
        if row.id in cabled:  # cores under a jacket may be thinner, and are as bought
            if row.sized and is_thinner(row.sized.gauge.value, sheathed):
                values = words(gauge=row.sized.gauge.value, least=f"{sheathed} in a cable")
                yield Finding(TOO_THIN, (row.id,), values)
        elif row.sized and is_thinner(row.sized.gauge.value, least):
            yield Finding(TOO_THIN, (row.id,), words(gauge=row.sized.gauge.value, least=least))
        elif row.sized and is_thinner(row.sized.gauge.value, shop):
            values = words(gauge=row.sized.gauge.value, floor=profile.shop_floor)
            yield Finding(SHUNNED, (row.id,), values)
        elif (
            row.sized
            and is_thinner(row.sized.gauge.value, pump)
            and has_pump_floor(row.planned, draft.aboard.loads, profile)
        ):
            values = words(gauge=row.sized.gauge.value, floor=smallest.PUMP_FLOOR)
            yield Finding(SHUNNED, (row.id,), values)


def plug_contacts(draft: Draft) -> Iterator[Finding]:
    """Every plug contact bears the device upstream."""
    ratings = {r.id: r.sized.protection.value for r in draft.rows if r.sized and r.sized.protection}
    for plug in draft.assembled.plugs:
        for circuit in sorted({cavity.circuit for cavity in plug.cavities}):
            rating = ratings.get(circuit, 0.0)
            if rating > plug.contact_max_a:
                yield Finding(
                    PLUG_OVER,
                    (circuit, plug.id),
                    words(plug=plug.id, bears=figure(plug.contact_max_a), rating=figure(rating)),
                )
    bears_a = {contact.size: contact.max_a for contact in terminals.CONTACTS}
    replaceable = any(load.replaceable for load in draft.aboard.loads.values())
    for wire in draft.assembled.wires if replaceable else ():
        for end in (wire.start, wire.end):
            kind, rating = end.termination.kind, ratings.get(wire.circuit, 0.0)
            if PAIR in kind and rating > (bears := bears_a[int(kind.split()[-1])]):
                pair = f"its pair of plugs at {draft.aboard.loads[end.place].name}"
                told = words(plug=pair, bears=figure(bears), rating=figure(rating))
                yield Finding(PLUG_OVER, (wire.circuit, end.place), told)


def joined_though_replaceable(draft: Draft) -> Iterator[Finding]:
    """What is to come off by itself ends at plugs, not at a joint that others hang on."""
    replaceable = {name: load for name, load in draft.aboard.loads.items() if load.replaceable}
    joined: dict[str, list[str]] = {}
    for wire in draft.assembled.wires if replaceable else ():
        for end in (wire.start, wire.end):
            if end.place in replaceable and end.is_joint:
                joined.setdefault(end.place, []).append(wire.id)
    for name, wires in joined.items():
        told = words(name=replaceable[name].name, wires=" and ".join(sorted(wires)))
        yield Finding(JOINED, (name,), told)


class _Asked(NamedTuple):
    """What a contact is asked to bear."""

    rating_a: float
    amps: float
    motor: bool
    briefly: bool

    def bears(self, part: SwitchPart) -> bool:
        """Tell whether a part's contact bears it."""
        bears_a = part.bears_a(motor=self.motor, briefly=self.briefly)
        return part.rated_a >= self.rating_a and bears_a >= self.amps


def switch_contacts(draft: Draft) -> Iterator[Finding]:
    """Every switch contact bears the device upstream; motors derate it for their current."""
    for switch in draft.switches:
        for use in switch.uses:
            row = draft.circuit(use.circuit)
            if row is None or row.sized is None or row.sized.protection is None:
                continue
            drawing = draft.drawing[row.id]
            motor, briefly = (any(x.motor for x in drawing), all(x.short_time for x in drawing))
            bears = switch.part.bears_a(motor=motor, briefly=briefly)
            rating, amps = row.sized.protection.value, row.sized.current_a
            if amps > bears or rating > switch.part.rated_a:
                asked = _Asked(rating, amps, motor=motor, briefly=briefly)
                pressed = all(map(switch.part.springs_back, use.throws)) and briefly
                within = max(amps, rating) <= switch.part.rated_a
                yield Finding(
                    BRIEFLY_OVER if pressed and within else CONTACT_OVER,
                    (row.id, switch.request.id),
                    words(
                        amps=figure(amps),
                        rating=figure(rating),
                        switch=switch.part.name,
                        bears=figure(bears),
                        others=instead_of(switch.part, draft.catalogue, asked.bears),
                    ),
                )


def overrides(draft: Draft) -> Iterator[Finding]:
    """What the engineer overruled is printed, always."""
    for o in draft.aboard.order.overrides:
        yield Finding(
            OVERRULED,
            (o.subject,),
            words(field=o.called, value=o.value, initials=o.initials, reason=o.reason),
        )


def reachable(draft: Draft) -> Iterator[Finding]:
    """One conductor serves every limit; none is paralleled."""
    for row in draft.rows:
        s = row.sized
        if s is None:
            continue
        if s.unserved and s.gauge.override is None:
            told = words(limits=" and ".join(s.unserved), gauge=s.gauge.value)
            yield Finding(UNREACHABLE, (row.id,), told)
        if s.heating_a > s.ampacity_a * (1 + 1e-9):
            told = words(amps=figure(s.heating_a), gauge=s.gauge.value, bears=figure(s.ampacity_a))
            yield Finding(OVER_AMPACITY, (row.id,), told)


def one_gauge(draft: Draft) -> Iterator[Finding]:
    """Under the one-gauge school no circuit is thinner."""
    if not draft.aboard.profile.one_gauge:
        return
    one = Gauge.parse(draft.aboard.profile.one_gauge)
    cabled = {cable.circuit for cable in draft.assembled.cables}
    for row in draft.circuits:
        if row.sized and row.id not in cabled and is_thinner(row.sized.gauge.value, one):
            yield Finding(NOT_ONE_GAUGE, (row.id,), words(gauge=row.sized.gauge.value, one=one))


def switch_voltages(draft: Draft) -> Iterator[Finding]:
    """Switches break the boat's voltage."""
    network = draft.aboard.boat.network
    for switch in draft.switches:
        fed = [draft.circuit(use.circuit) for use in switch.uses]
        nominal = max((network.voltage(r.planned.source) for r in fed if r), default=0.0)
        if switch.part.rated_v < nominal:
            most = switch.part.rated_v
            told = words(
                switch=switch.part.name,
                most=figure(most),
                nominal=figure(nominal),
                others=instead_of(
                    switch.part,
                    draft.catalogue,
                    lambda p, v=nominal: p.rated_v >= v,  # type: ignore[misc]
                ),
            )
            yield Finding(SWITCH_VOLTS, (switch.request.id,), told)


RULES = (
    reachable,
    one_gauge,
    switch_voltages,
    drops,
    protections,
    floors,
    plug_contacts,
    joined_though_replaceable,
    switch_contacts,
    overrides,
)
