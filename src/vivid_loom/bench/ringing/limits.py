"""Between what limits a wire's resistance must read, end to end on the bench."""

from typing import Final, NamedTuple

from vivid_loom.bench.ringing.resistance import effective_ohm
from vivid_loom.bench.ringing.specimen import BenchWire, Net, Specimen
from vivid_loom.quantities import Gauge
from vivid_loom.quantities.reckoning import Reckoned, keyed
from vivid_loom.standards.conductor import area_mm2, resistance
from vivid_loom.standards.contacts import end_ohm

__all__ = [
    "COPPER_LEAST",
    "COPPER_MOST",
    "ENDS_MOST",
    "METER_MOHM",
    "METER_SHARE",
    "Band",
    "band_of",
    "highest",
    "lowest",
    "tells_gauge",
]

# our choices: what a strand maker's tolerance and a good crimp make of the tables' figures
COPPER_MOST: Final = 1.05
COPPER_LEAST: Final = 0.90
ENDS_MOST: Final = 2.0  # times the usual resistance of a crimped end
METER_MOHM: Final = 0.02  # a four-wire bench meter with its own leads taken off
METER_SHARE: Final = 0.005


class Band(NamedTuple):
    """From what a sound wire reads at least to what it reads at most, in mΩ."""

    low: float
    high: float


def highest(wire: BenchWire, copper_c: float) -> Reckoned:
    """Return the most that a wire with two good crimps has, in mΩ, as cut and at a temperature."""
    gauge = wire.wire.gauge
    copper = resistance(gauge, copper_c) * keyed(wire.wire.cut_mm) * keyed(COPPER_MOST)
    ends = keyed(2) * keyed(ENDS_MOST) * keyed(end_ohm(area_mm2(gauge)) * 1000)
    return copper + ends


def lowest(wire: BenchWire, copper_c: float) -> Reckoned:
    """Return the least that a wire has, in mΩ: its copper alone, as fine as strands get."""
    return resistance(wire.wire.gauge, copper_c) * keyed(wire.wire.cut_mm) * keyed(COPPER_LEAST)


def band_of(specimen: Specimen, wire: BenchWire, copper_c: float) -> Band:
    """Return what must be read between a wire's pins; other ways between them count.

    More resistance anywhere never makes less between two pins (Rayleigh), so that the net with all
    its wires at their least and at their most holds whatever a sound one reads.
    """
    net = specimen.net_of[wire.start]
    low, high = (
        _between(specimen, net, wire, {n: of(specimen.wires[n], copper_c).value for n in net.wires})
        for of in (lowest, highest)
    )
    return Band(
        max(low * (1 - METER_SHARE) - METER_MOHM, 0.0), high * (1 + METER_SHARE) + METER_MOHM
    )


def _between(specimen: Specimen, net: Net, wire: BenchWire, mohm: dict[str, float]) -> float:
    if len(net.wires) < len(net.pins):  # a tree: there is no other way
        return mohm[wire.id]
    edges = [(specimen.wires[n].start, specimen.wires[n].end, mohm[n]) for n in net.wires]
    return effective_ohm(edges, wire.start, wire.end)


def tells_gauge(
    specimen: Specimen, wire: BenchWire, copper_c: float, gauges: tuple[Gauge, ...]
) -> bool:
    """Tell whether no wire of another gauge could read within a wire's band.

    Args:
        gauges: that could have been taken by mistake.
    """
    band = band_of(specimen, wire, copper_c)
    net = specimen.net_of[wire.start]
    if len(net.wires) >= len(net.pins):
        return False
    for gauge in gauges:
        if gauge == wire.wire.gauge:
            continue
        ohm = resistance(gauge, copper_c).value * wire.wire.cut_mm
        least = ohm * COPPER_LEAST * (1 - METER_SHARE) - METER_MOHM
        ends = 2 * ENDS_MOST * end_ohm(area_mm2(gauge)) * 1000
        most = (ohm * COPPER_MOST + ends) * (1 + METER_SHARE) + METER_MOHM
        if least <= band.high and most >= band.low:
            return False
    return True
