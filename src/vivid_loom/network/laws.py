"""Currents and slopes of what is not a plain resistance, many at once."""

from collections.abc import Sequence
from functools import cached_property
from typing import NamedTuple, TypeVar

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.records import IDLE_SHARE, LEAK_S, Converter, Draw, Source
from vivid_loom.quantities import computed

__all__ = ["Bent", "bent_of"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Number = TypeVar("Number", bound=np.generic)
WITHIN, AT_LIMIT, OFF = 0, 1, 2
RESISTANCE, CURRENT, POWER = 0, 1, 2
_LAWS = {"resistance": RESISTANCE, "current": CURRENT, "power": POWER}


class _Curves(NamedTuple):
    """The laws of the draws as they are asked for at every step; columns for many states."""

    amps: Floats
    volts: Floats
    least: Floats
    idle: Floats
    per_span: Floats
    resistive: NDArray[np.bool_]
    steady: NDArray[np.bool_]
    both_ways: NDArray[np.bool_]


@computed
class Bent:
    """Draws, then limited sources, then the inputs of converters: everything with a law.

    The current of each flows from its plus to its minus; a source's is negative. Arrays are of
    shape (n,) over all of them, or of their kind.

    Attributes:
        law, amps, volts, least_v, both_ways: of the draws; see ``Draw``.
        source_v, source_s, limit_a: of the limited sources, their conductance in S.
        output: of each converter, the index among the limited sources of its output.
        outputs: where the limited sources and where the converters begin.
    """

    ids: tuple[str, ...]
    law: Ints
    amps: Floats
    volts: Floats
    least_v: Floats
    both_ways: NDArray[np.bool_]
    source_v: Floats
    source_s: Floats
    limit_a: Floats
    output: Ints
    efficiency: Floats
    converter_least_v: Floats

    @cached_property
    def starts(self) -> tuple[int, int]:
        """Where limited sources begin, and where converters do."""
        return len(self.amps), len(self.amps) + len(self.source_v)

    def currents(self, v: Floats, regime: Ints | None = None) -> Floats:
        """Return currents at these voltages, leak included; shape (n,) or (n, k) as ``v``.

        Args:
            regime: of the limited sources, where they are taken as straight lines; see ``regimes``.
        """
        first, second = self.starts
        drawn = self._draws(v[:first])
        given = self._given(v[first:second], regime)
        taken = self._taken(v[first:second], given, v[second:])
        return np.concatenate((drawn, -given, taken)) + LEAK_S * v

    def _draws(self, v: Floats) -> Floats:
        c = self._curves if v.ndim == 1 else self._columns
        size = np.abs(v)
        share = np.minimum(np.maximum((size - c.idle) * c.per_span, 0.0), 1.0)
        working = np.where(c.steady, share, c.volts / np.maximum(size, c.least) * share)
        by_law = np.where(c.resistive, size / c.volts, working)
        return np.where((v >= 0) | c.both_ways, np.sign(v) * c.amps * by_law, 0.0)

    @cached_property
    def _curves(self) -> _Curves:
        idle = self.idle_v
        per_span = 1.0 / (self.least_v - idle)
        laws = (self.law == RESISTANCE, self.law == CURRENT, self.both_ways)
        return _Curves(self.amps, self.volts, self.least_v, idle, per_span, *laws)

    @cached_property
    def _columns(self) -> _Curves:
        numbers, flags = self._curves[:5], self._curves[5:]
        one, two, three = (flag[:, None] for flag in flags)
        amps, volts, least, idle, per_span = (figures[:, None] for figures in numbers)
        return _Curves(amps, volts, least, idle, per_span, one, two, three)

    @cached_property
    def idle_v(self) -> Floats:
        """Below this a constant current or power draws nothing."""
        return IDLE_SHARE * self.volts

    def _given(self, v: Floats, regime: Ints | None = None) -> Floats:
        volts, siemens, limit = (_like(x, v) for x in (self.source_v, self.source_s, self.limit_a))
        within = (volts - v) * siemens
        if regime is None:
            clipped: Floats = np.minimum(np.maximum(within, 0.0), limit)
            return clipped
        return np.where(regime == WITHIN, within, np.where(regime == AT_LIMIT, limit, 0.0))

    def _taken(self, v_out: Floats, given: Floats, v_in: Floats) -> Floats:
        if not len(self.output):
            return v_in  # no converters: as empty as their currents
        power: Floats = np.maximum(v_out[self.output] * given[self.output], 0.0)
        power = power / _like(self.efficiency, v_in)
        least = _like(self.converter_least_v, v_in)
        high = np.maximum(v_in, least)
        taken: Floats = power / high * np.clip(v_in / least, 0.0, 1.0)
        return taken

    def slopes(self, v: Floats) -> Floats:
        """Return di/dv at these voltages, shape (n,), what couples converters left out."""
        first, second = self.starts
        size = np.abs(v[:first])
        span, high = self.least_v - self.idle_v, np.maximum(size, self.least_v)
        rises = (size > self.idle_v) & (size < self.least_v)
        held = size >= self.least_v
        by_law = np.where(
            self.law == RESISTANCE,
            1 / self.volts,
            np.where(
                rises,
                np.where(self.law == CURRENT, 1.0, self.volts / high) / span,
                np.where((self.law == POWER) & held, -self.volts / high**2, 0.0),
            ),
        )
        draws = np.where((v[:first] >= 0) | self.both_ways, self.amps * by_law, 0.0)
        given = (self.source_v - v[first:second]) * self.source_s
        sources = np.where((given > 0) & (given < self.limit_a), self.source_s, 0.0)
        now = self._given(v[first:second])
        taken = self._taken(v[first:second], now, v[second:])
        held_in = v[second:] >= self.converter_least_v
        converters = np.where(
            held_in,
            -taken / np.maximum(v[second:], self.converter_least_v),
            taken / np.maximum(v[second:], 1e-9),
        )
        return np.concatenate((draws, sources, converters)) + LEAK_S

    def usual_drive(self) -> Floats:
        """Return what limited sources would drive at 0 V if they had no limit, to begin with."""
        return np.where(self.limit_a > 0, self.source_v * self.source_s, 0.0)

    def regimes(self, v: Floats, before: Ints) -> Ints:
        """Return on which straight line of its law each limited source is.

        None goes from its limit to giving nothing, or back, at one step: it would swing for ever.

        Args:
            v: over the limited sources, shape (n,) or (n, k).
            before: what they were, of the same shape.
        """
        volts, siemens, limit = (_like(x, v) for x in (self.source_v, self.source_s, self.limit_a))
        given = (volts - v) * siemens
        within = (before == WITHIN) & (given >= 0) & (given <= limit)
        if np.where(limit > 0, within, before == OFF).all():
            return before  # nothing leaves its line
        inside = np.where(given > limit, AT_LIMIT, np.where(given < 0, OFF, WITHIN))
        leaves = np.where(before == AT_LIMIT, given < limit, given > 0)
        now = np.where(before == WITHIN, inside, np.where(leaves, WITHIN, before))
        return np.where(limit == 0, OFF, now)

    def limit_slopes(self, regime: Ints) -> Floats:
        """Return by how much limited sources' slopes fall short of those within their limit."""
        gives = _like(np.where(self.limit_a > 0, self.source_s, 0.0), regime)
        return np.where(regime == WITHIN, 0.0, gives)

    def coupling(self, v: Floats) -> Floats:
        """Return, of each converter, how much more it takes per volt at its output, in S."""
        first, second = self.starts
        out, given = v[first:second], self._given(v[first:second])
        inside = (given > 0) & (given < self.limit_a)
        per_volt = np.where(inside, given - out * self.source_s, given)
        per_volt = np.where(out * given > 0, per_volt, 0.0)[self.output]
        high = np.maximum(v[second:], self.converter_least_v)
        share = np.clip(v[second:] / self.converter_least_v, 0.0, 1.0)
        return per_volt / self.efficiency / high * share

    def working_slopes(self) -> Floats:
        """Return slopes of what works at its voltage: nearest to true where nothing is wrong."""
        slope = np.where(self.law == RESISTANCE, 1.0, np.where(self.law == CURRENT, 0.0, -1.0))
        gives = np.where(self.limit_a > 0, self.source_s, 0.0)
        draws = self.amps * slope / self.volts
        return np.concatenate((draws, gives, np.zeros(len(self.output)))) + LEAK_S

    def usual_slopes(self) -> Floats:
        """Return slopes that are safe: a draw's steepest, a source's within its limit.

        None is less steep than what it stands for, so that steps towards balance never overshoot.
        """
        span = self.least_v - self.idle_v
        steepest = np.where(self.law == CURRENT, 1.0, self.volts / self.least_v) / span
        slope = np.where(self.law == RESISTANCE, 1 / self.volts, steepest)
        gives = np.where(self.limit_a > 0, self.source_s, 0.0)
        return np.concatenate((self.amps * slope, gives, np.zeros(len(self.output)))) + LEAK_S


def _like(x: NDArray[Number], v: NDArray[np.generic]) -> NDArray[Number]:
    """Return a column for voltages of many states at once."""
    return x if v.ndim == 1 else x[:, None]


def bent_of(
    draws: Sequence[Draw], limited: Sequence[Source], converters: Sequence[Converter]
) -> Bent:
    """Return laws as arrays.

    Args:
        limited: the sources with a limit, among them every converter's output.
    """
    at = {source.id: i for i, source in enumerate(limited)}
    return Bent(
        ids=(*(d.id for d in draws), *(s.id for s in limited), *(c.id for c in converters)),
        law=np.array([_LAWS[d.law] for d in draws], dtype=np.int64),
        amps=np.array([d.amps for d in draws], dtype=float),
        volts=np.array([d.volts for d in draws], dtype=float),
        least_v=np.array([max(d.least_v, 1e-6) for d in draws], dtype=float),
        both_ways=np.array([d.both_ways for d in draws], dtype=bool),
        source_v=np.array([s.volts for s in limited], dtype=float),
        source_s=np.array([1 / s.ohm for s in limited], dtype=float),
        limit_a=np.array([s.limit_a for s in limited], dtype=float),
        output=np.array([at[c.source] for c in converters], dtype=np.int64),
        efficiency=np.array([c.efficiency for c in converters], dtype=float),
        converter_least_v=np.array([c.least_v for c in converters], dtype=float),
    )
