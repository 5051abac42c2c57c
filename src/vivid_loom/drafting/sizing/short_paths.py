"""The resistances on the way of a short: batteries, feeders, the circuit itself."""

from collections.abc import Sequence
from functools import cached_property
from typing import NamedTuple

from vivid_loom.boat import SOURCES, Battery, Supply
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.joined_sources import Branch, resistances_ohm
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.quantities import Gauge
from vivid_loom.quantities.reckoning import Reckoned, keyed, total
from vivid_loom.standards import conductor, short_circuit

__all__ = ["COLD_C", "Net", "Part", "Standing", "far_parts", "longest_way", "near_parts"]

COLD_C = 20.0


class Standing(NamedTuple):
    """What stands for one circuit or feeder while sizes are sought.

    Attributes:
        rating_a: of its device; None without one.
    """

    gauge: Gauge
    rating_a: float | None


class Part(NamedTuple):
    """A resistance on the way of a short.

    Attributes:
        lengths_m: of the conductors in series, all of ``gauge``; () for the battery.
        ohm: all of it; of conductors, their length × the resistance of a metre.
    """

    what: str
    ohm: float
    gauge: Gauge | None = None
    celsius: float = COLD_C
    lengths_m: tuple[float, ...] = ()
    battery: Reckoned | None = None

    @property
    def name(self) -> str:
        """What it is, in words."""
        return (
            self.what if self.gauge is None else f"{self.what}, {self.gauge} at {self.celsius:g} °C"
        )

    @property
    def reckoned(self) -> Reckoned:
        """How to reckon it."""
        if self.battery is not None or self.gauge is None:
            return self.battery or keyed(self.ohm)
        each = conductor.ohm_per_m(self.gauge, self.celsius)
        return total(keyed(metres) for metres in self.lengths_m).bracketed() * keyed(each)


def _battery(battery: Battery, nominal_v: float, *, several: bool) -> Part:
    name = f"{battery.id}" if several else "battery"
    if battery.internal_ohm is not None:
        return Part(f"{name}, as stated", battery.internal_ohm)
    reckoned = short_circuit.battery_resistance(nominal_v, battery.cranking_a)
    return Part(f"{name}, warm, from its cranking amps", reckoned.value, battery=reckoned)


def _converter(supply: Supply) -> Part:
    """Return a converter as a source that gives its rated current and no more."""
    assert supply.output_v is not None
    reckoned = keyed(supply.output_v) / keyed(supply.total_max_a)
    return Part(f"{supply.id}, at its current limit", reckoned.value, battery=reckoned)


def _ohm(parts: Sequence[Part]) -> float:
    return sum(part.ohm for part in parts)


def _together(ways: Sequence[Sequence[Part]], name: str) -> list[Part]:
    """Return several ways side by side as one resistance.

    Where two of them share a stretch it counts for each, so that the current is never understated.
    """
    if len(ways) < 2:
        return [part for way in ways for part in way]
    sides = total(keyed(1) / keyed(_ohm(way)) for way in ways)
    reckoned = keyed(1) / sides.bracketed()
    return [Part(name, reckoned.value, battery=reckoned)]


class Net:
    """Resistances of the draft's feeders and circuits."""

    def __init__(
        self,
        aboard: Aboard,
        standing: dict[str, Standing],
        paths: dict[str, tuple[Path, ...]],
        needs: dict[str, FeederNeed],
    ) -> None:
        self.aboard, self.standing, self.paths, self.needs = aboard, standing, paths, needs
        self.network = aboard.boat.network
        self.hot_c = float(aboard.profile.insulation_c)
        self._ahead: dict[tuple[str, str, bool], list[Part]] = {}
        self._joined: dict[str, dict[str, float]] = {}

    def supply_side(self) -> object:
        """Return what stands for all feeders: the same object while nothing of them is other."""
        feeders = tuple((name, self.standing.get(name), self.paths[name]) for name in self.needs)
        made_from = (feeders, self.aboard.boat, self.aboard.profile)
        return self.aboard.kept.take("supply side", "", made_from, object)

    def open_v(self, place: str) -> float:
        """Return the voltage that drives a short at a place, in V."""
        volts = self.network.voltage(place)
        return volts if self.network.regulated(place) else short_circuit.battery_open_v(volts)

    def legs(self, item: str, indices: Sequence[int], celsius: float, name: str) -> Part:
        """Return legs of one circuit or feeder in series."""
        gauge, paths = self.standing[item].gauge, self.paths[item]
        metres = tuple(paths[i].length_m for i in indices)
        ohm = sum(metres) * conductor.ohm_per_m(gauge, celsius)
        return Part(name, ohm, gauge, celsius, metres)

    def ahead(self, source: str, bus: str, *, most: bool) -> list[Part]:
        """Return everything between the batteries and a part, and from a bus home.

        Args:
            most: for the greatest current: cold copper, every battery and way at once; otherwise
                for the least: hot copper, the one way with the greatest resistance.
        """
        key = (source, bus, most)
        if key not in self._ahead:
            self._ahead[key] = self._find_ahead(*key)
        return self._ahead[key]

    def _find_ahead(self, source: str, bus: str, most: bool) -> list[Part]:
        celsius = COLD_C if most else self.hot_c
        network = self.network
        chains = network.to_source(source) or ((),)
        if most and (joined := self._joined_ohm(source, bus)):
            words = "all sources that may be joined, with their wires, as one network"
            return [Part(words, joined)]
        if most:
            ways = [self._way(chain, source, celsius) for chain in chains]
            homes = network.homes(bus) if bus and not network.regulated(source) else ()
            backs = [[self._side(name, "minus", celsius) for name in chain] for chain in homes]
            return [*_together(ways, "all batteries"), *_together(backs, "all ways home")]
        loops = network.loops(source, bus) if bus else tuple((chain, ()) for chain in chains)
        return max(
            (
                [
                    *self._way(chain, source, celsius),
                    *(self._side(name, "minus", celsius) for name in back),
                ]
                for chain, back in loops or (((), ()),)
            ),
            key=_ohm,
        )

    def _joined_ohm(self, source: str, bus: str) -> float | None:
        """Return the least resistance behind a short, of all that can feed it; None where one way
        from one battery does, or what limits itself.
        """
        network = self.network
        gives = len(network.batteries) + sum(s.kind in SOURCES for s in network.supplies.values())
        if gives < 2 or network.regulated(source):
            return None
        home = bus or next(iter(network.batteries))
        if home not in self._joined:
            self._joined[home] = resistances_ohm(self._branches, f"{home} minus")
        return self._joined[home].get(f"{source} plus")

    @cached_property
    def _branches(self) -> tuple[Branch, ...]:
        """Return batteries, sources and feeders as a network, copper cold, everything closed."""
        network, found = self.network, []
        for battery in network.batteries.values():
            part = _battery(battery, network.nominal_v, several=True)
            found.append(Branch(f"{battery.id} plus", f"{battery.id} minus", part.ohm))
        for name, supply in network.supplies.items():
            if supply.kind in SOURCES:
                volts = short_circuit.battery_open_v(network.voltage(name))
                at = f"{network.minus_of(name)} minus"
                found.append(Branch(f"{name} plus", at, volts / supply.total_max_a))
        for feeder in network.feeders.values():
            if feeder.feed and not network.converts(network.fed_by(feeder.id)):
                ends = (f"{feeder.feed.source} plus", f"{network.fed_by(feeder.id)} plus")
                found.append(Branch(*ends, self._side(feeder.id, "plus", COLD_C).ohm))
            if feeder.bus and (home := network.home_of(feeder)):
                ohm = self._side(feeder.id, "minus", COLD_C).ohm
                found.append(Branch(f"{feeder.bus.id} minus", f"{home} minus", ohm))
        return tuple(found)

    def _way(self, chain: tuple[str, ...], place: str, celsius: float) -> list[Part]:
        """Return a source and the feeders from it to a part."""
        start = self.network.source_of(chain[-1]) if chain else place
        if self.network.converts(start):
            first = _converter(self.network.supplies[start])
        else:
            batteries = self.network.batteries
            battery = batteries.get(start) or next(iter(batteries.values()))
            several = len(batteries) > 1
            first = _battery(battery, self.network.nominal_v, several=several)
        return [first, *(self._side(name, "plus", celsius) for name in reversed(chain))]

    def _side(self, feeder_id: str, side: str, celsius: float) -> Part:
        legs = self.needs[feeder_id].planned.plan.legs
        indices = [i for i, leg in enumerate(legs) if (leg.live == "return") == (side == "minus")]
        return self.legs(feeder_id, indices, celsius, f"{feeder_id} {side}")


def far_parts(planned: Planned, net: Net) -> list[Part]:
    """Return everything a short at the far end of a circuit or feeder passes, copper hot."""
    if planned.feeds:
        parts = net.ahead(planned.source, net.network.bus_at(planned.source), most=False)
        indices = tuple(range(len(planned.plan.legs)))
        return [*parts, net.legs(planned.id, indices, net.hot_c, "its own wires")]
    home = planned.bus or net.network.bus_at(planned.source)
    parts = net.ahead(planned.source, home, most=False)
    longest = longest_way(planned.plan.paths, net.paths[planned.id])
    return [*parts, net.legs(planned.id, longest, net.hot_c, "its own loop")]


def longest_way(
    ways: Sequence[tuple[int, tuple[int, ...]]], paths: Sequence[Path]
) -> tuple[int, ...]:
    """Return the legs of the longest of several ways that current takes."""
    return max((legs for _, legs in ways), key=lambda legs: sum(paths[i].length_m for i in legs))


def near_parts(planned: Planned, net: Net) -> list[Part]:
    """Return everything a short right behind a device passes, copper cold."""
    return net.ahead(planned.source, net.network.bus_at(planned.source), most=True)
