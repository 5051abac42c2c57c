"""Stage Packet: every sheet as it prints, and the export."""

from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import Files, Stage, StageView

__all__ = ["STAGE"]


def _view(session: Session, _: Files) -> StageView:
    from vivid_loom.desktop.packet.view import PacketView  # the window opens without it

    return PacketView(session)


STAGE = Stage(10, "Packet", _view, lambda _: "")
