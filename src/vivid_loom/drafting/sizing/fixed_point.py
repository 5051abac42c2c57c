"""Stage 4, size: gauge and protection of every circuit and feeder, to a fixed point.

Sizes, loaded bundles and feeder drops depend on one another. Rungs only ever rise and bundle
factors only ever fall from pass to pass, so the iteration ends; what rose for a bundle that
grew lighter again is then taken back, one size at a time, while every limit still holds.
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.feeder_sizes import FeederSize, settle_feeders
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import Lines
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.standards import ampacity, protection

__all__ = ["CONSTRAINTS", "SizedCircuits", "Sizes", "size"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

CONSTRAINTS = (
    "smallest allowed",
    "shop floor",
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

LOADED_SHARE = 0.3  # of ampacity; below it a conductor does not count as loaded


class Sizes(NamedTuple):
    """The fixed point.

    Attributes:
        rung: (n,) ladder index that stands; ``drafted`` without overrides.
        needed: (constraints, n) rung each constraint asks for; len(ladder) if none serves.
        factor: (n,) heat × bundling; ``bundle`` the bundling part alone.
        feeder_v: (n,) drop of the shared feeders, V.
        feeders: by supply id.
        circuits: asks what any other rung would need.
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


def _forced(lines: Lines, aboard: Aboard, ladder: Ladder) -> Ints:
    """Return the rungs the engineer set; −1 where the draft decides."""
    rung = np.full(len(lines.circuits), -1, dtype=np.int64)
    for index, circuit in enumerate(lines.circuits):
        if override := aboard.order.override(circuit.id, "gauge"):
            rung[index] = ladder.exactly(override.value, f"overrides.{circuit.id}.gauge")
    return rung


def _ampacity_rungs(lines: Lines, factor: Floats, ladder: Ladder) -> Ints:
    bears = lines.heating_a <= ladder.free_air_a[:, None] * factor[None, :] + 1e-9
    rungs = np.where(bears.any(axis=0), bears.argmax(axis=0), len(ladder.gauges))
    found: Ints = np.asarray(rungs, dtype=np.int64)
    return found


class SizedCircuits:
    """What the fixed point asks over and over: rungs wanted, given bundle factors."""

    def __init__(
        self,
        lines: Lines,
        feeder_v: Floats,
        aboard: Aboard,
        ladder: Ladder,
        least: dict[str, int],
    ) -> None:
        self.lines, self.aboard, self.ladder = lines, aboard, ladder
        names = [circuit.id for circuit in lines.circuits]
        self.least = np.array([least.get(name, 0) for name in names], dtype=np.int64)
        self.drop_rungs = _drop_rungs(lines, feeder_v, ladder)
        self.cap = np.minimum(lines.cap, len(ladder.gauges) - 1)
        self.forced = _forced(lines, aboard, ladder)

    def needed(self, bundle: Floats) -> Ints:
        """Return the rung each constraint asks for, shape (constraints, n)."""
        lines, ladder = self.lines, self.ladder
        factor = lines.heat_factor * bundle
        tolerance = self.aboard.profile.tolerance
        return np.stack(
            [
                *lines.floor,
                self.least,
                _ampacity_rungs(lines, factor, ladder),
                _protection_rungs(lines.rating_a, factor, ladder, tolerance),
                self.drop_rungs,
            ]
        )

    def bundle(self, rung: Ints) -> tuple[Floats, Ints]:
        """Return bundle factors and counts with the engineer's sizes in place."""
        return self.bundle_at(self.standing(rung))

    def bundle_at(self, rung: Ints) -> tuple[Floats, Ints]:
        """Return bundle factors and counts at exactly these rungs."""
        return _bundle(self.lines, self.ladder, rung, self.aboard)

    def standing(self, rung: Ints) -> Ints:
        """Return the rungs with the engineer's sizes in place."""
        standing: Ints = np.where(self.forced >= 0, self.forced, rung)
        return standing

    def within_terminals(self, needed: Ints) -> Ints:
        """Return the thinnest rungs that serve every constraint, as far as terminals go."""
        columns = np.arange(needed.shape[1])
        kept = self.lines.stocked[np.minimum(needed.max(axis=0), len(self.ladder.gauges)), columns]
        thinnest: Ints = np.minimum(kept, self.cap)
        return thinnest

    def is_stocked(self, index: int, rung: int) -> bool:
        """Tell whether a circuit's wire or cable is kept in a rung."""
        return int(self.lines.stocked[rung, index]) == rung


def _grown(circuits: SizedCircuits) -> tuple[Ints, int]:
    """Raise rungs until no constraint asks for more."""
    count = len(circuits.lines.circuits)
    rung, bundle = np.zeros(count, dtype=np.int64), np.ones(count)
    for passes in range(1, 4 * len(circuits.ladder.gauges)):
        drafted = np.maximum(rung, circuits.within_terminals(circuits.needed(bundle)))
        fresh, _ = circuits.bundle(drafted)
        if passes > 1 and (drafted == rung).all() and (fresh >= bundle).all():
            return drafted, passes
        rung, bundle = drafted, np.minimum(bundle, fresh)
    raise AssertionError("rungs only rise and bundle factors only fall")


def _thinned(circuits: SizedCircuits, rung: Ints) -> Ints:
    """Take sizes back that a lighter bundle no longer asks for."""
    while True:
        wanted = circuits.within_terminals(circuits.needed(circuits.bundle(rung)[0]))
        for index in np.flatnonzero(wanted < rung):
            trial = rung.copy()
            trial[index] -= 1
            while not circuits.is_stocked(int(index), int(trial[index])):
                trial[index] -= 1
            asked = circuits.within_terminals(circuits.needed(circuits.bundle(trial)[0]))
            if (asked <= trial).all():
                rung = trial
                break
        else:
            return rung


def size(
    lines: Lines,
    needs: dict[str, FeederNeed],
    feeder_paths: dict[str, tuple[Path, ...]],
    aboard: Aboard,
    ladder: Ladder,
    least: dict[str, int],
) -> Sizes:
    """Find the thinnest rungs that satisfy every limit.

    Args:
        lines: circuits with known currents.
        needs: feeders by supply id.
        feeder_paths: paths of each feeder's legs by feeder id.
        least: rungs that short circuits ask for, by circuit or feeder id.

    Raises:
        DraftError: an override that is no stocked gauge.
    """
    feeders, feeder_v = settle_feeders(lines, needs, feeder_paths, aboard, ladder, least)
    circuits = SizedCircuits(lines, feeder_v, aboard, ladder, least)
    grown, passes = _grown(circuits)
    drafted = _thinned(circuits, grown)
    bundle, numbers = circuits.bundle(drafted)
    return Sizes(
        circuits.standing(drafted),
        drafted,
        circuits.needed(bundle),
        lines.heat_factor * bundle,
        bundle,
        numbers,
        feeder_v,
        feeders,
        passes,
        circuits,
    )
