"""Stage Power: the boat powered up, broken, shorted and corroded before a metre is cut."""

from vivid_loom.desktop.power.stage import PowerStage
from vivid_loom.desktop.work.stage import Stage

__all__ = ["STAGE"]

STAGE = Stage(7, "Power", lambda session, _: PowerStage(session), lambda _: "")
