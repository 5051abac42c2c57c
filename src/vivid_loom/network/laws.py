"""Currents and slopes of what is not a plain resistance, many at once."""

from collections.abc import Sequence
from functools import cached_property
from typing import NamedTuple, TypeVar

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.records import IDLE_SHARE, LEAK_S, Converter, Draw, Source
from vivid_loom.quantities import computed

__all__ = ["Bent", "Lines", "bent_of"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Number = TypeVar("Number", bound=np.generic)
FAR_V = 1e30  # no voltage is ever as high
WITHIN, AT_LIMIT, OFF = 0, 1, 2
RESISTANCE, CURRENT, POWER = 0, 1, 2
_LAWS = {"resistance": RESISTANCE, "current": CURRENT, "power": POWER}


class _Curves(NamedTuple):
    """One formula for the laws of all draws, asked for at every step; columns for many states.

    Of ``amps`` flows the share ``(|v| - idle) per_span``, at most ``full``, times ``volts`` over
    ``|v|``, at least ``least``. A resistance has no idle and nothing full; what is steady has its
    ``volts`` and ``least`` alike and beyond reach. ``back`` is -1 for what conducts both ways.
    """

    amps: Floats
    volts: Floats
    least: Floats
    idle: Floats
    per_span: Floats
    full: Floats
    back: Floats


class Lines(NamedTuple):
    """Straight lines that limited sources are taken for: each gives ``amps - siemens v``.

    Attributes:
        regime: which stretch of its law each is on, ``WITHIN`` its limit, ``AT_LIMIT`` or ``OFF``;
            shape (n,) or (n, k) for many states, as of all that follow.
        amps, siemens: the line.
        lowest_v, highest_v: between these the source is on it.
    """

    regime: Ints
    amps: Floats
    siemens: Floats
    lowest_v: Floats
    highest_v: Floats

    def hold(self, v: Floats) -> bool:
        """Tell whether every source is on its line at these voltages over them."""
        return bool(((v >= self.lowest_v) & (v <= self.highest_v)).all())


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

    def currents(self, v: Floats, lines: Lines | None = None) -> Floats:
        """Return currents at these voltages, leak included; shape (n,) or (n, k) as ``v``.

        Args:
            lines: that limited sources are taken for.
        """
        first, second = self.starts
        drawn = self._draws(v[:first])
        given = self._given(v[first:second], lines)
        taken = self._taken(v[first:second], given, v[second:])
        return np.concatenate((drawn, -given, taken)) + LEAK_S * v

    def _draws(self, v: Floats) -> Floats:
        c = self._curves if v.ndim == 1 else self._columns
        size = np.maximum(v, v * c.back)
        drawn: Floats = size - c.idle
        drawn *= c.per_span
        np.maximum(drawn, 0.0, out=drawn)
        np.minimum(drawn, c.full, out=drawn)
        np.maximum(size, c.least, out=size)
        np.divide(c.volts, size, out=size)
        drawn *= size
        drawn *= c.amps
        return np.copysign(drawn, v, out=drawn)

    @cached_property
    def _curves(self) -> _Curves:
        idle, resists = self.idle_v, self.law == RESISTANCE
        bends = self.law == POWER
        return _Curves(
            self.amps,
            np.where(bends, self.volts, FAR_V),
            np.where(bends, self.least_v, FAR_V),
            np.where(resists, 0.0, idle),
            1.0 / np.where(resists, self.volts, self.least_v - idle),
            np.where(resists, np.inf, 1.0),
            np.where(self.both_ways, -1.0, 0.0),
        )

    @cached_property
    def _columns(self) -> _Curves:
        return _Curves(*(figures[:, None] for figures in self._curves))

    @cached_property
    def idle_v(self) -> Floats:
        """Below this a constant current or power draws nothing."""
        return IDLE_SHARE * self.volts

    def _given(self, v: Floats, lines: Lines | None = None) -> Floats:
        if lines is not None:
            straight: Floats = lines.amps - lines.siemens * v
            return straight
        volts, siemens, limit = (_like(x, v) for x in (self.source_v, self.source_s, self.limit_a))
        clipped: Floats = np.minimum(np.maximum((volts - v) * siemens, 0.0), limit)
        return clipped

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

    @cached_property
    def usual_v(self) -> Floats:
        """Voltages of what works: a draw's own, a source's with nothing drawn."""
        return np.concatenate((self.volts, self.source_v, np.zeros(len(self.output))))

    @cached_property
    def within(self) -> Lines:
        """The lines of limited sources within their limits."""
        return self.lines(np.zeros(len(self.source_v), dtype=np.int64))

    def lines(self, regime: Ints) -> Lines:
        """Return the lines of limited sources on these stretches of their laws."""
        which = np.arange(len(regime))
        which = which if regime.ndim == 1 else which[:, None]
        return Lines(regime, *(each[regime, which] for each in self._stretches))

    @cached_property
    def _stretches(self) -> tuple[Floats, Floats, Floats, Floats]:
        """What ``Lines`` has of each source on each stretch, each of shape (3, sources)."""
        volts, siemens, limit = self.source_v, self.source_s, self.limit_a
        none, far = np.zeros(len(volts)), np.full(len(volts), np.inf)
        least_v = volts - limit / siemens
        found = (
            np.stack((volts * siemens, limit, none)),
            np.stack((siemens, none, none)),
            np.stack((least_v, -far, volts)),
            np.stack((volts, least_v, far)),
        )
        for each, always in zip(found, (0.0, 0.0, -np.inf, np.inf), strict=True):
            each[:, limit == 0] = always  # it gives nothing at any voltage
        return found

    def moved(self, lines: Lines, v: Floats) -> Lines:
        """Return the lines that limited sources are on at these voltages over them.

        None goes from its limit to giving nothing, or back, at one step: it would swing for ever.
        """
        low, high, before = v < lines.lowest_v, v > lines.highest_v, lines.regime
        from_within = np.where(low, AT_LIMIT, np.where(high, OFF, WITHIN))
        return self.lines(
            np.where(before == WITHIN, from_within, np.where(low | high, WITHIN, before))
        )

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

    @cached_property
    def working_slopes(self) -> Floats:
        """Slopes of what works at its voltage: nearest to true where nothing is wrong."""
        slope = np.where(self.law == RESISTANCE, 1.0, np.where(self.law == CURRENT, 0.0, -1.0))
        draws = self.amps * slope / self.volts
        return np.concatenate((draws, self.within.siemens, np.zeros(len(self.output)))) + LEAK_S

    @cached_property
    def usual_slopes(self) -> Floats:
        """Slopes that are safe: a draw's steepest, a source's within its limit.

        None is less steep than what it stands for, so that steps towards balance never overshoot.
        """
        span = self.least_v - self.idle_v
        steepest = np.where(self.law == CURRENT, 1.0, self.volts / self.least_v) / span
        slope = np.where(self.law == RESISTANCE, 1 / self.volts, steepest)
        return (
            np.concatenate((self.amps * slope, self.within.siemens, np.zeros(len(self.output))))
            + LEAK_S
        )


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
