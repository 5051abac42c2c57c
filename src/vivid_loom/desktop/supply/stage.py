"""The third stage: decide the supply, part by part, and see what is alive."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QVBoxLayout, QWidget

from vivid_loom.desktop.supply.actions import Part, SupplyActions
from vivid_loom.desktop.supply.view import SupplyView
from vivid_loom.desktop.widgets.button_row import ButtonRow, Deed
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import StageView
from vivid_loom.drafting import Draft
from vivid_loom.order import Edit
from vivid_loom.sheets.drawings.supply_drawing import alive_parts
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.workshop.effects import effect, effect_words

__all__ = ["SupplyStage"]


class SupplyStage(StageView):
    """The power path, and what can be done to it."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.view = SupplyView()
        self.states: dict[str, str] = {}
        self.told = PlainLabel()
        self.told.setWordWrap(True)
        self.hands = SupplyActions(self, self)
        do = self.hands
        bar = ButtonRow(
            (
                Deed("Add part…", do.ask_part, "Fed from the selected one (Ins)"),
                Deed("Change…", do.ask_change, "Everything about the selected part (Enter)"),
                Deed("Feed from…", do.ask_feed, "Another source for the selected part (F)"),
                Deed("Put into feeder…", do.insert, "A switch, key or relay before it (I)"),
                Deed("Remove", do.remove, "Take the selected part off (Del)"),
                Deed("+ Battery…", do.ask_battery, "One more battery"),
                Deed("+ Negative bus…", do.ask_bus, "One more negative bus"),
                Deed("+ Panel…", do.ask_panel, "One more switch panel"),
                Deed("Sense lead…", do.ask_sense, "From a battery's post to the selected charger"),
                Deed("Bonds…", do.ask_bonds, "Metal parts joined to the bonding bus"),
                Deed("Recorded…", do.ask_recorded, "Mains, coax, data, engine looms"),
                Deed("Mains and hull…", do.ask_grounding, "What is aboard beside the supply"),
            )
        )
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 10, 12, 4)
        layout.setSpacing(6)
        layout.addWidget(bar)
        layout.addWidget(self.told)
        layout.addWidget(self.view, 1)
        self.view.spot_picked.connect(self._picked)
        self.view.state_asked.connect(self.turn)
        self.view.change_asked.connect(self._change)
        for keys, slot in (
            ("Ins", do.ask_part),
            ("F", do.ask_feed),
            ("I", do.insert),
            ("Del", do.remove),
            ("W", self._ask_why),
        ):
            shortcut = QShortcut(QKeySequence(keys), self.view)
            shortcut.setContext(Qt.ShortcutContext.WidgetShortcut)
            shortcut.activated.connect(slot)

    def set_draft(self, draft: Draft) -> None:
        """Show a draft; what is gone is not selected any more."""
        network = draft.aboard.boat.network
        fitting = {n: s for n, s in self.states.items() if s in network.states(n)}
        for name in network.supplies:
            states = network.states(name)
            if states and name not in fitting:
                # opened with the battery on and the key off, as one comes aboard
                fitting[name] = states[draft.aboard.levels[name] == "unswitched"]
        self.states = fitting
        self.view.set_draft(draft, fitting)
        self._tell_alive()

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self.view.set_tones(tones)

    def takes_keys(self) -> QWidget:
        """Return the picture."""
        return self.view

    def reveal(self, subject: str) -> bool:
        """Select a battery, part, bus or panel."""
        boat = self.session.boat
        kinds = (
            ("part", boat.supplies_by_id),
            ("battery", boat.network.batteries),
            ("bus", boat.buses_by_id),
            ("panel", {panel.id: panel for panel in boat.panels}),
        )
        for kind, known in kinds:
            if subject in known:
                self.view.select(kind, subject)
                return True
        return False

    def show_circuit(self, circuit_id: str) -> None:
        """Mark a circuit's way or a feeder."""
        kind, name = self.view.selected
        feeder = self.session.boat.network.feeder_of(name) if kind == "part" else None
        if feeder is None or feeder.id != circuit_id:
            self.view.mark("way" if self._is_circuit(circuit_id) else "feeder", circuit_id)

    def _is_circuit(self, name: str) -> bool:
        return any(row.id == name for row in self.session.draft.circuits)

    # what is selected and how its switches stand

    @property
    def part(self) -> Part | None:
        """The selected part."""
        kind, name = self.view.selected
        boat = self.session.boat
        if kind == "battery":
            return boat.network.batteries.get(name)
        if kind == "bus":
            return boat.buses_by_id.get(name)
        if kind == "panel":
            return next((panel for panel in boat.panels if panel.id == name), None)
        if kind == "feeder" and name in boat.network.feeders:
            name = boat.network.fed_by(name)
        return boat.supplies_by_id.get(name)

    def turn(self, part_id: str) -> None:
        """Look at a switch, selector, key or relay in its next state."""
        states = self.session.boat.network.states(part_id)
        if not states:
            return
        now = states.index(self.states.get(part_id, states[0]))
        self.states = {**self.states, part_id: states[(now + 1) % len(states)]}
        self.view.set_states(self.states)
        self._tell_alive()

    def _tell_alive(self) -> None:
        draft = self.session.draft
        alive = alive_parts(draft, self.states)
        parts = [s for s in draft.aboard.boat.supplies if s.kind != "charge_source"]
        dead = [s.name for s in parts if s.id not in alive]
        lit = sum(row.planned.source in alive for row in draft.circuits)
        whole = len(draft.circuits)
        words = f"As the switches stand, {lit} of {whole} circuits have their source alive. "
        words += f"Dead: {', '.join(dead)}." if dead else "Nothing is dead."
        self.told.setText(words)

    def _picked(self, kind: str, name: str) -> None:
        network = self.session.boat.network
        if kind in ("way", "feeder"):
            self.circuit_picked.emit(name)
        elif kind == "part":
            feeder = network.feeder_of(name)
            self.circuit_picked.emit(feeder.id if feeder else "")
        elif kind == "bus":
            homes = network.homeward(name)
            self.circuit_picked.emit(homes[0] if homes else "")
        else:
            self.circuit_picked.emit("")

    def _change(self, kind: str, name: str) -> None:
        if kind == "way":
            self.why_asked.emit(name)
        else:
            self.hands.ask_change()

    def _ask_why(self) -> None:
        if self.session.selected:
            self.why_asked.emit(self.session.selected)

    # edits

    def tell(self, text: str) -> None:
        """Say what has happened."""
        self.said.emit(text)

    def apply(self, edit: Edit, select: str = "") -> bool:
        """Make an edit, say what it changed and mark a part."""
        before = self.session.draft
        if not self.session.apply(edit):
            return False
        told = effect_words(effect(before, self.session.draft))
        self.said.emit(f"{edit[0]}: {told}. Ctrl+Z takes it back.")
        if select:
            self.reveal(select)
        return True
