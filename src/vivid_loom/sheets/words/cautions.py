"""The cautions every packet and screen repeats."""

from typing import Final

from vivid_loom.boat import SOURCES
from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.drafting.rules.sources import switches_of_alternators
from vivid_loom.quantities import figure

__all__ = ["CAUTIONS", "SEALS_TELL", "SHORT_CAUTION", "hazards"]

HEAVY_A: Final = 60.0  # from here up a dropped spanner welds itself on; our choice

SHORT_CAUTION: Final = (
    "Electricity aboard can start fires and kill. Disconnect batteries before work, minus first; "
    "connect minus last. Local codes and licensed practice overrule this sheet."
)

SEALS_TELL: Final = (
    "What seals cannot tell: whether a reading was true and whose hand it was, whether the clock "
    "was right, and whether somebody who may write the log and both seals has written all of it "
    "anew. Who signs answers for that."
)
"""Said where papers are signed."""

CAUTIONS: Final = (
    "Electricity aboard can start fires and kill.",
    "Disconnect the batteries before any work: minus off first, minus on last. Cover live studs.",
    "Circuits on the always-live block stay live with the battery switch off.",
    "Ventilate petrol spaces before switching anything; fuel-vapour spaces take ignition-protected "
    "parts only. Run the blower for 4 minutes before a petrol engine is started. Keep an "
    "extinguisher to hand.",
    "Batteries give off explosive gas, and their acid burns: no flame or spark near them, eyes "
    "covered, rings and watches off, tools insulated.",
    "Stand clear of windlass, winch, trim and hatch before they are powered: they may start.",
    "Mains power (AC shore supply) is outside what this sheet sizes; it belongs to licensed "
    "people.",
    "Local codes, class rules and the device makers' instructions overrule this sheet.",
    "The engineer who signs answers for the result.",
)


def _charging_hazards(draft: Draft, row: DraftedCircuit) -> list[str]:
    """Return the cautions at what charges the batteries, and at a switch that it charges by."""
    boat, found = draft.aboard.boat, []
    supply = boat.supplies_by_id.get(row.planned.feeds)
    if supply is None:
        return []
    if supply.kind in SOURCES and supply.charges_by == "engine":
        found.append(
            f"{supply.name} is live while the engine runs, whatever the battery switch says: stop "
            "the engine before work."
        )
        held = row.sized.protection if row.sized else None
        if held:
            times = figure(held.value / supply.total_max_a, 2)
            found.append(
                f"The {figure(held.value)} A {row.planned.family} is {times} × what {supply.name} "
                "gives: fit none smaller, since one that opens under way lets its voltage jump."
            )
    for source, switch in switches_of_alternators(draft):
        if switch.id == supply.id:
            found.append(
                f"Never turn {switch.name} off while the engine runs: the voltage of "
                f"{source.name} jumps and may destroy it."
            )
    return found


def hazards(draft: Draft, row: DraftedCircuit) -> tuple[str, ...]:
    """Return the cautions that belong to one circuit or feeder, the gravest first."""
    boat, found = draft.aboard.boat, []
    areas = boat.areas_by_id
    levels = draft.aboard.levels
    passed = {areas[run.area] for path in row.paths for run in path.runs}
    if any(area.fuel_vapour for area in passed):
        found.append(
            "Passes a fuel-vapour space: ventilate before switching anything, and fit "
            "ignition-protected parts only."
        )
    if row.planned.source in boat.network.batteries:
        found.append(
            "Starts on the battery: minus off first and on last; cover the live studs; "
            "nothing but its own fuse protects this stretch."
        )
    elif levels.get(row.planned.source) == "battery_direct":
        found.append(
            f"{row.planned.label} stays live with the battery switch off: pull its fuse "
            "before work."
        )
    found += _charging_hazards(draft, row)
    if row.sized and row.sized.protection and row.sized.protection.value >= HEAVY_A:
        found.append("A short here melts tools: insulate both ends before the other is landed.")
    if boat.ac_aboard != "none":
        found.append("Mains is aboard: keep it in its own sheath; it belongs to licensed people.")
    return tuple(found)
