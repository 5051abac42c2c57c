"""What is on in each scenario: amps per source, ampere-hours a day, days on the mooring."""

from typing import Final, NamedTuple, get_args

from vivid_loom.boat import Load, Scenario
from vivid_loom.drafting.decision import Step
from vivid_loom.drafting.drafted import Draft
from vivid_loom.quantities.reckoning import Reckoned, keyed
from vivid_loom.standards.usage import USAGE_SOURCE, usual_hours

__all__ = ["SCENARIOS", "LoadUse", "ScenarioTotal", "hours_in_use", "scenario_total"]

SCENARIOS: Final[tuple[Scenario, ...]] = get_args(Scenario)
USABLE: Final = 0.5  # share of a battery that may be taken before it is called empty


class LoadUse(NamedTuple):
    """One load in one scenario.

    Attributes:
        source: supply next to the battery that it draws through.
        worked: ampere-hours a day, and how they were worked out.
        usual: nobody has set its hours; they are the function's usual ones.
    """

    load: Load
    source: str
    hours: float
    worked: Reckoned
    usual: bool

    @property
    def ah(self) -> float:
        """Ampere-hours a day."""
        return self.worked.value


class ScenarioTotal(NamedTuple):
    """One scenario over 24 hours.

    Attributes:
        amps: per source next to the battery, everything in use at once, in A.
        ah: drawn in 24 hours, charging left out.
        days: until half the battery is gone; inf where nothing draws.
        unknown: loads in use whose current nobody has looked up, and that count nothing.
        steps: the arithmetic.
        capacity_ah: of the batteries drawn from, of several the first a selector takes.
    """

    scenario: Scenario
    amps: dict[str, float]
    ah: float
    days: float
    uses: tuple[LoadUse, ...]
    unknown: tuple[str, ...]
    steps: tuple[Step, ...]
    capacity_ah: float


def hours_in_use(load: Load, scenario: Scenario, *, direct: bool) -> tuple[float, bool]:
    """Return hours a day and whether they are only usual; left alone, what is switched is off."""
    for name, hours in load.hours:
        if name == scenario:
            return hours, False
    if scenario == "moored and left" and not direct:
        return 0.0, True
    return usual_hours(load.function, scenario), True


def _sources(draft: Draft) -> dict[str, tuple[str, bool]]:
    """Return for each fed load the supply next to the battery and whether it is always live."""
    network = draft.aboard.boat.network
    level = draft.aboard.levels
    found: dict[str, tuple[str, bool]] = {}
    for row in draft.circuits:
        chain = next(iter(network.chains(row.planned.source)), ())
        top = network.fed_by(chain[-1]) if chain else row.planned.source
        for name in row.planned.loads:
            direct = level[row.planned.source] == "battery_direct"
            found.setdefault(name, (top, direct))
    return found


def scenario_total(draft: Draft, scenario: Scenario) -> ScenarioTotal:
    """Add up one scenario over all loads that are fed; converters draw their loss as well."""
    uses: list[LoadUse] = []
    unknown: list[str] = []
    amps: dict[str, float] = {}
    for name, (source, direct) in sorted(_sources(draft).items()):
        load = draft.aboard.loads[name]
        hours, usual = hours_in_use(load, scenario, direct=direct)
        if hours <= 0 or load.state == "wired_for_later":
            continue
        if load.running_a is None:
            unknown.append(name)
            continue
        worked = keyed(load.running_a) * keyed(load.duty_percent) / keyed(100) * keyed(hours)
        uses.append(LoadUse(load, source, hours, worked, usual))
        amps[source] = amps.get(source, 0.0) + load.running_a
    total = sum(use.ah for use in uses)
    network = draft.aboard.boat.network
    drawn = {b.id: b.capacity_ah for source in amps for b in network.batteries_behind(source)[:1]}
    capacity_ah = sum(drawn.values())
    lasts = keyed(USABLE) * keyed(capacity_ah) / keyed(total) if total else None
    days = lasts.value if lasts else float("inf")
    largest = sorted(uses, key=lambda use: -use.ah)[:6]
    steps = tuple(
        Step(
            use.load.name,
            use.worked,
            "Ah",
            USAGE_SOURCE if use.usual else None,
        )
        for use in largest
    )
    if lasts:
        steps += (
            Step(
                f"days until half of {capacity_ah:g} Ah is gone",
                lasts,
                "days",
                USAGE_SOURCE,
            ),
        )
    return ScenarioTotal(
        scenario, amps, total, days, tuple(uses), tuple(unknown), steps, capacity_ah
    )
