"""Bundles: how many loaded conductors lie together, and what each bears the less for it."""

from collections.abc import Mapping
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.boat import Boat
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import Lines
from vivid_loom.drafting.sizing.stretches import Lying, lying
from vivid_loom.standards import ampacity

__all__ = ["LOADED_SHARE", "FeederBundles", "bundle_factors", "loaded_circuits"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
LOADED_SHARE: Final = 0.3  # of ampacity; below it a conductor does not count as loaded


def bundle_factors(
    lines: Lines, ladder: Ladder, rung: Ints, aboard: Aboard, beside: Floats
) -> tuple[Floats, Ints]:
    """Return per circuit the bundling factor of its worst stretch, and the count behind it.

    Args:
        beside: loaded conductors of feeders in each run.
    """
    count = len(lines.circuits)
    if aboard.profile.bundling == "off" or count == 0:
        return np.ones(count), np.zeros(count, dtype=np.int64)
    loaded = loaded_circuits(lines, ladder, rung, aboard)
    in_run = lines.runs.totals(loaded) + beside
    numbers = lines.runs.together(in_run)
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
        lain: by feeder, where its conductors lie.
        borne_a: by feeder, what its conductors carry.
    """

    lain: Mapping[str, Lying]
    borne_a: Mapping[str, float]
    run_count: int
    aboard: Aboard

    @classmethod
    def of(
        cls, borne_a: Mapping[str, float], paths: Mapping[str, tuple[Path, ...]], aboard: Aboard
    ) -> "FeederBundles":
        """Count the conductors of feeders in each run."""
        boat: Boat = aboard.boat
        inside = {run.id: i for i, run in enumerate(boat.runs) if run.enclosure != "open"}
        lain = {name: lying(paths[name], inside) for name in borne_a}
        return cls(lain, borne_a, max(1, len(boat.runs)), aboard)

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
            for run, times in self.lain[name].times.items():
                found[run] += times
        return found

    def counts(
        self, rungs: Mapping[str, int], ladder: Ladder, circuits_in_run: Floats
    ) -> dict[str, int]:
        """Return for each loaded feeder the most conductors it lies with, itself counted."""
        if self.aboard.profile.bundling == "off":
            return {}
        in_run = circuits_in_run + self.beside(rungs, ladder)
        return {name: self.lain[name].together(in_run) for name in self._loaded(rungs, ladder)}
