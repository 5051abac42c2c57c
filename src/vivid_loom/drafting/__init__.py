"""The pipeline from an order to its draft."""

from vivid_loom.drafting.decision import Alternative, Decision, Step
from vivid_loom.drafting.draft import draft
from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.existing import Reuse, built_wires
from vivid_loom.drafting.findings import Finding
from vivid_loom.drafting.resolve import option_problem
from vivid_loom.drafting.scenarios import SCENARIOS, ScenarioTotal, scenario_total
from vivid_loom.drafting.spares import DraftedSpare

__all__ = [
    "SCENARIOS",
    "Alternative",
    "Decision",
    "Draft",
    "DraftError",
    "DraftedCircuit",
    "DraftedSpare",
    "Finding",
    "Reuse",
    "ScenarioTotal",
    "Step",
    "built_wires",
    "draft",
    "option_problem",
    "scenario_total",
]
