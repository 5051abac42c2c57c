"""Schools of the trade that change which circuits there are: pumps, backlights, helm protection."""

import dataclasses
from collections.abc import Mapping

from vivid_loom.boat import CircuitRequest, ContactRequest, Load, SwitchRequest
from vivid_loom.order import Profile
from vivid_loom.quantities import computed

__all__ = ["Requests", "under_schools"]

PLAIN_ROCKER = "rocker-spst"
THREE_POSITION = "rocker-spdt"


@computed
class Requests:
    """What is asked for, by id.

    Attributes:
        capped: leads that the school leaves without a feed, as (load, lead).
    """

    circuits: Mapping[str, CircuitRequest]
    switches: Mapping[str, SwitchRequest]
    capped: frozenset[tuple[str, str]] = frozenset()

    def changed(
        self,
        *,
        without: str,
        circuits: tuple[CircuitRequest, ...],
        switches: tuple[SwitchRequest, ...] = (),
        capped: frozenset[tuple[str, str]] = frozenset(),
    ) -> "Requests":
        """Return these with one circuit replaced by others."""
        kept = {name: c for name, c in self.circuits.items() if name != without}
        return Requests(
            circuits={**kept, **{c.id: c for c in circuits}},
            switches={**self.switches, **{s.id: s for s in switches}},
            capped=self.capped | capped,
        )


def _pump(circuit: CircuitRequest, requests: Requests, profile: Profile) -> Requests:
    """Rewrite one automatic pump; by default both leads keep their one always-live point."""
    name = circuit.id
    pumps = circuit.loads
    direct = dataclasses.replace(
        circuit, pattern="device_switched", lead="automatic", contact=None, level="battery_direct"
    )
    if profile.automatic_pump == "helm_manual":
        manual = dataclasses.replace(
            circuit,
            id=f"{name}m",
            label=f"{circuit.label}, manual",
            pattern="switched",
            lead="manual",
            level="unswitched",
            supply="",
        )
        return requests.changed(without=name, circuits=(direct, manual))
    if profile.automatic_pump == "automatic_only":
        idle = frozenset((load, "manual") for load in pumps)
        return requests.changed(without=name, circuits=(direct,), capped=idle)
    if profile.automatic_pump == "manual_only":
        by_hand = dataclasses.replace(circuit, pattern="switched", lead="manual")
        idle = frozenset((load, "automatic") for load in pumps)
        return requests.changed(without=name, circuits=(by_hand,), capped=idle)
    if profile.pump_switch == "three_position" and circuit.contact:
        switch = requests.switches.get(circuit.contact.switch)
        both = dataclasses.replace(circuit.contact, throws=("up", "down"))
        turned = dataclasses.replace(circuit, pattern="pump_three_position", contact=both)
        parts = (dataclasses.replace(switch, part=THREE_POSITION),) if switch else ()
        return requests.changed(without=name, circuits=(turned,), switches=parts)
    return requests


def _switched_at_helm(circuit: CircuitRequest, rank: int) -> tuple[CircuitRequest, SwitchRequest]:
    switch = SwitchRequest(
        id=f"s_{circuit.id}", part=PLAIN_ROCKER, legend=circuit.label.upper(), rank=rank
    )
    made = dataclasses.replace(
        circuit, pattern="switched", contact=ContactRequest(switch=switch.id), supply=""
    )
    return made, switch


def _is_backlight(circuit: CircuitRequest, loads: Mapping[str, Load]) -> bool:
    return circuit.lead == "plus" and all(
        loads[n].function == "instrument_light" for n in circuit.loads if n in loads
    )


def _backlights(requests: Requests, loads: Mapping[str, Load], profile: Profile) -> Requests:
    """Put the instrument lights where the school has them."""
    if profile.backlights == "own_way":
        return requests
    lamps = [c for c in requests.circuits.values() if c.loads and _is_backlight(c, loads)]
    running = next(
        (
            c
            for c in sorted(requests.circuits.values(), key=lambda c: c.id)
            if c.contact
            and any(loads[n].function == "navigation_light" for n in c.loads if n in loads)
        ),
        None,
    )
    for circuit in sorted(lamps, key=lambda c: c.id):
        if profile.backlights == "own_switch" and circuit.contact is None:
            made, switch = _switched_at_helm(circuit, 1)
            requests = requests.changed(without=circuit.id, circuits=(made,), switches=(switch,))
        elif profile.backlights == "navigation_output" and running:
            running = dataclasses.replace(running, loads=(*running.loads, *circuit.loads))
            requests = requests.changed(without=circuit.id, circuits=(running,))
    return requests


def _helm(circuit: CircuitRequest, requests: Requests, profile: Profile) -> Requests:
    """Turn rockers into breakers, or breakers into rockers, where the school asks for it."""
    if profile.helm_protection == "fuse_block" and circuit.pattern == "breaker":
        made, switch = _switched_at_helm(circuit, 3)
        lever = requests.switches.get(circuit.contact.switch) if circuit.contact else None
        if lever:  # it keeps its place
            switch = dataclasses.replace(lever, part=PLAIN_ROCKER)
            made = dataclasses.replace(made, contact=circuit.contact)
        return requests.changed(without=circuit.id, circuits=(made,), switches=(switch,))
    if profile.helm_protection != "breaker_panel" or circuit.pattern != "switched":
        return requests
    switch_request = requests.switches.get(circuit.contact.switch) if circuit.contact else None
    plain = switch_request and switch_request.part == PLAIN_ROCKER and switch_request.rank >= 2
    if not plain or circuit.level != "unswitched":
        return requests
    breaker = dataclasses.replace(circuit, pattern="breaker", contact=None, supply="")
    return requests.changed(without=circuit.id, circuits=(breaker,))


def under_schools(requests: Requests, loads: Mapping[str, Load], profile: Profile) -> Requests:
    """Return the circuits as the profile's schools would have them; defaults change nothing."""
    for circuit in list(requests.circuits.values()):
        if circuit.pattern == "pump_auto_manual":
            requests = _pump(circuit, requests, profile)
        else:
            requests = _helm(circuit, requests, profile)
    return _backlights(requests, loads, profile)
