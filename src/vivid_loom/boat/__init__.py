"""The boat: geography, supply, standard fit and options."""

from vivid_loom.boat.boat import Assembly, Boat, Fit, Option
from vivid_loom.boat.changes import HullChanges, changed_boat
from vivid_loom.boat.files import (
    BOAT_FORMAT,
    BOAT_VERSION,
    check_boat,
    fit_problems,
    read_boat,
    write_boat,
)
from vivid_loom.boat.geography import Area, Enclosure, Hazard, Hull, Near, Run, Station, Swing
from vivid_loom.boat.loads import (
    CircuitRequest,
    ContactRequest,
    Evidence,
    Lead,
    LeadFunction,
    Load,
    LoadState,
    MakerLength,
    Scenario,
    SwitchRequest,
)
from vivid_loom.boat.shape import parametric_hull, plan_outline
from vivid_loom.boat.supply import Battery, DeviceFamily, HelmPanel, Level, ReturnBus, Supply

__all__ = [
    "BOAT_FORMAT",
    "BOAT_VERSION",
    "Area",
    "Assembly",
    "Battery",
    "Boat",
    "CircuitRequest",
    "ContactRequest",
    "DeviceFamily",
    "Enclosure",
    "Evidence",
    "Fit",
    "Hazard",
    "HelmPanel",
    "Hull",
    "HullChanges",
    "Lead",
    "LeadFunction",
    "Level",
    "Load",
    "LoadState",
    "MakerLength",
    "Near",
    "Option",
    "ReturnBus",
    "Run",
    "Scenario",
    "Station",
    "Supply",
    "Swing",
    "SwitchRequest",
    "changed_boat",
    "check_boat",
    "fit_problems",
    "parametric_hull",
    "plan_outline",
    "read_boat",
    "write_boat",
]
