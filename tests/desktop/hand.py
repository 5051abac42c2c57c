"""A hand that works in the window: fills dialogs in, and counts its steps."""

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QComboBox, QDialog, QLineEdit, QListWidget, QPushButton

from vivid_loom.desktop.frame.window import LOADS, ORDER, RUNS, SUPPLY, MainWindow
from vivid_loom.desktop.loads.catalogue_dialog import CatalogueDialog
from vivid_loom.desktop.loads.feed_dialog import FeedDialog
from vivid_loom.desktop.loads.import_dialog import ImportDialog
from vivid_loom.desktop.runs.dialogs import NewRunDialog, RunDialog
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
            while len(field.forms) > len(value):
                (away,) = (
                    b
                    for b in field.forms[-1].parentWidget().findChildren(QPushButton)
                    if b.text() == "Take away"
                    and b.parentWidget() is field.forms[-1].parentWidget()
                )
                away.click()
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
        aboard = self.window.session.draft.aboard
        coils = {switch.coil for switch in aboard.switches.values()}
        (made,) = set(aboard.loads) - before - coils
        return made

    @property
    def loads(self) -> Any:
        """The Loads stage."""
        self.window.open_stage(LOADS)
        return self.window.view

    def lamps(self, words: str, station: str, count: int) -> tuple[str, ...]:
        """Add several of a kind on one switch; return their ids."""
        before = set(self.window.session.draft.aboard.loads)

        def pick(dialog: QDialog) -> None:
            assert isinstance(dialog, CatalogueDialog)
            dialog.search.setText(words)
            dialog.count.setValue(count)
            dialog.place.setCurrentIndex(dialog.place.findData(station))
            dialog.feeding.setCurrentText("helm switch")
            dialog.accept()

        do = self.loads.hands
        self.answer(pick)
        do.add_from_catalogue()
        self.steps += 1
        return tuple(sorted(set(self.window.session.draft.aboard.loads) - before))

    def choose(self, field: str, value: object) -> None:
        """Answer a question of the profile on the Order stage."""
        self.window.open_stage(ORDER)
        combo = self.window.view.profile.combos[field]
        index = combo.findData(value)
        assert index >= 0, (field, value)
        combo.setCurrentIndex(index)
        combo.activated.emit(index)
        self.steps += 1

    def harness(self, run: str, name: str) -> None:
        """Give a run to another harness, by its dialog."""
        self.window.open_stage(RUNS)
        view: Any = self.window.view
        view.view.select(run=run)

        def pick(dialog: QDialog) -> None:
            assert isinstance(dialog, RunDialog)
            assert dialog.harness.findData(name) >= 0
            dialog.harness.setCurrentIndex(dialog.harness.findData(name))
            dialog.accept()

        self.answer(pick)
        view.hands.ask_measure()
        self.steps += 1

    def lay(self, start: str, end: str, harness: str) -> None:
        """Lay a new run between two stations."""
        self.window.open_stage(RUNS)
        view: Any = self.window.view

        def pick(dialog: QDialog) -> None:
            assert isinstance(dialog, NewRunDialog)
            for combo, data in zip(
                (*dialog.ends, dialog.harness), (start, end, harness), strict=True
            ):
                combo.setCurrentIndex(combo.findData(data))
            dialog.accept()

        self.answer(pick)
        view.hands.ask_new_run()
        self.steps += 1

    def paste(self, sheet: str, source: str, place: str) -> None:
        """Paste a load list and feed it from a part."""
        QGuiApplication.clipboard().setText(sheet)

        def pick(dialog: QDialog) -> None:
            assert isinstance(dialog, ImportDialog)
            for combo, data in ((dialog.source, source), (dialog.place, place)):
                combo.setCurrentIndex(combo.findData(data))
            dialog.accept()

        do = self.loads.hands
        self.answer(pick)
        do.paste()
        self.steps += 1

    def roles(self) -> None:
        """Take what the names of loads say they are."""
        do = self.loads.hands
        self.answer(lambda dialog: dialog.accept())
        do.ask_roles()
        self.steps += 1

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
