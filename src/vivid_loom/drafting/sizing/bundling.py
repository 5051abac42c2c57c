"""Bundles: how many loaded conductors lie together, and what each bears the less for it."""

from collections import Counter
from collections.abc import Mapping
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.boat import Boat
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import Lines
from vivid_loom.standards import ampacity

__all__ = ["LOADED_SHARE", "FeederBundles", "bundle_factors", "loaded_circuits"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
LOADED_SHARE: Final = 0.3  # of ampacity; below it a conductor does not count as loaded
SHORT_M: Final = 0.61
"""A conductor bundled no farther is not derated: NEC 310.15, 24 in, from memory."""


def bundle_factors(
    lines: Lines, ladder: Ladder, rung: Ints, aboard: Aboard, beside: Floats
) -> tuple[Floats, Ints]:
    """Return per circuit the bundling factor of its worst run, and the count behind it.

    Args:
        beside: loaded conductors of feeders in each run.
    """
    count = len(lines.circuits)
    if aboard.profile.bundling == "off" or count == 0:
        return np.ones(count), np.zeros(count, dtype=np.int64)
    loaded = loaded_circuits(lines, ladder, rung, aboard)
    in_run = lines.runs.totals(loaded) + beside
    most = np.zeros(count)
    starts, ends = lines.runs.starts[:-1], lines.runs.starts[1:]
    filled = starts < ends
    if filled.any():
        values = in_run[lines.runs.runs]
        most[filled] = np.maximum.reduceat(values, starts[filled])
    numbers = most.round().astype(np.int64)
    # an unloaded conductor is not derated by its loaded neighbours under the 'loaded' school
    numbers = np.where(loaded, numbers, 0)
    distinct, which = np.unique(numbers, return_inverse=True)
    factors = [ampacity.bundle_factor(n, aboard.profile.school) for n in distinct.tolist()]
    return np.array(factors)[which], numbers


def loaded_circuits(lines: Lines, ladder: Ladder, rung: Ints, aboard: Aboard) -> NDArray[np.bool_]:
    """Tell which circuits count as loaded in a bundle."""
    if aboard.profile.bundling == "all":
        return np.ones(len(lines.circuits), dtype=bool)
    loaded: NDArray[np.bool_] = lines.current_a > LOADED_SHARE * ladder.free_air_a[rung]
    return loaded


class FeederBundles(NamedTuple):
    """Which feeder passes which run in loom or conduit, by how many of its conductors.

    Attributes:
        passed: by feeder, {index of the run: conductors}.
        borne_a: by feeder, what its conductors carry.
        short: feeders that lie with others over a short distance only.
    """

    passed: Mapping[str, Mapping[int, int]]
    borne_a: Mapping[str, float]
    short: frozenset[str]
    run_count: int
    aboard: Aboard

    @classmethod
    def of(
        cls, borne_a: Mapping[str, float], paths: Mapping[str, tuple[Path, ...]], aboard: Aboard
    ) -> "FeederBundles":
        """Count the conductors of feeders in each run."""
        boat: Boat = aboard.boat
        runs = {run.id: i for i, run in enumerate(boat.runs) if run.enclosure != "open"}
        passed = {
            name: Counter(
                runs[run.id] for path in paths[name] for run in path.runs if run.id in runs
            )
            for name in borne_a
        }
        farthest = {
            name: max(sum(r.length_m for r in path.runs if r.id in runs) for path in paths[name])
            for name in borne_a
            if paths[name]
        }
        short = frozenset(name for name, length_m in farthest.items() if length_m <= SHORT_M)
        return cls(passed, borne_a, short, max(1, len(boat.runs)), aboard)

    def _loaded(self, rungs: Mapping[str, int], ladder: Ladder) -> list[str]:
        everyone = self.aboard.profile.bundling == "all"
        free_a = ladder.free_air_a
        return [
            name
            for name, borne_a in self.borne_a.items()
            if everyone or borne_a > LOADED_SHARE * float(free_a[rungs[name]])
        ]

    def beside(self, rungs: Mapping[str, int], ladder: Ladder) -> Floats:
        """Return the loaded conductors of feeders in each run."""
        found = np.zeros(self.run_count)
        if self.aboard.profile.bundling == "off":
            return found
        for name in self._loaded(rungs, ladder):
            for run, times in self.passed[name].items():
                found[run] += times
        return found

    def counts(
        self, rungs: Mapping[str, int], ladder: Ladder, circuits_in_run: Floats
    ) -> dict[str, int]:
        """Return for each loaded feeder the most conductors it lies with, itself counted."""
        if self.aboard.profile.bundling == "off":
            return {}
        in_run = circuits_in_run + self.beside(rungs, ladder)
        return {
            name: round(max(float(in_run[run]) for run in self.passed[name]))
            for name in self._loaded(rungs, ladder)
            if self.passed[name] and name not in self.short
        }
