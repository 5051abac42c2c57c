"""Which circuit lies in which run, and along which stretches it lies with others."""

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from itertools import chain
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.drafting.places.route import Path

__all__ = ["Incidence", "Lying", "incidence", "lying"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
SHORT_M: Final = 0.61
"""Conductors bundled no farther are not derated: NEC 310.15(C)(1), 24 in, from memory."""


class Lying(NamedTuple):
    """Where a circuit or feeder lies in loom or conduit, by the index of the run.

    Attributes:
        times: by how many of its conductors it passes each run.
        stretches: adjoining runs that are just longer together than what counts as short.
    """

    times: Mapping[int, int]
    stretches: frozenset[tuple[int, ...]]

    def together(self, in_run: Floats) -> int:
        """Return the most conductors that stay together over a stretch; 0 if it has none.

        Args:
            in_run: loaded conductors in each run.
        """
        most = max((min(in_run[run] for run in each) for each in self.stretches), default=0.0)
        return round(float(most))


def lying(paths: Sequence[Path], inside: Mapping[str, int]) -> Lying:
    """Find where paths lie.

    Args:
        inside: index of every run in loom or conduit, by id.
    """
    times = Counter(inside[run.id] for path in paths for run in path.runs if run.id in inside)
    return Lying(times, frozenset(chain.from_iterable(_stretches(p, inside) for p in paths)))


def _stretches(path: Path, inside: Mapping[str, int]) -> Iterator[tuple[int, ...]]:
    """Yield, from every run on, the fewest runs that make a stretch; a run in the open ends it."""
    for first in range(len(path.runs)):
        length_m, found = 0.0, []
        for run in path.runs[first:]:
            if run.id not in inside:
                break
            length_m += run.length_m
            found.append(inside[run.id])
            if length_m > SHORT_M:
                yield tuple(sorted(found))
                break


class Incidence(NamedTuple):
    """Which circuit passes which run how often, row by row, and along which stretches.

    Attributes:
        starts: shape (n + 1,); circuit i passes ``runs[starts[i]:starts[i + 1]]``.
        runs, times: index of each run passed, and by how many of the circuit's conductors.
        run_count: number of runs.
        lain: by circuit, where it lies.
        stretches: runs of every stretch, end to end; they begin at ``stretch_starts``.
        own: stretches of every circuit, end to end; they begin at ``own_starts``, shape (n + 1,).
    """

    starts: Ints
    runs: Ints
    times: Floats
    run_count: int
    lain: tuple[Lying, ...]
    stretches: Ints
    stretch_starts: Ints
    own: Ints
    own_starts: Ints

    def passed(self, circuit: int) -> slice:
        """Return where a circuit's runs stand in ``runs`` and ``times``."""
        return slice(int(self.starts[circuit]), int(self.starts[circuit + 1]))

    def totals(self, counts: NDArray[np.bool_]) -> Floats:
        """Return the conductors in each run, of the circuits that count."""
        each = self.times * np.repeat(counts, np.diff(self.starts))
        found: Floats = np.bincount(self.runs, weights=each, minlength=self.run_count).astype(float)
        return found

    def together(self, in_run: Floats) -> Ints:
        """Return for every circuit the most conductors it lies with over a stretch, (n,).

        Args:
            in_run: loaded conductors in each run.
        """
        most = np.zeros(len(self.starts) - 1)
        if len(self.own):
            least = np.minimum.reduceat(in_run[self.stretches], self.stretch_starts)
            begins, ends = self.own_starts[:-1], self.own_starts[1:]
            any_own = begins < ends
            most[any_own] = np.maximum.reduceat(least[self.own], begins[any_own])
        found: Ints = most.round().astype(np.int64)
        return found

    def circuits(self) -> list[list[int]]:
        """Return the circuits that pass each run."""
        found: list[list[int]] = [[] for _ in range(self.run_count)]
        owners = np.repeat(np.arange(len(self.starts) - 1), np.diff(self.starts))
        for circuit, run in zip(owners.tolist(), self.runs.tolist(), strict=True):
            found[run].append(circuit)
        return found


def incidence(lain: Sequence[Lying], run_count: int) -> Incidence:
    """Stack where circuits lie."""
    each = sorted(set[tuple[int, ...]]().union(*(one.stretches for one in lain)))
    at = {stretch: i for i, stretch in enumerate(each)}
    own = [sorted(at[stretch] for stretch in one.stretches) for one in lain]
    return Incidence(
        starts=_starts([len(one.times) for one in lain]),
        runs=_flat(one.times for one in lain),
        times=_flat(one.times.values() for one in lain).astype(float),
        run_count=max(1, run_count),
        lain=tuple(lain),
        stretches=_flat(each),
        stretch_starts=_starts([len(stretch) for stretch in each])[:-1],
        own=_flat(own),
        own_starts=_starts([len(one) for one in own]),
    )


def _flat(rows: Iterable[Iterable[int]]) -> Ints:
    return np.array([*chain.from_iterable(rows)], dtype=np.int64)


def _starts(lengths: Sequence[int]) -> Ints:
    return np.cumsum([0, *lengths], dtype=np.int64)
