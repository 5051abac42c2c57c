"""Rules about breakers whose levers stand on a panel: one breaker a circuit, on the panel's bar."""

import dataclasses
from collections.abc import Iterator

from vivid_loom.catalogue import SwitchPart, instead_of
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.quantities.formatting import figure
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["RULES"]

NO_BREAKER = FindingKind(
    "A51",
    "error",
    "breaker's lever without a breaker",
    "{circuit} goes by its breaker, and {legend} is a {part}, which holds none: {instead}.",
    "Fit a lever with a breaker, or switch the circuit behind a fuse.",
    OUR_CHOICE,
)
TWO_DEVICES = FindingKind(
    "A52",
    "judge",
    "two devices in one feed",
    "{legend} is a {part}, and {circuit} has its {family} on {source} already: {instead}.",
    "Go by its breaker on a breaker panel, or fit a lever without one.",
    OUR_CHOICE,
)
FAR_BAR = FindingKind(
    "A53",
    "error",
    "breaker's lever away from its bar",
    "{legend} stands at {here}, and the bar of {panel} that feeds it at {there}.",
    "Give the lever a place on a panel at the bar's station, or feed it from a bar beside it.",
    OUR_CHOICE,
)
TOO_STRONG = FindingKind(
    "A54",
    "error",
    "no breaker of this kind is that strong",
    "{circuit} is held by {amps} A, and {legend} is a {part}, made up to {most} A: {instead}.",
    "Fit a stronger one, or share the circuit out.",
    OUR_CHOICE,
)


def breaker_levers(draft: Draft) -> Iterator[Finding]:
    """A circuit that goes by its breaker has a lever that holds one, and no other does."""
    stations = draft.aboard.boat.stations_by_id
    for switch in draft.switches:
        request, part = switch.request, switch.part
        for use in switch.uses:
            row = draft.circuit(use.circuit)
            if row is None:
                continue
            planned, at = row.planned, (use.circuit, request.id)
            about = {"circuit": row.id, "legend": request.legend, "part": part.name}
            by_it = planned.pattern == "breaker"
            if by_it != part.breaker:
                other = dataclasses.replace(part, breaker=by_it)
                told = about | {"instead": instead_of(other, draft.catalogue, _any)}
                if by_it:
                    yield Finding(NO_BREAKER, at, words(**told))
                else:
                    told |= {"family": planned.family, "source": planned.source}
                    yield Finding(TWO_DEVICES, at, words(**told))
                continue
            if not by_it:
                continue
            panel = draft.aboard.boat.places_by_id[planned.source]
            here = planned.plan.start.station
            if here != panel.station:
                names = {"here": stations[here].name, "there": stations[panel.station].name}
                yield Finding(
                    FAR_BAR, (*at, panel.id), words(legend=request.legend, panel=panel.id, **names)
                )
            held = row.sized.protection if row.sized else None
            if held and held.value > part.rated_a:
                amps = held.value

                def as_strong(other: SwitchPart, least_a: float = amps) -> bool:
                    return other.rated_a >= least_a

                told = about | {"amps": figure(amps), "most": figure(part.rated_a)}
                told["instead"] = instead_of(part, draft.catalogue, as_strong)
                yield Finding(TOO_STRONG, at, words(**told))


def _any(part: SwitchPart) -> bool:
    return True


RULES = (breaker_levers,)
