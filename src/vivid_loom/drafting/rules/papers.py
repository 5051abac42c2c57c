"""Rules about what the makers' papers say, and what nobody has looked up."""

from collections.abc import Iterator

from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.drafting.sizing.makers import feeder_lengths_m, loop_to_m, shared_m, table_row
from vivid_loom.quantities import Gauge, figure
from vivid_loom.standards import protection
from vivid_loom.standards.conductor import is_thinner
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = ["RULES"]

MAKER_SOURCE = Source("maker's instructions", "his figure", "as the load states it")

CURRENT_UNKNOWN = FindingKind(
    "L01",
    "error",
    "current unknown",
    "Nobody has looked up the current of {name}; {it} stays unsized.",
    "Enter the maker's figure, a measurement or an estimate.",
    OUR_CHOICE,
)
ESTIMATE = FindingKind(
    "L02",
    "note",
    "current estimated",
    "The current of {name}, {amps} A, is an estimate.",
    "Replace it by the maker's figure before release.",
    OUR_CHOICE,
)
NO_FUNCTION = FindingKind(
    "L07",
    "error",
    "load without a function",
    "Nobody has said what {name} is: its drop limit, demand and safety rules are blind to it.",
    "Say what it is, or take what its name proposes.",
    OUR_CHOICE,
)
LOW_PEAK = FindingKind(
    "L08",
    "error",
    "peak below the running current",
    "{name} is told to start at {peak} A and to run at {amps} A.",
    "Look both up: one of them is left over from another load.",
    OUR_CHOICE,
)
OVER_MAKER = FindingKind(
    "S03",
    "error",
    "protection above the maker's maximum",
    "{it} is protected at {rating} A; the maker of {name} allows {maximum} A.",
    "Fit the maker's rating, or give the load a circuit of its own.",
    protection.RATING_SOURCE,
)
UNDER_MAKER = FindingKind(
    "S05",
    "error",
    "thinner than the maker allows",
    "{it} is {gauge}; the maker of {name} allows nothing below {smallest}.",
    "Take the maker's smallest wire or thicker.",
    MAKER_SOURCE,
)
UNDER_TABLE = FindingKind(
    "S12",
    "error",
    "thinner than the maker's table",
    "{it} is {gauge}; at {loop} m there and back the table of {name} asks for {asked}.",
    "Take the gauge of the maker's table, or shorten the run.",
    MAKER_SOURCE,
)
BEYOND_TABLE = FindingKind(
    "S13",
    "judge",
    "longer than the maker's table",
    "{it} is {loop} m there and back; the table of {name} ends before that.",
    "Ask the maker, or shorten the run.",
    MAKER_SOURCE,
)
WRONG_KIND = FindingKind(
    "S14",
    "error",
    "kind of device the maker does not allow",
    "{it} is protected by a {family}; the maker of {name} allows {allowed}.",
    "Hang it on a block of an allowed kind.",
    protection.RATING_SOURCE,
)
IDLE_LEAD = FindingKind(
    "L03",
    "note",
    "lead not used",
    "The {colour} lead of {name} is not used: insulate it alone and label it.",
    "See the sheet of ends to cap.",
    OUR_CHOICE,
)
STALL_UNKNOWN = FindingKind(
    "L04",
    "note",
    "stall current unknown",
    "Nobody has looked up what {name} draws with its shaft held.",
    "Enter the locked-rotor current, or that the motor protects itself.",
    OUR_CHOICE,
)
FUSE_UNKNOWN = FindingKind(
    "L05",
    "note",
    "maker's fuse unknown",
    "{name} draws {amps} A and nobody has looked up the fuse its maker allows.",
    "Enter the maker's greatest fuse.",
    OUR_CHOICE,
)
LARGE_A = 5.0  # a device from here up has papers that name its fuse; our choice


def currents(draft: Draft) -> Iterator[Finding]:
    """Unknown and estimated currents."""
    for row in draft.circuits:
        if row.planned.signals:
            continue
        for name in row.planned.loads:
            load = draft.aboard.loads[name]
            if load.running_a is None:
                yield Finding(CURRENT_UNKNOWN, (row.id, name), words(name=load.name))
            elif load.evidence.kind in ("estimate", "unknown"):
                amps = figure(load.running_a)
                yield Finding(ESTIMATE, (row.id, name), words(name=load.name, amps=amps))


def roles(draft: Draft) -> Iterator[Finding]:
    """Everybody knows what every load is, and its figures are of one load."""
    for load in draft.aboard.loads.values():
        if load.function == "unknown":
            yield Finding(NO_FUNCTION, (load.id,), words(name=load.name))
        if load.peak_a and load.running_a and load.peak_a < load.running_a:
            told = words(name=load.name, peak=figure(load.peak_a), amps=figure(load.running_a))
            yield Finding(LOW_PEAK, (load.id,), told)


def makers(draft: Draft) -> Iterator[Finding]:
    """The makers' own limits on fuse and wire; device tails are exempt."""
    for row in draft.circuits:
        s = row.sized
        for load in draft.drawing[row.id] if s else ():
            name = load.id
            assert s is not None
            rating = s.protection.value if s.protection else 0.0
            if load.maker_fuse_a and rating > load.maker_fuse_a + 1e-9:
                yield Finding(
                    OVER_MAKER,
                    (row.id, name),
                    words(rating=figure(rating), name=load.name, maximum=figure(load.maker_fuse_a)),
                )
            if load.maker_smallest and is_thinner(s.gauge.value, Gauge.parse(load.maker_smallest)):
                yield Finding(
                    UNDER_MAKER,
                    (row.id, name),
                    words(gauge=s.gauge.value, name=load.name, smallest=load.maker_smallest),
                )


def maker_tables(draft: Draft) -> Iterator[Finding]:
    """The makers' own length tables, and the kinds of device they allow."""
    network = draft.aboard.boat.network
    feeders_m = {f.id: feeder_lengths_m(f.planned, f.paths) for f in draft.feeders}
    for row in draft.circuits:
        for load in draft.drawing[row.id]:
            name = load.id
            if not load.allows(row.planned.family):  # type: ignore[arg-type]
                allowed = " or ".join(load.fuse_families)
                told = words(family=row.planned.family, name=load.name, allowed=allowed)
                yield Finding(WRONG_KIND, (row.id, name), told)
            if not load.maker_lengths:
                continue
            ahead_m = shared_m(row.planned.source, row.planned.bus, network, feeders_m)
            loop = loop_to_m(row.planned, row.paths, name, ahead_m)
            asked = table_row(load, loop)
            if asked is None or row.sized is None:
                continue
            values = {"loop": f"{loop:.2f}", "name": load.name}
            if is_thinner(row.sized.gauge.value, Gauge.parse(asked.gauge)):
                told = words(gauge=row.sized.gauge.value, asked=asked.gauge, **values)
                yield Finding(UNDER_TABLE, (row.id, name), told)
            if asked.beyond:
                yield Finding(BEYOND_TABLE, (row.id, name), words(**values))


def papers(draft: Draft) -> Iterator[Finding]:
    """What the makers' papers would still tell, and leads that nothing uses."""
    for load in draft.aboard.loads.values():
        for lead in load.leads:
            if lead.function == "unused":
                shade = words(name=load.name, colour=lead.colour or "colourless")
                yield Finding(IDLE_LEAD, (load.id,), shade)
        if load.motor and load.locked_rotor_a is None and not load.self_protected:
            told = words(name=load.name, amps=figure(load.running_a))
            yield Finding(STALL_UNKNOWN, (load.id,), told)
        if load.maker_fuse_a is None and (load.running_a or 0.0) >= LARGE_A:
            told = words(name=load.name, amps=figure(load.running_a))
            yield Finding(FUSE_UNKNOWN, (load.id,), told)


RULES = (papers, roles, currents, makers, maker_tables)
