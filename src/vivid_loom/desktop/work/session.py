"""One open order: its file, its undo list, its current draft, what is selected."""

import dataclasses
import datetime
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Final

import platformdirs
from PySide6.QtCore import QFileSystemWatcher, QObject, QTimer, Signal
from PySide6.QtGui import QUndoCommand, QUndoStack

from vivid_loom.bench.fallen import fallen
from vivid_loom.boat import Boat, offering, read_boat, write_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import borrowed_boat, find_boat, is_shipped
from vivid_loom.desktop.work.aside import AGAIN_MS, aside, is_waiting
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.desktop.work.remedies import Remedies
from vivid_loom.drafting import Draft, DraftError, draft
from vivid_loom.opening import carry_log, due_of
from vivid_loom.order import (
    Edit,
    Order,
    OrderState,
    OrderStore,
    Recovered,
    Shop,
    order_text,
    parse_order,
    read_shop,
    set_state,
)
from vivid_loom.quantities import LimitError, one_line
from vivid_loom.quantities.document import DocumentError
from vivid_loom.workshop.effects import effect, effect_words

__all__ = ["Session", "state_folder"]


HANDED_OVER: Final = (
    "the boat is handed over. Start a change order, or step back from that state with a reason."
)
TAKE_UP: Final = "Take it up again first: Order, Wishes and revisions."


def state_folder() -> Path:
    """Return where journals are kept between runs."""
    return Path(platformdirs.user_state_path("vivid-loom")) / "journals"


class _Change(QUndoCommand):
    """An edit as one undoable step: the order before and after. Drafts are made anew: one of a
    large boat takes as much room as all its orders together.
    """

    def __init__(self, session: "Session", name: str, before: Order, after: Order) -> None:
        super().__init__(name)
        self._session, self._before, self._after = session, before, after
        self.for_good = False

    def redo(self) -> None:
        self._session._stand(self._after, self.text())

    def undo(self) -> None:
        self._session._stand(self._before, f"undo: {self.text()}")
        self.setObsolete(self.for_good)  # then it leaves the list: nobody redoes it


class Session(QObject):
    """Signals:

    draft_changed: a new draft stands.
    proven (Draft, Proven): a draft has been proven, and what that found.
    circuit_selected (str): circuit id, '' for none.
    edit_refused (str): why an edit cannot stand; nothing has changed.
    previewed (object): draft of an edit that was only tried, or the DraftError that refuses it.
    changed_on_disk: another program has written the order's file.
    lock_changed (str): who edits the order in another window now; '' where it has become free.
    state_fell (str, str, str): what the order was called, what it is called now, and why; '' for
        an edit just made.
    boat_changed (str): another program has written the boat's file, and what that changes.
    folder_changed: something was written beside the order, as its log.
    settled: what was issued or signed stands; nothing is undone past it.
    """

    draft_changed = Signal()
    proven = Signal(object, object)
    circuit_selected = Signal(str)
    edit_refused = Signal(str)
    previewed = Signal(object)
    changed_on_disk = Signal()
    lock_changed = Signal(str)
    state_fell = Signal(str, str, str)
    boat_changed = Signal(str)
    folder_changed = Signal()
    settled = Signal()

    def __init__(self, path: Path, mend: Edit | None = None) -> None:
        """Open an order.

        Args:
            mend: what makes of it an order that can be drafted; it stands as an unsaved edit.
        """
        super().__init__()
        self.undo_stack = QUndoStack(self)
        self.selected = ""
        self.notice = ""
        self.who = ""  # whose hands are at the bench
        self._store = self._open_store(path)
        self._model, self._draft = self._drafted(self._store, mend)
        if mend:
            self.undo_stack.resetClean()
        self._next: Draft | None = None  # of an edit about to be made
        self._latest: _Change | None = None
        self.shop = self._read_shop()
        self.remedies = Remedies(lambda: (self._draft, self._model), self)
        self._tries = LatestJob(self)
        self._tries.answered.connect(self.previewed)
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(self._file_changed)
        self._watcher.directoryChanged.connect(self._folder_changed)
        self._watch()

    def _open_store(self, path: Path) -> OrderStore:
        """Open a file to work on; to read only where it is shipped or edited elsewhere."""
        store = OrderStore(path, state_folder(), read_only=is_shipped(path))
        told = [borrowed_boat(path, store.order.boat)]
        if store.locked_by:
            told.insert(0, f"Open to read only: {store.locked_by} edits {path.name}.")
        self.notice = " ".join(filter(None, told))
        return store

    @staticmethod
    def _drafted(store: OrderStore, mend: Edit | None) -> tuple[Boat, Draft]:
        try:
            model = read_boat(find_boat(store.path, store.order.boat))
            order = mend[1](store.order) if mend else store.order
            return model, draft(order, model, shipped_catalogue())
        except (DocumentError, DraftError):
            store.close()
            raise

    def _again(self, order: Order, *, checked: bool) -> Draft:
        """Return the draft of an edited order, made from the one that stands."""
        standing, model, path = self._draft, self._model, self.path

        def work() -> Draft:
            if checked:
                parse_order(path, order_text(order))  # what stands can always be read back
            return draft(order, model, standing.catalogue, standing)

        return aside(work)

    def _read_shop(self) -> Shop:
        try:
            return read_shop(self.path.parent)
        except DocumentError as error:
            self.notice = str(error)
            return Shop()

    @property
    def path(self) -> Path:
        """The order's file."""
        return self._store.path

    @property
    def draft(self) -> Draft:
        """The draft that stands."""
        return self._draft

    @property
    def order(self) -> Order:
        """The order that stands."""
        return self._draft.aboard.order

    @property
    def boat(self) -> Boat:
        """The boat as this order has it."""
        return self._draft.aboard.boat

    @property
    def model(self) -> Boat:
        """The boat model before this hull's changes, with the options the hull offers."""
        return offering(self._model, self.order.hull_changes)

    @property
    def due(self) -> datetime.date:
        """Day the harness is due, by the shop's calendar."""
        return due_of(self.order, self.shop)

    @property
    def read_only(self) -> bool:
        """The file may not be written to: shipped data, or edited elsewhere."""
        return not self._store.may_write

    @property
    def locked_by(self) -> str:
        """Who edits the order in another window; '' for nobody."""
        return self._store.locked_by

    @property
    def locked_by_user(self) -> str:
        """The name alone of who edits the order in another window."""
        return self._store.locked_by_user

    def take_over(self) -> None:
        """Take the order from the window that edits it; that one saves elsewhere from now on.

        Raises:
            OSError: the folder cannot be written to.
        """
        self._store.take_over()
        self.lock_changed.emit("")

    @property
    def recovered(self) -> Recovered | None:
        """Edits a crash left behind, while they are neither taken nor dropped."""
        return self._store.recovered

    @property
    def recovered_from_elsewhere(self) -> bool:
        """Recovered edits began from another state of the file than stands now."""
        return self._store.starts_from_elsewhere

    def open(self, path: Path, mend: Edit | None = None) -> None:
        """Open another order in place of this one.

        Args:
            mend: what makes of it an order that can be drafted; it stands as an unsaved edit.

        Raises:
            DocumentError, DraftError: it cannot be taken; this order stays open.
        """
        if self.undo_stack.isClean():
            self._store.discard()  # edits that were all undone
        if path.resolve() == self.path.resolve():
            self._store.close()  # read anew: the next edit locks it again
        store = self._open_store(path)
        model, opened = aside(lambda: self._drafted(store, mend))
        self._store.close()
        self._store, self._model = store, model
        self.selected = ""
        self.undo_stack.clear()
        if mend:
            self.undo_stack.resetClean()
        self.shop = self._read_shop()
        self._watch()
        self._show(opened)
        self.circuit_selected.emit("")

    def recover(self) -> bool:
        """Take back what a crash left behind, as one undoable edit."""
        found = self._store.recovered
        if found is None:
            return False
        taken = self.apply((f"recover {found.edits} unsaved edits", lambda _: found.order))
        if taken:
            self._store.forget_recovered()
        return taken

    def discard_unsaved(self) -> None:
        """Forget this window's journalled edits: nobody wants them."""
        self._store.discard()

    def discard_recovered(self) -> None:
        """Forget the edits that a crash left behind."""
        self._store.forget_recovered()

    def save(self, *, over_changes: bool = False, over_protection: bool = False) -> None:
        """Write the order in place.

        Raises:
            ChangedOnDiskError: another program has written the file; nothing is written.
            ProtectedError: the file's mode forbids it; nothing is written.
            OrderLockedError: another window edits it; nothing is written.
            OSError: the file cannot be written; nothing is lost.
        """
        self._store.save(self.order, over_changes=over_changes, over_protection=over_protection)
        self.undo_stack.setClean()

    def save_as(self, path: Path) -> None:
        """Write the order, and its boat where the folder has none, and go on under that name.

        Raises:
            OSError: a file cannot be written or is open elsewhere; nothing is lost.
        """
        boat_here = path.parent / self.order.boat
        if not boat_here.exists() and not is_shipped(path):
            source = find_boat(self.path, self.order.boat)
            if source.exists():
                shutil.copyfile(source, boat_here)
            else:
                write_boat(boat_here, self._model)
        before = self.path
        self._store = self._store.save_as(path, self.order)
        if path.resolve() != before.resolve():
            carry_log(before, path, (self.order.hull, self.order.hull))
        self.undo_stack.setClean()
        self._watch()

    def apply(self, edit: Edit, *, correcting: bool = False) -> bool:
        """Draft the edited order; push it as one undoable step, or refuse it with a reason.

        Args:
            correcting: the record of a boat that is handed over, or an order nobody works on, is
                corrected, which the log says.
        """
        name, change = edit
        name = one_line(name)
        if self.order.state == "handed_over" and not correcting:
            self.edit_refused.emit(f"Cannot {name}: {HANDED_OVER}")
            return False
        if (stop := self.order.stop) and not correcting:
            self.edit_refused.emit(f"Cannot {name}: the order is {stop.kind}. {TAKE_UP}")
            return False
        if is_waiting():  # whatever asks in between began from what is about to go
            self.edit_refused.emit(f"Cannot {name}: another edit is being drafted")
            return False
        try:
            order = change(self.order)
            self._next = self._again(order, checked=True)
            called, state = order.state, fallen(self._draft, self._next)
            if state != called:
                order = dataclasses.replace(order, state=state)
                self._next = self._again(order, checked=False)
        except (DocumentError, DraftError, LimitError) as error:
            problem = error.problem if not isinstance(error, LimitError) else error
            self.edit_refused.emit(f"Cannot {name}: {problem}")
            return False
        self._latest = _Change(self, name, self.order, order)
        self.undo_stack.push(self._latest)
        if state != called:
            self.state_fell.emit(called, state, "")
        return True

    def lower(self, state: OrderState, why: str) -> None:
        """Take the order back to what its record bears out; one that is shipped is left alone."""
        called = self.order.state
        if not self.read_only and self.apply(set_state(state), correcting=True):
            self.state_fell.emit(called, state, why)

    def take_back(self) -> None:
        """Take back the last edit for good: what belongs to it could not be written."""
        if self._latest is not None:
            self._latest.for_good = True
            self.undo_stack.undo()

    def settle(self) -> None:
        """Save what was just issued or signed; from now on nothing is undone past it.

        What cannot be saved stays an unsaved edit, and is said.
        """
        try:
            if not self.read_only:
                self.save()
        except OSError as error:
            self.edit_refused.emit(f"It stands, but is not saved yet: {error}")
        unsaved, self._latest = not self.undo_stack.isClean(), None
        self.undo_stack.clear()
        if unsaved:
            self.undo_stack.resetClean()
        self.settled.emit()

    def try_edit(self, edit: Edit) -> None:
        """Draft an edit off the GUI thread without making it; the answer comes by ``previewed``."""
        order, model, standing = self.order, self._model, self._draft

        def work() -> Iterator[object]:
            try:
                yield draft(edit[1](order), model, standing.catalogue, standing)
            except DraftError as error:
                yield error
            except LimitError as error:
                yield DraftError("", str(error))

        self._tries.ask(work)

    def select(self, circuit_id: str) -> None:
        """Select a circuit everywhere."""
        if circuit_id != self.selected:
            self.selected = circuit_id
            self.circuit_selected.emit(circuit_id)

    def close(self) -> None:
        """Give the file's lock back and stop what is being tried.

        Its edits go now, one by one: left to the cycle collector, Python's half of an edit may go
        before Qt's half of the list that owns it.
        """
        self._tries.stop()
        self.remedies.stop()
        if self.undo_stack.isClean():
            self._store.discard()
        self.undo_stack.clear()
        self._store.close()

    def _stand(self, order: Order, name: str) -> None:
        standing, self._next = self._next, None
        if standing is None or standing.aboard.order is not order:
            standing = self._again(order, checked=False)
        before = self.locked_by
        try:
            self._store.commit(name, order)
        except OSError as error:
            self.edit_refused.emit(f"The journal cannot be written ({error}): save soon.")
        if self.locked_by != before:
            self.lock_changed.emit(self.locked_by)
        self._show(standing)

    def _show(self, standing: Draft) -> None:
        self._draft = standing
        self.draft_changed.emit()

    def _watch(self) -> None:
        if watched := [*self._watcher.files(), *self._watcher.directories()]:
            self._watcher.removePaths(watched)
        paths = [self.path, self.path.resolve().parent]
        if self._boat_file.exists():
            paths.append(self._boat_file)
        self._watcher.addPaths([str(path) for path in paths])

    @property
    def _boat_file(self) -> Path:
        return self.path.parent / self.order.boat

    def _folder_changed(self) -> None:
        """Tell whether another window has begun to edit the order, or has given it back."""
        if self._store.looked_again():
            self.lock_changed.emit(self.locked_by)
        self.folder_changed.emit()

    def _file_changed(self, path: str) -> None:
        if is_waiting():
            QTimer.singleShot(AGAIN_MS, self, lambda: self._file_changed(path))
            return
        self._watch()  # a file that was replaced is no longer watched
        if Path(path) == self._boat_file:
            self._take_boat()
        elif self._store.changed_on_disk:
            self.changed_on_disk.emit()

    def _take_boat(self) -> None:
        """Draft on the boat as its file is now, and say what that changes."""
        name, before, path = self._boat_file.name, self._draft, self._boat_file
        if not path.exists():
            told = "is gone: the boat as it was read stands. Put it back before the order is shut."
            self.boat_changed.emit(f"{name} {told}")
            return
        try:
            model = read_boat(path)
            if model == self._model:
                return
            made = aside(lambda: draft(self.order, model, before.catalogue, before))
        except (DocumentError, DraftError) as error:
            told = f"was changed and cannot be taken: {error.problem}. The boat as it was stands."
            self.boat_changed.emit(f"{name} {told}")
            return
        self._model = model
        state = fallen(before, made)
        self._show(made)
        changed = effect_words(effect(before, made))
        self.boat_changed.emit(f"{name} was changed by another program: {changed}.")
        if state != self.order.state:
            self.lower(state, f"{name} was changed")
