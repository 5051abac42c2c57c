"""Stage Supply: the power path from the batteries to the last way."""

from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import Files, Stage, StageView
from vivid_loom.drafting import Draft

__all__ = ["STAGE"]


def _about_supply(draft: Draft) -> str:
    return str(sum(f.code.startswith("P") for f in draft.findings) or "")


def _view(session: Session, _: Files) -> StageView:
    from vivid_loom.desktop.supply.stage import SupplyStage  # the window opens without it

    return SupplyStage(session)


STAGE = Stage(3, "Supply", _view, _about_supply)
