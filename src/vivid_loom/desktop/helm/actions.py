"""What the buttons and keys of the Helm stage change in the order."""

from typing import Protocol

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QInputDialog, QWidget

from vivid_loom.boat import SwitchRequest
from vivid_loom.desktop.helm.reason_dialog import ReasonDialog
from vivid_loom.desktop.widgets.dialogs import answered
from vivid_loom.desktop.widgets.plain import plain
from vivid_loom.desktop.widgets.record_form import RecordDialog
from vivid_loom.desktop.work.record_words import circuit_words
from vivid_loom.desktop.work.session import Session
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.order import (
    Edit,
    HandJumper,
    change_switch,
    decide_jumper,
    give_back_jumper,
    move_switch,
)

__all__ = ["HelmActions"]


class HelmDesk(Protocol):
    """What the actions need of the page they are pressed on."""

    session: Session

    @property
    def switch_id(self) -> str:
        """The selected switch; '' for none."""

    @property
    def tab(self) -> str:
        """The selected tab, as switch id and terminal; '' for none."""

    @property
    def wire(self) -> Wire | None:
        """The selected wire."""

    def tell(self, text: str) -> None:
        """Say what has happened."""

    def apply(self, edit: Edit) -> bool:
        """Make an edit and say what it changed."""


class HelmActions(QObject):
    """Asks, then edits switches, positions and jumpers of a stage's session."""

    def __init__(self, stage: HelmDesk, parent: QWidget) -> None:
        super().__init__(parent)
        self._stage, self._parent = stage, parent
        self.from_tab = ""

    @property
    def _switch(self) -> SwitchRequest | None:
        return self._stage.session.draft.aboard.switches.get(self._stage.switch_id)

    def ask_change(self) -> None:
        """Show everything about the selected switch."""
        switch = self._switch
        if switch is None:
            self._stage.tell("Pick a switch first.")
            return
        words = circuit_words(self._stage.session.draft)
        dialog = RecordDialog(f"Switch {switch.legend}", switch, words, parent=self._parent)
        if answered(dialog):
            self._stage.apply(change_switch(dialog.answer))

    def ask_position(self) -> None:
        """Ask for another position of the selected switch."""
        switch, draft = self._switch, self._stage.session.draft
        position = draft.allocation.positions.get(switch.id, 0) if switch else 0
        if switch is None or not position:
            self._stage.tell("Pick a switch on a panel first.")
            return
        words, most = f"{switch.legend} to position", draft.aboard.boat.positions
        chosen, taken = QInputDialog.getInt(
            self._parent, "Position", plain(words), position, 1, most
        )
        if taken and chosen != position:
            self.move(switch.id, chosen)

    def move(self, switch_id: str, position: int) -> None:
        """Fix a switch in a position; what stands there changes places with it."""
        positions = self._stage.session.draft.allocation.positions
        other = next((name for name, at in positions.items() if at == position), "")
        legend = self._stage.session.draft.aboard.switches[switch_id].legend
        reason = self._reason(f"{legend} to position {position}", "arranged by hand")
        if reason:
            why, initials = reason
            self._stage.apply(
                move_switch(
                    switch_id,
                    position,
                    other=other,
                    place=positions[switch_id],
                    reason=why,
                    initials=initials,
                )
            )

    def jumper(self) -> None:
        """Take the selected tab as one end of a jumper, then another one as its other end."""
        tab = self._stage.tab
        if not tab:
            self._stage.tell("Turn the panel over and pick a tab first.")
        elif not self.from_tab or self.from_tab == tab:
            self.from_tab = tab
            self._stage.tell(f"Jumper from {tab}: pick its other tab, then J again. Esc drops it.")
        else:
            start, self.from_tab = self.from_tab, ""
            reason = self._reason(f"Jumper from {start} to {tab}", "")
            if reason:
                made = HandJumper(start=start, end=tab, reason=reason[0], initials=reason[1])
                self._stage.apply(decide_jumper(made))

    def drop_jumper(self) -> None:
        """Forget the tab a jumper was to start at."""
        if self.from_tab:
            self.from_tab = ""
            self._stage.tell("No jumper laid.")

    def leave_out(self) -> None:
        """Leave the selected jumper out, or take back what was decided about it."""
        wire = self._stage.wire
        places = {s.place: s.request.id for s in self._stage.session.draft.switches}
        if wire is None or not wire.jumper or {wire.start.place, wire.end.place} - set(places):
            self._stage.tell("Pick a jumper between two tabs first.")
            return
        start, end = (f"{places[e.place]} {e.point}" for e in (wire.start, wire.end))
        laid = next((j for j in self._stage.session.order.jumpers if j.ends == {start, end}), None)
        if laid:
            self._stage.apply(give_back_jumper(laid))
            return
        reason = self._reason(f"Leave out the jumper from {start} to {end}", "")
        if reason:
            why, initials = reason
            left = HandJumper(start=start, end=end, reason=why, initials=initials, laid=False)
            self._stage.apply(decide_jumper(left))

    def all_as_drafted(self) -> None:
        """Take back every jumper laid or left out by hand."""
        jumpers = self._stage.session.order.jumpers
        if not jumpers:
            self._stage.tell("Every jumper is as drafted.")
        for jumper in jumpers:
            self._stage.apply(give_back_jumper(jumper))

    def _reason(self, what: str, usual: str) -> tuple[str, str] | None:
        dialog = ReasonDialog(what, usual, self._parent)
        return (dialog.words, dialog.signed) if answered(dialog) else None
