"""Stage Bench: ringing out, pull tests, making alive, deviations, the log and the boat's papers."""

from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import Files, Stage, StageView
from vivid_loom.drafting import Draft

__all__ = ["STAGE"]


def _about_proof(draft: Draft) -> str:
    """Return how many deviations wait for an answer; '' for none."""
    waiting = sum(d.verdict == "open" for d in draft.aboard.order.deviations)
    return str(waiting) if waiting else ""


def _view(session: Session, _: Files) -> StageView:
    from vivid_loom.desktop.bench.stage import BenchStage  # the window opens without it

    return BenchStage(session)


STAGE = Stage(9, "Bench", _view, _about_proof)
