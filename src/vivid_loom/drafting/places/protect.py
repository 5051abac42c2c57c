"""What the device asks of its protection, before any wire is known."""

import math
from typing import NamedTuple

from vivid_loom.boat import Load
from vivid_loom.drafting.decision import Step
from vivid_loom.quantities import figure, key_in
from vivid_loom.standards import protection, time_current

__all__ = ["ONE_FUSE", "WantedRating", "one_fuse", "wanted_rating"]

ONE_FUSE = "one fuse per panel"

# 160 % for 0.25 s is the lower edge of the ISO 8820-3 gate (from memory): a start that stays
# below it cannot open the fuse
START_MULTIPLE = 1.6


class WantedRating(NamedTuple):
    """A rating in A, why, and the greatest the loads' makers allow (inf: none stated)."""

    rating_a: float
    why: str
    maximum_a: float
    steps: tuple[Step, ...]


def _by_maker(load: Load, family: str) -> WantedRating | None:
    maximum = load.maker_fuse_a or load.maker_fuse_best_a
    if maximum is None:
        return None
    fitting = [r for r in protection.RATINGS_A[family] if r <= maximum + 1e-9]
    if not fitting:
        return None
    if best := load.maker_fuse_best_a:
        rating = max((r for r in fitting if r <= best + 1e-9), default=fitting[0])
        step = Step(
            f"the maker recommends {figure(best)} A and allows {figure(maximum)} A; {family} "
            f"{figure(rating)} A",
            source=protection.RATING_SOURCE,
            gives=f"{figure(rating)} A",
        )
        return WantedRating(rating, "maker", maximum, (step,))
    step = Step(
        f"the maker asks for {figure(maximum)} A at most; {family} {figure(fitting[-1])} A",
        source=protection.RATING_SOURCE,
        gives=f"{figure(fitting[-1])} A",
    )
    return WantedRating(fitting[-1], "maker", maximum, (step,))


def _rating_words(family: str, least_a: float) -> str:
    rating = protection.next_rating_a(family, least_a)
    return f"{figure(rating)} A" if rating else ""


def _short_time(load: Load, family: str) -> WantedRating | None:
    """Rate by what the duty heats, holding the running current for its longest stretch."""
    assert load.running_a is not None
    assert load.longest_on_min is not None
    rms = load.running_a * math.sqrt(load.duty_percent / 100)
    on_s = 60 * load.longest_on_min
    fitting = [
        r
        for r in protection.RATINGS_A[family]
        if r >= 1.25 * rms - 1e-9 and time_current.holds_s(family, r, load.running_a) >= on_s
    ]
    if not fitting:
        return None
    told = f"{figure(fitting[0])} A"
    steps = (
        Step(
            f"RMS current at {load.duty_percent:g} % duty",
            f"{key_in(load.running_a)} × √({load.duty_percent:g} / 100)",
            rms,
            "A",
        ),
        Step(
            "next standard rating from 1.25 × that",
            f"1.25 × {key_in(rms)}",
            1.25 * rms,
            "A",
            protection.RATING_SOURCE,
            gives=_rating_words(family, 1.25 * rms),
        ),
        Step(
            f"it must hold {figure(load.running_a)} A for {load.longest_on_min:g} min",
            source=time_current.band_source(family),
            gives=told,
        ),
    )
    maximum = load.maker_fuse_a or float("inf")
    return WantedRating(fitting[0], "short-time duty", maximum, steps)


def one_fuse(rating_a: float) -> WantedRating:
    """Return the only protection of a whole panel, as existing boats have it."""
    words = f"{figure(rating_a)} A"
    step = Step("one fuse for the panel, as the profile says", gives=words)
    return WantedRating(rating_a, ONE_FUSE, float("inf"), (step,))


def wanted_rating(loads: tuple[Load, ...], family: str) -> WantedRating | None:
    """Return the protection the loads of one circuit ask for.

    One load with a maker's figure takes that figure; otherwise the next standard rating from
    1.25 × the continuous current, and from peak / 1.6 so that no start opens it.

    Returns:
        None where a current is unknown or the family has no such rating.
    """
    running = [load.running_a for load in loads]
    if any(amps is None for amps in running):
        return None
    maximum = min((load.maker_fuse_a or float("inf") for load in loads), default=float("inf"))
    if len(loads) == 1 and (taken := _by_maker(loads[0], family)):
        return taken
    total = sum(amps for amps in running if amps is not None)
    if len(loads) == 1 and loads[0].short_time:
        return _short_time(loads[0], family)
    steps = [
        Step(
            "next standard rating from 1.25 × the continuous current",
            f"1.25 × {key_in(total)}",
            1.25 * total,
            "A",
            protection.RATING_SOURCE,
            gives=_rating_words(family, 1.25 * total),
        )
    ]
    need, why = 1.25 * total, "1.25 × load"
    start = max(
        ((load.peak_a or 0.0) + total - (load.running_a or 0.0) for load in loads), default=0.0
    )
    if start / START_MULTIPLE > need:
        need, why = start / START_MULTIPLE, "motor start"
        steps.append(
            Step(
                "a start of this current must not open it within 0.25 s",
                f"{key_in(start)} / {START_MULTIPLE}",
                need,
                "A",
                protection.RATING_SOURCE,
                gives=_rating_words(family, need),
            )
        )
    rating = protection.next_rating_a(family, need)
    if rating is None:
        return None
    return WantedRating(rating, why, maximum, tuple(steps))
