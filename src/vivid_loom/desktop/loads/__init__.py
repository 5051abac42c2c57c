"""Stage Loads: every consumer, its amps and where the figure came from."""

from vivid_loom.desktop.loads.stage import LoadsStage
from vivid_loom.desktop.work.stage import Stage
from vivid_loom.drafting import Draft

__all__ = ["STAGE"]


def _unknown(draft: Draft) -> str:
    return str(sum(f.code in ("L01", "L02", "L07", "L08") for f in draft.findings) or "")


STAGE = Stage(2, "Loads", lambda session, _: LoadsStage(session), _unknown)
