"""Stage Packet: every sheet as it prints, and the export."""

from vivid_loom.desktop.packet.view import PacketView
from vivid_loom.desktop.work.stage import Stage

__all__ = ["STAGE"]

STAGE = Stage(10, "Packet", lambda session, _: PacketView(session), lambda _: "")
