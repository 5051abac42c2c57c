"""Stage Helm: the panels from before and behind, and what every press makes live."""

from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import Files, Stage, StageView
from vivid_loom.drafting import Draft
from vivid_loom.drafting.rules.helm import PRESS_CODES

__all__ = ["STAGE"]


def _about_helm(draft: Draft) -> str:
    return str(sum(f.code in PRESS_CODES for f in draft.findings) or "")


def _view(session: Session, _: Files) -> StageView:
    from vivid_loom.desktop.helm.stage import HelmStage  # the window opens without it

    return HelmStage(session)


STAGE = Stage(6, "Helm", _view, _about_helm)
