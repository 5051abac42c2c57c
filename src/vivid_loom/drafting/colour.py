"""Stage 5, colour: insulation by function, the negative by the shop's school."""

from vivid_loom.drafting.allocate import Planned
from vivid_loom.drafting.decision import Decision, Step
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.resolve import Aboard
from vivid_loom.order import OverrideField
from vivid_loom.quantities import record
from vivid_loom.standards.colours import (
    COLOUR_SOURCE,
    FUNCTION_COLOURS,
    FUNCTION_TRACERS,
    InsulationColour,
    colour_name,
)
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["Colours", "colour"]

Colour = Decision[InsulationColour]


@record
class Colours:
    """Colours of one circuit; ``manual`` only where a manual lead runs beside an automatic."""

    positive: Colour
    negative: Colour
    manual: Colour | None = None


def _decide(
    aboard: Aboard, subject: str, field: OverrideField, drafted: InsulationColour, why: str,
    step: Step,
) -> Colour:  # fmt: skip
    override = aboard.order.override(subject, field)
    value = drafted
    if override:
        try:
            value = InsulationColour.parse(override.value)
        except ValueError as error:
            raise DraftError(f"overrides.{subject}.{field}", str(error)) from error
    return Decision(value=value, drafted=drafted, governed_by=why, steps=(step,), override=override)


def _function_colour(function: str) -> tuple[InsulationColour, Step]:
    base = FUNCTION_COLOURS.get(function)
    shown = InsulationColour.parse(base or FUNCTION_COLOURS["accessory"])
    tracer = FUNCTION_TRACERS.get(function)
    if tracer and not shown.tracer:
        shown = InsulationColour(shown.base, tracer)
    words = f"{function.replace('_', ' ')}: {colour_name(shown)}"
    if base is None:
        return shown, Step(f"{words}; not in the table, so accessory feed", source=OUR_CHOICE)
    note = "; tracer is the shop's" if tracer else ""
    return shown, Step(words + note, source=COLOUR_SOURCE)


def colour(planned: Planned, aboard: Aboard) -> Colours:
    """Choose the colours of one circuit or feeder.

    Raises:
        DraftError: an override that is no colour code.
    """
    function = aboard.loads[planned.loads[0]].function if planned.loads else "positive_main"
    shown, step = _function_colour(function)
    positive = _decide(aboard, planned.id, "positive_colour", shown, "function", step)
    minus = InsulationColour(aboard.profile.negative_colour)
    why = Step(f"negative {colour_name(minus)} by profile", source=COLOUR_SOURCE)
    negative = _decide(aboard, planned.id, "negative_colour", minus, "profile", why)
    manual = None
    if any(leg.id.startswith("M") for leg in planned.plan.legs):
        tracer = "WH" if positive.value.tracer != "WH" else "BK"
        told = InsulationColour(positive.value.base, tracer)
        told_step = Step(
            f"manual lead: same base as the automatic, telling tracer: {colour_name(told)}",
            source=OUR_CHOICE,
        )
        manual = Decision(value=told, drafted=told, governed_by="tracer", steps=(told_step,))
    return Colours(positive=positive, negative=negative, manual=manual)
