"""Feeders' share of stage 4: sized for demand, device and return, thickened for their branches."""

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.drafting.feeders import FeederNeed, return_chain
from vivid_loom.drafting.ladder import Ladder
from vivid_loom.drafting.lines import Lines, heat_factor
from vivid_loom.drafting.resolve import Aboard
from vivid_loom.drafting.route import Path
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


def _size_feeders(
    needs: dict[str, FeederNeed], paths: dict[str, tuple[Path, ...]], aboard: Aboard,
    ladder: Ladder, branch_floor: dict[str, int], least: dict[str, int],
) -> dict[str, FeederSize]:  # fmt: skip
    profile, boat = aboard.profile, aboard.boat
    # least copper for a given drop along the chain: v ∝ L·√I, from minimising Σ S·L
    weights = {
        name: math.sqrt(need.out.total_a) * loop_m
        if (loop_m := sum(path.length_m for path in paths[need.planned.id])) >= SHORT_FEEDER_M
        else 0.0
        for name, need in needs.items()
    }
    whole = {
        name: max(
            sum(weights[link] for link in boat.supply_chain(other))
            for other in needs
            if name in boat.supply_chain(other)
        )
        for name in needs
    }
    limit_v = profile.critical_drop_percent / 100 * boat.nominal_v * profile.feeder_share
    smallest_rung = ladder.gauges.index(smallest.smallest_separate(profile.series))
    top = len(ladder.gauges) - 1
    sized: dict[str, FeederSize] = {}
    for name, need in needs.items():
        out_m = paths[need.planned.id][0].length_m
        home_m = sum(path.length_m for path in paths[need.planned.id][1:])
        factor = heat_factor(paths[need.planned.id], boat, profile)
        share_v = limit_v * weights[name] / whole[name] if weights[name] else limit_v
        moment = need.out.total_a * out_m + need.home.total_a * home_m
        permitted = share_v / moment if moment > 0 else np.inf

        def reach(amps: float, factor: float = factor) -> int:
            return int(np.searchsorted(ladder.free_air_a, amps / factor - 1e-9))

        rating = 0.0 if np.isnan(need.rating_a) else need.rating_a
        needed = (
            ("smallest allowed", smallest_rung),
            ("shop floor", ladder.rung(profile.shop_floor, "profile.shop_floor")),
            ("ampacity", reach(need.out.total_a)),
            ("protection", reach(rating)),
            ("return", reach(max(need.return_a, need.home.total_a)) if need.planned.bus else 0),
            ("drop", int(np.searchsorted(-ladder.ohm_per_m, -permitted * (1 + 1e-12)))),
            ("branch drop", branch_floor.get(name, 0)),
            ("short circuit", least.get(need.planned.id, 0)),
        )
        drafted = min(top, max(rung for _, rung in needed))
        override = aboard.order.override(need.planned.id, "gauge")
        place = f"overrides.{need.planned.id}.gauge"
        rung = ladder.exactly(override.value, place) if override else drafted
        drop_v = moment * float(ladder.ohm_per_m[rung])
        weight, all_of_it = (weights[name], whole[name]) if weights[name] else (1.0, 1.0)
        sized[name] = FeederSize(
            need.planned.id,
            rung,
            drafted,
            needed,
            out_m,
            home_m,
            factor,
            share_v,
            weight,
            all_of_it,
            drop_v,
        )
    return sized


def shared_feeder_v(
    source: str, bus: str, needs: dict[str, FeederNeed], feeders: dict[str, FeederSize],
    aboard: Aboard, ladder: Ladder,
) -> list[tuple[str, float, float, float]]:  # fmt: skip
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
    lines: Lines, needs: dict[str, FeederNeed], feeders: dict[str, FeederSize], aboard: Aboard,
    ladder: Ladder,
) -> Floats:  # fmt: skip
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
    lines: Lines, needs: dict[str, FeederNeed], paths: dict[str, tuple[Path, ...]],
    aboard: Aboard, ladder: Ladder, least: dict[str, int],
) -> tuple[dict[str, FeederSize], Floats]:  # fmt: skip
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
