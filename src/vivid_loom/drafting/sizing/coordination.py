"""What happens when it goes wrong: shorts near and far, stalled motors, which device opens.

Shorts are worked out from the battery's internal resistance and every metre of wire between:
cold copper for the greatest current, copper at its insulation's limit for the least.
"""

import math
from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from vivid_loom.boat import Load
from vivid_loom.drafting.decision import Decision, Lazy, Step
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.drafting.sizing.outcome import Sized
from vivid_loom.drafting.sizing.short_paths import COLD_C, Net, Part, far_parts, near_parts
from vivid_loom.quantities import figure, key_in
from vivid_loom.standards import conductor, short_circuit, time_current

__all__ = ["Fault", "Stall", "Upstream", "faults", "selective_to_a"]

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
    """

    load: str
    hot_a: float
    cold_a: float
    opens_s: float


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
    total = sum(part.ohm for part in parts)
    steps = (
        *(Step(part.name, part.formula, part.ohm, "Ω") for part in parts),
        Step("all of it", " + ".join(key_in(part.ohm) for part in parts), total, "Ω"),
        Step(
            name,
            f"{key_in(volts)} / {key_in(total)}",
            volts / total,
            "A",
            short_circuit.BATTERY_SOURCE,
        ),
    )
    return Decision(value=volts / total, drafted=volts / total, governed_by=why, steps=steps)


def _time_formula(family: str, multiple: float) -> str:
    """Write how to read a band's late edge at a multiple: log–log between its gates."""
    gates = time_current.BANDS[family]
    inside = [i for i, gate in enumerate(gates) if gate.multiple <= multiple]
    if not inside or gates[inside[-1]].most_s == math.inf:
        return ""
    low = gates[inside[-1]]
    if inside[-1] == len(gates) - 1:
        return (
            f"{low.most_s:g} × ({low.multiple:g} / {key_in(multiple)}) × ({low.multiple:g} / "
            f"{key_in(multiple)})"
        )
    high = gates[inside[-1] + 1]
    return (
        f"exp(ln({low.most_s:g}) + ln({key_in(multiple)} / {low.multiple:g}) / "
        f"ln({high.multiple:g} / {low.multiple:g}) × ln({high.most_s:g} / {low.most_s:g}))"
    )


def _opening_steps(family: str, rating_a: float, amps: float) -> tuple[Step, ...]:
    multiple = amps / rating_a
    opens = time_current.opens_s(family, rating_a, amps)
    source = time_current.band_source(family)
    first = Step("multiple of the rating", f"{key_in(amps)} / {key_in(rating_a)}", multiple, "×")
    if opens == math.inf:
        return (first, Step("at that multiple no opening is promised", source=source))
    formula = _time_formula(family, multiple)
    told = time_current.BANDS[family][-1].multiple
    if multiple > told and abs(opens - _beyond(family, multiple)) > 1e-12:
        return (first, Step(f"opens in its least time, {opens:g} s", source=source))
    return (first, Step("late edge of its band", formula, opens, "s", source))


def _beyond(family: str, multiple: float) -> float:
    last = time_current.BANDS[family][-1]
    return last.most_s * (last.multiple / multiple) ** 2


def _withstand(gauge_area_mm2: float, insulation_c: float) -> tuple[float, tuple[Step, ...]]:
    limit = short_circuit.short_limit_c(insulation_c)
    k = short_circuit.withstand_k(insulation_c, limit)
    steps = (
        Step(
            f"k of copper from {insulation_c:g} to {limit:g} °C",
            f"226 × √(ln((234.5 + {limit:g}) / (234.5 + {insulation_c:g})))",
            k,
            "A√s/mm²",
            short_circuit.WITHSTAND_SOURCE,
        ),
        Step(
            "I²t the wire outlasts",
            f"({key_in(k)} × {key_in(gauge_area_mm2)}) × ({key_in(k)} × {key_in(gauge_area_mm2)})",
            (k * gauge_area_mm2) ** 2,
            "A²s",
        ),
    )
    return (k * gauge_area_mm2) ** 2, steps


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
    """Return the devices towards the battery, the next one first."""
    start = planned.source if not planned.feeds else net.needs[planned.feeds].supply.fed_from
    found: list[Upstream] = []
    for name in net.aboard.boat.supply_chain(start):
        need = net.needs[name]
        sized = net.sized.get(need.planned.id)
        if sized and sized.protection and need.supply.feed_family:
            family = need.supply.feed_family
            found.append(Upstream(need.planned.id, family, sized.protection.value))
    return tuple(found)


def _stall(load: Load, planned: Planned, device: tuple[str, float], net: Net) -> Stall | None:
    if load.locked_rotor_a is None:
        return None
    volts = net.aboard.boat.nominal_v
    own = volts / load.locked_rotor_a
    index = planned.loads.index(load.id)
    legs = max(
        (legs for i, legs in planned.plan.paths if i == index),
        key=lambda legs: sum(net.paths[planned.id][k].length_m for k in legs),
    )

    def amps(celsius: float) -> float:
        wires = net.legs(planned.id, legs, celsius, planned.id).ohm
        parts = net.ahead(planned.source, planned.bus, celsius)
        return volts / (own + wires + sum(part.ohm for part in parts))

    hot = amps(net.hot_c)
    return Stall(load.id, hot, amps(COLD_C), time_current.opens_s(*device, hot))


def _stall_decision(
    stall: Stall, planned: Planned, device: tuple[str, float], net: Net
) -> Decision[float]:
    load = net.aboard.loads[stall.load]
    assert load.locked_rotor_a is not None
    volts = net.aboard.boat.nominal_v
    wires = volts / stall.hot_a - volts / load.locked_rotor_a
    steps = (
        Step(
            f"{load.name}, shaft held",
            f"{volts:g} / {key_in(load.locked_rotor_a)}",
            volts / load.locked_rotor_a,
            "Ω",
        ),
        Step(f"wires and battery, copper at {net.hot_c:g} °C", key_in(wires), wires, "Ω"),
        Step(
            "least stall current",
            f"{volts:g} / ({key_in(volts / load.locked_rotor_a)} + {key_in(wires)})",
            stall.hot_a,
            "A",
        ),
        *_opening_steps(*device, stall.hot_a),
    )
    return Decision(
        value=stall.hot_a, drafted=stall.hot_a, governed_by="stall must open it", steps=steps
    )


def _let_through(device: tuple[str, float], near_a: float, far_a: float) -> tuple[float, float]:
    """Return the greatest I²t between the two currents, and the current it occurs at.

    The device is taken alone: what stands upstream may help it, and is not counted on.
    """
    gates = (device[1] * gate.multiple for gate in time_current.BANDS[device[0]])
    # between gates I²t rises or falls steadily, so its greatest value is at a gate or an end
    tried = [far_a, near_a, *(amps for amps in gates if far_a < amps < near_a)]
    limited = [
        (amps**2 * opens, amps)
        for amps in tried
        if (opens := time_current.opens_s(*device, amps)) <= short_circuit.FAR_END_LIMIT_S
    ]
    return max(limited, default=(0.0, near_a))


def _fault(planned: Planned, net: Net) -> Fault | None:
    sized = net.sized.get(planned.id)
    if sized is None or sized.protection is None:
        return None
    device = (planned.family, sized.protection.value)
    volts = short_circuit.battery_open_v(net.aboard.boat.nominal_v)
    near, far = near_parts(planned, net), far_parts(planned, net)
    near_a = volts / sum(part.ohm for part in near)
    far_a = volts / sum(part.ohm for part in far)
    through, at_a = _let_through(device, near_a, far_a)
    area = conductor.area_mm2(sized.gauge.value)
    withstand = short_circuit.withstand_a2s(area, net.hot_c, short_circuit.short_limit_c(net.hot_c))
    upstream = _upstream(planned, net)
    selective = (
        selective_to_a(device, (upstream[0].family, upstream[0].rating_a), near_a)
        if upstream
        else math.inf
    )
    loads = (net.aboard.loads[name] for name in planned.loads)
    stalls = tuple(s for load in loads if (s := _stall(load, planned, device, net)))

    def opened() -> tuple[tuple[str, Decision[float]], ...]:
        return tuple(_opened(planned, device, net, (near, far, through, at_a, stalls)))

    return Fault(
        near_a,
        far_a,
        time_current.opens_s(*device, far_a),
        through,
        withstand,
        upstream,
        selective,
        stalls,
        Lazy(opened),
    )


def _opened(
    planned: Planned,
    device: tuple[str, float],
    net: Net,
    found: tuple[list[Part], list[Part], float, float, tuple[Stall, ...]],
) -> Iterator[tuple[str, Decision[float]]]:
    near, far, through, at_a, stalls = found
    volts = short_circuit.battery_open_v(net.aboard.boat.nominal_v)
    yield (
        "Short behind the device, A",
        _amps_decision("prospective short circuit, copper cold", volts, near, "interrupt rating"),
    )
    least = _amps_decision("short at the far end, copper hot", volts, far, "opens within 5 s")
    steps = (*least.steps, *_opening_steps(*device, least.value))
    yield (
        "Short at the far end, A",
        Decision(
            value=least.value, drafted=least.value, governed_by="opens within 5 s", steps=steps
        ),
    )
    area = conductor.area_mm2(net.sized[planned.id].gauge.value)
    bears, limits = _withstand(area, net.hot_c)
    passes = Step(
        f"the most the device lets pass, at {figure(at_a)} A",
        f"{key_in(at_a)} × {key_in(at_a)} × {key_in(through / at_a**2)}",
        through,
        "A²s",
        time_current.band_source(device[0]),
    )
    yield (
        "Wire outlasts the device, A²s",
        Decision(value=bears, drafted=bears, governed_by="I²t", steps=(passes, *limits)),
    )
    for stall in stalls:
        name = net.aboard.loads[stall.load].name
        yield f"{name} stalled, A", _stall_decision(stall, planned, device, net)


def faults(
    planned: Sequence[Planned],
    sized: dict[str, Sized],
    paths: dict[str, tuple[Path, ...]],
    needs: dict[str, FeederNeed],
    aboard: Aboard,
) -> dict[str, Fault]:
    """Return the faults of every circuit and feeder that is sized and has a device."""
    net = Net(aboard, sized, paths, needs)
    return {item.id: found for item in planned if (found := _fault(item, net))}
