"""Stage Order: the shop's queue, the order's options, profile and paper."""

from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import Files, Stage, StageView
from vivid_loom.drafting import Draft

__all__ = ["STAGE"]


def _open_wishes(draft: Draft) -> str:
    return str(sum(not wish.answer for wish in draft.aboard.order.wishes) or "")


def _view(session: Session, files: Files) -> StageView:
    from vivid_loom.desktop.order.stage import OrderStage  # the window opens without it

    return OrderStage(session, files)


STAGE = Stage(1, "Order", _view, _open_wishes)
