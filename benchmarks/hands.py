"""Random hands in the window: seeded actions on every stage, with hostile words in every field.

    ./vivid-loom hands --actions 10000 --seed 1

After every action no exception and no warning of Qt's may have come. Every so often everything is
undone and must give the bytes the order began with; redone it must read back from disk, and the
draft on screen must equal a fresh one of the saved file.
"""

import argparse
import ctypes
import gc
import os
import random
import sys
import tempfile
import time
import traceback
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("XDG_STATE_HOME", tempfile.mkdtemp(prefix="vivid-loom-hands-"))

from PySide6.QtCore import (
    QCoreApplication,
    QEvent,
    QPoint,
    Qt,
    QTimer,
    QtMsgType,
    qInstallMessageHandler,
)
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QCheckBox,
    QComboBox,
    QDialog,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMessageBox,
    QSpinBox,
    QWidget,
)
from shiboken6 import isValid

from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.application import open_window
from vivid_loom.desktop.frame.window import (
    BENCH,
    HARNESS,
    HELM,
    LOADS,
    ORDER,
    PACKET,
    POWER,
    RUNS,
    SUPPLY,
    THREADS,
    MainWindow,
)
from vivid_loom.desktop.widgets.theme import DARK, LIGHT
from vivid_loom.desktop.work.aside import is_waiting
from vivid_loom.drafting import draft
from vivid_loom.order import order_text, parse_order, read_order, set_heading

TENTHS = 10  # parts of a run after each of which the order is opened anew and the memory read
WORDS = (
    "",
    "0",
    "-1",
    "3,8 A",
    "45 W",
    "18 ga",
    "1e400",
    "9" * 400,
    "x" * 500,
    "a\tb",
    "\x07",
    "‮abc",
    "<b>bold</b>",
    "=1+1",
    "'; --",
    "ü/ß\\",
    "16 AWG",
    "0 mm²",
    "10 AWG",
    "C08",
    "helm",
    "nan",
    "12 ft",
    "Searchlight, spare",
    "QH",
    "BN/ZZ",
    "RD",
    "2026-02-30",
    "../up",
    "..",
    "7.5",
    "1/0 AWG",
)
KEYS = (
    *(Qt.Key(k) for k in range(Qt.Key.Key_A.value, Qt.Key.Key_Z.value + 1)),
    *(Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Return),
    *(Qt.Key.Key_Escape, Qt.Key.Key_Tab, Qt.Key.Key_Delete, Qt.Key.Key_Home, Qt.Key.Key_End),
)


class Hands:
    """Acts on one window, and knows what went wrong."""

    def __init__(self, window: MainWindow, folder: Path, seed: int) -> None:
        self.window, self.folder, self.dice = window, folder, random.Random(seed)
        self.trouble: list[str] = []
        self.done: Counter[str] = Counter()
        self.began = ""
        self.second: MainWindow | None = None
        self._begin()
        window.files.opened.connect(self._begin)
        window.session.settled.connect(self._begin)
        self.timer = QTimer()
        self.timer.timeout.connect(self._answer)
        self.timer.start(5)

    def _begin(self) -> None:
        """An order was opened, issued or signed: this is what undoing must lead back to."""
        self.began = order_text(self.window.session.order)

    # what is acted on

    def _widgets(self, kind: type[QWidget], inside: QWidget) -> list[QWidget]:
        return [w for w in inside.findChildren(kind) if w.isVisible() and w.isEnabled()]

    def _fill(self, inside: QWidget) -> None:
        """Put something into one field."""
        dice = self.dice
        fields = self._widgets(QLineEdit, inside) + self._widgets(QComboBox, inside)
        fields += self._widgets(QCheckBox, inside) + self._widgets(QSpinBox, inside)
        if not fields:
            return
        field = dice.choice(fields)
        if isinstance(field, QLineEdit):
            field.setText(dice.choice(WORDS))
            if isValid(field):  # what it edits may take it off the screen at once
                field.editingFinished.emit()
        elif isinstance(field, QComboBox) and field.count():
            field.setCurrentIndex(dice.randrange(field.count()))
            if isValid(field):
                field.activated.emit(field.currentIndex())
        elif isinstance(field, QCheckBox):
            field.click()
        elif isinstance(field, QSpinBox):
            field.setValue(dice.randrange(field.minimum(), field.maximum() + 1))

    def _answer(self) -> None:
        """Answer the dialog in front: fill a field, press something, or leave it."""
        dialog = QApplication.activeModalWidget()
        if not isinstance(dialog, QDialog) or is_waiting():  # a hand's input waits as well
            return
        deed = self.dice.random()
        if deed < 0.45:
            self._fill(dialog)
        elif deed < 0.55:
            QTest.keyClick(dialog, self.dice.choice(KEYS))
        elif deed < 0.8:
            QTest.keyClick(
                dialog, Qt.Key.Key_Return if self.dice.random() < 0.7 else Qt.Key.Key_Escape
            )
        else:
            buttons = self._widgets(QAbstractButton, dialog)
            if buttons:
                self.dice.choice(buttons).click()

    # actions

    def stage(self) -> None:
        self.window.open_stage(
            self.dice.choice(
                (ORDER, LOADS, SUPPLY, RUNS, THREADS, HELM, POWER, HARNESS, BENCH, PACKET)
            )
        )

    def key(self) -> None:
        """Press a key where the stage takes keys; letters type in fields as well."""
        target = QApplication.focusWidget() or self.window.view.takes_keys()
        QTest.keyClick(target, self.dice.choice(KEYS))

    def click(self) -> None:
        target = self.window.view.takes_keys()
        target = getattr(target, "viewport", lambda: target)()
        at = QPoint(
            self.dice.randrange(max(1, target.width())),
            self.dice.randrange(max(1, target.height())),
        )
        QTest.mouseClick(target, Qt.MouseButton.LeftButton, pos=at)

    def drag(self) -> None:
        """Take a load up on Runs and put it down somewhere; an edit may come in between."""
        self.window.open_stage(RUNS)
        view = self.window.view.takes_keys()
        view.select(station=self.dice.choice(self.window.session.boat.stations).id)
        boxes = view._boxes()
        if not boxes:
            return
        hand = QPoint(int(boxes[0].x + 5), int(boxes[0].y + 5))
        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=hand)
        to = QPoint(self.dice.randrange(view.width()), self.dice.randrange(view.height()))
        QTest.mouseMove(view, to)
        if self.dice.random() < 0.2:
            self.undo()
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=to)

    def field(self) -> None:
        self._fill(self.window.centralWidget())

    def button(self) -> None:
        buttons = [
            b
            for b in self._widgets(QAbstractButton, self.window.centralWidget())
            if not getattr(b, "menu", lambda: None)()
        ]
        if buttons:
            self.dice.choice(buttons).click()

    def command(self) -> None:
        """Choose from the menus, all but quitting."""
        actions = [
            action
            for menu in self.window.menuBar().actions()
            for action in menu.menu().actions()
            if action.isEnabled() and not action.menu() and "Quit" not in action.text()
        ]
        self.dice.choice(actions).trigger()

    def select(self) -> None:
        rows = self.window.session.draft.rows
        self.window.session.select(self.dice.choice(rows).id if rows else "")

    def undo(self) -> None:
        stack = self.window.session.undo_stack
        (stack.undo if self.dice.random() < 0.6 else stack.redo)()

    def theme(self) -> None:
        self.window.use_theme(self.dice.choice((DARK, LIGHT)))

    def finding(self) -> None:
        """Fix or accept what the pane shows."""
        if not self.window.findings.isVisible():
            self.window.toggle_findings()
        self.window.findings._fix()

    def size(self) -> None:
        """Give the window another size."""
        self.window.resize(self.dice.randint(640, 1900), self.dice.randint(480, 1200))

    def paste(self) -> None:
        """Paste what somebody may have on the clipboard into the loads."""
        cells = [self.dice.choice(WORDS) for _ in range(self.dice.randint(0, 12))]
        QApplication.clipboard().setText("\t".join(cells[:6]) + "\n" + "\t".join(cells[6:]))
        self.window.open_stage(LOADS)
        self.window.view.hands.paste()

    def second_window(self) -> None:
        """Open the order a second time, edit it there, drop that, or shut it again."""
        session = self.window.session
        if self.second is None:
            self.second = open_window(session.path)
            self.second.show()
            return
        other = self.second.session
        deed = self.dice.random()
        if deed < 0.5 and not is_waiting():
            heading = {"title": self.dice.choice(WORDS), "customer": "", "notes": ""}
            other.apply(set_heading(**heading, station_date=other.order.station_date))
        elif deed < 0.7:
            other.discard_unsaved()
        else:
            self.shut_second()

    def shut_second(self) -> None:
        """Close the second window, and drop what was edited there."""
        if self.second is not None:
            self.second.session.discard_unsaved()
            self.second.session.undo_stack.setClean()
            self.second.close()
            self.second.deleteLater()
            self.second = None

    # what must hold

    def check(self) -> None:
        """Undo everything, redo it, and read back what stands."""
        session = self.window.session
        stack = session.undo_stack
        stands, index = order_text(session.order), stack.index()
        parse_order(session.path, stands)
        while stack.canUndo():
            stack.undo()
        if order_text(session.order) != self.began:
            self.trouble.append("undone to the end, the order is not what it began as")
        while stack.index() < index:
            stack.redo()
        if order_text(session.order) != stands:
            self.trouble.append("redone, the order is not what it was")
        path = self.folder / "check.loom.json"
        path.write_text(stands)
        fresh = draft(read_order(path), session.model, shipped_catalogue())
        if fresh != session.draft:
            self.trouble.append("the draft on screen is not a fresh one of the saved file")

    def anew(self) -> None:
        """Save the order and open it again: what is left then belongs to no edit."""
        self.shut_second()
        path = self.folder / "anew.loom.json"
        self.window.session.save_as(path)
        self.window.files.save_as(path)
        self.window.session.open(path)
        self.window.files.opened.emit()
        self.come_to_rest()

    def act(self) -> str:
        deeds: tuple[tuple[int, Callable[[], None]], ...] = (
            (10, self.stage),
            (20, self.key),
            (15, self.click),
            (6, self.drag),
            (16, self.field),
            (14, self.button),
            (5, self.command),
            (8, self.select),
            (10, self.undo),
            (2, self.theme),
            (3, self.size),
            (3, self.paste),
            (4, self.second_window),
            (4, self.finding),
        )
        weights = [weight for weight, _ in deeds]
        deed = self.dice.choices([d for _, d in deeds], weights)[0]
        self.done[deed.__name__] += 1
        deed()
        self.come_to_rest()
        return deed.__name__

    @staticmethod
    def come_to_rest() -> None:
        """Do what the event loop does between two deeds: what was closed goes there as well."""
        QApplication.processEvents()
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)


def resident_mb() -> int:
    """How much memory this process holds, in megabytes, by Linux' own count of its pages.

    What was freed but not yet given back is not held: else the figure depends on how the pages
    lie, not on what the window keeps.
    """
    gc.collect()
    ctypes.CDLL(None).malloc_trim(0)
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") // 1_000_000


def _no_questions(hands: Hands) -> None:
    """Answer what Qt asks by itself: files and plain questions."""
    files = [*hands.folder.glob("*.loom.json"), hands.folder / "new.loom.json", Path("/no/such")]

    def pick(*_: object, **__: object) -> tuple[str, str]:
        return (str(hands.dice.choice(files)) if hands.dice.random() < 0.3 else "", "")

    for name in ("getOpenFileName", "getSaveFileName"):
        setattr(QFileDialog, name, staticmethod(pick))
    QFileDialog.getExistingDirectory = staticmethod(lambda *_, **__: "")
    QMessageBox.question = staticmethod(lambda *_, **__: QMessageBox.StandardButton.Cancel)
    QInputDialog.getText = staticmethod(
        lambda *_, **__: (hands.dice.choice(WORDS), hands.dice.random() < 0.7)
    )

    def item(
        _: object, __: str, ___: str, items: list[str], *____: object, **_____: object
    ) -> tuple[str, bool]:
        return (hands.dice.choice(items) if items else "", hands.dice.random() < 0.7)

    QInputDialog.getItem = staticmethod(item)


def run(actions: int, seed: int, every: int) -> int:
    """Act so often; print what was done and return how much went wrong."""
    folder = Path(tempfile.mkdtemp(prefix="vivid-loom-hands-"))
    for name in ("hull-0609.loom.json", "qh-62.boat.json", "shop.json"):
        (folder / name).write_bytes((DEMO_FOLDER / name).read_bytes())
    os.chdir(folder)  # an order made in no folder at all must not land in the clone
    trouble: list[str] = []
    qInstallMessageHandler(
        lambda kind, _, text: (
            trouble.append(f"Qt: {text}")
            if kind != QtMsgType.QtDebugMsg and "propagateSizeHints" not in text
            else None
        )
    )

    def raised(*error: Any) -> None:
        told = traceback.format_exception(*error)
        print("".join(told), file=sys.stderr)  # also of the hands themselves, which end by it
        trouble.append(" ".join("".join(told[-2:]).split()))

    sys.excepthook = raised
    window = open_window(folder / "hull-0609.loom.json")
    window.resize(1280, 800)
    window.show()
    hands = Hands(window, folder, seed)
    hands.trouble = trouble
    _no_questions(hands)
    start = time.monotonic()
    held: list[tuple[int, int, int]] = []  # edits to undo, memory with them, and without
    for number in range(1, actions + 1):
        before = len(trouble)
        name = "check" if number % every == 0 else hands.act()
        if number % every == 0:
            hands.check()
        for words in trouble[before:]:
            print(f"action {number}, {name}: {words}", file=sys.stderr)
        if number % max(1, actions // TENTHS) == 0:
            edits, with_them = window.session.undo_stack.count(), resident_mb()
            hands.anew()
            held.append((edits, with_them, resident_mb()))
    hands.timer.stop()
    hands.shut_second()
    window.session.undo_stack.setClean()
    window.close()
    told = ", ".join(f"{name} {count}" for name, count in sorted(hands.done.items()))
    print(f"{actions} actions ({told}), {len(trouble)} failures, {time.monotonic() - start:.0f} s")
    for edits, with_them, without in held:
        print(f"memory with {edits} edits to undo {with_them} MB, opened anew {without} MB")
    return len(trouble)


def main() -> int:
    """Read the command line and run."""
    asked = argparse.ArgumentParser(prog="vivid-loom hands")
    asked.add_argument("--actions", type=int, default=1000)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--every", type=int, default=100, help="actions between two checks")
    told = asked.parse_args()
    return 1 if run(told.actions, told.seed, told.every) else 0


if __name__ == "__main__":
    sys.exit(main())
