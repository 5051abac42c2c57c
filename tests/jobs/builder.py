"""A builder of whole boats: asks for a new boat and its order, then takes loads one by one."""

from collections.abc import Callable, Mapping
from pathlib import Path
from types import MappingProxyType
from typing import Any, NamedTuple

import pytest
from PySide6.QtWidgets import QComboBox, QDialog

from tests.desktop.hand import Answer, Hand
from vivid_loom.desktop.frame.window import LOADS, MainWindow
from vivid_loom.desktop.loads.catalogue_dialog import CatalogueDialog
from vivid_loom.desktop.order.new_boat import BoatDialog
from vivid_loom.desktop.order.new_order import OrderDialog

__all__ = ["Builder", "Job", "Take"]

ASKED = "vivid_loom.desktop.frame.file_actions.QFileDialog.getSaveFileName"


class Take(NamedTuple):
    """A load of the catalogue.

    Attributes:
        way: how it is fed; '' as the catalogue proposes.
        count: lamps of a kind that share a switch.
        sheet: what is looked up and put into its sheet, a step more.
    """

    words: str
    station: str
    way: str = ""
    count: int = 1
    sheet: Mapping[str, str] = MappingProxyType({})


class Job(NamedTuple):
    """A boat as somebody asks for it.

    Attributes:
        boat: what is answered in the dialog of a new boat, all else as it stands there.
        first: what is done to its supply before loads come aboard.
        steps: dialogs taken and edits made, from nothing to a boat without an error.
    """

    name: str
    boat: Mapping[str, Any]
    loads: tuple[Take, ...]
    steps: int
    first: Callable[["Builder"], None] | None = None


class Builder(Hand):
    """A hand that begins with a boat of its own."""

    def __init__(self, window: MainWindow, answer: Answer, asked: pytest.MonkeyPatch) -> None:
        super().__init__(window, answer)
        self.asked = asked

    def boat(self, folder: Path, fields: Mapping[str, Any]) -> None:
        """Make a new boat and the first order on it: two steps."""
        path = folder / "job.boat.json"
        self.asked.setattr(ASKED, lambda *_: (str(path), ""))

        def order(dialog: QDialog) -> None:
            assert isinstance(dialog, OrderDialog)
            assert dialog.boat.currentData() == path.name
            dialog.hull.setText("1")
            dialog.title.setText("Job")
            dialog.where.setText(str(folder))
            dialog._accept()

        def make(dialog: QDialog) -> None:
            assert isinstance(dialog, BoatDialog)
            for name, value in fields.items():
                _set(getattr(dialog, name), value)
            assert dialog.take.isEnabled(), dialog.problem.text()
            self.answer(order)
            dialog.accept()

        self.answer(make)
        self.window.files.new_boat()
        self.steps += 2
        assert self.window.session.model.name == fields.get("name", "New boat")

    def take(self, item: Take) -> str:
        """Bring a load of the catalogue aboard; return the id of the first that came."""
        before = set(self.window.session.draft.aboard.loads)
        self.window.open_stage(LOADS)

        def pick(dialog: QDialog) -> None:
            assert isinstance(dialog, CatalogueDialog)
            dialog.search.setText(item.words)
            assert dialog.chosen is not None, item.words
            dialog.count.setValue(item.count)
            place = dialog.place.findData(item.station)
            assert place >= 0, item
            dialog.place.setCurrentIndex(place)
            if item.way:
                assert dialog.feeding.findText(item.way) >= 0, item
                dialog.feeding.setCurrentText(item.way)
            dialog.accept()

        self.answer(pick)
        self.loads.hands.add_from_catalogue()
        self.steps += 1
        made = sorted(set(self.window.session.draft.aboard.loads) - before)[0]
        if item.sheet:
            self.fill(self.at(made).ask_load, **item.sheet)
        return made


def _set(field: Any, value: Any) -> None:
    """Answer a question of a dialog as a hand would."""
    if isinstance(field, QComboBox):
        index = field.findData(value)
        index = field.findText(str(value)) if index < 0 else index
        assert index >= 0 or isinstance(value, int), value
        field.setCurrentIndex(value if index < 0 else index)
    elif isinstance(value, bool):
        field.setChecked(value)
    elif isinstance(value, str):
        field.setText(value)
    else:
        field.setValue(value)
