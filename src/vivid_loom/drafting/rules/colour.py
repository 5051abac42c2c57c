"""Rules about insulation colours: what they may mean, and what they must never be taken for."""

from collections.abc import Iterator
from itertools import product

from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.drafting.making.colour import Drums
from vivid_loom.standards.colours import (
    AC_LIVE,
    COLOUR_SOURCE,
    REMARK_FROM_MM2,
    InsulationColour,
    colour_name,
    colour_schemes,
)
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = ["RULES"]

REMARK_SOURCE = Source(
    "our choice", "re-marked from 6 AWG up", "NEC 200.6 has 4 AWG and up; from memory"
)
GREEN = FindingKind(
    "I01",
    "error",
    "green is for bonding",
    "The {side} of {it} is {colour}: green and green/yellow mean bonding and nothing else.",
    "Take another base colour; green with another stripe is trim's alone.",
    COLOUR_SOURCE,
)
MINUS_ON_PLUS = FindingKind(
    "I02",
    "error",
    "negative's colour on a positive",
    "The positive of {it} is {colour}, the colour of every negative aboard.",
    "Take the function's colour.",
    COLOUR_SOURCE,
)
NOT_ALLOWED = FindingKind(
    "I03",
    "error",
    "colour the scheme forbids",
    "The positive of {it} is {colour}; {scheme} allows no {base} there.",
    "Take a colour the scheme allows.",
    COLOUR_SOURCE,
)
AC_MINUS = FindingKind(
    "I04",
    "judge",
    "negative looks like live mains",
    "DC negatives are {colour}, and mains after {where} is aboard, where {colour} is live.",
    "Take yellow for the negatives.",
    COLOUR_SOURCE,
)
AC_PLUS = FindingKind(
    "I05",
    "judge",
    "positives look like live mains",
    "Positives in {colours} lie aboard beside mains after {where}, where they are live.",
    "Keep mains in its own sheath and conduit, marked, and never in a DC bundle.",
    COLOUR_SOURCE,
)
NO_DRUM = FindingKind(
    "I06",
    "error",
    "colour not kept in this size",
    "The {side} of {it} is {gauge} {colour}, which is not kept, and too thin to re-mark.",
    "Order the drum, or take a colour that is kept.",
    OUR_CHOICE,
)
RE_MARKED_GREEN = FindingKind(
    "I07",
    "error",
    "re-marked out of or into green",
    "The {side} of {it} is {colour} wire marked {sleeve}: green is never re-marked.",
    "Take wire of the right colour.",
    REMARK_SOURCE,
)
RE_MARKED = FindingKind(
    "I08",
    "note",
    "re-marked conductor",
    "The {side} of {it} is {colour} wire marked {sleeve} at both ends and wherever it can be "
    "reached.",
    "Put the sleeves on before the lugs.",
    REMARK_SOURCE,
)
CROSSED_TAIL = FindingKind(
    "I09",
    "note",
    "tail of the other side's colour",
    "{name}: its {function} lead is {colour}, which is the harness's {means} in {it}.",
    "Join by function, as the cut list says, never by colour.",
    Source("common practice", "supplier's tails keep their colours", "no source"),
)
LOOK_ALIKE = FindingKind(
    "I10",
    "judge",
    "no tracer left",
    "{it} and {other} are both {colour} in run {run}; the scheme has no tracer left.",
    "Tell them apart by label, or send one another way.",
    OUR_CHOICE,
)
SWAPPED = FindingKind(
    "I11",
    "error",
    "positive and negative of one colour",
    "{it} has {colour} for its positive and for its negative.",
    "Take the profile's colour for the negative.",
    COLOUR_SOURCE,
)
_TRIM_GREEN = "trim_in"


def _sides(row: DraftedCircuit) -> Iterator[tuple[str, InsulationColour, str]]:
    yield "positive", row.colours.positive.value, row.colours.positive_sleeve
    for lead, own, sleeve in row.colours.leads:
        yield f"{lead} lead", own.value, sleeve
    if row.planned.bus:
        yield "negative", row.colours.negative.value, row.colours.negative_sleeve


def meanings(draft: Draft) -> Iterator[Finding]:
    """No colour means two things."""
    scheme = colour_schemes()[draft.aboard.profile.colour_scheme]
    minus = draft.aboard.profile.negative_colour
    for row in draft.rows:
        functions = {draft.aboard.loads[name].function for name in row.planned.loads}
        down = row.colours.of("down")
        for side, shade, _ in _sides(row):
            trim = _TRIM_GREEN in functions or (down is not None and shade == down.value)
            striped = shade.tracer not in ("", "YE")
            if shade.base == "GN" and not (trim and striped):
                yield Finding(GREEN, (row.id,), words(side=side, colour=colour_name(shade)))
        plus, negative = row.colours.positive.value, row.colours.negative.value
        if plus == negative and row.planned.bus:
            yield Finding(SWAPPED, (row.id,), words(colour=colour_name(plus)))
        elif plus == InsulationColour(minus):
            yield Finding(MINUS_ON_PLUS, (row.id,), words(colour=colour_name(plus)))
        elif plus.base in scheme.forbidden_positive and plus.base != "GN":
            told = words(colour=colour_name(plus), scheme=scheme.name, base=plus.base)
            yield Finding(NOT_ALLOWED, (row.id,), told)


def mains(draft: Draft) -> Iterator[Finding]:
    """What is live in the mains aboard is not ours."""
    boat = draft.aboard.boat
    if boat.ac_aboard == "none":
        return
    live = AC_LIVE[boat.ac_aboard]
    minus = InsulationColour(draft.aboard.profile.negative_colour)
    where = f"the colours of {'the US' if boat.ac_aboard == 'US' else boat.ac_aboard}"
    if minus.base in live:
        told = words(colour=colour_name(minus), where=where)
        yield Finding(AC_MINUS, (boat.id,), told)
    shades = sorted({row.colours.positive.value.base for row in draft.rows} & set(live))
    if shades:
        colours = " and ".join(colour_name(InsulationColour(base)) for base in shades)
        yield Finding(AC_PLUS, (boat.id,), words(colours=colours, where=where))


def drums(draft: Draft) -> Iterator[Finding]:
    """Every wire comes off a drum that is kept, or is re-marked where that is allowed."""
    kept = Drums({w.gauge: w.colours for w in draft.catalogue.wires if w.colours})
    own = colour_schemes()[draft.aboard.profile.colour_scheme].sleeves
    for row in draft.rows:
        if row.sized is None:
            continue
        for gauge, (side, shade, sleeve) in product(row.sized.gauges, _sides(row)):
            kind = None
            if not kept.has(gauge, shade.base) and area_mm2(gauge) < REMARK_FROM_MM2:
                kind = NO_DRUM
            elif sleeve and sleeve.startswith("GN") != (shade.base == "GN"):
                kind = RE_MARKED_GREEN
            elif sleeve and sleeve not in own:
                kind = RE_MARKED
            if kind:
                told = words(side=side, gauge=gauge, colour=shade, sleeve=sleeve)
                yield Finding(kind, (row.id,), told)


def tails(draft: Draft) -> Iterator[Finding]:
    """Makers use brown for positive and black for negative, and the other way round."""
    for row in draft.circuits:
        plus, minus = row.colours.positive.value.base, row.colours.negative.value.base
        for name in row.planned.loads:
            load = draft.aboard.loads[name]
            for lead in load.leads:
                base = lead.colour.partition("/")[0]
                wrong = {
                    "minus": (plus, "positive"),
                    "plus": (minus, "negative"),
                    "automatic": (minus, "negative"),
                    "manual": (minus, "negative"),
                }
                other = wrong.get(lead.function)
                if base and other and base == other[0]:
                    told = words(
                        name=load.name, function=lead.function, colour=lead.colour, means=other[1]
                    )
                    yield Finding(CROSSED_TAIL, (row.id, name), told)


def look_alikes(draft: Draft) -> Iterator[Finding]:
    """Under the tracer school no two circuits of a bundle look alike."""
    if draft.aboard.profile.alike != "tracer":
        return
    told_of: set[tuple[str, str]] = set()
    by_run: dict[tuple[str, InsulationColour], set[str]] = {}
    for row in draft.circuits:
        for run in {run.id for path in row.paths for run in path.runs}:
            by_run.setdefault((run, row.colours.positive.value), set()).add(row.id)
    for (run, shade), names in sorted(by_run.items()):
        for other in sorted(names)[1:]:
            pair = (min(names), other)
            if pair not in told_of:
                told_of.add(pair)
                yield Finding(LOOK_ALIKE, pair, words(other=other, colour=shade, run=run))


RULES = (meanings, mains, drums, tails, look_alikes)
