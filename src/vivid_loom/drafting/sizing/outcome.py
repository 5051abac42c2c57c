"""A size with its protection, and the steps of arithmetic that circuits and feeders share."""

import dataclasses
import math
from collections.abc import Sequence
from typing import Final, NamedTuple

from vivid_loom.drafting.decision import Alternative, Decision, Lazy, Step
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.order import Override
from vivid_loom.quantities import Gauge, computed, figure
from vivid_loom.quantities.reckoning import Reckoned
from vivid_loom.standards import ampacity, conductor, protection, time_current
from vivid_loom.standards.devices import DEVICES

__all__ = [
    "LIES",
    "Asked",
    "Sized",
    "Thinner",
    "ampacity_step",
    "protection_decision",
    "resistance_step",
]


LIES: Final = "what lies in the boat serves as long as it is no thinner than anything asks for"


class Thinner(NamedTuple):
    """Legs of one lead that are thinner than their circuit, and why they may be."""

    lead: str
    legs: tuple[str, ...]
    gauge: Gauge
    steps: tuple[Step, ...]


@computed
class Sized:
    """Size and protection of one circuit or feeder.

    Attributes:
        ampacity_a: of the conductor here, derated.
        derating: heat × bundling.
        drop_v: from the battery to the worst load and back.
        heating_a: the steady current that heats as much as its duty.
        unserved: limits that no size its terminals take would serve.
        chain_v: of a feeder, what its chain may drop together; 0 for circuits.
        home_a: demand on a feeder's return; 0 for circuits, whose legs say what they carry.
        loop_length_m: along the worst path, there and back, without the feeders.
        alone_a: of a feeder, what it bears by itself, not derated for what it lies with.
        decider, without: of a feeder, the branch for whose drop it is thicker than it would be, and
            the size it would be.
        thinner: legs that are thinner than ``gauge``.
    """

    gauge: Decision[Gauge]
    protection: Decision[float] | None
    current_a: float
    peak_a: float
    ampacity_a: float
    derating: float
    loop_length_m: float
    drop_v: float
    drop_percent: float
    drop_limit_percent: float
    home_a: float = 0.0
    heating_a: float = 0.0
    unserved: tuple[str, ...] = ()
    chain_v: float = 0.0
    decider: str = ""
    without: Gauge | None = None
    alone_a: float = 0.0
    thinner: tuple[Thinner, ...] = ()

    def with_thinner(self, thinner: tuple[Thinner, ...]) -> "Sized":
        """Return it with legs that are thinner, and why they may be among its reasons."""
        steps = Lazy(lambda: (*self.gauge.steps, *(step for t in thinner for step in t.steps)))
        gauge = dataclasses.replace(self.gauge, steps=steps)
        return dataclasses.replace(self, gauge=gauge, thinner=thinner)

    def gauge_of(self, leg: str) -> Gauge:
        """Return the size of one leg, by its id."""
        return next((t.gauge for t in self.thinner if leg in t.legs), self.gauge.value)

    @property
    def gauges(self) -> tuple[Gauge, ...]:
        """Every size its legs are cut from, its own first."""
        return tuple(dict.fromkeys((self.gauge.value, *(t.gauge for t in self.thinner))))


def resistance_step(gauge: Gauge, conductor_c: float) -> Step:
    """Open up the resistance of a metre of wire."""
    return Step(
        f"resistance of {gauge} at {conductor_c:g} °C",
        conductor.resistance(gauge, conductor_c),
        "Ω/m",
        conductor.resistance_source(gauge),
    )


def ampacity_step(gauge: Gauge, bears: Reckoned, aboard: Aboard, why: str = "") -> Step:
    """Open up what a wire bears here."""
    words = f"ampacity of {gauge}, {aboard.profile.insulation_c} °C insulation{why}"
    return Step(words, bears, "A", ampacity.source(gauge))


class Asked(NamedTuple):
    """A device's rating before the wire has its say.

    Attributes:
        drafted_a: what the pipeline chose; ``rating_a`` after any override.
        why: what governed.
        carries_a: what goes through it as long as what hangs on it runs.
        no_larger: why the next larger one is not taken though the wire would bear it.
    """

    drafted_a: float
    rating_a: float
    why: str
    steps: Sequence[Step]
    family: str
    override: Override | None
    carries_a: float
    no_larger: str = "more than needed"

    def no_smaller(self, rating_a: float) -> str:
        """Say why a smaller device is not taken, in what its band promises."""
        carries = f"the {figure(self.carries_a)} A it carries"
        if math.isfinite(time_current.opens_s(self.family, rating_a, self.carries_a)):
            return f"opens on {carries}"
        if math.isfinite(time_current.holds_s(self.family, rating_a, self.carries_a)):
            return f"may open on {carries}"
        if self.carries_a > protection.CONTINUOUS * rating_a:
            return f"{carries} are {100 * self.carries_a / rating_a:.0f} % of it"
        return f"less than {'the maker' if self.why == 'maker' else self.why} asks for"


def protection_decision(asked: Asked, limit_a: float) -> Decision[float]:
    """Return the decision on a device in front of wire that may be protected by ``limit_a``."""

    def neighbours() -> tuple[Alternative, ...]:
        ratings = DEVICES[asked.family].ratings_a
        smaller = [r for r in ratings if r < asked.rating_a][-1:]
        larger = [r for r in ratings if r > asked.rating_a][:1]
        above = f"above the wire's {figure(limit_a)} A"
        return (
            *(Alternative(f"{figure(r)} A", asked.no_smaller(r), False) for r in smaller),
            *(
                Alternative(f"{figure(r)} A", above if r > limit_a else asked.no_larger, False)
                for r in larger
            ),
        )

    def steps() -> tuple[Step, ...]:
        words = f"the thinnest wire behind it bears {figure(limit_a)} A"
        return (*asked.steps, Step(words, source=protection.RATING_SOURCE))

    return Decision(
        value=asked.rating_a,
        drafted=asked.drafted_a,
        governed_by=asked.why,
        steps=Lazy(steps),
        alternatives=Lazy(neighbours),
        override=asked.override,
    )
