"""Stage 4, size: gauge and protection of every circuit and feeder, to a fixed point.

Sizes, loaded bundles and feeder drops depend on one another. Rungs only ever rise and bundle
factors only ever fall from pass to pass, so the iteration ends; what rose for a bundle that
grew lighter again is then taken back, one size at a time, while every limit still holds.
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.sizing.bundling import LOADED_SHARE, bundle_factors, loaded_circuits
from vivid_loom.drafting.sizing.feeder_limits import FeederSize
from vivid_loom.drafting.sizing.feeder_sizes import Feeders, Floors
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import Lines
from vivid_loom.standards import ampacity, protection

__all__ = ["CONSTRAINTS", "SizedCircuits", "Sizes", "figures_of", "size"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

CONSTRAINTS = (
    "as built",
    "smallest allowed",
    "shop floor",
    "bilge pump",
    "one gauge",
    "plug contact",
    "maker",
    "maker's table",
    "short circuit",
    "ampacity",
    "protection",
    "drop",
)
"""Names of the rows of ``Sizes.needed``; of two that ask for the same rung, the later governs."""

ALL = slice(None)


class Sizes(NamedTuple):
    """The fixed point.

    Attributes:
        rung: (n,) ladder index that stands; ``drafted`` without overrides.
        needed: (constraints, n) rung each constraint asks for; len(ladder) if none serves.
        factor: (n,) heat × bundling; ``bundle`` the bundling part alone.
        feeder_v: (n,) drop of the shared feeders, V.
        feeders: by supply id.
        circuits: asks what any other rung would need.
        feeders_with: by loaded feeder, the most loaded conductors it lies with.
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
    circuits: "SizedCircuits"
    feeders_with: dict[str, int]

    def failing(self, index: int, rung: int) -> list[str]:
        """Return the limits that break with one circuit at another rung, all others standing."""
        trial = self.rung.copy()
        trial[index] = rung
        needed = self.circuits.needed(self.circuits.bundle_at(trial)[0])
        asked = needed[:, index].tolist()
        broken = [name for name, least in zip(CONSTRAINTS, asked, strict=True) if least > rung]
        fits = self.circuits.within_terminals(needed) <= np.maximum(trial, self.rung)
        held = self.circuits.within_terminals(self.needed) <= self.rung
        for other in np.flatnonzero(held & ~fits):
            if other != index:
                broken.append(f"bundle with {self.circuits.lines.circuits[other].id}")
        if not self.circuits.is_stocked(index, rung):
            broken.append("not kept as cable")
        if rung > self.circuits.cap[index]:
            broken.append("terminals")
        return broken


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


def _forced(lines: Lines, aboard: Aboard, ladder: Ladder) -> Ints:
    """Return the rungs the engineer set; −1 where the draft decides."""
    rung = np.full(len(lines.circuits), -1, dtype=np.int64)
    for index, circuit in enumerate(lines.circuits):
        if override := aboard.order.override(circuit.id, "gauge"):
            rung[index] = ladder.exactly(override.value, f"overrides.{circuit.id}.gauge")
    return rung


def _ampacity_rungs(heating_a: Floats, factor: Floats, ladder: Ladder) -> Ints:
    bears = heating_a <= ladder.free_air_a[:, None] * factor[None, :] + 1e-9
    rungs = np.where(bears.any(axis=0), bears.argmax(axis=0), len(ladder.gauges))
    found: Ints = np.asarray(rungs, dtype=np.int64)
    return found


def figures_of(lines: Lines, sizes: Sizes) -> list[bytes]:
    """Return everything that was settled about each circuit, as bytes that tell it apart."""
    table = np.vstack(
        [
            sizes.rung,
            sizes.drafted,
            sizes.needed,
            sizes.factor,
            sizes.bundle,
            sizes.bundled_with,
            sizes.feeder_v,
            sizes.circuits.cap,
            lines.current_a,
            lines.rating_a,
            lines.moment_am,
            lines.limit_v,
            lines.heating_a,
        ]
    )
    return [row.tobytes() for row in np.ascontiguousarray(table.T)]


class SizedCircuits:
    """What the fixed point asks over and over: rungs wanted, given bundle factors."""

    def __init__(
        self,
        lines: Lines,
        feeder_v: Floats,
        aboard: Aboard,
        ladder: Ladder,
        least: Floors,
        beside: Floats,
    ) -> None:
        self.lines, self.aboard, self.ladder, self.beside = lines, aboard, ladder, beside
        names = [circuit.id for circuit in lines.circuits]
        self.least = np.array([least.short.get(name, 0) for name in names], dtype=np.int64)
        self.drop_rungs = _drop_rungs(lines, feeder_v, ladder)
        self.cap = np.minimum(lines.cap, len(ladder.gauges) - 1)
        self._in_any_case = np.vstack([lines.floor, self.least, self.drop_rungs]).max(axis=0)
        self.forced = _forced(lines, aboard, ladder)

    def needed(self, bundle: Floats, which: Ints | slice = ALL) -> Ints:
        """Return the rung each constraint asks for, shape (constraints, n).

        Args:
            bundle: bundle factors of the circuits asked about.
            which: indices of those circuits.
        """
        return np.vstack(
            [
                self.lines.floor[:, which],
                self.least[which],
                *self._bearing(bundle, which),
                self.drop_rungs[which],
            ]
        )

    def thinnest(self, bundle: Floats, which: Ints | slice = ALL) -> Ints:
        """Return the thinnest rungs that serve every constraint, as far as terminals go."""
        asked = self._in_any_case[which]
        for rungs in self._bearing(bundle, which):
            asked = np.maximum(asked, rungs)
        return self._as_stocked(asked, which)

    def _bearing(self, bundle: Floats, which: Ints | slice) -> tuple[Ints, Ints]:
        """Return the rungs that bear the current, and the device."""
        lines, ladder = self.lines, self.ladder
        factor = lines.heat_factor[which] * bundle
        tolerance = self.aboard.profile.tolerance
        return (
            _ampacity_rungs(lines.heating_a[:, which], factor, ladder),
            _protection_rungs(lines.rating_a[which], factor, ladder, tolerance),
        )

    def bundle(self, rung: Ints) -> tuple[Floats, Ints]:
        """Return bundle factors and counts with the engineer's sizes in place."""
        return self.bundle_at(self.standing(rung))

    def bundle_at(self, rung: Ints) -> tuple[Floats, Ints]:
        """Return bundle factors and counts at exactly these rungs."""
        return bundle_factors(self.lines, self.ladder, rung, self.aboard, self.beside)

    def standing(self, rung: Ints) -> Ints:
        """Return the rungs with the engineer's sizes in place."""
        standing: Ints = np.where(self.forced >= 0, self.forced, rung)
        return standing

    def within_terminals(self, needed: Ints) -> Ints:
        """Return the thinnest rungs that serve what is needed, as far as terminals go."""
        return self._as_stocked(needed.max(axis=0), ALL)

    def _as_stocked(self, asked: Ints, which: Ints | slice) -> Ints:
        columns = np.arange(len(self.cap))[which]
        kept = self.lines.stocked[np.minimum(asked, len(self.ladder.gauges)), columns]
        thinnest: Ints = np.minimum(kept, self.cap[which])
        return thinnest

    def is_stocked(self, index: int, rung: int) -> bool:
        """Tell whether a circuit's wire or cable is kept in a rung."""
        return int(self.lines.stocked[rung, index]) == rung


def _grown(circuits: SizedCircuits) -> tuple[Ints, int]:
    """Raise rungs until no constraint asks for more."""
    count = len(circuits.lines.circuits)
    rung, bundle = np.zeros(count, dtype=np.int64), np.ones(count)
    for passes in range(1, 4 * len(circuits.ladder.gauges)):
        drafted = np.maximum(rung, circuits.thinnest(bundle))
        fresh, _ = circuits.bundle(drafted)
        if passes > 1 and (drafted == rung).all() and (fresh >= bundle).all():
            return drafted, passes
        rung, bundle = drafted, np.minimum(bundle, fresh)
    raise AssertionError("rungs only rise and bundle factors only fall")


class _Thinning:
    """Takes sizes back that a lighter bundle no longer asks for, looking only at what it touches.

    A thinner wire counts as loaded sooner and never later, so it can only make its neighbours
    ask for more. What could not be taken back once cannot be taken back later: one pass is enough.
    """

    def __init__(self, circuits: SizedCircuits, rung: Ints) -> None:
        self.circuits, self.rung = circuits, rung.copy()
        lines, aboard = circuits.lines, circuits.aboard
        standing = circuits.standing(rung)
        self.loaded = loaded_circuits(lines, circuits.ladder, standing, aboard)
        self.in_run = lines.runs.totals(self.loaded) + circuits.beside
        self.bundle = circuits.bundle_at(standing)[0]
        self.wanted = circuits.thinnest(self.bundle)
        self.passing = lines.runs.circuits()

    def thinned(self) -> Ints:
        """Return the rungs with everything taken back that can be."""
        for index in np.flatnonzero(self.wanted < self.rung).tolist():
            while self.wanted[index] < self.rung[index] and self._take_back(index):
                pass
        return self.rung

    def _take_back(self, index: int) -> bool:
        circuits = self.circuits
        thinner = int(self.rung[index]) - 1
        while not circuits.is_stocked(index, thinner):
            thinner -= 1
        if circuits.forced[index] < 0 and self._loads_more(index, thinner):
            return self._take_back_loaded(index, thinner)
        fits = bool(self.wanted[index] <= thinner)
        if fits:
            self.rung[index] = thinner
        return fits

    def _loads_more(self, index: int, rung: int) -> bool:
        limit_a = LOADED_SHARE * float(self.circuits.ladder.free_air_a[rung])
        bundles = self.circuits.aboard.profile.bundling != "off"
        return (
            bundles
            and not self.loaded[index]
            and bool(self.circuits.lines.current_a[index] > limit_a)
        )

    def _take_back_loaded(self, index: int, thinner: int) -> bool:
        """Take a size back where the wire counts as loaded from then on, if all others hold."""
        circuits, runs = self.circuits, self.circuits.lines.runs
        own = runs.passed(index)
        passed, times = runs.runs[own], runs.times[own]
        in_run = self.in_run.copy()
        in_run[passed] += times
        loaded = self.loaded.copy()
        loaded[index] = True
        moved = [
            r for r in passed.tolist() if self._factor(in_run[r]) < self._factor(self.in_run[r])
        ]
        touched = {index}
        for run in moved:
            touched.update(circuit for circuit in self.passing[run] if loaded[circuit])
        which = np.array(sorted(touched), dtype=np.int64)
        bundle = np.array([self._worst_factor(i, in_run) for i in which.tolist()])
        asked = circuits.thinnest(bundle, which)
        stand = self.rung[which]
        stand[which == index] = thinner
        if (asked > stand).any():
            return False
        self.rung[index], self.in_run, self.loaded = thinner, in_run, loaded
        self.bundle[which], self.wanted[which] = bundle, asked
        return True

    def _factor(self, count: float) -> float:
        return ampacity.bundle_factor(round(count), self.circuits.aboard.profile.school)

    def _worst_factor(self, index: int, in_run: Floats) -> float:
        return self._factor(self.circuits.lines.runs.lain[index].together(in_run))


def size(
    lines: Lines,
    feeders_of: Feeders,
    aboard: Aboard,
    ladder: Ladder,
    least: Floors,
) -> Sizes:
    """Find the thinnest rungs that satisfy every limit.

    Args:
        lines: circuits with known currents.
        feeders_of: the boat's feeders.
        least: rungs asked for since the sizes of the pass before.

    Raises:
        DraftError: an override that is no stocked gauge.
    """
    feeders, feeder_v = feeders_of.settle(least, _forced(lines, aboard, ladder) >= 0)
    rungs = {name: feeder.rung for name, feeder in feeders.items()}
    beside = feeders_of.bundles.beside(rungs, ladder)
    circuits = SizedCircuits(lines, feeder_v, aboard, ladder, least, beside)
    grown, passes = _grown(circuits)
    drafted = _Thinning(circuits, grown).thinned()
    bundle, numbers = circuits.bundle(drafted)
    standing = circuits.standing(drafted)
    loaded = loaded_circuits(lines, ladder, standing, aboard)
    return Sizes(
        standing,
        drafted,
        circuits.needed(bundle),
        lines.heat_factor * bundle,
        bundle,
        numbers,
        feeder_v,
        feeders,
        passes,
        circuits,
        feeders_of.bundles.counts(rungs, ladder, lines.runs.totals(loaded)),
    )
