"""Why a circuit hangs where it hangs: block and way, return bus, helm position."""

from typing import NamedTuple

from vivid_loom.boat import CircuitRequest, Load, ReturnBus, Supply
from vivid_loom.drafting.decision import Alternative, Decision, Lazy, Step
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.route import RouteMap
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = ["Where", "placing", "read_by"]

_LEVELS = {
    "battery_direct": "alive with everything off",
    "unswitched": "behind the battery switch",
    "ignition": "behind the key",
}
_RANKS = ("emergency, first where a hand finds it", "navigation", "working", "comfort")
_TRADE = Source("common practice", "emergency switches first", "no source")


class Where(NamedTuple):
    """Where a circuit hangs, lands and is switched; ``landing`` names the terminal.

    Attributes:
        bus: None where nothing comes home by itself.
    """

    request: CircuitRequest
    supply: Supply
    way: int
    bus: ReturnBus | None
    landing: str
    position: int


def _block(where: Where, aboard: Aboard, routes: RouteMap) -> Decision[str]:
    request, supply, way = where.request, where.supply, where.way
    station = aboard.loads[request.loads[0]].station
    override = aboard.order.override(request.id, "supply")
    why = "named" if request.supply else "level"
    steps = (
        Step(f"{supply.name} is {_LEVELS[supply.level]}, as the circuit asks", source=OUR_CHOICE),
        Step(f"{routes.distance_m(supply.station, station):.2f} m from the first load"),
    )
    others = Lazy(
        lambda: tuple(
            Alternative(
                other.id,
                f"{_LEVELS[other.level]}, {routes.distance_m(other.station, station):.2f} m away",
                other.level == request.level,
            )
            for other in aboard.boat.supplies
            if other.ways and other.id != supply.id
        )
    )
    if supply.ways:
        value = f"{supply.id} way {way}" if way else f"{supply.id}, no way free"
    else:
        value = f"{supply.id} stud, device in line"
    return Decision(
        value=value,
        drafted=value,
        governed_by="override" if override else why,
        steps=steps,
        alternatives=others,
        override=override,
    )


def _bus(where: Where, bus: ReturnBus, aboard: Aboard, routes: RouteMap) -> Decision[str]:
    request, supply = where.request, where.supply
    station = aboard.loads[request.loads[0]].station
    override = aboard.order.override(request.id, "return_bus")
    if supply.kind == "bus":
        why = "beside its heavy bus"
    else:
        why = "nearest area bus" if aboard.profile.negatives == "nearest" else "main bus"
    metres = routes.distance_m(station, bus.station)
    steps = (Step(f"{bus.name}, {metres:.2f} m from the first load: {why}", source=OUR_CHOICE),)
    others = tuple(
        Alternative(other.id, f"{routes.distance_m(station, other.station):.2f} m away", True)
        for other in aboard.boat.return_buses
        if other.id != bus.id
    )
    value = f"{bus.id} {where.landing}"
    return Decision(
        value=value,
        drafted=value,
        governed_by="override" if override else why,
        steps=steps,
        alternatives=others,
        override=override,
    )


def _position(request: CircuitRequest, position: int, aboard: Aboard) -> Decision[str] | None:
    if request.contact is None or aboard.switches[request.contact.switch].station:
        return None
    switch = aboard.switches[request.contact.switch]
    override = aboard.order.override(switch.id, "helm_position")
    rank = _RANKS[min(switch.rank, len(_RANKS) - 1)]
    steps = (Step(f"{switch.legend}: {rank}; then by name", source=_TRADE),)
    value = str(position) if position else "no position free"
    return Decision(
        value=value,
        drafted=value,
        governed_by="override" if override else "rank",
        steps=steps,
        override=override,
    )


def read_by(instrument: Load, circuit: str) -> Decision[str]:
    """Return why a sensor's pair has no device of its own."""
    step = Step(
        f"{circuit} feeds {instrument.name}: its device protects the pair", source=OUR_CHOICE
    )
    return Decision(value=instrument.id, drafted=instrument.id, governed_by="named", steps=(step,))


def placing(
    where: Where, aboard: Aboard, routes: RouteMap
) -> tuple[tuple[str, Decision[str]], ...]:
    """Return the named decisions on where a circuit hangs, lands and is switched."""
    found = [("Fed from", _block(where, aboard, routes))]
    if where.bus:
        found.append(("Return", _bus(where, where.bus, aboard, routes)))
    if held := _position(where.request, where.position, aboard):
        found.append(("Helm position", held))
    return tuple(found)
