"""What the buttons and keys of the Loads stage do."""

import dataclasses
from pathlib import Path
from typing import Protocol

from PySide6.QtCore import QObject
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QFileDialog, QInputDialog, QWidget

from vivid_loom.boat import SIGNAL_LEADS, CircuitRequest, Load
from vivid_loom.desktop.loads.catalogue_dialog import CatalogueDialog
from vivid_loom.desktop.loads.dialog_controls import ids_aboard
from vivid_loom.desktop.loads.feed_dialog import FeedDialog
from vivid_loom.desktop.loads.import_dialog import ImportDialog
from vivid_loom.desktop.loads.roles_dialog import RolesDialog
from vivid_loom.desktop.loads.supply_dialog import SpareDialog, SupplyDialog
from vivid_loom.desktop.widgets.controls import typed
from vivid_loom.desktop.widgets.dialogs import answered
from vivid_loom.desktop.widgets.record_form import RecordDialog
from vivid_loom.desktop.work.aside import aside
from vivid_loom.desktop.work.record_words import circuit_words, load_words
from vivid_loom.desktop.work.session import Session
from vivid_loom.order import (
    Edit,
    Order,
    add_fit,
    add_spare,
    change_circuit,
    change_loads,
    change_switch,
    move_loads,
    put_together,
    remove_loads,
    remove_spare,
)
from vivid_loom.order.new_loads import fed
from vivid_loom.order.roles import proposals, take_roles
from vivid_loom.quantities.document import DocumentError
from vivid_loom.quantities.grid import GridError, Row, grid_of_file, grid_of_text

__all__ = ["LoadActions"]


class LoadsDesk(Protocol):
    """What the actions need of the page they are pressed on."""

    session: Session

    def tell(self, text: str) -> None:
        """Say what has happened."""

    def apply(self, edit: Edit) -> bool:
        """Make an edit and say what it changed."""

    def selected_loads(self) -> tuple[Load, ...]:
        """Return the selected loads."""

    def select_loads(self, ids: tuple[str, ...]) -> None:
        """Select loads by id."""


class LoadActions(QObject):
    """Asks, then edits the loads of a stage's session."""

    def __init__(self, stage: LoadsDesk, parent: QWidget) -> None:
        super().__init__(parent)
        self._stage, self._parent = stage, parent

    @property
    def session(self) -> Session:
        """The stage's session."""
        return self._stage.session

    def add_from_catalogue(self) -> None:
        """Ask for generic loads and add them."""
        dialog = CatalogueDialog(self.session.draft, self._parent)
        if answered(dialog) and dialog.chosen:
            fit = dialog.fit
            if self._stage.apply(add_fit(fit)):
                self._stage.select_loads(tuple(load.id for load in fit.loads))

    def ask_import(self) -> None:
        """Ask for a load list and import it."""
        name, _ = QFileDialog.getOpenFileName(
            self._parent,
            "Load list",
            str(Path.home()),
            "Spreadsheets (*.csv *.tsv *.txt *.xlsx *.xlsm)",
        )
        if not name:
            return
        try:
            rows = aside(lambda: grid_of_file(Path(name)))
            self.import_rows(rows)
        except DocumentError as error:
            self._stage.tell(str(error))

    def paste(self) -> None:
        """Import what is on the clipboard."""
        text = QGuiApplication.clipboard().text()
        if not text.strip():
            self._stage.tell("There is nothing to paste.")
            return
        try:
            rows = aside(lambda: grid_of_text(text))
        except GridError as error:
            self._stage.tell(f"The clipboard: {error}.")
            return
        self.import_rows(rows)

    def import_rows(self, rows: tuple[Row, ...]) -> None:
        """Show rows with their columns recognised, and take what the engineer agrees to."""
        if not any(any(row.cells) for row in rows):
            self._stage.tell("There is nothing in that sheet.")
            return
        dialog = ImportDialog(rows, self.session.draft, self._parent)
        if answered(dialog) and dialog.account.loads:
            self._stage.apply(add_fit(dialog.fit))

    def ask_move(self) -> None:
        """Ask where the selected loads go."""
        loads = self._stage.selected_loads()
        if not loads:
            return
        stations = sorted(self.session.boat.stations, key=lambda s: s.name)
        names = [s.name for s in stations]
        now = next(i for i, s in enumerate(stations) if s.id == loads[0].station)
        name, done = QInputDialog.getItem(
            self._parent, "Move", "To which station?", names, now, True
        )
        if done and name in names:
            self._stage.apply(move_loads(loads, stations[names.index(name)]))

    def replace(self) -> None:
        """Ask for another kind of load in the selected one's place; its circuit stays."""
        loads = self._stage.selected_loads()
        if len(loads) != 1:
            self._stage.tell("Pick one load to replace.")
            return
        dialog = CatalogueDialog(self.session.draft, self._parent)
        dialog.setWindowTitle(f"In place of {loads[0].name}")
        if answered(dialog) and dialog.chosen:
            old = loads[0]
            new = dialog.chosen.load(
                old.id,
                typed(dialog.name) or dialog.chosen.name,
                old.station,
                self.session.boat.nominal_v,
            )
            kept = tuple(x for x in old.leads if new.lead(x.function) is None)
            whole = dataclasses.replace(new, leads=(*new.leads, *kept))
            self._stage.apply(change_loads((whole,), f"kind to {whole.name}"))

    def ask_feed(self) -> None:
        """Ask how the selected load is fed."""
        loads = self._stage.selected_loads()
        if not loads:
            self._stage.tell("Pick a load first.")
            return
        draft = self.session.draft
        fed = [c for c in draft.aboard.circuits if loads[0].id in c.loads]
        request = next((c for c in fed if c.fed_lead not in SIGNAL_LEADS or c.instrument), None)
        dialog = FeedDialog(draft, loads[0], request, self._parent)
        if not answered(dialog):
            return
        try:
            edit = dialog.edit
        except ValueError as error:
            self._stage.tell(str(error))
            return
        self._stage.apply(edit)

    def ask_roles(self) -> None:
        """Show what the names of loads without a function say they are, and take it."""
        aboard = self.session.draft.aboard
        found = proposals(tuple(aboard.loads.values()))
        if not found:
            self._stage.tell("Every load has its function.")
            return
        dialog = RolesDialog(found, self._parent)
        if answered(dialog) and dialog.taken:
            switches = tuple(aboard.switches.values())
            self._stage.apply(take_roles(dialog.taken, aboard.circuits, switches))

    def put_together(self) -> None:
        """Put the selected loads on one circuit and one switch."""
        loads = self._stage.selected_loads()
        if len(loads) < 2:
            self._stage.tell("Pick two loads or more: they get one circuit and one switch.")
            return
        label, done = QInputDialog.getText(
            self._parent, "Together", "One circuit and switch for them, called", text=loads[0].name
        )
        if not done:
            return
        draft = self.session.draft
        label, volts = label or loads[0].name, draft.aboard.boat.nominal_v
        fit = fed(loads, "helm switch", label, ids_aboard(draft), volts=volts)
        if self._stage.apply(put_together(fit, self.session.draft.aboard.circuits)):
            self._stage.select_loads(tuple(load.id for load in loads))

    def _request(self) -> CircuitRequest | None:
        loads = self._stage.selected_loads()
        circuits = self.session.draft.aboard.circuits
        mine = [c for c in circuits if loads and loads[0].id in c.loads]
        if not mine:
            self._stage.tell("Pick a load that has a circuit.")
            return None
        at = self._which("Circuit", [f"{c.id} {c.label}" for c in mine])
        return None if at is None else mine[at]

    def _which(self, title: str, names: list[str]) -> int | None:
        """Return which of several is meant, asking where there is a choice; None for none."""
        if len(names) == 1:
            return 0
        chosen, done = QInputDialog.getItem(
            self._parent, title, "Which of them", names, 0, editable=False
        )
        return names.index(chosen) if done else None

    def ask_circuit(self) -> None:
        """Ask for everything about the selected load's circuit."""
        request = self._request()
        if request is None:
            return
        words = circuit_words(self.session.draft)
        dialog = RecordDialog(f"Circuit {request.id}", request, words, parent=self._parent)
        if answered(dialog):
            self._stage.apply(change_circuit(dialog.answer, "pattern, contacts and places"))

    def ask_switch(self) -> None:
        """Ask for everything about a switch of the selected load's circuit."""
        request = self._request()
        if request is None:
            return
        switches = [self.session.draft.aboard.switches[c.switch] for c in request.contacts]
        if not switches:
            self._stage.tell(f"{request.label} has no switch: give it one by Circuit or Feed.")
            return
        at = self._which("Switch", [switch.legend for switch in switches])
        if at is None:
            return
        words = circuit_words(self.session.draft)
        dialog = RecordDialog(f"Switch {switches[at].id}", switches[at], words, parent=self._parent)
        if answered(dialog):
            self._stage.apply(change_switch(dialog.answer))

    def ask_load(self) -> None:
        """Ask for everything about the selected load that its row has no room for."""
        loads = self._stage.selected_loads()
        if not loads:
            self._stage.tell("Pick a load first.")
            return
        words = load_words(self.session.draft)
        dialog = RecordDialog(loads[0].name, loads[0], words, parent=self._parent)
        if answered(dialog):
            self._stage.apply(change_loads((dialog.answer,), "leads and figures"))

    def remove(self) -> None:
        """Leave the selected loads out."""
        if loads := self._stage.selected_loads():
            self._stage.apply(remove_loads(loads))

    def propose_supply(self) -> None:
        """Show what the load list asks of blocks and helm."""
        dialog = SupplyDialog(self.session.draft, self._parent)
        if answered(dialog) and dialog.edits:
            edits = dialog.edits

            def apply(order: Order) -> Order:
                for _, change in edits:
                    order = change(order)
                return order

            self._stage.apply(("fit the proposed supply", apply))

    def plan_spares(self) -> None:
        """Ask for spare conductors or a pull line; a planned one can be taken out again."""
        spares = self.session.order.spares
        if spares:
            names = ["Plan another", *(f"Remove {s.label}" for s in spares)]
            name, done = QInputDialog.getItem(
                self._parent, "Spares", "What to do?", names, 0, False
            )
            if not done:
                return
            if name != names[0]:
                self._stage.apply(remove_spare(spares[names.index(name) - 1]))
                return
        dialog = SpareDialog(self.session.draft, self._parent)
        if answered(dialog):
            self._stage.apply(add_spare(dialog.spare))
