"""What a wire is cut to: its run, service loops, tails and strips, in the shop's steps."""

import math
from collections.abc import Callable
from typing import TypeVar

from vivid_loom.drafting.decision import Decision, Step
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.making.common_lengths import batch_of
from vivid_loom.drafting.making.wire import End, Wire
from vivid_loom.drafting.patterns import Leg
from vivid_loom.order import Profile
from vivid_loom.quantities.reckoning import Reckoned, keyed
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["cut_decision", "cut_length_mm"]

N = TypeVar("N", float, Reckoned)


def _uncut(
    routed_m: float,
    ends: tuple[End, End],
    profile: Profile,
    number: Callable[[float], N],
    *,
    exact: bool,
) -> N:
    """Return run, service loops, tails and strips in mm.

    Args:
        exact: without service loops and tails.
        number: makes a number: a plain one to cut by, or one that knows its formula.
    """
    length = number(routed_m * 1000)
    if not exact:
        loops = sum(end.kind == "lead" for end in ends)
        length = length + number(loops) * number(profile.service_loop_mm)
        length = length + number(2) * number(profile.tail_mm)
    for end in ends:
        length = length + number(end.termination.strip_mm)
    return length


def cut_decision(wire: Wire, profile: Profile) -> Decision[float]:
    """Open up a wire's cut length: run, service loops, tails and strips, rounded up."""
    uncut = _uncut(wire.routed_m, (wire.start, wire.end), profile, keyed, exact=wire.exact)
    whole = keyed(round(wire.cut_mm / profile.cut_step_mm)) * keyed(profile.cut_step_mm)
    up = f"rounded up to whole steps of {profile.cut_step_mm:g} mm"
    kind, most = batch_of(wire, profile)
    if most:
        alike = "gauge and colour" if kind[0] == "jumper" else "gauge among a panel's feeds"
        up += f", then to one of {most} lengths of its {alike}"
    steps = (
        Step("run, service loops, tails, strips", uncut, "mm", OUR_CHOICE),
        Step(up, whole, "mm", OUR_CHOICE),
    )
    return Decision(
        value=wire.cut_mm, drafted=wire.cut_mm, governed_by="routed length", steps=steps
    )


def cut_length_mm(routed_m: float, ends: tuple[End, End], aboard: Aboard, leg: Leg) -> float:
    """Return what a piece is cut to: rounded up in the shop's steps, never short, in mm."""
    raw = _uncut(routed_m, ends, aboard.profile, float, exact=leg.jumper or leg.stub)
    step = aboard.profile.cut_step_mm
    return round(math.ceil(raw / step - 1e-9) * step, 3)
