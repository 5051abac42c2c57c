"""The fault finder: from symptoms and readings to the faults that explain them, and what to read.

The dictionary is what every single fault of the chafe scan leaves behind at rest. A reading weighs
each fault by how far its volts are from it; the next reading is the one that tells most for its
trouble: expected information over the suspects by the cost of reaching the point. Corrosion has no
one resistance: a corroded joint is suspected with whatever loss explains the readings best.
"""

import math
from collections.abc import Iterable, Sequence
from functools import cached_property
from itertools import pairwise
from typing import Final, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.boat import Scenario
from vivid_loom.power.board import Board
from vivid_loom.power.meter import OPEN_OHM, OhmMeter, amps_shown
from vivid_loom.power.powered import running
from vivid_loom.power.scan import Probe, Scan, probes_of

__all__ = [
    "LEAST_BITS",
    "MATTERS",
    "SURE",
    "Finder",
    "Point",
    "Reading",
    "Suspect",
    "Symptom",
    "Unit",
    "scenario_finder",
    "told_apart",
]

Floats = NDArray[np.float64]
Seen = Literal["runs", "dim", "dark"]
Unit = Literal["V", "A", "Ω"]
# the trouble of reaching a kind of terminal, a strip's screw being 1; our choice
_REACH: Final = {"screw": 1.0, "way": 1.0, "post": 1.0, "stud": 1.0, "bar": 1.0, "tab": 2.0}
_FAR: Final = {"lead": 2.5, "cavity": 3.0, "tail": 4.0}
METER_V, METER_SHARE = 0.03, 0.005  # what a hand meter is good for; our choice
CLAMP_A, CLAMP_SHARE = 0.1, 0.03
METER_OHM, METER_OHM_SHARE = 0.1, 0.02
DIM: Final = 0.9  # of its usual voltage: below this a lamp is seen to be dim
FARTHEST: Final = 6.0  # a reading so many times off weighs no more: nothing is ruled out for good
WRONG_SYMPTOM: Final = 6.0
KEPT: Final = 1e-3
MATTERS: Final = 1e-4  # a fault that is less likely is not asked about
SURE: Final = 0.95
LEAST_BITS: Final = 0.02  # a reading that is expected to tell less is not worth taking; our choice
LOSSES_OHM: Final = (0.05, 0.1, 0.4, 0.8, 2.0)
"""Of corrosion, beside the scan's own 0.2 Ω; more is as good as broken. Our choice."""
AFTER: Final = 2  # so many of them are less than the scan's own
TYPICAL: Final = 3  # which of them stands for a corroded joint while nobody knows
LEAST_SHARE: Final = 0.5  # of the least of them; less is no corrosion that anybody would find
UNUSUAL: Final = 1.5  # a loss far from the usual explains what is seen, but less likely
RULED_OUT: Final = 0.01  # of the likeliest that looks the same to volts: amps or ohms tell it


class Point(NamedTuple):
    """A terminal a meter can be held to; ``reach`` is the trouble it takes."""

    terminal: str
    kind: str
    reach: float


class Symptom(NamedTuple):
    """What somebody has seen of something that draws."""

    element: str
    seen: Seen


class Reading(NamedTuple):
    """What a meter has shown.

    Attributes:
        at: a terminal; for amps the wire that the clamp is around.
        value: in V, A, or Ω with the power off; infinite for no way through.
        over: the other terminal; '' for the battery's minus.
    """

    at: str
    value: float
    over: str = ""
    unit: Unit = "V"


class Suspect(NamedTuple):
    """Faults that look the same everywhere, and how likely they are together."""

    probes: tuple[Probe, ...]
    share: float


class Finder:
    """Every single fault of a board that anybody would notice in a setting, and what it shows.

    Args:
        scan: of the setting.
        probes: the faults that may be.
        near: terminals that a meter is held to; all there are without.
        noticed: faults that nobody would see are left out.
        losses_ohm: that corrosion may have, beside the scan's own, rising.
        meter_v: how far a reading may be off, besides its share.

    Attributes:
        points: where a meter can be held, the easiest to reach first.
        probes: the faults; ``volts`` of shape (points, faults), ``sound`` of shape (points,).
    """

    def __init__(
        self,
        scan: Scan,
        probes: Iterable[Probe],
        near: frozenset[str] | None = None,
        *,
        noticed: bool = True,
        losses_ohm: Sequence[float] = LOSSES_OHM,
        meter_v: float = METER_V,
    ) -> None:
        self._meter_v = meter_v
        board = scan.board
        probes = tuple(probes)
        rests = scan.rests(probes)
        corroded = [probe for probe in probes if probe.kind == "corroded"]
        self._losses = tuple(
            Finder(
                scan.corroded(dict.fromkeys((p.at for p in corroded), ohm)),
                corroded,
                near,
                noticed=False,
                losses_ohm=(),
                meter_v=meter_v,
            )
            for ohm in (losses_ohm if corroded else ())
        )
        self.board, self.scenario, self.base = board, scan.scenario, scan.base
        self._setting = scan.setting
        node = board.solver.node
        self.points = tuple(
            sorted(
                (
                    Point(t.id, t.kind, _REACH.get(t.kind) or _FAR.get(t.kind, 3.0))
                    for t in board.net.terminals
                    if t.id in node and (near is None or t.id in near)
                    if not scan.base.point.standing.floating[node[t.id]]
                ),
                key=lambda point: (point.reach, point.terminal),
            )
        )
        at = np.array([node[p.terminal] for p in self.points], dtype=np.int64)
        whole = np.array([x for _, x in rests]).T.reshape(board.solver.size, len(rests))
        kept = [
            i
            for i, (scanned, x) in enumerate(rests)
            if np.isfinite(x).all()
            and (not noticed or scanned.opens or self._shows(x) or self._shows_worse(scanned.probe))
        ]
        self.probes = tuple(rests[i][0].probe for i in kept)
        self._scan, self._rested = scan, [rests[i] for i in kept]
        self._amps: dict[str, Floats] = {}
        self._x = whole[:, kept]
        self.volts: Floats = self._x[at]
        self.sound: Floats = scan.base.point.x[at]
        self._losing = np.array(
            [i for i, p in enumerate(self.probes) if self._losses and p in self._losses[-1].place],
            dtype=np.int64,
        )
        self._in_losses = tuple(
            np.array([of.place[self.probes[i]] for i in self._losing.tolist()], dtype=np.int64)
            for of in self._losses
        )
        self.typical: Floats = self.volts
        """As ``volts``, but for corroded joints, which show what a middling loss does."""
        if self._losses:
            self.typical = self.volts.copy()
            middling, columns = self._losses[TYPICAL], self._in_losses[TYPICAL]
            self.typical[:, self._losing] = middling.volts[:, columns]

    @cached_property
    def place(self) -> dict[Probe, int]:
        """Where each fault is among ``probes``."""
        return {probe: i for i, probe in enumerate(self.probes)}

    def _shows_worse(self, probe: Probe) -> bool:
        """Tell whether anybody would see a joint that is corroded worse."""
        return any(
            probe in of.place and self._shows(of._x[:, of.place[probe]]) for of in self._losses
        )

    def _shows(self, x: Floats) -> bool:
        """Tell whether anybody would see a fault: something is dark by it, or dim."""
        board, sound = self.board, self.base.point.bent_v
        first, _ = board.solver.bent.starts
        usual = [name in self.base.running for name in board.solver.bent.ids[:first]]
        over = board.solver.over_bent(x)[:first]
        return bool((np.array(usual) & (over < DIM * sound[:first])).any())

    @cached_property
    def seen(self) -> dict[str, NDArray[np.int64]]:
        """By element that runs when all is sound, what is seen of it: 0 dark, 1 dim, 2 runs."""
        board = self.board
        over, sound = board.solver.over_bent(self._x), self.base.point.bent_v
        first, _ = board.solver.bent.starts
        usual = frozenset(self.base.running)
        lit = [
            frozenset(running(board, self._setting, self._x[:, i])) for i in range(len(self.probes))
        ]
        found = {}
        for index, name in enumerate(board.solver.bent.ids[:first]):
            if name in usual:
                runs = np.array([name in now for now in lit])
                dim = over[index] < DIM * sound[index]
                found[name] = np.where(~runs, 0, np.where(dim, 1, 2))
        return found

    def _spread(self, volts: Floats) -> Floats:
        return self._meter_v + METER_SHARE * np.abs(volts)

    def weights(self, symptoms: Iterable[Symptom], readings: Iterable[Reading]) -> Floats:
        """Return how likely each fault is, summing to 1.

        Raises:
            KeyError: an element, terminal or wire that is not there.
        """
        against = self._unlike(tuple(symptoms))
        taken = tuple(readings)
        if taken:
            against += self._away(taken)
        likely = np.exp(-(against - against.min(initial=np.inf)))
        whole: Floats = likely / likely.sum()
        return whole

    def _unlike(self, symptoms: Sequence[Symptom]) -> Floats:
        """Return how far what was seen is from each fault; a corroded joint loses what fits."""
        found = self._wrong(symptoms)
        for of, columns in zip(self._losses, self._in_losses, strict=True):
            worse = of._wrong(symptoms)[columns] + (UNUSUAL if symptoms else 0.0)
            found[self._losing] = np.minimum(found[self._losing], worse)
        return found

    def _wrong(self, symptoms: Sequence[Symptom]) -> Floats:
        """Return how far what was seen is from each fault as it was scanned."""
        found = np.zeros(len(self.probes))
        for symptom in symptoms:
            code = {"dark": 0, "dim": 1, "runs": 2}[symptom.seen]
            found += np.where(self.seen[symptom.element] == code, 0.0, WRONG_SYMPTOM)
        return found

    def _away(self, readings: Sequence[Reading]) -> Floats:
        """Return half the squares of how many spreads readings are off each fault.

        Between two losses what a joint shows is taken to lie on the straight line between.
        """
        value = np.array([min(reading.value, OPEN_OHM) for reading in readings])[:, None]
        shown, spread = self._stacked(readings)
        away = _squares((shown - value) / spread)
        losing = self._losing
        if not len(losing):
            return away
        steps = [np.broadcast_to(self._sound_rows(readings), (len(readings), len(losing)))]
        steps += [
            of._stacked(readings)[0][:, columns]
            for of, columns in zip(self._losses, self._in_losses, strict=True)
        ]
        steps.insert(1 + AFTER, shown[:, losing])
        weigh = 1 / spread[:, losing] ** 2
        least = away[losing]
        for near, far in pairwise(steps):
            way = far - near
            whole = np.maximum((weigh * way**2).sum(axis=0), 1e-30)
            along = np.clip((weigh * way * (value - near)).sum(axis=0) / whole, 0.0, 1.0)
            if near is steps[0]:
                along = np.maximum(along, LEAST_SHARE)
            least = np.minimum(least, _squares((near + along * way - value) / spread[:, losing]))
        away[losing] = least
        return away

    def _stacked(self, readings: Sequence[Reading]) -> tuple[Floats, Floats]:
        """Return what each fault would show at each reading, and the spread, (readings, faults)."""
        each = [self.shown_by(reading) for reading in readings]
        shown, spread = (np.array(rows) for rows in zip(*each, strict=True))
        return shown, spread

    def _sound_rows(self, readings: Sequence[Reading]) -> Floats:
        """Return what each reading would be with nothing wrong, shape (readings, 1)."""

        def sound(reading: Reading) -> float:
            if reading.unit == "A":
                return abs(self.base.amps[reading.at])
            black = reading.over or self.board.network.reference
            if reading.unit == "Ω":
                return self._ohm_meter.sound(reading.at, black)
            over = float(self.sound[self._index[reading.over]]) if reading.over else 0.0
            return float(self.sound[self._index[reading.at]]) - over

        return np.array([sound(reading) for reading in readings])[:, None]

    def shown_by(
        self, reading: Reading, among: NDArray[np.bool_] | None = None
    ) -> tuple[Floats, Floats]:
        """Return what each fault would show, and how far a meter may be off, shape (faults,).

        Args:
            among: faults that ohms are worked out for; the others are taken for no way through.

        Raises:
            KeyError: a terminal or wire that is not there.
        """
        if reading.unit == "A":
            if reading.at not in self._amps:
                self._amps[reading.at] = amps_shown(self._scan, self._rested, reading.at)
            row = self._amps[reading.at]
            return row, CLAMP_A + CLAMP_SHARE * row
        if reading.unit == "Ω":
            asked = range(len(self.probes)) if among is None else np.flatnonzero(among).tolist()
            opened = [(self.probes[i], self.opened(i)) for i in asked]
            black = reading.over or self.board.network.reference
            row = np.full(len(self.probes), OPEN_OHM)
            row[list(asked)] = self._ohm_meter.shown(opened, reading.at, black)
            return row, METER_OHM + METER_OHM_SHARE * row
        row = self.volts[self._index[reading.at]]
        if reading.over:
            row = row - self.volts[self._index[reading.over]]
        return row, self._spread(row)

    def sound_ohm(self, terminal: str) -> float:
        """Return what an ohmmeter would show from a terminal to minus with nothing wrong."""
        return self._ohm_meter.sound(terminal, self.board.network.reference)

    @cached_property
    def _index(self) -> dict[str, int]:
        return {point.terminal: i for i, point in enumerate(self.points)}

    @cached_property
    def _ohm_meter(self) -> OhmMeter:
        return OhmMeter(self._scan)

    @cached_property
    def alike(self) -> NDArray[np.int64]:
        """The class of each fault: those of one class no reading can tell apart."""
        grid = np.round(self.typical / (3 * self._spread(self.sound))[:, None]).astype(np.int64)
        _, classes = np.unique(grid, axis=1, return_inverse=True)
        return np.asarray(classes).ravel()

    def suspects(self, weights: Floats) -> list[Suspect]:
        """Return the classes of faults, the likeliest first, as far as they matter."""
        totals = np.bincount(self.alike, weights=weights)
        order = [int(c) for c in np.argsort(-totals) if totals[c] >= KEPT]
        found: list[Suspect] = []
        for c in order:
            members = np.flatnonzero(self.alike == c)
            likely = members[weights[members] >= RULED_OUT * weights[members].max()]
            probes = tuple(self.probes[i] for i in likely.tolist())
            found.append(Suspect(probes, float(totals[c])))
        return found

    def next_point(self, weights: Floats, read: Sequence[str] = ()) -> Point | None:
        """Return the point that tells most for its trouble; None where none tells anything.

        Args:
            read: terminals that have been read.
        """
        gains = self.gains(weights)
        known = frozenset(read)
        best, most = None, 0.0
        for point, gain in zip(self.points, gains.tolist(), strict=True):
            worth = gain / point.reach if gain > LEAST_BITS else 0.0
            if point.terminal not in known and worth > most + 1e-12:
                best, most = point, worth
        return best

    def gains(self, weights: Floats) -> Floats:
        """Return the information every point is expected to give, in bits, shape (points,)."""
        matter = np.flatnonzero(weights > MATTERS)
        # what no reading tells apart is one suspect
        totals = np.bincount(self.alike[matter], weights=weights[matter])
        first = {
            int(c): int(i) for i, c in zip(matter[::-1], self.alike[matter[::-1]], strict=True)
        }
        classes = [c for c in first if totals[c] > 0]
        share = np.array([totals[c] for c in classes])
        share = share / share.sum()
        rows = self.typical[:, [first[c] for c in classes]]
        scaled = rows / (3 * self._spread(self.sound))[:, None]
        # two rulings: what one of them does not tell apart lies too near to be told
        return np.minimum(*(_bits(np.round(scaled + shift), share) for shift in (0.0, 0.5)))

    def read(self, index: int, at: str, unit: Unit = "V") -> float:
        """Return what a meter would show with one of the faults there; see ``Reading``."""
        shown = float(self.shown_by(Reading(at, 0.0, unit=unit))[0][index])
        return math.inf if unit == "Ω" and shown >= OPEN_OHM else shown

    def opened(self, index: int) -> tuple[str, ...]:
        """Return the contacts whose devices one of the faults has opened."""
        return self._rested[index][0].opens

    def shown(self, index: int) -> list[Symptom]:
        """Return what a fault shows without a meter: everything that is dark or dim by it."""
        words: dict[int, Seen] = {0: "dark", 1: "dim"}
        return [
            Symptom(name, words[int(codes[index])])
            for name, codes in self.seen.items()
            if codes[index] < 2
        ]

    def hunt(self, index: int, most: int = 30) -> list[Reading]:
        """Find a hidden fault by the finder's own advice; return the readings it took."""
        symptoms, readings = self.shown(index), list[Reading]()
        weights = self.weights(symptoms, readings)
        while len(readings) < most and self.suspects(weights)[0].share < SURE:
            point = self.next_point(weights, [r.at for r in readings if r.unit == "V"])
            if point is None:
                break
            readings.append(Reading(point.terminal, self.read(index, point.terminal)))
            weights = self.weights(symptoms, readings)
        return readings


def _squares(off: Floats) -> Floats:
    """Return half the squares of readings so many spreads off, summed over the readings."""
    found: Floats = 0.5 * (np.minimum(np.abs(off), FARTHEST) ** 2).sum(axis=0)
    return found


def told_apart(shown: Floats, spread: Floats, weights: Floats) -> float:
    """Return the information a reading is expected to give over all faults, in bits."""
    matter = weights > MATTERS
    if not matter.any():
        return 0.0
    order = np.argsort(shown[matter])
    row, off, share = (each[matter][order] for each in (shown, spread, weights))
    # along a ruler on which a meter is as good everywhere: three times its spread are told apart
    between = np.diff(row) / (0.5 * (off[1:] + off[:-1]))
    along = np.concatenate(([0.0], np.cumsum(between))) / 3
    rulings = (np.round(along + shift)[None, :] for shift in (0.0, 0.5))
    return min(float(_bits(ruled, share / share.sum())[0]) for ruled in rulings)


def _bits(classes: Floats, share: Floats) -> Floats:
    """Return the information of every row's classes, in bits, shape (rows,)."""
    order = np.argsort(classes, axis=1, kind="stable")
    ordered = np.take_along_axis(classes, order, axis=1)
    place = np.arange(classes.size).reshape(classes.shape)
    place[:, 1:][ordered[:, 1:] == ordered[:, :-1]] = 0
    first = np.maximum.accumulate(place, axis=1)  # of each class, where it begins in its row
    parts = np.bincount(first.ravel(), share[order].ravel(), classes.size).reshape(classes.shape)
    bits: Floats = -(parts * np.log2(np.where(parts > 0, parts, 1.0))).sum(axis=1)
    return bits


def scenario_finder(board: Board, scenario: Scenario) -> Finder:
    """Return the finder of every fault that shows in a scenario."""
    return Finder(Scan(board, scenario), probes_of(board))
