"""Rules about current, gauge, drop and protection of single circuits."""

from collections.abc import Iterator

from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.drafting.makers import loop_to_m, table_row
from vivid_loom.drafting.size import allowed_rating_a
from vivid_loom.quantities import Gauge, figure
from vivid_loom.standards import ampacity, drop, protection, smallest, terminals, time_current
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["RULES"]

CURRENT_UNKNOWN = FindingKind(
    "L01", "error", "current unknown",
    "Nobody has looked up the current of {name}; {it} stays unsized.",
    "Enter the maker's figure, a measurement or an estimate.", OUR_CHOICE,
)  # fmt: skip
ESTIMATE = FindingKind(
    "L02", "note", "current estimated",
    "The current of {name}, {amps} A, is an estimate.",
    "Replace it by the maker's figure before release.", OUR_CHOICE,
)  # fmt: skip
DROP_OVER = FindingKind(
    "S01", "error", "drop over limit",
    "{it} drops {drop} % with {gauge}, over its limit of {limit} %.",
    "Take the next size up, or shorten the run.", drop.DROP_SOURCE,
)  # fmt: skip
OVER_WIRE = FindingKind(
    "S02", "error", "protection above the wire",
    "{it} is protected at {rating} A; its {gauge} bears {ampacity} A here.",
    "Take a smaller device or a thicker wire.", protection.RATING_SOURCE,
)  # fmt: skip
OVER_MAKER = FindingKind(
    "S03", "error", "protection above the maker's maximum",
    "{it} is protected at {rating} A; the maker of {name} allows {maximum} A.",
    "Fit the maker's rating, or give the load a circuit of its own.", protection.RATING_SOURCE,
)  # fmt: skip
UNDER_LOAD = FindingKind(
    "S04", "error", "protection below the load",
    "{it} is protected at {rating} A but carries {amps} A.",
    "Take the next rating up that the wire bears.", protection.RATING_SOURCE,
)  # fmt: skip
UNDER_MAKER = FindingKind(
    "S05", "error", "thinner than the maker allows",
    "{it} is {gauge}; the maker of {name} allows nothing below {smallest}.",
    "Take the maker's smallest wire or thicker.", smallest.SMALLEST_SOURCE,
)  # fmt: skip
UNDER_TABLE = FindingKind(
    "S12", "error", "thinner than the maker's table",
    "{it} is {gauge}; at {loop} m there and back the table of {name} asks for {asked}.",
    "Take the gauge of the maker's table, or shorten the run.", smallest.SMALLEST_SOURCE,
)  # fmt: skip
BEYOND_TABLE = FindingKind(
    "S13", "judge", "longer than the maker's table",
    "{it} is {loop} m there and back; the table of {name} ends before that.",
    "Ask the maker, or shorten the run.", smallest.SMALLEST_SOURCE,
)  # fmt: skip
WRONG_KIND = FindingKind(
    "S14", "error", "kind of device the maker does not allow",
    "{it} is protected by a {family}; the maker of {name} allows {allowed}.",
    "Hang it on a block of an allowed kind.", protection.RATING_SOURCE,
)  # fmt: skip
TOO_THIN = FindingKind(
    "S06", "error", "below the smallest conductor",
    "{it} is {gauge}; separate conductors are {least} or thicker.",
    "Take at least the smallest allowed.", smallest.SMALLEST_SOURCE,
)  # fmt: skip
PLUG_OVER = FindingKind(
    "S07", "error", "plug contact too weak",
    "{it} passes {plug}, whose contacts bear {bears} A, behind {rating} A.",
    "Take a size that reaches the next contact, or a smaller device.", terminals.CONTACT_SOURCE,
)  # fmt: skip
CONTACT_OVER = FindingKind(
    "S08", "error", "switch contact too weak",
    "{it} carries {amps} A behind {rating} A through {switch}, good for {bears} A here.",
    "Take a stronger switch, or a relay.", protection.RATING_SOURCE,
)  # fmt: skip
UNSIZABLE = FindingKind(
    "S09", "error", "no rating in this family",
    "{it}: {family} has no rating for {amps} A.",
    "Hang it on a block of another family.", protection.RATING_SOURCE,
)  # fmt: skip
OVERRULED = FindingKind(
    "S10", "note", "overruled by the engineer",
    "{it}: {field} set to {value} by {initials}: {reason}.",
    "Look at it again when the circumstances change.", OUR_CHOICE,
)  # fmt: skip
SHUNNED = FindingKind(
    "S11", "error", "below the shop's smallest",
    "{it} is {gauge}, below the shop's floor of {floor}.",
    "Take the shop's smallest or thicker.", OUR_CHOICE,
)  # fmt: skip


UNREACHABLE = FindingKind(
    "S15", "error", "no single wire serves",
    "{it}: {limits} would ask for more than {gauge}; conductors are never paralleled.",
    "Bring the source nearer, raise the voltage, or land it on posts that take a thicker wire.",
    protection.RATING_SOURCE,
)  # fmt: skip
OVER_AMPACITY = FindingKind(
    "S16", "error", "current above the wire",
    "{it} carries {amps} A; its {gauge} bears {bears} A here.",
    "Take a thicker wire.", ampacity.AWG_SOURCE,
)  # fmt: skip
NOT_ONE_GAUGE = FindingKind(
    "S17", "judge", "thinner than the one gauge",
    "{it} is {gauge}; the profile takes {one} everywhere.",
    "Take the one gauge, or size each circuit.", OUR_CHOICE,
)  # fmt: skip
SWITCH_VOLTS = FindingKind(
    "S18", "error", "switch not made for the voltage",
    "{switch} is made for {most} V on a boat of {nominal} V.",
    "Take a switch rated at the boat's voltage.", OUR_CHOICE,
)  # fmt: skip
IDLE_LEAD = FindingKind(
    "L03", "note", "lead not used",
    "The {colour} lead of {name} is not used: insulate it alone and label it.",
    "See the sheet of ends to cap.", OUR_CHOICE,
)  # fmt: skip
STALL_UNKNOWN = FindingKind(
    "L04", "note", "stall current unknown",
    "Nobody has looked up what {name} draws with its shaft held.",
    "Enter the locked-rotor current, or that the motor protects itself.", OUR_CHOICE,
)  # fmt: skip
FUSE_UNKNOWN = FindingKind(
    "L05", "note", "maker's fuse unknown",
    "{name} draws {amps} A and nobody has looked up the fuse its maker allows.",
    "Enter the maker's greatest fuse.", OUR_CHOICE,
)  # fmt: skip
LARGE_A = 5.0  # a device from here up has papers that name its fuse; our choice


def currents(draft: Draft) -> Iterator[Finding]:
    """Unknown and estimated currents."""
    for row in draft.circuits:
        for name in row.planned.loads:
            load = draft.aboard.loads[name]
            if load.running_a is None:
                yield Finding(CURRENT_UNKNOWN, (row.id, name), words(name=load.name))
            elif load.evidence.kind in ("estimate", "unknown"):
                amps = figure(load.running_a)
                yield Finding(ESTIMATE, (row.id, name), words(name=load.name, amps=amps))


def drops(draft: Draft) -> Iterator[Finding]:
    """Drop over the limit of its class."""
    for row in draft.rows:
        s = row.sized
        if s and s.drop_percent > s.drop_limit_percent * (1 + 1e-9):
            yield Finding(
                DROP_OVER, (row.id,),
                words(drop=figure(s.drop_percent), gauge=s.gauge.value,
                   limit=figure(s.drop_limit_percent)),
            )  # fmt: skip


def protections(draft: Draft) -> Iterator[Finding]:
    """Rating against wire, maker and load."""
    tolerance = draft.aboard.profile.tolerance
    for row in draft.rows:
        s = row.sized
        if s is None:
            continue
        if s.protection is None:
            supplies = {supply.id: supply for supply in draft.aboard.boat.supplies}
            if row.planned.request and supplies[row.planned.source].ways_protected:
                yield Finding(
                    UNSIZABLE, (row.id,),
                    words(family=row.planned.family, amps=figure(s.current_a)),
                )  # fmt: skip
            continue
        rating = s.protection.value
        if rating > allowed_rating_a(s.ampacity_a, tolerance) + 1e-9:
            yield Finding(
                OVER_WIRE, (row.id,),
                words(rating=figure(rating), gauge=s.gauge.value, ampacity=figure(s.ampacity_a)),
            )  # fmt: skip
        if rating < s.current_a and not _holds_its_duty(draft, row, rating):
            yield Finding(
                UNDER_LOAD, (row.id,), words(rating=figure(rating), amps=figure(s.current_a))
            )


def _holds_its_duty(draft: Draft, row: DraftedCircuit, rating: float) -> bool:
    """Tell whether the device bears a short-time motor for its longest stretch."""
    if len(row.planned.loads) != 1 or row.sized is None:
        return False
    load = draft.aboard.loads[row.planned.loads[0]]
    if not load.short_time or load.longest_on_min is None:
        return False
    held = time_current.holds_s(row.planned.family, rating, row.sized.current_a)
    return held >= 60 * load.longest_on_min


def makers(draft: Draft) -> Iterator[Finding]:
    """The makers' own limits on fuse and wire; device tails are exempt."""
    for row in draft.circuits:
        s = row.sized
        for name in row.planned.loads if s else ():
            load = draft.aboard.loads[name]
            assert s is not None
            rating = s.protection.value if s.protection else 0.0
            if load.maker_fuse_a and rating > load.maker_fuse_a + 1e-9:
                yield Finding(
                    OVER_MAKER, (row.id, name),
                    words(rating=figure(rating), name=load.name, maximum=figure(load.maker_fuse_a)),
                )  # fmt: skip
            if load.maker_smallest and _thinner(s.gauge.value, load.maker_smallest):
                yield Finding(
                    UNDER_MAKER, (row.id, name),
                    words(gauge=s.gauge.value, name=load.name, smallest=load.maker_smallest),
                )  # fmt: skip


def maker_tables(draft: Draft) -> Iterator[Finding]:
    """The makers' own length tables, and the kinds of device they allow."""
    for row in draft.circuits:
        for name in row.planned.loads:
            load = draft.aboard.loads[name]
            if not load.allows(row.planned.family):  # type: ignore[arg-type]
                allowed = " or ".join(load.fuse_families)
                told = words(family=row.planned.family, name=load.name, allowed=allowed)
                yield Finding(WRONG_KIND, (row.id, name), told)
            loop = loop_to_m(row.planned, row.paths, name)
            asked = table_row(load, loop)
            if asked is None or row.sized is None:
                continue
            values = {"loop": f"{loop:.2f}", "name": load.name}
            if _thinner(row.sized.gauge.value, asked.gauge):
                told = words(gauge=row.sized.gauge.value, asked=asked.gauge, **values)
                yield Finding(UNDER_TABLE, (row.id, name), told)
            if asked.beyond:
                yield Finding(BEYOND_TABLE, (row.id, name), words(**values))


def _thinner(gauge: Gauge, than: str) -> bool:
    other = Gauge.parse(than)
    slack = 1.0 if gauge.series == other.series else 0.94  # see gauge_for_ladder
    return area_mm2(gauge) < slack * area_mm2(other) - 1e-9


def floors(draft: Draft) -> Iterator[Finding]:
    """Smallest conductor of the standard and of the shop."""
    profile = draft.aboard.profile
    least = smallest.smallest_separate(profile.series)
    cabled = {cable.circuit for cable in draft.assembled.cables}
    sheathed = smallest.smallest_sheathed(profile.series)
    for row in draft.rows:
        if row.id in cabled:  # cores under a jacket may be thinner, and are as bought
            if row.sized and _thinner(row.sized.gauge.value, str(sheathed)):
                values = words(gauge=row.sized.gauge.value, least=f"{sheathed} in a cable")
                yield Finding(TOO_THIN, (row.id,), values)
        elif row.sized and _thinner(row.sized.gauge.value, str(least)):
            yield Finding(TOO_THIN, (row.id,), words(gauge=row.sized.gauge.value, least=least))
        elif row.sized and _thinner(row.sized.gauge.value, profile.shop_floor):
            values = words(gauge=row.sized.gauge.value, floor=profile.shop_floor)
            yield Finding(SHUNNED, (row.id,), values)


def plug_contacts(draft: Draft) -> Iterator[Finding]:
    """Every plug contact bears the device upstream."""
    ratings = {r.id: r.sized.protection.value for r in draft.rows if r.sized and r.sized.protection}
    for plug in draft.assembled.plugs:
        for circuit in sorted({cavity.circuit for cavity in plug.cavities}):
            rating = ratings.get(circuit, 0.0)
            if rating > plug.contact_max_a:
                yield Finding(
                    PLUG_OVER, (circuit, plug.id),
                    words(plug=plug.id, bears=figure(plug.contact_max_a), rating=figure(rating)),
                )  # fmt: skip


def switch_contacts(draft: Draft) -> Iterator[Finding]:
    """Every switch contact bears the device upstream; motors derate it for their current."""
    for switch in draft.switches:
        for use in switch.uses:
            row = draft.circuit(use.circuit)
            if row is None or row.sized is None or row.sized.protection is None:
                continue
            motor = any(draft.aboard.loads[name].motor for name in row.planned.loads)
            bears = switch.part.rated_a * (switch.part.motor_factor if motor else 1.0)
            rating = row.sized.protection.value
            if row.sized.current_a > bears or rating > switch.part.rated_a:
                yield Finding(
                    CONTACT_OVER, (row.id, switch.request.id),
                    words(amps=figure(row.sized.current_a), rating=figure(rating),
                       switch=switch.part.name, bears=figure(bears)),
                )  # fmt: skip


def overrides(draft: Draft) -> Iterator[Finding]:
    """What the engineer overruled is printed, always."""
    for o in draft.aboard.order.overrides:
        field = o.field.removesuffix("_a").replace("_", " ")
        yield Finding(
            OVERRULED, (o.subject,),
            words(field=field, value=o.value, initials=o.initials, reason=o.reason),
        )  # fmt: skip


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
            told = words(amps=figure(s.heating_a), gauge=s.gauge.value,
                         bears=figure(s.ampacity_a))  # fmt: skip
            yield Finding(OVER_AMPACITY, (row.id,), told)


def one_gauge(draft: Draft) -> Iterator[Finding]:
    """Under the one-gauge school no circuit is thinner."""
    one = draft.aboard.profile.one_gauge
    cabled = {cable.circuit for cable in draft.assembled.cables}
    for row in draft.circuits:
        if one and row.sized and row.id not in cabled and _thinner(row.sized.gauge.value, one):
            yield Finding(NOT_ONE_GAUGE, (row.id,), words(gauge=row.sized.gauge.value, one=one))


def switch_voltages(draft: Draft) -> Iterator[Finding]:
    """Switches break the boat's voltage."""
    nominal = draft.aboard.boat.nominal_v
    for switch in draft.switches:
        if switch.part.rated_v < nominal:
            told = words(switch=switch.part.name, most=figure(switch.part.rated_v),
                         nominal=figure(nominal))  # fmt: skip
            yield Finding(SWITCH_VOLTS, (switch.request.id,), told)


def papers(draft: Draft) -> Iterator[Finding]:
    """What the makers' papers would still tell, and leads that nothing uses."""
    for load in draft.aboard.loads.values():
        told = words(name=load.name, amps=figure(load.running_a))
        for lead in load.leads:
            if lead.function == "unused":
                shade = words(name=load.name, colour=lead.colour or "colourless")
                yield Finding(IDLE_LEAD, (load.id,), shade)
        if load.motor and load.locked_rotor_a is None and not load.self_protected:
            yield Finding(STALL_UNKNOWN, (load.id,), told)
        if load.maker_fuse_a is None and (load.running_a or 0.0) >= LARGE_A:
            yield Finding(FUSE_UNKNOWN, (load.id,), told)


RULES = (
    reachable, one_gauge, switch_voltages, papers, currents, drops, protections, makers, maker_tables, floors, plug_contacts, switch_contacts,
    overrides,
)  # fmt: skip
