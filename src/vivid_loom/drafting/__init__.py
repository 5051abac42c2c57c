"""The pipeline from an order to its draft."""

from vivid_loom.drafting.after.scenarios import SCENARIOS, ScenarioTotal, scenario_total
from vivid_loom.drafting.beside.existing import Reuse, built_wires
from vivid_loom.drafting.beside.spares import DraftedSpare
from vivid_loom.drafting.decision import Alternative, Decision, Step
from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.findings import Finding
from vivid_loom.drafting.intake.resolve import option_problem
from vivid_loom.drafting.pipeline import draft

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
