"""The boat: geography, supply, standard fit and options."""

from vivid_loom.boat.boat import Assembly, Boat, Bond, Fit, Option, Recorded
from vivid_loom.boat.changes import HullChanges, changed_boat
from vivid_loom.boat.files import (
    BOAT_FORMAT,
    BOAT_VERSION,
    check_boat,
    fit_problems,
    read_boat,
    write_boat,
)
from vivid_loom.boat.generic_loads import (
    LOADS_FORMAT,
    LOADS_VERSION,
    Feeding,
    GenericLoad,
    GenericLoads,
    generic_loads,
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
from vivid_loom.boat.skeleton import BoatPlan, PlannedArea, skeleton, usual_areas
from vivid_loom.boat.supply import Battery, DeviceFamily, HelmPanel, Level, ReturnBus, Supply
from vivid_loom.boat.survey import Survey, read_survey

__all__ = [
    "BOAT_FORMAT",
    "BOAT_VERSION",
    "LOADS_FORMAT",
    "LOADS_VERSION",
    "Area",
    "Assembly",
    "Battery",
    "Boat",
    "BoatPlan",
    "Bond",
    "CircuitRequest",
    "ContactRequest",
    "DeviceFamily",
    "Enclosure",
    "Evidence",
    "Feeding",
    "Fit",
    "GenericLoad",
    "GenericLoads",
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
    "PlannedArea",
    "Recorded",
    "ReturnBus",
    "Run",
    "Scenario",
    "Station",
    "Supply",
    "Survey",
    "Swing",
    "SwitchRequest",
    "changed_boat",
    "check_boat",
    "fit_problems",
    "generic_loads",
    "parametric_hull",
    "plan_outline",
    "read_boat",
    "read_survey",
    "skeleton",
    "usual_areas",
    "write_boat",
]
