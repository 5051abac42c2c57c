"""Stage Harness: the form board, plugs, cut list, and the board view for the workshop wall."""

from vivid_loom.desktop.harness.stage import HarnessStage
from vivid_loom.desktop.work.stage import Stage
from vivid_loom.drafting import Draft
from vivid_loom.workshop.harness.built import built_wires

__all__ = ["STAGE"]


def _about_building(draft: Draft) -> str:
    """Return how much is built, in per cent; '' before the first wire."""
    built, all_wires = len(built_wires(draft)), len(draft.assembled.wires)
    return f"{100 * built // all_wires}%" if built else ""


STAGE = Stage(8, "Harness", lambda session, _: HarnessStage(session), _about_building)
