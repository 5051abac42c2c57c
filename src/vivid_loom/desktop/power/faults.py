"""What the buttons and keys of the Power stage break, short and corrode."""

from itertools import pairwise
from typing import Final, Protocol

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QInputDialog, QWidget

from vivid_loom.desktop.power.view import PowerView
from vivid_loom.power.board import Board
from vivid_loom.power.fault import HULL, RETURN, Fault, FaultError, read_fault
from vivid_loom.sheets.words.power_words import piece_words

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

    def ask_other(self) -> None:
        """Ask for any other fault, as the command line takes it; what suits the selection first."""
        told, taken = QInputDialog.getItem(
            self._parent,
            "Another fault",
            "Welded, dead, another device, bridged, reversed, swapped: pick one or write your own",
            self._others(),
            0,
            True,
        )
        if not taken:
            return
        try:
            self._desk.put(read_fault(told.strip()))
        except FaultError as error:
            self._desk.tell(f"{error}.")

    def _others(self) -> list[str]:
        """Return the faults that suit what is selected, then one of each kind."""
        board = self._desk.board
        if board is None:
            return []
        kind, name = self._desk.view.selected
        found: list[str] = []
        if kind == "lever":
            found += [f"welded:{name}", f"dead:{name}"]
        contact = board.contacts.get(name)
        held = [contact] if contact and contact.device else list(board.devices)
        for one in held:
            if one.device:
                listed = one.device.listed
                found += [f"device:{listed}={2 * one.device.rating_a:g}", f"bridged:{listed}"]
                found.append(f"device:{listed}=0")
        found += [f"reversed:{battery}" for battery in board.batteries]
        plugs = [plug.id for plug in board.draft.assembled.plugs]
        found += [f"swapped:{a}:{b}" for a, b in pairwise(plugs)]
        found += [
            f"{how}:{lever.id}" for lever in board.net.actuators for how in ("welded", "dead")
        ]
        return found

    def hold_motor(self) -> None:
        """Hold the shaft of the selected load's motor."""
        kind, name = self._desk.view.selected
        if kind != "load" or self._desk.board is None:
            self._desk.tell("Pick a load with a motor first.")
            return
        self._desk.put(Fault("stall", self._desk.board.elements[name].part))
