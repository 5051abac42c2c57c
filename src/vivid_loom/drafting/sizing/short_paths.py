"""The resistances on the way of a short: battery, feeders, the circuit itself."""

from collections.abc import Sequence
from typing import NamedTuple

from vivid_loom.boat import Boat
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.allocate import home_bus
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.needs import FeederNeed, return_chain
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


def _battery(boat: Boat) -> Part:
    if boat.battery.internal_ohm is not None:
        return Part("battery, as stated", boat.battery.internal_ohm)
    reckoned = short_circuit.battery_resistance(boat.nominal_v, boat.battery.cranking_a)
    return Part("battery, warm, from its cranking amps", reckoned.value, battery=reckoned)


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
        self.battery = _battery(aboard.boat)
        self.hot_c = float(aboard.profile.insulation_c)
        self._ahead: dict[tuple[str, str, float], list[Part]] = {}

    def legs(self, item: str, indices: Sequence[int], celsius: float, name: str) -> Part:
        """Return legs of one circuit or feeder in series."""
        gauge, paths = self.standing[item].gauge, self.paths[item]
        metres = tuple(paths[i].length_m for i in indices)
        ohm = sum(metres) * conductor.ohm_per_m(gauge, celsius)
        return Part(name, ohm, gauge, celsius, metres)

    def ahead(self, source: str, bus: str, celsius: float) -> list[Part]:
        """Return everything between the battery and a block, and from a bus home."""
        key = (source, bus, celsius)
        if key not in self._ahead:
            self._ahead[key] = self._find_ahead(*key)
        return self._ahead[key]

    def _find_ahead(self, source: str, bus: str, celsius: float) -> list[Part]:
        parts = [self.battery]
        for name in reversed(self.aboard.boat.supply_chain(source)):
            feeder = self.needs[name].planned
            parts.append(self.legs(feeder.id, (0,), celsius, f"{feeder.id} plus"))
        for name in return_chain(bus, self.aboard) if bus else ():
            feeder = self.needs[name].planned
            parts.append(self.legs(feeder.id, (1,), celsius, f"{feeder.id} minus"))
        return parts

    def bus_at(self, source: str) -> str:
        """Return the bus beside a block, or the next one home."""
        boat = self.aboard.boat
        supply = boat.supplies_by_id.get(source)
        if supply is None:
            return ""
        bus = boat.bus_beside.get(source) or home_bus(boat, supply)
        return bus.id if bus else ""


def far_parts(planned: Planned, net: Net) -> list[Part]:
    """Return everything a short at the far end of a circuit or feeder passes, copper hot."""
    if planned.feeds:
        above = net.needs[planned.feeds].supply.fed_from
        parts = [net.battery]
        if above in net.aboard.boat.supplies_by_id:
            parts = net.ahead(above, net.bus_at(above), net.hot_c)
        indices = tuple(range(len(planned.plan.legs)))
        return [*parts, net.legs(planned.id, indices, net.hot_c, "its own wires")]
    parts = net.ahead(planned.source, planned.bus, net.hot_c)
    longest = longest_way(planned.plan.paths, net.paths[planned.id])
    return [*parts, net.legs(planned.id, longest, net.hot_c, "its own loop")]


def longest_way(
    ways: Sequence[tuple[int, tuple[int, ...]]], paths: Sequence[Path]
) -> tuple[int, ...]:
    """Return the legs of the longest of several ways that current takes."""
    return max((legs for _, legs in ways), key=lambda legs: sum(paths[i].length_m for i in legs))


def near_parts(planned: Planned, net: Net) -> list[Part]:
    """Return everything a short right behind a device passes, copper cold."""
    source = net.needs[planned.feeds].supply.fed_from if planned.feeds else planned.source
    if source == net.aboard.boat.battery.id:
        return [net.battery]
    return net.ahead(source, net.bus_at(source), COLD_C)
