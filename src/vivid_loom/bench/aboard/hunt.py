"""Where volts are lost that do not arrive: the fault finder, fed by what is read aboard."""

import math
from collections.abc import Iterable, Mapping, Sequence
from typing import Final, NamedTuple

import numpy as np

from vivid_loom.bench.aboard.alone import COPPER_C
from vivid_loom.bench.aboard.plan import DEAD_SHARE, AliveStep
from vivid_loom.bench.progress import Result, signature_of
from vivid_loom.drafting import Draft
from vivid_loom.network.changed import Change
from vivid_loom.power.board import Board, Conditions
from vivid_loom.power.finder import SURE, Finder, Reading, Suspect
from vivid_loom.power.scan import Scan, probes_of
from vivid_loom.power.setting import Setting

__all__ = ["Hunt", "Hunter"]

MOST_READINGS: Final = 12
MORE_OHM: Final = (1e-4, 1e4)  # between what a resistance is searched for; our choice
HALVINGS: Final = 30
LEAST_A: Final = 1e-3
DEAD_METER_V: Final = 1.0  # behind an open a meter shows what it leaks through; our choice
LEAST_LOSS_V: Final = 0.1  # what a hand meter still tells from nothing; our choice


class Hunt(NamedTuple):
    """How far the search for what a failed reading means has come.

    Attributes:
        suspects: faults that explain every reading so far, the likeliest first.
        steps: what has been read to tell them apart, and what to read next.
    """

    suspects: tuple[Suspect, ...]
    steps: tuple[AliveStep, ...]


class Hunter:
    """Looks for one fault behind volts that are too low, circuit by circuit.

    Everything that carries the circuit's current may be broken, or have so much resistance that
    the reading comes out as it was.
    """

    def __init__(self, draft: Draft) -> None:
        self._draft = draft
        self._board = Board(draft, Conditions(copper_c=COPPER_C))
        self._finders: dict[tuple[str, str, float], Finder] = {}

    def hunt(
        self, step: AliveStep, volts: float, given: float, results: Mapping[str, Result]
    ) -> Hunt:
        """Return who is suspected, and what to read.

        Args:
            step: volts at a load, which were read too low.
            volts: what was read.
            given: what the battery gives of what it is reckoned at: 1 for a charged one.
            results: everything read aboard so far, by step.
        """
        loss = max(step.figure - volts / given, LEAST_LOSS_V)
        finder = self._finder(step, volts / given)
        if not finder.probes:
            return Hunt((), ())
        readings = [Reading(step.red, volts / given, step.black)]
        steps: list[AliveStep] = []
        while True:
            weights = finder.weights((), readings)
            suspects = tuple(finder.suspects(weights))
            done = suspects[0].share >= SURE or len(steps) >= MOST_READINGS
            read = [reading.at for reading in readings]
            point = None if done else finder.next_point(weights, read)
            if point is None:
                return Hunt(suspects, tuple(steps))
            sound = float(finder.sound[finder.points.index(point)])
            find = self._find(step, point.terminal, sound * given, loss, volts)
            steps.append(find)
            result = results.get(find.id)
            if result is None or result.signature != find.signature:
                return Hunt(suspects, tuple(steps))
            readings.append(Reading(point.terminal, result.value / given))

    def _find(
        self, step: AliveStep, terminal: str, sound_v: float, loss_v: float, volts: float
    ) -> AliveStep:
        """Return a reading that tells on which side of a point the volts are lost."""
        return AliveStep(
            f"find {step.subject} {terminal}",
            "volts",
            "find",
            signature_of("find", step.signature, round(volts, 3), terminal),
            step.subject,
            step.states,
            step.device,
            red=terminal,
            black=self._board.network.reference,
            figure=sound_v,
            low=sound_v - loss_v / 2,
            high=sound_v + loss_v / 2,
        )

    def _finder(self, step: AliveStep, volts: float) -> Finder:
        key = (step.id, step.signature, round(volts, 2))
        if key not in self._finders:
            self._finders[key] = self._made(step, volts)
        return self._finders[key]

    def _made(self, step: AliveStep, volts: float) -> Finder:
        board, row = self._board, self._draft.circuit(step.subject)
        assert row is not None
        setting = Setting(states=step.states, idle=board.idle_beside(row.id))
        scan = Scan(board, "under way by day", setting)
        kind = "open" if volts < DEAD_SHARE * step.figure else "corroded"
        probes = [probe for probe in probes_of(board) if probe.kind == kind]
        matter = _mattering(scan, [probe.at for probe in probes], step)
        carrying = [probe for probe in probes if probe.at in matter]
        pieces = {wire.id: wire.ends for wire in board.net.conductors}
        pieces |= {contact.id: contact.ends for contact in board.net.contacts}
        near = frozenset(end for p in carrying for end in pieces[p.at]) | {step.red, step.black}
        if kind == "corroded":
            scan.corroded_ohm = _fitted(scan, [p.at for p in carrying], step, volts)
            return Finder(scan, carrying, near, noticed=False, losses_ohm=())
        return Finder(scan, carrying, near, noticed=False, losses_ohm=(), meter_v=DEAD_METER_V)


def _mattering(scan: Scan, pieces: Iterable[str], step: AliveStep) -> frozenset[str]:
    """Return the wires and contacts without which a step reads less."""
    solver, amps = scan.board.solver, scan.base.amps
    carrying = [name for name in pieces if abs(amps.get(name, 0.0)) > LEAST_A]
    x = scan.changes.of([(Change(0.0, branch=name),) for name in carrying]).x
    over = x[solver.node[step.red]] - x[solver.node[step.black]]
    less = over < scan.base.point.across(step.red, step.black) - LEAST_LOSS_V
    return frozenset(name for name, is_less in zip(carrying, less.tolist(), strict=True) if is_less)


def _fitted(scan: Scan, pieces: Sequence[str], step: AliveStep, volts: float) -> dict[str, float]:
    """Return what each wire or contact would have to have more, in Ω, for volts to read so."""
    solver, standing = scan.board.solver, scan.base.point.standing
    red, black = solver.node[step.red], solver.node[step.black]
    siemens = np.array([standing.siemens[solver.branch_index[name]] for name in pieces])
    low, high = (np.full(len(pieces), math.log(ohm)) for ohm in MORE_OHM)
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        left = 1 / (1 / siemens + np.exp(middle))
        tried = [(Change(s, branch=name),) for s, name in zip(left.tolist(), pieces, strict=True)]
        x = scan.changes.of(tried).x
        too_much = ~(x[red] - x[black] >= volts)  # nothing settles: too much as well
        high, low = np.where(too_much, middle, high), np.where(too_much, low, middle)
    return dict(zip(pieces, np.exp(low).tolist(), strict=True))
