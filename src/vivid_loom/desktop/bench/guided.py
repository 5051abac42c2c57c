"""Steps worked through one by one, in large type and by keys alone; every result is logged."""

import math
import re
from collections.abc import Sequence
from typing import Any, Final

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeySequence, QShortcut, QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QInputDialog,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.bench.devices.tester import BenchTester
from vivid_loom.bench.logbook import BY_HAND
from vivid_loom.bench.progress import Progress
from vivid_loom.bench.record import BOAT, result_words, rework_words
from vivid_loom.desktop.bench.book import BenchBook
from vivid_loom.desktop.bench.card import CardView, LargeDialog
from vivid_loom.desktop.bench.courses import Course
from vivid_loom.desktop.bench.link import TesterLink
from vivid_loom.desktop.widgets.button_row import ButtonRow, Deed
from vivid_loom.desktop.widgets.dialogs import opened
from vivid_loom.desktop.widgets.plain import PlainLabel, plain
from vivid_loom.desktop.widgets.text_table import Cell, pane
from vivid_loom.desktop.widgets.theme import current_tones
from vivid_loom.sheets.drawings.bench_card import StepCard
from vivid_loom.sheets.words.bench_words import limits_words, read_words

__all__ = ["GuidedPage"]

KEYS: Final = (
    "Space: read · Y: as it should be · N: not so · M: type it · A: read on · R: made anew · "
    "L: large · O: next open · ← →"
)
TAKEN: Final = (
    Qt.Key.Key_Space,
    Qt.Key.Key_Y,
    Qt.Key.Key_N,
    Qt.Key.Key_M,
    Qt.Key.Key_A,
    Qt.Key.Key_R,
    Qt.Key.Key_L,
    Qt.Key.Key_O,
    Qt.Key.Key_Left,
    Qt.Key.Key_Right,
)
WAITING: Final = "reading…"
PRACTICE: Final = "PRACTICE, it proves nothing. "


class GuidedPage(QWidget):
    """Courses to choose from, the step in large type, all steps beside it.

    Signals:
        said (str): what has happened.
        stepped: another step is shown, or it has been answered.
        circuit_picked (str): the circuit of the step that somebody went to.
    """

    said = Signal(str)
    stepped = Signal()
    circuit_picked = Signal(str)

    def __init__(self, book: BenchBook, link: TesterLink, name: str) -> None:
        super().__init__()
        self.book, self.link = book, link
        self.courses: Sequence[Course] = ()
        self.progress: Progress[Any] | None = None
        self.at = ""
        self._place = ""
        self._goes_on = False
        self._stale = False
        self._titles: dict[tuple[str, str], str] = {}
        self.choice = QComboBox()
        self.choice.setAccessibleName(name)
        self.choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.choice.activated.connect(lambda _: self._course_chosen())
        self.told = PlainLabel()
        self.told.setWordWrap(True)
        self.view = CardView(self.card)
        self.steps = pane(("", "Step", "Read"), f"Steps: {name}", 1)
        self.steps.fit(())  # a column that grows with what is read would jump
        for column, wide in ((0, 34), (2, 104)):
            self.steps.horizontalHeader().resizeSection(column, wide)
        self.causes = pane(("What is wrong", "Look at"), "What is wrong", 0)
        self.causes.setWordWrap(True)
        fits = QHeaderView.ResizeMode.ResizeToContents
        self.causes.verticalHeader().setSectionResizeMode(fits)
        self._lay_out()
        self.steps.clicked.connect(lambda _: self._row_picked())
        self.steps.activated.connect(lambda _: self._row_picked())
        self.link.read.connect(self._was_read)
        self.link.changed.connect(self._link_changed)
        self.book.written.connect(self._log_grew)
        self._add_keys()

    def _lay_out(self) -> None:
        self.bar = ButtonRow(
            (
                Deed("Read", self.read, "Have the tester read this step (Space)"),
                Deed("As it should be", lambda: self.answer(ok=True), "Seen, and right (Y)"),
                Deed("Not so", lambda: self.answer(ok=False), "Seen, and wrong (N)"),
                Deed("Read on", self.read_on, "Read step after step until somebody must look (A)"),
                Deed("Typed…", self.ask_reading, "Type what a meter in the hand shows (M)"),
                Deed("Made anew…", self.ask_rework, "Wires were made anew: test them again (R)"),
                Deed("Large…", self.open_large, "In a window of its own (L)"),
            )
        )
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(self.choice)
        head.addWidget(self.bar, 1)
        side = QSplitter(Qt.Orientation.Vertical)
        side.addWidget(self.steps)
        side.addWidget(self.causes)
        side.setSizes([330, 120])
        split = QSplitter()
        split.addWidget(self.view)
        split.addWidget(side)
        split.setStretchFactor(0, 1)
        split.setSizes([640, 470])
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 0)
        layout.setSpacing(6)
        layout.addLayout(head)
        layout.addWidget(self.told)
        layout.addWidget(split, 1)

    def _add_keys(self) -> None:
        for taker in (self.view, self.steps):
            for key in TAKEN:
                shortcut = QShortcut(QKeySequence(key), taker)
                shortcut.setContext(Qt.ShortcutContext.WidgetShortcut)
                shortcut.activated.connect(lambda key=key: self.pressed(key))

    # what is shown

    @property
    def course(self) -> Course | None:
        """The list that is worked through."""
        index = self.choice.currentIndex()
        return self.courses[index] if 0 <= index < len(self.courses) else None

    def set_courses(self, courses: Sequence[Course]) -> None:
        """Show lists of steps; the one that was worked on stays, where there still is one."""
        now = self._place = self.course.place if self.course else self._place
        self.courses = courses
        self._titles = {}
        self.choice.clear()
        self.choice.addItems([course.title for course in courses])
        places = [course.place for course in courses]
        self.choice.setCurrentIndex(places.index(now) if now in places else 0)
        self.refresh()

    def _log_grew(self) -> None:
        """Show what the log says now; once it is looked at, where it is not."""
        self._stale = True
        if self.isVisible():
            self.refresh()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if self._stale:
            self.refresh()

    def _course_chosen(self) -> None:
        self.at = ""
        self.refresh()

    def refresh(self) -> None:
        """Show what the log says now."""
        course = self.course
        self._stale = False
        if course is None:
            self.progress = None
            self.told.setText("The plan is being worked out…")
            return
        self.progress = progress = course.progress(self.book.record)
        known = {step.id for step in progress.steps}
        if self.at not in known:
            first = progress.left or progress.steps
            self.at = first[0].id if first else ""
        done, failed = len(progress.results), len(progress.failed)
        outcome = "proven" if progress.proven else f"{failed} failed" if failed else "none failed"
        self.told.setText(
            f"{PRACTICE if self.book.practises else ''}{done} of {len(progress.steps)} steps done, "
            f"{outcome}. {course.about()}."
        )
        self.steps.rows_model.fill([(s.id, self._cells(course, s)) for s in progress.steps])
        self.causes.rows_model.fill(
            [
                (str(i), (Cell(words, "alarm"), Cell(sheet)))
                for i, (words, sheet) in enumerate(course.causes(progress))
            ]
        )
        self._mark()

    def _cells(self, course: Course, step: Any) -> list[Cell]:
        assert self.progress is not None
        result = self.progress.results.get(step.id)
        key = (course.place, step.id)
        if key not in self._titles:
            self._titles[key] = course.words(step).title
        title = self._titles[key]
        if result is None:
            return [Cell("○"), Cell(title), Cell("")]
        tone = "" if result.passed else "alarm"
        mark = "●" if result.passed else "✕"
        shown = read_words(step, result) if step.is_read else ("yes" if result.passed else "NO")
        return [Cell(mark, tone), Cell(title, tone), Cell(shown, tone)]

    def _mark(self) -> None:
        keys = self.steps.rows_model.keys
        if self.at in keys:
            self.steps.selectRow(keys.index(self.at))
        self.view.update()
        self.stepped.emit()
        step, course = self.step, self.course
        if step is not None and course is not None and self.isVisible():
            circuit = course.circuit(step)
            if circuit:
                self.circuit_picked.emit(circuit)

    @property
    def step(self) -> Any | None:
        """The step that is shown."""
        if self.progress is None:
            return None
        return next((s for s in self.progress.steps if s.id == self.at), None)

    def card(self) -> StepCard | None:
        """Return the step as it is painted; None while the plan is being worked out."""
        step, course, progress = self.step, self.course, self.progress
        if step is None or course is None or progress is None:
            return None
        result = progress.results.get(step.id)
        shown = read_words(step, result) if result else WAITING if self.link.busy else ""
        verdict = ("passed" if result.passed else "FAILED") if result else ""
        return StepCard(
            f"{'Practice · ' * self.book.practises}{course.title} · {course.turn(step, progress)}",
            course.words(step),
            limits_words(step),
            shown if verdict else "",
            verdict,
            course.face(step, current_tones()),
            WAITING if self.link.busy and not verdict else KEYS,
        )

    def _row_picked(self) -> None:
        keys = self.steps.selected_keys()
        if keys and keys[0] != self.at:
            self.at = keys[0]
            self._mark()

    # what is done

    def pressed(self, key: int) -> bool:
        """Do what a key stands for; tell whether it stands for anything."""
        does = {
            Qt.Key.Key_Space: self.read,
            Qt.Key.Key_Y: lambda: self.answer(ok=True),
            Qt.Key.Key_N: lambda: self.answer(ok=False),
            Qt.Key.Key_M: self.ask_reading,
            Qt.Key.Key_A: self.read_on,
            Qt.Key.Key_R: self.ask_rework,
            Qt.Key.Key_L: self.open_large,
            Qt.Key.Key_O: self.go_to_open,
            Qt.Key.Key_Left: lambda: self.go(-1),
            Qt.Key.Key_Right: lambda: self.go(1),
        }.get(Qt.Key(key))
        if does is None:
            return False
        does()
        return True

    def go(self, by: int) -> None:
        """Show the step before or after."""
        if self.progress is None or not self.progress.steps:
            return
        ids = [step.id for step in self.progress.steps]
        self.at = ids[(ids.index(self.at) + by) % len(ids)]
        self._mark()

    def go_to_open(self) -> None:
        """Show the next step that has not been done."""
        if self.progress is None or not self.progress.left:
            return
        ids = [step.id for step in self.progress.steps]
        here = ids.index(self.at) if self.at in ids else -1
        left = [step.id for step in self.progress.left]
        later = [name for name in left if ids.index(name) > here]
        self.at = (later or left)[0]
        self._mark()

    def read(self) -> None:
        """Have the tester read the step that is shown; a stand-in looks as well."""
        step, course = self.step, self.course
        if step is None or course is None or self.link.busy:
            return
        tester = self.link.tester
        if tester is None:
            self.said.emit("No tester is connected. Connect one, or use the stand-in.")
        elif self._held_up(course, step):
            return
        elif step.is_read:
            self.link.ask((course, step), lambda t: course.read(t, step))
        elif tester.is_stand_in:
            self.link.ask((course, step), lambda t: float(course.look(t, step)))
        else:
            self.said.emit("This is looked at: answer with Y or N.")
        self.view.update()

    def _held_up(self, course: Course, step: Any) -> bool:
        """Tell whether another step comes first, and go there."""
        first = self.progress.waits_for(step) if self.progress else None
        if first is None:
            return False
        self.said.emit(f"{course.words(first).title} first: nothing read before it counts.")
        self.at = first.id
        self._mark()
        return True

    def read_on(self) -> None:
        """Read step after step until somebody must look, or the key is pressed again."""
        self._goes_on = not self._goes_on
        if self._goes_on:
            self._read_next()

    def _read_next(self) -> None:
        """Read the step that is shown where it is open, else the next one that is."""
        if self.progress is None or self.course is None:
            return
        if self.at in self.progress.results:
            self.go_to_open()
        step = self.step
        if step is None or (self._held_up(self.course, step) and self.at in self.progress.results):
            self._goes_on = False  # what comes first has been tried, and failed
            return
        self.read()
        self._goes_on = self.link.busy

    def _was_read(self, what: object, value: object) -> None:
        if what is None:
            if self._goes_on:
                self._read_next()
            return
        assert isinstance(what, tuple)
        asked, step = what
        course = next((c for c in self.courses if c.place == asked.place), None)
        if course is None:
            return  # the other page asked
        steps = course.progress(self.book.record).steps
        if any((s.id, s.signature) == (step.id, step.signature) for s in steps):
            instrument = self.link.sitting.id if self.link.tester is not None else BY_HAND
            self._record(course, step, float(value), instrument)  # type: ignore[arg-type]
        else:
            self._goes_on = False
            self.said.emit("The order has changed meanwhile: what was read is not recorded.")

    def answer(self, *, ok: bool) -> None:
        """Answer the step that is shown by eye."""
        step, course = self.step, self.course
        if step is None or course is None or self.link.busy or self._held_up(course, step):
            return
        if step.is_read:
            self.said.emit("This is read: press Space, or type what a meter shows (M).")
            return
        self._record(course, step, 1.0 if ok else 0.0)

    def ask_reading(self) -> None:
        """Ask what a meter in the hand shows."""
        step = self.step
        if step is None or not step.is_read:
            self.said.emit("This is looked at: answer with Y or N.")
            return
        words = f"What does the meter show, in {step.unit}? 'open' where it is over its range"
        text, ok = QInputDialog.getText(self, "Typed by hand", plain(words))
        if ok:
            self.type_reading(text)

    def type_reading(self, text: str) -> None:
        """Log what a meter in the hand shows."""
        step, course = self.step, self.course
        if step is None or course is None:
            return
        if self._held_up(course, step):
            return
        told = text.strip().lower().replace(",", ".")
        try:
            value = math.inf if told in ("open", "ol") else float(told)
        except ValueError:
            value = math.nan
        instrument = self.book.by_hand()
        if self.book.who and not instrument:
            self.said.emit("Which meter? Put its number, and until when it is calibrated, above.")
        elif math.isnan(value):
            self.said.emit(f"Found {text!r}, expected a reading in {step.unit}, or 'open'.")
        else:
            self._record(course, step, value, instrument)
            if "OVERDUE" in instrument:
                self.said.emit(f"Recorded; the meter's calibration is overdue: {self.book.meter}.")

    def _record(self, course: Course, step: Any, value: float, instrument: str = BY_HAND) -> None:
        """Log what a step has shown, and go on to the next."""
        result = course.progress(self.book.record).judged(step, value)
        words = result_words(course.place, step, result, course.copper_c)
        if not self.book.add("result", words, instrument):
            self._goes_on = False
            return
        if course is not self.course or self.progress is None:
            return
        if not result.passed:
            self.said.emit(f"{course.words(step).title}: {read_words(step, result)}.")
        elif self.progress.proven:
            self.said.emit(f"{course.title}: every step has passed.")
        if result.passed or self._goes_on:
            self.go_to_open()
        if self._goes_on and self.progress.left:
            self._read_next()
        else:
            self._goes_on = False

    def ask_rework(self) -> None:
        """Ask which wires were made anew, and why."""
        step, course = self.step, self.course
        offered = course.makes_anew(step) if course and step else ()
        if not offered:
            self.said.emit("Pick a step of a wire, a net, a plug or a circuit first.")
            return
        told = ", ".join(offered)
        if len(offered) > 1:
            asked = "Which wires were made anew? Take out those that were not."
            told, ok = QInputDialog.getText(self, "Made anew", plain(asked), text=told)
            if not ok:
                return
        anew = [name for name in re.split(r"[,;\s]+", told) if name]
        strange = next((name for name in anew if name not in offered), "")
        if strange or not anew:
            self.said.emit(f"Found {strange!r}, expected some of {', '.join(offered)}.")
            return
        words = f"{', '.join(anew)}: what was done?"
        reason, ok = QInputDialog.getText(self, "Made anew", plain(words))
        if ok and reason.strip():
            self.rework(anew, reason.strip())

    def rework(self, wires: Sequence[str], reason: str) -> None:
        """Log that wires were made anew: only what they touch is tested again."""
        course, step = self.course, self.step
        if course is None or step is None:
            return
        if self.book.add("rework", rework_words(course.place, wires, reason)):
            names = course.mends(step, wires)
            if self.link.tester is not None and self.link.tester.is_stand_in:
                self.link.tell(lambda tester: _mend(tester, course.place, names))
            self.go_to_open()

    def open_large(self) -> None:
        """Show the step in a window of its own."""
        dialog = LargeDialog(self, self.card, self.pressed)
        self.stepped.connect(dialog.view.update)
        opened(dialog)

    def _link_changed(self) -> None:
        if self.link.tester is None:
            self._goes_on = False
        self.view.update()
        self.stepped.emit()


def _mend(tester: BenchTester, place: str, names: Sequence[str]) -> None:
    """Have a stand-in mend wires and plugs of a harness, or wires aboard."""
    tester.take("" if place == BOAT else place)
    tester.mend(names)
