"""The cautions every packet and screen repeats."""

from typing import Final

from vivid_loom.drafting import Draft, DraftedCircuit

__all__ = ["CAUTIONS", "SHORT_CAUTION", "hazards"]

HEAVY_A: Final = 60.0  # from here up a dropped spanner welds itself on; our choice

SHORT_CAUTION: Final = (
    "Electricity aboard can start fires and kill. Disconnect batteries before work, minus first; "
    "connect minus last. Local codes and licensed practice overrule this sheet."
)

CAUTIONS: Final = (
    "Electricity aboard can start fires and kill.",
    "Disconnect the batteries before any work: minus off first, minus on last. Cover live studs.",
    "Circuits on the always-live block stay live with the battery switch off.",
    "Ventilate petrol spaces before switching anything; fuel-vapour spaces take ignition-protected "
    "parts only. Keep an extinguisher to hand.",
    "Mains power (AC shore supply) is outside what this sheet sizes; it belongs to licensed "
    "people.",
    "Local codes, class rules and the device makers' instructions overrule this sheet.",
    "The engineer who signs answers for the result.",
)


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
    if row.sized and row.sized.protection and row.sized.protection.value >= HEAVY_A:
        found.append("A short here melts tools: insulate both ends before the other is landed.")
    if boat.ac_aboard != "none":
        found.append("Mains is aboard: keep it in its own sheath; it belongs to licensed people.")
    return tuple(found)
