"""What may go in for a device that is not to be had, and why the rest may not."""

import datetime
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from vivid_loom.boat import Boat
from vivid_loom.desktop.why.ways_out import WaysOutDialog
from vivid_loom.desktop.widgets.text_table import Cell
from vivid_loom.drafting import Draft
from vivid_loom.order import Override
from vivid_loom.workshop.substitutes import Stock, Substitute, missing, substitutes

__all__ = ["StockDialog"]


class StockDialog(WaysOutDialog):
    """Signals:

    override_asked (object): an ``Override`` that records the substitution.
    """

    override_asked = Signal(object)
    columns = ("instead", "", "why")
    take_words = "Record substitution"
    none_may = "Blocked: nothing in stock may go in."

    def __init__(
        self,
        draft: Draft,
        model: Boat,
        circuit_id: str,
        stock: Stock,
        parent: QWidget | None = None,
    ) -> None:
        row = draft.circuit(circuit_id)
        held = row.sized.protection if row and row.sized else None
        asked = f"{held.value:g} A {row.planned.family}" if row and held else "no device"
        here = circuit_id not in {r.id for r in missing(draft, stock)}
        told = "is in stock" if here else "is not in stock"
        head = (
            f"{circuit_id} asks for {asked}, which {told}. Each way out is "
            "drafted and held against every rule."
        )
        super().__init__("Another device", head, f"{asked} out of stock", parent)
        self._circuit = circuit_id
        self.ask(partial(substitutes, draft, model, circuit_id, stock))

    def allowed(self, way: Substitute) -> bool:
        return way.allowed

    def cells(self, way: Substitute) -> tuple[Cell, ...]:
        may = "may go in" if way.allowed else "refused"
        return (
            Cell(way.words, bold=way.allowed),
            Cell(may, "" if way.allowed else "alarm"),
            Cell(way.verdict),
        )

    def record(self, way: Substitute, reason: str, initials: str) -> None:
        self.override_asked.emit(
            Override(
                subject=self._circuit,
                field=way.field,
                value=way.value,
                reason=reason,
                initials=initials,
                time=datetime.datetime.now().isoformat(timespec="minutes"),
                kind="substitution",
            )
        )
