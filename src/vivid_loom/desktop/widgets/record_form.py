"""A form over any record: every field has its editor, and the record's own limits judge it."""

import dataclasses
import types
from collections.abc import Callable, Mapping, Sequence
from typing import Annotated, Any, Literal, NamedTuple, Union, get_args, get_origin, get_type_hints

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QGroupBox,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.desktop.widgets.controls import button, scrolled, small, typed
from vivid_loom.quantities import LimitError

__all__ = ["RecordDialog", "RecordForm", "Words"]

Offer = Sequence[tuple[str, str]]
"""What a field may hold: (value, words)."""


class Words(NamedTuple):
    """How a form speaks of a record.

    Attributes:
        labels: by field; units stand in them.
        values: words for the values of fields that hold one of a few.
        offers: what fields that name something else may hold, as it stands aboard.
        fresh: makes a new record for a list in a record, by its field.
        fixed: fields that are shown and cannot be changed.
        shown: tells by the form's values so far whether a field matters.
        left_out: fields that are changed elsewhere.
    """

    labels: Mapping[str, str]
    values: Mapping[str, str]
    offers: Mapping[str, Offer]
    fresh: Mapping[str, Callable[[], Any]]
    fixed: frozenset[str] = frozenset()
    shown: Callable[[str, Mapping[str, Any]], bool] = lambda field, values: True
    left_out: frozenset[str] = frozenset()


class _Hint(NamedTuple):
    """What a field's type says: 'one of', number, text, yes or no, record, records, names, pairs.

    Attributes:
        record: of records, or what both of a pair are.
    """

    kind: type | str
    optional: bool
    choices: tuple[str, ...] = ()
    record: type | None = None


def _hint(annotation: Any) -> _Hint:
    optional = False
    while True:
        origin = get_origin(annotation)
        if origin is Annotated:
            annotation = get_args(annotation)[0]
        elif origin in (Union, types.UnionType):
            inner = [a for a in get_args(annotation) if a is not type(None)]
            optional = len(inner) < len(get_args(annotation))
            annotation = inner[0]
        else:
            break
    if get_origin(annotation) is Literal:
        return _Hint("one of", optional, tuple(str(value) for value in get_args(annotation)))
    if dataclasses.is_dataclass(annotation):
        return _Hint("record", optional, record=annotation)  # type: ignore[arg-type]
    if get_origin(annotation) is tuple:
        held = get_args(annotation)[0]
        if get_origin(held) is tuple:
            return _Hint("pairs", False, record=get_args(held)[0])
        inside = _hint(held)
        if inside.kind == "record":
            return _Hint("records", False, record=inside.record)
        return _Hint("names", False)
    return _Hint(annotation, optional)


class RecordForm(QWidget):
    """One row a field; ``record`` reads them back."""

    def __init__(self, value: Any, words: Words, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._value, self._words = value, words
        hints = get_type_hints(type(value), include_extras=True)
        names = [f.name for f in dataclasses.fields(value) if f.name not in words.left_out]
        self._hints = {name: _hint(hints[name]) for name in names}
        self.fields: dict[str, QWidget] = {}
        self._form = QFormLayout(self)
        self._form.setContentsMargins(0, 0, 0, 0)
        for name in self._hints:
            self._add(name, getattr(value, name))
        self._show_rows()

    def _add(self, name: str, value: Any) -> None:
        label = self._words.labels.get(name, name.replace("_", " ").capitalize())
        widget = self._editor(name, value)
        widget.setAccessibleName(label)
        widget.setEnabled(name not in self._words.fixed)
        self.fields[name] = widget
        self._form.addRow(label, widget)

    def _editor(self, name: str, value: Any) -> QWidget:
        hint = self._hints[name]
        if hint.kind == "records":
            return RecordList(value, self._words, self._words.fresh[name])
        if hint.kind == "record":
            held = () if value is None else (value,)
            fresh = self._words.fresh.get(name, lambda: value)
            return RecordList(held, self._words, fresh, most=1, least=0 if hint.optional else 1)
        if hint.kind == "names":
            return _names(self._words.offers[name], value)
        if name in self._words.offers or hint.kind == "one of":
            return self._combo(name, value)
        if hint.kind is bool:
            box = QCheckBox()
            box.setChecked(value)
            return box
        if hint.kind == "pairs":
            value = "; ".join(" ".join(map(self._shown, pair)) for pair in value)
        field = QLineEdit("" if value is None else self._shown(value))
        if hint.optional:
            field.setPlaceholderText("not known")
        elif name == "id":
            field.setPlaceholderText("numbered by itself")
        return field

    @staticmethod
    def _shown(value: Any) -> str:
        return f"{value:g}" if isinstance(value, float) else str(value)

    def _combo(self, name: str, value: Any) -> QComboBox:
        hint = self._hints[name]
        box = QComboBox()
        if hint.optional:
            box.addItem(self._words.values.get(f"no {name}", "none"), None)
        offered = self._words.offers.get(name) or [
            (choice, self._words.values.get(choice, choice)) for choice in hint.choices
        ]
        for choice, words in offered:
            box.addItem(words, choice)
        if value is not None and box.findData(value) < 0:
            box.addItem(str(value), value)
        box.setCurrentIndex(max(0, box.findData(value)))
        box.currentIndexChanged.connect(self._show_rows)
        return box

    def _show_rows(self) -> None:
        values = {
            name: widget.currentData()
            for name, widget in self.fields.items()
            if isinstance(widget, QComboBox)
        }
        for name, widget in self.fields.items():
            self._form.setRowVisible(widget, self._words.shown(name, values))

    def record(self) -> Any:
        """Return the record as it stands in the form.

        Raises:
            ValueError: a field that cannot stand, in words.
        """
        fields = {name: self._read(name) for name in self.fields}
        try:
            return dataclasses.replace(self._value, **fields)
        except LimitError as error:
            label = self._words.labels.get(error.field, error.field)
            raise ValueError(f"{label}: found {error.found}, expected {error.expected}") from error

    def _read(self, name: str) -> Any:
        widget, hint = self.fields[name], self._hints[name]
        if isinstance(widget, RecordList):
            records = widget.records()
            if hint.kind == "record":
                return records[0] if records else None
            return records
        if isinstance(widget, QListWidget):
            rows = [widget.item(i) for i in range(widget.count())]
            return tuple(
                row.data(Qt.ItemDataRole.UserRole)
                for row in rows
                if row.checkState() == Qt.CheckState.Checked
            )
        if isinstance(widget, QComboBox):
            return widget.currentData()
        if isinstance(widget, QCheckBox):
            return widget.isChecked()
        assert isinstance(widget, QLineEdit)
        text = typed(widget)
        if not text and hint.optional:
            return None
        if hint.kind == "pairs":
            return self._pairs(name, text)
        if hint.kind in (float, int):
            return self._number(name, text)
        return text

    def _pairs(self, name: str, text: str) -> tuple[tuple[Any, ...], ...]:
        """Read 'a b; c d'."""
        found: list[tuple[Any, ...]] = []
        for part in filter(None, (p.strip() for p in text.split(";"))):
            cells = part.split()
            try:
                whole = [float(c.replace(",", ".")) for c in cells]
            except ValueError:
                whole = []
            numbers = self._hints[name].record is float
            if len(cells) != 2 or (numbers and not whole):
                label = self._words.labels.get(name, name)
                wanted = "two numbers" if numbers else "two ids"
                raise ValueError(f"{label}: found {part!r}, expected {wanted}, then ;")
            found.append(tuple(whole if numbers else cells))
        return tuple(found)

    def _number(self, name: str, text: str) -> float | int:
        whole = self._hints[name].kind is int
        try:
            return int(text) if whole else float(text.replace(",", "."))
        except ValueError as error:
            label = self._words.labels.get(name, name)
            wanted = "a whole number" if whole else "a number"
            raise ValueError(f"{label}: found {text or 'nothing'}, expected {wanted}") from error


class RecordList(QWidget):
    """Several records of one kind under one another, to add to and take from."""

    def __init__(
        self,
        values: Sequence[Any],
        words: Words,
        fresh: Callable[[], Any],
        *,
        most: int = 99,
        least: int = 0,
    ) -> None:
        super().__init__()
        self._words, self._fresh, self._most, self._least = words, fresh, most, least
        self.forms: list[RecordForm] = []
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self.more = button("Add one more", self.add)
        self._layout.addWidget(self.more)
        for value in values:
            self._put(value)

    def add(self) -> None:
        """Add one more."""
        self._put(self._fresh())

    def _put(self, value: Any) -> None:
        form = RecordForm(value, self._words)
        frame = QGroupBox()
        inside = QVBoxLayout(frame)
        inside.addWidget(form)
        if self._least < self._most and not (self._least and self._most == 1):
            inside.addWidget(button("Take away", lambda: self._take(form, frame)))
        self.forms.append(form)
        self._layout.insertWidget(self._layout.count() - 1, frame)
        self.more.setVisible(len(self.forms) < self._most)

    def _take(self, form: RecordForm, frame: QGroupBox) -> None:
        self.forms.remove(form)
        self.more.setVisible(len(self.forms) < self._most)
        frame.hide()
        frame.deleteLater()

    def records(self) -> tuple[Any, ...]:
        """Return the records as they stand."""
        return tuple(form.record() for form in self.forms)


def _names(offer: Offer, chosen: Sequence[str]) -> QListWidget:
    """Return a list to tick names in."""
    found = QListWidget()
    found.setMaximumHeight(120)
    for value, words in offer:
        item = QListWidgetItem(words)
        item.setData(Qt.ItemDataRole.UserRole, value)
        item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
        ticked = Qt.CheckState.Checked if value in chosen else Qt.CheckState.Unchecked
        item.setCheckState(ticked)
        found.addItem(item)
    return found


class RecordDialog(QDialog):
    """A record to change; it stays open until its answers can stand.

    ``answer`` is the record once it was accepted. ``templates`` are parts as bought, by name: one
    that is picked fills in what it has, and leaves the rest as it was typed.
    """

    def __init__(
        self,
        title: str,
        value: Any,
        words: Words,
        *,
        check: Callable[[Any], str] = lambda record: "",
        templates: Sequence[tuple[str, Callable[[Any], Any]]] = (),
        taking: str = "Fit it",
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.resize(620, 640)
        self.answer: Any = None
        self._check, self._value, self._spoken = check, value, words
        self.templates = QComboBox()
        self.templates.setAccessibleName("From the catalogue")
        self.templates.addItem("From the catalogue…")
        for name, fill in templates:
            self.templates.addItem(name, fill)
        self.templates.setVisible(bool(templates))
        self.templates.currentIndexChanged.connect(self._fill_in)
        self.form = RecordForm(value, words)
        self.problem = small("")
        self.problem.hide()
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        buttons.button(QDialogButtonBox.StandardButton.Ok).setText(taking)
        buttons.accepted.connect(self._accept)
        buttons.rejected.connect(self.reject)
        inner = QWidget()
        self._inside = QVBoxLayout(inner)
        self._inside.addWidget(self.form)
        self._inside.addStretch(1)
        layout = QVBoxLayout(self)
        layout.addWidget(self.templates)
        layout.addWidget(scrolled(inner), 1)
        layout.addWidget(self.problem)
        layout.addWidget(buttons)

    def _fill_in(self) -> None:
        """Fill the form with a part as bought; what it does not say stays."""
        fill = self.templates.currentData()
        if fill is None:
            return
        try:
            standing = self.form.record()
        except ValueError:
            standing = self._value
        old, self.form = self.form, RecordForm(fill(standing), self._spoken)
        self._inside.replaceWidget(old, self.form)
        old.deleteLater()

    def _accept(self) -> None:
        try:
            record = self.form.record()
            if problem := self._check(record):
                raise ValueError(problem)
        except ValueError as error:
            self.problem.setText(str(error))
            self.problem.show()
            return
        self.answer = record
        self.accept()
