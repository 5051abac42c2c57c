"""Stage 4, size: gauge and protection of every circuit and feeder, to a fixed point.

Sizes, loaded bundles and feeder drops depend on one another. Rungs only ever rise and bundle
factors only ever fall from pass to pass, so the iteration ends.
"""

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.drafting.feeders import FeederNeed, return_chain
from vivid_loom.drafting.ladder import Ladder
from vivid_loom.drafting.lines import Lines, heat_factor
from vivid_loom.drafting.resolve import Aboard
from vivid_loom.drafting.route import Path
from vivid_loom.standards import ampacity, protection, smallest

__all__ = ["CONSTRAINTS", "FeederSize", "Sizes", "size"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

CONSTRAINTS = (
    "smallest allowed", "shop floor", "plug contact", "maker", "maker's table",
    "ampacity", "protection", "drop",
)  # fmt: skip
"""Names of the rows of ``Sizes.needed``; of two that ask for the same rung, the later governs."""

SHORT_FEEDER_M = 1.0  # a shorter loop is not worth copper for drop; our choice
LOADED_SHARE = 0.3  # of ampacity; below it a conductor does not count as loaded


class FeederSize(NamedTuple):
    """Rung and drop of one feeder.

    Attributes:
        needed: rung each of smallest, ampacity, protection, return and share asks for.
        share_v: the part of the critical limit it may use.
        drop_v: of this feeder alone, at demand, there and home.
    """

    rung: int
    drafted: int
    needed: tuple[tuple[str, int], ...]
    out_m: float
    home_m: float
    factor: float
    share_v: float
    drop_v: float


class Sizes(NamedTuple):
    """The fixed point.

    Attributes:
        rung: (n,) ladder index that stands; ``drafted`` without overrides.
        needed: (constraints, n) rung each constraint asks for; len(ladder) if none serves.
        factor: (n,) heat × bundling; ``bundle`` the bundling part alone.
        feeder_v: (n,) drop of the shared feeders, V.
        feeders: by supply id.
    """

    rung: Ints
    drafted: Ints
    needed: Ints
    factor: Floats
    bundle: Floats
    bundled_with: Ints
    feeder_v: Floats
    feeders: dict[str, FeederSize]
    passes: int


def _bundle(lines: Lines, ladder: Ladder, rung: Ints, aboard: Aboard) -> tuple[Floats, Ints]:
    """Return per circuit the bundling factor of its worst run, and the count behind it."""
    count = len(lines.circuits)
    if aboard.profile.bundling == "off" or count == 0:
        return np.ones(count), np.zeros(count, dtype=np.int64)
    loaded = lines.current_a > LOADED_SHARE * ladder.free_air_a[rung]
    if aboard.profile.bundling == "all":
        loaded = np.ones(count, dtype=bool)
    in_run = np.asarray(lines.runs.T @ loaded.astype(float))
    most = np.zeros(count)
    starts, ends = lines.runs.indptr[:-1], lines.runs.indptr[1:]
    filled = starts < ends
    if filled.any():
        values = in_run[lines.runs.indices]
        most[filled] = np.maximum.reduceat(values, starts[filled])
    numbers = most.round().astype(np.int64)
    # an unloaded conductor is not derated by its loaded neighbours under the 'loaded' school
    numbers = np.where(loaded, numbers, 0)
    factors = {n: ampacity.bundle_factor(n, aboard.profile.school) for n in set(numbers.tolist())}
    return np.array([factors[n] for n in numbers.tolist()]), numbers


def _first_at_least(values: Floats, wanted: Floats) -> Ints:
    """Return for each wanted value the first index of rising ``values`` that reaches it."""
    return np.searchsorted(values, wanted - 1e-9, side="left").astype(np.int64)


def _protection_rungs(rating: Floats, factor: Floats, ladder: Ladder, tolerance: str) -> Ints:
    wanted = np.where(np.isnan(rating), 0.0, rating) / factor
    if tolerance == "never_above":
        return _first_at_least(ladder.free_air_a, wanted)
    rungs = np.empty(len(rating), dtype=np.int64)
    for i, (amps, share) in enumerate(zip(rating.tolist(), factor.tolist(), strict=True)):
        bears = [allowed_rating_a(a * share, tolerance) for a in ladder.free_air_a.tolist()]
        rungs[i] = next((k for k, b in enumerate(bears) if not amps > b), len(bears))
    return rungs


def allowed_rating_a(ampacity_a: float, tolerance: str) -> float:
    """Return the greatest protection a conductor of this (derated) ampacity may have."""
    if tolerance == "never_above":
        return ampacity_a
    above = protection.next_rating_a("breaker", ampacity_a) or ampacity_a
    return max(ampacity_a, min(above, 1.5 * ampacity_a))


def _drop_rungs(lines: Lines, feeder_v: Floats, ladder: Ladder) -> Ints:
    left = lines.limit_v - feeder_v
    with np.errstate(divide="ignore", invalid="ignore"):
        permitted = np.where(lines.moment_am > 0, left / lines.moment_am, np.inf)
    # resistance falls along the ladder: search the negated values, which rise
    return _first_at_least(-ladder.ohm_per_m, -permitted * (1 + 1e-12))


def _size_feeders(
    needs: dict[str, FeederNeed], paths: dict[str, tuple[Path, ...]], aboard: Aboard,
    ladder: Ladder, branch_floor: dict[str, int],
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
    least = ladder.gauges.index(smallest.smallest_separate(profile.series))
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
            ("smallest allowed", least),
            ("shop floor", ladder.rung(profile.shop_floor, "profile.shop_floor")),
            ("ampacity", reach(need.out.total_a)),
            ("protection", reach(rating)),
            ("return", reach(max(need.return_a, need.home.total_a)) if need.planned.bus else 0),
            ("drop", int(np.searchsorted(-ladder.ohm_per_m, -permitted * (1 + 1e-12)))),
            ("branch drop", branch_floor.get(name, 0)),
        )
        drafted = min(top, max(rung for _, rung in needed))
        override = aboard.order.override(need.planned.id, "gauge")
        place = f"overrides.{need.planned.id}.gauge"
        rung = ladder.exactly(override.value, place) if override else drafted
        drop_v = moment * float(ladder.ohm_per_m[rung])
        sized[name] = FeederSize(rung, drafted, needed, out_m, home_m, factor, share_v, drop_v)
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


def _settle_feeders(
    lines: Lines, needs: dict[str, FeederNeed], paths: dict[str, tuple[Path, ...]],
    aboard: Aboard, ladder: Ladder,
) -> tuple[dict[str, FeederSize], Floats]:  # fmt: skip
    """Thicken feeders, the one that gains most for its copper first, while a branch cannot hold
    its limit with the thickest wire its terminals take but could behind a better feeder.
    """
    top = len(ladder.gauges) - 1
    floor: dict[str, int] = {}
    best = lines.moment_am * ladder.ohm_per_m[np.minimum(lines.cap, top)]
    thickest = _size_feeders(needs, paths, aboard, ladder, dict.fromkeys(needs, top))
    within_reach = best + _feeder_volts(lines, needs, thickest, aboard, ladder) <= lines.limit_v
    drafted = [aboard.order.override(c.id, "gauge") is None for c in lines.circuits]
    counts = within_reach & np.array(drafted, dtype=bool)
    while True:
        feeders = _size_feeders(needs, paths, aboard, ladder, floor)
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
            return feeders, feeder_v


def _forced(lines: Lines, aboard: Aboard, ladder: Ladder, drafted: Ints) -> Ints:
    rung = drafted.copy()
    for index, circuit in enumerate(lines.circuits):
        if override := aboard.order.override(circuit.id, "gauge"):
            rung[index] = ladder.exactly(override.value, f"overrides.{circuit.id}.gauge")
    return rung


def size(
    lines: Lines, needs: dict[str, FeederNeed], feeder_paths: dict[str, tuple[Path, ...]],
    aboard: Aboard, ladder: Ladder,
) -> Sizes:  # fmt: skip
    """Find the thinnest rungs that satisfy every limit.

    Args:
        lines: circuits with known currents.
        needs: feeders by supply id.
        feeder_paths: paths of each feeder's legs by feeder id.

    Raises:
        DraftError: an override that is no stocked gauge.
    """
    feeders, feeder_v = _settle_feeders(lines, needs, feeder_paths, aboard, ladder)
    maker, least, shop, contact, table = lines.floor
    top = len(ladder.gauges) - 1
    rung = np.zeros(len(lines.circuits), dtype=np.int64)
    bundle, bundled_with = np.ones(len(rung)), np.zeros(len(rung), dtype=np.int64)
    drop_rungs = _drop_rungs(lines, feeder_v, ladder)
    for passes in range(1, 4 * len(ladder.gauges)):
        factor = lines.heat_factor * bundle
        needed = np.stack([
            least, shop, contact, maker, table,
            _first_at_least(ladder.free_air_a, lines.current_a / factor),
            _protection_rungs(lines.rating_a, factor, ladder, aboard.profile.tolerance),
            drop_rungs,
        ])  # fmt: skip
        drafted = np.maximum(rung, np.minimum(needed.max(axis=0), np.minimum(lines.cap, top)))
        fresh, numbers = _bundle(lines, ladder, drafted, aboard)
        if passes > 1 and (drafted == rung).all() and (fresh >= bundle).all():
            break
        bundled_with = np.where(fresh < bundle, numbers, bundled_with)
        rung, bundle = drafted, np.minimum(bundle, fresh)
    standing = _forced(lines, aboard, ladder, drafted)
    return Sizes(standing, drafted, needed, factor, bundle, bundled_with, feeder_v, feeders, passes)
