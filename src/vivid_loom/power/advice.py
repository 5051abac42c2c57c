"""What to read next, with which side of the meter: volts, a clamp, or ohms with the power off.

Every reading is worth the information it is expected to give by the trouble it takes. Ohms come
last: the power has to go off for them, and what runs no longer tells anything.
"""

from collections.abc import Iterator, Mapping, Sequence
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.power.finder import LEAST_BITS, MATTERS, Finder, Reading, Unit, told_apart

__all__ = ["Advice", "next_reading"]

CLAMP_TROUBLE: Final = 1.5  # times that of the nearer end: a wire is got out of its bundle
OFF_TROUBLE: Final = 3.0  # times that of the point, the power off; both are our choice
MOST_WIRES: Final = 12  # of the likeliest suspects, that a clamp may go round
MOST_OFF: Final = 5  # whose ends are read with the power off


class Advice(NamedTuple):
    """A reading that tells much for its trouble.

    Attributes:
        at: a terminal, or for amps the wire that the clamp goes round.
        sound: what the meter would show with nothing wrong.
        bits: the information it is expected to give.
    """

    at: str
    unit: Unit
    sound: float
    bits: float


def next_reading(
    finder: Finder, weights: NDArray[np.float64], readings: Sequence[Reading] = ()
) -> Advice | None:
    """Return the reading that tells most for its trouble; None where none tells anything.

    Args:
        weights: how likely each fault is; see ``Finder.weights``.
        readings: what has been read.
    """
    read = {(r.at, r.unit) for r in readings}
    found = [*_volts(finder, weights, readings), *_amps(finder, weights)]
    open_ = [(worth, advice) for worth, advice in found if (advice.at, advice.unit) not in read]
    if not open_:
        ohms = _ohms(finder, weights)
        open_ = [(worth, advice) for worth, advice in ohms if (advice.at, advice.unit) not in read]
    return max(open_, key=lambda each: each[0])[1] if open_ else None


def _volts(
    finder: Finder, weights: NDArray[np.float64], readings: Sequence[Reading]
) -> Iterator[tuple[float, Advice]]:
    point = finder.next_point(weights, [r.at for r in readings if r.unit == "V"])
    if point is None:
        return
    index = finder.points.index(point)
    bits = float(finder.gains(weights)[index])
    yield bits / point.reach, Advice(point.terminal, "V", float(finder.sound[index]), bits)


def _suspected(finder: Finder, weights: NDArray[np.float64]) -> list[str]:
    """Return the wires of the likeliest suspects, the likeliest first."""
    order = np.argsort(-weights, kind="stable").tolist()
    likely = (finder.probes[i].at for i in order if weights[i] > 0)
    wires = dict.fromkeys(name for name in likely if name in finder.board.conductors)
    return list(wires)[:MOST_WIRES]


def _reach(finder: Finder, wire: str, reaches: Mapping[str, float]) -> float:
    """Return the trouble of reaching the nearer end of a wire."""
    ends = finder.board.conductors[wire].ends
    return min((reaches[end] for end in ends if end in reaches), default=max(reaches.values()))


def _amps(finder: Finder, weights: NDArray[np.float64]) -> Iterator[tuple[float, Advice]]:
    reaches = {point.terminal: point.reach for point in finder.points}
    for wire in _suspected(finder, weights):
        asked = Reading(wire, 0.0, unit="A")
        bits = told_apart(*finder.shown_by(asked), weights)
        if bits > LEAST_BITS:
            amps = abs(finder.base.amps[wire])
            yield (
                bits / (CLAMP_TROUBLE * _reach(finder, wire, reaches)),
                Advice(wire, "A", amps, bits),
            )


def _ohms(finder: Finder, weights: NDArray[np.float64]) -> Iterator[tuple[float, Advice]]:
    at = {point.terminal: point for point in finder.points}
    ends = (
        end
        for wire in _suspected(finder, weights)[:MOST_OFF]
        for end in finder.board.conductors[wire].ends
    )
    for terminal in dict.fromkeys(end for end in ends if end in at):
        asked = Reading(terminal, 0.0, unit="Ω")
        bits = told_apart(*finder.shown_by(asked, weights > MATTERS), weights)
        if bits > LEAST_BITS:
            trouble = OFF_TROUBLE * at[terminal].reach
            yield bits / trouble, Advice(terminal, "Ω", finder.sound_ohm(terminal), bits)
