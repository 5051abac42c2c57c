"""Stage Runs: plan and profile of the boat, its trunks and what lies in them."""

from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import Files, Stage, StageView
from vivid_loom.drafting import Draft

__all__ = ["STAGE"]


def _about_runs(draft: Draft) -> str:
    return str(sum(f.code.startswith("R") for f in draft.findings) or "")


def _view(session: Session, _: Files) -> StageView:
    from vivid_loom.desktop.runs.stage import RunsStage  # the window opens without it

    return RunsStage(session)


STAGE = Stage(4, "Runs", _view, _about_runs)
