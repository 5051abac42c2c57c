"""One open order: its undo list, its current draft, what is selected."""

from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QUndoCommand, QUndoStack

from vivid_loom.boat import Boat, read_boat, write_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER, find_boat
from vivid_loom.drafting import Draft, DraftError, draft
from vivid_loom.order import Edit, Order, read_order, write_order

__all__ = ["Session"]


class _Change(QUndoCommand):
    """An edit as one undoable step: the order before and after, with its draft."""

    def __init__(self, session: "Session", name: str, before: Draft, after: Draft) -> None:
        super().__init__(name)
        self._session, self._before, self._after = session, before, after

    def redo(self) -> None:
        self._session._show(self._after)

    def undo(self) -> None:
        self._session._show(self._before)


class Session(QObject):
    """Signals:

    draft_changed: a new draft stands.
    circuit_selected (str): circuit id, '' for none.
    edit_refused (str): why an edit cannot stand; nothing has changed.
    """

    draft_changed = Signal()
    circuit_selected = Signal(str)
    edit_refused = Signal(str)

    def __init__(self, path: Path) -> None:
        super().__init__()
        self.undo_stack = QUndoStack(self)
        self.path = path
        self.selected = ""
        self._draft = self._read(path)

    @staticmethod
    def _read(path: Path) -> Draft:
        order = read_order(path)
        boat = read_boat(find_boat(path, order.boat))
        return draft(order, boat, shipped_catalogue())

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
        """The boat of this order."""
        return self._draft.aboard.boat

    @property
    def is_demo(self) -> bool:
        """Shipped data is never written to."""
        return self.path.resolve().parent == DEMO_FOLDER.resolve()

    def open(self, path: Path) -> None:
        """Open another order in place of this one.

        Raises:
            DocumentError, DraftError: it cannot be taken; this order stays open.
        """
        opened = self._read(path)
        self.path = path
        self.selected = ""
        self.undo_stack.clear()
        self._show(opened)
        self.circuit_selected.emit("")

    def save(self, path: Path) -> None:
        """Write the order, atomically, and go on under that name.

        Raises:
            OSError: the file cannot be written; nothing is lost.
        """
        if not find_boat(path, self.order.boat).exists():
            write_boat(path.parent / self.order.boat, self.boat)
        write_order(path, self.order)
        self.path = path
        self.undo_stack.setClean()

    def apply(self, edit: Edit) -> bool:
        """Draft the edited order; push it as one undoable step, or refuse it with a reason."""
        name, change = edit
        try:
            after = draft(change(self.order), self.boat, self._draft.catalogue)
        except DraftError as error:
            self.edit_refused.emit(f"Cannot {name}: {error.problem}")
            return False
        self.undo_stack.push(_Change(self, name, self._draft, after))
        return True

    def select(self, circuit_id: str) -> None:
        """Select a circuit everywhere."""
        if circuit_id != self.selected:
            self.selected = circuit_id
            self.circuit_selected.emit(circuit_id)

    def _show(self, standing: Draft) -> None:
        self._draft = standing
        self.draft_changed.emit()
