"""Stage Order: the shop's queue, the order's options, profile and paper."""

from vivid_loom.desktop.order.stage import OrderStage
from vivid_loom.desktop.work.stage import Stage
from vivid_loom.drafting import Draft

__all__ = ["STAGE"]


def _open_wishes(draft: Draft) -> str:
    return str(sum(not wish.answer for wish in draft.aboard.order.wishes) or "")


STAGE = Stage(1, "Order", OrderStage, _open_wishes)
