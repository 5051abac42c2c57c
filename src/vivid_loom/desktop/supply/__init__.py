"""Stage Supply: the power path from the batteries to the last way."""

from vivid_loom.desktop.supply.stage import SupplyStage
from vivid_loom.desktop.work.stage import Stage
from vivid_loom.drafting import Draft

__all__ = ["STAGE"]


def _about_supply(draft: Draft) -> str:
    return str(sum(f.code.startswith("P") for f in draft.findings) or "")


STAGE = Stage(3, "Supply", lambda session, _: SupplyStage(session), _about_supply)
