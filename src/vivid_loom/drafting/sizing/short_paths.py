"""The resistances on the way of a short: battery, feeders, the circuit itself."""

from collections.abc import Sequence
from typing import NamedTuple

from vivid_loom.boat import Boat
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.allocate import home_bus
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.needs import FeederNeed, return_chain
from vivid_loom.drafting.sizing.outcome import Sized
from vivid_loom.quantities import key_in
from vivid_loom.standards import conductor, short_circuit

__all__ = ["COLD_C", "Net", "Part", "far_parts", "near_parts"]

COLD_C = 20.0


class Part(NamedTuple):
    """A resistance on the way of a short, in words and ohms, and how to reckon it."""

    name: str
    ohm: float
    formula: str


def _battery(boat: Boat) -> Part:
    ohm = boat.battery.internal_ohm
    if ohm is not None:
        return Part("battery, as stated", ohm, key_in(ohm))
    cells = boat.nominal_v / 2
    told = f"0.5 × (2.116667 − 1.2) × {cells:g} / {boat.battery.cranking_a:g}"
    return Part(
        "battery, warm, from its cranking amps",
        short_circuit.battery_ohm(boat.nominal_v, boat.battery.cranking_a),
        told,
    )


class Net:
    """Resistances of the draft's feeders and circuits."""

    def __init__(
        self,
        aboard: Aboard,
        sized: dict[str, Sized],
        paths: dict[str, tuple[Path, ...]],
        needs: dict[str, FeederNeed],
    ) -> None:
        self.aboard, self.sized, self.paths, self.needs = aboard, sized, paths, needs
        self.battery = _battery(aboard.boat)
        self.hot_c = float(aboard.profile.insulation_c)
        self._ahead: dict[tuple[str, str, float], list[Part]] = {}

    def legs(self, item: str, indices: Sequence[int], celsius: float, name: str) -> Part:
        """Return legs of one circuit or feeder in series."""
        gauge = self.sized[item].gauge.value
        each = conductor.ohm_per_m(gauge, celsius)
        metres = [self.paths[item][i].length_m for i in indices]
        told = f"({' + '.join(key_in(m) for m in metres) or '0'}) × {key_in(each)}"
        return Part(f"{name}, {gauge} at {celsius:g} °C", sum(metres) * each, told)

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
        paired = {bus.paired_with: bus.id for bus in boat.return_buses}
        supply = next((s for s in boat.supplies if s.id == source), None)
        if supply is None:
            return ""
        home = home_bus(boat, supply)
        return paired.get(source) or (home.id if home else "")


def far_parts(planned: Planned, net: Net) -> list[Part]:
    """Return everything a short at the far end of a circuit or feeder passes, copper hot."""
    if planned.feeds:
        above = net.needs[planned.feeds].supply.fed_from
        supply = next((s.id for s in net.aboard.boat.supplies if s.id == above), "")
        parts = [net.battery]
        if supply:
            parts = net.ahead(supply, net.bus_at(supply), net.hot_c)
        indices = tuple(range(len(planned.plan.legs)))
        return [*parts, net.legs(planned.id, indices, net.hot_c, "its own wires")]
    parts = net.ahead(planned.source, planned.bus, net.hot_c)
    longest = max(
        (legs for _, legs in planned.plan.paths),
        key=lambda legs: sum(net.paths[planned.id][i].length_m for i in legs),
    )
    return [*parts, net.legs(planned.id, longest, net.hot_c, "its own loop")]


def near_parts(planned: Planned, net: Net) -> list[Part]:
    """Return everything a short right behind a device passes, copper cold."""
    source = net.needs[planned.feeds].supply.fed_from if planned.feeds else planned.source
    if source == net.aboard.boat.battery.id:
        return [net.battery]
    return net.ahead(source, net.bus_at(source), COLD_C)
