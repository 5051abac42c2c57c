"""The schools of the trade: what stands, and what each other choice would change."""

from collections.abc import Iterator

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Boat
from vivid_loom.desktop.order.compare import CompareDialog, profile_sides
from vivid_loom.desktop.widgets.controls import button, heading, scrolled, small
from vivid_loom.desktop.widgets.dialogs import opened
from vivid_loom.desktop.widgets.plain import PlainLabel, plain
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.drafting import Draft, DraftError, draft
from vivid_loom.order import PROFILES, Edit, Profile, change_profile, use_profile
from vivid_loom.order.choices import CHOICES, Choice
from vivid_loom.quantities import Gauge
from vivid_loom.standards.ampacity import insulation_ratings_c
from vivid_loom.workshop.effects import effect, effect_words

__all__ = ["OrderProfile"]


def _fits(choice: Choice, value: object, profile: Profile) -> bool:
    """Offer wire sizes and insulation ratings of the profile's own series only."""
    if choice.field == "insulation_c":
        return value in insulation_ratings_c(profile.series)
    if choice.field not in ("shop_floor", "one_gauge") or not value:
        return True
    return Gauge.parse(str(value)).series == profile.series


def _edit(choice: Choice, value: str | float | int, words: str) -> Edit:
    return change_profile(choice.field, value, f"{choice.question.lower()} to {words}")


class OrderProfile(QWidget):
    """Signals:

    edit_made (object): an ``Edit`` of the profile.
    """

    edit_made = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._draft: Draft | None = None
        self._model: Boat | None = None
        self._stale = True
        self._told: dict[str, list[str]] = {}
        self.job = LatestJob(self)
        self.profile = QComboBox()
        self.profile.setAccessibleName("Profile")
        for key, profile in PROFILES.items():
            self.profile.addItem(profile.name, key)
        self.departs = small("")
        self.combos: dict[str, QComboBox] = {}
        self.effects: dict[str, PlainLabel] = {}
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        grid.setVerticalSpacing(7)
        grid.setColumnStretch(2, 1)
        for column, title in enumerate(("Question", "This order", "What the other choices change")):
            grid.addWidget(heading(title), 0, column)
        for row, choice in enumerate(CHOICES, start=1):
            self._add(grid, row, choice)
        inner = QWidget()
        inner.setLayout(grid)
        top = QHBoxLayout()
        top.addWidget(PlainLabel("Drafted under"))
        top.addWidget(self.profile)
        top.addWidget(self.departs, 1)
        self.compare = button(
            "Beside another profile …",
            self._compare,
            "The order under two profiles: wires, metres, copper, cost, findings",
        )
        top.addWidget(self.compare)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 8, 0, 0)
        layout.addLayout(top)
        layout.addWidget(scrolled(inner), 1)
        self.profile.activated.connect(
            lambda index: self.edit_made.emit(use_profile(self.profile.itemData(index)))
        )
        self.job.answered.connect(self._show_effect)

    def _add(self, grid: QGridLayout, row: int, choice: Choice) -> None:
        combo = QComboBox()
        combo.setAccessibleName(choice.question)
        combo.setMinimumWidth(170)
        label, told = PlainLabel(choice.question), small(choice.why)
        label.setToolTip(plain(choice.why))
        combo.setToolTip(plain(choice.why))
        grid.addWidget(label, row, 0)
        grid.addWidget(combo, row, 1)
        grid.addWidget(told, row, 2)
        combo.activated.connect(lambda index: self._picked(choice, index))
        self.combos[choice.field], self.effects[choice.field] = combo, told

    def _picked(self, choice: Choice, index: int) -> None:
        combo = self.combos[choice.field]
        value, words = combo.itemData(index), combo.itemText(index)
        profile = self._draft.aboard.profile if self._draft else None
        if profile is not None and getattr(profile, choice.field) != value:
            self.edit_made.emit(_edit(choice, value, words))

    def _compare(self) -> None:
        if self._draft and self._model:
            sides = profile_sides(self._draft, self._model)
            other = 1 + [*PROFILES].index("us" if self._draft.aboard.profile.id == "iso" else "iso")
            opened(CompareDialog("Two profiles side by side", sides, (0, other), self))

    def set_draft(self, draft: Draft, model: Boat) -> None:
        """Show the profile as it stands; effects follow as they are worked out."""
        self._draft, self._model, self._stale = draft, model, True
        order, profile = draft.aboard.order, draft.aboard.profile
        self.profile.setCurrentIndex(self.profile.findData(order.profile))
        count = len(order.profile_changes)
        self.departs.setText(
            f"{count} choices differ from {PROFILES[order.profile].name}."
            if count > 1
            else f"One choice differs from {PROFILES[order.profile].name}."
            if count
            else "Every choice is the profile's own."
        )
        for choice in CHOICES:
            combo = self.combos[choice.field]
            combo.blockSignals(True)
            combo.clear()
            standing = getattr(profile, choice.field)
            for value, words in choice.schools:
                if _fits(choice, value, profile) or value == standing:
                    combo.addItem(words, value)
            if combo.findData(standing) < 0:
                combo.addItem(str(standing), standing)
            combo.setCurrentIndex(combo.findData(standing))
            combo.blockSignals(False)
        if self.isVisible():
            self.work_out()

    def pause(self) -> None:
        """Stop drafting: nobody looks. What was not finished is begun again later."""
        self._stale = self._stale or self.job.running
        self.job.stop()

    def work_out(self) -> None:
        """Draft every other choice, off the GUI thread."""
        if not self._stale or self._draft is None or self._model is None:
            return
        self._stale, self._told = False, {}
        standing, model = self._draft, self._model
        profile = standing.aboard.profile

        def work() -> Iterator[object]:
            for choice in CHOICES:
                for value, words in choice.schools:
                    if value == getattr(profile, choice.field) or not _fits(choice, value, profile):
                        continue
                    changed = _edit(choice, value, words)[1](standing.aboard.order)
                    try:
                        other = draft(changed, model, standing.catalogue, standing)
                    except DraftError as error:
                        yield choice.field, words, f"cannot stand: {error.problem}"
                        continue
                    yield choice.field, words, effect_words(effect(standing, other))

        self.job.ask(work)

    def _show_effect(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        field, words, told = answer
        lines = self._told.setdefault(field, [])
        lines.append(f"{words}: {told}")
        same = all(line.endswith("changes no wire") for line in lines)
        text = (
            "Changes no gauge or length; it goes to the sheets."
            if same
            else ".   ".join(lines) + "."
        )
        self.effects[field].setText(text)
