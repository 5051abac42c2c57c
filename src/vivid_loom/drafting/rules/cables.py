"""Rules about cables: how far cores leave the jacket, what is left over, what runs alone."""

from collections.abc import Iterator

from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.quantities import figure
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.smallest import SMALLEST_SOURCE, smallest_separate, unsheathed_mm
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["RULES"]

BARE_CORE = FindingKind(
    "G01",
    "error",
    "thin core too long without its jacket",
    "{it}: core {leg} of {gauge} runs {length} mm outside the jacket; {most} mm is allowed.",
    "Land both ends of the cable at one place, or take a thicker cable.",
    SMALLEST_SOURCE,
)
APART = FindingKind(
    "G02",
    "error",
    "cable whose conductors part",
    "{it} is to lie in a cable, and its conductors share no run.",
    "Return it to a bus beside its feed, or wire it with single conductors.",
    OUR_CHOICE,
)
LEFT_OVER = FindingKind(
    "G03",
    "note",
    "core left over",
    "{it}: core {core} of the {name} is used by nothing.",
    "Insulate both its ends and label them.",
    OUR_CHOICE,
)
LONG_BARE = FindingKind(
    "G04",
    "judge",
    "cable stripped far",
    "{it}: {leg} runs {length} mm outside the jacket, more than under it.",
    "Wire it with single conductors.",
    OUR_CHOICE,
)


def jackets(draft: Draft) -> Iterator[Finding]:
    """Cores stay under their jacket; those left over are insulated."""
    profile = draft.aboard.profile
    least = area_mm2(smallest_separate(profile.series))
    most = unsheathed_mm(profile.school)
    for cable in draft.assembled.cables:
        row = draft.circuit(cable.circuit)
        assert row is not None
        assert row.sized is not None
        gauge = row.sized.gauge.value
        if not cable.runs:
            yield Finding(APART, (row.id,), ())
            continue
        for leg, bare_m in cable.bare_m:
            told = words(leg=leg, gauge=gauge, length=figure(bare_m * 1000, 4), most=figure(most))
            if area_mm2(gauge) < least and bare_m * 1000 > most:
                yield Finding(BARE_CORE, (row.id,), told)
            elif bare_m > max(cable.jacket_m, 1.0):
                yield Finding(LONG_BARE, (row.id,), told)
        used = {number for _, number, _ in cable.cores}
        for number in sorted(set(range(1, cable.stock.cores + 1)) - used):
            name = cable.stock.name
            if len(row.planned.loads) > 1:
                name = f"{name} to {draft.aboard.loads[cable.load].name}"
            yield Finding(LEFT_OVER, (row.id,), words(core=number, name=name))


RULES = (jackets,)
