"""The boat: geography, supply, standard fit and options."""

from vivid_loom.boat.boat import Assembly, Boat, Fit, Option
from vivid_loom.boat.files import (
    BOAT_FORMAT,
    BOAT_VERSION,
    check_boat,
    fit_problems,
    read_boat,
    write_boat,
)
from vivid_loom.boat.geography import Area, Enclosure, Hull, Run, Station
from vivid_loom.boat.loads import (
    CircuitRequest,
    ContactRequest,
    Evidence,
    Lead,
    LeadFunction,
    Load,
    LoadState,
    SwitchRequest,
)
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
    "HelmPanel",
    "Hull",
    "Lead",
    "LeadFunction",
    "Level",
    "Load",
    "LoadState",
    "Option",
    "ReturnBus",
    "Run",
    "Station",
    "Supply",
    "SwitchRequest",
    "check_boat",
    "fit_problems",
    "read_boat",
    "write_boat",
]
