"""A boat's feeders and branches laid out for the search for least copper."""

from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.boat import Network
from vivid_loom.drafting.sizing.feeder_limits import FeederLimits
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.least_copper import Trunk, Ways
from vivid_loom.drafting.sizing.lines import Lines

__all__ = ["Chained", "Laid", "trunk_of", "ways_of"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Limits = Mapping[str, FeederLimits]
Chain = tuple[str, ...]


class Laid(NamedTuple):
    """How branches hang on feeders.

    Attributes:
        metres: (n,) of all conductors of each branch.
        pair_of: (n,) pair of source and bus of each branch; ``loops`` the ways there and home of
            each pair.
        chain_share: of the nominal voltage, what a chain of feeders may drop.
    """

    lines: Lines
    metres: Floats
    pair_of: Ints
    loops: tuple[tuple[tuple[Chain, Chain], ...], ...]
    network: Network
    ladder: Ladder
    chain_share: float


class Chained(NamedTuple):
    """Ways over feeders, and what the chains of these may drop.

    Attributes:
        most_v: (c,) of each chain.
        alone: (c,) the feeder that is by itself, whose own limit holds; −1 for other chains.
    """

    ways: Ways
    most_v: Floats
    alone: Ints


def ways_of(laid: Laid, names: Sequence[str]) -> Chained:
    """Return the ways over feeders of these names, in their order."""
    at = {name: i for i, name in enumerate(names)}
    ways = [(pair, way) for pair, loops in enumerate(laid.loops) for way in loops]
    out, home = np.zeros((len(ways), len(at))), np.zeros((len(ways), len(at)))
    for i, (_, (chain, back)) in enumerate(ways):
        out[i, [at[name] for name in chain]] = 1
        home[i, [at[name] for name in back]] += 1
    circuits = laid.lines.circuits
    sources = sorted({circuit.source for circuit in circuits})
    place = {source: i for i, source in enumerate(sources)}
    behind = np.zeros((len(at), len(sources)), dtype=bool)
    for i, source in enumerate(sources):
        behind[[at[name] for name in laid.network.upstream(source)], i] = True
    routed = {pair for pair, _ in ways}
    chains, most_v, alone = _chains(laid, at)
    found = Ways(
        out=out,
        home=home,
        of_pair=_by_pair([pair for pair, _ in ways], len(laid.loops)),
        pair=np.array([p if p in routed else -1 for p in laid.pair_of.tolist()], dtype=np.int64),
        source=np.array([place[c.source] for c in circuits], dtype=np.int64),
        behind=behind,
        chains=chains,
    )
    return Chained(found, most_v, alone)


def trunk_of(
    laid: Laid, chained: Chained, limits: Limits, least: Ints, fixed: NDArray[np.bool_]
) -> Trunk:
    """Return what the search looks at.

    Args:
        chained: the feeders of these limits, in their order.
        least: (n,) rung each branch asks for whatever its drop.
        fixed: (n,) branches whose size the engineer set: they stay there.
    """
    lines, ladder, top = laid.lines, laid.ladder, len(laid.ladder.gauges) - 1
    each = [*limits.values()]
    floor = [_floor(limit) for limit in each]
    own_v = np.array([*(limit.chain_v for limit in each), np.nan])  # the last for none
    return Trunk(
        ways=chained.ways,
        ohm_per_m=ladder.ohm_per_m,
        area_mm2=np.array(ladder.area_mm2),
        out_am=np.array([limit.out_a * limit.out_m for limit in each]),
        home_am=np.array([limit.home_a * limit.home_m for limit in each]),
        length_m=np.array([limit.out_m + limit.home_m for limit in each]),
        floor=np.minimum(np.array(floor, dtype=np.int64), top),
        most=np.array([limit.most for limit in each], dtype=np.int64),
        fixed=np.array([limit.forced >= 0 for limit in each], dtype=bool),
        most_v=np.where(chained.alone < 0, chained.most_v, own_v[chained.alone]),
        moment_am=np.where(fixed, 0.0, lines.moment_am),
        metres=laid.metres,
        limit_v=lines.limit_v,
        least=np.minimum(least, lines.cap),
        cap=np.minimum(lines.cap, top),
    )


def _by_pair(pairs: list[int], count: int) -> Ints:
    """Return the ways (pairs, w) of each pair; one without any has the first: nothing asks it."""
    ways = [[i for i, pair in enumerate(pairs) if pair == one] or [0] for one in range(count)]
    most = max(map(len, ways), default=1)
    found = [(each * most)[:most] for each in ways]
    return np.array(found if pairs else [], dtype=np.int64).reshape(-1, most)


def _floor(limit: FeederLimits) -> int:
    """Return the rung a feeder asks for whatever it drops, or the engineer's."""
    if limit.forced >= 0:
        return limit.forced
    return limit.own


def _chains(laid: Laid, at: Mapping[str, int]) -> tuple[Floats, Floats, Ints]:
    """Return which feeders lie in a row, what they may drop together, and which lies alone."""
    rows: dict[tuple[int, ...], float] = {}
    for place in laid.network.supplies:
        volts = laid.chain_share * laid.network.voltage(place)
        for chain in laid.network.to_source(place):
            rows[tuple(sorted(at[name] for name in chain))] = volts
    alone = [-1] * len(rows)
    for feeder in at.values():
        if (feeder,) not in rows:
            rows[feeder,] = 0.0
            alone.append(feeder)
    found = np.zeros((len(rows), len(at)))
    for i, row in enumerate(rows):
        found[i, list(row)] = 1
    volts_of = np.array([*rows.values()], dtype=float)
    return found, volts_of, np.array(alone, dtype=np.int64)
