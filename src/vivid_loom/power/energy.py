"""Ampere-hours and days: what is drawn, what is charged, and how long a boat may lie."""

from typing import Final, NamedTuple

from vivid_loom.boat import Battery, Scenario
from vivid_loom.drafting.after.scenarios import USABLE, LoadUse, scenario_total
from vivid_loom.drafting.drafted import Draft
from vivid_loom.network import NoOperatingPointError
from vivid_loom.power.board import Board
from vivid_loom.power.powered import power_up
from vivid_loom.power.setting import scenario_setting
from vivid_loom.standards.batteries import peukert_ah

__all__ = ["BANKS", "Energy", "Mooring", "Standing", "energy", "mooring"]

ENGINE_H: Final = 8.0  # a day under way counts eight hours of engine, as usage does
SUN_H: Final = 4.0
"""Hours of full sun that a day's light comes to; our choice for the open season."""
CHARGED: Final = {"flooded": 0.85, "AGM": 0.9, "gel": 0.9, "lithium": 0.97}
"""Share of what is charged that is had back, by chemistry; from memory."""
COLD_PER_K: Final = 0.008
"""Share of its capacity that a lead battery loses per K below 25 °C; from memory."""
BANKS: Final = (0.5, 1.0, 1.5, 2.0)


class Standing(NamedTuple):
    """Something that draws while the boat is left.

    Attributes:
        circuit: that feeds it; ``ah`` ampere-hours a day.
    """

    load: str
    circuit: str
    ah: float


class Energy(NamedTuple):
    """One scenario over a day.

    Attributes:
        drawn_ah, charged_ah: a day; charged is what is had back of it.
        bank_ah: the bank drawn from, at its 20-hour rate; ``given_ah`` what it gives at this
            scenario's average current and temperature.
        days: until half of it is gone; inf where as much is charged as is drawn.
        banks: for other sizes of bank, as (share of this one, days).
    """

    scenario: Scenario
    drawn_ah: float
    charged_ah: float
    bank_ah: float
    given_ah: float
    days: float
    banks: tuple[tuple[float, float], ...]
    uses: tuple[LoadUse, ...]
    unknown: tuple[str, ...]


class Mooring(NamedTuple):
    """How long a boat may lie with its bilge pumps cycling.

    Attributes:
        pump_ah: of all pumps a day, at this rate; ``standing_ah`` of all else.
        days: until half the bank is gone.
    """

    starts_per_h: float
    seconds: float
    pump_ah: float
    standing_ah: float
    days: float
    standing: tuple[Standing, ...]


def _bank(draft: Draft) -> Battery:
    return next(iter(draft.aboard.boat.network.batteries.values()))


def _given_ah(battery: Battery, drawn_ah: float, share: float, celsius: float) -> float:
    capacity = battery.capacity_ah * share
    given = peukert_ah(capacity, drawn_ah / 24, battery.chemistry)
    cold = 0.0 if battery.chemistry == "lithium" else COLD_PER_K * max(0.0, 25.0 - celsius)
    return given * (1 - cold)


def _charged_ah(draft: Draft, scenario: Scenario) -> float:
    """Return what a day's engine and sun put back, in Ah."""
    sources = [s for s in draft.aboard.boat.supplies if s.kind == "charge_source"]
    sun_ah = sum(s.total_max_a for s in sources if s.charges_by == "sun") * SUN_H
    engine_ah = _engine_a(draft, scenario) * ENGINE_H
    return (sun_ah + engine_ah) * CHARGED[_bank(draft).chemistry]


def _engine_a(draft: Draft, scenario: Scenario) -> float:
    """Return what the engine's sources give with the boat's usual loads running, in A."""
    setting = scenario_setting(draft, scenario)
    supplies = draft.aboard.boat.network.supplies
    driven = [name for name in setting.charging if supplies[name].charges_by == "engine"]
    if not driven:
        return 0.0
    board = Board(draft)
    try:
        now = power_up(board, setting)
    except NoOperatingPointError:
        return 0.0
    return sum(max(0.0, now.amps[name]) for name in driven)


def energy(draft: Draft, scenario: Scenario, celsius: float = 15.0) -> Energy:
    """Return one scenario over a day.

    Args:
        celsius: of the battery.
    """
    total = scenario_total(draft, scenario)
    battery = _bank(draft)
    charged = _charged_ah(draft, scenario)
    net = total.ah - charged

    def days(share: float) -> float:
        given = USABLE * _given_ah(battery, total.ah, share, celsius)
        return given / net if net > 0 else float("inf")

    return Energy(
        scenario,
        total.ah,
        charged,
        battery.capacity_ah,
        _given_ah(battery, total.ah, 1.0, celsius),
        days(1.0),
        tuple((share, days(share)) for share in BANKS),
        total.uses,
        total.unknown,
    )


def mooring(
    draft: Draft, starts_per_h: float = 4.0, seconds: float = 20.0, celsius: float = 15.0
) -> Mooring:
    """Return how long a boat may lie on its mooring with every bilge pump cycling.

    Args:
        starts_per_h, seconds: how often each pump starts, and how long it runs.

    Raises:
        ValueError: a rate that is no rate, or a pump that would never stop.
    """
    if starts_per_h < 0 or seconds < 0:
        raise ValueError(f"found {starts_per_h:g} starts of {seconds:g} s, expected none below 0")
    if starts_per_h * seconds > 3600:
        raise ValueError(f"{starts_per_h:g} starts of {seconds:g} s are more than an hour has")
    total = scenario_total(draft, "moored and left")
    loads = draft.aboard.loads
    running_h = 24 * starts_per_h * seconds / 3600
    fed = {name: row.id for row in draft.circuits for name in row.planned.loads}
    pumps = [
        loads[name]
        for name in sorted(fed)
        if loads[name].function == "bilge_pump" and loads[name].running_a
    ]
    pump_ah = sum((pump.running_a or 0.0) * running_h for pump in pumps)
    standing = tuple(
        Standing(use.load.id, fed[use.load.id], use.ah)
        for use in sorted(total.uses, key=lambda use: -use.ah)
        if use.load.function != "bilge_pump"
    )
    standing_ah = sum(each.ah for each in standing)
    drawn = pump_ah + standing_ah
    given = _given_ah(_bank(draft), drawn, 1.0, celsius)
    days = USABLE * given / drawn if drawn > 0 else float("inf")
    return Mooring(starts_per_h, seconds, pump_ah, standing_ah, days, standing)
