"""Stage Power: the boat powered up, broken, shorted and corroded before a metre is cut."""

from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import Files, Stage, StageView

__all__ = ["STAGE"]


def _view(session: Session, _: Files) -> StageView:
    from vivid_loom.desktop.power.stage import PowerStage  # the window opens without it

    return PowerStage(session)


STAGE = Stage(7, "Power", _view, lambda _: "")
