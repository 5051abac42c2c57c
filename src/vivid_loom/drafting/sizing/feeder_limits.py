"""What each feeder asks for, whatever hangs behind it: by demand, device, return and drop."""

import math
from collections.abc import Mapping
from typing import NamedTuple

import numpy as np

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import contact_floor, heat_factor, thickest_rung
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.standards import smallest
from vivid_loom.standards.ampacity import bundle_factor

__all__ = ["FeederLimits", "FeederSize", "device_rungs", "feeder_limits"]


class FeederSize(NamedTuple):
    """Rung and drop of one feeder.

    Attributes:
        needed: rung each of smallest, ampacity, protection, return and share asks for.
        chain_v: what its chain of feeders may drop together.
        thinner: why drop asks for no thinner size; '' where something else does.
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
    chain_v: float
    thinner: str
    drop_v: float
    decider: str = ""
    plain: int = 0
    bundled_with: int = 0
    heat: float = 1.0


class FeederLimits(NamedTuple):
    """What one feeder asks for, whatever hangs behind it; see ``FeederSize``.

    Its share of the drop is where the search for least copper starts.

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
    chain_v: float
    needed: tuple[tuple[str, int], ...]
    forced: int
    most: int

    @property
    def moment_am(self) -> float:
        """Current × length there and home, A·m."""
        return self.out_a * self.out_m + self.home_a * self.home_m

    @property
    def own(self) -> int:
        """The rung it asks for whatever it drops."""
        return max(rung for what, rung in self.needed if what != "drop")


def _weights(
    needs: dict[str, FeederNeed], paths: dict[str, tuple[Path, ...]], aboard: Aboard
) -> tuple[dict[str, float], dict[str, float]]:
    """Return each feeder's length × √A, and the sum along its longest chain.

    Least copper for a given drop along the chain: v ∝ L·√I, from minimising Σ S·L.
    """
    network = aboard.boat.network
    loops = {name: sum(path.length_m for path in paths[name]) for name in needs}
    own = {name: math.sqrt(need.borne_a) * loops[name] for name, need in needs.items()}
    whole = dict(own)
    for place in network.supplies:
        for chain in network.to_source(place):
            along = sum(own[link] for link in chain)
            for name in chain:
                whole[name] = max(whole[name], along)
    return own, whole


def _lengths_m(planned: Planned, paths: tuple[Path, ...]) -> tuple[float, float]:
    """Return the length of a feeder's positive and of its return, 0 for what it has not."""
    out_m = home_m = 0.0
    for leg, path in zip(planned.plan.legs, paths, strict=True):
        if leg.live == "return":
            home_m += path.length_m
        else:
            out_m += path.length_m
    return out_m, home_m


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
    own, whole = _weights(needs, paths, aboard)
    found: dict[str, FeederLimits] = {}
    for name, need in needs.items():
        share = (own[name], whole[name]) if own[name] else (1.0, 1.0)
        heat = heat_factor(paths[name], aboard.boat, aboard.profile)
        bundle = bundle_factor(bundled.get(name, 0), aboard.profile.school)
        found[name] = _limits(need, paths[name], share, (heat, bundle), aboard, ladder)
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
    share: tuple[float, float],
    factors: tuple[float, float],
    aboard: Aboard,
    ladder: Ladder,
) -> FeederLimits:
    name, profile = need.planned.id, aboard.profile
    out_m, home_m = _lengths_m(need.planned, paths)
    nominal_v = aboard.boat.network.voltage(need.feed.source if need.feed else "")
    limit_v = profile.critical_drop_percent / 100 * nominal_v * profile.feeder_share
    heat, bundle = factors
    weight, whole = share
    share_v = limit_v * weight / whole
    moment = need.borne_a * out_m + need.home.total_a * home_m
    permitted = share_v / moment if moment > 0 else np.inf
    override = aboard.order.override(name, "gauge")
    needed = _needed(need, (heat, heat * bundle), permitted, paths, aboard, ladder)
    terminals = thickest_rung(need.planned, aboard.boat.network, ladder)
    limits = FeederLimits(
        out_a=need.borne_a,
        home_a=need.home.total_a,
        out_m=out_m,
        home_m=home_m,
        factor=heat * bundle,
        heat=heat,
        chain_v=limit_v,
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
    permitted_ohm_per_m: float,
    paths: tuple[Path, ...],
    aboard: Aboard,
    ladder: Ladder,
) -> tuple[tuple[str, int], ...]:
    """Return the rung each limit asks for, whatever hangs behind."""

    profile = aboard.profile
    heat, factor = factors
    asked = device_rungs(need, heat, factor, ladder)
    drop = int(np.searchsorted(-ladder.ohm_per_m, -permitted_ohm_per_m * (1 + 1e-12)))
    return (
        ("smallest allowed", ladder.gauges.index(smallest.smallest_separate(profile.series))),
        ("shop floor", ladder.rung(profile.shop_floor, "profile.shop_floor")),
        ("maker", ladder.rung(need.least_gauge or None, f"return_buses.{need.planned.bus}.gauge")),
        ("ampacity", _reach(need.borne_a, factor, ladder)),
        ("protection", asked["protection"]),
        ("return", asked["return"]),
        ("drop", drop),
        ("plug contact", contact_floor(need.rating_a, ladder, paths)),
    )
