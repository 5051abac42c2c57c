"""What stands how: levers, keys, floats and charge, and what is left off by its own switch."""

from collections.abc import Iterable, Mapping
from typing import Final, get_args

from vivid_loom.boat import Load, Scenario
from vivid_loom.drafting.after.meant import Meaning, meaning_of
from vivid_loom.drafting.after.scenarios import hours_in_use
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.quantities import computed

__all__ = ["SCENARIOS", "Setting", "in_use", "scenario_setting", "setting_with"]

SCENARIOS: Final[tuple[Scenario, ...]] = get_args(Scenario)
_UNDER_WAY: Final = ("under way by day", "under way by night")
_CUT: Final = {"battery_switch": "on", "selector": "1"}


@computed
class Setting:
    """One set of states.

    Attributes:
        states: by actuator, of those not at rest; what a coil moves follows by itself.
        idle: ids of loads that their own switch keeps off.
        charging: ids of the charge sources that run.
    """

    states: Mapping[str, str]
    idle: frozenset[str] = frozenset()
    charging: frozenset[str] = frozenset()

    def moved(self, states: Mapping[str, str]) -> "Setting":
        """Return the setting with some levers moved."""
        whole = {**self.states, **states}
        return Setting(states=whole, idle=self.idle, charging=self.charging)


def in_use(draft: Draft, scenario: Scenario) -> frozenset[str]:
    """Return the loads that are in use at some hour of a scenario."""
    levels = draft.aboard.levels
    used: set[str] = set()
    for row in draft.circuits:
        direct = levels[row.planned.source] == "battery_direct"
        for name in row.planned.loads:
            load = draft.aboard.loads[name]
            if hours_in_use(load, scenario, direct=direct)[0] > 0:
                used.add(name)
    return frozenset(used)


def scenario_setting(draft: Draft, scenario: Scenario) -> Setting:
    """Return a scenario's states, everything that is used at some hour of it in use at once.

    Floats are up: what a pump draws counts. Levers that spring back stay where they spring to.
    """
    used = in_use(draft, scenario)
    left = scenario == "moored and left"
    meaning = meaning_of(draft)
    states: dict[str, str] = {}
    for supply in draft.aboard.boat.supplies:
        if supply.kind in _CUT and not left:
            states[supply.id] = _CUT[supply.kind]
        if supply.kind == "key_switch" and scenario in _UNDER_WAY:
            states[supply.id] = "on"
        if supply.kind == "combining_relay" and scenario in _UNDER_WAY:
            states[supply.id] = "closed"
    for switch in draft.switches:
        if switch.request.coil or left:
            continue
        if switch.part.actuator == "key":
            if scenario in _UNDER_WAY:
                states[switch.request.id] = switch.part.presses[0]
        elif switch.part.actuator == "float":
            states[switch.request.id] = switch.part.presses[0]
        else:
            state = _wanted(meaning, switch, used)
            if state != switch.part.states[0]:
                states[switch.request.id] = state
    states |= floats(draft.aboard.loads.values())
    states |= {
        f"{row.id} breaker": "off"
        for row in draft.circuits
        if row.planned.pattern == "breaker" and row.id not in draft.breaker_levers
        if used.isdisjoint(row.planned.loads)
    }
    return setting_with(states, draft, scenario)


def setting_with(states: Mapping[str, str], draft: Draft, scenario: Scenario) -> Setting:
    """Return levers in these states, with what a scenario leaves off and what it has charging."""
    idle = _idle(draft, in_use(draft, scenario))
    return Setting(states=states, idle=idle, charging=_charging(draft, scenario))


def floats(loads: Iterable[Load]) -> dict[str, str]:
    """Return the floats inside loads, all up."""
    inside = (x for x in loads if x.contact_a or x.lead("automatic"))
    return {f"{load.id} float": "up" for load in inside}


def _charging(draft: Draft, scenario: Scenario) -> frozenset[str]:
    """Return what charges: by the engine under way, by the sun by day; shore power is far off."""
    by = {"under way by day": ("engine", "sun"), "under way by night": ("engine",)}
    return frozenset(
        supply.id
        for supply in draft.aboard.boat.supplies
        if supply.kind == "charge_source" and supply.charges_by in by.get(scenario, ())
    )


def _wanted(meaning: Meaning, switch: HelmSwitch, used: frozenset[str]) -> str:
    """Return the state in which a switch runs most of what is used and least of what is not."""
    part, name = switch.part, switch.request.id
    for_it = meaning.elements_of(name)

    def worth(state: str) -> int:
        runs = (e.rpartition(" ")[0] in used for e in for_it if meaning.runs(e, {name: state}))
        return sum(1 if wanted else -1 for wanted in runs)

    steady = [s for s in part.states if s == part.states[0] or not part.springs_back(s)]
    return max(steady, key=lambda state: (worth(state), -steady.index(state)))


def _idle(draft: Draft, used: frozenset[str]) -> frozenset[str]:
    """Return the loads with a switch of their own that are not used."""
    return frozenset(
        name
        for row in draft.circuits
        if row.planned.request and not row.planned.request.contacts
        if row.planned.pattern != "breaker" or not used.isdisjoint(row.planned.loads)
        for name in row.planned.loads
        if name not in used
    )
