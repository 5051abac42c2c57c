"""The model's options: what each adds, removes, forbids and requires, and what it changes."""

from collections.abc import Iterator, Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from vivid_loom.boat import Boat, Option
from vivid_loom.desktop.widgets.button_row import ButtonRow, Deed
from vivid_loom.desktop.widgets.controls import heading, scrolled, small
from vivid_loom.desktop.widgets.plain import PlainLabel, plain
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.drafting import Draft, DraftError, draft, option_problem
from vivid_loom.order import Edit, choose_options, drop_option
from vivid_loom.workshop.effects import effect, effect_words

__all__ = ["OrderOptions", "effect_text", "toggled", "with_required"]


def effect_text(option: Option, names: dict[str, str]) -> str:
    """Say what an option adds, removes, requires and excludes."""
    parts: list[str] = []
    if option.adds.loads:
        parts.append("adds " + ", ".join(load.name for load in option.adds.loads))
    legends = [switch.legend for switch in option.adds.switches if not switch.station]
    if legends:
        parts.append(f"takes helm position {', '.join(legends)}")
    if option.joins:
        parts.append("joins " + ", ".join(sorted({circuit for circuit, _ in option.joins})))
    if option.removes:
        parts.append("removes " + ", ".join(option.removes))
    if option.requires:
        parts.append("requires " + ", ".join(names.get(o, o) for o in option.requires))
    if option.excludes:
        parts.append("excludes " + ", ".join(names.get(o, o) for o in option.excludes))
    return "; ".join(parts)


def with_required(options: Sequence[Option], option_id: str) -> set[str]:
    """Return an option with everything it requires, and what that requires."""
    by_id = {option.id: option for option in options}
    wanted: set[str] = set()
    waiting = [option_id]
    while waiting:
        name = waiting.pop()
        if name not in wanted and name in by_id:
            wanted.add(name)
            waiting += by_id[name].requires
    return wanted


def _conflict(boat: Boat, option_id: str, chosen: Sequence[str]) -> str | None:
    """Return why an option cannot be ticked now, by the names a customer knows."""
    wanted = with_required(boat.options, option_id)
    names = {option.id: option.name for option in boat.options}
    for option in boat.options:
        for other in option.excludes:
            pairs = ((option.id, other), (other, option.id))
            clash = next((b for a, b in pairs if a in wanted and b in chosen), None)
            if clash:
                return f"Not together with {names.get(clash, clash)}, which is chosen."
    problem = option_problem(boat, sorted({*chosen, *wanted}))
    return f"Cannot stand: {problem}." if problem else None


def toggled(boat: Boat, option: Option, on: bool) -> Edit:
    """Return the edit that ticks an option with all it requires, or unticks it."""
    if on:
        return choose_options(with_required(boat.options, option.id), option.name)
    return drop_option(option.id, option.name)


class _Row(QWidget):
    """One option: its tick, what it is, and what ticking or unticking would change."""

    def __init__(self, option: Option, names: dict[str, str]) -> None:
        super().__init__()
        self.box = QCheckBox(option.name)
        self.box.setObjectName(f"option_{option.id}")
        self.effect = PlainLabel("…")
        self.effect.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 2, 0, 8)
        layout.setSpacing(2)
        layout.addWidget(self.box)
        layout.addWidget(small(f"{option.text} It {effect_text(option, names)}."))
        layout.addWidget(self.effect)


class OrderOptions(QWidget):
    """Signals:

    option_toggled (str, bool): an option was ticked or unticked.
    new_asked, change_asked: an option is to be made, or said otherwise.
    """

    option_toggled = Signal(str, bool)
    new_asked = Signal()
    change_asked = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._offered: tuple[Option, ...] | None = None
        self._draft: Draft | None = None
        self._model: Boat | None = None
        self._stale = True
        self.rows: dict[str, _Row] = {}
        self.job = LatestJob(self)
        inner = QWidget()
        self._columns = (QVBoxLayout(), QVBoxLayout())
        across = QVBoxLayout(inner)
        across.setContentsMargins(0, 0, 6, 0)
        pair = QWidget()
        across.addWidget(pair)
        across.addStretch(1)
        both = QHBoxLayout(pair)
        both.setContentsMargins(0, 0, 0, 0)
        both.setSpacing(28)
        for column in self._columns:
            column.setSpacing(0)
            both.addLayout(column, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 8, 0, 0)
        layout.addWidget(scrolled(inner), 1)
        deeds = (
            Deed("Make an option…", self.new_asked.emit, "Of what this order adds of its own"),
            Deed("Change an option…", self.change_asked.emit, "Its words and conditions"),
        )
        layout.addWidget(ButtonRow(deeds))
        self.job.answered.connect(self._show_effect)

    @property
    def boxes(self) -> dict[str, QCheckBox]:
        """Ticks by option id."""
        return {name: row.box for name, row in self.rows.items()}

    def set_draft(self, draft: Draft, model: Boat) -> None:
        """Show the options as they stand; effects follow as they are worked out."""
        self._draft, self._model, self._stale = draft, model, True
        order = draft.aboard.order
        if model.options != self._offered:
            self._build(model.options)
            self._offered = model.options
        for option_id, row in self.rows.items():
            on = option_id in order.options
            row.box.blockSignals(True)
            row.box.setChecked(on)
            row.box.blockSignals(False)
            problem = None if on else _conflict(model, option_id, order.options)
            row.box.setEnabled(problem is None)
            row.box.setToolTip(plain(problem or ""))
            if problem:
                row.effect.setText(problem)
        if self.isVisible():
            self.work_out()

    def pause(self) -> None:
        """Stop drafting: nobody looks. What was not finished is begun again later."""
        self._stale = self._stale or self.job.running
        self.job.stop()

    def work_out(self) -> None:
        """Draft every option the other way, off the GUI thread."""
        if not self._stale or self._draft is None or self._model is None:
            return
        self._stale = False
        standing, model = self._draft, self._model
        names = [name for name, row in self.rows.items() if row.box.isEnabled()]

        def work() -> Iterator[object]:
            order = standing.aboard.order
            for name in names:
                option = model.option(name)
                assert option is not None
                on = name not in order.options
                try:
                    tried = toggled(model, option, on)[1](order)
                    other = draft(tried, model, standing.catalogue, standing)
                except DraftError as error:
                    yield name, f"Cannot be {'added' if on else 'dropped'}: {error.problem}"
                    continue
                told = effect_words(effect(standing, other))
                yield name, f"{'Ticking it' if on else 'Dropping it'}: {told}"

        self.job.ask(work)

    def _show_effect(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        name, text = answer
        if name in self.rows:
            self.rows[name].effect.setText(text)

    def _build(self, options: Sequence[Option]) -> None:
        for column in self._columns:
            while item := column.takeAt(0):
                if widget := item.widget():
                    widget.deleteLater()
        self.rows = {}
        names = {option.id: option.name for option in options}
        filled = [0, 0]
        for group in sorted({option.group for option in options}):
            side = filled.index(min(filled))
            column = self._columns[side]
            column.addWidget(heading(group))
            for option in (o for o in options if o.group == group):
                row = _Row(option, names)
                row.box.toggled.connect(
                    lambda on, option_id=option.id: self.option_toggled.emit(option_id, on)
                )
                self.rows[option.id] = row
                column.addWidget(row)
                filled[side] += 1
        if not options:
            self._columns[0].addWidget(small("This model has no options; add loads instead."))
        for column in self._columns:
            column.addStretch(1)
