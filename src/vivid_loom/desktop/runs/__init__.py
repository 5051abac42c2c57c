"""Stage Runs: plan and profile of the boat, its trunks and what lies in them."""

from vivid_loom.desktop.runs.stage import RunsStage
from vivid_loom.desktop.work.stage import Stage
from vivid_loom.drafting import Draft

__all__ = ["STAGE"]


def _about_runs(draft: Draft) -> str:
    return str(sum(f.code.startswith("R") for f in draft.findings) or "")


STAGE = Stage(4, "Runs", lambda session, _: RunsStage(session), _about_runs)
