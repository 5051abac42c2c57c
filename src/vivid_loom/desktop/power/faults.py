"""What the buttons and keys of the Power stage break, short and corrode."""

from typing import Final, Protocol

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QInputDialog, QWidget

from vivid_loom.desktop.power.view import PowerView
from vivid_loom.power.board import Board
from vivid_loom.power.fault import HULL, RETURN, Fault
from vivid_loom.sheets.power_words import piece_words

__all__ = ["FaultHands"]

WHERE: Final = (
    ("At its start, on its return", 0.0, RETURN),
    ("Half way, on its return", 0.5, RETURN),
    ("At its far end, on its return", 1.0, RETURN),
    ("Half way, on the hull", 0.5, HULL),
)


class PowerDesk(Protocol):
    """What the hands need of the page they are on."""

    board: Board | None
    view: PowerView

    def put(self, fault: Fault) -> None:
        """Put a fault into the boat."""

    def tell(self, text: str) -> None:
        """Say what has happened."""


class FaultHands(QObject):
    """Puts faults into what is selected."""

    def __init__(self, desk: PowerDesk, parent: QWidget) -> None:
        super().__init__(parent)
        self._desk, self._parent = desk, parent

    def _piece(self) -> str:
        kind, name = self._desk.view.selected
        if kind != "piece":
            self._desk.tell("Pick a piece of a way first: a wire, a device or a contact.")
            return ""
        return name

    def _wire(self) -> str:
        name = self._piece()
        board = self._desk.board
        if name and board is not None and name not in board.conductors:
            self._desk.tell("Only a wire can be bare: pick one.")
            return ""
        return name

    def tell_piece(self, name: str) -> None:
        """Say what a piece is and what is lost over it."""
        if self._desk.board is not None:
            self._desk.tell(piece_words(self._desk.board, name))

    def break_it(self) -> None:
        """Break the selected wire or joint."""
        if name := self._piece():
            self._desk.put(Fault("open", name))

    def corrode_it(self) -> None:
        """Corrode it."""
        if name := self._piece():
            self._desk.put(Fault("corroded", name))

    def short_it(self) -> None:
        """Ask what the selected wire touches, and where."""
        name = self._wire()
        if not name:
            return
        words = [told for told, _, _ in WHERE]
        board = self._desk.board
        near = [w for w in board.conductors if w != name] if board is not None else []
        told, taken = QInputDialog.getItem(
            self._parent,
            f"{name} is bare",
            "Where, and what it touches; or the id of another wire",
            [*words, *near],
            1,
            True,
        )
        if not taken:
            return
        for option, share, to in WHERE:
            if told == option:
                self._desk.put(Fault("short", name, to=to, share=share))
                return
        self._desk.put(Fault("short", name, to=told.strip()))

    def hold_motor(self) -> None:
        """Hold the shaft of the selected load's motor."""
        kind, name = self._desk.view.selected
        if kind != "load" or self._desk.board is None:
            self._desk.tell("Pick a load with a motor first.")
            return
        self._desk.put(Fault("stall", self._desk.board.elements[name].part))
