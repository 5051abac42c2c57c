"""What happens when it goes wrong: shorts near and far, stalled motors, which device opens.

Shorts are worked out from the battery's internal resistance and every metre of wire between:
cold copper for the greatest current, copper at its insulation's limit for the least.
"""

import dataclasses
import math
from collections.abc import Iterator, Sequence
from functools import lru_cache, partial
from typing import NamedTuple

import numpy as np

from vivid_loom.boat import Load
from vivid_loom.drafting.decision import Decision, Lazy, Step
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.sizing.short_paths import (
    COLD_C,
    Net,
    Part,
    far_parts,
    longest_way,
    near_parts,
)
from vivid_loom.quantities import figure
from vivid_loom.quantities.reckoning import keyed, total
from vivid_loom.standards import conductor, short_circuit, time_current
from vivid_loom.standards.devices import DEVICES

__all__ = [
    "GENERIC_BAND",
    "Fault",
    "Stall",
    "Upstream",
    "devices_ahead",
    "faults",
    "greatest_short_a",
    "selective_to_a",
    "survives_short",
]

GENERIC_BAND = ("breaker",)  # its I²t is a guess until the maker's band is known: judged, not sized

SEVEN_HOURS_S = 7 * 3600.0


class Upstream(NamedTuple):
    """The next device towards the battery."""

    id: str
    family: str
    rating_a: float


class Stall(NamedTuple):
    """A motor of the circuit with its shaft held.

    Attributes:
        hot_a, cold_a: least and greatest current, wires hot and cold.
        opens_s: when the device has opened on the least; inf if it need not.
        nominal_v: of the system it is fed from.
    """

    load: str
    hot_a: float
    cold_a: float
    opens_s: float
    nominal_v: float


class Fault(NamedTuple):
    """Shorts of one circuit or feeder that has a device.

    Attributes:
        near_a: greatest current right behind the device.
        far_a: least current of a short at the far end; ``far_opens_s`` when it is over.
        let_through_a2s: greatest I²t the device lets pass, near or far.
        withstand_a2s: I²t the conductor outlasts.
        upstream: devices towards the battery, the next one first.
        selective_to_a: up to this current only this device opens; inf without one upstream.
        decisions: the same, opened up.
    """

    near_a: float
    far_a: float
    far_opens_s: float
    let_through_a2s: float
    withstand_a2s: float
    upstream: tuple[Upstream, ...]
    selective_to_a: float
    stalls: tuple[Stall, ...]
    decisions: Sequence[tuple[str, Decision[float]]]

    @property
    def in_time(self) -> bool:
        """Whether a short at the far end is over within the time allowed."""
        return self.far_opens_s <= short_circuit.FAR_END_LIMIT_S

    @property
    def outlasts(self) -> bool:
        """Whether the conductor outlasts its device."""
        return self.let_through_a2s <= self.withstand_a2s


def _amps_decision(name: str, volts: float, parts: list[Part], why: str) -> Decision[float]:
    ohm = total(keyed(part.ohm) for part in parts)
    amps = keyed(volts) / keyed(ohm.value)
    steps = (
        *(Step(part.name, part.reckoned, "Ω") for part in parts),
        Step("all of it", ohm, "Ω"),
        Step(name, amps, "A", short_circuit.BATTERY_SOURCE),
    )
    return Decision(value=amps.value, drafted=amps.value, governed_by=why, steps=steps)


def _opening_steps(family: str, rating_a: float, amps: float) -> tuple[Step, ...]:
    multiple = keyed(amps) / keyed(rating_a)
    opens = time_current.opens_s(family, rating_a, amps)
    source = DEVICES[family].band_source
    first = Step("multiple of the rating", multiple, "×")
    if opens == math.inf:
        return (first, Step("at that multiple no opening is promised", source=source))
    read = time_current.late_edge(family, multiple.value)
    if read is None:
        return (first, Step(f"opens in its least time, {opens:g} s", source=source))
    return (first, Step("late edge of its band", read, "s", source))


def _withstand_steps(gauge_area_mm2: float, insulation_c: float) -> tuple[Step, ...]:
    limit = short_circuit.short_limit_c(insulation_c)
    k = short_circuit.reckoned_k(insulation_c, limit)
    return (
        Step(
            f"k of copper from {insulation_c:g} to {limit:g} °C",
            k,
            "A√s/mm²",
            short_circuit.WITHSTAND_SOURCE,
        ),
        Step(
            "I²t the wire outlasts",
            short_circuit.withstand(gauge_area_mm2, insulation_c, limit),
            "A²s",
        ),
    )


@lru_cache(maxsize=2048)
def selective_to_a(
    branch: tuple[str, float], upstream: tuple[str, float], greatest_a: float
) -> float:
    """Return up to which current only the branch opens: its late edge before the other's early.

    Args:
        branch, upstream: family and rating in A of each device.
        greatest_a: prospective current; the answer is not above it.
    """
    start = 1.35 * branch[1]
    if greatest_a <= start:
        return greatest_a
    last = start
    for amps in np.geomspace(start, greatest_a, 121).tolist():
        if time_current.opens_s(*branch, amps) >= time_current.holds_s(*upstream, amps):
            return 0.0 if amps == start else last
        last = amps
    return greatest_a


def _upstream(planned: Planned, net: Net) -> tuple[Upstream, ...]:
    """Return the devices towards a battery, the next one first.

    Of several ways, the one whose next device is the weakest: it gives way first.
    """
    ways = [devices_ahead(chain, net) for chain in net.network.to_source(planned.source)]
    return min(ways, key=lambda way: way[0].rating_a if way else math.inf, default=())


def devices_ahead(chain: tuple[str, ...], net: Net) -> tuple[Upstream, ...]:
    """Return the devices on a way back to a battery, the nearest first."""
    found: list[Upstream] = []
    for name in chain:
        held, feed = net.standing.get(name), net.needs[name].feed
        if held and held.rating_a is not None and feed and feed.family:
            found.append(Upstream(name, feed.family, held.rating_a))
    return tuple(found)


def _stall(load: Load, planned: Planned, device: tuple[str, float], net: Net) -> Stall | None:
    if load.locked_rotor_a is None:
        return None
    volts = net.network.voltage(planned.source)
    own = volts / load.locked_rotor_a
    index = planned.loads.index(load.id)
    ways = [way for way in planned.plan.paths if way[0] == index]
    legs = longest_way(ways, net.paths[planned.id])

    def amps(celsius: float) -> float:
        wires = net.legs(planned.id, legs, celsius, planned.id).ohm
        parts = net.ahead(planned.source, planned.bus, most=celsius == COLD_C)
        return volts / (own + wires + sum(part.ohm for part in parts))

    hot = amps(net.hot_c)
    return Stall(load.id, hot, amps(COLD_C), time_current.opens_s(*device, hot), volts)


def _stall_decision(stall: Stall, device: tuple[str, float], net: Net) -> Decision[float]:
    load = net.aboard.loads[stall.load]
    assert load.locked_rotor_a is not None
    volts = stall.nominal_v
    held = keyed(volts) / keyed(load.locked_rotor_a)
    wires = keyed(volts / stall.hot_a - held.value)
    steps = (
        Step(f"{load.name}, shaft held", held, "Ω"),
        Step(f"wires and battery, copper at {net.hot_c:g} °C", wires, "Ω"),
        Step("least stall current", keyed(volts) / (keyed(held.value) + wires), "A"),
        *_opening_steps(*device, stall.hot_a),
    )
    return Decision(
        value=stall.hot_a, drafted=stall.hot_a, governed_by="stall must open it", steps=steps
    )


def _let_through(device: tuple[str, float], near_a: float, far_a: float) -> tuple[float, float]:
    """Return the greatest I²t between the two currents, and the current it occurs at.

    The device is taken alone: what stands upstream may help it, and is not counted on.
    """
    gates = (device[1] * gate.multiple for gate in DEVICES[device[0]].gates)
    # between gates I²t rises or falls steadily, so its greatest value is at a gate or an end
    tried = [far_a, near_a, *(amps for amps in gates if far_a < amps < near_a)]
    limited = [
        (amps**2 * opens, amps)
        for amps in tried
        if (opens := time_current.opens_s(*device, amps)) <= short_circuit.FAR_END_LIMIT_S
    ]
    return max(limited, default=(0.0, near_a))


class _Shorts(NamedTuple):
    """What is on the way of a short near and far, and the most the device lets pass.

    Attributes:
        open_v: what drives them.
        through_a2s, at_a: greatest I²t, and the current it occurs at.
    """

    open_v: float
    near: list[Part]
    far: list[Part]
    through_a2s: float
    at_a: float
    stalls: tuple[Stall, ...]


def greatest_short_a(planned: Planned, net: Net) -> float:
    """Return the greatest current of a short right behind a device, A."""
    return net.open_v(planned.source) / sum(part.ohm for part in near_parts(planned, net))


def survives_short(planned: Planned, least_a: float, rating_a: float, net: Net) -> bool:
    """Tell whether a feeder stands its shorts as well with a larger device.

    It opens in time, and the conductor outlasts what it lets pass, or no more passes than by the
    least device that serves. Where the band of a breaker, which is generic, has the conductor
    burn by the least one already, it says nothing of a larger.
    """
    volts = net.open_v(planned.source)
    near_a = greatest_short_a(planned, net)
    far_a = volts / sum(part.ohm for part in far_parts(planned, net))
    if time_current.opens_s(planned.family, rating_a, far_a) > short_circuit.FAR_END_LIMIT_S:
        return False
    passes, least = (
        _let_through((planned.family, amps), near_a, far_a)[0] for amps in (rating_a, least_a)
    )
    limit_c = short_circuit.short_limit_c(net.hot_c)
    area = conductor.area_mm2(net.standing[planned.id].gauge)
    bears = short_circuit.withstand_a2s(area, net.hot_c, limit_c)
    guessed = planned.family in GENERIC_BAND and least > bears
    return guessed or passes <= max(least, bears)


def _fault(planned: Planned, net: Net) -> Fault | None:
    held = net.standing.get(planned.id)
    if held is None or held.rating_a is None:
        return None
    device = (planned.family, held.rating_a)
    volts = net.open_v(planned.source)
    near, far = near_parts(planned, net), far_parts(planned, net)
    near_a = volts / sum(part.ohm for part in near)
    far_a = volts / sum(part.ohm for part in far)
    through, at_a = _let_through(device, near_a, far_a)
    area = conductor.area_mm2(held.gauge)
    upstream = _upstream(planned, net)
    selective = (
        selective_to_a(device, (upstream[0].family, upstream[0].rating_a), near_a)
        if upstream
        else math.inf
    )
    loads = planned.drawing(net.aboard.loads)
    stalls = tuple(s for load in loads if (s := _stall(load, planned, device, net)))
    shorts = _Shorts(volts, near, far, through, at_a, stalls)
    return Fault(
        near_a,
        far_a,
        time_current.opens_s(*device, far_a),
        through,
        short_circuit.withstand_a2s(area, net.hot_c, short_circuit.short_limit_c(net.hot_c)),
        upstream,
        selective,
        stalls,
        Lazy(lambda: tuple(_opened(area, device, net, shorts))),
    )


def _opened(
    area_mm2: float, device: tuple[str, float], net: Net, found: _Shorts
) -> Iterator[tuple[str, Decision[float]]]:
    """Open up the shorts and stalls behind one device."""
    volts = found.open_v
    prospective = "prospective short circuit, copper cold"
    near = _amps_decision(prospective, volts, found.near, "interrupt rating")
    yield "Short behind the device, A", near
    far = _amps_decision("short at the far end, copper hot", volts, found.far, "opens within 5 s")
    steps = (*far.steps, *_opening_steps(*device, far.value))
    yield "Short at the far end, A", dataclasses.replace(far, steps=steps)
    at = keyed(found.at_a)
    passes = Step(
        f"the most the device lets pass, at {figure(found.at_a)} A",
        at * at * keyed(found.through_a2s / found.at_a**2),
        "A²s",
        DEVICES[device[0]].band_source,
    )
    limits = _withstand_steps(area_mm2, net.hot_c)
    bears = limits[-1].result or 0.0
    yield (
        "Wire outlasts the device, A²s",
        Decision(value=bears, drafted=bears, governed_by="I²t", steps=(passes, *limits)),
    )
    for stall in found.stalls:
        name = net.aboard.loads[stall.load].name
        yield f"{name} stalled, A", _stall_decision(stall, device, net)


def faults(planned: Sequence[Planned], net: Net) -> dict[str, Fault]:
    """Return the faults of every circuit and feeder that is sized and has a device."""
    kept, loads, side = net.aboard.kept, net.aboard.loads, net.supply_side()
    found: dict[str, Fault] = {}
    for item in planned:
        drawing = tuple(loads[name] for name in item.loads)
        made_from = (item, net.paths[item.id], net.standing.get(item.id), drawing, side)
        if fault := kept.take("fault", item.id, made_from, partial(_fault, item, net)):
            found[item.id] = fault
    return found
