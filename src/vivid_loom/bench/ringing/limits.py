"""Between what limits a wire's resistance must read, end to end on the bench."""

from collections.abc import Callable
from typing import Final, NamedTuple

from vivid_loom.bench.ringing.resistance import effective_ohm
from vivid_loom.bench.ringing.specimen import BenchWire, Specimen
from vivid_loom.quantities import Gauge
from vivid_loom.quantities.reckoning import Reckoned, keyed
from vivid_loom.standards.conductor import area_mm2, resistance
from vivid_loom.standards.contacts import end_ohm

__all__ = [
    "BENCH_C",
    "METER_MOHM",
    "Band",
    "band_between",
    "band_of",
    "highest",
    "lowest",
    "tells_gauge",
]

# our choices: what a strand maker's tolerance and a good crimp make of the tables' figures
COPPER_MOST: Final = 1.05
COPPER_LEAST: Final = 0.90
ENDS_MOST: Final = 2.0  # times the usual resistance of a crimped end, or of a plug's contact
CONTACT_LEAST: Final = 0.01  # times the usual resistance of a contact
METER_MOHM: Final = 0.02
"""By how much a four-wire bench meter is off once its own leads are taken off; our choice."""

BENCH_C: Final = (0.0, 45.0)
"""Between what temperatures a harness is rung out."""

METER_SHARE: Final = 0.005


class Band(NamedTuple):
    """From what a sound wire reads at least to what it reads at most, in mΩ."""

    low: float
    high: float


def highest(gauge: Gauge, cut_mm: float, copper_c: float) -> Reckoned:
    """Return the most that a wire with two good crimps has, in mΩ, as cut and at a temperature."""
    copper = resistance(gauge, copper_c) * keyed(cut_mm) * keyed(COPPER_MOST)
    ends = keyed(2) * keyed(ENDS_MOST) * keyed(end_ohm(area_mm2(gauge)) * 1000)
    return copper + ends


def lowest(gauge: Gauge, cut_mm: float, copper_c: float) -> Reckoned:
    """Return the least that a wire has, in mΩ: its copper alone, as fine as strands get."""
    return resistance(gauge, copper_c) * keyed(cut_mm) * keyed(COPPER_LEAST)


def _as_read(low: float, high: float) -> Band:
    """Return between what a meter may show resistances, in mΩ."""
    return Band(
        max(low * (1 - METER_SHARE) - METER_MOHM, 0.0), high * (1 + METER_SHARE) + METER_MOHM
    )


def band_of(specimen: Specimen, wire: BenchWire, copper_c: float) -> Band:
    """Return what must be read between a wire's pins; other ways between them count."""
    net = specimen.net_of[wire.start]
    if len(net.wires) < len(net.pins):  # a tree: there is no other way
        told = (wire.wire.gauge, wire.wire.cut_mm, copper_c)
        return _as_read(lowest(*told).value, highest(*told).value)
    return band_between(specimen, wire.start, wire.end, copper_c)


def band_between(specimen: Specimen, start: str, end: str, copper_c: float) -> Band:
    """Return what must be read between two pins of a net.

    More resistance anywhere never makes less between two pins (Rayleigh), so that the net with all
    its wires and contacts at their least and at their most holds whatever a sound one reads.
    """
    net = specimen.net_of[start]

    def between(of: Callable[[Gauge, float, float], Reckoned], times: float) -> float:
        wires = [specimen.wires[name] for name in net.wires]
        edges = [(w.start, w.end, of(w.wire.gauge, w.wire.cut_mm, copper_c).value) for w in wires]
        pins = frozenset(net.pins)
        edges += [(m.a, m.b, m.mohm * times) for m in specimen.mates if m.a in pins]
        return effective_ohm(edges, start, end)

    return _as_read(between(lowest, CONTACT_LEAST), between(highest, ENDS_MOST))


def tells_gauge(specimen: Specimen, wire: BenchWire, gauges: tuple[Gauge, ...]) -> bool:
    """Tell whether no wire of another gauge could read within a wire's band, cold or warm.

    Args:
        gauges: that could have been taken by mistake.
    """
    net = specimen.net_of[wire.start]
    if len(net.wires) >= len(net.pins):
        return False
    for copper_c in BENCH_C:
        band = band_of(specimen, wire, copper_c)
        for gauge in gauges:
            if gauge == wire.wire.gauge:
                continue
            other = _as_read(
                *(of(gauge, wire.wire.cut_mm, copper_c).value for of in (lowest, highest))
            )
            if other.low <= band.high and other.high >= band.low:
                return False
    return True
