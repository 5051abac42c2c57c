"""Stage Loads: every consumer, its amps and where the figure came from."""

from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import Files, Stage, StageView
from vivid_loom.drafting import Draft

__all__ = ["STAGE"]


def _unknown(draft: Draft) -> str:
    return str(sum(f.code in ("L01", "L02", "L07", "L08") for f in draft.findings) or "")


def _view(session: Session, _: Files) -> StageView:
    from vivid_loom.desktop.loads.stage import LoadsStage  # the window opens without it

    return LoadsStage(session)


STAGE = Stage(2, "Loads", _view, _unknown)
