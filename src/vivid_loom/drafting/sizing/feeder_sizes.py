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

__all__ = ["FeederSize", "Feeders", "Floors", "shared_feeder_v"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Chain = tuple[str, ...]


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
        decider: id of the branch for whose drop it is thicker than it would be; '' for none.
        plain: its rung without that branch.
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
    decider: str = ""
    plain: int = 0


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


class _Feeder(NamedTuple):
    """What one feeder asks for, whatever hangs behind it; see ``FeederSize``.

    Attributes:
        out_a, home_a: what its positive and its return are sized for.
        forced: the rung the engineer set; −1 where the draft decides.
    """

    out_a: float
    home_a: float
    out_m: float
    home_m: float
    factor: float
    share_v: float
    weight: float
    whole: float
    needed: tuple[tuple[str, int], ...]
    forced: int

    @property
    def moment_am(self) -> float:
        """Current × length there and home, A·m."""
        return self.out_a * self.out_m + self.home_a * self.home_m


Rungs = dict[str, int]


class _Drops(NamedTuple):
    """Drop of every feeder's positive and of its return, V."""

    out: dict[str, float]
    home: dict[str, float]


class _Wanting(NamedTuple):
    """A circuit that only better feeders bring within its limit.

    Attributes:
        pair: of its source and bus.
        best_v: its own drop with the thickest wire its terminals take.
    """

    circuit: int
    pair: int
    best_v: float
    limit_v: float


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
    ) -> None:
        self.lines, self.ladder, self.network = lines, ladder, aboard.boat.network
        self.top = len(ladder.gauges) - 1
        self.ohm_per_m: list[float] = ladder.ohm_per_m.tolist()
        self.homing = {
            name: tuple(top for tops, _ in need.foreign for top in tops)
            for name, need in needs.items()
            if need.feed is None
        }
        """By return that runs alone: the feeders whose current it brings home to their battery."""
        forced = tuple(aboard.order.override(name, "gauge") for name in needs)
        lying = tuple(paths[name] for name in needs)
        self.fixed = aboard.kept.take(
            "feeder limits",
            "",
            (needs, forced, lying, aboard.boat, aboard.profile, ladder),
            lambda: self._limits(needs, paths, aboard),
        )
        self.pairs = sorted({(c.source, c.bus) for c in lines.circuits})
        at = {pair: i for i, pair in enumerate(self.pairs)}
        self.pair_of = np.array([at[c.source, c.bus] for c in lines.circuits], dtype=np.int64)
        self.loops = [self.network.loops(*pair) for pair in self.pairs]

    def _limits(
        self, needs: dict[str, FeederNeed], paths: dict[str, tuple[Path, ...]], aboard: Aboard
    ) -> dict[str, _Feeder]:
        weights = _weights(needs, paths, aboard)
        return {n: self._feeder(need, paths[n], weights, aboard) for n, need in needs.items()}

    def _feeder(
        self,
        need: FeederNeed,
        paths: tuple[Path, ...],
        weights: tuple[dict[str, float], dict[str, float]],
        aboard: Aboard,
    ) -> _Feeder:
        name, profile, ladder = need.planned.id, aboard.profile, self.ladder
        out_m, home_m = _lengths_m(need.planned, paths)
        nominal_v = self.network.voltage(need.feed.source if need.feed else "")
        limit_v = profile.critical_drop_percent / 100 * nominal_v * profile.feeder_share
        factor = heat_factor(paths, aboard.boat, profile)
        own, whole = weights
        weight, chain = (own[name], whole[name]) if own[name] else (1.0, 1.0)
        share_v = limit_v * weight / chain
        moment = need.borne_a * out_m + need.home.total_a * home_m
        permitted = share_v / moment if moment > 0 else np.inf
        override = aboard.order.override(name, "gauge")
        place = f"overrides.{name}.gauge"
        return _Feeder(
            out_a=need.borne_a,
            home_a=need.home.total_a,
            out_m=out_m,
            home_m=home_m,
            factor=factor,
            share_v=share_v,
            weight=weight,
            whole=chain,
            needed=_needed(need, factor, permitted, paths, aboard, ladder),
            forced=ladder.exactly(override.value, place) if override else -1,
        )

    def _drafted(self, branch: Rungs, least: Floors) -> Rungs:
        """Return the rung of every feeder that the draft asks for."""
        floors = (branch, least.behind, least.short)
        return {
            name: min(
                self.top,
                max(
                    *(rung for _, rung in feeder.needed),
                    *(floor.get(name, 0) for floor in floors),
                ),
            )
            for name, feeder in self.fixed.items()
        }

    def _drops(self, drafted: Rungs) -> _Drops:
        """Return the drop of every feeder's positive and of its return, V."""
        out: dict[str, float] = {}
        home: dict[str, float] = {}
        for name, feeder in self.fixed.items():
            ohm = self.ohm_per_m[drafted[name] if feeder.forced < 0 else feeder.forced]
            out[name] = feeder.out_a * (feeder.out_m * ohm)
            home[name] = feeder.home_a * (feeder.home_m * ohm)
        return _Drops(out, home)

    def _volts(self, drafted: Rungs) -> Floats:
        """Return the drop of the feeders each circuit shares, shape (n,), V."""
        drops = self._drops(drafted)
        found: Floats = np.array([_shared_v(loops, drops) for loops in self.loops], dtype=float)[
            self.pair_of
        ]
        return found

    def _sized(
        self, drafted: Rungs, plain: Rungs, branch: Rungs, least: Floors
    ) -> dict[str, FeederSize]:
        found: dict[str, FeederSize] = {}
        for name, feeder in self.fixed.items():
            rung = drafted[name] if feeder.forced < 0 else feeder.forced
            plug = feeder.needed[-1]
            needed = (
                *feeder.needed[:-1],
                ("branch drop", branch.get(name, 0)),
                ("branch behind", least.behind.get(name, 0)),
                ("short circuit", least.short.get(name, 0)),
                plug,
            )
            found[name] = FeederSize(
                id=name,
                rung=rung,
                drafted=drafted[name],
                needed=needed,
                out_m=feeder.out_m,
                home_m=feeder.home_m,
                factor=feeder.factor,
                share_v=feeder.share_v,
                weight=feeder.weight,
                whole=feeder.whole,
                drop_v=feeder.moment_am * self.ohm_per_m[rung],
                plain=plain[name],
            )
        return found

    def _gain_per_copper(self, name: str, now: int) -> float:
        """Return the volts a feeder's next size saves per mm² and m of copper it adds."""
        feeder, ladder = self.fixed[name], self.ladder
        drop_v = feeder.moment_am * self.ohm_per_m[now if feeder.forced < 0 else feeder.forced]
        saved = drop_v * (1 - float(ladder.ohm_per_m[now + 1] / ladder.ohm_per_m[now]))
        copper = (ladder.area_mm2[now + 1] - ladder.area_mm2[now]) * (feeder.out_m + feeder.home_m)
        return float(saved / copper)

    def settle(self, least: Floors, forced: Ints) -> tuple[dict[str, FeederSize], Floats]:
        """Thicken feeders, the one that gains most for its copper first, while a branch cannot
        hold its limit with the thickest wire its terminals take but could behind a better feeder.

        Args:
            forced: (n,) rungs of circuits the engineer set; −1 where the draft decides.
        """
        lines, top = self.lines, self.top
        best = lines.moment_am * self.ladder.ohm_per_m[np.minimum(lines.cap, top)]
        thickest = self._drafted(dict.fromkeys(self.fixed, top), least)
        within_reach = best + self._volts(thickest) <= lines.limit_v
        plain = self._drafted({}, least)
        volts = self._volts(plain)
        counts = within_reach & (forced < 0)
        # thicker feeders drop less: a branch that holds its limit now goes on holding it
        short = np.flatnonzero(counts & (best + volts > lines.limit_v)).tolist()
        if not short:
            return self._sized(plain, plain, {}, least), volts
        wanting = [
            _Wanting(i, int(self.pair_of[i]), float(best[i]), float(lines.limit_v[i]))
            for i in short
        ]
        branch = self._thickened(wanting, plain)
        drafted = {name: max(rung, branch.get(name, 0)) for name, rung in plain.items()}
        deciders = self._deciders(wanting, branch, drafted, plain)
        found = self._sized(drafted, plain, branch, least)
        for name, decider in deciders.items():
            found[name] = found[name]._replace(decider=decider)
        return found, self._volts(drafted)

    def _deciders(
        self, wanting: list[_Wanting], branch: Rungs, drafted: Rungs, plain: Rungs
    ) -> dict[str, str]:
        """Return per feeder that was thickened the branch that a thinner one would fail."""
        found: dict[str, str] = {}
        for name in branch:
            if drafted[name] > plain[name]:
                thinner = {**drafted, name: drafted[name] - 1}
                short = self._first_short(wanting, thinner)
                if short is not None:
                    found[name] = self.lines.circuits[short].id
        return found

    def _thickened(self, wanting: list[_Wanting], plain: Rungs) -> Rungs:
        """Return the rungs that branches ask of feeders beyond ``plain``."""
        branch: Rungs = {}
        drafted = dict(plain)
        while free := self._free(self._first_short(wanting, drafted), drafted):
            chosen = max(free, key=lambda n: (self._gain_per_copper(n, drafted[n]), n))
            drafted[chosen] += 1
            branch[chosen] = drafted[chosen]
        for name in sorted(branch):  # what an earlier step raised may no longer be wanted
            while branch[name] > 0:
                thinner = {**drafted, name: max(plain[name], branch[name] - 1)}
                if self._first_short(wanting, thinner) is not None:
                    break
                branch[name] -= 1
                drafted = thinner
        return branch

    def _first_short(self, wanting: list[_Wanting], drafted: Rungs) -> int | None:
        """Return the first circuit that does not hold its limit; None where all do."""
        drops = self._drops(drafted)
        volts: dict[int, float] = {}
        for branch in wanting:
            if branch.pair not in volts:
                volts[branch.pair] = _shared_v(self.loops[branch.pair], drops)
            if branch.best_v + volts[branch.pair] > branch.limit_v:
                return branch.circuit
        return None

    def _free(self, short: int | None, drafted: Rungs) -> list[str]:
        """Return the feeders of a circuit that is short of volts, that can be thicker."""
        if short is None:
            return []
        circuit = self.lines.circuits[short]
        chain = {
            *self.network.upstream(circuit.source),
            *self.network.homeward(circuit.bus),
        }
        return [name for name in sorted(chain) if drafted[name] < self.top]


def _needed(
    need: FeederNeed,
    factor: float,
    permitted_ohm_per_m: float,
    paths: tuple[Path, ...],
    aboard: Aboard,
    ladder: Ladder,
) -> tuple[tuple[str, int], ...]:
    """Return the rung each limit asks for, whatever hangs behind."""

    def reach(amps: float) -> int:
        return int(np.searchsorted(ladder.free_air_a, amps / factor - 1e-9))

    profile = aboard.profile
    rating = 0.0
    for device_a in (need.rating_a, need.guard_a):
        rating = max(rating, 0.0 if np.isnan(device_a) else device_a)
    back_a = max(need.return_a, need.home.total_a, need.charge_a)
    drop = int(np.searchsorted(-ladder.ohm_per_m, -permitted_ohm_per_m * (1 + 1e-12)))
    return (
        ("smallest allowed", ladder.gauges.index(smallest.smallest_separate(profile.series))),
        ("shop floor", ladder.rung(profile.shop_floor, "profile.shop_floor")),
        ("ampacity", reach(need.borne_a)),
        ("protection", reach(rating)),
        ("return", reach(back_a) if need.planned.bus else 0),
        ("drop", drop),
        ("plug contact", contact_floor(need.rating_a, ladder, paths)),
    )


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
        amps = needs[name].borne_a
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
