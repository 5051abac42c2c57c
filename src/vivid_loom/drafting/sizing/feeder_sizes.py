"""Feeders' share of stage 4: sized for demand, device and return, thickened for their branches."""

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import Lines, contact_floor, heat_factor
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.standards import smallest

__all__ = ["FeederSize", "Floors", "borne_a", "settle_feeders", "shared_feeder_v"]

Floats = NDArray[np.float64]


class Floors(NamedTuple):
    """Rungs that are asked for once sizes stand, by circuit or feeder id.

    Attributes:
        short: what a short circuit asks for.
        behind: the thickest circuit behind each feeder: none is thinner than what it feeds.
    """

    short: dict[str, int]
    behind: dict[str, int]


class FeederSize(NamedTuple):
    """Rung and drop of one feeder.

    Attributes:
        needed: rung each of smallest, ampacity, protection, return and share asks for.
        share_v: the part of the critical limit it may use: ``weight`` of ``whole``, its own
            length × √A of the chain's.
        drop_v: of this feeder alone, at demand, there and home.
    """

    id: str
    rung: int
    drafted: int
    needed: tuple[tuple[str, int], ...]
    out_m: float
    home_m: float
    factor: float
    share_v: float
    weight: float
    whole: float
    drop_v: float


def _weights(
    needs: dict[str, FeederNeed], paths: dict[str, tuple[Path, ...]], aboard: Aboard
) -> tuple[dict[str, float], dict[str, float]]:
    """Return each feeder's length × √A, and the sum along its longest chain.

    Least copper for a given drop along the chain: v ∝ L·√I, from minimising Σ S·L.
    """
    network = aboard.boat.network
    loops = {name: sum(path.length_m for path in paths[name]) for name in needs}
    own = {name: math.sqrt(borne_a(need)) * loops[name] for name, need in needs.items()}
    whole = dict(own)
    for place in network.supplies:
        for chain in network.to_source(place):
            along = sum(own[link] for link in chain)
            for name in chain:
                whole[name] = max(whole[name], along)
    return own, whole


def borne_a(need: FeederNeed) -> float:
    """Return the current a feeder is sized for, in A: what it takes out, or takes back."""
    return max(need.out.total_a, need.charge_a)


def _needed(
    need: FeederNeed,
    factor: float,
    permitted_ohm_per_m: float,
    aboard: Aboard,
    ladder: Ladder,
    floors: tuple[int, int, int, int],
) -> tuple[tuple[str, int], ...]:
    """Return the rung each limit asks for.

    Args:
        floors: what branches' drop, the thickest branch, short circuits and plugs ask for.
    """

    def reach(amps: float) -> int:
        return int(np.searchsorted(ladder.free_air_a, amps / factor - 1e-9))

    profile = aboard.profile
    rating = 0.0
    for device_a in (need.rating_a, need.guard_a):
        rating = max(rating, 0.0 if np.isnan(device_a) else device_a)
    home = reach(max(need.return_a, need.home.total_a, need.charge_a)) if need.planned.bus else 0
    drop = int(np.searchsorted(-ladder.ohm_per_m, -permitted_ohm_per_m * (1 + 1e-12)))
    return (
        ("smallest allowed", ladder.gauges.index(smallest.smallest_separate(profile.series))),
        ("shop floor", ladder.rung(profile.shop_floor, "profile.shop_floor")),
        ("ampacity", reach(borne_a(need))),
        ("protection", reach(rating)),
        ("return", home),
        ("drop", drop),
        ("branch drop", floors[0]),
        ("branch behind", floors[1]),
        ("short circuit", floors[2]),
        ("plug contact", floors[3]),
    )


def _size_feeders(
    needs: dict[str, FeederNeed],
    paths: dict[str, tuple[Path, ...]],
    aboard: Aboard,
    ladder: Ladder,
    branch_floor: dict[str, int],
    least: Floors,
) -> dict[str, FeederSize]:
    profile, boat = aboard.profile, aboard.boat
    weights, whole = _weights(needs, paths, aboard)
    top = len(ladder.gauges) - 1
    sized: dict[str, FeederSize] = {}
    for name, need in needs.items():
        out_m, home_m = _lengths_m(need.planned, paths[name])
        nominal_v = boat.network.voltage(need.feed.source if need.feed else "")
        limit_v = profile.critical_drop_percent / 100 * nominal_v * profile.feeder_share
        factor = heat_factor(paths[name], boat, profile)
        weight, chain = (weights[name], whole[name]) if weights[name] else (1.0, 1.0)
        share_v = limit_v * weight / chain
        moment = borne_a(need) * out_m + need.home.total_a * home_m
        permitted = share_v / moment if moment > 0 else np.inf
        floors = (
            branch_floor.get(name, 0),
            least.behind.get(name, 0),
            least.short.get(name, 0),
            contact_floor(need.rating_a, ladder, paths[name]),
        )
        needed = _needed(need, factor, permitted, aboard, ladder, floors)
        drafted = min(top, max(rung for _, rung in needed))
        override = aboard.order.override(name, "gauge")
        place = f"overrides.{name}.gauge"
        rung = ladder.exactly(override.value, place) if override else drafted
        sized[name] = FeederSize(
            id=name,
            rung=rung,
            drafted=drafted,
            needed=needed,
            out_m=out_m,
            home_m=home_m,
            factor=factor,
            share_v=share_v,
            weight=weight,
            whole=chain,
            drop_v=moment * float(ladder.ohm_per_m[rung]),
        )
    return sized


def _lengths_m(planned: Planned, paths: tuple[Path, ...]) -> tuple[float, float]:
    """Return the length of a feeder's positive and of its return, 0 for what it has not."""
    out_m = home_m = 0.0
    for leg, path in zip(planned.plan.legs, paths, strict=True):
        if leg.live == "return":
            home_m += path.length_m
        else:
            out_m += path.length_m
    return out_m, home_m


SharedLeg = tuple[str, float, float, float]


def shared_feeder_v(
    source: str,
    bus: str,
    needs: dict[str, FeederNeed],
    feeders: dict[str, FeederSize],
    aboard: Aboard,
    ladder: Ladder,
) -> list[SharedLeg]:
    """Return the feeder legs a circuit shares: (feeder id and side, A, Ω, V).

    Of several ways from a battery and home to it, the one with the greatest drop. A converter
    holds its output by itself: what is behind one starts there, and returns there.
    """
    network = aboard.boat.network

    def out(name: str) -> SharedLeg:
        ohm = feeders[name].out_m * float(ladder.ohm_per_m[feeders[name].rung])
        amps = borne_a(needs[name])
        return (f"{name} plus", amps, ohm, amps * ohm)

    def home(name: str) -> SharedLeg:
        ohm = feeders[name].home_m * float(ladder.ohm_per_m[feeders[name].rung])
        amps = needs[name].home.total_a
        return (f"{name} minus", amps, ohm, amps * ohm)

    loops = [
        [*(out(name) for name in reversed(chain)), *(home(name) for name in back)]
        for chain, back in network.loops(source, bus)
    ]
    return max(loops, key=_volts, default=[])


def _volts(legs: list[SharedLeg]) -> float:
    return sum(leg[3] for leg in legs)


def _feeder_volts(
    lines: Lines,
    needs: dict[str, FeederNeed],
    feeders: dict[str, FeederSize],
    aboard: Aboard,
    ladder: Ladder,
) -> Floats:
    pairs = sorted({(c.source, c.bus) for c in lines.circuits})
    shared = {
        pair: sum(leg[3] for leg in shared_feeder_v(*pair, needs, feeders, aboard, ladder))
        for pair in pairs
    }
    return np.array([shared[(c.source, c.bus)] for c in lines.circuits])


def _gain_per_copper(feeder: FeederSize, ladder: Ladder) -> float:
    """Return the volts a feeder's next size saves per mm² and m of copper it adds."""
    now, then = feeder.drafted, feeder.drafted + 1
    saved = feeder.drop_v * (1 - float(ladder.ohm_per_m[then] / ladder.ohm_per_m[now]))
    copper = (ladder.area_mm2[then] - ladder.area_mm2[now]) * (feeder.out_m + feeder.home_m)
    return saved / copper


def settle_feeders(
    lines: Lines,
    needs: dict[str, FeederNeed],
    paths: dict[str, tuple[Path, ...]],
    aboard: Aboard,
    ladder: Ladder,
    least: Floors,
) -> tuple[dict[str, FeederSize], Floats]:
    """Thicken feeders, the one that gains most for its copper first, while a branch cannot hold
    its limit with the thickest wire its terminals take but could behind a better feeder.
    """
    top = len(ladder.gauges) - 1
    floor: dict[str, int] = {}
    best = lines.moment_am * ladder.ohm_per_m[np.minimum(lines.cap, top)]
    thickest = _size_feeders(needs, paths, aboard, ladder, dict.fromkeys(needs, top), least)
    within_reach = best + _feeder_volts(lines, needs, thickest, aboard, ladder) <= lines.limit_v
    drafted = [aboard.order.override(c.id, "gauge") is None for c in lines.circuits]
    counts = within_reach & np.array(drafted, dtype=bool)
    while True:
        feeders = _size_feeders(needs, paths, aboard, ladder, floor, least)
        feeder_v = _feeder_volts(lines, needs, feeders, aboard, ladder)
        short = counts & (best + feeder_v > lines.limit_v)
        grown = False
        for index in np.flatnonzero(short)[:1]:
            circuit = lines.circuits[index]
            network = aboard.boat.network
            chain = {*network.upstream(circuit.source), *network.homeward(circuit.bus)}
            free = [n for n in sorted(chain) if feeders[n].drafted < top]
            if free:
                chosen = max(free, key=lambda n: (_gain_per_copper(feeders[n], ladder), n))
                floor[chosen] = feeders[chosen].drafted + 1
                grown = True
        if not grown:
            break
    for name in sorted(floor):  # what an earlier step raised may no longer be wanted
        while floor[name] > 0:
            trial = {**floor, name: floor[name] - 1}
            thinner = _size_feeders(needs, paths, aboard, ladder, trial, least)
            volts = _feeder_volts(lines, needs, thinner, aboard, ladder)
            if (counts & (best + volts > lines.limit_v)).any():
                break
            floor, feeders, feeder_v = trial, thinner, volts
    return feeders, feeder_v
