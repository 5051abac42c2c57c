"""Stage 5, colour: insulation by function, the negative by the shop's school, sleeves where the
drum's colour is another.
"""

from collections.abc import Iterator
from typing import Final, NamedTuple

from vivid_loom.boat import LeadFunction
from vivid_loom.drafting.decision import Decision, Step
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.patterns import Leg
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.order import OverrideField
from vivid_loom.quantities import Gauge, computed
from vivid_loom.standards.colours import (
    COLOUR_SOURCE,
    REMARK_FROM_MM2,
    ColourScheme,
    InsulationColour,
    colour_name,
    colour_schemes,
)
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = ["Colours", "Drums", "LeadColour", "colour", "tracers"]

Colour = Decision[InsulationColour]
NEGATIVES: Final = ("BK", "YE")  # what a negative may be; ABYC E-11, ISO 13297


class LeadColour(NamedTuple):
    """A lead that is not of its circuit's colour.

    Attributes:
        sleeve: letter codes of a sleeve at both ends; '' for none.
    """

    lead: LeadFunction
    colour: Colour
    sleeve: str


@computed
class Colours:
    """Colours of one circuit.

    Attributes:
        shown: of the positive, before its drum and whatever somebody set.
        leads: those of colours of their own: a manual lead beside an automatic, one a direction.
        positive_sleeve, negative_sleeve: letter codes of a sleeve at both ends: what a wire off
            another drum stands for, or the circuit's own; '' for none.
    """

    positive: Colour
    negative: Colour
    shown: InsulationColour
    leads: tuple[LeadColour, ...] = ()
    positive_sleeve: str = ""
    negative_sleeve: str = ""

    def of(self, lead: LeadFunction) -> Colour | None:
        """Return a lead's own colour; None where it is of the circuit's."""
        return next((each.colour for each in self.leads if each.lead == lead), None)

    def laid(self, leg: Leg) -> tuple[InsulationColour, str]:
        """Return the insulation colour of a leg and its sleeve."""
        if leg.live == "return":
            return self.negative.value, self.negative_sleeve
        for lead, colour, sleeve in self.leads:
            if lead == leg.lead:
                return colour.value, sleeve
        return self.positive.value, self.positive_sleeve


class Drums(NamedTuple):
    """Bases each gauge is kept in; a gauge that is missing is kept in all."""

    bases: dict[str, tuple[str, ...]]

    def has(self, gauge: Gauge, base: str) -> bool:
        """Tell whether wire of this size is kept in this colour."""
        kept = self.bases.get(str(gauge), ())
        return not kept or base in kept


def _decide(
    aboard: Aboard,
    subject: str,
    field: OverrideField,
    drafted: InsulationColour,
    why: str,
    steps: tuple[Step, ...],
) -> Colour:
    override = aboard.order.override(subject, field)
    value = drafted
    if override:
        try:
            value = InsulationColour.parse(override.value)
        except ValueError as error:
            raise DraftError(f"overrides.{subject}.{field}", str(error)) from error
    return Decision(value=value, drafted=drafted, governed_by=why, steps=steps, override=override)


def _function(planned: Planned, aboard: Aboard) -> str:
    if planned.request and planned.request.lead == "lamp":
        return "instrument_light"
    return aboard.loads[planned.loads[0]].function if planned.loads else "positive_main"


def _function_step(function: str, scheme: ColourScheme) -> Step:
    shown = scheme.positive(function)
    words = f"{function.replace('_', ' ')}: {colour_name(shown)}"
    if function not in scheme.functions:
        words += f"; the scheme does not name it, so {scheme.otherwise.replace('_', ' ')}"
    return Step(words, source=Source(scheme.source))


def _sender_tail(planned: Planned, aboard: Aboard) -> str:
    """Return the colour of the sense tail that a circuit joins; '' for none."""
    if not (planned.request and planned.request.instrument):
        return ""
    tails = (aboard.loads[name].named("sense") for name in planned.loads)
    return next((tail.colour for tail in tails if tail), "")


def _shown(
    planned: Planned, aboard: Aboard, scheme: ColourScheme
) -> tuple[InsulationColour, tuple[Step, ...]]:
    """Return the colour of a circuit's positive, and why.

    A sender's lead is as its tail, where colours tell functions and a positive may have it: a
    sender is known by its colour from end to end.
    """
    function = _function(planned, aboard)
    steps = (_function_step(function, scheme),)
    tail = _sender_tail(planned, aboard)
    if tail and function in scheme.functions:
        shade = InsulationColour.parse(tail)
        negative = not shade.tracer and shade.base in NEGATIVES
        if shade.base not in scheme.forbidden_positive and not negative:
            step = Step(f"as the sender's tail: {colour_name(shade)}", source=OUR_CHOICE)
            return shade, (*steps, step)
    return scheme.positive(function), steps


def tracers(
    circuits: tuple[Planned, ...], paths: dict[str, tuple[Path, ...]], aboard: Aboard
) -> dict[str, InsulationColour]:
    """Return colours for circuits that would look alike in a bundle, where the profile asks.

    Circuits of one base that share a run get different tracers while the scheme has some left.
    What lies in the boat keeps the tracer it has.
    """
    scheme = colour_schemes()[aboard.profile.colour_scheme]
    if aboard.profile.alike != "tracer" or not scheme.tracers:
        return {}
    lying_in: dict[str, set[InsulationColour]] = {}  # colours given out, by run
    found: dict[str, InsulationColour] = {}
    runs_of = {c.id: {run.id for path in paths[c.id] for run in path.runs} for c in circuits}
    built_in: dict[str, set[str]] = {}
    for wire in aboard.order.built:
        built_in.setdefault(wire.circuit, set()).update(wire.runs)

    usual = {circuit.id: _shown(circuit, aboard, scheme)[0] for circuit in circuits}

    def offered(name: str) -> list[InsulationColour]:
        """Return what a circuit may have, what it has in the boat first."""
        own, built = usual[name], aboard.order.built_as(name)
        apart = (InsulationColour(own.base, t) for t in ("", *scheme.tracers) if t != own.base)
        lies = built.colour if built else ""
        return sorted((own, *apart), key=lambda shade: str(shade) != lies)

    def stays(name: str) -> bool:
        built = aboard.order.built_as(name)
        is_so = built is not None and str(offers[name][0]) == built.colour
        return is_so and runs_of[name] <= built_in.get(name, set())

    offers = {name: offered(name) for name in usual}
    lies = frozenset(filter(stays, usual))
    for name in sorted(usual, key=lambda name: (name not in lies, name)):
        taken = {shade for run in runs_of[name] for shade in lying_in.get(run, ())}
        free = (shade for shade in offers[name] if shade not in taken)
        shade = offers[name][0] if name in lies else next(free, usual[name])
        for run in runs_of[name]:
            lying_in.setdefault(run, set()).add(shade)
        if shade != usual[name]:
            found[name] = shade
    return found


def _on_drum(
    wanted: Colour, gauge: Gauge | None, drums: Drums, spare: str, other: str
) -> tuple[Colour, str]:
    """Return the colour of the drum and the sleeve that says what it stands for.

    Args:
        spare: the base a heavy wire is kept in for this polarity.
        other: the base that means the other polarity, never used here.
    """
    shade = wanted.value
    if gauge is None or drums.has(gauge, shade.base) or area_mm2(gauge) < REMARK_FROM_MM2:
        return wanted, ""
    kept = drums.bases[str(gauge)]
    base = spare if spare in kept else next((b for b in kept if b != other), kept[0])
    step = Step(
        f"{gauge} is kept in {', '.join(kept)} only: {base}, marked {shade} at both ends",
        source=COLOUR_SOURCE,
    )
    drawn = Decision(
        value=InsulationColour(base),
        drafted=InsulationColour(base),
        governed_by="drum",
        steps=(*wanted.steps, step),
        override=wanted.override,
    )
    return drawn, str(shade)


def colour(
    planned: Planned,
    aboard: Aboard,
    gauge: Gauge | None,
    drums: Drums,
    told_apart: InsulationColour | None = None,
    turn: int = 0,
) -> Colours:
    """Choose the colours of one circuit or feeder.

    Args:
        gauge: None while it is not sized.
        told_apart: a colour of its own beside circuits that would look alike.
        turn: the circuit's number, for sleeves given out in turn.

    Raises:
        DraftError: an override that is no colour code.
    """
    scheme = colour_schemes()[aboard.profile.colour_scheme]
    usual, steps = _shown(planned, aboard, scheme)
    if told_apart:
        words = f"another tracer beside circuits of its colour: {colour_name(told_apart)}"
        steps = (*steps, Step(words, source=OUR_CHOICE))
    shown = told_apart or usual
    positive = _decide(aboard, planned.id, "positive_colour", shown, "function", steps)
    minus = InsulationColour(aboard.profile.negative_colour)
    why = Step(f"negative {colour_name(minus)} by profile", source=COLOUR_SOURCE)
    negative = _decide(aboard, planned.id, "negative_colour", minus, "profile", (why,))
    positive, sleeve = _on_drum(positive, gauge, drums, "RD", minus.base)
    negative, marked = _on_drum(negative, gauge, drums, "BK", "RD")
    if scheme.sleeves and planned.loads and not sleeve:
        built = aboard.order.built_as(planned.id)
        turned = scheme.sleeves[turn % len(scheme.sleeves)]
        sleeve = built.sleeve if built and built.sleeve in scheme.sleeves else turned
    leads = (
        *_manual(planned, positive.value, sleeve),
        *(_directions(planned, scheme, gauge, drums) if not positive.override else ()),
    )
    return Colours(
        positive=positive,
        negative=negative,
        shown=shown,
        leads=leads,
        positive_sleeve=sleeve,
        negative_sleeve=marked,
    )


def _manual(planned: Planned, automatic: InsulationColour, sleeve: str) -> Iterator[LeadColour]:
    if any(leg.lead == "manual" for leg in planned.plan.legs):
        told = InsulationColour(automatic.base, "WH" if automatic.tracer != "WH" else "BK")
        words = f"manual lead: same base as the automatic, telling tracer: {colour_name(told)}"
        step = Step(words, source=OUR_CHOICE)
        decided = Decision(value=told, drafted=told, governed_by="tracer", steps=(step,))
        yield LeadColour("manual", decided, sleeve)


DIRECTIONS: Final[tuple[tuple[LeadFunction, str], ...]] = (("up", "trim_out"), ("down", "trim_in"))
"""By lead, the function whose colour it has: up is out, down is in."""


def _directions(
    planned: Planned, scheme: ColourScheme, gauge: Gauge | None, drums: Drums
) -> Iterator[LeadColour]:
    """Yield the leads of a motor turned both ways, a colour a direction.

    One that no drum has is re-marked where it is thick enough; nothing is ever marked green.
    """
    for lead, function in DIRECTIONS:
        if function not in scheme.functions or all(leg.lead != lead for leg in planned.plan.legs):
            continue
        step = _function_step(function, scheme)
        shade = scheme.positive(function)
        wanted = Decision(value=shade, drafted=shade, governed_by="direction", steps=(step,))
        drawn, sleeve = _on_drum(wanted, gauge, drums, "RD", "BK")
        kept = gauge is None or drums.has(gauge, drawn.value.base)
        if kept and not sleeve.startswith("GN"):
            yield LeadColour(lead, drawn, sleeve)
