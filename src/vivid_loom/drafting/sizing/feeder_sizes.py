"""Feeders' share of stage 4: sized for demand, device and return, thickened for their branches."""

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import Lines, heat_factor
from vivid_loom.drafting.sizing.needs import FeederNeed, return_chain
from vivid_loom.standards import smallest

__all__ = ["FeederSize", "settle_feeders", "shared_feeder_v"]

Floats = NDArray[np.float64]

SHORT_FEEDER_M = 1.0  # a shorter loop is not worth copper for drop; our choice


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
    boat = aboard.boat
    loops = {
        name: sum(path.length_m for path in paths[need.planned.id]) for name, need in needs.items()
    }
    own = {
        name: math.sqrt(need.out.total_a) * loops[name] if loops[name] >= SHORT_FEEDER_M else 0.0
        for name, need in needs.items()
    }
    whole = {
        name: max(
            sum(own[link] for link in boat.supply_chain(other))
            for other in needs
            if name in boat.supply_chain(other)
        )
        for name in needs
    }
    return own, whole


def _needed(
    need: FeederNeed,
    factor: float,
    permitted_ohm_per_m: float,
    aboard: Aboard,
    ladder: Ladder,
    floors: tuple[int, int],
) -> tuple[tuple[str, int], ...]:
    """Return the rung each limit asks for; ``floors`` are of branches and of short circuits."""

    def reach(amps: float) -> int:
        return int(np.searchsorted(ladder.free_air_a, amps / factor - 1e-9))

    profile = aboard.profile
    rating = 0.0 if np.isnan(need.rating_a) else need.rating_a
    home = reach(max(need.return_a, need.home.total_a)) if need.planned.bus else 0
    drop = int(np.searchsorted(-ladder.ohm_per_m, -permitted_ohm_per_m * (1 + 1e-12)))
    return (
        ("smallest allowed", ladder.gauges.index(smallest.smallest_separate(profile.series))),
        ("shop floor", ladder.rung(profile.shop_floor, "profile.shop_floor")),
        ("ampacity", reach(need.out.total_a)),
        ("protection", reach(rating)),
        ("return", home),
        ("drop", drop),
        ("branch drop", floors[0]),
        ("short circuit", floors[1]),
    )


def _size_feeders(
    needs: dict[str, FeederNeed],
    paths: dict[str, tuple[Path, ...]],
    aboard: Aboard,
    ladder: Ladder,
    branch_floor: dict[str, int],
    least: dict[str, int],
) -> dict[str, FeederSize]:
    profile, boat = aboard.profile, aboard.boat
    weights, whole = _weights(needs, paths, aboard)
    limit_v = profile.critical_drop_percent / 100 * boat.nominal_v * profile.feeder_share
    top = len(ladder.gauges) - 1
    sized: dict[str, FeederSize] = {}
    for name, need in needs.items():
        feeder = need.planned.id
        out_m = paths[feeder][0].length_m
        home_m = sum(path.length_m for path in paths[feeder][1:])
        factor = heat_factor(paths[feeder], boat, profile)
        weight, chain = (weights[name], whole[name]) if weights[name] else (1.0, 1.0)
        share_v = limit_v * weight / chain
        moment = need.out.total_a * out_m + need.home.total_a * home_m
        permitted = share_v / moment if moment > 0 else np.inf
        floors = (branch_floor.get(name, 0), least.get(feeder, 0))
        needed = _needed(need, factor, permitted, aboard, ladder, floors)
        drafted = min(top, max(rung for _, rung in needed))
        override = aboard.order.override(feeder, "gauge")
        place = f"overrides.{feeder}.gauge"
        rung = ladder.exactly(override.value, place) if override else drafted
        sized[name] = FeederSize(
            id=feeder,
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


def shared_feeder_v(
    source: str,
    bus: str,
    needs: dict[str, FeederNeed],
    feeders: dict[str, FeederSize],
    aboard: Aboard,
    ladder: Ladder,
) -> list[tuple[str, float, float, float]]:
    """Return the feeder legs a circuit shares: (feeder id and side, A, Ω, V)."""
    legs: list[tuple[str, float, float, float]] = []
    for name in reversed(aboard.boat.supply_chain(source)):
        ohm = feeders[name].out_m * float(ladder.ohm_per_m[feeders[name].rung])
        amps = needs[name].out.total_a
        legs.append((f"{needs[name].planned.id} plus", amps, ohm, amps * ohm))
    for name in return_chain(bus, aboard):
        ohm = feeders[name].home_m * float(ladder.ohm_per_m[feeders[name].rung])
        amps = needs[name].home.total_a
        legs.append((f"{needs[name].planned.id} minus", amps, ohm, amps * ohm))
    return legs


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
    least: dict[str, int],
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
            chain = {*aboard.boat.supply_chain(circuit.source), *return_chain(circuit.bus, aboard)}
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
