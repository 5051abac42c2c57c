"""Feeders' share of stage 4: the sizes their limits ask for, thickened for their branches."""

import hashlib
from collections.abc import Mapping
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
from vivid_loom.drafting.sizing.least_copper import (
    Copper,
    Trunk,
    branches_of,
    least_copper,
    steps_of,
    thinner_words,
)
from vivid_loom.drafting.sizing.lines import Lines
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.drafting.sizing.trunk import Laid, trunk_of, ways_of

__all__ = ["Feeders", "Floors"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Chain = tuple[str, ...]
LIGHT: Final = 2  # conductors together that no school derates


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
        bundled: Mapping[str, int] = MappingProxyType({}),
    ) -> None:
        self.lines, self.ladder, self.network = lines, ladder, aboard.boat.network
        self.kept = aboard.kept
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
        self.fixed = aboard.kept.take(
            "feeder limits",
            " ".join(f"{name} {count}" for name, count in sorted(bundled.items())),
            (needs, forced, lying, aboard.boat, aboard.profile, ladder),
            lambda: feeder_limits(needs, paths, aboard, ladder, bundled),
        )
        self.limits = self.fixed
        """What each feeder asks for with its share of the drop, before that is divided."""
        self.pairs = sorted({(c.source, c.bus) for c in lines.circuits})
        at = {pair: i for i, pair in enumerate(self.pairs)}
        self.pair_of = np.array([at[c.source, c.bus] for c in lines.circuits], dtype=np.int64)
        self.loops = [self.network.loops(*pair) for pair in self.pairs]
        self.laid = Laid(
            lines=lines,
            metres=np.array([sum(x.length_m for x in paths[c.id]) for c in lines.circuits]),
            pair_of=self.pair_of,
            loops=tuple(self.loops),
            network=self.network,
            ladder=ladder,
            chain_share=aboard.profile.feeder_share * aboard.profile.critical_drop_percent / 100,
        )
        hung = tuple([c.source for c in lines.circuits]), tuple(self.pair_of.tolist())
        self.chained = aboard.kept.take(
            "ways of drop",
            "",
            (tuple(needs), tuple(self.pairs), hung, aboard.boat, aboard.profile),
            lambda: ways_of(self.laid, tuple(needs)),
        )
        self.thinner: dict[str, str] = {}
        self.whole: Trunk | None = None
        self.divided: Ints | None = None
        self.floors: Ints = np.zeros(0, dtype=np.int64)
        self.trunk: Trunk | None = None
        """What the drop was divided over; None until it has been."""

    def beside_more(self, counts: Mapping[str, int]) -> "Feeders | None":
        """Return the feeders lying with more loaded conductors than was thought; None if none does.

        What a feeder was once thought to lie with stays, so that this comes to an end.
        """
        more = {name: n for name, n in counts.items() if n > max(LIGHT, self.bundled.get(name, 0))}
        return self._again({**self.bundled, **more}) if more else None

    def _drafted(self, branch: Rungs, least: Floors) -> Rungs:
        """Return the rung of every feeder that the draft asks for.

        For its drop none is thicker than its terminals take.
        """
        found: Rungs = {}
        for name, feeder in self.fixed.items():
            must = max(least.behind.get(name, 0), least.short.get(name, 0))
            asked = max(branch.get(name, 0), must, *(rung for _, rung in feeder.needed))
            found[name] = min(self.top, max(feeder.most, must), asked)
        return found

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
                *((what, min(n, rung) if what == "drop" else n) for what, n in feeder.needed[:-1]),
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
                heat=feeder.heat,
                bundled_with=self.bundled.get(name, 0),
                chain_v=feeder.chain_v,
                thinner=self.thinner.get(name, ""),
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

    def settle(
        self, least: Floors, forced: Ints, branches: Ints
    ) -> tuple[dict[str, FeederSize], Floats]:
        """Divide the drop for least copper; then thicken feeders, the one that gains most for its
        copper first, while a branch cannot hold its limit with the thickest wire its terminals
        take but could behind a better feeder.

        Args:
            forced: (n,) rungs of circuits the engineer set; −1 where the draft decides.
            branches: (n,) rungs the circuits ask for whatever their drop.
        """
        lines, top = self.lines, self.top
        floors = np.array(
            [max(least.behind.get(n, 0), least.short.get(n, 0)) for n in self.limits],
            dtype=np.int64,
        )
        if self.trunk is None or (floors != self.floors).any():
            self.floors = floors
            self._divide(branches, forced, floors)
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
        drafted = self._divided_again(drafted, short)
        branch = {name: rung for name, rung in drafted.items() if rung > plain[name]}
        deciders = self._deciders(wanting, branch, drafted, plain)
        found = self._sized(drafted, plain, branch, least)
        for name, decider in deciders.items():
            found[name] = found[name]._replace(decider=decider)
        return found, self._volts(drafted)

    def _weighed(self, trunk: Trunk) -> Copper:
        """Return what weighs copper; what branches ask is laid out once for equal branches."""
        asked = b"".join(array.tobytes() for array in branches_of(trunk))
        steps = self.kept.take("copper steps", "", (asked,), lambda: steps_of(trunk))
        return Copper(trunk, steps)

    def _searched(self, weighs: Copper, start: Ints) -> Ints:
        """Search for least copper, or find that this was searched before."""
        asked = b"".join(array.tobytes() for array in (*weighs.trunk.arrays, start))
        name = hashlib.blake2b(asked).hexdigest()
        return self.kept.take("least copper", name, (asked,), lambda: least_copper(weighs, start))

    def _divided_again(self, drafted: Rungs, short: list[int]) -> Rungs:
        """Return rungs with the least copper once the branches that were short hold their limit."""
        assert self.trunk is not None and self.whole is not None
        holding = np.zeros(len(self.lines.circuits), dtype=bool)
        holding[short] = True
        trunk = self.trunk._replace(
            moment_am=np.where(holding, self.whole.moment_am, self.trunk.moment_am),
            least=np.where(holding, self.whole.least, self.trunk.least),
        )
        start = np.array([drafted[name] for name in self.fixed], dtype=np.int64)
        start = np.where(trunk.fixed, trunk.floor, start)
        found = self._searched(self._weighed(trunk), start).tolist()
        return {
            name: rung if limit.forced < 0 else drafted[name]
            for (name, limit), rung in zip(self.fixed.items(), found, strict=True)
        }

    def _divide(self, branches: Ints, forced: Ints, floors: Ints) -> None:
        """Set the rung that drop asks of each feeder, where the boat takes the least copper."""
        whole = trunk_of(self.laid, self.chained, self.limits, branches, forced >= 0)
        whole = whole._replace(
            floor=np.where(whole.fixed, whole.floor, np.maximum(whole.floor, floors)),
            most=np.minimum(self.top, np.maximum(whole.most, floors)),
        )
        asked = [dict(limit.needed)["drop"] for limit in self.limits.values()]
        shares = np.array(asked, dtype=np.int64)
        before = shares if self.divided is None else self.divided
        start = np.where(whole.fixed, whole.floor, np.clip(before, whole.floor, whole.most))
        start = whole.holding(start)
        failing = whole.branches(start[None])[0] > whole.cap  # those have their say afterwards
        trunk = whole._replace(
            moment_am=np.where(failing, 0.0, whole.moment_am),
            least=np.where(failing, whole.cap, whole.least),
        )
        weighs = self._weighed(trunk)
        found = self._searched(weighs, start)
        self.whole, self.trunk, self.divided = whole, trunk, found
        self.thinner = dict(zip(self.limits, thinner_words(weighs, found), strict=True))
        self.fixed = {
            name: limit._replace(
                needed=tuple(
                    (what, (rung if self.thinner[name] else 0) if what == "drop" else n)
                    for what, n in limit.needed
                )
            )
            for (name, limit), rung in zip(self.limits.items(), found.tolist(), strict=True)
        }

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
        return [name for name in sorted(chain) if drafted[name] < self.fixed[name].most]
