"""Rules about breakers whose levers stand on a panel: one breaker a circuit, on the panel's bar."""

import dataclasses
from collections.abc import Iterator
from functools import partial

from vivid_loom.catalogue import SwitchPart, instead_of
from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.drafting.making.switch import HelmSwitch
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


def _switched(draft: Draft) -> Iterator[tuple[DraftedCircuit, HelmSwitch]]:
    """Yield every circuit with each switch that it goes through."""
    for switch in draft.switches:
        for use in switch.uses:
            row = draft.circuit(use.circuit)
            if row:
                yield row, switch


def _rated(least_a: float, part: SwitchPart) -> bool:
    return part.rated_a >= least_a


def one_device(draft: Draft) -> Iterator[Finding]:
    """A circuit that goes by its breaker has a lever that holds one, and no other has."""
    for row, switch in _switched(draft):
        by_it = row.planned.pattern == "breaker"
        if by_it == switch.part.breaker:
            continue
        wanted = dataclasses.replace(switch.part, breaker=by_it)
        told = words(
            circuit=row.id,
            legend=switch.request.legend,
            part=switch.part.name,
            family=row.planned.family,
            source=row.planned.source,
            instead=instead_of(wanted, draft.catalogue, partial(_rated, 0.0)),
        )
        yield Finding(NO_BREAKER if by_it else TWO_DEVICES, (row.id, switch.request.id), told)


def bars(draft: Draft) -> Iterator[Finding]:
    """The bar of a breaker panel reaches the levers at its own station."""
    stations = draft.aboard.boat.stations_by_id
    for name, lever in draft.breaker_levers.items():
        row = draft.circuit(name)
        assert row is not None
        panel = draft.aboard.boat.places_by_id[row.planned.source]
        here = row.planned.plan.start.station
        if here != panel.station:
            told = words(
                legend=lever.request.legend,
                panel=panel.id,
                here=stations[here].name,
                there=stations[panel.station].name,
            )
            yield Finding(FAR_BAR, (name, lever.request.id, panel.id), told)


def strengths(draft: Draft) -> Iterator[Finding]:
    """A lever's breaker is made as strong as its circuit asks."""
    for name, lever in draft.breaker_levers.items():
        rating_a = draft.lever_ratings_a.get(lever.request.id, 0.0)
        if rating_a > lever.part.rated_a:
            told = words(
                circuit=name,
                amps=figure(rating_a),
                legend=lever.request.legend,
                part=lever.part.name,
                most=figure(lever.part.rated_a),
                instead=instead_of(lever.part, draft.catalogue, partial(_rated, rating_a)),
            )
            yield Finding(TOO_STRONG, (name, lever.request.id), told)


RULES = (one_device, bars, strengths)
