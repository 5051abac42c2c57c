"""Where else a branch may hang, and what copper that saves the boat."""

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from vivid_loom.boat import Boat
from vivid_loom.desktop.why.ways_out import WaysOutDialog
from vivid_loom.desktop.widgets.text_table import Cell
from vivid_loom.drafting import Draft
from vivid_loom.workshop.effects import figures_of
from vivid_loom.workshop.moves import Move, costly, moves

__all__ = ["MovesDialog"]


class MovesDialog(WaysOutDialog):
    """Signals:

    edit_asked (object): the ``Edit`` of the picked move.
    """

    edit_asked = Signal(object)
    columns = ("instead", "copper saved", "wire saved", "against it")
    take_words = "Hang it so"
    none_may = "Nothing that may be done saves the boat copper."

    def __init__(
        self, draft: Draft, model: Boat, circuit_id: str, parent: QWidget | None = None
    ) -> None:
        row = draft.circuit(circuit_id)
        name = row.planned.label if row else circuit_id
        decides = (
            "Feeders are thicker for its drop alone. "
            if circuit_id in costly(draft)
            else "No feeder is thicker for its drop alone. "
        )
        kg = figures_of(draft).copper_kg
        head = (
            f"{circuit_id} {name}. {decides}The boat takes {kg:.1f} kg of copper. "
            "Each other way to hang it is drafted whole; those that save are listed."
        )
        super().__init__("Hang it elsewhere", head, "less copper", parent)
        self._currency = draft.catalogue.currency
        self.ask(partial(moves, draft, model, circuit_id))

    def allowed(self, way: Move) -> bool:
        return not way.verdict

    def cells(self, way: Move) -> tuple[Cell, ...]:
        return (
            Cell(way.words, bold=not way.verdict),
            Cell(f"{way.saved_kg:.2f} kg"),
            Cell(f"{way.saved_price:.2f} {self._currency}".replace("-", "−")),
            Cell(way.verdict or "nothing", "alarm" if way.verdict else ""),
        )

    def record(self, way: Move, reason: str, initials: str) -> None:
        self.edit_asked.emit(way.make(reason, initials))
