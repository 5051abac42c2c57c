"""Stage Threads: every circuit a thread, with its figures in line."""

from vivid_loom.desktop.threads.stage import ThreadsStage
from vivid_loom.desktop.work.stage import Stage
from vivid_loom.drafting import Draft

__all__ = ["STAGE"]


def _errors(draft: Draft) -> str:
    return str(sum(f.severity == "error" for f in draft.findings) or "")


STAGE = Stage(5, "Threads", lambda session, _: ThreadsStage(session), _errors)
