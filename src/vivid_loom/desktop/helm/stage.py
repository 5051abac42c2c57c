"""The sixth stage: press the switches, see what goes live, and wire their backs."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QTabWidget, QWidget

from vivid_loom.desktop.helm.actions import HelmActions
from vivid_loom.desktop.helm.view import HelmView
from vivid_loom.desktop.widgets.button_row import ButtonRow, Deed
from vivid_loom.desktop.widgets.picture_page import fill_page
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.text_table import Cell, pane
from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import StageView
from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.tab_steps import tab_steps
from vivid_loom.drafting.after.truth import Truth, truth_of
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.order import Edit
from vivid_loom.sheets.drawings.panel.plate import Look
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.words.helm_words import mismatch_words, press_cells, told_presses
from vivid_loom.workshop.effects import effect, effect_words

__all__ = ["HelmStage"]


class HelmStage(StageView):
    """The panels from before and behind, and what every press makes live."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.view = HelmView()
        self.states: dict[str, str] = {}
        self.back = self.night = False
        self._truth: Truth | None = None
        self.told = PlainLabel()
        self.told.setWordWrap(True)
        self.hands = HelmActions(self, self)
        bar = self._deeds()
        self.presses = pane(
            ("Lever", "Live tabs", "Runs", "Lamps lit", "As meant"), "Presses", stretch=2
        )
        self.steps = pane(
            ("Tab", "Onto", "Wire", "Terminal", "Its other end"), "Wiring steps", stretch=4
        )
        self.below = QTabWidget()
        self.below.addTab(self.presses, "What each press does")
        self.below.addTab(self.steps, "Wire this switch, step by step")
        self.split = fill_page(self, (bar, self.told), self.view, self.below, (350, 146))
        self.view.spot_picked.connect(self._picked)
        self.view.press_asked.connect(self.press)
        self.view.drop_asked.connect(self.hands.move)
        self.view.change_asked.connect(lambda *_: self.hands.ask_change())
        self._take_keys()

    def _deeds(self) -> ButtonRow:
        do = self.hands
        return ButtonRow(
            (
                Deed("Press", self._press_selected, "The selected switch, its next state (Space)"),
                Deed("Turn over", self.turn_over, "The panel, face or back (T)"),
                Deed("By night", self.darken, "Or by day again (N)"),
                Deed("All off", self.all_off, "Every lever at rest (0)"),
                Deed("Change…", do.ask_change, "Everything about the selected switch (Enter)"),
                Deed("Position…", do.ask_position, "Another place for it, or drag it there (P)"),
                Deed("Jumper", do.jumper, "From the selected tab to another one (J)"),
                Deed("Leave out", do.leave_out, "The selected jumper, or lay it again (Del)"),
                Deed("As drafted", do.all_as_drafted, "Take back every jumper by hand"),
            )
        )

    def _take_keys(self) -> None:
        do = self.hands
        for keys, slot in (
            ("T", self.turn_over),
            ("N", self.darken),
            ("0", self.all_off),
            ("P", do.ask_position),
            ("J", do.jumper),
            ("Esc", do.drop_jumper),
            ("Del", do.leave_out),
            ("W", self._ask_why),
        ):
            shortcut = QShortcut(QKeySequence(keys), self.view)
            shortcut.setContext(Qt.ShortcutContext.WidgetShortcut)
            shortcut.activated.connect(slot)

    def set_draft(self, draft: Draft) -> None:
        """Show a draft; a lever that is gone is not pressed any more."""
        known = {s.request.id: s.part.states for s in draft.switches}
        self.states = {n: s for n, s in self.states.items() if s in known.get(n, ())}
        self._truth = truth_of(draft)
        self.view.set_draft(draft)
        if not self.switch_id and draft.switches:
            self.view.mark("switch", draft.switches[0].request.id)
        self._look()

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self.view.set_tones(tones)

    def takes_keys(self) -> QWidget:
        """Return the picture."""
        return self.view

    def reveal(self, subject: str) -> bool:
        """Select a switch."""
        if subject in self.session.draft.aboard.switches:
            self.back = False
            self._look()
            self.view.select("switch", subject)
            self._fill()
            return True
        return False

    def show_circuit(self, circuit_id: str) -> None:
        """Mark the switch that a circuit goes through."""
        here = self._switch(self.switch_id)
        if here and any(use.circuit == circuit_id for use in here.uses):
            return
        for switch in self.session.draft.switches:
            if switch.position and any(use.circuit == circuit_id for use in switch.uses):
                self.view.mark("switch", switch.request.id)
                self._fill()
                return

    # what is selected

    @property
    def switch_id(self) -> str:
        """The selected switch, or the one a selected tab is on; '' for none."""
        kind, name = self.view.selected
        if kind == "wire":
            wire = self.wire
            places = {s.place: s.request.id for s in self.session.draft.switches}
            ends = (wire.start.place, wire.end.place) if wire else ()
            return next((places[place] for place in ends if place in places), "")
        return name.rpartition(" ")[0] if kind == "tab" else name

    @property
    def tab(self) -> str:
        """The selected tab, as switch id and terminal; '' for none."""
        kind, name = self.view.selected
        return name if kind == "tab" else ""

    @property
    def wire(self) -> Wire | None:
        """The selected wire."""
        kind, name = self.view.selected
        wires = self.session.draft.assembled.wires if kind == "wire" else ()
        return next((wire for wire in wires if wire.id == name), None)

    def _switch(self, name: str) -> HelmSwitch | None:
        return next((s for s in self.session.draft.switches if s.request.id == name), None)

    # looking

    def press(self, switch_id: str, half: str) -> None:
        """Press a half of a rocker, or its next state; pressed once more it is at rest again."""
        switch = self._switch(switch_id)
        if switch is None:
            return
        states = switch.part.states
        now = self.states.get(switch_id, states[0])
        if not half:
            then = states[(states.index(now) + 1) % len(states)]
        elif half not in states or now == half:
            then = states[0]
        else:
            then = half
        self.states = {**self.states, switch_id: then}
        if then == states[0]:
            del self.states[switch_id]
        self._look(("switch", switch_id))
        self._show_on_strip()

    def _press_selected(self) -> None:
        self.press(self.switch_id, "")

    def turn_over(self) -> None:
        """Look at the other side of the panels."""
        self.back = not self.back
        self._look(("switch", self.switch_id))

    def darken(self) -> None:
        """Look at the face by night, or by day again."""
        self.night = not self.night
        self.back = False
        self._look()

    def all_off(self) -> None:
        """Put every lever at rest."""
        self.states = {}
        self._look()

    def _look(self, selected: tuple[str, str] | None = None) -> None:
        if self._truth is None:
            return
        self.view.selected = selected or self.view.selected  # one picture shows both changes
        pressed = self._truth.at(self.states)
        draft = self.session.draft
        live = frozenset(
            f"{switch.place} {tab}"
            for switch in draft.switches
            for tab in switch.part.terminals
            if pressed.is_live(f"{switch.place} {tab}")  # type: ignore[arg-type]
        )
        look = Look(self.states, live, pressed.on, back=self.back, night=self.night)
        self.view.set_look(look)
        at_rest = set(self._truth.wrong({}))
        wrong = sorted(self._truth.wrong(self.states), key=lambda one: one in at_rest)
        side = "From the wire side. " if self.back else "From the front. "
        told = told_presses(draft, self.states, pressed.on - self._truth.rest.on, wrong)
        self.told.setText(side + told)
        self._fill()

    def _fill(self) -> None:
        """Tell of the selected switch."""
        switch = self._switch(self.switch_id)
        draft, truth = self.session.draft, self._truth
        if switch is None or truth is None:
            self.presses.rows_model.fill([])
            self.steps.rows_model.fill([])
            return
        now = self.states.get(switch.request.id, switch.part.states[0])
        rows: list[tuple[str, tuple[Cell, ...]]] = []
        for state in switch.part.states:
            row = truth.row(switch, state)
            cells = [Cell(text, "", state == now) for text in press_cells(draft, switch, row)]
            wrong = [mismatch_words(draft, w) for w in row.wrong]
            cells.append(Cell("; ".join(wrong), "alarm", True) if wrong else Cell("yes"))
            rows.append((state, tuple(cells)))
        self.presses.rows_model.fill(rows)
        steps = tab_steps(switch.place, switch.part, draft.assembled.wires)
        names = {switch.part.mark(tab): tab for tab in switch.part.terminals}
        marks = {tab: mark for mark, tab in names.items()}
        self.steps.rows_model.fill(
            [
                (
                    f"{i}",
                    (
                        Cell(marks.get(step.tab, step.tab), "", True),
                        Cell(step.onto),
                        Cell(step.wire, "", True),
                        Cell(step.terminal),
                        Cell(step.far),
                    ),
                )
                for i, step in enumerate(steps)
            ]
        )
        self.below.setTabText(0, f"What each press of {switch.request.legend} does")

    def _picked(self, kind: str, name: str) -> None:
        self._fill()
        if kind == "wire" and self.wire:
            self.circuit_picked.emit(self.wire.circuit)
        else:
            self._show_on_strip()

    def _show_on_strip(self) -> None:
        switch = self._switch(self.switch_id)
        if switch and switch.uses:
            self.circuit_picked.emit(switch.uses[0].circuit)

    def _ask_why(self) -> None:
        if self.session.selected:
            self.why_asked.emit(self.session.selected)

    # edits

    def tell(self, text: str) -> None:
        """Say what has happened."""
        self.said.emit(text)

    def apply(self, edit: Edit) -> bool:
        """Make an edit and say what it changed."""
        before = self.session.draft
        if not self.session.apply(edit):
            return False
        told = effect_words(effect(before, self.session.draft))
        self.said.emit(f"{edit[0][0].upper()}{edit[0][1:]}: {told}. Ctrl+Z takes it back.")
        return True
