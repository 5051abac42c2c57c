"""Stage Threads: every circuit a thread, with its figures in line."""

from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import Files, Stage, StageView
from vivid_loom.drafting import Draft

__all__ = ["STAGE"]


def _errors(draft: Draft) -> str:
    return str(sum(f.severity == "error" for f in draft.findings) or "")


def _view(session: Session, _: Files) -> StageView:
    from vivid_loom.desktop.threads.stage import ThreadsStage  # the window opens without it

    return ThreadsStage(session)


STAGE = Stage(5, "Threads", _view, _errors)
