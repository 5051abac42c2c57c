"""What is done to one circuit: overrule it, give it back, lay it in a cable, fit another device."""

import dataclasses
from collections.abc import Callable

from PySide6.QtWidgets import QWidget

from vivid_loom.desktop.why.moves import MovesDialog
from vivid_loom.desktop.why.stock import StockDialog
from vivid_loom.desktop.widgets.dialogs import opened
from vivid_loom.desktop.work.session import Session
from vivid_loom.order import Edit, Override, change_circuit, clear_override, set_override
from vivid_loom.workshop.effects import effect, effect_words

__all__ = ["CircuitActions"]


class CircuitActions:
    """Turns what the why drawer asks for into edits of the session's order."""

    def __init__(self, session: Session, say: Callable[[str], None], parent: QWidget) -> None:
        self.session, self.say, self.parent = session, say, parent

    def overrule(self, override: Override) -> None:
        """Set a value against the draft's own."""
        if self.session.apply(set_override(override)):
            word = "Substituted" if override.kind == "substitution" else "Overruled"
            self.say(f"{word}; printed in the packet with {override.initials}'s reason.")

    def give_back(self, subject: str, field: str) -> None:
        """Give an overruled value back to the draft."""
        if self.session.order.override(subject, field):  # type: ignore[arg-type]
            self.session.apply(clear_override(subject, field))  # type: ignore[arg-type]

    def lay_as(self, circuit_id: str, kind: str) -> None:
        """Lay a circuit in a cable, a twisted pair or single wires."""
        row = self.session.draft.circuit(circuit_id)
        if row and row.planned.request:
            request = dataclasses.replace(row.planned.request, cable=kind)  # type: ignore[arg-type]
            self.session.apply(change_circuit(request, kind or "single wires"))

    def show_stock(self, circuit_id: str) -> None:
        """Offer other devices for a circuit."""
        session = self.session
        dialog = StockDialog(
            session.draft, session.model, circuit_id, session.shop.ratings, self.parent
        )
        dialog.override_asked.connect(self.overrule)
        opened(dialog)

    def show_moves(self, circuit_id: str) -> None:
        """Offer other ways to hang a circuit."""
        session = self.session
        dialog = MovesDialog(session.draft, session.model, circuit_id, self.parent)
        dialog.edit_asked.connect(self._hang)
        opened(dialog)

    def _hang(self, edit: Edit) -> None:
        before = self.session.draft
        if self.session.apply(edit):
            told = effect_words(effect(before, self.session.draft))
            self.say(f"{edit[0].capitalize()}: {told}. Ctrl+Z takes it back.")

    def take_advice(self, subject: str) -> bool:
        """Clear the gravest finding of a circuit that one edit clears; False without one."""
        draft = self.session.draft
        remedies = self.session.remedies
        for finding in draft.findings:
            if subject in finding.subjects and (edit := remedies.at_once(finding)):
                if self.session.apply(edit):
                    self.say(f"{edit[0].capitalize()}; undo takes it back.")
                return True
        return False
