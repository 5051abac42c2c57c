"""Stage Helm: the panels from before and behind, and what every press makes live."""

from vivid_loom.desktop.helm.stage import HelmStage
from vivid_loom.desktop.work.stage import Stage
from vivid_loom.drafting import Draft
from vivid_loom.drafting.rules.helm import PRESS_CODES

__all__ = ["STAGE"]


def _about_helm(draft: Draft) -> str:
    return str(sum(f.code in PRESS_CODES for f in draft.findings) or "")


STAGE = Stage(6, "Helm", lambda session, _: HelmStage(session), _about_helm)
