"""Stage Harness: the form board, plugs, cut list, and the board view for the workshop wall."""

from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import Files, Stage, StageView
from vivid_loom.drafting import Draft
from vivid_loom.workshop.harness.built import ticked_wires

__all__ = ["STAGE"]


def _about_building(draft: Draft) -> str:
    """Return how much is built, in per cent; '' before the first wire."""
    built, all_wires = len(ticked_wires(draft)), len(draft.assembled.wires)
    return f"{100 * built // all_wires}%" if built else ""


def _view(session: Session, _: Files) -> StageView:
    from vivid_loom.desktop.harness.stage import HarnessStage  # the window opens without it

    return HarnessStage(session)


STAGE = Stage(8, "Harness", _view, _about_building)
