"""Feeders' share of stage 4: the sizes their limits and their shares of the drop ask for."""

from collections.abc import Iterator, Mapping
from functools import partial
from types import MappingProxyType
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.bundling import FeederBundles
from vivid_loom.drafting.sizing.feeder_limits import FeederSize, feeder_limits
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import Lines
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.drafting.sizing.shares import Row, Share, shares

__all__ = ["Feeders", "Floors"]

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
Chain = tuple[str, ...]
LIGHT: Final = 2  # conductors together that no school derates
PANELS: Final = frozenset({"fuse_block", "breaker_panel"})
"""What a main feeder feeds, whose drop is limited like that of critical loads whatever it feeds."""


class Floors(NamedTuple):
    """Rungs that are asked for once sizes stand, by circuit or feeder id.

    Attributes:
        short: what a short circuit asks for.
        behind: the thickest circuit behind each feeder: none is thinner than what it feeds.
    """

    short: dict[str, int]
    behind: dict[str, int]


Rungs = dict[str, int]


class _Drops(NamedTuple):
    """Drop of every feeder's positive and of its return, V."""

    out: dict[str, float]
    home: dict[str, float]


def _shared_v(loops: tuple[tuple[Chain, Chain], ...], drops: _Drops) -> float:
    """Return the greatest drop of the feeders on several ways there and home."""
    ways = (
        sum([*(drops.out[n] for n in reversed(chain)), *(drops.home[n] for n in back)])
        for chain, back in loops
    )
    return max(ways, default=0.0)


class Feeders:
    """All feeders of a draft: sized again and again while what hangs behind them is sized."""

    def __init__(
        self,
        lines: Lines,
        needs: dict[str, FeederNeed],
        paths: dict[str, tuple[Path, ...]],
        aboard: Aboard,
        ladder: Ladder,
        bundled: Mapping[str, int] = MappingProxyType({}),
    ) -> None:
        self.lines, self.ladder, self.network = lines, ladder, aboard.boat.network
        self.profile = aboard.profile
        self.top = len(ladder.gauges) - 1
        self.ohm_per_m: list[float] = ladder.ohm_per_m.tolist()
        self.homing = {name: need.tops for name, need in needs.items() if need.tops}
        """By return: the feeders whose current it brings home, and that it is as thick as."""
        borne_a = {name: max(need.borne_a, need.home.total_a) for name, need in needs.items()}
        self.bundles = FeederBundles.of(borne_a, paths, aboard)
        self.bundled = bundled
        self._again = partial(Feeders, lines, needs, paths, aboard, ladder)
        forced = tuple(aboard.order.override(name, "gauge") for name in needs)
        lying = tuple(paths[name] for name in needs)
        self.limits = aboard.kept.take(
            "feeder limits",
            " ".join(f"{name} {count}" for name, count in sorted(bundled.items())),
            (needs, forced, lying, aboard.order.built_with, aboard.boat, aboard.profile, ladder),
            lambda: feeder_limits(needs, paths, aboard, ladder, bundled),
        )
        self.pairs = sorted({(c.source, c.bus) for c in lines.circuits})
        at = {pair: i for i, pair in enumerate(self.pairs)}
        self.pair_of = np.array([at[c.source, c.bus] for c in lines.circuits], dtype=np.int64)
        self.loops = [self.network.loops(*pair) for pair in self.pairs]

    def beside_more(self, counts: Mapping[str, int]) -> "Feeders | None":
        """Return the feeders lying with more loaded conductors than was thought; None if none does.

        What a feeder was once thought to lie with stays, so that this comes to an end.
        """
        more = {name: n for name, n in counts.items() if n > max(LIGHT, self.bundled.get(name, 0))}
        return self._again({**self.bundled, **more}) if more else None

    def settle(self, least: Floors, forced: Bools) -> tuple[dict[str, FeederSize], Floats]:
        """Size every feeder by its limits and its share of the drop.

        A branch that cannot hold its limit with the thickest wire its terminals take, but could
        behind better feeders, limits what these may drop as well.

        Args:
            forced: (n,) circuits whose size the engineer set.

        Returns:
            Sizes by id, and (n,) what the feeders drop of each circuit, in V.
        """
        rows = [row for row in self._rows() if not self._holds(row)]
        own = shares(rows, self._weights, self._least_ohm)
        plain = self._drafted(own, least)
        rows += (row for row in self._wanting(plain, least, forced) if not self._holds(row))
        with_branches = shares(rows, self._weights, self._least_ohm)
        drafted = self._drafted(with_branches, least)
        found: dict[str, FeederSize] = {}
        for name, feeder in self.limits.items():
            rung = drafted[name] if feeder.forced < 0 else feeder.forced
            share = with_branches.get(name)
            *needed, plug = feeder.needed
            by_branch = drafted[name] > plain[name] and share is not None
            asked = (
                *needed,
                ("drop", min(rung, self._asked(own.get(name)))),
                ("branch drop", min(rung, self._asked(share)) if by_branch else 0),
                ("branch behind", least.behind.get(name, 0)),
                ("short circuit", least.short.get(name, 0)),
                plug,
            )
            found[name] = FeederSize(
                id=name,
                rung=rung,
                drafted=drafted[name],
                needed=asked,
                out_m=feeder.out_m,
                home_m=feeder.home_m,
                factor=feeder.factor,
                heat=feeder.heat,
                bundled_with=self.bundled.get(name, 0),
                share=share if by_branch else own.get(name),
                drop_v=feeder.moment_am * self.ohm_per_m[rung],
                decider=share.branch if by_branch and share else "",
                plain=plain[name],
            )
        return found, self._volts(drafted)

    def _holds(self, row: Row) -> bool:
        """Tell whether feeders that lie in the boat keep to their row as they are."""
        standing = {name: self.limits[name] for name in row.moments_am}
        drops_v = (am * self.ohm_per_m[standing[n].stands] for n, am in row.moments_am.items())
        return all(one.lies for one in standing.values()) and sum(drops_v) <= row.most_v

    @property
    def _weights(self) -> dict[str, float]:
        return {name: feeder.weight for name, feeder in self.limits.items()}

    @property
    def _least_ohm(self) -> dict[str, float]:
        return {
            name: self.ohm_per_m[min(self.top, feeder.most) if feeder.forced < 0 else feeder.forced]
            for name, feeder in self.limits.items()
        }

    def _rows(self) -> Iterator[Row]:
        """Yield every chain of feeders to a part, and every return by itself.

        A panel's may drop a part of the critical limit, that of anything else a part of what its
        own circuits may.
        """
        profile = self.profile
        limits: dict[str, float] = {}
        for circuit, limit_v in zip(self.lines.circuits, self.lines.limit_v.tolist(), strict=True):
            limits[circuit.source] = min(limits.get(circuit.source, limit_v), limit_v)
        chained: set[str] = set()
        for place, supply in self.network.supplies.items():
            nominal_v = self.network.voltage(place)
            critical_v = profile.critical_drop_percent / 100 * nominal_v
            other_v = profile.other_drop_percent / 100 * nominal_v
            limit_v = critical_v if supply.kind in PANELS else limits.get(place, other_v)
            for chain in self.network.to_source(place):
                chained.update(chain)
                moments = {name: self.limits[name].moment_am for name in chain}
                yield Row(moments, profile.feeder_share * limit_v)
        critical_v = profile.critical_drop_percent / 100 * self.network.nominal_v
        for name, feeder in self.limits.items():
            if name not in chained:
                yield Row({name: feeder.moment_am}, profile.feeder_share * critical_v)

    def _wanting(self, plain: Rungs, least: Floors, forced: Bools) -> Iterator[Row]:
        """Yield the ways to branches that leave their feeders less than these drop by themselves.

        Of what better feeders bring within its limit: what its limit leaves beside the drop of the
        thickest wire its terminals take.
        """
        lines = self.lines
        ohm = self.ladder.ohm_per_m[np.minimum(lines.cap, self.top)]
        left_v = lines.limit_v - lines.moment_am * ohm
        best = self._volts({name: self._most(name, least) for name in self.limits})
        wants = ~forced & (best <= left_v) & (self._volts(plain) > left_v)
        for pair in np.unique(self.pair_of).tolist():
            mine = np.flatnonzero((self.pair_of == pair) & wants)
            if not len(mine):
                continue
            worst = int(mine[left_v[mine].argmin()])
            for chain, back in self.loops[pair]:
                moments: dict[str, float] = dict.fromkeys((*chain, *back), 0.0)
                for name in chain:
                    moments[name] += self.limits[name].out_a * self.limits[name].out_m
                for name in back:
                    moments[name] += self.limits[name].home_a * self.limits[name].home_m
                yield Row(moments, float(left_v[worst]), lines.circuits[worst].id)

    def _asked(self, share: Share | None) -> int:
        """Return the thinnest rung that keeps to a share; one past the last where none does."""
        if share is None:
            return 0
        permitted = share.ohm_per_m * (1 + 1e-12)
        return int(np.searchsorted(-self.ladder.ohm_per_m, -permitted))

    def _most(self, name: str, least: Floors) -> int:
        """Return the thickest rung that a feeder may have for what it drops."""
        must = max(least.behind.get(name, 0), least.short.get(name, 0))
        return min(self.top, max(self.limits[name].most, must))

    def _drafted(self, asked: Mapping[str, Share], least: Floors) -> Rungs:
        """Return the rung of every feeder that the draft asks for.

        For its drop none is thicker than its terminals take.
        """
        found: Rungs = {}
        for name, feeder in self.limits.items():
            must = max(least.behind.get(name, 0), least.short.get(name, 0))
            rung = max(feeder.own, must, self._asked(asked.get(name)))
            found[name] = min(self._most(name, least), rung)
        return found

    def _volts(self, drafted: Rungs) -> Floats:
        """Return the drop of the feeders each circuit shares, shape (n,), V."""
        out: dict[str, float] = {}
        home: dict[str, float] = {}
        for name, feeder in self.limits.items():
            ohm = self.ohm_per_m[drafted[name] if feeder.forced < 0 else feeder.forced]
            out[name] = feeder.out_a * (feeder.out_m * ohm)
            home[name] = feeder.home_a * (feeder.home_m * ohm)
        drops = _Drops(out, home)
        found: Floats = np.array([_shared_v(loops, drops) for loops in self.loops], dtype=float)[
            self.pair_of
        ]
        return found
