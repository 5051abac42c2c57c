"""What the device asks of its protection, before any wire is known."""

from collections.abc import Iterator, Sequence
from typing import Final, NamedTuple

from vivid_loom.boat import Load
from vivid_loom.drafting.decision import Lazy, Step
from vivid_loom.quantities import figure
from vivid_loom.quantities.reckoning import keyed, root
from vivid_loom.standards import protection, time_current
from vivid_loom.standards.devices import DEVICES

__all__ = ["ONE_FUSE", "WantedRating", "one_fuse", "wanted_rating"]

ONE_FUSE = "one fuse per panel"

# 160 % for 0.25 s is the lower edge of the ISO 8820-3 gate (from memory): a start that stays
# below it cannot open the fuse
START_MULTIPLE: Final = 1.6
MARGIN: Final = 1.25  # rating over continuous current where no maker says otherwise


class WantedRating(NamedTuple):
    """A rating in A, why, and the greatest the loads' makers allow (inf: none stated)."""

    rating_a: float
    why: str
    maximum_a: float
    steps: Sequence[Step]


def _by_maker(load: Load, family: str) -> WantedRating | None:
    maximum = load.maker_fuse_a or load.maker_fuse_best_a
    if maximum is None:
        return None
    fitting = [r for r in DEVICES[family].ratings_a if r <= maximum + 1e-9]
    if not fitting:
        return None
    best = load.maker_fuse_best_a
    rating = fitting[-1]
    if best:
        rating = max((r for r in fitting if r <= best + 1e-9), default=fitting[0])

    def steps() -> tuple[Step, ...]:
        words = f"the maker asks for {figure(maximum)} A at most"
        if best:
            words = f"the maker recommends {figure(best)} A and allows {figure(maximum)} A"
        told = f"{figure(rating)} A"
        return (Step(f"{words}; {family} {told}", source=protection.RATING_SOURCE, gives=told),)

    return WantedRating(rating, "maker", maximum, Lazy(steps))


def _by_makers(loads: tuple[Load, ...], family: str, least_a: float) -> WantedRating | None:
    """Return the least figure of several makers where it bears all: as each would have it alone."""
    figures = [load.maker_fuse_best_a or load.maker_fuse_a for load in loads]
    known = [amps for amps in figures if amps is not None]
    if len(known) < len(loads) or not known:
        return None
    fitting = [r for r in DEVICES[family].ratings_a if least_a - 1e-9 <= r <= min(known) + 1e-9]
    if not fitting:
        return None
    words = f"{figure(fitting[-1])} A"
    told = f"the least of their makers' figures, {figure(min(known))} A; {family} {words}"
    step = Step(told, source=protection.RATING_SOURCE, gives=words)
    maximum = min((load.maker_fuse_a or float("inf") for load in loads), default=float("inf"))
    return WantedRating(fitting[-1], "maker", maximum, (step,))


def _rating_words(family: str, least_a: float) -> str:
    rating = protection.next_rating_a(family, least_a)
    return f"{figure(rating)} A" if rating else ""


def _short_time(load: Load, family: str) -> WantedRating | None:
    """Rate by what the duty heats, holding the running current for its longest stretch."""
    assert load.running_a is not None
    assert load.longest_on_min is not None
    duty = keyed(load.duty_percent) / keyed(100)
    rms = keyed(load.running_a) * root(duty)
    margin = keyed(MARGIN) * keyed(rms.value)
    on_s = 60 * load.longest_on_min
    fitting = [
        r
        for r in DEVICES[family].ratings_a
        if r >= margin.value - 1e-9 and time_current.holds_s(family, r, load.running_a) >= on_s
    ]
    if not fitting:
        return None

    def steps() -> tuple[Step, ...]:
        return (
            Step(f"RMS current at {load.duty_percent:g} % duty", rms, "A"),
            Step(
                "next standard rating from 1.25 × that",
                margin,
                "A",
                protection.RATING_SOURCE,
                gives=_rating_words(family, margin.value),
            ),
            Step(
                f"it must hold {figure(load.running_a)} A for {load.longest_on_min:g} min",
                source=DEVICES[family].band_source,
                gives=f"{figure(fitting[0])} A",
            ),
        )

    maximum = load.maker_fuse_a or float("inf")
    return WantedRating(fitting[0], "short-time duty", maximum, Lazy(steps))


def one_fuse(rating_a: float) -> WantedRating:
    """Return the only protection of a whole panel, as existing boats have it."""
    words = f"{figure(rating_a)} A"
    step = Step("one fuse for the panel, as the profile says", gives=words)
    return WantedRating(rating_a, ONE_FUSE, float("inf"), (step,))


def wanted_rating(loads: tuple[Load, ...], family: str) -> WantedRating | None:
    """Return the protection the loads of one circuit ask for.

    One load with a maker's figure takes that figure, several the least of theirs where it bears
    them together; otherwise the next standard rating from
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
    if len(loads) == 1 and loads[0].short_time:
        return _short_time(loads[0], family)
    together = sum(amps for amps in running if amps is not None)
    margin = keyed(MARGIN) * keyed(together)
    start = max(
        ((load.peak_a or 0.0) + together - (load.running_a or 0.0) for load in loads), default=0.0
    )
    held = keyed(start) / keyed(START_MULTIPLE)
    if taken := _by_makers(loads, family, max(margin.value, held.value)):
        return taken
    starts = held.value > margin.value
    rating = protection.next_rating_a(family, held.value if starts else margin.value)
    if rating is None:
        return None

    def steps() -> Iterator[Step]:
        asks = [("next standard rating from 1.25 × the continuous current", margin)]
        if starts:
            asks.append(("a start of this current must not open it within 0.25 s", held))
        for words, amps in asks:
            gives = _rating_words(family, amps.value)
            yield Step(words, amps, "A", protection.RATING_SOURCE, gives=gives)

    why = "motor start" if starts else "1.25 × load"
    return WantedRating(rating, why, maximum, Lazy(lambda: tuple(steps())))
