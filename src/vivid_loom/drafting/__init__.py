"""The pipeline from an order to its draft."""

from vivid_loom.drafting.decision import Alternative, Decision, Step
from vivid_loom.drafting.draft import draft
from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.findings import Finding
from vivid_loom.drafting.resolve import option_problem

__all__ = [
    "Alternative",
    "Decision",
    "Draft",
    "DraftError",
    "DraftedCircuit",
    "Finding",
    "Step",
    "draft",
    "option_problem",
]
