"""A pump's automatic and manual lead, each by its own length where the shop wants it so.

The circuit's size is that of its longest way. A shorter way may be as thin as leaves it no more
resistance than the longest has: then it drops no more, and a short through it opens no later.
"""

from collections.abc import Iterable, Mapping
from typing import Final

from vivid_loom.drafting.decision import Step
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.bundling import LOADED_SHARE
from vivid_loom.drafting.sizing.circuit_reasons import Settled
from vivid_loom.drafting.sizing.coordination import Fault
from vivid_loom.drafting.sizing.fixed_point import CONSTRAINTS
from vivid_loom.drafting.sizing.lines import leg_amps, worst_path
from vivid_loom.drafting.sizing.outcome import Thinner
from vivid_loom.quantities import Gauge
from vivid_loom.quantities.reckoning import Reckoned, keyed, total
from vivid_loom.standards import conductor, short_circuit
from vivid_loom.standards.drop import DROP_SOURCE

__all__ = ["shorter_ways"]

_LEADS: Final = frozenset({"automatic", "manual"})


class _Ways:
    """One circuit's longest way, and what another of its legs may be sized to."""

    def __init__(self, index: int, settled: Settled, paths: tuple[Path, ...]) -> None:
        self.index, self.settled, self.paths = index, settled, paths
        self.circuit = settled.lines.circuits[index]
        self.rung = int(settled.sizes.rung[index])
        self.gauge = settled.ladder.gauges[self.rung]
        self.amps = leg_amps(self.circuit, settled.aboard.loads)
        self.longest = worst_path(self.circuit, paths, self.amps)[1]

    def own(self) -> Iterable[tuple[int, ...]]:
        """Return the legs of each lead that are on no other way, the longest left out."""
        legs = self.circuit.plan.legs
        ways = [way for _, way in self.circuit.plan.paths if way != self.longest]
        for way in ways:
            others = {i for other in (*ways, self.longest) if other != way for i in other}
            mine = tuple(i for i in way if i not in others and legs[i].lead in _LEADS)
            if mine:
                yield mine

    def ohm(self, legs: Iterable[int], gauge: Gauge) -> Reckoned:
        """Return the resistance of legs in series at the profile's conductor temperature."""
        each = conductor.ohm_per_m(gauge, self.settled.aboard.profile.conductor_c)
        metres = total(keyed(self.paths[i].length_m) for i in legs).bracketed()
        return metres * keyed(each)

    def along(self, own: tuple[int, ...], gauge: Gauge) -> Reckoned:
        """Return the resistance of the whole way that these legs are part of, they at a gauge."""
        way = next(way for _, way in self.circuit.plan.paths if own[0] in way)
        shared = tuple(i for i in way if i not in own)
        return self.ohm(own, gauge) + self.ohm(shared, self.gauge)

    def least(self) -> int:
        """Return the rung that all but the drop asks for at least."""
        needed = self.settled.sizes.needed[:, self.index].tolist()
        asked = zip(needed, CONSTRAINTS, strict=True)
        return max(int(rung) for rung, name in asked if name != "drop")

    def counts_as_loaded(self, rung: int) -> bool:
        """Tell whether a lead that is no loaded conductor at the circuit's size becomes one."""
        amps, free_a = self.settled.lines.current_a[self.index], self.settled.ladder.free_air_a
        thin, thick = (LOADED_SHARE * float(free_a[at]) for at in (rung, self.rung))
        return bool(self.settled.aboard.profile.bundling == "loaded" and thin < amps <= thick)

    def is_wire(self) -> bool:
        """Tell whether the circuit is laid in wires: cores of a cable are all of one size."""
        stocked: list[int] = self.settled.lines.stocked[:, self.index].tolist()
        return stocked == list(range(len(stocked)))

    def outlasts(self, rung: int, fault: Fault | None) -> bool:
        """Tell whether a wire outlasts what the device lets pass."""
        hot_c = float(self.settled.aboard.profile.insulation_c)
        area = float(self.settled.ladder.area_mm2[rung])
        bears = short_circuit.withstand_a2s(area, hot_c, short_circuit.short_limit_c(hot_c))
        return fault is None or fault.let_through_a2s <= bears

    def thinnest(self, own: tuple[int, ...], fault: Fault | None) -> int:
        """Return the rung that these legs can be thinned to."""
        longest = self.ohm(self.longest, self.gauge).value
        for rung in range(self.least(), self.rung):
            gauge = self.settled.ladder.gauges[rung]
            fits = self.along(own, gauge).value <= longest and self.outlasts(rung, fault)
            if fits and not self.counts_as_loaded(rung):
                return rung
        return self.rung


def shorter_ways(
    settled: Settled, paths: Mapping[str, tuple[Path, ...]], broken: Mapping[str, Fault]
) -> dict[str, tuple[Thinner, ...]]:
    """Return the legs that are thinner than their circuit, by circuit id.

    Args:
        broken: shorts of every circuit at its size.
    """
    if settled.aboard.profile.pump_leads == "one_size":
        return {}
    found: dict[str, tuple[Thinner, ...]] = {}
    for index, circuit in enumerate(settled.lines.circuits):
        if not any(leg.lead in _LEADS and leg.carries for leg in circuit.plan.legs):
            continue
        ways = _Ways(index, settled, paths[circuit.id])
        if not ways.is_wire():
            continue
        each = [(own, ways.thinnest(own, broken.get(circuit.id))) for own in ways.own()]
        thinner = tuple(_thinner(ways, own, rung) for own, rung in each if rung < ways.rung)
        if thinner:
            found[circuit.id] = thinner
    return found


def _thinner(ways: _Ways, own: tuple[int, ...], rung: int) -> Thinner:
    gauge, legs = ways.settled.ladder.gauges[rung], ways.circuit.plan.legs
    names = tuple(legs[i].id for i in own)
    lead = legs[own[0]].lead
    steps = (
        Step("resistance of the longest way", ways.ohm(ways.longest, ways.gauge), "Ω"),
        Step(
            f"of the {lead} way with {' and '.join(names)} in {gauge}",
            ways.along(own, gauge),
            "Ω",
            DROP_SOURCE,
            gives=str(gauge),
        ),
    )
    return Thinner(lead, names, gauge, steps)
