"""Opening, saving, making and duplicating orders: everything that touches files."""

import shutil
from collections.abc import Sequence
from contextlib import suppress
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QInputDialog, QMessageBox, QWidget

from vivid_loom.bench.logbook import LogError
from vivid_loom.boat import BOAT_FORMAT, BOAT_VERSION, HullChanges, write_boat
from vivid_loom.demo import DEMO_FOLDER, is_shipped
from vivid_loom.desktop.frame.lost_options import asked_to_mend
from vivid_loom.desktop.order.new_boat import BoatDialog
from vivid_loom.desktop.order.new_order import OrderDialog, boat_choices
from vivid_loom.desktop.widgets.dialogs import answered
from vivid_loom.desktop.widgets.plain import plain
from vivid_loom.desktop.widgets.theme import current_tones
from vivid_loom.desktop.work.mishaps import Mishaps
from vivid_loom.desktop.work.recent import recent_orders, remember
from vivid_loom.desktop.work.session import Session, state_folder
from vivid_loom.drafting import DraftError
from vivid_loom.opening import carry_log
from vivid_loom.order import (
    ChangedOnDiskError,
    Order,
    OrderLockedError,
    ProtectedError,
    order_text,
    read_order,
    write_order,
)
from vivid_loom.quantities import file_name, kept_kind
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.quantities.document import DocumentError, document_text
from vivid_loom.queue import queue_paths

__all__ = ["FileActions"]

Buttons = QMessageBox.StandardButton


class FileActions(QObject):
    """What the file menu and the queue's buttons do.

    Signals:
        said (str): what has happened, for the status line.
        opened: another order stands.
        saved: the order is on disk.
    """

    said = Signal(str)
    opened = Signal()
    saved = Signal()

    def __init__(self, session: Session, window: QWidget) -> None:
        super().__init__(window)
        self.session, self._window, self.mishaps = session, window, Mishaps()

    def _own_folder(self) -> Path:
        path = self.session.path
        return Path.home() if is_shipped(path) else path.parent

    def open_order(self, path: Path) -> bool:
        """Open another order; unsaved edits are asked about first."""
        if path.resolve() == self.session.path.resolve() or not self.may_leave():
            return False
        try:
            self._opened(path)
        except (DocumentError, DraftError) as error:
            self.said.emit(str(error))
            return False
        remember(state_folder(), path)
        self.opened.emit()
        self.offer_recovery()
        return True

    def _opened(self, path: Path) -> None:
        """Open an order; where its model has lost options it chose, ask what becomes of them.

        Raises:
            DocumentError, DraftError: it cannot be taken.
        """
        try:
            self.session.open(path)
        except DraftError:
            mend = asked_to_mend(path, self._window)
            if mend is None:
                raise
            self.session.open(path, mend)

    def ask_open(self) -> None:
        """Ask for an order to open."""
        name, _ = QFileDialog.getOpenFileName(
            self._window, "Open order", str(self._own_folder()), "Orders (*.loom.json)"
        )
        if name:
            self.open_order(Path(name))

    def recent(self) -> tuple[Path, ...]:
        """Return the orders opened lately."""
        return recent_orders(state_folder())

    def offer_recovery(self) -> None:
        """Offer edits that a crash left behind."""
        found = self.session.recovered
        if found is None:
            return
        other = (
            " They began from another state of the file than stands now; taking them puts the "
            "order back to how it was edited."
            if self.session.recovered_from_elsewhere
            else ""
        )
        answer = QMessageBox.question(
            self._window,
            "Edits that were not saved",
            plain(
                f"{found.edits} edits of hull {found.order.hull} were not saved, the last one: "
                f"{found.edit}. Take them back?{other}"
            ),
            Buttons.Yes | Buttons.Discard | Buttons.Cancel,
        )
        if answer == Buttons.Yes and self.session.recover():
            self.said.emit("The unsaved edits are back; Ctrl+S saves them.")
        elif answer == Buttons.Discard:
            self.session.discard_recovered()

    def save(self) -> bool:
        """Save in place; what may not be written to is saved under another name."""
        if self.session.read_only and not self.session.locked_by:
            return self.ask_save_as()
        return self._save()

    def _save(self, *, over_changes: bool = False, over_protection: bool = False) -> bool:
        over = {"over_changes": over_changes, "over_protection": over_protection}
        try:
            self.session.save(**over)
        except ChangedOnDiskError:
            words = (
                f"{self.session.path.name} was changed by another program since it was read. "
                "Save over those changes? No asks for another name."
            )
            return self._save_all_the_same("Changed on disk", words, over | {"over_changes": True})
        except ProtectedError:
            words = (
                f"{self.session.path.name} is protected against writing. Save over it? No asks for "
                "another name."
            )
            over |= {"over_protection": True}
            return self._save_all_the_same("Protected against writing", words, over)
        except OrderLockedError as error:
            self.said.emit(f"{error.holder} edits it: save under another name, or take it over.")
            return self.ask_save_as()
        except OSError as error:
            self.said.emit(f"Cannot save: {error.strerror or error}. Nothing is lost.")
            return False
        self._saved()
        return True

    def take_over(self) -> bool:
        """Take the order from whoever edits it elsewhere, by the name of that person."""
        holder = self.session.locked_by
        if not holder:
            self.said.emit(f"Nobody else edits {self.session.path.name}.")
            return False
        name = self.session.locked_by_user
        typed, sure = QInputDialog.getText(
            self._window,
            "Take the order over",
            plain(
                f"{holder} edits it. That window will save under another name only. To take the "
                f"order over, type {name}:"
            ),
        )
        if not sure or typed.strip() != name:
            self.said.emit("Nothing was taken over.")
            return False
        try:
            self.session.take_over()
        except OSError as error:
            self.said.emit(f"Cannot take it over: {error.strerror or error}.")
            return False
        return True

    def lock_changed(self, holder: str) -> None:
        """Say who has begun to edit the order elsewhere, or that it may be saved here now."""
        name = self.session.path.name
        self.said.emit(
            f"{holder} edits {name} in another window: yours saves under another name until it is "
            "free."
            if holder
            else f"{name} is free: this window saves to it."
        )

    def _save_all_the_same(self, title: str, words: str, over: dict[str, bool]) -> bool:
        answer = QMessageBox.question(
            self._window, title, plain(words), Buttons.Yes | Buttons.No | Buttons.Cancel
        )
        if answer == Buttons.No:
            return self.ask_save_as()
        return answer == Buttons.Yes and self._save(**over)

    def ask_save_as(self) -> bool:
        """Ask for a name and save there."""
        name, _ = QFileDialog.getSaveFileName(
            self._window,
            "Save order",
            str(self._own_folder() / self.session.path.name),
            "Orders (*.loom.json)",
        )
        return bool(name) and self.save_as(Path(name))

    def save_as(self, path: Path) -> bool:
        """Save under another name; shipped data is never written to."""
        if is_shipped(path):
            self.said.emit("The demo's folder is never written to; choose another.")
            return False
        try:
            self.session.save_as(path)
        except OSError as error:
            reason = error.strerror or str(error)
            self.said.emit(f"Cannot save {path}: {reason}. Nothing is lost.")
            return False
        self._saved()
        return True

    def _saved(self) -> None:
        remember(state_folder(), self.session.path)
        self.said.emit(f"Saved {self.session.path}")
        self.saved.emit()

    def may_leave(self) -> bool:
        """Ask about unsaved edits; tell whether the order may be left."""
        if self.session.undo_stack.isClean():
            return True
        answer = QMessageBox.question(
            self._window,
            "Unsaved edits",
            "Save the edits to this order first?",
            Buttons.Save | Buttons.Discard | Buttons.Cancel,
        )
        if answer == Buttons.Save:
            return self.save()
        if answer == Buttons.Discard:
            self.session.discard_unsaved()
        return answer == Buttons.Discard

    def file_changed(self) -> None:
        """Another program has written the file: reload it, or keep what is here."""
        if not self.session.undo_stack.isClean():
            self.said.emit(
                f"{self.session.path.name} was changed by another program. Your edits stand; "
                "saving asks before it writes over those changes."
            )
            return
        path = self.session.path
        try:
            self._opened(path)
        except (DocumentError, DraftError) as error:
            self.said.emit(f"Changed by another program, and cannot be read now: {error}")
            return
        self.opened.emit()
        self.said.emit(f"{path.name} was changed by another program and is read again.")

    def _make(self, dialog: OrderDialog) -> bool:
        path, order = dialog.path, dialog.order
        try:
            source, boat = self.session.path.parent / order.boat, path.parent / order.boat
            own = not is_shipped(source)
            if own and source.exists() and not boat.exists():
                shutil.copyfile(source, boat)
            write_order(path, order)
        except OSError as error:
            self.said.emit(f"Cannot write {path}: {error.strerror}")
            return False
        return self.open_order(path)

    def _ask_order(
        self, start: Order | None, changes: Sequence[str] | None = None
    ) -> OrderDialog | None:
        folder, shop = self._own_folder(), self.session.shop
        boats = boat_choices(folder, DEMO_FOLDER)
        dialog = OrderDialog(boats, folder, shop, start, self._window, changes=changes)
        return dialog if answered(dialog) else None

    def report(self) -> None:
        """Write down what went wrong, with the order where that may be told."""
        if not len(self.mishaps):
            self.said.emit("Nothing has gone wrong since the start.")
            return
        answer = QMessageBox.question(
            self._window,
            "Report what went wrong",
            "Put the order and its boat into the report? What went wrong is found sooner with "
            "them; they name hull, customer and hands. Nothing is sent: the report is a text, "
            "read it through before you pass it on.",
            Buttons.Yes | Buttons.No | Buttons.Cancel,
        )
        if answer not in (Buttons.Yes, Buttons.No):
            return
        name, _ = QFileDialog.getSaveFileName(
            self._window, "Report", str(self._own_folder() / "report.txt"), "Text (*.txt)"
        )
        if name:
            self.write_report(Path(name), with_order=answer == Buttons.Yes)

    def write_report(self, path: Path, *, with_order: bool) -> None:
        """Write the report into a file that is none of an order's."""
        if kind := kept_kind(path.name, ".txt"):
            self.said.emit(f"{path.name} is {kind}; a report wants a name of its own.")
            return
        documents = {}
        if with_order:
            model = document_text(self.session.model, BOAT_FORMAT, BOAT_VERSION)
            documents = {"Order": order_text(self.session.order), "Boat": model}
        try:
            write_atomically(path, self.mishaps.report(documents).encode())
        except OSError as error:
            self.said.emit(f"Cannot write {path}: {error.strerror}")
            return
        self.said.emit(f"The report stands in {path}.")

    def new_order(self) -> None:
        """Ask for a new order and open it."""
        if dialog := self._ask_order(None):
            self._make(dialog)

    def duplicate(self) -> None:
        """Make an order that starts from this one's decisions."""
        if dialog := self._ask_order(self.session.order):
            self._make(dialog)

    def change_order(self) -> None:
        """Start an order on the same hull from what is built in it."""
        order = self.session.order
        if not order.built:
            self.said.emit("Nothing is recorded as built yet: record it first.")
            return
        if dialog := self._ask_order(order, self._changing(order.hull)):
            try:
                carry_log(self.session.path, dialog.path, (order.hull, dialog.order.hull))
            except LogError as error:
                self.said.emit(str(error))
                return
            self._make(dialog)

    def _changing(self, hull: str) -> list[str]:
        """Return the orders of this folder that change what is built in a hull."""
        found: list[str] = []
        for path in queue_paths(self._own_folder(), with_demo=False):
            with suppress(DocumentError):  # one that cannot be read is told where it is listed
                order = read_order(path)
                if order.based_on == hull and order.hull != hull:
                    found.append(path.name)
        return found

    def new_boat(self) -> None:
        """Ask for a boat, write its file, and go on to the first order on it."""
        asked = BoatDialog(current_tones(), self._window)
        if not answered(asked):
            return
        boat = asked.boat
        name, _ = QFileDialog.getSaveFileName(
            self._window,
            "Save boat",
            str(self._own_folder() / file_name(boat.id, ".boat.json")),
            "Boats (*.boat.json)",
        )
        if not name:
            return
        path = Path(name)
        if self._is_of_another_kind(path):
            return
        try:
            write_boat(path, boat)
        except OSError as error:
            self.said.emit(f"Cannot write {path}: {error.strerror}")
            return
        boats = boat_choices(path.parent)
        dialog = OrderDialog(boats, path.parent, self.session.shop, None, self._window)
        dialog.boat.setCurrentIndex(max(0, dialog.boat.findData(path.name)))
        if answered(dialog):
            self._make(dialog)

    def put_into_model(self) -> None:
        """Write the boat as this hull has it as a model, and let the order go on from there."""
        if self.session.order.hull_changes == HullChanges():
            self.said.emit("This hull is as its model says; there is nothing to put into it.")
            return
        name, _ = QFileDialog.getSaveFileName(
            self._window,
            "Model with this hull's measuring",
            str(self._own_folder() / self.session.order.boat),
            "Boats (*.boat.json)",
        )
        if name:
            self.write_model(Path(name))

    def _is_of_another_kind(self, path: Path) -> bool:
        """Tell whether a model would be written over an order or a log, and say so."""
        kind = kept_kind(path.name, ".boat.json")
        if path.resolve() == self.session.path.resolve():
            kind = "the order that is open"
        if kind:
            self.said.emit(f"{path.name} is {kind}; a model wants a name of its own.")
        return bool(kind)

    def write_model(self, path: Path) -> bool:
        """Write the boat as this hull has it; the shipped models are never written to."""
        if is_shipped(path):
            self.said.emit("The demo's folder is never written to; choose another.")
            return False
        if self._is_of_another_kind(path):
            return False
        try:
            write_boat(path, self.session.boat)
        except OSError as error:
            self.said.emit(f"Cannot write {path}: {error.strerror}")
            return False
        self.said.emit(f"{path.name} has this hull's stations, runs and blocks now.")
        return True
