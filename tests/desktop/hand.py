"""A hand that works in the window: fills dialogs in, and counts its steps."""

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QDialog, QLineEdit, QListWidget

from vivid_loom.desktop.frame.window import LOADS, SUPPLY, MainWindow
from vivid_loom.desktop.loads.catalogue_dialog import CatalogueDialog
from vivid_loom.desktop.loads.feed_dialog import FeedDialog
from vivid_loom.desktop.supply.stage import SupplyStage
from vivid_loom.desktop.widgets.record_form import RecordDialog, RecordForm, RecordList

__all__ = ["Answer", "Hand", "errors", "feeding", "filling", "put"]

Answer = Callable[[Callable[[QDialog], None]], list[str]]


def put(form: RecordForm, **values: Any) -> None:
    """Fill a form in as a hand would: by what stands in its fields."""
    for name, value in values.items():
        field = form.fields[name]
        if isinstance(field, QComboBox):
            assert field.findData(value) >= 0, (name, value)
            field.setCurrentIndex(field.findData(value))
        elif isinstance(field, QLineEdit):
            field.setText(str(value))
        elif isinstance(field, QListWidget):
            for i in range(field.count()):
                ticked = field.item(i).data(Qt.ItemDataRole.UserRole) in value
                state = Qt.CheckState.Checked if ticked else Qt.CheckState.Unchecked
                field.item(i).setCheckState(state)
        elif isinstance(field, RecordList):
            while len(field.forms) < len(value):
                field.add()
            for inner, fields in zip(field.forms, value, strict=True):
                put(inner, **fields)
        else:
            field.setChecked(value)  # type: ignore[attr-defined]


def filling(**values: Any) -> Callable[[QDialog], None]:
    """Return what fills a record's dialog in and takes it."""

    def act(dialog: QDialog) -> None:
        assert isinstance(dialog, RecordDialog)
        put(dialog.form, **values)
        dialog._accept()
        assert dialog.answer is not None, dialog.problem.text()

    return act


def feeding(way: str, instrument: str = "") -> Callable[[QDialog], None]:
    """Return what picks a way in the feed dialog."""

    def pick(dialog: QDialog) -> None:
        assert isinstance(dialog, FeedDialog)
        (item,) = dialog.ways.findItems(way, Qt.MatchFlag.MatchExactly)
        dialog.ways.setCurrentItem(item)
        if instrument:
            dialog.instrument.setCurrentIndex(dialog.instrument.findData(instrument))
        dialog.accept()

    return pick


class Hand:
    """Works in the window and counts its steps: a dialog taken, an edit made."""

    def __init__(self, window: MainWindow, answer: Answer) -> None:
        self.window, self.answer, self.steps = window, answer, 0
        window.open_stage(SUPPLY)
        view = window.views[SUPPLY]
        assert isinstance(view, SupplyStage)
        self.supply = view

    def fill(self, do: Callable[[], object], **fields: Any) -> None:
        self.answer(filling(**fields))
        do()
        self.steps += 1

    def part(self, on: tuple[str, str], **fields: Any) -> None:
        self.supply.view.select(*on)
        self.fill(self.supply.hands.ask_part, **fields)

    def load(self, words: str, station: str, way: str, called: str = "") -> str:
        """Add a generic load by the catalogue's dialog; return its id."""
        before = set(self.window.session.draft.aboard.loads)
        self.window.open_stage(LOADS)

        def pick(dialog: QDialog) -> None:
            assert isinstance(dialog, CatalogueDialog)
            dialog.search.setText(words)
            assert dialog.chosen is not None, words
            if called:
                dialog.name.setText(called)
            dialog.place.setCurrentIndex(dialog.place.findData(station))
            assert dialog.feeding.findText(way) >= 0, way
            dialog.feeding.setCurrentText(way)
            dialog.accept()

        self.answer(pick)
        self.loads.hands.add_from_catalogue()
        self.steps += 1
        (made,) = set(self.window.session.draft.aboard.loads) - before
        return made

    @property
    def loads(self) -> Any:
        """The Loads stage."""
        self.window.open_stage(LOADS)
        return self.window.view

    def at(self, load: str) -> Any:
        """Select a load; return what the stage's buttons do."""
        self.loads.select_loads((load,))
        return self.loads.hands

    def feed(self, load: str, way: str, instrument: str = "") -> None:
        """Feed a load otherwise."""
        do = self.at(load)
        self.answer(feeding(way, instrument))
        do.ask_feed()
        self.steps += 1


def errors(window: MainWindow) -> list[str]:
    return [f.sentence() for f in window.session.draft.findings if f.severity == "error"]
