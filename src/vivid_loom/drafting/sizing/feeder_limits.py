"""What each feeder asks for, whatever it drops: by demand, device, return, maker and terminals."""

import math
from collections.abc import Mapping
from typing import NamedTuple

import numpy as np

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import contact_floor, heat_factor, thickest_rung
from vivid_loom.drafting.sizing.makers import feeder_lengths_m
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.drafting.sizing.shares import SHORT_M, Share
from vivid_loom.standards import smallest
from vivid_loom.standards.ampacity import bundle_factor

__all__ = ["FeederLimits", "FeederSize", "device_rungs", "feeder_limits"]


class FeederSize(NamedTuple):
    """Rung and drop of one feeder.

    Attributes:
        needed: rung each of smallest, ampacity, protection, return and drop asks for.
        least: the same with the least devices that serve; () while those stand.
        share: what it may drop; None where it drops nothing.
        drop_v: of this feeder alone, at demand, there and home.
        decider: id of the branch for whose drop it is thicker than it would be; '' for none.
        plain: its rung without that branch.
        factor: heat × bundling; ``heat`` without the bundling, ``bundled_with`` the loaded
            conductors it lies with.
    """

    id: str
    rung: int
    drafted: int
    needed: tuple[tuple[str, int], ...]
    out_m: float
    home_m: float
    factor: float
    share: Share | None
    drop_v: float
    least: tuple[tuple[str, int], ...] = ()
    decider: str = ""
    plain: int = 0
    bundled_with: int = 0
    heat: float = 1.0


class FeederLimits(NamedTuple):
    """What one feeder asks for, whatever it drops; see ``FeederSize``.

    Attributes:
        out_a, home_a: what its positive and its return are sized for.
        forced: the rung the engineer set; −1 where the draft decides.
        most: the thickest that its terminals take and those ahead of it, for none is thinner than
            what it feeds; or what it asks for by itself if that is thicker.
    """

    out_a: float
    home_a: float
    out_m: float
    home_m: float
    factor: float
    heat: float
    needed: tuple[tuple[str, int], ...]
    forced: int
    most: int

    @property
    def moment_am(self) -> float:
        """Current × length there and home, A·m."""
        return self.out_a * self.out_m + self.home_a * self.home_m

    @property
    def lies(self) -> bool:
        """Whether one lies in the boat already."""
        return dict(self.needed)["as built"] > 0

    @property
    def own(self) -> int:
        """The rung it asks for whatever it drops."""
        return max(rung for _, rung in self.needed)

    @property
    def stands(self) -> int:
        """The rung it has whatever it drops: the engineer's, or its own."""
        return self.own if self.forced < 0 else self.forced

    @property
    def weight(self) -> float:
        """Length × ⁴√A, by which it shares in what a row of feeders may drop."""
        loop_m = self.out_m + self.home_m
        return max(SHORT_M, loop_m) * (self.out_a or self.home_a) ** 0.25 if loop_m else 0.0


def feeder_limits(
    needs: dict[str, FeederNeed],
    paths: dict[str, tuple[Path, ...]],
    aboard: Aboard,
    ladder: Ladder,
    bundled: Mapping[str, int],
) -> dict[str, FeederLimits]:
    """Return what each feeder asks for, by its id.

    Args:
        bundled: how many loaded conductors it lies with, where those are known.
    """
    found: dict[str, FeederLimits] = {}
    for name, need in needs.items():
        heat = heat_factor(paths[name], aboard.boat, aboard.profile)
        bundle = bundle_factor(bundled.get(name, 0), aboard.profile.school)
        found[name] = _limits(need, paths[name], (heat, bundle), aboard, ladder)
    return {
        name: _behind_others(limits, needs[name], found, aboard) for name, limits in found.items()
    }


def _behind_others(
    limits: FeederLimits, need: FeederNeed, found: Mapping[str, FeederLimits], aboard: Aboard
) -> FeederLimits:
    """Return the limits of a feeder with the terminals ahead of it: for drop alone it is no
    thicker than they take.
    """
    if need.feed is None:
        return limits
    ways = aboard.boat.network.to_source(need.feed.source)
    ahead = min((found[name].most for way in ways for name in way), default=limits.most)
    return limits._replace(most=max(limits.own, min(limits.most, ahead)))


def _limits(
    need: FeederNeed,
    paths: tuple[Path, ...],
    factors: tuple[float, float],
    aboard: Aboard,
    ladder: Ladder,
) -> FeederLimits:
    name = need.planned.id
    out_m, home_m = feeder_lengths_m(need.planned, paths)
    heat, bundle = factors
    override = aboard.order.override(name, "gauge")
    needed = _needed(need, (heat, heat * bundle), paths, aboard, ladder)
    terminals = thickest_rung(need.planned, aboard.boat.network, ladder)
    limits = FeederLimits(
        out_a=need.borne_a,
        home_a=need.home.total_a,
        out_m=out_m,
        home_m=home_m,
        factor=heat * bundle,
        heat=heat,
        needed=needed,
        most=terminals,
        forced=ladder.exactly(override.value, f"overrides.{name}.gauge") if override else -1,
    )
    return limits._replace(most=min(max(terminals, limits.own), len(ladder.gauges) - 1))


def _reach(amps: float, factor: float, ladder: Ladder) -> int:
    return int(np.searchsorted(ladder.free_air_a, amps / factor - 1e-9))


def device_rungs(need: FeederNeed, heat: float, factor: float, ladder: Ladder) -> dict[str, int]:
    """Return the rungs that devices ask for: its own or its guard's, and those it brings home.

    A bundle warms by what flows at the same time. The devices whose current comes home never give
    all they may at once, so that limit is the conductor's own.

    Args:
        heat, factor: without and with what it lies with.
    """
    rating_a = max((a for a in (need.rating_a, need.guard_a) if not math.isnan(a)), default=0.0)
    flows_a = max(need.home.total_a, need.charge_a) if need.planned.bus else 0.0
    may_a = need.return_a if math.isfinite(need.return_a) else 0.0  # what nothing limits is told
    return {
        "protection": _reach(rating_a, factor, ladder),
        "return": max(_reach(may_a, heat, ladder), _reach(flows_a, factor, ladder)),
    }


def _needed(
    need: FeederNeed,
    factors: tuple[float, float],
    paths: tuple[Path, ...],
    aboard: Aboard,
    ladder: Ladder,
) -> tuple[tuple[str, int], ...]:
    """Return the rung each limit asks for, whatever it drops."""

    profile = aboard.profile
    heat, factor = factors
    heavy = profile.heavy_border == "plug"
    asked = device_rungs(need, heat, factor, ladder)
    built = aboard.order.built_as(need.planned.id)
    return (
        ("as built", ladder.lying(built.gauge) if built else 0),
        ("smallest allowed", ladder.gauges.index(smallest.smallest_separate(profile.series))),
        ("shop floor", ladder.rung(profile.shop_floor, "profile.shop_floor")),
        ("maker", ladder.rung(need.least_gauge or None, f"{need.planned.id}, gauge at least")),
        ("ampacity", _reach(need.borne_a, factor, ladder)),
        ("protection", asked["protection"]),
        ("return", asked["return"]),
        ("plug contact", contact_floor(need.rating_a, ladder, paths, heavy=heavy)),
    )
